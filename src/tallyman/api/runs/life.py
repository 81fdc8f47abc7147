"""Runs: list, one run, its log; cancelling, pausing, continuing."""

from __future__ import annotations

from datetime import datetime
from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter, Query

from tallyman.api.common import MOST, Done, In, Model, NeedOut, Number, SignedIn
from tallyman.services import runs
from tallyman.services.runs import late

router = APIRouter(tags=["runs"])


class RunRow(Model):
    """A run in the list, with the reason for its state."""

    id: int
    routine_id: int
    routine: str
    area: str
    state: str
    outcome: str | None
    reason: str
    trial: bool
    started_words: str
    due_at: datetime
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    robot: str | None
    cancel_at: datetime | None
    again_of: int | None


class RunPage(Model):
    """A page of runs, the newest first."""

    rows: list[RunRow]
    next: str | None
    open: dict[str, int]
    now: datetime


class Step(Model):
    """A step that the package reported."""

    n: int
    name: str
    started_at: datetime
    ended_at: datetime | None
    fault: str | None
    data_in: Any = None
    data_out: Any = None


class RunEntry(Model):
    """What a run posted to the tally."""

    id: int
    idea_id: int | None
    line: str
    month: str
    units: Decimal
    hours: Decimal
    money: Decimal
    kind: str
    why: str


class Fix(Model):
    """What a person said a run is to be counted as."""

    units: Decimal
    handed_back: Decimal
    why: str
    at: datetime
    person: str


class Late(Model):
    """An outcome that came after a run was given up as lost, and waits for a person."""

    state: str
    reason: str
    outcome: str | None
    counts: dict[str, str]


class Unusual(Model):
    """A count far from the usual, which waits for somebody to say that it is right."""

    units: Decimal
    usual: Decimal
    noted_at: datetime


class RunMay(Model):
    """What the signed-in person may do with the run now."""

    cancel: bool
    pause: bool
    why_no_pause: str
    go_on: bool
    decide_late: bool
    say_right: bool
    correct: bool


class Segment(Model):
    """A stretch of a run on one robot, until it ended or was held."""

    n: int
    robot: str
    host: str
    started_at: datetime
    ended_at: datetime | None
    ended_as: str | None


class Run(Model):
    """One run: state, needs, segments, steps, inputs, outputs and entries."""

    id: int
    routine_id: int
    routine: str
    area: str
    package: str
    release_version: str
    state: str
    outcome: str | None
    reason: str
    trial: bool
    robot: str | None
    host: str | None
    fence: int
    started_words: str
    due_at: datetime
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    lease_until: datetime | None
    cancel_at: datetime | None
    canceller: str | None
    pause_at: datetime | None
    pauser: str | None
    held_at: datetime | None
    saved_at: datetime | None
    segment: int
    segments: list[Segment]
    inputs: dict[str, Any]
    outputs: dict[str, Any] | None
    counts: dict[str, str] | None
    again_of: int | None
    attempt: int
    late: Late | None
    unusual: Unusual | None
    late_at: datetime | None
    tried_again_as: int | None
    limit_minutes: int
    waits_for: str
    needs: list[NeedOut]
    steps: list[Step]
    entries: list[RunEntry]
    caution: str | None
    fix: Fix | None
    usual_seconds: int | None
    may: RunMay
    now: datetime


class LogLine(Model):
    """One line of a run's log."""

    n: int
    at: datetime
    level: str
    text: str


class Log(Model):
    """Lines after the number asked for, and how many there are."""

    lines: list[LogLine]
    total: int


class Cancelled(Model):
    """The state after asking to cancel."""

    state: str


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
    return RunPage.model_validate(found)


@router.get("/runs/{number}")
def one(number: Number, ctx: SignedIn) -> Run:
    """One run."""
    return Run.model_validate(runs.one(ctx, number))


@router.get("/runs/{number}/log")
def log(number: Number, ctx: SignedIn, after: Annotated[int, Query(ge=0, le=MOST)] = 0) -> Log:
    """Log lines after a number."""
    return Log.model_validate(runs.log(ctx, number, after))


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
