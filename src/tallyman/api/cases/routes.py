"""Sizings sent to experts, points of an agreement, variants, promises anew, what was delivered, exports."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any

from fastapi import APIRouter, Response
from pydantic import Field

from tallyman.api.cases.models import FactRow, FactsIn, FiguresPreview, Lack, PreviewIn, SystemChoice
from tallyman.api.common import MOST, Anyone, Done, In, Made, Model, Number, SignedIn, Text
from tallyman.services.cases import asked, delivered, exports, previews, promises, sizing, variants

router = APIRouter(tags=["cases"])
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


@router.post("/ideas/{number}/preview")
def preview(number: Number, given: PreviewIn, ctx: SignedIn) -> FiguresPreview:
    """The figures while somebody types; nothing is kept."""
    return FiguresPreview.model_validate(previews.preview(ctx, number, given.values))


class PointAnswer(In):
    """Why the fact stays as it is."""

    words: Text


@router.post("/ideas/{number}/sizing/points/{point}")
def answer_point(number: Number, point: Number, given: PointAnswer, ctx: SignedIn) -> Done:
    """Answers a point of a sizing that was sent back."""
    sizing.answer_point(ctx, number, point, given.words)
    return Done()


class AskedResults(Model):
    """What follows from the facts so far, as the expert sees it."""

    volume_per_year: str | None
    hours_per_year: str | None
    automatable_share: str | None
    effort_days: str | None
    band: str | None
    missing: list[Lack]


class AskedSizing(Model):
    """The sheet that a link to an expert shows."""

    idea: int
    title: str
    what: str
    person: str
    asker: str
    words: str
    asked_at: datetime
    zone: str
    company: str
    open: bool
    wanted: list[str]
    fields: list[FactRow]
    results: AskedResults
    systems: list[SystemChoice]


@router.get("/asked-sizings/{token}")
def asked_sizing(token: Token, ctx: Anyone) -> AskedSizing:
    """The sheet of a sizing that a link shows; looking changes nothing."""
    return AskedSizing.model_validate(asked.look(ctx, token))


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


class VariantFigure(Model):
    """A figure of a variant."""

    name: str
    label: str
    unit: str
    value: str | None


class VariantOut(Model):
    """A variant of a case; `id` only for those that people kept."""

    id: int | None
    version: int
    by: str
    name: str
    changes: dict[str, str]
    figures: list[VariantFigure]
    net: list[str | None] | None


class DifferingInput(Model):
    """An input in which variants differ, with the value of each."""

    field: str
    label: str
    values: list[str | None]


class VariantInput(Model):
    """An input that a variant may say otherwise, and its value as sized."""

    field: str
    label: str
    value: str | None


class VariantsOut(Model):
    """All variants side by side."""

    variants: list[VariantOut]
    differing: list[DifferingInput]
    inputs: list[VariantInput]
    no_range: list[str]
    may_change: bool


class VariantIn(In):
    """A variant: its name, what it says otherwise, and the version that was seen."""

    name: Annotated[str, Field(max_length=200)]
    changes: dict[Annotated[str, Field(max_length=40)], Any]
    version: Version = 0


@router.get("/ideas/{number}/variants")
def case_variants(number: Number, ctx: SignedIn) -> VariantsOut:
    """The variants of a case side by side."""
    return VariantsOut.model_validate(variants.view(ctx, number))


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


@router.post("/ideas/{number}/promise")
def promise_anew(number: Number, given: PromiseAnew, ctx: SignedIn) -> Done:
    """Promises anew what is now expected; the former promise stays to be read."""
    promises.promise_anew(ctx, number, given.reason, given.seen)
    return Done()


class SpentIn(In):
    """Person-days that a phase took, when it ended, and the version that was seen."""

    phase: Annotated[str, Field(max_length=80)]
    person_days: Any
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
    items: Any
    source: Annotated[str, Field(max_length=200)] = ""
    version: Version = 0


@router.put("/ideas/{number}/demand")
def record_demand(number: Number, given: DemandIn, ctx: SignedIn) -> Done:
    """Records how many items came in a month."""
    delivered.count_month(ctx, number, given.month, given.items, given.source, given.version)
    return Done()


class CaseJson(Model):
    """A case taken out: `input` is what `calc business-case` reads."""

    idea: str
    title: str
    taken_out_at: datetime
    rules_version: str
    input: dict[str, Any]
    sources: dict[str, Any]
    result: dict[str, Any]
    missing: list[Lack]
    benefit_lines: list[dict[str, Any]]
    promise: dict[str, Any] | None
    working: dict[str, Any]


@router.get("/ideas/{number}/case/json")
def case_as_json(number: Number, ctx: SignedIn) -> CaseJson:
    """The case as JSON."""
    return CaseJson.model_validate(exports.as_json(ctx, number))


@router.get("/ideas/{number}/case/xlsx", response_class=Response)
def case_as_workbook(number: Number, ctx: SignedIn) -> Response:
    """The case as a workbook with living formulas."""
    heads = {"Content-Disposition": f'attachment; filename="case-I-{number}.xlsx"'}
    return Response(exports.as_workbook(ctx, number), media_type=XLSX, headers=heads)


@router.post("/ideas/{number}/case/page")
def case_as_page(number: Number, ctx: SignedIn) -> Made:
    """Begins to lay the case out as a PDF page; gives the errand that ends with its file."""
    return Made(id=exports.begin_page(ctx, number))
