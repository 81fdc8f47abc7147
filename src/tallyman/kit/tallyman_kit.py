"""The kit that packages import: inputs, outputs, log, steps, counts, nothing to do.

    import tallyman_kit as job

    path = job.inputs["readings"]
    with job.step("Check", rows=3) as step:
        job.log("three rows")
        step.out(bad=1)
    job.count("readings", 3)
    job.output(bad=1)

How far it is stands on the run's page, and files that it makes go to whoever may see the run:

    job.progress(done=3, of=10)
    job.file("letters.zip")

A package that works through many items can be paused and goes on elsewhere, if its package.toml says
`checkpoints = true` and it calls checkpoint() between items with what it needs to go on:

    for n in range(job.saved.get("next", 0), len(items)):
        handle(items[n])
        job.checkpoint(next=n + 1)

Secrets stand in package.toml by name, `secrets = ["billing-login"]`, and are asked for where needed:

    sign_in("clerk", job.secret("billing-login"))

They are taken out of the log, steps and outputs; do not write them to files that outlive the run. The house
may give a named value under such a name, which is no secret and stays in the log.

A package that works with windows opens a screen of its own, which nobody sits at:

    job.open_screen()

What it starts from then on draws there; the host needs the programs Xvfb and xauth. If the run stalls, a
picture of that screen can be taken, where its area wants it.

It stands alone: only the standard library, nothing of the server or the runner. Outside a run
(no TALLYMAN_REPORT in the environment) it prints what it would report, so that a package can be
tried by hand with `inputs.json` in the working folder.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import tempfile
import threading
from datetime import datetime, timezone
from pathlib import Path
from types import TracebackType
from typing import Any

_lock = threading.Lock()
# Each segment of a run that was paused numbers its steps anew.
STEPS_A_SEGMENT = 1000
_steps = (int(os.environ.get("TALLYMAN_SEGMENT", "1")) - 1) * STEPS_A_SEGMENT


def _now() -> str:
    return datetime.now(timezone.utc).isoformat()  # noqa: UP017 (packages may run on older Pythons)


def _open() -> Any:
    number = os.environ.get("TALLYMAN_REPORT")
    return sys.stdout if number is None else os.fdopen(int(number), "w", encoding="utf-8", buffering=1)


_stream = _open()


def _tell(kind: str, **fields: Any) -> None:
    line = json.dumps({"kind": kind, "at": _now(), **fields}, default=str)
    with _lock:
        _stream.write(line + "\n")
        _stream.flush()


def _read(variable: str, otherwise: str) -> dict[str, Any]:
    path = Path(os.environ.get(variable, otherwise))
    if not path.exists():
        return {}
    found: dict[str, Any] = json.loads(path.read_text(encoding="utf-8"))
    return found


inputs: dict[str, Any] = _read("TALLYMAN_INPUTS", "inputs.json")
# What the last checkpoint kept, when the run was paused and goes on; empty at first.
saved: dict[str, Any] = _read("TALLYMAN_SAVED", "saved.json")


def secret(name: str) -> str:
    """A secret that package.toml declares. Raises KeyError for one that it does not."""
    return str(_read("TALLYMAN_SECRETS", "secrets.json")[name])


def open_screen(width: int = 1280, height: int = 800) -> str:
    """Opens a virtual display for this run alone, and gives its name; programs started after this draw on it.

    It ends with the run. Raises RuntimeError on a host without the programs for it.
    """
    if not shutil.which("Xvfb") or not shutil.which("xauth"):
        raise RuntimeError("this host has no virtual display: install xvfb and xauth on it")
    opened_by = Path(tempfile.mkdtemp(prefix="screen-", dir=os.environ.get("HOME"))) / "authority"
    cookie = os.urandom(16).hex()
    reads, writes = os.pipe()
    # Only who has the cookie may look or type; the number of the display is known once it is up.
    _admit(opened_by, "0", cookie)
    size = f"{width}x{height}x24"
    where = ["-displayfd", str(writes), "-screen", "0", size, "-nolisten", "tcp", "-auth", str(opened_by)]
    subprocess.Popen(
        ["Xvfb", *where],
        pass_fds=(writes,),
        stdin=subprocess.DEVNULL,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    os.close(writes)
    with os.fdopen(reads, encoding="ascii") as stream:
        number = stream.readline().strip()
    if not number:
        raise RuntimeError("the virtual display ended before it was up")
    _admit(opened_by, number, cookie)
    os.environ["DISPLAY"], os.environ["XAUTHORITY"] = f":{number}", str(opened_by)
    _tell("screen", display=f":{number}", opened_by=str(opened_by))
    return f":{number}"


def _admit(opened_by: Path, number: str, cookie: str) -> None:
    command = ["xauth", "-q", "-f", str(opened_by), "add", f":{number}", ".", cookie]
    subprocess.run(command, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


class Paused(SystemExit):
    """Ends the process at a checkpoint, after its state was kept."""


def checkpoint(**state: Any) -> None:
    """A place where the run can be paused: keeps the state, and ends the process if a pause is asked.

    Counts and outputs reported so far are not kept with it: put what is to be added up into the state.
    """
    folder = os.environ.get("TALLYMAN_CONTROL")
    if folder is None or not (Path(folder) / "pause").exists():
        return
    aside = Path(folder) / "state.json.part"
    aside.write_text(json.dumps(state), encoding="utf-8")
    aside.replace(Path(folder) / "state.json")
    _tell("held", why="paused at a checkpoint; its state is saved")
    raise Paused(0)


def log(text: str, level: str = "info") -> None:
    """One line of the run's log; level is info, caution or fault."""
    _tell("log", level=level, text=str(text))


