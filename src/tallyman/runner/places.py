"""Where a runner keeps things: work in progress, what is to be told, environments."""

from __future__ import annotations

import hashlib
import os
import stat
import tempfile
from pathlib import Path


class Places:
    """The folders of one runner.

    What it has to tell is its own alone. Packages under other accounts must pass through to their
    work, so where the state folder lies behind a closed one, work and environments are elsewhere.
    """

    def __init__(self, state: Path) -> None:
        state = state.resolve()
        self.spool = state / "spool"
        reached = state if os.geteuid() != 0 or can_be_passed(state) else _elsewhere(state)
        self.work = reached / "work"
        self.environments = reached / "environments"

    def make(self) -> None:
        """Makes the folders, each open to those who need it only."""
        self.spool.mkdir(parents=True, exist_ok=True)
        self.spool.chmod(0o700)
        for folder in (self.work, self.environments):
            folder.mkdir(parents=True, exist_ok=True)
            folder.chmod(0o711)


def can_be_passed(folder: Path) -> bool:
    """Whether any account may pass through a folder and all above it."""
    whole = folder.resolve()
    there = [path for path in (whole, *whole.parents) if path.exists()]
    return all(path.stat().st_mode & stat.S_IXOTH for path in there)


def _elsewhere(state: Path) -> Path:
    """A folder of the runner's own below that for passing files, the same at each start.

    Raises OSError when somebody else has made one of that name.
    """
    name = hashlib.sha256(str(state.resolve()).encode()).hexdigest()[:16]
    folder = Path(tempfile.gettempdir()) / f"tallyman-runner-{name}"
    folder.mkdir(mode=0o711, exist_ok=True)
    found = folder.lstat()
    if not stat.S_ISDIR(found.st_mode) or found.st_uid != os.geteuid():
        raise OSError(f"{folder} is somebody else's; take it away, or choose another --state")
    folder.chmod(0o711)
    return folder
