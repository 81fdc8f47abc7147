"""Envelope encryption: each value under a key of its own, that key wrapped by one that lives elsewhere.

AES-256-GCM throughout; what a value belongs to is bound into both, so that neither can be moved.
"""

from __future__ import annotations

import hashlib
import hmac
import os
from collections.abc import Mapping
from dataclasses import dataclass

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM

NONCE = 12
KEY_BYTES = 32


class CannotOpen(ValueError):
    """The value was changed, belongs to something else, or its key is not on the ring."""


@dataclass(frozen=True)
class Ring:
    """The keys that wrap: the current one by its name, former ones, and the one that signs links."""

    current: str
    keys: Mapping[str, bytes]
    links: bytes


@dataclass(frozen=True)
class Sealed:
    """A sealed value: which key wrapped its own, its wrapped key, and itself."""

    key_id: str
    wrapped: bytes
    body: bytes


def new_key() -> bytes:
    """A key of 256 bits."""
    return os.urandom(KEY_BYTES)


def _lock(key: bytes, plain: bytes, bound: str) -> bytes:
    nonce = os.urandom(NONCE)
    return nonce + AESGCM(key).encrypt(nonce, plain, bound.encode())


def _unlock(key: bytes, locked: bytes, bound: str) -> bytes:
    try:
        return AESGCM(key).decrypt(locked[:NONCE], locked[NONCE:], bound.encode())
    except InvalidTag:
        raise CannotOpen("it was changed, or belongs to something else") from None


def seal(ring: Ring, plain: bytes, bound: str) -> Sealed:
    """Seals a value for what it is bound to."""
    own = new_key()
    return Sealed(ring.current, _lock(ring.keys[ring.current], own, bound), _lock(own, plain, bound))


def unseal(ring: Ring, sealed: Sealed, bound: str) -> bytes:
    """The value. Raises CannotOpen."""
    if sealed.key_id not in ring.keys:
        raise CannotOpen(f"the key {sealed.key_id} is not on this machine's ring")
    return _unlock(_unlock(ring.keys[sealed.key_id], sealed.wrapped, bound), sealed.body, bound)


def rewrap(ring: Ring, sealed: Sealed, bound: str) -> Sealed:
    """The same value with its key wrapped by the ring's current key; the value itself is not opened."""
    if sealed.key_id not in ring.keys:
        raise CannotOpen(f"the key {sealed.key_id} is not on this machine's ring")
    own = _unlock(ring.keys[sealed.key_id], sealed.wrapped, bound)
    return Sealed(ring.current, _lock(ring.keys[ring.current], own, bound), sealed.body)


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
