"""Running a page, and one's own runs of it: how they stand, what came of them, their files."""

from __future__ import annotations

from tallyman.errors import Fault, InputFaults, Refused
from tallyman.formats.schemas import check_inputs
from tallyman.services import runs
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.runs import RunFile
from tallyman.services.selfservice import own_runs, reading
from tallyman.services.selfservice.answers import MyServiceRun, MyServiceRunWhole
from tallyman.services.upkeep import Once
from tallyman.services.workshop import InputFile
from tallyman.services.workshop import find as find_routine
from tallyman.services.workshop import inputs as input_files
from tallyman.store.db import Tx
from tallyman.store.records.runs import LockedRun
from tallyman.store.records.selfservice import ServicePage

A_PAGE = 20


def _check(page: ServicePage, given: dict[str, object]) -> None:
    faults = [
        Fault(f"inputs.{name}", name, f"this page does not ask for it; it asks for: {', '.join(page.asks)}")
        for name in given
        if name not in page.asks
    ]
    if faults:
        raise InputFaults(faults)


@in_transaction
def start(tx: Tx, ctx: Ctx, page_id: int, given: dict[str, object], key: str) -> int:
    """Starts a run of a page with what it asks for; the same key gives the same run again.

    What the page does not ask for is as the set-up says; what it asks for and must be given is asked
    for each time. An attended one works on the actor's own
    computer. Raises InputFaults for what does not fit, Refused where the page is not to be had now.
    """
    once = Once("self-service", key, [page_id, given])
    known = once.known(tx, ctx)
    if known is not None:
        return known
    page = reading.find(tx, ctx, page_id)
    routine = find_routine(tx, page.routine_id)
    stand = reading.standings(tx, ctx, [page], {routine.id: routine})[page.id]
    if stand.word == "not now":
        raise Refused(f"{page.title} is not to be had now.", f"{stand.why}. Ask {page.keeper}.")
    _check(page, given)
    inputs = {**reading.given_by_set_up(routine, page.asks), **given}
    check_inputs(routine.schema, inputs)
    me = ctx.actor.person_id if routine.attended else None
    run = runs.add(tx, ctx, routine, ctx.actor.name, inputs=inputs, for_person=me)
    tx.write("service_runs.note_run", run=run, page=page_id, person=ctx.actor.person_id)
    audit(tx, ctx, "run started", f"run:{run}", f"Started {routine.name} on its self-service page")
    once.made(tx, ctx, run)
    return run


def keep_file(ctx: Ctx, page_id: int, name: str, data: bytes) -> InputFile:
    """Keeps a file that a page asks for, for who may run it; its value is that of the input."""
    ctx.db.transact(lambda tx: reading.find_to_use(tx, ctx, page_id))
    return input_files.keep_for_all(ctx, name, data)


@in_transaction
def mine(tx: Tx, ctx: Ctx, before: int | None) -> list[MyServiceRun]:
    """Twenty of them."""
    return own_runs.newest(tx, ctx, before, A_PAGE)


@in_transaction
def run(tx: Tx, ctx: Ctx, run_id: int) -> MyServiceRunWhole:
    """A run that the actor started on a page. NotFound for all others."""
    row = own_runs.find(tx, ctx, run_id)
    asked = reading.asked_schema(row.schema, row.asks)
    return MyServiceRunWhole(
        run=own_runs.shown(tx, ctx, [row])[0],
        inputs=runs.values_said(asked, {k: v for k, v in row.inputs.items() if k in row.asks}),
        outputs=runs.values_said(row.outputs_schema, row.outputs or {}),
        files=tx.all(RunFile, "handed.of_run", run=run_id),
        usual_seconds=runs.usual_seconds(tx, row.routine_id),
        keeper=row.keeper,
        keeper_email=row.keeper_email,
    )


@in_transaction
def stop(tx: Tx, ctx: Ctx, run_id: int) -> str:
    """Stops one's own run. Gives its state now."""
    own_runs.find(tx, ctx, run_id)
    locked = tx.one(LockedRun, "runs.lock", id=run_id)
    assert locked is not None
    changed(tx, ctx, "runs", run_id)
    return runs.cancel_locked(tx, ctx, locked)


@in_transaction
def file(tx: Tx, ctx: Ctx, run_id: int, file_id: int) -> tuple[str, bytes]:
    """A file that one's own run handed over: its name and what is in it."""
    own_runs.find(tx, ctx, run_id)
    return runs.handed_file(tx, run_id, file_id)
