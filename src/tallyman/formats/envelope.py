"""The keys that live outside the database, and the signed tokens of links in mails."""

from __future__ import annotations

import hashlib
import hmac
import os
from collections.abc import Mapping
from dataclasses import dataclass

KEY_BYTES = 32


@dataclass(frozen=True)
class Ring:
    """The keys that wrap: the current one by its name, former ones, and the one that signs links."""

    current: str
    keys: Mapping[str, bytes]
    links: bytes


def new_key() -> bytes:
    """A key of 256 bits."""
    return os.urandom(KEY_BYTES)


def link_token(ring: Ring, kind: str, number: int, person_id: int) -> str:
    """The token of a link in a mail: its number and a signature over what it is for."""
    sign = hmac.new(ring.links, f"{kind}:{number}:{person_id}".encode(), hashlib.sha256).hexdigest()
    return f"{number}-{sign[:40]}"


def link_number(token: str) -> int:
    """The number that a link's token names, not checked yet; 0 if it is no token."""
    number = token.partition("-")[0]
    return int(number) if number.isdigit() and len(number) < 18 else 0


def same(one: str, other: str) -> bool:
    """Compares two tokens in the same time whatever they hold."""
    return hmac.compare_digest(one.encode(), other.encode())
