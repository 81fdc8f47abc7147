"""Seats of every kind: bought, given, used."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated

from pydantic import Field

from tallyman.api.common import Done, In, Made, Number, SignedIn, VersionSeen
from tallyman.api.routing import Routes
from tallyman.core.runs import SeatKind
from tallyman.services.robots import seat_lots, seats_page
from tallyman.services.robots.answers_of_seats import SeatsPage
from tallyman.services.robots.seat_lots import Whom

router = Routes(tags=["robots"])


class LotIn(In):
    """Seats that were bought together, from a day to another, both included."""

    kind: SeatKind
    number: Annotated[int, Field(ge=-100_000, le=100_000)]
    first_on: date
    last_on: date | None = None
    price: Annotated[Decimal, Field(max_digits=19, decimal_places=6)] | None = None
    note: Annotated[str, Field(max_length=1000)] = ""

    def given(self) -> seat_lots.Given:
        """The same as the use case takes it."""
        return seat_lots.Given(self.kind, self.number, self.first_on, self.last_on, self.price, self.note)


class SeatsGivenIn(In):
    """How many seats of a kind a person has, or a group shares; 0 takes them away."""

    kind: SeatKind
    whom: Whom
    holder_id: Number
    number: Annotated[int, Field(ge=-100_000, le=100_000)]


@router.get("/seats")
def view(ctx: SignedIn) -> SeatsPage:
    """The seats of every kind."""
    return seats_page.view(ctx)


@router.post("/seats/lots", status_code=201)
def buy(given: LotIn, ctx: SignedIn) -> Made:
    """Enters seats that were bought."""
    return Made(id=seat_lots.buy(ctx, given.given()))


@router.put("/seats/lots/{number}")
def change_lot(number: Number, given: LotIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """Changes a lot, such as its last day."""
    seat_lots.change_lot(ctx, number, given.given(), version)
    return Done()


@router.delete("/seats/lots/{number}")
def take_back(number: Number, version: VersionSeen, ctx: SignedIn) -> Done:
    """Takes back a lot that was entered by mistake."""
    seat_lots.take_back(ctx, number, version)
    return Done()


@router.put("/seats/given")
def give(given: SeatsGivenIn, ctx: SignedIn) -> Done:
    """Gives seats to a person or a group."""
    seat_lots.give(ctx, given.kind, given.whom, given.holder_id, given.number)
    return Done()
