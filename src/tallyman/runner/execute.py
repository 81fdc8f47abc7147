"""Executing one run: unpack, start the package as a process, pass on what it reports, end it."""

from __future__ import annotations

import contextlib
import hashlib
import io
import json
import os
import shutil
import signal
import subprocess
import sys
import threading
import time
import zipfile
from datetime import UTC, datetime
from decimal import Decimal
from pathlib import Path
from typing import Any, TextIO

from tallyman.runner.client import Client, Rejected, Stopped

KIT = Path(__file__).resolve().parent.parent / "kit"
FILE = "file:"
BATCH_SECONDS = 0.4
BATCH_LINES = 500
LONGEST_LINE = 4000
CLEAN_END_SECONDS = 30.0
LAST_WORDS = 5


def _now() -> str:
    return datetime.now(UTC).isoformat()


class Job:
    """One run on this host, from the package's arrival to the outcome."""

    def __init__(self, client: Client, work: dict[str, Any], folder: Path) -> None:
        self.client = client
        self.work = work
        self.run: int = work["run"]
        self.fence: int = work["fence"]
        self.folder = folder
        self.cancelled = threading.Event()
        self.dropped = threading.Event()
        self.stopped = threading.Event()
        self.lease_ends = time.monotonic() + work["lease_seconds"]
        self._lock = threading.Lock()
        self._lines: list[dict[str, Any]] = []
        self._steps: dict[int, dict[str, Any]] = {}
        self._seq = 0
        self._outputs: dict[str, Any] = {}
        self._counts: dict[str, Decimal] = {}
        self._nothing: str | None = None
        self._last: list[str] = []
        self._timed_out = False

    def renewed(self) -> None:
        """The lease was renewed by a heartbeat."""
        self.lease_ends = time.monotonic() + self.work["lease_seconds"]

    def go(self) -> None:
        """Executes the run and hands in its outcome; the folder is gone afterwards."""
        try:
            try:
                self._unpack()
                code = self._execute()
                outcome = self._outcome(code)
            except (OSError, Rejected, zipfile.BadZipFile, ValueError) as error:
                outcome = {"state": "failed", "reason": f"the runner could not start it: {error}"}
            self._flush()
            if not self.dropped.is_set():
                self.client.outcome(self.run, {"fence": self.fence, **outcome})
        except (Rejected, Stopped):
            # The server no longer wants it, or the runner stops: the lease tells the rest.
            return
        finally:
            shutil.rmtree(self.folder, ignore_errors=True)

    def _unpack(self) -> None:
        data = self.client.file(self.work["digest"])
        if hashlib.sha256(data).hexdigest() != self.work["digest"]:
            raise ValueError("the package arrived damaged")
        self.folder.mkdir(parents=True, exist_ok=True)
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            archive.extractall(self.folder / "package")
        inputs = {name: self._given(name, value) for name, value in self.work["inputs"].items()}
        (self.folder / "inputs.json").write_text(json.dumps(inputs), encoding="utf-8")

    def _given(self, name: str, value: Any) -> Any:
        """An input; a file is fetched and replaced by its path."""
        kind = self.work["input_schema"].get("properties", {}).get(name, {}).get("format")
        if kind != "file" or not isinstance(value, str) or not value.startswith(FILE):
            return value
        digest, _, shown = value[len(FILE) :].partition("/")
        path = self.folder / "files" / name / (Path(shown).name or "file")
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(self.client.file(digest))
        return str(path)

    def _execute(self) -> int:
        reader, writer = os.pipe()
        environment = {
            "PATH": os.environ.get("PATH", "/usr/bin:/bin"),
            "LANG": "C.UTF-8",
            "HOME": str(self.folder),
            "PYTHONPATH": str(KIT),
            "PYTHONUNBUFFERED": "1",
            "TALLYMAN_REPORT": str(writer),
            "TALLYMAN_INPUTS": str(self.folder / "inputs.json"),
            "TALLYMAN_RUN": str(self.run),
        }
        process = subprocess.Popen(
            [sys.executable, self.work["entry"]],
            cwd=self.folder / "package",
            env=environment,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            pass_fds=(writer,),
            start_new_session=True,
            text=True,
            errors="replace",
        )
        os.close(writer)
        readers = [
            threading.Thread(target=self._read_reports, args=(reader,)),
            threading.Thread(target=self._read_text, args=(process.stdout, "output")),
            threading.Thread(target=self._read_text, args=(process.stderr, "fault")),
        ]
        for thread in readers:
            thread.start()
        code = self._watch(process)
        for thread in readers:
            thread.join(timeout=5)
        for stream in (process.stdout, process.stderr):
            if stream is not None:
                stream.close()
        return code

    def _watch(self, process: subprocess.Popen[str]) -> int:
        """Waits for the end; ends the package on cancel, time limit, or a lease that ran out."""
        limit = time.monotonic() + self.work["limit_seconds"]
        killed_at: float | None = None
        while True:
            with contextlib.suppress(subprocess.TimeoutExpired):
                return process.wait(timeout=BATCH_SECONDS)
            if not self._flush():
                self.dropped.set()
            now = time.monotonic()
            if now > self.lease_ends or self.dropped.is_set():
                self.dropped.set()
                self._signal(process, signal.SIGKILL)
            elif self.stopped.is_set() or (killed_at is not None and now > killed_at):
                self._signal(process, signal.SIGKILL)
            elif killed_at is None and (self.cancelled.is_set() or now > limit):
                self._timed_out = not self.cancelled.is_set()
                why = "time limit reached" if self._timed_out else "cancel asked"
                self._add_line("caution", f"{why}: the package is asked to end, then killed")
                self._signal(process, signal.SIGTERM)
                killed_at = now + CLEAN_END_SECONDS

    def _signal(self, process: subprocess.Popen[str], number: int) -> None:
        with contextlib.suppress(ProcessLookupError, PermissionError):
            os.killpg(process.pid, number)

    def _read_text(self, stream: TextIO, level: str) -> None:
        for line in stream:
            text = line.rstrip("\n")
            self._add_line(level, text)
            if level == "fault" and text.strip():
                self._last = [*self._last[-LAST_WORDS + 1 :], text.strip()]

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
            self._outputs.update(found["values"])
        elif kind == "count":
            name = str(found["name"])[:40]
            self._counts[name] = self._counts.get(name, Decimal(0)) + Decimal(found["number"])
        elif kind == "nothing":
            self._nothing = str(found["why"])
        elif kind == "step":
            keys = ("n", "name", "started_at", "ended_at", "fault", "data_in", "data_out")
            with self._lock:
                self._steps[found["n"]] = {key: found[key] for key in keys if key in found}

    def _add_line(self, level: str, text: str, at: str | None = None) -> None:
        with self._lock:
            self._lines.append({"at": at or _now(), "level": level, "text": text[:LONGEST_LINE]})

    def _flush(self) -> bool:
        """Sends what was gathered, in numbered batches; False when the run is not ours any more."""
        current = True
        while True:
            with self._lock:
                lines, self._lines = self._lines[:BATCH_LINES], self._lines[BATCH_LINES:]
                steps = list(self._steps.values())[:200]
                for step in steps:
                    self._steps.pop(step["n"], None)
            if not lines and not steps:
                return current
            self._seq += 1
            body = {"fence": self.fence, "seq": self._seq, "lines": lines, "steps": steps}
            current = self.client.report(self.run, body)

    def _outcome(self, code: int) -> dict[str, Any]:
        counts = {name: str(number) for name, number in self._counts.items()}
        found: dict[str, Any] = {"outputs": self._outputs, "counts": counts}
        if code == 0:
            worked = self._nothing is None
            return {"state": "done", "worked": worked, "reason": self._nothing or "", **found}
        if self.stopped.is_set():
            reason = "the runner was stopped on its host while the package ran"
            return {"state": "failed", "reason": reason, **found}
        if self.cancelled.is_set():
            return {"state": "cancelled", "reason": "cancelled while it ran", **found}
        if self._timed_out:
            minutes = self.work["limit_seconds"] / 60
            reason = f"the time limit of {minutes:g} min was reached, so it was ended"
            return {"state": "failed", "reason": reason, **found}
        said = self._last[-1] if self._last else "it said nothing"
        how = f"ended with code {code}" if code > 0 else f"was killed by signal {-code}"
        return {"state": "failed", "reason": f"{said} (the package {how})", **found}
