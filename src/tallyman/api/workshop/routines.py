"""Routines: set up, changed, started, going live."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from fastapi import APIRouter, File, UploadFile
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
from tallyman.api.robots import Area
from tallyman.api.workshop.packages import Version
from tallyman.formats.uploads import LARGEST
from tallyman.services import runs
from tallyman.services.workshop import inputs, routines

router = APIRouter(tags=["routines"])


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


class IdeaName(Model):
    """An idea by title."""

    id: int
    title: str


class RoutineMay(Model):
    """What the signed-in person may do with the routine."""

    change: bool
    start: bool


class RoutineParts(Model):
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