def output(**values: Any) -> None:
    """Outputs of the run, by the names that package.toml declares."""
    _tell("output", values=values)


def count(name: str, number: float = 1) -> None:
    """Adds to a count that the run reports: every unit that was taken up, whatever became of it.

    `handed_back` says how many of them people have to do after all; they are among those counted.
    """
    _tell("count", name=name, number=str(number))


def progress(done: float, of: float | None = None, words: str = "") -> None:
    """How far the run is: so much is done, of so much if that is known. Its page shows the latest.

    for n, row in enumerate(rows):
        job.progress(n, len(rows), row["street"])
    """
    _tell("progress", done=done, of=of, words=str(words))


def file(path: str | os.PathLike[str], name: str | None = None) -> None:
    """Hands a file over to whoever may see the run, under its own name or another. It is taken as it is now.

    At most 20 files, of 20 MB each and 60 MB together. Secrets are not taken out of files.
    """
    source = Path(path)
    called = Path(name or source.name).name
    folder = os.environ.get("TALLYMAN_OUT")
    if folder is not None:
        shutil.copyfile(source, Path(folder) / called)
    _tell("file", name=called, size=source.stat().st_size)


def nothing_to_do(why: str = "") -> None:
    """The run is done and found nothing to do."""
    _tell("nothing", why=why)


class step:
    """A named piece of business, with data in and out; a fault inside is reported with it."""

    def __init__(self, name: str, **data_in: Any) -> None:
        global _steps
        with _lock:
            _steps += 1
            self.n = _steps
        self.name = name
        self.data_in = data_in
        self.data_out: dict[str, Any] = {}

    def out(self, **values: Any) -> None:
        """What came out of the step."""
        self.data_out.update(values)

    def __enter__(self) -> step:
        self.began = _now()
        _tell("step", n=self.n, name=self.name, started_at=self.began, data_in=self.data_in)
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        fault: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        if isinstance(fault, Paused):
            # The step has not ended; its rest is done in the next segment.
            return
        words = None if fault is None else f"{type(fault).__name__}: {fault}"
        _tell(
            "step",
            n=self.n,
            name=self.name,
            started_at=self.began,
            ended_at=_now(),
            fault=words,
            data_in=self.data_in,
            data_out=self.data_out,
        )
