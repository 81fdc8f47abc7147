"""The key by which this computer signs: its private half is kept here, readable by its owner alone."""

from __future__ import annotations

import os
from pathlib import Path

from tallyman.core.faults import Fault, InputFaults
from tallyman.signed import make_key, public_half, sign

VARIABLE = "TALLYMAN_KEY"


def place() -> Path:
    """Where the private half is: as the environment says, else among the settings of whoever builds."""
    if named := os.environ.get(VARIABLE):
        return Path(named)
    settings = os.environ.get("XDG_CONFIG_HOME") or str(Path.home() / ".config")
    return Path(settings) / "tallyman" / "signing-key"


def private() -> str | None:
    """The private half; None where none was made. Raises InputFaults for a file that holds none."""
    path = place()
    try:
        half = path.read_text(encoding="ascii").strip()
        public_half(half)
    except FileNotFoundError:
        return None
    except (OSError, ValueError):
        message = "holds no private half of a key; move it away, and make one with `package key`"
        raise InputFaults([Fault("key", str(path), message)]) from None
    return half


def make() -> str:
    """Makes a key, which is never written over; gives its private half."""
    half, _ = make_key()
    path = place()
    path.parent.mkdir(parents=True, exist_ok=True)
    number = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(number, "w", encoding="ascii") as file:
        file.write(half + "\n")
    return half


def signature(data: bytes) -> str:
    """The signature of a package by the key of this computer; empty where there is none."""
    half = private()
    return sign(half, data) if half else ""
