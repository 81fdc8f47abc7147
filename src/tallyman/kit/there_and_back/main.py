"""A trial run there and back: what a robot's host is, a file written and read, a line in the log."""

from __future__ import annotations

import hashlib
import os
import platform
import shutil
from pathlib import Path

import tallyman_kit as job

TEXT = "there and back\n" * 1000


def _account() -> str:
    try:
        import pwd

        return pwd.getpwuid(os.getuid()).pw_name
    except (ImportError, KeyError):
        # An account that the runner made for the robot stands in no list of the system.
        return f"number {os.getuid()}" if hasattr(os, "getuid") else os.environ.get("USERNAME", "")


def _system() -> str:
    try:
        return platform.freedesktop_os_release()["PRETTY_NAME"]
    except (AttributeError, OSError, KeyError):
        return f"{platform.system()} {platform.release()}"


with job.step("Read the host") as step:
    facts = {
        "system": _system(),
        "python": platform.python_version(),
        "account": _account(),
        "processors": os.cpu_count() or 0,
        "free_mb": shutil.disk_usage(".").free // 1_000_000,
    }
    step.out(**facts)

with job.step("Write a file and read it", bytes=len(TEXT)) as step:
    path = Path("there-and-back.txt")
    path.write_text(TEXT, encoding="utf-8")
    back = path.read_text(encoding="utf-8")
    path.unlink()
    if back != TEXT:
        raise SystemExit("what was read is not what was written")
    step.out(sha256=hashlib.sha256(back.encode()).hexdigest())

with job.step("Say a line"):
    job.log(f"there and back under the account {facts['account']} on {facts['system']}")

job.output(**facts, written_and_read=len(back))
