"""Seats bought in lots, and given to people and groups; those of hosts are given in `seats`."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict, dataclass
from datetime import date, timedelta
from decimal import Decimal
from functools import partial
from typing import Literal

from tallyman.core.alerts import kinds
from tallyman.core.runs import SeatKind, seats
from tallyman.core.said import day_said
from tallyman.errors import Clash, Fault, InputFaults, NotFound, Refused
from tallyman.formats.sound import one_line
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction
from tallyman.services.upkeep import Work, each
from tallyman.store.db import Tx
from tallyman.store.records.robots import SeatGiven, SeatLot, SeatsEnding, SeatsLot

SEATS = Work("seats", "seats that end soon")
MAY = "robot.change"
MOST = 10_000
LONGEST_NOTE = 200
FIRST_DAY, LAST_DAY = date(2000, 1, 1), date(2100, 12, 31)


@dataclass(frozen=True)
class Given:
    """A lot as somebody enters it: its last day is included, and without one it does not end; `price`: of
    one seat a year, in the company's money, None for the one of the cost tables."""

    kind: SeatKind
    number: int
    first_on: date
    last_on: date | None
    price: Decimal | None
    note: str


def as_lots(rows: Iterable[SeatLot]) -> list[seats.Lot]:
    """Lots as the rules want them."""
    return [seats.Lot(row.id, row.kind, row.number, row.first_on, row.last_on) for row in rows]


def lots_of(tx: Tx) -> list[seats.Lot]:
    """Every lot as the rules want it."""
    return as_lots(tx.all(SeatLot, "seats.lots"))


def _checked(given: Given) -> Given:
    faults = []
    if not 1 <= given.number <= MOST:
        faults.append(Fault("number", given.number, f"allowed: 1 to {MOST:,}"))
    for field, day in (("first_on", given.first_on), ("last_on", given.last_on)):
        if day is not None and not FIRST_DAY <= day <= LAST_DAY:
            message = f"give a day from {FIRST_DAY.year} to {LAST_DAY.year}"
            faults.append(Fault(field, day.isoformat(), message))
    if given.last_on is not None and given.last_on < given.first_on:
        message = f"the last day lies before the first, {day_said(given.first_on)}; give a later one"
        faults.append(Fault("last_on", given.last_on.isoformat(), message))
    if given.price is not None and not 0 <= given.price < 10_000_000:
        faults.append(Fault("price", str(given.price), "allowed: 0 to 9,999,999.99 a year"))
    note = one_line(given.note.strip())
    if len(note) > LONGEST_NOTE:
        faults.append(Fault("note", f"{note[:40]}…", f"up to {LONGEST_NOTE} characters"))
    if faults:
        raise InputFaults(faults)
    return Given(given.kind, given.number, given.first_on, given.last_on, given.price, note)


def _said(given: Given | SeatsLot | SeatsEnding) -> str:
    one = "seat" if given.number == 1 else "seats"
    return f"{given.number} {given.kind} {one}"


def _as_kept(given: Given) -> dict[str, object]:
    found = asdict(given)
    return {**found, "first_on": given.first_on.isoformat(), "last_on": given.last_on and str(given.last_on)}


@in_transaction
def buy(tx: Tx, ctx: Ctx, given: Given) -> int:
    """Enters seats that were bought. Raises InputFaults."""
    ctx.require_at(MAY, None)
    given = _checked(given)
    made = tx.insert("seats.buy", **asdict(given), person=ctx.actor.person_id, now=ctx.now)
    until = f" to {day_said(given.last_on)}" if given.last_on else ", for good"
    words = f"Bought {_said(given)} from {day_said(given.first_on)}{until}"
    audit(tx, ctx, "seats bought", f"seats:{made}", words, None, _as_kept(given))
    changed(tx, ctx, "robots")
    return int(made)


def _lot(tx: Tx, lot_id: int) -> SeatsLot:
    row = tx.one(SeatsLot, "seats.lot", id=lot_id)
    if row is None:
        raise NotFound("These seats are not there any more.", "Look at the seats again.")
    return row


