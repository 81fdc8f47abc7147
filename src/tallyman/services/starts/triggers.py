"""Starts on the clock: their form, sentence, next times, history, and as a calendar file."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from itertools import islice, takewhile

from tallyman.core import starts
from tallyman.errors import Conflict, Fault, InputFaults, NotFound, Refused
from tallyman.formats.calendar_file import Event, calendar_file
from tallyman.services.context import Ctx, audit, calendar_of, changed, in_transaction
from tallyman.services.starts.answers import EndedTrigger, NextTime, Preview, Trigger, TriggerHistory
from tallyman.services.workshop import find_for, in_use
from tallyman.store.db import Tx
from tallyman.store.records.starts import (
    ComingTrigger,
    DueTrigger,
    TriggersEnded,
    TriggersOfRoutine,
    TriggerStart,
)
from tallyman.store.records.uses import UsesStart

NEXT_TIMES = 5
EXPORTED_TIMES = 500
HISTORY_A_PAGE = 50
MISSED = ("once", "all", "skip")
MOST_HOURS = 24 * 366
FIELDS = {"tz": "zone"}


@dataclass(frozen=True)
class Given:
    """A start on the clock as somebody sets it up.

    `form` is one of the forms of rules §6, such as {"expr": "30 7 * * 1-5"}; `window` holds from and
    to as wall times; `missed` says what becomes of starts missed while the engine was away, up to an
    age of `missed_hours`; a run not begun `latest_minutes` after its time lapses.
    """

    form: dict[str, object]
    zone: str
    on_closed: str = "run"
    window: dict[str, str] | None = None
    missed: str = "once"
    missed_hours: int = 24
    latest_minutes: int | None = None


def _schedule(tx: Tx, given: Given, area_id: int | None = None) -> starts.Schedule:
    wanted: dict[str, object] = {**given.form, "tz": given.zone, "window": given.window}
    if given.on_closed != "run":
        calendar = calendar_of(tx, area_id)
        wanted["calendar"] = {
            "weekend": sorted(calendar.weekend),
            "closed": [day.isoformat() for day in sorted(calendar.closed)],
        }
        wanted["on_closed"] = given.on_closed
    try:
        return starts.read_schedule(wanted)
    except InputFaults as error:
        raise InputFaults(
            [Fault(FIELDS.get(f.field, f.field), f.value, f.message) for f in error.faults]
        ) from None


AnyTrigger = TriggersOfRoutine | TriggersEnded | DueTrigger | ComingTrigger | UsesStart


def given_of(row: AnyTrigger) -> Given:
    """A kept trigger's row as it was given."""
    window = None
    if row.window_from is not None:
        window = {"from": row.window_from, "to": row.window_to or ""}
    # The release before kept only the code.
    form = row.form or {"expr": row.expression}
    return Given(form, row.zone, row.on_closed, window, row.missed, row.missed_hours, row.latest_minutes)


def schedule_of(tx: Tx, trigger: AnyTrigger) -> starts.Schedule:
    """When a trigger starts: its times and its sentence."""
    if isinstance(trigger, ComingTrigger | UsesStart):
        # Many are looked at in one go, and say their area themselves.
        return _schedule(tx, given_of(trigger), trigger.area_id)
    return _schedule(tx, given_of(trigger), tx.value(int, "routines.area_of", id=trigger.routine_id))


def times_until(tx: Tx, ctx: Ctx, row: AnyTrigger, until: datetime) -> list[datetime] | None:
    """When a trigger starts until then; None for one that cannot be read, which stops no other."""
    try:
        schedule = schedule_of(tx, row)
    except InputFaults:
        return None
    return list(takewhile(lambda at: at <= until, (one.at for one in schedule.after(ctx.now))))


