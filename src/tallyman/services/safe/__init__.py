"""Secrets, sealed: what others ask of the safe."""

from __future__ import annotations

from tallyman.services.safe.contents import (
    PRIVATE,
    Given,
    change,
    drop,
    for_routine,
    forget_former_keys,
    listed,
    make,
    one,
    open_secret,
    put_or_replace,
    redactor,
    retire,
    rewrap_all,
    rotate,
    tell_ending,
    values_for_run,
)

__all__ = [
    "PRIVATE",
    "Given",
    "change",
    "drop",
    "for_routine",
    "forget_former_keys",
    "listed",
    "make",
    "one",
    "open_secret",
    "put_or_replace",
    "redactor",
    "retire",
    "rewrap_all",
    "rotate",
    "tell_ending",
    "values_for_run",
]
