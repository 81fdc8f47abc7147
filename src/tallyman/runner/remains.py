"""What a killed keeper leaves behind: its package and all that it started, ended from outside.

The kernel hands the orphans of a killed keeper to the runner, which is their next keeper. They are
told from the runner's own helpers by their session: a keeper and what it starts have sessions of
their own, what the runner starts itself shares the runner's.
"""

from __future__ import annotations

import contextlib
import os
from pathlib import Path

import psutil

from tallyman.runner.keeper import adopt_orphans

MARK = "TALLYMAN_CONTROL"


# Children that were there before orphans could come; none while nothing is adopted.
_before: set[int] | None = None


def begin() -> None:
    """From now on orphans of killed keepers come to this process."""
    global _before
    _before = {one.pid for one in _children()}
    adopt_orphans()


def end_orphans(keepers: set[int]) -> int:
    """Kills adopted processes with all they started; gives how many. `keepers` still keep their packages.

    Does nothing in a process that adopts none.
    """
    if _before is None:
        return 0
    own = keepers | _before
    ended = 0
    for _ in range(50):
        found = [one for one in _children() if one.pid not in own and _foreign(one)]
        if not found:
            return ended
        family = [*found]
        for one in found:
            with contextlib.suppress(psutil.Error):
                family += one.children(recursive=True)
        for one in family:
            with contextlib.suppress(psutil.Error):
                one.kill()
        ended += len(family)
        psutil.wait_procs(found, timeout=1)
    return ended


def _children() -> list[psutil.Process]:
    with contextlib.suppress(psutil.Error):
        return list(psutil.Process().children())
    return []


def _foreign(process: psutil.Process) -> bool:
    """Whether a child is none of the runner's own helpers, by its session."""
    with contextlib.suppress(OSError):
        return os.getsid(process.pid) != os.getsid(0)
    return False


def end_former(work: Path) -> None:
    """Kills what packages of an earlier start of this runner left, known by the folder they were given."""
    for process in psutil.process_iter():
        with contextlib.suppress(psutil.Error):
            if process.environ().get(MARK, "").startswith(f"{work}{os.sep}"):
                process.kill()
