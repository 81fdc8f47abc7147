"""Routines and their triggers."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from fastapi import APIRouter, File, Response, UploadFile
from pydantic import Field

from tallyman.api.common import (
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
from tallyman.api.packages import Version
from tallyman.api.robots import Area
from tallyman.formats.uploads import LARGEST
from tallyman.services import inputs, routines, runs

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


class Trigger(Model):
    """A start on the clock: its sentence and next times."""

    id: int
    expression: str
    zone: str
    on_closed: str
    sentence: str
    times: list[datetime]


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
    idea_id: Number | None = None
    basis: Literal["run", "count"] = "run"
    count_name: Annotated[str, Field(max_length=40)] = ""


class TriggerIn(In):
    """An expression with its zone and what happens on closed days."""

    expression: Annotated[str, Field(max_length=400, examples=["30 7 * * 1-5"])]
    zone: Annotated[str, Field(max_length=60, examples=["Europe/Lisbon"])]
    on_closed: OnClosed = "run"


class Preview(Model):
    """The sentence of an expression and its next five times."""

    sentence: str
    times: list[datetime]


class InputFile(Model):
    """A file given as an input; `value` goes into the routine's inputs."""

    value: str
    name: str
    size: int


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
    return Made(id=routines.add(ctx, routines.Given(**given.model_dump())))


@router.post("/routines/input-files", status_code=201)
def input_file(ctx: SignedIn, file: Annotated[UploadFile, File()]) -> InputFile:
    """Keeps a file that a routine is to be given."""
    found = inputs.keep(ctx, file.filename or "file", file.file.read(LARGEST + 1))
    return InputFile.model_validate(found)


@router.get("/routines/{number}")
def one(number: Number, ctx: SignedIn, response: Response) -> Routine:
    """One routine."""
    found = Routine.model_validate(routines.one(ctx, number))
    response.headers["ETag"] = f'"{found.version}"'
    return found


@router.put("/routines/{number}")
def change(number: Number, given: RoutineIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """Changes a routine."""
    routines.change(ctx, number, routines.Given(**given.model_dump()), version)
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
def preview(given: TriggerIn, ctx: SignedIn) -> Preview:
    """Reads an expression before it is kept."""
    found = routines.preview(ctx, given.expression, given.zone, given.on_closed)
    return Preview.model_validate(found)


@router.post("/routines/{number}/triggers", status_code=201)
def add_trigger(number: Number, given: TriggerIn, ctx: SignedIn) -> Made:
    """Starts a routine on the clock."""
    trigger = routines.add_trigger(ctx, number, given.expression, given.zone, given.on_closed)
    return Made(id=trigger)


@router.delete("/routines/{number}/triggers/{trigger}")
def end_trigger(number: Number, trigger: Number, ctx: SignedIn) -> Done:
    """Ends a trigger."""
    routines.retire_trigger(ctx, number, trigger)
    return Done()
