"""A signature fits one package and one key, and nothing else."""

from __future__ import annotations

import hashlib

import pytest

from tallyman import signed

PRIVATE, PUBLIC = signed.make_key()
DATA = b"a package"
DIGEST = hashlib.sha256(DATA).hexdigest()


def test_what_was_signed_fits() -> None:
    assert signed.fits(PUBLIC, DIGEST, signed.sign(PRIVATE, DATA))
    assert signed.public_half(PRIVATE) == PUBLIC
    assert signed.is_public(PUBLIC)
    assert len(signed.shown(PUBLIC)) == 19


def test_what_was_changed_or_signed_by_another_does_not() -> None:
    signature = signed.sign(PRIVATE, DATA)
    other = signed.make_key()
    assert not signed.fits(PUBLIC, hashlib.sha256(b"another").hexdigest(), signature)
    assert not signed.fits(other[1], DIGEST, signature)
    assert not signed.fits(PUBLIC, DIGEST, signed.sign(other[0], DATA))


# Named by what they are: the key is another one each time, and so would their names be.
WRONG = {
    "nothing": "",
    "short": "x",
    "no ASCII": "é",
    "four": "AAAA",
    "cut": PUBLIC[:-4],
    "more": PUBLIC + "=",
}


@pytest.mark.parametrize("text", WRONG.values(), ids=WRONG.keys())
def test_what_is_no_key_or_signature_is_refused_and_raises_nothing_else(text: str) -> None:
    assert not signed.is_public(text)
    assert not signed.fits(text, DIGEST, signed.sign(PRIVATE, DATA))
    assert not signed.fits(PUBLIC, DIGEST, text)
    with pytest.raises(ValueError):
        signed.sign(text, DATA)
