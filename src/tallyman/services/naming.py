"""Names of things: clean, and taken by nothing else."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import TypeVar

from tallyman.errors import Clash, Fault, InputFaults

NAME = re.compile(r"^[^\x00-\x1f<>]{1,80}$")
Made = TypeVar("Made")


def clean_name(field: str, value: str) -> str:
    """A name without spaces around it. Raises InputFaults."""
    value = value.strip()
    if not NAME.match(value):
        raise InputFaults([Fault(field, value[:80], "give a name of 1 to 80 characters")])
    return value


def named(work: Callable[[], Made], field: str, name: str) -> Made:
    """Runs an insert; a taken name becomes a fault of its field."""
    try:
        return work()
    except Clash as error:
        raise InputFaults([Fault(field, name, error.message)]) from None
