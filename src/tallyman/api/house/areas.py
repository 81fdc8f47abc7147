"""Areas: the tree, moves with a look before, closed days."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import Field

from tallyman.api.common import MOST, Done, In, Model, Number, SignedIn, VersionSeen
from tallyman.services.house import areas

router = APIRouter(prefix="/areas", tags=["areas"])


class DayOut(Model):
    """A closed day."""

    day: date
    name: str


class AreaOut(Model):
    """An area with the one above and what lives in it."""

    id: int
    name: str
    parent_id: int | None
    version: int
    routines: int
    robots: int
    held: int
    days: list[DayOut]
    may_change: bool


class Tree(Model):
    """The areas one may see, and the company's closed days."""

    areas: list[AreaOut]
    closed_days: list[DayOut]
    may_make: bool
    may_close: bool


class Name(In):
    """A name."""

    name: Annotated[str, Field(max_length=200)]


class Move(In):
    """Below which area, or (none) at the top."""

    parent: Number | None = None


class Change(Model):
    """Somebody who gains or loses, by which role, and what."""

    person: str
    by: str
    what: list[str]


class MoveOut(Model):
    """Who and which robots gain and lose what."""

    area: str
    gain: list[Change]
    lose: list[Change]
    robots: list[str]
    robots_lost: list[str]
    version: int | None = None


class DayIn(In):
    """A day on which an area, or (none) the company, does not work."""

    area: Number | None = None
    day: date
    name: Annotated[str, Field(max_length=200)]


@router.get("")
def tree(ctx: SignedIn) -> Tree:
    """The areas that one may see."""
    return Tree.model_validate(areas.tree(ctx))


@router.put("/{number}/name")
def rename(number: Number, given: Name, version: VersionSeen, ctx: SignedIn) -> Done:
    """Another name for an area."""
    areas.rename(ctx, number, given.name, version)
    return Done()


@router.get("/{number}/move")
def before_move(
    number: Number, ctx: SignedIn, parent: Annotated[int | None, Query(ge=1, le=MOST)] = None
) -> MoveOut:
    """Who would gain and lose, before an area moves."""
    return MoveOut.model_validate(areas.before_move(ctx, number, parent))


@router.post("/{number}/move")
def move(number: Number, given: Move, version: VersionSeen, ctx: SignedIn) -> MoveOut:
    """Moves an area with all below it."""
    return MoveOut.model_validate(areas.move(ctx, number, given.parent, version))


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
