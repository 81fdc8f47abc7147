"""Routines and their triggers."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from fastapi import APIRouter, File, Query, Response, UploadFile
from pydantic import Field

from tallyman.api.common import (
    MOST,
    Done,
    In,
    Made,
    Model,
    NeedOut,
    Number,
    SignedIn,
    StartKey,
    VersionSeen,
)
from tallyman.api.robots.machines import Area
from tallyman.api.workshop.packages import Version
from tallyman.formats.uploads import LARGEST
from tallyman.services import inputs, runs
from tallyman.services.starts import routine_page, triggers
from tallyman.services.workshop import routines

router = APIRouter(tags=["routines"])
OnClosed = Literal["run", "skip", "next", "previous"]


class RoutineRow(Model):
    """A routine in the list."""

    id: int
    name: str
    on_trial: bool
    area: str
    package: str
    release_version: str
    idea_id: int | None
    idea: str | None
    last_run: int | None
    last_state: str | None
    last_at: datetime | None
    next_at: datetime | None


class Window(In):
    """Wall times within which starts are allowed: from ≤ t < to."""

    start: Annotated[str, Field(max_length=10, alias="from", examples=["08:00"])]
    end: Annotated[str, Field(max_length=10, alias="to", examples=["18:00"])]


class WindowOut(Model):
    """Wall times within which starts are allowed."""

    start: Annotated[str, Field(alias="from")]
    end: Annotated[str, Field(alias="to")]


class Trigger(Model):
    """A start on the clock: its sentence and next times."""

    id: int
    form: dict[str, Any]
    zone: str
    on_closed: str
    window: WindowOut | None
    missed: str
    missed_hours: int
    latest_minutes: int | None
    sentence: str
    times: list[datetime]
    notes: list[str]
    version: int


class IdeaName(Model):
    """An idea by title."""

    id: int
    title: str


class RoutineMay(Model):
    """What the signed-in person may do with the routine."""

    change: bool
    start: bool


class Routine(Model):
    """A routine with what it needs to start and to go live."""

    id: int
    name: str
    area: str
    area_id: int
    release_id: int
    package: str
    release_version: str
    input_schema: Annotated[dict[str, Any], Field(validation_alias="schema")]
    release_tags: list[str]
    inputs: dict[str, Any]
    tags: list[str]
    priority: int
    run_limit: int
    lease_minutes: int
    limit_minutes: int
    again_after_lost: bool
    most_attempts: int
    memory_mb: int
    locks: list[str]
    checkpoints: bool
    on_trial: bool
    live_at: datetime | None
    idea_id: int | None
    idea: str | None
    basis: str | None
    count_name: str | None
    version: int
    pre_check: list[NeedOut]
    live_needs: list[NeedOut]
    triggers: list[Trigger]
    ideas: list[IdeaName]
    versions: list[Version]
    may: RoutineMay


class Choices(Model):
    """What a new routine can be made of."""

    areas: list[Area]
    ideas: list[IdeaName]
    locks: list[str]


class RoutineIn(In):
    """A routine as somebody sets it up."""

    name: Annotated[str, Field(max_length=400)]
    area_id: Number
    release_id: Number
    inputs: dict[str, Any] = {}
    tags: Annotated[list[str], Field(max_length=30)] = []
    priority: Annotated[int, Field(ge=-1000, le=1000)] = 3
    run_limit: Annotated[int, Field(ge=-1000, le=1000)] = 1
    lease_minutes: Annotated[int, Field(ge=-100000, le=100000)] = 15
    limit_minutes: Annotated[int, Field(ge=-100000, le=100000)] = 60
    again_after_lost: bool = False
    most_attempts: Annotated[int, Field(ge=-1000, le=1000)] = 3
    memory_mb: Annotated[int, Field(ge=-1000, le=1000000)] = 1024
    locks: Annotated[list[str], Field(max_length=30)] = []
    idea_id: Number | None = None
    basis: Literal["run", "count"] = "run"
    count_name: Annotated[str, Field(max_length=40)] = ""


class FormIn(In):
    """When something starts: a code, an interval, or once; one of the three."""

    expr: Annotated[str, Field(max_length=400, examples=["30 7 * * 1-5"])] | None = None
    dialect: Annotated[str, Field(max_length=20)] | None = None
    years: Annotated[str, Field(max_length=100)] | None = None
    weeks: Annotated[int, Field(ge=0, le=1000)] | None = None
    weeks_from: Annotated[str, Field(max_length=20)] | None = None
    every_minutes: Annotated[int, Field(ge=0, le=MOST)] | None = None
    anchor: Annotated[str, Field(max_length=40)] | None = None
    once: Annotated[str, Field(max_length=40)] | None = None


class TriggerIn(In):
    """A start on the clock: its form, zone, closed days, window, and what becomes of missed starts."""

    form: FormIn
    zone: Annotated[str, Field(max_length=60, examples=["Europe/Lisbon"])]
    on_closed: OnClosed = "run"
    window: Window | None = None
    missed: Annotated[str, Field(max_length=10)] = "once"
    missed_hours: Annotated[int, Field(ge=-1, le=MOST)] = 24
    latest_minutes: Annotated[int, Field(ge=-1, le=MOST)] | None = None

    def given(self) -> triggers.Given:
        """As the services take it."""
        return triggers.Given(
            {name: value for name, value in self.form.model_dump().items() if value not in (None, "")},
            self.zone,
            self.on_closed,
            self.window.model_dump(by_alias=True) if self.window else None,
            self.missed,
            self.missed_hours,
            self.latest_minutes,
        )


class Preview(Model):
    """The sentence of a form, its next five times, and the form as it will be kept."""

    sentence: str
    times: list[datetime]
    kept: dict[str, Any]
    notes: list[str]


class TriggerStart(Model):
    """What became of one nominal time."""

    id: int
    nominal_at: datetime
    at: datetime
    what: str
    why: str
    run_id: int | None
    run_state: str | None
    run_outcome: str | None


class TriggerHistory(Model):
    """What a trigger started, merged, skipped or missed, the latest first."""

    rows: list[TriggerStart]
    next: int | None


class InputFile(Model):
    """A file given as an input; `value` goes into the routine's inputs."""

    value: str
    name: str
    size: int


