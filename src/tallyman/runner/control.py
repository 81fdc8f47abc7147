"""The folder in which runner and package meet, reached by its open descriptor only.

It is the package's own, so anything in it may be a link, a pipe or a device by the time the runner
looks. Nothing is followed, nothing is waited for, and only a plain file of the package's own is read.
"""

from __future__ import annotations

import contextlib
import os
import stat
from pathlib import Path

PAUSE = "pause"
STATE = "state.json"
MOST_STATE_BYTES = 20_000_000
_LOOK = os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC


class Control:
    """One run's folder, opened before its package starts."""

    def __init__(self, path: Path, uid: int) -> None:
        self._folder = os.open(path, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC)
        self._uid = uid

    def close(self) -> None:
        """Gives the descriptor back."""
        if self._folder >= 0:
            os.close(self._folder)
            self._folder = -1

    def ask_pause(self) -> bool:
        """Leaves the sign that checkpoint() looks for; gives whether it is new."""
        flags = os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC
        with contextlib.suppress(OSError):
            os.close(os.open(PAUSE, flags, 0o644, dir_fd=self._folder))
            return True
        return False

    def state(self) -> bytes:
        """The state that the package saved. Raises OSError or ValueError unless it is a file of its own."""
        handle = os.open(STATE, _LOOK, dir_fd=self._folder)
        with os.fdopen(handle, "rb") as stream:
            found = os.fstat(handle)
            if not stat.S_ISREG(found.st_mode):
                raise ValueError("it is no plain file")
            if found.st_uid != self._uid or found.st_nlink != 1:
                raise ValueError("it is not the package's own file")
            data = stream.read(MOST_STATE_BYTES + 1)
        if len(data) > MOST_STATE_BYTES:
            raise ValueError(f"it is larger than {MOST_STATE_BYTES // 1_000_000} MB")
        return data
