"""Isolated environments: what a package version requires, from its own wheels, made once and kept."""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

REQUIREMENTS = "requirements.txt"
LONGEST_INSTALL = 600
UNUSED_DAYS = 30
_locks: dict[str, threading.Lock] = {}
_guard = threading.Lock()


class CannotInstall(Exception):
    """The requirements cannot be installed; says why."""


def _key(requirements: bytes) -> str:
    return hashlib.sha256(requirements + sys.version.encode()).hexdigest()[:32]


def environment(
    folder: Path, package: Path, wheels: list[dict[str, str]], fetch: Callable[[str], bytes]
) -> Path | None:
    """The folder with what a package requires, or None if it requires nothing.

    Installs from the wheels alone, each checked by its hash; nothing is asked of any network but
    the server. Raises CannotInstall.
    """
    listed = package / REQUIREMENTS
    if not listed.exists() or not wheels:
        return None
    key = _key(listed.read_bytes())
    made = folder / key
    with _guard:
        lock = _locks.setdefault(key, threading.Lock())
    with lock:
        if not made.exists():
            _make(folder, made, listed, wheels, fetch)
        os.utime(made)
    return made


def _make(
    folder: Path, made: Path, listed: Path, wheels: list[dict[str, str]], fetch: Callable[[str], bytes]
) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=folder, prefix=".making-") as making:
        index, target = Path(making) / "wheels", Path(making) / "site"
        index.mkdir()
        for wheel in wheels:
            (index / Path(wheel["name"]).name).write_bytes(fetch(wheel["digest"]))
        done = subprocess.run(_command(index, target, listed), check=False, **_quietly(making))
        if done.returncode:
            lines = done.stderr.decode(errors="replace").strip().splitlines() or ["it said nothing"]
            raise CannotInstall(f"its requirements cannot be installed: {lines[-1][:500]}")
        target.mkdir(exist_ok=True)
        target.chmod(0o755)
        target.replace(made)


def _command(index: Path, target: Path, listed: Path) -> list[str]:
    return [
        sys.executable,
        "-m",
        "pip",
        "install",
        "--quiet",
        "--disable-pip-version-check",
        "--no-index",
        "--no-cache-dir",
        "--only-binary=:all:",
        "--require-hashes",
        f"--find-links={index}",
        f"--target={target}",
        f"--requirement={listed}",
    ]


def _quietly(home: str) -> dict[str, Any]:
    return {
        "capture_output": True,
        "timeout": LONGEST_INSTALL,
        "env": {"PATH": os.environ.get("PATH", "/usr/bin:/bin"), "HOME": home, "PIP_CONFIG_FILE": os.devnull},
    }


def tidy(folder: Path) -> None:
    """Environments that no run used for a month go, and what was left half made."""
    if not folder.exists():
        return
    oldest = time.time() - UNUSED_DAYS * 86400
    for path in folder.iterdir():
        if path.name.startswith(".making-") or path.stat().st_mtime < oldest:
            shutil.rmtree(path, ignore_errors=True)
