"""My computer: a person's own computer, what asks for it, what works on it, and what it did."""

from __future__ import annotations

from tallyman.services.context import Ctx, in_transaction
from tallyman.services.robots import own
from tallyman.services.runs.answers_of_own import MyComputer, MyRun
from tallyman.services.runs.life import waiting_reasons
from tallyman.services.runs.page import usual_seconds
from tallyman.services.runs.values_said import values_said
from tallyman.store.db import Tx
from tallyman.store.records.runs import RunFor


def _shown(ctx: Ctx, row: RunFor, usual: int | None = None, waits_for: str = "") -> MyRun:
    asks = row.state == "waiting" and row.agreed_at is None and row.due_at <= ctx.now
    return MyRun(
        id=row.id,
        state=row.state,
        attended=row.attended,
        routine=row.routine,
        area=row.area,
        package=row.package,
        release_version=row.release_version,
        about=row.about,
        inputs=values_said(row.schema, row.inputs),
        on_trial=bool(row.trial),
        started_by=row.started_words,
        made_at=row.made_at,
        due_at=row.due_at,
        lapses_at=row.lapses_at,
        asks=asks,
        agreed_at=row.agreed_at,
        usual_seconds=usual,
        started_at=row.started_at,
        ended_at=row.ended_at,
        stopping=row.cancel_at is not None,
        reason=row.reason,
        waits_for=waits_for,
        may_see=ctx.actor.may_at("run.see", row.area_id),
    )


def _beside(tx: Tx, ctx: Ctx, rows: list[RunFor]) -> dict[int, str]:
    """What each run that waits lacks beside the answer and its time, in words; empty where nothing."""
    waiting = [row.id for row in rows if row.state == "waiting"]
    found = {}
    for number, one in waiting_reasons(tx, ctx, waiting).items():
        lacking = [need for need in one.needs if not need.met and need.key not in ("due", "answer")]
        found[number] = f"{lacking[0].words}: {lacking[0].fact}" if lacking else ""
    return found


@in_transaction
def view(tx: Tx, ctx: Ctx) -> MyComputer:
    """The actor's own computer with the runs that are meant for them."""
    person = {"person": ctx.actor.person_id}
    rows = tx.all(RunFor, "attended.open_of", **person)
    lacks = _beside(tx, ctx, rows)
    usual = {number: usual_seconds(tx, number) for number in {row.routine_id for row in rows}}
    return MyComputer(
        seats=own.seats_of(tx, ctx),
        computer=own.computer_of(tx, ctx),
        open=[_shown(ctx, row, usual[row.routine_id], lacks.get(row.id, "")) for row in rows],
        ended=[_shown(ctx, row) for row in tx.all(RunFor, "attended.ended_of", **person)],
    )
