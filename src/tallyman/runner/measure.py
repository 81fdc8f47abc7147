"""How much of the host a package takes: memory of its processes, room on the disk."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path

import psutil

MOST_DISK_BYTES = 4_000_000_000
MOST_DISK_FILES = 200_000


def too_large(folder: Path) -> bool:
    """Whether a run's folder holds too much; nothing in it is followed, and not too many are looked at."""
    total = files = 0
    waiting = [str(folder)]
    while waiting:
        with contextlib.suppress(OSError), os.scandir(waiting.pop()) as entries:
            for entry in entries:
                files += 1
                if entry.is_dir(follow_symlinks=False):
                    waiting.append(entry.path)
                else:
                    total += entry.stat(follow_symlinks=False).st_size
                if total > MOST_DISK_BYTES or files > MOST_DISK_FILES:
                    return True
    return False


def memory_of(pid: int) -> int:
    """Bytes of memory that the keeper's descendants use."""
    total = 0
    with contextlib.suppress(psutil.Error):
        for process in psutil.Process(pid).children(recursive=True):
            with contextlib.suppress(psutil.Error):
                total += process.memory_info().rss
    return total
