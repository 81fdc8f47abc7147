"""One thing of the house with what it stands on, what hangs on it, and what would stop if it went."""

from __future__ import annotations

from functools import cache, partial

from tallyman.core.uses import Hanging, Kind, Link, Thing, walk
from tallyman.errors import NotFound
from tallyman.services import robots
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.uses.answers import UsedBy, UsedThing, Uses, UsesLine
from tallyman.services.uses.links import Links
from tallyman.services.uses.naming_things import named
from tallyman.services.uses.standing import stands_on
from tallyman.services.uses.stops import Looked, stops
from tallyman.store.db import Tx

# So many things are looked for; what hangs on the last of them is looked for no more, and it is said.
MOST = 2000
MISSING = NotFound("There is nothing like that here.", "Load the page that led here again.")

Known = dict[Thing, UsedThing]


def _key_fits(kind: Kind, key: str) -> bool:
    number, _, name = key.partition(":")
    fits = number.isdecimal() and len(number) <= 15
    return fits and (bool(name) if kind == "account" else number == key)


def _hanging(found: list[Hanging], known: Known) -> list[UsedBy]:
    return [
        UsedBy(known[one.thing], one.how, one.depth, known.get(one.upper))
        for one in found
        if one.thing in known
    ]


def _lines(rows: list[UsedBy], root: UsedThing, links: list[Link], known: Known) -> list[UsesLine]:
    places = {(root.kind, root.key): 0} | {
        (one.thing.kind, one.thing.key): n + 1 for n, one in enumerate(rows)
    }
    seen = [link for link in links if link.upper in known and link.lower in known]
    return [
        UsesLine(places[(link.upper.kind, link.upper.key)], places[(link.lower.kind, link.lower.key)])
        for link in dict.fromkeys(seen)
    ]


@in_transaction
def of(tx: Tx, ctx: Ctx, kind: Kind, key: str) -> Uses:
    """What hangs on a thing, as far as the reader may see it. Raises NotFound for one that is not there, or
    that the reader may not see."""
    thing = Thing(kind, key)
    if not _key_fits(kind, key) or thing not in named(tx, ctx, [thing]):
        raise MISSING
    # Read once, and only where something asks for them.
    facts = cache(partial(robots.robot_facts, tx))
    found = walk(thing, Links(tx, thing, facts).below, MOST)
    above = stands_on(tx, thing)
    known = named(tx, ctx, [thing, *(one.thing for one in found.hanging), *(one.upper for one in above)])
    rows = _hanging(found.hanging, known)
    return Uses(
        thing=known[thing],
        stands_on=[UsedBy(known[one.upper], one.how, 1, None) for one in above if one.upper in known],
        hanging=rows,
        lines=_lines(rows, known[thing], found.links, known),
        unseen=len(found.hanging) - len(rows),
        cut=found.cut,
        stops=stops(tx, ctx, Looked(thing, found.hanging, facts)),
    )
