"""The inventory of systems."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Query, Response
from pydantic import Field

from tallyman.api.common import Done, In, Made, Number, SignedIn, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services.answers import Brought, ListLine
from tallyman.services.house import systems
from tallyman.services.house.answers import InventoryRow, SystemChoice, SystemOut

router = Routes(prefix="/systems", tags=["systems"])
Text = Annotated[str, Query(max_length=200)]
State = Annotated[Literal["new", "known", "retired"] | None, Query()]


class SystemIn(In):
    """A system as it is entered."""

    name: Annotated[str, Field(max_length=200)]
    access: Annotated[str, Field(max_length=40)]
    owner_id: Number | None = None
    test_system: Annotated[str, Field(max_length=20)] = "not known"
    note: Annotated[str, Field(max_length=1000)] = ""

    def given(self) -> systems.Given:
        """As the service takes it."""
        return systems.Given(self.name, self.access, self.owner_id, self.test_system, self.note)


class SystemsListIn(In):
    """A list as CSV text."""

    text: Annotated[str, Field(max_length=1_000_000)]


class Retire(In):
    """Whether a system is taken out of what can be chosen."""

    retired: bool


@router.get("")
def listed(ctx: SignedIn, text: Text = "", state: State = None) -> list[InventoryRow]:
    """The systems: those whose name, note or owner has some words, or in one state."""
    return systems.listed(ctx, text, state)


@router.get("/names")
def names(ctx: SignedIn) -> list[SystemChoice]:
    """The systems that can be chosen."""
    return systems.names(ctx)


@router.get("/export.csv", response_class=Response)
def as_csv(ctx: SignedIn, text: Text = "", state: State = None) -> Response:
    """The systems that are listed as CSV, which can be brought in again."""
    heads = {"Content-Disposition": 'attachment; filename="systems.csv"'}
    return Response(systems.as_csv(ctx, text, state), media_type="text/csv; charset=utf-8", headers=heads)


@router.post("/list/look")
def look(given: SystemsListIn, ctx: SignedIn) -> list[ListLine]:
    """What each line of a list would do; nothing is kept."""
    return systems.look(ctx, given.text.encode())


@router.post("/list")
def bring(given: SystemsListIn, ctx: SignedIn) -> Brought:
    """Enters and changes what a list says."""
    return systems.bring(ctx, given.text.encode())


@router.post("", status_code=201)
def add(given: SystemIn, ctx: SignedIn) -> Made:
    """Enters a system."""
    return Made(id=systems.add(ctx, given.given()))


@router.get("/{number}")
def one(number: Number, ctx: SignedIn) -> SystemOut:
    """A system with what uses it."""
    return systems.one(ctx, number)


@router.put("/{number}")
def change(number: Number, given: SystemIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """Changes a system."""
    systems.change(ctx, number, given.given(), version)
    return Done()


@router.post("/{number}/retire")
def retire(number: Number, given: Retire, ctx: SignedIn) -> Done:
    """Takes a system out of what can be chosen, or back."""
    systems.retire(ctx, number, given.retired)
    return Done()