def _given_of(row: SeatsLot) -> Given:
    return Given(row.kind, row.number, row.first_on, row.last_on, row.price, row.note)


@in_transaction
def change_lot(tx: Tx, ctx: Ctx, lot_id: int, given: Given, version: int) -> None:
    """Changes a lot, such as its last day when it was renewed. Its kind stays."""
    ctx.require_at(MAY, None)
    row = _lot(tx, lot_id)
    given = _checked(given)
    if given.kind != row.kind:
        message = "seats keep their kind; take this lot back and enter another"
        raise InputFaults([Fault("kind", given.kind, message)])
    changes = {name: value for name, value in asdict(given).items() if name != "kind"}
    if not tx.write("seats.change_lot", id=lot_id, version=version, **changes):
        raise Clash("Somebody else changed these seats meanwhile.", "Look at them again, then change them.")
    before, after = _as_kept(_given_of(row)), _as_kept(given)
    audit(tx, ctx, "seats changed", f"seats:{lot_id}", f"Changed a lot of {_said(row)}", before, after)
    changed(tx, ctx, "robots")


@in_transaction
def take_back(tx: Tx, ctx: Ctx, lot_id: int, version: int) -> None:
    """Takes a lot back that was entered by mistake; one that merely ended stays, with its last day."""
    ctx.require_at(MAY, None)
    row = _lot(tx, lot_id)
    if not tx.write("seats.take_back", id=lot_id, version=version, now=ctx.now):
        raise Clash("Somebody else changed these seats meanwhile.", "Look at them again.")
    words = f"Took back a lot of {_said(row)}, entered by mistake"
    audit(tx, ctx, "seats taken back", f"seats:{lot_id}", words, _as_kept(_given_of(row)))
    changed(tx, ctx, "robots")


def given_now(tx: Tx, kind: SeatKind) -> int:
    """How many seats of a kind are given away: to hosts, or to people and groups."""
    if kind == "unattended":
        return int(tx.value(Decimal, "tally.seats") or 0)
    if kind == "trial":
        return int(tx.value(Decimal, "seats.given_for_trials") or 0)
    return sum(row.number for row in tx.all(SeatGiven, "seats.given") if row.kind == kind)


def _there(tx: Tx, ctx: Ctx, kind: SeatKind) -> int | None:
    """How many seats of a kind there are today; None where it was never entered how many are bought."""
    lots = [lot for lot in lots_of(tx) if lot.kind == kind]
    return seats.bought(lots, kind, company_day(tx, ctx)) if lots else None


def room_left(tx: Tx, ctx: Ctx, kind: SeatKind) -> int | None:
    """How many seats of a kind are bought and not given; None where it was never entered how many are."""
    there = _there(tx, ctx, kind)
    return None if there is None else there - given_now(tx, kind)


def check_there(tx: Tx, ctx: Ctx, kind: SeatKind, before: int, after: int, field: str) -> None:
    """Raises InputFaults where more would be given than are bought, if it was ever entered how many are."""
    if after <= before:
        return
    # Who gives at the same time, to whomever, waits for these lots and then looks again.
    tx.write("seats.give_of", kind=kind)
    there = _there(tx, ctx, kind)
    if there is None:
        return
    would = given_now(tx, kind) - before + after
    if would > there:
        message = (
            f"{would} {kind} seats would be given, and {there} are bought; "
            "enter seats that were bought, or take some from elsewhere"
        )
        raise InputFaults([Fault(field, after, message)])


Whom = Literal["person", "group"]


