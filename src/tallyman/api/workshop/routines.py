"""Routines: set up, changed, started, going live."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import File, UploadFile
from pydantic import Field

from tallyman.api.common import Done, In, Made, NothingIn, Number, SignedIn, StartKey, Text, VersionSeen
from tallyman.api.routing import Routes
from tallyman.core.runs import Asked, Attended
from tallyman.formats.uploads import LARGEST
from tallyman.services import runs
from tallyman.services.workshop import inputs, routines, taking
from tallyman.services.workshop.answers import Choices, InputFile, RetiredRoutine, RoutineRow, Takers

router = Routes(tags=["routines"])


class AskedIn(In):
    """What a routine asks of a host beside tags; nothing where a field is empty or 0."""

    system: Annotated[str, Field(max_length=200)] = ""
    processors: Annotated[int, Field(ge=-1000, le=1000000)] = 0
    memory_gb: Annotated[int, Field(ge=-1000, le=1000000)] = 0
    disk_gb: Annotated[int, Field(ge=-1000, le=100000000)] = 0
    screen: bool = False
    applications: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=100)] = []

    def wanted(self) -> Asked:
        """The same as the rules want it."""
        return Asked(
            self.system.strip(),
            self.processors,
            self.memory_gb,
            self.disk_gb,
            self.screen,
            tuple(self.applications),
        )


class ChosenIn(In):
    """A routine's set-up as far as it is chosen; `routine_id` is the one that is being changed."""

    area_id: Number
    release_id: Number
    tags: Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=100)] = []
    asked: AskedIn = AskedIn()
    inputs: dict[str, object] = {}
    locks: Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=30)] = []
    run_limit: Annotated[int, Field(ge=-1000, le=1000)] = 1
    attended: Attended = ""
    routine_id: Number | None = None


class RoutineIn(In):
    """A routine as somebody sets it up."""

    name: Annotated[str, Field(max_length=400)]
    area_id: Number
    release_id: Number
    inputs: dict[str, object] = {}
    tags: Annotated[list[str], Field(max_length=30)] = []
    priority: Annotated[int, Field(ge=-1000, le=1000)] = 3
    run_limit: Annotated[int, Field(ge=-1000, le=1000)] = 1
    lease_minutes: Annotated[int, Field(ge=-100000, le=100000)] = 15
    limit_minutes: Annotated[int, Field(ge=-100000, le=100000)] = 60
    again_after_lost: bool = False
    most_attempts: Annotated[int, Field(ge=-1000, le=1000)] = 3
    memory_mb: Annotated[int, Field(ge=-1000, le=1000000)] = 1024
    asked: AskedIn = AskedIn()
    # Whether it works on a person's own computer, and whose; without one, of whoever starts it.
    attended: Attended = ""
    attended_for: Number | None = None
    locks: Annotated[list[str], Field(max_length=30)] = []
    idea_id: Number | None = None
    basis: Literal["run", "count"] = "run"
    count_name: Annotated[str, Field(max_length=40)] = ""
    # Of one in service that takes another release: tried first, or at once for a reason.
    trial_again: bool = False
    release_why: Text = ""


def _given(given: RoutineIn) -> routines.Given:
    apart = {"locks": tuple(given.locks), "asked": given.asked.wanted()}
    return routines.Given(**{**given.model_dump(), **apart})


@router.get("/routines")
def listed(ctx: SignedIn) -> list[RoutineRow]:
    """All routines in use."""
    return routines.listed(ctx)


@router.get("/routines/retired")
def retired(ctx: SignedIn) -> list[RetiredRoutine]:
    """The last routines that went out of use."""
    return routines.retired(ctx)


@router.get("/routines/choices")
def choices(ctx: SignedIn) -> Choices:
    """What a new routine can be made of."""
    return routines.choices(ctx)


@router.post("/routines/takers")
def takers(given: ChosenIn, ctx: SignedIn) -> Takers:
    """How many robots could take such a routine, and what its start would need; nothing is kept."""
    apart = {"locks": tuple(given.locks), "asked": given.asked.wanted()}
    return taking.of(ctx, taking.Chosen(**{**given.model_dump(), **apart}))


@router.post("/routines", status_code=201)
def add(given: RoutineIn, ctx: SignedIn) -> Made:
    """Sets up a release as a routine."""
    return Made(id=routines.add(ctx, _given(given)))


@router.post("/routines/input-files", status_code=201)
def input_file(ctx: SignedIn, file: Annotated[UploadFile, File()]) -> InputFile:
    """Keeps a file that a routine is to be given."""
    found = inputs.keep(ctx, file.filename or "file", file.file.read(LARGEST + 1))
    return found


@router.put("/routines/{number}")
def change(number: Number, given: RoutineIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """Changes a routine."""
    routines.change(ctx, number, _given(given), version)
    return Done()


@router.post("/routines/{number}/start", status_code=201)
def start(number: Number, ctx: SignedIn, key: StartKey, given: NothingIn | None = None) -> Made:
    """Starts a routine now, with the inputs that it is set up with; gives the run. A body with anything in it
    is refused: this start takes no inputs."""
    return Made(id=runs.start(ctx, number, key))


@router.post("/routines/{number}/go-live")
def go_live(number: Number, ctx: SignedIn) -> Done:
    """From now on its runs count."""
    routines.go_live(ctx, number)
    return Done()
