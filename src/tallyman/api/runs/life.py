"""Runs: list, one run, its log; cancelling, pausing, continuing."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Response

from tallyman.api.common import MOST, Done, In, Made, NothingIn, Number, SignedIn, StartKey, to_keep
from tallyman.api.routing import Routes
from tallyman.services import runs
from tallyman.services.runs import handed, late, screens
from tallyman.services.runs.answers import (
    Cancelled,
    Log,
    RunPage,
    RunWhole,
)

router = Routes(tags=["runs"])


@router.get("/runs")
def listed(
    ctx: SignedIn,
    state: Annotated[str | None, Query(max_length=20)] = None,
    routine: Annotated[int | None, Query(ge=1, le=MOST)] = None,
    robot: Annotated[int | None, Query(ge=1, le=MOST)] = None,
    after: Annotated[str | None, Query(max_length=200)] = None,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> RunPage:
    """Runs; `state` also takes `open` and `ended badly`."""
    found = runs.page_of_runs(ctx, state=state, routine=routine, robot=robot, after=after, limit=limit)
    return found


@router.get("/runs/{number}")
def one(number: Number, ctx: SignedIn) -> RunWhole:
    """One run."""
    return runs.one(ctx, number)


@router.get("/runs/{number}/log")
def log(number: Number, ctx: SignedIn, after: Annotated[int, Query(ge=0, le=MOST)] = 0) -> Log:
    """Log lines after a number."""
    return runs.log(ctx, number, after)


@router.get("/runs/{number}/screen", response_class=Response)
def screen(number: Number, ctx: SignedIn) -> Response:
    """What a run's screen showed when it stalled, for whoever may read its log."""
    return Response(screens.picture(ctx, number), media_type="image/png")


@router.get("/runs/{number}/files/{file}", response_class=Response)
def handed_file(number: Number, file: Number, ctx: SignedIn) -> Response:
    """A file that a run handed over, to be kept: nothing of it is shown as a page of ours."""
    return to_keep(*handed.file(ctx, number, file))


@router.post("/runs/{number}/again", status_code=201)
def start_again(number: Number, ctx: SignedIn, key: StartKey, given: NothingIn | None = None) -> Made:
    """Starts a run that ended once more; gives the new one."""
    return Made(id=runs.start_again(ctx, number, key))


@router.post("/runs/{number}/cancel")
def cancel(number: Number, ctx: SignedIn) -> Cancelled:
    """Cancels a waiting run, asks the runner to end a running one."""
    return Cancelled(state=runs.cancel(ctx, number))


class LateIn(In):
    """Whether a late outcome counts."""

    counts: bool


@router.post("/runs/{number}/late")
def decide_late(number: Number, given: LateIn, ctx: SignedIn) -> Cancelled:
    """Says whether the late outcome of a lost run counts."""
    return Cancelled(state=late.decide(ctx, number, given.counts))


@router.post("/runs/{number}/pause")
def pause(number: Number, ctx: SignedIn) -> Done:
    """Asks a running run to save its state and stop."""
    runs.pause(ctx, number)
    return Done()


@router.post("/runs/{number}/continue")
def go_on(number: Number, ctx: SignedIn) -> Done:
    """A held run waits for its next segment."""
    runs.go_on(ctx, number)
    return Done()