def _check(tx: Tx, ctx: Ctx, given: Given, area_id: int | None) -> tuple[starts.Schedule, list[starts.Fired]]:
    """The schedule and its next times; raises InputFaults with every fault."""
    faults = []
    if given.on_closed not in ("run", "skip", "next", "previous"):
        faults.append(Fault("on_closed", given.on_closed, "allowed: run, skip, next, previous"))
    if given.missed not in MISSED:
        faults.append(Fault("missed", given.missed, f"allowed: {', '.join(MISSED)}"))
    if not 0 <= given.missed_hours <= MOST_HOURS:
        faults.append(Fault("missed_hours", given.missed_hours, f"allowed: 0 to {MOST_HOURS}"))
    if given.latest_minutes is not None and not 1 <= given.latest_minutes <= MOST_HOURS * 60:
        faults.append(Fault("latest_minutes", given.latest_minutes, f"allowed: 1 to {MOST_HOURS * 60}"))
    if faults:
        raise InputFaults(faults)
    schedule = _schedule(tx, given, area_id)
    fired = list(islice(schedule.after(ctx.now), NEXT_TIMES))
    if not fired:
        message = "it never starts again: closed days, the window, the years or its date leave no time"
        field = "once" if given.form.get("once") is not None else "expr"
        raise InputFaults([Fault(field, given.form.get(field), message)])
    return schedule, fired


@in_transaction
def preview(tx: Tx, ctx: Ctx, given: Given, routine_id: int | None = None) -> Preview:
    """The sentence and the next five times (of a routine: by its area's closed days)."""
    ctx.require("routine.see")
    routine = find_for(tx, ctx, routine_id) if routine_id is not None else None
    schedule, fired = _check(tx, ctx, given, routine.area_id if routine else None)
    return Preview(
        sentence=schedule.sentence,
        times=[_next_time(one, given.zone) for one in fired],
        kept=schedule.form.as_dict(),
        closed_days_of=routine.area if routine else "",
    )


def _next_time(one: starts.Fired, zone: str) -> NextTime:
    """A time on the wall of its zone, with what was moved or merged, and what the clocks do."""
    said = [starts.change_said(one.at, zone)]
    if one.nominal != (one.at,):
        walls = ", ".join(starts.wall_said(at, zone) for at in one.nominal)
        how = "merged" if len(one.nominal) > 1 else "moved from a closed day"
        said.append(f"stands for {walls} ({how})")
    return NextTime(
        at=one.at,
        wall=starts.wall_said(one.at, zone),
        offset=starts.offset_said(one.at, zone),
        note="; ".join(part for part in said if part),
    )


def _kept(schedule: starts.Schedule, given: Given, following: starts.Fired) -> dict[str, object]:
    form = schedule.form.as_dict()
    return {
        "expression": str(form.get("expr", ""))[:300],
        "form": form,
        "zone": given.zone,
        "on_closed": given.on_closed,
        "window_from": given.window["from"] if given.window else None,
        "window_to": given.window["to"] if given.window else None,
        "missed": given.missed,
        "missed_hours": given.missed_hours,
        "latest_minutes": given.latest_minutes,
        "next_at": following.at,
        "next_nominal": following.nominal[0],
    }


@in_transaction
def add(tx: Tx, ctx: Ctx, routine_id: int, given: Given) -> int:
    """Starts a routine on the clock."""
    ctx.require("routine.change")
    routine = in_use(find_for(tx, ctx, routine_id, "routine.change"))
    if routine.attended and routine.attended_for is None:
        raise Refused(
            f"{routine.name} works on the computer of whoever starts it, and the clock is nobody.",
            "Say in its set-up for whom it is.",
        )
    schedule, fired = _check(tx, ctx, given, routine.area_id)
    trigger_id = tx.insert(
        "triggers.add",
        kind="clock",
        routine=routine_id,
        person=ctx.actor.person_id,
        now=ctx.now,
        **_kept(schedule, given, fired[0]),
    )
    words = f"{routine.name}: {schedule.sentence}"
    audit(tx, ctx, "trigger added", f"routine:{routine_id}", words, None, schedule.form.as_dict())
    changed(tx, ctx, "routines", routine_id)
    return trigger_id


@in_transaction
def change(tx: Tx, ctx: Ctx, routine_id: int, trigger_id: int, given: Given, version: int) -> None:
    """Changes a trigger, unless somebody else did meanwhile; what it has started stays its own.

    Nominal times it has handled are never started again, whatever it is changed to.
    """
    ctx.require("routine.change")
    routine = in_use(find_for(tx, ctx, routine_id, "routine.change"))
    old = _find(tx, routine_id, trigger_id)
    schedule, fired = _check(tx, ctx, given, routine.area_id)
    kept = _kept(schedule, given, fired[0])
    if not tx.write("triggers.change", id=trigger_id, version=version, now=ctx.now, **kept):
        raise Conflict(
            "Somebody changed this start meanwhile.",
            "Look at both, then save yours again.",
            theirs={"sentence": schedule_of(tx, old).sentence},
            yours={"sentence": schedule.sentence},
            version=old.version,
        )
    before, after = given_of(old).form, schedule.form.as_dict()
    words = f"Start on the clock is now: {schedule.sentence}"
    audit(tx, ctx, "trigger changed", f"routine:{routine_id}", words, before, after)
    changed(tx, ctx, "routines", routine_id)


