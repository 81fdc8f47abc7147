"""Secrets, sealed: what others ask of the safe."""

from __future__ import annotations

from tallyman.services.safe import own_values
from tallyman.services.safe.asking import routines_asking
from tallyman.services.safe.contents import (
    OF_PEOPLE,
    PRIVATE,
    At,
    Change,
    Given,
    Handed,
    change,
    drop,
    for_routine,
    listed,
    look_at_move,
    make,
    one,
    open_secret,
    put_or_replace,
    redactor,
    retire,
    values_for_run,
)
from tallyman.services.safe.keys import forget_former_keys, rewrap_all, rotate, tell_ending
from tallyman.services.safe.run_as import keep_password, names_taken, replace_password

__all__ = [
    "OF_PEOPLE",
    "PRIVATE",
    "At",
    "Change",
    "Given",
    "Handed",
    "change",
    "drop",
    "for_routine",
    "forget_former_keys",
    "keep_password",
    "listed",
    "look_at_move",
    "make",
    "names_taken",
    "one",
    "open_secret",
    "own_values",
    "put_or_replace",
    "redactor",
    "replace_password",
    "retire",
    "rewrap_all",
    "rotate",
    "routines_asking",
    "tell_ending",
    "values_for_run",
]
