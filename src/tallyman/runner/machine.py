"""What a host is, for the operator, and what its token is bound to."""

from __future__ import annotations

import contextlib
import hashlib
import os
import platform
import uuid
from pathlib import Path

IDS = ("/etc/machine-id", "/var/lib/dbus/machine-id")


def facts(packages: str, limits: str, as_runner: bool) -> dict[str, str]:
    """What the host is: system, Python, processors, and how packages work on it."""
    return {
        "system": f"{platform.system()} {platform.release()}",
        "python": platform.python_version(),
        "processors": str(os.cpu_count() or 0),
        "machine": platform.node(),
        "runner": "3",
        "root": "yes" if os.geteuid() == 0 else "no",
        "packages": packages,
        "as_runner": "yes" if as_runner else "no",
        "limits": limits,
    }


def identity() -> str:
    """A digest of what this machine is known by: its id and name; the same at each start."""
    found = ""
    for path in IDS:
        with contextlib.suppress(OSError):
            found = found or Path(path).read_text(encoding="utf-8").strip()
    text = f"{found or uuid.getnode()}:{platform.node()}"
    return hashlib.sha256(text.encode()).hexdigest()
