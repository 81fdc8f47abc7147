"""The sheets of sizing and case: facts kept, agreement, backing, taking up."""

from __future__ import annotations

from tallyman.api.cases.models import Back, FactsIn, SettleSizing
from tallyman.api.common import Done, Number, SignedIn
from tallyman.api.routing import Routes
from tallyman.services.cases import business_case, fact_keeping, promises, ranges, sizing
from tallyman.services.cases.answers import CaseOut, Sizing

router = Routes(tags=["ideas"])


@router.get("/ideas/{number}/sizing")
def sizing_sheet(number: Number, ctx: SignedIn) -> Sizing:
    """The sizing sheet."""
    return ranges.view(ctx, number)


@router.put("/ideas/{number}/facts")
def keep_facts(number: Number, given: FactsIn, ctx: SignedIn) -> Done:
    """Keeps facts of sizing and case."""
    fact_keeping.keep(ctx, number, given.values, given.versions, given.source)
    return Done()


@router.post("/ideas/{number}/sizing/offer")
def offer_sizing(number: Number, ctx: SignedIn) -> Done:
    """Asks for agreement to the sizing."""
    sizing.offer(ctx, number)
    return Done()


@router.post("/ideas/{number}/sizing/settle")
def settle_sizing(number: Number, given: SettleSizing, ctx: SignedIn) -> Done:
    """Agrees to the sizing or sends it back."""
    points = [(one.field, one.words) for one in given.points]
    sizing.settle(ctx, number, given.agreed, given.note, points)
    return Done()


@router.get("/ideas/{number}/case")
def case_sheet(number: Number, ctx: SignedIn) -> CaseOut:
    """The case sheet."""
    return business_case.view(ctx, number)


@router.post("/ideas/{number}/back")
def back(number: Number, given: Back, ctx: SignedIn) -> Done:
    """Backs an idea: freezes the promise."""
    promises.back(ctx, number, given.words, given.todays_rows, given.worth)
    return Done()


@router.post("/ideas/{number}/take-up")
def take_up(number: Number, ctx: SignedIn) -> Done:
    """A builder takes a backed idea up."""
    business_case.take_up(ctx, number)
    return Done()
