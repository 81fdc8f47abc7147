"""The runner's clock and disk, in one place, so that tests can skew the one and fill the other."""

from __future__ import annotations

import errno
import os
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path


@dataclass(frozen=True)
class Surroundings:
    """`skew_seconds` is added to the clock, and what `clock_file` says, by which tests move the clocks of all
    processes together; while `full_file` exists, no file can be written."""

    skew_seconds: float = 0.0
    full_file: str = ""
    clock_file: str = ""

    @classmethod
    def from_environment(cls) -> Surroundings:
        """As the environment says; nothing is skewed or full unless a test asks for it."""
        skew = float(os.environ.get("TALLYMAN_RUNNER_SKEW_SECONDS") or 0)
        full = os.environ.get("TALLYMAN_RUNNER_FULL_FILE", "")
        return cls(skew, full, os.environ.get("TALLYMAN_CLOCK_FILE", ""))

    def now(self) -> str:
        """The time as ISO text with its zone."""
        moved = 0.0
        if self.clock_file and Path(self.clock_file).exists():
            moved = float(Path(self.clock_file).read_text(encoding="utf-8").strip() or 0)
        return (datetime.now(UTC) + timedelta(seconds=self.skew_seconds + moved)).isoformat()

    def write(self, path: Path, data: bytes, *, private: bool = False) -> None:
        """Writes a whole file, or nothing of it, `private`: for this account only. OSError if it is full."""
        if self.full_file and Path(self.full_file).exists():
            raise OSError(errno.ENOSPC, "No space left on device", str(path))
        path.parent.mkdir(parents=True, exist_ok=True, mode=0o700 if private else 0o755)
        aside = path.with_name(f".{path.name}.part")
        try:
            handle = os.open(aside, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600 if private else 0o644)
            with os.fdopen(handle, "wb") as stream:
                stream.write(data)
            aside.replace(path)
        finally:
            aside.unlink(missing_ok=True)
