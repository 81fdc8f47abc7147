"""Keeps one package: starts it, ends it and all it started, also when the runner itself is killed.

A process of its own between runner and package. Whatever the package starts, even detached, stays
among its descendants (the kernel hands orphans to the keeper), so that nothing outlives the run.
Speaks with the runner over two pipes: orders on standard input, one line each; its one answer, the
end code, on the descriptor it was told.
"""

from __future__ import annotations

import contextlib
import ctypes
import json
import os
import resource
import selectors
import signal
import subprocess
import sys
from typing import Any

import psutil

SUBREAPER = 36
DIE_WITH_PARENT = 1
NO_NEW_PRIVILEGES = 38
LOOK_SECONDS = 0.2
LARGEST_FILE = 2_000_000_000
MOST_OPEN_FILES = 1024


def adopt_orphans() -> None:
    """Has the kernel give orphaned descendants to this process (Linux)."""
    _control(SUBREAPER, 1)


def _control(option: int, value: int) -> None:
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(option, value, 0, 0, 0)


def _shut_in(most_processes: int) -> None:
    """In the package's process, before it begins: dies with its keeper, gains no rights, within bounds."""
    _control(DIE_WITH_PARENT, signal.SIGKILL)
    _control(NO_NEW_PRIVILEGES, 1)
    bounds = [(resource.RLIMIT_CORE, 0), (resource.RLIMIT_FSIZE, LARGEST_FILE)]
    bounds += [(resource.RLIMIT_NOFILE, MOST_OPEN_FILES)]
    if most_processes:
        bounds.append((resource.RLIMIT_NPROC, most_processes))
    for which, most in bounds:
        with contextlib.suppress(ValueError, OSError):
            resource.setrlimit(which, (most, most))


def _kill_all() -> None:
    """Kills every descendant, again until none is left."""
    while children := psutil.Process().children(recursive=True):
        for child in children:
            with contextlib.suppress(psutil.NoSuchProcess):
                child.kill()
        psutil.wait_procs(children, timeout=2)
        _reap()


def _reap() -> None:
    with contextlib.suppress(ChildProcessError):
        while os.waitpid(-1, os.WNOHANG)[0]:
            pass


def _start(told: dict[str, Any]) -> subprocess.Popen[bytes]:
    process: subprocess.Popen[bytes] = subprocess.Popen(
        told["command"],
        cwd=told["cwd"],
        env=told["environment"],
        stdin=subprocess.DEVNULL,
        pass_fds=(told["report"],),
        start_new_session=True,
        umask=0o077,
        # The keeper has one thread.
        preexec_fn=lambda: _shut_in(told["most_processes"]),  # noqa: PLW1509
        **told["ids"],
    )
    return process


def _ask_to_end(process: subprocess.Popen[bytes]) -> None:
    with contextlib.suppress(ProcessLookupError, PermissionError):
        os.killpg(process.pid, signal.SIGTERM)


def main() -> None:
    """Reads what to start from the first line of standard input, then keeps it."""
    told = json.loads(sys.stdin.buffer.readline())
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        # Not SIG_IGN: that would be handed down to the package, which is to hear them.
        signal.signal(number, lambda *_: None)
    adopt_orphans()
    try:
        process = _start(told)
    except OSError as error:
        os.write(told["status"], json.dumps({"fault": str(error)}).encode())
        return
    os.close(told["report"])
    orders = selectors.DefaultSelector()
    orders.register(sys.stdin, selectors.EVENT_READ)
    while process.poll() is None:
        if not orders.select(LOOK_SECONDS):
            continue
        order = os.read(sys.stdin.fileno(), 4096)
        if b"kill" in order or not order:
            # No more orders will come: the runner is gone, or wants it gone.
            process.kill()
            break
        _ask_to_end(process)
    # Its own end code first: who kills the rest also reaps it.
    code = process.wait()
    _kill_all()
    with contextlib.suppress(OSError):
        os.write(told["status"], json.dumps({"code": code}).encode())


if __name__ == "__main__":
    main()