def _given(given: RoutineIn) -> routines.Given:
    return routines.Given(**{**given.model_dump(), "locks": tuple(given.locks)})


@router.get("/routines")
def listed(ctx: SignedIn) -> list[RoutineRow]:
    """All routines in use."""
    return [RoutineRow.model_validate(row) for row in routines.listed(ctx)]


@router.get("/routines/choices")
def choices(ctx: SignedIn) -> Choices:
    """What a new routine can be made of."""
    return Choices.model_validate(routines.choices(ctx))


@router.post("/routines", status_code=201)
def add(given: RoutineIn, ctx: SignedIn) -> Made:
    """Sets up a release as a routine."""
    return Made(id=routines.add(ctx, _given(given)))


@router.post("/routines/input-files", status_code=201)
def input_file(ctx: SignedIn, file: Annotated[UploadFile, File()]) -> InputFile:
    """Keeps a file that a routine is to be given."""
    found = inputs.keep(ctx, file.filename or "file", file.file.read(LARGEST + 1))
    return InputFile.model_validate(found)


@router.get("/routines/{number}")
def one(number: Number, ctx: SignedIn, response: Response) -> Routine:
    """One routine."""
    found = Routine.model_validate(routine_page.one(ctx, number))
    response.headers["ETag"] = f'"{found.version}"'
    return found


@router.put("/routines/{number}")
def change(number: Number, given: RoutineIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """Changes a routine."""
    routines.change(ctx, number, _given(given), version)
    return Done()


@router.post("/routines/{number}/start", status_code=201)
def start(number: Number, ctx: SignedIn, key: StartKey) -> Made:
    """Starts a routine now; gives the run."""
    return Made(id=runs.start(ctx, number, key))


@router.post("/routines/{number}/go-live")
def go_live(number: Number, ctx: SignedIn) -> Done:
    """From now on its runs count."""
    routines.go_live(ctx, number)
    return Done()


@router.post("/clock/preview")
def preview(given: TriggerIn, ctx: SignedIn, routine: Number | None = None) -> Preview:
    """Reads a form before it is kept; for a routine by the closed days of its area."""
    return Preview.model_validate(triggers.preview(ctx, given.given(), routine))


@router.post("/routines/{number}/triggers", status_code=201)
def add_trigger(number: Number, given: TriggerIn, ctx: SignedIn) -> Made:
    """Starts a routine on the clock."""
    return Made(id=triggers.add(ctx, number, given.given()))


@router.put("/routines/{number}/triggers/{trigger}")
def change_trigger(
    number: Number, trigger: Number, given: TriggerIn, version: VersionSeen, ctx: SignedIn
) -> Done:
    """Changes a trigger; nominal times it has handled are never started again."""
    triggers.change(ctx, number, trigger, given.given(), version)
    return Done()


@router.delete("/routines/{number}/triggers/{trigger}")
def end_trigger(number: Number, trigger: Number, ctx: SignedIn) -> Done:
    """Ends a trigger."""
    triggers.retire(ctx, number, trigger)
    return Done()


@router.get("/routines/{number}/triggers/{trigger}/history")
def trigger_history(
    number: Number,
    trigger: Number,
    ctx: SignedIn,
    before: Annotated[int | None, Query(ge=1, le=MOST)] = None,
) -> TriggerHistory:
    """What a trigger started, merged, skipped or missed, and why."""
    return TriggerHistory.model_validate(triggers.history(ctx, number, trigger, before))


@router.get("/routines/{number}/starts.ics", response_class=Response)
def as_calendar(number: Number, ctx: SignedIn) -> Response:
    """The coming starts of a routine as an iCalendar file."""
    heads = {"Content-Disposition": f'attachment; filename="routine-{number}.ics"'}
    return Response(triggers.as_calendar(ctx, number), media_type="text/calendar", headers=heads)
