"""Runs a package here, as a runner would, with no server: what it reported is told and checked."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import zipfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from decimal import Decimal
from io import BytesIO
from pathlib import Path
from typing import Any

from tallyman.builder.packing import checked
from tallyman.core.faults import InputFaults
from tallyman.formats.package_zip import Manifest
from tallyman.formats.schemas import check_inputs, misfits, with_defaults
from tallyman.runner.lines import lines_of

KIT = Path(__file__).parent.parent / "kit"
LONGEST = 1_000_000
LAST_WORDS = 3
Say = Callable[[str], None]


@dataclass
class Tried:
    """What became of a run here: `state` is done or failed, `outcome` worked or nothing."""

    state: str = "failed"
    outcome: str | None = None
    reason: str = ""
    outputs: dict[str, Any] = field(default_factory=dict)
    counts: dict[str, Any] = field(default_factory=dict)
    steps: list[dict[str, Any]] = field(default_factory=list)
    log: list[str] = field(default_factory=list)


class _Reports:
    """Reads what a package reports, line by line."""

    def __init__(self, say: Say) -> None:
        self.say = say
        self.found = Tried()
        self.errors: list[str] = []

    def read(self, stream: Any) -> None:
        """Every report until the stream ends; what is not understood is said."""
        with stream:
            for line, whole in lines_of(stream, LONGEST):
                try:
                    self._one(json.loads(line) if whole else {})
                except (ValueError, KeyError, TypeError, ArithmeticError):
                    self.say(f"not understood: {line[:200]}")

    def text(self, stream: Any, fault: bool) -> None:
        """What it writes past its reports."""
        with stream:
            for line, _ in lines_of(stream, LONGEST):
                self.say(line)
                if fault and line.strip():
                    self.errors = [*self.errors[-LAST_WORDS + 1 :], line.strip()]

    def _one(self, told: dict[str, Any]) -> None:
        kind = told["kind"]
        if kind == "log":
            self.found.log.append(str(told["text"]))
            self.say(f"{told['level']:8}{told['text']}")
        elif kind == "output":
            self.found.outputs.update(told["values"])
        elif kind == "count":
            total = Decimal(str(self.found.counts.get(told["name"], 0))) + Decimal(told["number"])
            self.found.counts[told["name"]] = int(total) if total == int(total) else float(total)
        elif kind == "nothing":
            self.found.outcome, self.found.reason = "nothing", told["why"]
        elif kind == "step":
            self._step(told)

    def _step(self, told: dict[str, Any]) -> None:
        if "ended_at" not in told:
            self.say(f"step {told['n']:<3}{told['name']} …")
            return
        self.found.steps.append(told)
        self.say(f"step {told['n']:<3}{told['name']}: {told['fault'] or 'done'}")


@contextlib.contextmanager
def _folder(data: bytes, inputs: dict[str, Any], secrets: dict[str, str]) -> Iterator[Path]:
    """A folder as a runner lays it out, gone afterwards."""
    with tempfile.TemporaryDirectory(prefix="tallyman-try-") as name:
        folder = Path(name)
        with zipfile.ZipFile(BytesIO(data)) as archive:
            archive.extractall(folder / "package")
        for one in ("home", "control", "kit"):
            (folder / one).mkdir()
        shutil.copy(KIT / "tallyman_kit.py", folder / "kit")
        (folder / "inputs.json").write_text(json.dumps(inputs), encoding="utf-8")
        (folder / "secrets.json").write_text(json.dumps(secrets), encoding="utf-8")
        yield folder


def _environment(folder: Path, writer: int) -> dict[str, str]:
    return {
        "PATH": os.environ.get("PATH", "/usr/local/bin:/usr/bin:/bin"),
        "LANG": "C.UTF-8",
        "HOME": str(folder / "home"),
        "PYTHONPATH": str(folder / "kit"),
        "PYTHONUNBUFFERED": "1",
        "PYTHONDONTWRITEBYTECODE": "1",
        "TALLYMAN_REPORT": str(writer),
        "TALLYMAN_INPUTS": str(folder / "inputs.json"),
        "TALLYMAN_SECRETS": str(folder / "secrets.json"),
        "TALLYMAN_SAVED": str(folder / "saved.json"),
        "TALLYMAN_CONTROL": str(folder / "control"),
        "TALLYMAN_RUN": "0",
        "TALLYMAN_SEGMENT": "1",
    }


def _end(process: subprocess.Popen[bytes]) -> None:
    with contextlib.suppress(ProcessLookupError):
        os.killpg(process.pid, signal.SIGKILL)


def _ran(folder: Path, entry: str, seconds: float, reports: _Reports) -> int | None:
    """The exit code; None where it was ended after its time."""
    reader, writer = os.pipe()
    process = subprocess.Popen(
        [sys.executable, "-S", "-s", entry],
        cwd=folder / "package",
        env=_environment(folder, writer),
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        pass_fds=(writer,),
        start_new_session=True,
    )
    os.close(writer)
    threads = [
        threading.Thread(target=reports.read, args=(os.fdopen(reader, "rb"),)),
        threading.Thread(target=reports.text, args=(process.stdout, False)),
        threading.Thread(target=reports.text, args=(process.stderr, True)),
    ]
    for thread in threads:
        thread.start()
    try:
        return process.wait(seconds)
    except subprocess.TimeoutExpired:
        return None
    finally:
        _end(process)
        process.wait()
        for thread in threads:
            thread.join(timeout=5)


def tried(
    data: bytes,
    given: dict[str, Any],
    secrets: dict[str, str] | None = None,
    *,
    seconds: float = 600,
    say: Say = print,
) -> Tried:
    """Runs a package here with some inputs, else its defaults. Raises InputFaults before it starts."""
    manifest = checked(data)
    check_inputs(manifest.inputs, given)
    inputs = with_defaults(manifest.inputs, given)
    reports = _Reports(say)
    with _folder(data, inputs, secrets or {}) as folder:
        code = _ran(folder, manifest.entry, seconds, reports)
    found = reports.found
    wrong = misfits(manifest.outputs, found.outputs, "outputs") if found.outcome != "nothing" else []
    if code is None:
        found.reason = f"it did not end within {seconds:g} s, so it was ended"
    elif code:
        found.reason = f"{' '.join(reports.errors[-1:]) or 'it said nothing'} (it ended with code {code})"
    elif wrong:
        found.reason = "; ".join(str(one) for one in wrong)
    else:
        found.state, found.outcome = "done", found.outcome or "worked"
    return found


def lacking(manifest: Manifest, secrets: dict[str, str]) -> list[str]:
    """The secrets that a package declares and that were not given."""
    return [name for name in manifest.secrets if name not in secrets]


def undeclared(manifest: Manifest, found: Tried) -> list[str]:
    """The counts that a package reported and does not declare."""
    known = {*manifest.counts, "handed_back"}
    return sorted(name for name in found.counts if name not in known)


__all__ = ["InputFaults", "Tried", "lacking", "tried", "undeclared"]
