"""Files that a package hands over: taken along when it has ended, as they are, and nothing else.

The package's account owns the folder, so what lies there is only opened as a plain file: no link leads the
runner, which may read more, to anything else.
"""

from __future__ import annotations

import os
import stat
from pathlib import Path
from typing import Any

from tallyman.runner.surroundings import Surroundings

MOST = 20
LARGEST = 20_000_000
LARGEST_TOGETHER = 60_000_000
OPENED = os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC


def _read(folder: int, name: str) -> bytes | str:
    """A plain file of a folder, or why it is not taken along."""
    try:
        one = os.open(name, OPENED, dir_fd=folder)
    except OSError as error:
        return f"cannot be read: {error.strerror}"
    found = os.fstat(one)
    if not stat.S_ISREG(found.st_mode) or found.st_nlink != 1:
        os.close(one)
        return "is no file of its own"
    with os.fdopen(one, "rb") as stream:
        if found.st_size > LARGEST:
            return f"is larger than {LARGEST // 1_000_000} MB"
        return stream.read(LARGEST)


def gather(out: Path, into: Path, surroundings: Surroundings) -> tuple[list[dict[str, Any]], list[str]]:
    """Puts what lies in `out` beside the reports of a run; gives the files by number and name, and what was
    left out and why."""
    taken: list[dict[str, Any]] = []
    notes: list[str] = []
    together = 0
    try:
        folder = os.open(out, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC)
    except OSError:
        return [], []
    try:
        for name in sorted(os.listdir(folder)):  # noqa: PTH208 (by the open folder, not by its name)
            if len(taken) >= MOST:
                notes.append(f"more than {MOST} files were handed over; the others are not kept")
                break
            data = _read(folder, name)
            if isinstance(data, bytes) and together + len(data) > LARGEST_TOGETHER:
                data = f"makes them larger than {LARGEST_TOGETHER // 1_000_000} MB together"
            if isinstance(data, str):
                notes.append(f"the file {name[:120]!r} is not kept: it {data}")
                continue
            into.mkdir(parents=True, exist_ok=True, mode=0o700)
            number = len(taken) + 1
            surroundings.write(into / str(number), data, private=True)
            taken.append({"n": number, "name": name[:200]})
            together += len(data)
    finally:
        os.close(folder)
    return taken, notes
