"""The runs that somebody started on pages of self-service."""

from __future__ import annotations

from tallyman.core.selfservice import first_lacking, said_of_run
from tallyman.errors import NotFound
from tallyman.services import runs
from tallyman.services.context import Ctx
from tallyman.services.selfservice.answers import MyServiceRun
from tallyman.store.db import Tx
from tallyman.store.records.selfservice import ServiceRun

NEWEST = 2**62


def newest(tx: Tx, ctx: Ctx, before: int | None, limit: int) -> list[MyServiceRun]:
    """The runs that the actor started on pages, before one or the newest."""
    below = NEWEST if before is None else before
    rows = tx.all(ServiceRun, "service_runs.runs_of", person=ctx.actor.person_id, before=below, limit=limit)
    return shown(tx, ctx, rows)


def shown(tx: Tx, ctx: Ctx, rows: list[ServiceRun]) -> list[MyServiceRun]:
    """Runs as whoever started them sees them."""
    waits = runs.waiting_reasons(tx, ctx, [row.id for row in rows if row.state == "waiting"])
    found = []
    for row in rows:
        why = waits.get(row.id)
        lacking = first_lacking(why.needs) if why else None
        said = said_of_run(row.state, row.outcome, row.reason, lacking, row.keeper, ctx.here)
        found.append(
            MyServiceRun(
                id=row.id,
                page_id=row.page_id,
                title=row.title,
                state=row.state,
                said=said,
                made_at=row.made_at,
                started_at=row.started_at,
                ended_at=row.ended_at,
                stopping=row.cancel_at is not None,
                may_stop=row.state in runs.OPEN_SAID and row.cancel_at is None,
                progress=runs.RunProgress(**row.progress) if row.progress else None,
                files=int(row.files),
            )
        )
    return found


def find(tx: Tx, ctx: Ctx, run_id: int) -> ServiceRun:
    """A run that the actor started on a page; NotFound for all others."""
    row = tx.one(ServiceRun, "service_runs.own_run", person=ctx.actor.person_id or 0, run=run_id)
    if row is None:
        raise NotFound(f"You started no run {runs.ref(run_id)} here.", "Look under Self-service.")
    return row
