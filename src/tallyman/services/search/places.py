"""The sections and house rules that a person may open."""

from __future__ import annotations

from tallyman.core.search import RULES, SECTIONS, Place, open_to
from tallyman.services.context import Ctx
from tallyman.services.search.answers import PlaceOut, Places


def _out(places: tuple[Place, ...], ctx: Ctx) -> list[PlaceOut]:
    return [
        PlaceOut(one.name, one.short or one.name, one.words, one.link)
        for one in open_to(places, ctx.actor.may)
    ]


def mine(ctx: Ctx) -> Places:
    """What the band and the house rules show to the actor."""
    return Places(sections=_out(SECTIONS, ctx), rules=_out(RULES, ctx))
