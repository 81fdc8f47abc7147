"""Pages as colleagues use them: what reaches them, running one, their runs, what they say."""

from __future__ import annotations

from typing import Annotated

from fastapi import File, Query, Response, UploadFile
from pydantic import Field

from tallyman.api.common import BySelf, Done, In, Made, Number, StartKey, to_keep
from tallyman.api.routing import Routes
from tallyman.formats.uploads import LARGEST
from tallyman.services.selfservice import reading, saying, using
from tallyman.services.selfservice.answers import (
    MyServiceRun,
    MyServiceRunWhole,
    ServiceList,
    ServicePageView,
    Wished,
)
from tallyman.services.workshop import InputFile

router = Routes(tags=["self-service"])


class InputsIn(In):
    """What a run is given, as far as the page asks for it."""

    inputs: dict[str, object] = {}


class FavouriteIn(In):
    """Whether a page is kept at hand."""

    on: bool


class MarksIn(In):
    """Marks for a page, 1 to 5, and a remark."""

    marks: int
    remark: Annotated[str, Field(max_length=10000)] = ""


class WishIn(In):
    """What would help."""

    text: Annotated[str, Field(max_length=10000)]


class StateNow(In):
    """The state of a run now."""

    state: str


@router.get("/self-service")
def listed(ctx: BySelf) -> ServiceList:
    """The pages that reach the signed-in person, and the newest runs that they started on them."""
    return reading.listed(ctx)


@router.get("/self-service/runs")
def mine(ctx: BySelf, before: Annotated[int | None, Query(ge=1)] = None) -> list[MyServiceRun]:
    """The runs that the signed-in person started on pages, twenty at a time, the latest first."""
    return using.mine(ctx, before)


@router.get("/self-service/runs/{number}")
def run(number: Number, ctx: BySelf) -> MyServiceRunWhole:
    """One of them, with what came of it."""
    return using.run(ctx, number)


@router.post("/self-service/runs/{number}/stop")
def stop(number: Number, ctx: BySelf) -> StateNow:
    """Stops one of them; gives its state now."""
    return StateNow(state=using.stop(ctx, number))


@router.get("/self-service/runs/{number}/files/{file}", response_class=Response)
def handed_file(number: Number, file: Number, ctx: BySelf) -> Response:
    """A file that one of them handed over, to be kept: nothing of it is shown as a page of ours."""
    return to_keep(*using.file(ctx, number, file))


@router.get("/self-service/{number}")
def one(number: Number, ctx: BySelf) -> ServicePageView:
    """A page with its form, and how it stands this moment."""
    return reading.one(ctx, number)


@router.put("/self-service/{number}/favourite")
def favour(number: Number, given: FavouriteIn, ctx: BySelf) -> Done:
    """Keeps a page at hand, or not any more."""
    reading.favour(ctx, number, given.on)
    return Done()


@router.post("/self-service/{number}/runs", status_code=201)
def start(number: Number, given: InputsIn, ctx: BySelf, key: StartKey) -> Made:
    """Starts a run with what the page asks for."""
    return Made(id=using.start(ctx, number, given.inputs, key))


@router.post("/self-service/{number}/input-files", status_code=201)
def keep_file(number: Number, file: Annotated[UploadFile, File()], ctx: BySelf) -> InputFile:
    """Keeps a file that a page asks for."""
    return using.keep_file(ctx, number, file.filename or "file", file.file.read(LARGEST + 1))


@router.post("/self-service/{number}/thanks")
def thank(number: Number, ctx: BySelf) -> Done:
    """Says thanks to whoever looks after a page."""
    saying.thank(ctx, number)
    return Done()


@router.put("/self-service/{number}/marks")
def rate(number: Number, given: MarksIn, ctx: BySelf) -> Done:
    """Gives a page marks."""
    saying.rate(ctx, number, given.marks, given.remark)
    return Done()


@router.post("/self-service/{number}/wishes", status_code=201)
def wish(number: Number, given: WishIn, ctx: BySelf, key: StartKey) -> Wished:
    """Says what would help; an amendment of the idea where there is one in service."""
    return saying.wish(ctx, number, given.text, key)
