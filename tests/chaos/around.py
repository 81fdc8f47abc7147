"""What a storm looks at around it: processes, their logs, and whether the web answers."""

from __future__ import annotations

import contextlib
import threading
from pathlib import Path
from typing import Any

import httpx
import psutil

from tests.world import PASSWORD


def wait_a_moment() -> None:
    """A short pause between two looks."""
    threading.Event().wait(0.2)


def command(process: psutil.Process) -> str:
    """What a process was started as; nothing when it has just ended."""
    with contextlib.suppress(psutil.Error):
        return " ".join(process.cmdline())
    return ""


def children(pid: int) -> list[psutil.Process]:
    """The processes that a process started."""
    with contextlib.suppress(psutil.Error):
        return list(psutil.Process(pid).children())
    return []


def tail(path: Path) -> str:
    """The end of a log."""
    return path.read_text(errors="replace")[-600:] if path.exists() else ""


def answers(port: int) -> bool:
    """Whether a web process is ready."""
    try:
        return httpx.get(f"http://127.0.0.1:{port}/readyz", timeout=2).status_code == 200
    except httpx.HTTPError:
        return False


def signed_in(port: int) -> httpx.Client:
    """A session of the operator."""
    client = httpx.Client(base_url=f"http://127.0.0.1:{port}/api/v1", headers={"X-Tallyman": "1"}, timeout=40)
    body: dict[str, Any] = {"email": "sol.marin@merrowdale.example", "password": PASSWORD}
    client.post("/session", json=body).raise_for_status()
    return client
