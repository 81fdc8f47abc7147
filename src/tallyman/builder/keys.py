"""The key by which this computer signs: its private half is kept here, readable by its owner alone."""

from __future__ import annotations

import os
from pathlib import Path

from tallyman.signed import make_key, sign

VARIABLE = "TALLYMAN_KEY"


def place() -> Path:
    """Where the private half is: as the environment says, else among the settings of whoever builds."""
    if named := os.environ.get(VARIABLE):
        return Path(named)
    settings = os.environ.get("XDG_CONFIG_HOME") or str(Path.home() / ".config")
    return Path(settings) / "tallyman" / "signing-key"


def private() -> str | None:
    """The private half; None where none was made."""
    try:
        return place().read_text(encoding="ascii").strip() or None
    except FileNotFoundError:
        return None


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
