"""Sizings sent to experts, points of an agreement, variants, promises anew, what was delivered, exports."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import Response
from pydantic import Field

from tallyman.api.cases.models import FactsIn, PreviewIn
from tallyman.api.common import MOST, Anyone, Done, In, Made, Number, SignedIn, Text
from tallyman.api.routing import Routes
from tallyman.services.cases import asked, delivered, exports, previews, promises, sizing, variants
from tallyman.services.cases.answers import AskedSizing, CaseJson, FiguresPreview
from tallyman.services.cases.answers_of_variants import VariantsOut

router = Routes(tags=["cases"])
Token = Annotated[str, Field(max_length=80)]
Month = Annotated[str, Field(pattern=r"^20\d\d-(0[1-9]|1[0-2])$")]
Version = Annotated[int, Field(ge=0, le=MOST)]
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


class ExpertIn(In):
    """Whom to ask, what to write, and which facts; none named: all."""

    person: Number
    words: Text = ""
    fields: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=40)] = []


@router.post("/ideas/{number}/sizing/requests", status_code=201)
def ask_expert(number: Number, given: ExpertIn, ctx: SignedIn) -> Made:
    """Sends the sizing to an expert as a link."""
    return Made(id=asked.send(ctx, number, given.person, given.words, given.fields))


@router.delete("/ideas/{number}/sizing/requests/{request}")
def take_request_back(number: Number, request: Number, ctx: SignedIn) -> Done:
    """Takes a sizing sent to an expert back."""
    asked.take_back(ctx, number, request)
    return Done()


@router.post("/ideas/{number}/sizing/requests/{request}/again")
def open_request_again(number: Number, request: Number, ctx: SignedIn) -> Done:
    """Sends a sizing to the same expert once more, by a new link."""
    asked.open_again(ctx, number, request)
    return Done()


@router.post("/ideas/{number}/preview")
def preview(number: Number, given: PreviewIn, ctx: SignedIn) -> FiguresPreview:
    """The figures while somebody types; nothing is kept."""
    return previews.preview(ctx, number, given.values)


class PointAnswer(In):
    """Why the fact stays as it is."""

    words: Text


@router.post("/ideas/{number}/sizing/points/{point}")
def answer_point(number: Number, point: Number, given: PointAnswer, ctx: SignedIn) -> Done:
    """Answers a point of a sizing that was sent back."""
    sizing.answer_point(ctx, number, point, given.words)
    return Done()


@router.get("/asked-sizings/{token}")
def asked_sizing(token: Token, ctx: Anyone) -> AskedSizing:
    """The sheet of a sizing that a link shows; looking changes nothing."""
    return asked.look(ctx, token)


@router.put("/asked-sizings/{token}/facts")
def answer_asked(token: Token, given: FactsIn, ctx: Anyone) -> Done:
    """Keeps facts that an expert gives by a link."""
    asked.answer(ctx, token, given.values, given.versions)
    return Done()


class AskedDone(In):
    """What the expert says at the end."""

    remark: Text = ""


@router.post("/asked-sizings/{token}/done")
def asked_done(token: Token, given: AskedDone, ctx: Anyone) -> Done:
    """The expert says that this is all."""
    asked.done(ctx, token, given.remark)
    return Done()


class VariantIn(In):
    """A variant: its name, what it says otherwise, and the version that was seen."""

    name: Annotated[str, Field(max_length=200)]
    changes: dict[Annotated[str, Field(max_length=40)], object]
    version: Version = 0


@router.get("/ideas/{number}/variants")
def case_variants(number: Number, ctx: SignedIn) -> VariantsOut:
    """The variants of a case side by side."""
    return variants.view(ctx, number)


@router.post("/ideas/{number}/variants", status_code=201)
def add_variant(number: Number, given: VariantIn, ctx: SignedIn) -> Made:
    """Keeps a new variant of a case."""
    return Made(id=variants.put(ctx, number, None, given.name, given.changes, 0))


@router.put("/ideas/{number}/variants/{variant}")
def change_variant(number: Number, variant: Number, given: VariantIn, ctx: SignedIn) -> Done:
    """Changes a variant of a case."""
    variants.put(ctx, number, variant, given.name, given.changes, given.version)
    return Done()


@router.delete("/ideas/{number}/variants/{variant}")
def drop_variant(number: Number, variant: Number, ctx: SignedIn) -> Done:
    """Takes a variant of a case away."""
    variants.drop(ctx, number, variant)
    return Done()


class PromiseAnew(In):
    """Why another promise is made, and the number of the promise that was seen."""

    reason: Text
    seen: Version
    worth: Annotated[str, Field(max_length=40)] | None = None


@router.post("/ideas/{number}/promise")
def promise_anew(number: Number, given: PromiseAnew, ctx: SignedIn) -> Done:
    """Promises anew what is now expected; the former promise stays to be read."""
    promises.promise_anew(ctx, number, given.reason, given.seen, given.worth)
    return Done()


class SpentIn(In):
    """Person-days that a phase took, when it ended, and the version that was seen."""

    phase: Annotated[str, Field(max_length=80)]
    person_days: object
    ended_on: date | None = None
    version: Version = 0


@router.put("/ideas/{number}/spent")
def record_days(number: Number, given: SpentIn, ctx: SignedIn) -> Done:
    """Records what a phase of the build took."""
    delivered.spend(ctx, number, given.phase, given.person_days, given.ended_on, given.version)
    return Done()


class DemandIn(In):
    """How many items came in a month, where the figure comes from, and the version that was seen."""

    month: Month
    items: object
    source: Annotated[str, Field(max_length=200)] = ""
    version: Version = 0


@router.put("/ideas/{number}/demand")
def record_demand(number: Number, given: DemandIn, ctx: SignedIn) -> Done:
    """Records how many items came in a month."""
    delivered.count_month(ctx, number, given.month, given.items, given.source, given.version)
    return Done()


@router.get("/ideas/{number}/case/json")
def case_as_json(number: Number, ctx: SignedIn) -> CaseJson:
    """The case as JSON."""
    return exports.as_json(ctx, number)


@router.get("/ideas/{number}/case/xlsx", response_class=Response)
def case_as_workbook(number: Number, ctx: SignedIn) -> Response:
    """The case as a workbook with living formulas."""
    heads = {"Content-Disposition": f'attachment; filename="case-I-{number}.xlsx"'}
    return Response(exports.as_workbook(ctx, number), media_type=XLSX, headers=heads)


@router.post("/ideas/{number}/case/page")
def case_as_page(number: Number, ctx: SignedIn) -> Made:
    """Begins to lay the case out as a PDF page; gives the errand that ends with its file."""
    return Made(id=exports.begin_page(ctx, number))
