"""Measures ten thousand ideas on an installation of its own: lists, words, likeness, the map, a preview."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tallyman.config import read_clock
from tallyman.core.access.permissions import PERMISSIONS
from tallyman.core.ideas.factors import STANDARD, as_content
from tallyman.launcher.bench_engine import median_ms
from tallyman.launcher.bench_installation import Installation
from tallyman.services.context import Actor, Ctx
from tallyman.services.ideas import exports, factors, page, review
from tallyman.services.search import everything
from tallyman.store.db import Tx

TIMES = 9
TITLE = "Meter reedings into job book"
WHAT = "The readings are typed over into the job book at the end of each day."


def measure(port: int = 9520) -> dict[str, dict[str, float]]:
    """The medians by what was asked, at the server, without the way over the network."""
    one = Installation(port)
    try:
        one.owner.transact(lambda tx: _load(tx, one.actor))
        actor = Actor(one.actor.person_id, "bench", permissions=frozenset(PERMISSIONS))
        ctx = Ctx(one.db, read_clock(), actor)
        rows = {name: median_ms(ask, TIMES) for name, ask in _asked(ctx).items()}
        export = {"XLSX of all": median_ms(lambda: exports.as_xlsx(ctx, page.Wanted()), 1)}
        return {"10,000 ideas, median ms": rows, "10,000 ideas taken out, ms": export}
    finally:
        one.end()


def _load(tx: Tx, actor: Actor) -> None:
    tx.write("demo.many_ideas", person=actor.person_id, now=read_clock())
    tx.write("demo.many_texts")
    tx.write("demo.many_answers")


def _asked(ctx: Ctx) -> dict[str, Callable[[], Any]]:
    def listed(sort: str = "reach", **wanted: Any) -> Callable[[], Any]:
        return lambda: page.page_of_ideas(ctx, page.Wanted(**wanted), sort=sort)

    far = page.page_of_ideas(ctx, page.Wanted(), sort="newest", limit=200).next
    content = as_content(STANDARD)
    content["readiness"]["screen"] = "0.7"
    return {
        "list by hours in reach": listed(),
        "list, one stage, overdue, by due day": listed("due", stage="noted", late=True),
        "list, worth and source": listed("worth", worth_from=10_000, source="spreadsheet"),
        "list, a later page": lambda: page.page_of_ideas(ctx, page.Wanted(), sort="newest", after=far),
        "words that many have": listed(text="meter readings"),
        "words in one": listed(text="number 7321"),
        "words in remarks": listed(text="lantern keeper", sort="newest"),
        "what is alike while typing": lambda: review.similar(ctx, TITLE, WHAT, 0),
        "found: a number": lambda: everything.find(ctx, "I-7321"),
        "found: words that many have": lambda: everything.find(ctx, "meter readings"),
        "found: words in one": lambda: everything.find(ctx, "number 7321"),
        "found: misspelt": lambda: everything.find(ctx, "metre reedings"),
        "found: nothing": lambda: everything.find(ctx, "zeppelin hangars"),
        "map by stage": lambda: exports.stage_map(ctx),
        "preview of other factors": lambda: factors.preview(ctx, content),
    }
