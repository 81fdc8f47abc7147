"""Publishing routines to colleagues."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tallyman.api.common import Done, In, Made, Number, SignedIn, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services.selfservice import publishing
from tallyman.services.selfservice.answers import ManagedPage, PageSetup

Text = Annotated[str, Field(max_length=10000)]
router = Routes(tags=["self-service"])


class PageIn(In):
    """A page: what it does and needs, which inputs it asks for, who looks after it, and for whom it is."""

    title: Text
    does: Text
    needs: Text = ""
    asks: Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=200)] = []
    keeper_id: int | None = None
    for_all: bool = True
    groups: Annotated[list[int], Field(max_length=200)] = []

    def given(self) -> publishing.Given:
        """The same as the service takes it."""
        return publishing.Given(**self.model_dump())


class PageStateIn(In):
    """Whether a page is open, paused or taken back, and why, in a sentence that colleagues read."""

    state: Annotated[str, Field(max_length=20)]
    why: Text = ""


@router.get("/service-pages")
def managed(ctx: SignedIn) -> list[ManagedPage]:
    """The pages of the routines that the signed-in person sees, and how they are used."""
    return publishing.managed(ctx)


@router.get("/routines/{number}/service-page")
def setup(number: Number, ctx: SignedIn) -> PageSetup:
    """The page of a routine, or what it would begin with and what stands against it."""
    return publishing.setup(ctx, number)


@router.post("/routines/{number}/service-page", status_code=201)
def publish(number: Number, given: PageIn, ctx: SignedIn) -> Made:
    """Publishes a routine to colleagues."""
    return Made(id=publishing.publish(ctx, number, given.given()))


@router.put("/service-pages/{number}")
def change(number: Number, given: PageIn, ctx: SignedIn, version: VersionSeen) -> Done:
    """Changes a page."""
    publishing.change(ctx, number, given.given(), version)
    return Done()


@router.put("/service-pages/{number}/state")
def set_state(number: Number, given: PageStateIn, ctx: SignedIn, version: VersionSeen) -> Done:
    """Pauses a page, takes it back, or opens it again."""
    publishing.set_state(ctx, number, given.state, given.why, version)
    return Done()
