"""What other subjects ask of pages: those of a routine, and those that words find."""

from __future__ import annotations

from dataclasses import dataclass

from tallyman.core.selfservice.words import PageState
from tallyman.services.context import Ctx
from tallyman.store.db import Tx
from tallyman.store.records.selfservice import ServicePage, ServicePageRow


@dataclass(frozen=True, slots=True)
class RoutinePublished:
    """That a routine has a page, how that is called and stands."""

    id: int
    title: str
    state: PageState


def of_routine(tx: Tx, ctx: Ctx, routine_id: int) -> RoutinePublished | None:
    """The page of a routine; None where it has none."""
    number = tx.value(int, "service.of_routine", routine=routine_id)
    if number is None:
        return None
    page = tx.one(ServicePage, "service.one", id=number, person=ctx.actor.person_id or 0)
    return None if page is None else RoutinePublished(page.id, page.title, page.state)


def found(tx: Tx, ctx: Ctx) -> list[ServicePageRow]:
    """The pages that reach the actor."""
    if ctx.actor.program or ctx.actor.person_id is None:
        return []
    return tx.all(ServicePageRow, "service.reaching", person=ctx.actor.person_id)
