"""Pages of self-service as colleagues read them: which reach them, how each stands, what it asks."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from tallyman.core.free import FreeObject
from tallyman.core.selfservice import Standing, standing
from tallyman.errors import NotFound, Refused
from tallyman.services import runs
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.selfservice import own_runs
from tallyman.services.selfservice.answers import PageCard, PageSums, PageWord, ServiceList, ServicePageView
from tallyman.services.workshop import find as find_routine
from tallyman.services.workshop import pre_check
from tallyman.store.db import Tx
from tallyman.store.records.selfservice import (
    ServiceMine,
    ServicePage,
    ServicePageRow,
    ServiceRan,
    ServiceSums,
    ServiceWord,
)
from tallyman.store.records.workshop import Routine

PUBLISH = "routine.decide"
NEWEST_RUNS = 5


def find(tx: Tx, ctx: Ctx, page_id: int) -> ServicePage:
    """A page that reaches the actor, or that they keep at hand or publish; NotFound for all others alike."""
    row = tx.one(ServicePage, "service.one", id=page_id, person=ctx.actor.person_id or 0)
    mine = row is not None and (row.reaches or row.favourite or ctx.actor.may_at(PUBLISH, row.area_id))
    if row is None or not mine:
        raise NotFound("No such page is published to you.", "Choose one under Self-service.")
    return row


def find_to_use(tx: Tx, ctx: Ctx, page_id: int) -> ServicePage:
    """As `find`, to do something with it. Raises Refused for one that is kept at hand or published alone."""
    page = find(tx, ctx, page_id)
    if not page.reaches:
        raise Refused(f"{page.title} is not published to you.", f"Ask {page.keeper}.")
    return page


def manages(ctx: Ctx, page: ServicePage) -> bool:
    """Whether the actor reads what is said about a page: who looks after it, or may publish it."""
    return page.keeper_id == ctx.actor.person_id or ctx.actor.may_at(PUBLISH, page.area_id)


def standings(
    tx: Tx, ctx: Ctx, pages: Sequence[ServicePage | ServicePageRow], routines: dict[int, Routine]
) -> dict[int, Standing]:
    """How pages stand this moment, by their numbers."""
    asked = [routines[one.routine_id] for one in pages if one.state == "open" and one.retired_at is None]
    needs = pre_check.of_routines(tx, ctx, asked) if asked else {}
    return {
        one.id: standing(
            one.state,
            one.why,
            needs.get(one.routine_id, ()),
            ctx.here,
            retired=one.retired_at is not None,
            withdrawn=one.withdrawn_at is not None,
            reaches=bool(one.reaches),
        )
        for one in pages
    }


def last_worked(tx: Tx, routine_id: int) -> datetime | None:
    """When the routine of a page last ended well."""
    return tx.value(datetime, "service.last_worked", routine=routine_id)


def asked_schema(schema: FreeObject, asks: Sequence[str]) -> FreeObject:
    """The part of a release's inputs that a page asks for; those that are gone from it are left out."""
    declared = schema.get("properties") or {}
    kept = {name: declared[name] for name in declared if name in asks}
    needed = [name for name in schema.get("required") or [] if name in kept]
    return {**schema, "properties": kept, "required": needed}


def sums_of(tx: Tx, page_id: int) -> PageSums:
    """What came of a page, in figures."""
    said = tx.one(ServiceSums, "service_runs.sums", page=page_id)
    ran = tx.one(ServiceRan, "service_runs.ran", page=page_id)
    assert said is not None
    assert ran is not None
    return PageSums(
        thanks=int(said.thanks),
        ratings=int(said.ratings),
        wishes=int(said.wishes),
        marks=None if said.marks is None else round(said.marks, 1),
        runs=ran.runs,
        people=ran.people,
    )


def words_of(tx: Tx, page_id: int) -> list[PageWord]:
    """What was said about a page, the latest first."""
    return [PageWord(**row.as_dict()) for row in tx.all(ServiceWord, "service_runs.said", page=page_id)]


def said_by(tx: Tx, ctx: Ctx, page_id: int) -> dict[str, ServiceMine]:
    """Thanks and marks that the actor gave a page, by their kind."""
    rows = tx.all(ServiceMine, "service_runs.mine", page=page_id, person=ctx.actor.person_id)
    return {row.kind: row for row in rows}


def given_by_set_up(routine: Routine, asks: Sequence[str]) -> dict[str, object]:
    """What the set-up gives to starts on a page: all but what must be given and is asked for each time."""
    anew = set(routine.schema.get("required") or []) & set(asks)
    return {name: value for name, value in routine.inputs.items() if name not in anew}


@in_transaction
def listed(tx: Tx, ctx: Ctx) -> ServiceList:
    """The pages that reach the actor, and the newest runs that they started on them."""
    pages = tx.all(ServicePageRow, "service.reaching", person=ctx.actor.person_id)
    routines = {one.routine_id: find_routine(tx, one.routine_id) for one in pages}
    stand = standings(tx, ctx, pages, routines)
    cards = [
        PageCard(
            id=one.id,
            title=one.title,
            does=one.does,
            word=stand[one.id].word,
            why=stand[one.id].why,
            favourite=one.favourite,
            last_worked=last_worked(tx, one.routine_id),
            usual_seconds=runs.usual_seconds(tx, one.routine_id),
        )
        for one in pages
    ]
    return ServiceList(
        pages=cards,
        runs=own_runs.newest(tx, ctx, None, NEWEST_RUNS),
        may_publish=ctx.actor.may(PUBLISH),
        now=ctx.now,
    )


@in_transaction
def one(tx: Tx, ctx: Ctx, page_id: int) -> ServicePageView:
    """A page with its form, how it stands, and what the actor said about it."""
    page = find(tx, ctx, page_id)
    routine = find_routine(tx, page.routine_id)
    stand = standings(tx, ctx, [page], {routine.id: routine})[page.id]
    mine = said_by(tx, ctx, page_id)
    rated = mine.get("rating")
    sees = manages(ctx, page)
    return ServicePageView(
        id=page.id,
        title=page.title,
        does=page.does,
        needs=page.needs,
        keeper=page.keeper,
        keeper_email=page.keeper_email,
        keeper_here=page.keeper_here,
        attended=bool(routine.attended),
        word=stand.word,
        why=stand.why,
        state=page.state,
        input_schema=asked_schema(routine.schema, page.asks),
        inputs={
            name: value for name, value in given_by_set_up(routine, page.asks).items() if name in page.asks
        },
        favourite=page.favourite,
        last_worked=last_worked(tx, routine.id),
        usual_seconds=runs.usual_seconds(tx, routine.id),
        sums=sums_of(tx, page_id),
        my_marks=rated.marks if rated else None,
        my_remark=rated.remark if rated else "",
        thanked="thanks" in mine,
        idea_id=routine.idea_id,
        said=words_of(tx, page_id) if sees else None,
        routine_id=routine.id if ctx.actor.may_at("routine.see", routine.area_id) else None,
        version=page.version,
        now=ctx.now,
    )


@in_transaction
def favour(tx: Tx, ctx: Ctx, page_id: int, on: bool) -> None:
    """Keeps a page at hand, or not any more."""
    find(tx, ctx, page_id)
    named = {"person": ctx.actor.person_id, "page": page_id}
    tx.write("service.favour", **named) if on else tx.write("service.favour_not", **named)
