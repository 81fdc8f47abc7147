"""The audit trail's chain: digests of entries, roots of batches, seals that each name the one before.

The content of an entry (who, words, before, after) enters the chain only by its salted digest, so that
personal data can be erased together with the salt and the chain still holds.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Sequence

START = "0" * 64
_PART = "\x1f"


def _digest(parts: Iterable[str]) -> str:
    return hashlib.sha256(_PART.join(parts).encode()).hexdigest()


def content_digest(
    salt: str, who: str, address: str, words: str, before: str | None, after: str | None
) -> str:
    """The digest of an entry's content, which may be erased later."""
    return _digest([salt, who, address, words, before or "", after or ""])


def entry_digest(number: int, at: str, person: int | None, action: str, obj: str, content: str) -> str:
    """The digest of an entry; `at` as ISO text in UTC, `content` its content's digest."""
    return _digest([str(number), at, str(person or ""), action, obj, content])


def root(entries: Sequence[str]) -> str:
    """The digest over the digests of a batch, in the order of their numbers."""
    return _digest(entries)


def seal(previous: str, first: int, last: int, count: int, batch_root: str, at: str) -> str:
    """The seal of a batch, which names the seal before it."""
    return _digest([previous, str(first), str(last), str(count), batch_root, at])


def ranges(numbers: Sequence[int]) -> list[list[int]]:
    """Rising numbers as [first, last] ranges: [1, 2, 3, 7] is [[1, 3], [7, 7]]."""
    found: list[list[int]] = []
    for number in numbers:
        if found and number == found[-1][1] + 1:
            found[-1][1] = number
        else:
            found.append([number, number])
    return found


def numbers_in(found: Sequence[Sequence[int]]) -> list[int]:
    """The numbers that ranges stand for."""
    return [number for first, last in found for number in range(first, last + 1)]
