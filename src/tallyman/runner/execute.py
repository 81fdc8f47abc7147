"""Executing one run: unpack, start the package, pass on what it reports, end it, save its state."""

from __future__ import annotations

import contextlib
import hashlib
import io
import json
import os
import shutil
import stat
import subprocess
import sys
import threading
import time
import zipfile
from decimal import Decimal
from pathlib import Path
from typing import IO, Any

import psutil

from tallyman.formats.redact import Redactor
from tallyman.runner import accounts
from tallyman.runner.client import Client, Rejected, Stopped
from tallyman.runner.deliver import STATE
from tallyman.runner.environments import CannotInstall, environment
from tallyman.runner.spool import Spool
from tallyman.runner.surroundings import Surroundings

HERE = Path(__file__).resolve().parent
KIT = HERE.parent / "kit"
FILE = "file:"
BATCH_SECONDS = 0.4
BATCH_LINES = 500
LONGEST_LINE = 4000
MOST_LINES = 100_000
MOST_LOG_BYTES = 20_000_000
MOST_OUTPUT_BYTES = 1_000_000
MOST_STATE_BYTES = 20_000_000
CLEAN_END_SECONDS = 30.0
LAST_WORDS = 5


class Places:
    """Where a runner keeps things: work in progress, what is to be told, environments."""

    def __init__(self, state: Path) -> None:
        self.work = state / "work"
        self.spool = state / "spool"
        self.environments = state / "environments"


