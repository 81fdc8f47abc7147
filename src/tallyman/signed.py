"""Signatures of packages: Ed25519 over what a package is, by its builder's key; checked before it is started.

Keys and signatures are base64. The private half never leaves the computer where it was made.
"""

from __future__ import annotations

import base64
import binascii
import hashlib

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey, Ed25519PublicKey

# So that a signature of a package is a signature of nothing else.
WHAT = b"tallyman package sha256:"


def _message(digest: str) -> bytes:
    return WHAT + digest.encode("ascii")


def make_key() -> tuple[str, str]:
    """A new key: its private and its public half."""
    private = Ed25519PrivateKey.generate()
    halves = private.private_bytes_raw(), private.public_key().public_bytes_raw()
    return base64.b64encode(halves[0]).decode(), base64.b64encode(halves[1]).decode()


def public_half(private: str) -> str:
    """The public half that belongs to a private one. Raises ValueError for what is none."""
    raw = Ed25519PrivateKey.from_private_bytes(_bytes(private)).public_key().public_bytes_raw()
    return base64.b64encode(raw).decode()


def sign(private: str, data: bytes) -> str:
    """The signature of a package. Raises ValueError for what is no private half."""
    key = Ed25519PrivateKey.from_private_bytes(_bytes(private))
    return base64.b64encode(key.sign(_message(hashlib.sha256(data).hexdigest()))).decode()


def fits(public: str, digest: str, signature: str) -> bool:
    """Whether a package of this SHA-256 was signed by the key that a public half belongs to."""
    try:
        Ed25519PublicKey.from_public_bytes(_bytes(public)).verify(_bytes(signature), _message(digest))
    except (InvalidSignature, ValueError):
        return False
    return True


def is_public(text: str) -> bool:
    """Whether a text is the public half of a key."""
    try:
        Ed25519PublicKey.from_public_bytes(_bytes(text))
    except ValueError:
        return False
    return True


def shown(public: str) -> str:
    """What people compare: the beginning of the SHA-256 of a public half, in groups."""
    digest = hashlib.sha256(_bytes(public)).hexdigest()[:16]
    return " ".join(digest[at : at + 4] for at in range(0, 16, 4))


def _bytes(text: str) -> bytes:
    try:
        return base64.b64decode(text, validate=True)
    except (binascii.Error, ValueError) as error:
        raise ValueError("no base64") from error
