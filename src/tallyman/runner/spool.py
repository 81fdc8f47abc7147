"""What a run has to tell the server, kept on disk until the server has it.

One folder per run and fencing number: `work.json`, numbered reports, at last `outcome.json`. So a
network that is away, a server that restarts, or a runner that is killed loses nothing.
"""

from __future__ import annotations

import contextlib
import json
import shutil
import threading
from collections import deque
from pathlib import Path
from typing import Any

from tallyman.runner.surroundings import Surroundings

# Where the files that a run handed over lie until the server has them.
HANDED = "handed"


class Spool:
    """The reports of one run in order, and its outcome."""

    def __init__(self, folder: Path, surroundings: Surroundings) -> None:
        self.folder = folder
        self._surroundings = surroundings
        self._lock = threading.Condition()
        self._seq = 0
        # What could not be written, as the disk is full; told from memory.
        self._unwritten: dict[int, dict[str, Any]] = {}
        self._waiting: deque[int] = deque()
        self._outcome: dict[str, Any] | None = None
        self._read_kept()

    def _read_kept(self) -> None:
        """What an earlier runner left here."""
        if not self.folder.exists():
            return
        numbers = sorted(int(path.stem) for path in self.folder.glob("[0-9]*.json"))
        self._waiting.extend(numbers)
        with contextlib.suppress(OSError, ValueError):
            self._seq = int((self.folder / "last").read_text())
        self._seq = max([self._seq, *numbers])
        with contextlib.suppress(OSError, ValueError):
            self._outcome = json.loads((self.folder / "outcome.json").read_text())

    def begin(self, work: dict[str, Any]) -> None:
        """Notes the run itself, so that a later runner knows what was begun."""
        self.folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        self._surroundings.write(self.folder / "work.json", json.dumps(work).encode(), private=True)

    @property
    def work(self) -> dict[str, Any] | None:
        """The run that was begun here, or None if that cannot be read."""
        with contextlib.suppress(OSError, ValueError):
            found: dict[str, Any] = json.loads((self.folder / "work.json").read_text())
            return found
        return None

    @property
    def has_outcome(self) -> bool:
        """Whether the run's end is known."""
        return self._outcome is not None

    def add(
        self,
        lines: list[dict[str, Any]],
        steps: list[dict[str, Any]],
        progress: dict[str, Any] | None = None,
    ) -> None:
        """Keeps the next numbered report."""
        with self._lock:
            self._seq += 1
            report: dict[str, Any] = {"seq": self._seq, "lines": lines, "steps": steps}
            if progress is not None:
                report["progress"] = progress
            try:
                self._surroundings.write(self.folder / "last", str(self._seq).encode(), private=True)
                self._surroundings.write(self._path(self._seq), json.dumps(report).encode(), private=True)
            except OSError:
                self._unwritten[self._seq] = report
            self._waiting.append(self._seq)
            self._lock.notify_all()

    def end(self, outcome: dict[str, Any]) -> None:
        """Keeps the outcome; nothing follows it."""
        with self._lock:
            self._outcome = outcome
            with contextlib.suppress(OSError):
                self._surroundings.write(
                    self.folder / "outcome.json", json.dumps(outcome).encode(), private=True
                )
            self._lock.notify_all()

    def _path(self, seq: int) -> Path:
        return self.folder / f"{seq:08}.json"

    def next(self, seconds: float) -> tuple[str, dict[str, Any]] | None:
        """The next thing to tell, `report` or `outcome`; None if nothing came in that time."""
        with self._lock:
            if not self._waiting and self._outcome is None:
                self._lock.wait(seconds)
            if self._waiting:
                return "report", self._read(self._waiting[0])
            return None if self._outcome is None else ("outcome", self._outcome)

    def _read(self, seq: int) -> dict[str, Any]:
        """A kept report; an empty one in place of what cannot be read any more."""
        with contextlib.suppress(OSError, ValueError):
            kept = self._unwritten.get(seq)
            found: dict[str, Any] = kept or json.loads(self._path(seq).read_text())
            return found
        return {"seq": seq, "lines": [], "steps": []}

    def told(self) -> None:
        """The server has the first report."""
        with self._lock:
            seq = self._waiting.popleft()
            self._unwritten.pop(seq, None)
            self._path(seq).unlink(missing_ok=True)

    def drop(self) -> None:
        """The server has everything, or wants nothing of it."""
        shutil.rmtree(self.folder, ignore_errors=True)
