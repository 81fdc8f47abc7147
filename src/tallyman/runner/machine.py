"""What a host is and how it is this moment, for the operator, and what its token is bound to."""

from __future__ import annotations

import contextlib
import hashlib
import os
import platform
import pwd
import re
import shutil
import uuid
from pathlib import Path
from typing import Any

import psutil

IDS = ("/etc/machine-id", "/var/lib/dbus/machine-id")
# The runner that comes with the server of the same release; see the server's page of hosts.
RELEASE = "4"
MB = 1024 * 1024
# Windows 10 and 11 tell themselves apart by their build alone.
FIRST_OF_11 = 22_000
# Accounts of people and services that can sign in; those below belong to the system.
FIRST_ACCOUNT, NOBODY = 1000, 65_534
NO_SHELL = re.compile(r"/(nologin|false|sync)$")
MOST_ACCOUNTS = 200
LONGEST_NAME = 32


def system_name() -> str:
    """The operating system in plain words, such as *Debian 12* or *Windows 11*."""
    kind = platform.system()
    if kind == "Windows":
        release, version, *_ = platform.win32_ver()
        build = version.rpartition(".")[2]
        return f"Windows {'11' if build.isdecimal() and int(build) >= FIRST_OF_11 else release}"
    if kind == "Darwin":
        return f"macOS {platform.mac_ver()[0].partition('.')[0]}"
    with contextlib.suppress(OSError):
        return _plain(platform.freedesktop_os_release())
    return f"{kind} {platform.release()}"


def _plain(told: dict[str, str]) -> str:
    """Name and number out of what a Linux says of itself: "Debian GNU/Linux", "12" is Debian 12."""
    name = re.sub(r"\s*(GNU/)?Linux$", "", told.get("NAME", "").strip()) or "Linux"
    return f"{name} {told.get('VERSION_ID', '')}".strip()


def screen() -> str:
    """The size of the screen that packages could use, *none*, or nothing where that cannot be told."""
    if platform.system() != "Linux":
        return ""
    sizes = []
    for modes in Path("/sys/class/drm").glob("*/modes"):
        with contextlib.suppress(OSError, IndexError):
            sizes.append(modes.read_text(encoding="ascii").split()[0])
    if sizes:
        return sizes[0].replace("x", "×")
    return os.environ.get("DISPLAY", "")[:20] or "none"


def facts(packages: str, limits: str, as_runner: bool) -> dict[str, str]:
    """What the host is: system, Python, processors, memory, disk, and how packages work on it."""
    return {
        "system": f"{platform.system()} {platform.release()}",
        "system_name": system_name(),
        "python": platform.python_version(),
        "processors": str(os.cpu_count() or 0),
        "memory_mb": str(psutil.virtual_memory().total // MB),
        "screen": screen(),
        "machine": platform.node(),
        "runner": RELEASE,
        "root": "yes" if os.geteuid() == 0 else "no",
        "packages": packages,
        "as_runner": "yes" if as_runner else "no",
        "limits": limits,
    }


def accounts() -> list[str]:
    """The accounts of this host that people or services can sign in with, but for the system's own."""
    found = {
        one.pw_name
        for one in pwd.getpwall()
        if FIRST_ACCOUNT <= one.pw_uid < NOBODY
        and not NO_SHELL.search(one.pw_shell)
        and len(one.pw_name) <= LONGEST_NAME
    }
    return sorted(found)[:MOST_ACCOUNTS]


def _is_there(found_by: str) -> bool:
    return Path(found_by).exists() if found_by.startswith("/") else shutil.which(found_by) is not None


def applications(looked_for: dict[str, list[str]]) -> list[str]:
    """Which of some applications are installed: found by a command on the path, or a file or folder."""
    return [name for name, ways in looked_for.items() if any(_is_there(way) for way in ways)]


def reading(
    state: Path, looked_for: dict[str, list[str]], told: dict[str, str], sitting: str
) -> dict[str, Any]:
    """How the host is this moment.

    `told` are its facts, `state` is where its packages work, `sitting` whether somebody is at it.
    """
    disk = shutil.disk_usage(state)
    return {
        "facts": {**told, "disk_mb": str(disk.total // MB)},
        "cpu_percent": f"{psutil.cpu_percent():.1f}",
        "memory_free_mb": psutil.virtual_memory().available // MB,
        "disk_free_mb": disk.free // MB,
        "applications": applications(looked_for),
        "accounts": accounts(),
        "screen": sitting,
    }


def identity() -> str:
    """A digest of what this machine is known by: its id and name; the same at each start."""
    found = ""
    for path in IDS:
        with contextlib.suppress(OSError):
            found = found or Path(path).read_text(encoding="utf-8").strip()
    text = f"{found or uuid.getnode()}:{platform.node()}"
    return hashlib.sha256(text.encode()).hexdigest()
