"""A kernel group (cgroup v2) around each package, where there is one: memory, processes, CPU, and an end.

Where there is none, memory is watched, processes and file sizes are bounded by the account's limits;
the runner says which of the two holds.
"""

from __future__ import annotations

import contextlib
import os
from pathlib import Path

ROOT = Path("/sys/fs/cgroup")
MOST_PROCESSES = 256
# Of one processor's time in each tenth of a second, two processors at most.
CPU_MAX = "200000 100000"
WATCHED = "memory and disk watched, processes and file sizes bounded by the account"
BY_KERNEL = "memory, processes and CPU bounded by the kernel"


class Groups:
    """The groups of one runner; `there` is false where the kernel or its keeper lends none."""

    def __init__(self, root: Path = ROOT, own: str | None = None) -> None:
        self.base = root / (own if own is not None else _own()).lstrip("/")
        self.there = (root / "cgroup.controllers").exists() and self._prepare()

    def _prepare(self) -> bool:
        """Moves this process into a leaf, so that groups beside it may be bounded."""
        try:
            leaf = self.base / "tallyman-runner"
            leaf.mkdir(exist_ok=True)
            (leaf / "cgroup.procs").write_text(str(os.getpid()))
            (self.base / "cgroup.subtree_control").write_text("+memory +pids +cpu")
        except OSError:
            return False
        return True

    @property
    def words(self) -> str:
        """How packages are bounded, for the pre-check."""
        return BY_KERNEL if self.there else WATCHED

    def make(self, name: str, memory_mb: int) -> Group | None:
        """A group for one package; None where there are none."""
        if not self.there:
            return None
        group = Group(self.base / f"tallyman-{name}")
        try:
            group.path.mkdir(exist_ok=True)
            (group.path / "memory.max").write_text(str(memory_mb * 1_000_000))
            (group.path / "pids.max").write_text(str(MOST_PROCESSES))
            (group.path / "cpu.max").write_text(CPU_MAX)
        except OSError:
            group.end()
            return None
        return group


class Group:
    """One package's group."""

    def __init__(self, path: Path) -> None:
        self.path = path

    def take_in(self, pid: int) -> None:
        """Puts a process, and all that it will start, into the group."""
        with contextlib.suppress(OSError):
            (self.path / "cgroup.procs").write_text(str(pid))

    def end(self) -> None:
        """Kills all that is in it, and takes it away."""
        with contextlib.suppress(OSError):
            (self.path / "cgroup.kill").write_text("1")
        with contextlib.suppress(OSError):
            self.path.rmdir()


def _own() -> str:
    """The group that this process is in."""
    with contextlib.suppress(OSError):
        for line in Path("/proc/self/cgroup").read_text().splitlines():
            if line.startswith("0::"):
                return line[3:]
    return "/"
