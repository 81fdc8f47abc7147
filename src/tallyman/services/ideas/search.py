"""Finding ideas: all that is written about one, kept in one place, and how words are looked for."""

from __future__ import annotations

import re

from tallyman.services.context import Ctx
from tallyman.services.upkeep import Work, each
from tallyman.store import lists
from tallyman.store.db import Tx
from tallyman.store.records.ideas import SearchAnswers, SearchFiles, SearchHeads

TEXTS = Work("texts", "gathering an idea's words for finding")

LONGEST_FILE = 100_000
MOST_WORDS = 12
SHORTEST = 3
# Words that the index leaves out, so that asking for them would find nothing.
LEFT_OUT = frozenset(
    {"about", "are", "com", "for", "from", "how", "that", "the", "this", "was", "what", "when", "where"}
    | {"who", "will", "with", "und", "www"}
)
NUMBER = re.compile(r"(?i)\s*(?:i-)?(\d{1,10})\s*")


def keep_text(tx: Tx, idea_id: int) -> None:
    """Gathers everything that is written about an idea, from its title to the text in its files."""
    head = tx.one(SearchHeads, "search.heads", idea=idea_id)
    if head is None:
        return
    parts = [head.title, head.what, head.measure, head.division or ""]
    for row in tx.all(SearchAnswers, "search.answers", idea=idea_id):
        parts += [*_words_in(row.value), row.remark or ""]
    parts += tx.values(str, "search.talk", idea=idea_id)
    for file in tx.all(SearchFiles, "search.files", idea=idea_id):
        parts += [file.name, file.title, file.remark or "", (file.text or "")[:LONGEST_FILE]]
    tx.write("search.keep", idea=idea_id, text="\n".join(part for part in parts if part))


def _words_in(value: object) -> list[str]:
    return [value] if isinstance(value, str) else []


def gather_missing(ctx: Ctx) -> int:
    """Gathers the text of ideas that came in before there was a place for it; gives how many."""
    rows = ctx.db.transact(lambda tx: tx.values(int, "search.without", now=ctx.now))
    return each(ctx, TEXTS, rows, _gather, "idea")


def _gather(tx: Tx, idea_id: int) -> int:
    keep_text(tx, idea_id)
    return 1


def looked_for(text: str) -> dict[str, object]:
    """Words as the list of ideas looks for them: anywhere in what is written, or an idea's number."""
    number = NUMBER.fullmatch(text)
    words = [word for word in re.findall(r"[^\W_]+", text.lower()) if len(word) >= SHORTEST]
    kept = [word for word in words if word not in LEFT_OUT][:MOST_WORDS]
    return {
        "text": lists.like(" ".join(text.split())),
        "text_words": " ".join(f"+{word}*" for word in kept),
        "text_number": int(number.group(1)) if number else 0,
    }
