"""What the starts of the next day mean for seats: how many are wanted at once, and who would wait for one."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from fractions import Fraction

from tallyman.core.exact import plain, text_of
from tallyman.core.free import FreeObject
from tallyman.core.runs import seats
from tallyman.core.working import Part, Used, Working
from tallyman.services import runs
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.robots import seat_lots
from tallyman.services.starts.answers import SeatsComing, SeatWait
from tallyman.services.starts.triggers import times_until
from tallyman.store.db import Tx
from tallyman.store.records.starts import ComingTrigger

AHEAD = timedelta(hours=24)
# Beyond that so many starts are looked at, the earliest first, and it is said.
MOST_STARTS = 20_000
WAITS_SHOWN = 20
# A routine that the reader may not see.
UNSEEN = "another routine"


def _minutes(tx: Tx, row: ComingTrigger) -> tuple[Fraction, bool]:
    """How long a routine's runs usually take, and whether that is known; else its time limit."""
    seconds = runs.usual_seconds(tx, row.routine_id)
    return (Fraction(row.limit_minutes), False) if seconds is None else (Fraction(max(seconds, 1), 60), True)


def _shown(found: list[seats.Wait]) -> list[SeatWait]:
    return [SeatWait(one.name, one.at, text_of(one.minutes, 1) or "") for one in found[:WAITS_SHOWN]]


def _working(there: int, found: list[seats.Wait], more: list[seats.Wait]) -> Working:
    """What one seat more would spare, in minutes of waiting."""
    now, then = (sum((one.minutes for one in rows), Fraction(0)) for rows in (found, more))
    return Working(
        "minutes of waiting that one seat more would spare",
        text_of(now - then, 1),
        "min",
        "waits with the seats of now − waits with one more",
        inputs=(
            Used("Waits with the seats of now", text_of(now, 1), "min", f"{there} seats, {len(found)} wait"),
            Used("Waits with one more", text_of(then, 1), "min", f"{there + 1} seats, {len(more)} wait"),
        ),
        note="each start takes the first seat that is free, in the order of their times; robots, hours and "
        "maintenance are looked at by the pre-check",
    )


def _wanted(starts: list[seats.Start], at: datetime, sees: set[str]) -> FreeObject:
    named = [one if one.name in sees else replace(one, name=UNSEEN) for one in starts]
    return seats.wanted_at(named, at).as_dict()


def _length(name: str, minutes: Fraction, usual: bool) -> Part:
    known = "the median of its last good runs" if usual else "its time limit, as too few runs have ended"
    return Part(name, plain(minutes, 1), f"min, {known}")


def _lengths(tx: Tx, rows: list[ComingTrigger]) -> dict[int, tuple[str, Fraction, bool]]:
    """By routine: its name, the minutes its runs take, and whether they are usual ones."""
    each = {row.routine_id: row for row in rows}
    return {number: (row.routine, *_minutes(tx, row)) for number, row in each.items()}


@dataclass(frozen=True)
class Coming:
    """The starts on the clock of the next 24 hours, the earliest first; how many more there are, and how many
    triggers cannot be read; the triggers; and how long the runs of each routine take."""

    starts: list[seats.Start]
    left_out: int
    unread: int
    rows: list[ComingTrigger]
    lengths: dict[int, tuple[str, Fraction, bool]]


def _coming(tx: Tx, ctx: Ctx) -> Coming:
    rows = tx.all(ComingTrigger, "triggers.within", until=ctx.now + AHEAD)
    lengths = _lengths(tx, rows)
    times = [(row, times_until(tx, ctx, row, ctx.now + AHEAD)) for row in rows]
    starts = [
        seats.Start(at, lengths[row.routine_id][1], row.routine) for row, found in times for at in found or ()
    ]
    starts.sort(key=lambda one: one.at)
    unread = sum(found is None for _, found in times)
    return Coming(starts[:MOST_STARTS], len(starts[MOST_STARTS:]), unread, rows, lengths)


def waits_without(tx: Tx, ctx: Ctx, gone: int) -> Working:
    """How many starts of the next 24 hours would wait for a seat, and do not now, if some seats were gone."""
    coming, there = _coming(tx, ctx), seat_lots.given_now(tx, "unattended")
    starts, left = coming.starts, there - gone
    more = (
        f"; {coming.left_out} starts beyond the first {MOST_STARTS} are left out" if coming.left_out else ""
    )
    now = len(seats.waits(starts, there))
    then = len(seats.waits(starts, left)) if left > 0 else len(starts)
    return Working(
        "starts that would wait for a seat",
        str(then - now),
        "starts",
        "wait with the seats that are left − wait with those of now",
        inputs=(
            Used("Wait with the seats that are left", str(then), "starts", f"{left} of {there} seats"),
            Used("Wait with those of now", str(now), "starts", f"{there} seats"),
        ),
        note=f"each start takes the first seat that is free, in the order of their times{more}",
    )


@in_transaction
def view(tx: Tx, ctx: Ctx) -> SeatsComing:
    """The starts on the clock of the next 24 hours against the seats of all hosts."""
    ctx.require("robot.see")
    until = ctx.now + AHEAD
    coming = _coming(tx, ctx)
    starts, rows, lengths = coming.starts, coming.rows, coming.lengths
    there = seat_lots.given_now(tx, "unattended")
    most = seats.wanted_at_once(starts, ctx.now, until + AHEAD)
    found, more = seats.waits(starts, there), seats.waits(starts, there + 1)
    sees = {row.routine for row in rows if ctx.actor.may_at("routine.see", row.area_id)}
    named = [replace(one, name=one.name if one.name in sees else UNSEEN) for one in found]
    return SeatsComing(
        until=until,
        starts=len(starts),
        left_out=coming.left_out,
        seats=there,
        wanted=most.number,
        wanted_at=most.at,
        wanted_working=None if most.at is None else _wanted(starts, most.at, sees),
        unread=coming.unread,
        waits=_shown(named),
        waiting=len(found),
        waiting_one_more=len(more),
        spared_working=_working(there, found, more).as_dict(),
        lengths=[_length(*one) for one in sorted(lengths.values()) if one[0] in sees],
    )
