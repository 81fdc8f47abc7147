"""The words of all titles, kept by each process for as long as no title changed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from tallyman.core.search import index_of
from tallyman.store.db import Tx
from tallyman.store.records.search import FoundNewestTitles, FoundTitlesDigest


@dataclass(frozen=True)
class _Kept:
    digest: tuple[int, int]
    having: Mapping[str, set[int]]


# Replaced as a whole, so that whoever reads it meanwhile reads one or the other.
_kept = _Kept((0, 0), {})


def words_of_titles(tx: Tx) -> Mapping[str, set[int]]:
    """Every word of the newest 20,000 titles, with the numbers of their ideas."""
    global _kept
    now = tx.one(FoundTitlesDigest, "found.titles_digest")
    assert now is not None
    digest = (now.ideas, now.digest)
    if _kept.digest != digest:
        rows = tx.all(FoundNewestTitles, "found.newest_titles")
        _kept = _Kept(digest, index_of((row.id, row.title) for row in rows))
    return _kept.having