class Job:
    """One segment of a run on this host, from the package's arrival to the outcome in the spool."""

    def __init__(
        self,
        client: Client,
        work: dict[str, Any],
        places: Places,
        spool: Spool,
        surroundings: Surroundings,
        known: accounts.Accounts,
        redactor: Redactor,
    ) -> None:
        self.client = client
        self.work = work
        self.run: int = work["run"]
        self.fence: int = work["fence"]
        self.folder = places.work / f"{self.run}-{self.fence}"
        self.places = places
        self.spool = spool
        self.surroundings = surroundings
        self.accounts = known
        self.redactor = redactor
        self.cancelled = threading.Event()
        self.paused = threading.Event()
        self.dropped = threading.Event()
        self.stopped = threading.Event()
        self.lease_ends = time.monotonic() + work["lease_seconds"]
        self._lock = threading.Lock()
        self._lines: list[dict[str, Any]] = []
        self._steps: dict[int, dict[str, Any]] = {}
        self._outputs: dict[str, Any] = {}
        self._counts: dict[str, Decimal] = {}
        self._nothing: str | None = None
        self._held: str | None = None
        self._last: list[str] = []
        self._log_lines = self._log_bytes = 0
        # Why the runner itself ended the package, if it did.
        self._ended_by_us = ""

    def renewed(self, asked_at: float) -> None:
        """The lease was renewed by a heartbeat that was sent at that time."""
        self.lease_ends = asked_at + self.work["lease_seconds"]

    def go(self) -> None:
        """Executes the segment and leaves its outcome in the spool; its folder is gone afterwards."""
        try:
            outcome = self._whole()
        except (OSError, Rejected, zipfile.BadZipFile, ValueError, KeyError, CannotInstall) as error:
            reason = f"the runner could not start it: {self.redactor.text(str(error))}"
            outcome = {"state": "failed", "reason": reason[:3900]}
        except Stopped:
            outcome = {"state": "failed", "reason": STOPPED}
        finally:
            shutil.rmtree(self.folder, ignore_errors=True)
        self._flush()
        self.spool.end(outcome)

    def _whole(self) -> dict[str, Any]:
        account = self.work.get("account", "")
        fault = self.accounts.fault(account)
        if fault:
            raise ValueError(fault)
        site = self._unpack()
        code = self._execute(site)
        return self._outcome(code)

    def _unpack(self) -> Path | None:
        """Package, inputs and saved state in a fresh folder of the account's own; its environment."""
        data = self._fetch(self.work["digest"])
        shutil.rmtree(self.folder, ignore_errors=True)
        self.folder.mkdir(parents=True, mode=0o700)
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            archive.extractall(self.folder / "package")
        inputs = {name: self._given(name, value) for name, value in self.work["inputs"].items()}
        self._write("inputs.json", json.dumps(inputs).encode())
        if self.work.get("secrets"):
            secrets = self.client.secrets(self.run, self.fence)
            self.redactor = self.redactor.and_also(secrets.values())
            self._write("secrets.json", json.dumps(secrets).encode())
        if self.work.get("saved"):
            self._write("saved.json", self._fetch(self.work["saved"]))
        for name in ("home", "control"):
            (self.folder / name).mkdir()
        site = environment(
            self.places.environments, self.folder / "package", self.work.get("wheels", []), self._fetch
        )
        accounts.give(self.folder, self.work.get("account", ""))
        return site

    def _write(self, name: str, data: bytes) -> None:
        self.surroundings.write(self.folder / name, data)

    def _fetch(self, digest: str) -> bytes:
        data = self.client.file(digest)
        if hashlib.sha256(data).hexdigest() != digest:
            raise ValueError("a file of the package arrived damaged")
        return data

    def _given(self, name: str, value: Any) -> Any:
        """An input; a file is fetched and replaced by its path."""
        kind = self.work["input_schema"].get("properties", {}).get(name, {}).get("format")
        if kind != "file" or not isinstance(value, str) or not value.startswith(FILE):
            return value
        digest, _, shown = value[len(FILE) :].partition("/")
        path = self.folder / "files" / name / (Path(shown).name or "file")
        path.parent.mkdir(parents=True, exist_ok=True)
        self.surroundings.write(path, self._fetch(digest))
        return str(path)

    def _environment(self, writer: int, site: Path | None) -> dict[str, str]:
        paths = [str(KIT)] if site is None else [str(site), str(KIT)]
        return {
            "PATH": "/usr/local/bin:/usr/bin:/bin",
            "LANG": "C.UTF-8",
            "HOME": str(self.folder / "home"),
            "TMPDIR": str(self.folder / "home"),
            "PYTHONPATH": os.pathsep.join(paths),
            "PYTHONUNBUFFERED": "1",
            "PYTHONDONTWRITEBYTECODE": "1",
            "TALLYMAN_REPORT": str(writer),
            "TALLYMAN_INPUTS": str(self.folder / "inputs.json"),
            "TALLYMAN_CONTROL": str(self.folder / "control"),
            "TALLYMAN_SECRETS": str(self.folder / "secrets.json"),
            "TALLYMAN_SAVED": str(self.folder / "saved.json"),
            "TALLYMAN_RUN": str(self.run),
            "TALLYMAN_SEGMENT": str(self.work.get("segment", 1)),
        }

    def _execute(self, site: Path | None) -> int:
        """Starts the package under its keeper and waits for its end; gives its exit code."""
        reader, writer = os.pipe()
        answers, status = os.pipe()
        account = self.work.get("account", "")
        keeper = subprocess.Popen(
            [sys.executable, str(HERE / "keeper.py")],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            pass_fds=(writer, status),
            start_new_session=True,
        )
        assert keeper.stdin is not None and keeper.stdout is not None and keeper.stderr is not None
        told = {
            # -S: nothing of the runner's own environment is seen, only what the package requires.
            "command": [self.accounts.python(account), "-S", "-s", self.work["entry"]],
            "cwd": str(self.folder / "package"),
            "environment": self._environment(writer, site),
            "report": writer,
            "status": status,
            "ids": accounts.ids(account),
        }
        keeper.stdin.write(json.dumps(told).encode() + b"\n")
        keeper.stdin.flush()
        for end in (writer, status):
            os.close(end)
        readers = [
            threading.Thread(target=self._read_reports, args=(reader,)),
            threading.Thread(target=self._read_text, args=(keeper.stdout, "output")),
            threading.Thread(target=self._read_text, args=(keeper.stderr, "fault")),
        ]
        for thread in readers:
            thread.start()
        self._watch(keeper)
        for thread in readers:
            thread.join(timeout=5)
        with contextlib.suppress(OSError):
            keeper.stdin.close()
        return _end_code(answers)

    def _watch(self, keeper: subprocess.Popen[bytes]) -> None:
        """Waits for the end; ends the package on cancel, limits, or a lease that ran out."""
        limit = time.monotonic() + self.work["limit_seconds"]
        killed_at: float | None = None
        while True:
            with contextlib.suppress(subprocess.TimeoutExpired):
                keeper.wait(timeout=BATCH_SECONDS)
                return
            self._flush()
            now = time.monotonic()
            if reason := self._must_end(keeper, now):
                self._ended_by_us = self._ended_by_us or reason
                self._order(keeper, b"kill\n")
            elif killed_at is not None and now > killed_at:
                self._order(keeper, b"kill\n")
            elif killed_at is None and (self.cancelled.is_set() or now > limit):
                if not self.cancelled.is_set():
                    minutes = self.work["limit_seconds"] / 60
                    self._ended_by_us = f"the time limit of {minutes:g} min was reached, so it was ended"
                why = "cancel asked" if self.cancelled.is_set() else "time limit reached"
                self._add_line("caution", f"{why}: the package is asked to end, then killed")
                self._order(keeper, b"term\n")
                killed_at = now + CLEAN_END_SECONDS
            elif self.paused.is_set():
                self._ask_pause()

    def _must_end(self, keeper: subprocess.Popen[bytes], now: float) -> str:
        """Why the package must end at once; empty if it need not."""
        if self.dropped.is_set():
            return "the server gave the run to another, so it was ended here"
        if now > self.lease_ends:
            minutes = self.work["lease_seconds"] / 60
            return f"the runner could not renew the lease of {minutes:g} min, so it ended the package"
        if self.stopped.is_set():
            return STOPPED
        most = self.work.get("memory_mb")
        if most and _memory(keeper.pid) > most * 1_000_000:
            return f"it used more than {most} MB of memory, so it was ended"
        return ""

    def _ask_pause(self) -> None:
        """Leaves the sign that checkpoint() looks for."""
        with contextlib.suppress(OSError):
            sign = self.folder / "control" / "pause"
            if not sign.exists():
                sign.touch(mode=0o644)
                self._add_line("info", "asked to save its state at the next checkpoint and stop")

    def _order(self, keeper: subprocess.Popen[bytes], words: bytes) -> None:
        with contextlib.suppress(OSError):
            assert keeper.stdin is not None
            keeper.stdin.write(words)
            keeper.stdin.flush()

    def _read_text(self, stream: IO[bytes], level: str) -> None:
        for raw in stream:
            text = raw.decode("utf-8", errors="replace").rstrip("\n")
            self._add_line(level, text)
            if level == "fault" and text.strip():
                self._last = [*self._last[-LAST_WORDS + 1 :], self.redactor.text(text.strip())]
        stream.close()

    def _read_reports(self, reader: int) -> None:
        with os.fdopen(reader, encoding="utf-8", errors="replace") as stream:
            for line in stream:
                try:
                    found = json.loads(line)
                    self._reported(found)
                except (ValueError, KeyError, TypeError, ArithmeticError):
                    self._add_line("caution", f"not understood: {line.strip()[:200]}")

    def _reported(self, found: dict[str, Any]) -> None:
        kind = found["kind"]
        if kind == "log":
            level = found["level"] if found["level"] in ("info", "caution", "fault") else "info"
            self._add_line(level, found["text"], found["at"])
        elif kind == "output":
            self._outputs.update(self.redactor.value(found["values"]))
        elif kind == "count":
            name = str(found["name"])[:40]
            self._counts[name] = self._counts.get(name, Decimal(0)) + Decimal(found["number"])
        elif kind == "nothing":
            self._nothing = str(found["why"])
        elif kind == "held":
            self._held = str(found.get("why") or "")
        elif kind == "step":
            keys = ("n", "name", "started_at", "ended_at", "fault", "data_in", "data_out")
            with self._lock:
                self._steps[found["n"]] = self.redactor.value(
                    {key: found[key] for key in keys if key in found}
                )

    def _add_line(self, level: str, text: str, at: str | None = None) -> None:
        clean = self.redactor.text(text[: LONGEST_LINE * 2])[:LONGEST_LINE]
        with self._lock:
            self._log_lines += 1
            self._log_bytes += len(clean)
            if self._log_lines > MOST_LINES or self._log_bytes > MOST_LOG_BYTES:
                if self._log_lines < 2 * MOST_LINES:
                    self._log_lines, level = 3 * MOST_LINES, "caution"
                    clean = "the log is full: nothing more of it is kept, the package works on"
                else:
                    return
            self._lines.append({"at": at or self.surroundings.now(), "level": level, "text": clean})

    def _flush(self) -> None:
        """Puts what was gathered into the spool, in numbered batches."""
        while True:
            with self._lock:
                lines, self._lines = self._lines[:BATCH_LINES], self._lines[BATCH_LINES:]
                steps = list(self._steps.values())[:200]
                for step in steps:
                    self._steps.pop(step["n"], None)
            if not lines and not steps:
                return
            self.spool.add(lines, steps)

    def _outcome(self, code: int) -> dict[str, Any]:
        counts = {name: str(number) for name, number in self._counts.items()}
        found: dict[str, Any] = {"outputs": self._outputs, "counts": counts}
        if len(json.dumps(self._outputs)) > MOST_OUTPUT_BYTES:
            reason = f"its outputs are larger than {MOST_OUTPUT_BYTES // 1_000_000} MB"
            return {"state": "failed", "reason": reason, "counts": counts}
        if code == 0 and self._held is not None:
            return self._saved(found)
        if code == 0:
            worked = self._nothing is None
            return {"state": "done", "worked": worked, "reason": self._nothing or "", **found}
        if self._ended_by_us:
            return {"state": "failed", "reason": self._ended_by_us, **found}
        if self.cancelled.is_set():
            return {"state": "cancelled", "reason": "cancelled while it ran", **found}
        said = self._last[-1] if self._last else "it said nothing"
        how = f"ended with code {code}" if code > 0 else f"was killed by signal {-code}"
        return {"state": "failed", "reason": f"{said} (the package {how})"[:3900], **found}

    def _saved(self, found: dict[str, Any]) -> dict[str, Any]:
        """The outcome of a package that saved its state and stopped; the state goes with it."""
        try:
            data = _read_own(self.folder / "control" / STATE)
            self.surroundings.write(self.spool.folder / STATE, data)
        except (OSError, ValueError) as error:
            return {"state": "failed", "reason": f"its saved state cannot be read: {error}", **found}
        return {"state": "held", "reason": self._held or "paused; its state is saved", **found}


STOPPED = "the runner was stopped on its host while the package ran"


def _read_own(path: Path) -> bytes:
    """A plain file that the package wrote; never through a link it may have laid."""
    handle = os.open(path, os.O_RDONLY | os.O_NOFOLLOW)
    with os.fdopen(handle, "rb") as stream:
        if not stat.S_ISREG(os.fstat(handle).st_mode):
            raise ValueError("it is no plain file")
        data = stream.read(MOST_STATE_BYTES + 1)
    if len(data) > MOST_STATE_BYTES:
        raise ValueError(f"it is larger than {MOST_STATE_BYTES // 1_000_000} MB")
    return data


def _memory(pid: int) -> int:
    """Bytes of memory that the keeper's descendants use."""
    total = 0
    with contextlib.suppress(psutil.Error):
        for process in psutil.Process(pid).children(recursive=True):
            with contextlib.suppress(psutil.Error):
                total += process.memory_info().rss
    return total


def _end_code(answers: int) -> int:
    """What the keeper said of the package's end; -9 if it was killed itself."""
    with os.fdopen(answers, "rb") as stream:
        words = stream.read()
    found = json.loads(words) if words else {"code": -9}
    if "fault" in found:
        raise OSError(found["fault"])
    return int(found["code"])