def _find(tx: Tx, routine_id: int, trigger_id: int) -> TriggersOfRoutine:
    row = tx.one(TriggersOfRoutine, "triggers.one", id=trigger_id, routine=routine_id)
    if row is None:
        raise NotFound("This start is not there any more.", "Load the page again.")
    return row


@in_transaction
def retire(tx: Tx, ctx: Ctx, routine_id: int, trigger_id: int) -> None:
    """Ends a trigger; what it started stays."""
    ctx.require("routine.change")
    find_for(tx, ctx, routine_id, "routine.change")
    if not tx.write("triggers.retire", id=trigger_id, routine=routine_id, now=ctx.now):
        raise NotFound("This start is not there any more.", "Load the page again.")
    audit(tx, ctx, "trigger ended", f"routine:{routine_id}", f"Ended start {trigger_id}")
    changed(tx, ctx, "routines", routine_id)


def rows_of(tx: Tx, ctx: Ctx, routine_id: int) -> list[Trigger]:
    """The triggers of a routine, each with its sentence, next times and last start."""
    found = []
    for row in tx.all(TriggersOfRoutine, "triggers.of_routine", id=routine_id):
        given = given_of(row)
        schedule = schedule_of(tx, row)
        fired = list(islice(schedule.after(ctx.now), NEXT_TIMES))
        window = given.window
        found.append(
            Trigger(
                id=row.id,
                form=given.form,
                zone=row.zone,
                on_closed=row.on_closed,
                window=None if window is None else {"from": window["from"], "to": window["to"]},
                missed=row.missed,
                missed_hours=row.missed_hours,
                latest_minutes=row.latest_minutes,
                sentence=schedule.sentence,
                times=[_next_time(one, row.zone) for one in fired],
                version=row.version,
            )
        )
    return found


def ended_of(tx: Tx, routine_id: int) -> list[EndedTrigger]:
    """The triggers of a routine that ended, the latest first; each with its sentence and what it did."""
    return [
        EndedTrigger(
            id=row.id,
            sentence=schedule_of(tx, row).sentence,
            ended_at=row.retired_at,
            started=row.started,
            last_at=row.last_at,
        )
        for row in tx.all(TriggersEnded, "triggers.ended", id=routine_id)
        if row.retired_at is not None
    ]


@in_transaction
def history(tx: Tx, ctx: Ctx, routine_id: int, trigger_id: int, before: int | None) -> TriggerHistory:
    """What a trigger started, merged, skipped or missed, and why; the latest first."""
    ctx.require("routine.see")
    find_for(tx, ctx, routine_id)
    if not tx.count("triggers.there", id=trigger_id, routine=routine_id):
        raise NotFound("There is no such start.", "Load the page again.")
    last = 2**62 if before is None else before
    rows = tx.all(TriggerStart, "triggers.history", id=trigger_id, before=last, limit=HISTORY_A_PAGE + 1)
    more = len(rows) > HISTORY_A_PAGE
    rows = rows[:HISTORY_A_PAGE]
    return TriggerHistory(rows=rows, next=rows[-1].id if more else None)


@in_transaction
def as_calendar(tx: Tx, ctx: Ctx, routine_id: int) -> bytes:
    """The coming starts of a routine as an iCalendar file, with their exact times."""
    ctx.require("routine.see")
    routine = find_for(tx, ctx, routine_id)
    events = []
    for row in tx.all(TriggersOfRoutine, "triggers.of_routine", id=routine_id):
        schedule = schedule_of(tx, row)
        times = [one.at for one in islice(schedule.after(ctx.now), EXPORTED_TIMES)]
        if times:
            events.append(Event(f"trigger-{row.id}", routine.name, schedule.sentence, times))
    return calendar_file(routine.name, events, ctx.now)