@in_transaction
def give(tx: Tx, ctx: Ctx, kind: SeatKind, whom: Whom, holder_id: int, number: int) -> None:
    """How many attended or builder seats a person has, or the members of a group share; 0 takes them away."""
    ctx.require_at(MAY, None)
    faults = []
    if kind in seats.OF_HOSTS:
        faults.append(Fault("kind", kind, "such seats are given to hosts; choose attended or builder"))
    if not 0 <= number <= MOST:
        faults.append(Fault("number", number, f"allowed: 0 to {MOST:,}"))
    to = {"id": holder_id}
    name = tx.value(str, "seats.person", **to) if whom == "person" else tx.value(str, "seats.group", **to)
    rows = [row for row in tx.all(SeatGiven, "seats.given") if row.kind == kind]
    own = [row for row in rows if holder_id == (row.person_id if whom == "person" else row.group_id)]
    had = own[0] if own else None
    before = had.number if had else 0
    # From whoever left they are only taken away.
    if had is not None and not number:
        name = had.person or had.group_name
    if name is None:
        faults.append(Fault(f"{whom}_id", holder_id, f"there is no such {whom}; choose one"))
    if faults:
        raise InputFaults(faults)
    check_there(tx, ctx, kind, before, number, "number")
    if number:
        by = {"person": ctx.actor.person_id, "now": ctx.now}
        values = {"kind": kind, "to": holder_id, "number": number, **by}
        if whom == "person":
            tx.write("seats.give_person", **values)
        else:
            tx.write("seats.give_group", **values)
    _set_places(tx, kind, had, number, whom, holder_id)
    if had and not number:
        tx.write("seats.take_given", id=had.id)
    words = f"{name}: {before} → {number} {kind} seats"
    audit(tx, ctx, "seats given", f"{whom}:{holder_id}", words, {kind: before}, {kind: number})
    changed(tx, ctx, "robots")


def _set_places(
    tx: Tx, kind: SeatKind, had: SeatGiven | None, number: int, whom: Whom, holder_id: int
) -> None:
    """As many places for runs as seats are given. Raises Refused where one in use would go."""
    if had is None and not number:
        return
    rows = tx.all(SeatGiven, "seats.given")
    own = [
        row.id
        for row in rows
        if row.kind == kind and holder_id == (row.person_id if whom == "person" else row.group_id)
    ]
    for n in range(number):
        tx.write("robots.add_slot", kind=kind, owner=own[0], n=n)
    tx.write("robots.drop_slots", kind=kind, owner=own[0], n=number)
    if tx.count("robots.count_slots", kind=kind, owner=own[0]) > number:
        raise Refused("A seat that would go is in use.", "Wait for its run to end, or take away fewer seats.")


def tell_ending(ctx: Ctx) -> int:
    """Tells who can renew seats that they end: 30, 7 days and 1 day before; gives how many were told of."""

    def ending(tx: Tx) -> tuple[date, list[SeatsEnding]]:
        today = company_day(tx, ctx)
        soon = today + timedelta(days=max(seats.TOLD_BEFORE))
        return today, tx.all(SeatsEnding, "seats.ending", today=today, soon=soon, now=ctx.now)

    today, rows = ctx.db.transact(ending)
    due = []
    for row in rows:
        assert row.last_on is not None
        days = seats.told_now(row.last_on, today)
        if days is not None and (row.told is None or row.told > days):
            due.append(row)
    return each(ctx, SEATS, due, partial(_tell_ending, ctx=ctx, today=today), "seats")


def _tell_ending(tx: Tx, row: SeatsEnding, ctx: Ctx, today: date) -> bool:
    assert row.last_on is not None
    days = seats.told_now(row.last_on, today)
    # Whoever writes it first tells; a second engine finds it told.
    if days is None or not tx.write("seats.told", id=row.id, days=days):
        return False
    lots = lots_of(tx)
    left = seats.bought(lots, row.kind, row.last_on + timedelta(days=1))
    given = given_now(tx, row.kind)
    short = f"; {given} are given, so {given - left} would be too many" if given > left else ""
    ends = "ends" if row.number == 1 else "end"
    what = f"{_said(row)} {ends} on {day_said(row.last_on)}, then there are {left}{short}"
    tell(tx, ctx, kinds.SEATS_END, {}, what=what)
    changed(tx, ctx, "robots")
    return True
