"""Areas: the tree, moves with a look before, closed days."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import Query
from pydantic import Field

from tallyman.api.common import MOST, Done, In, Number, SignedIn, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services.house import areas
from tallyman.services.house.answers import MoveOut, Tree

router = Routes(prefix="/areas", tags=["areas"])


class Name(In):
    """A name."""

    name: Annotated[str, Field(max_length=200)]


class Screens(In):
    """Whether pictures of screens are taken."""

    on: bool


class Move(In):
    """Below which area, or (none) at the top."""

    parent: Number | None = None


class DayIn(In):
    """A day on which an area, or (none) the company, does not work."""

    area: Number | None = None
    day: date
    name: Annotated[str, Field(max_length=200)]


@router.get("")
def tree(ctx: SignedIn) -> Tree:
    """The areas that one may see."""
    return areas.tree(ctx)


@router.put("/{number}/name")
def rename(number: Number, given: Name, version: VersionSeen, ctx: SignedIn) -> Done:
    """Another name for an area."""
    areas.rename(ctx, number, given.name, version)
    return Done()


@router.put("/{number}/screens")
def set_screens(number: Number, given: Screens, ctx: SignedIn) -> Done:
    """Whether a picture of the screen is taken when a run of an area, or of one below it, stalls."""
    areas.set_screens(ctx, number, given.on)
    return Done()


@router.put("/{number}/approving")
def set_approving(number: Number, given: Screens, ctx: SignedIn) -> Done:
    """Whether an area, and those below it, ask for a second person's yes to each release."""
    areas.set_approving(ctx, number, given.on)
    return Done()


@router.get("/{number}/move")
def before_move(
    number: Number, ctx: SignedIn, parent: Annotated[int | None, Query(ge=1, le=MOST)] = None
) -> MoveOut:
    """Who would gain and lose, before an area moves."""
    return areas.before_move(ctx, number, parent)


@router.post("/{number}/move")
def move(number: Number, given: Move, version: VersionSeen, ctx: SignedIn) -> MoveOut:
    """Moves an area with all below it."""
    return areas.move(ctx, number, given.parent, version)


@router.post("/closed-days")
def close_day(given: DayIn, ctx: SignedIn) -> Done:
    """A day on which an area or the company does not work."""
    areas.close_day(ctx, given.area, given.day, given.name)
    return Done()


@router.delete("/closed-days/{day}")
def open_day(day: date, ctx: SignedIn, area: Annotated[int | None, Query(ge=1, le=MOST)] = None) -> Done:
    """An area or the company works on this day again."""
    areas.open_day(ctx, area, day)
    return Done()
