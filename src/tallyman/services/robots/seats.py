"""Seats of a host: how many robots and trial runs it takes at once, and what another number would do."""

from __future__ import annotations

from tallyman.core.exact import text_of
from tallyman.core.runs import SeatKind, SlotKind
from tallyman.errors import Fault, InputFaults, Refused
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction
from tallyman.services.rates import rates
from tallyman.services.robots.answers import SeatsLook
from tallyman.services.robots.seat_lots import check_there, given_now, room_left
from tallyman.services.robots.seen import host_for
from tallyman.store.db import Tx
from tallyman.store.records.robots import RobotsLockHost

MOST_SEATS = 50
# By kind, the place that a run takes.
PLACES: dict[SeatKind, SlotKind] = {"unattended": "seat", "trial": "trial"}


def _place(kind: SeatKind) -> SlotKind:
    if kind not in PLACES:
        message = f"such seats belong to people and groups; choose {' or '.join(PLACES)}"
        raise InputFaults([Fault("kind", kind, message)])
    return PLACES[kind]


def _check(seats_wanted: int) -> None:
    if not 0 <= seats_wanted <= MOST_SEATS:
        raise InputFaults([Fault("seats", seats_wanted, f"allowed: 0 to {MOST_SEATS}")])


def _had(host: RobotsLockHost, kind: SeatKind) -> int:
    return host.trial_seats if kind == "trial" else host.seats


def give_seats(tx: Tx, host_id: int, number: int, kind: SeatKind = "unattended") -> None:
    """Makes so many places for runs on a host. Raises InputFaults, or Refused where one in use would go."""
    _check(number)
    place = _place(kind)
    for n in range(number):
        tx.write("robots.add_slot", kind=place, owner=host_id, n=n)
    tx.write("robots.drop_slots", kind=place, owner=host_id, n=number)
    if tx.count("robots.count_slots", kind=place, owner=host_id) > number:
        raise Refused("A seat that would go is in use.", "Wait for its run to end, or take away fewer seats.")
    if kind == "trial":
        tx.write("robots.set_trial_seats", id=host_id, seats=number)
    else:
        tx.write("robots.set_seats", id=host_id, seats=number)


@in_transaction
def look_at_seats(tx: Tx, ctx: Ctx, host_id: int, number: int, kind: SeatKind = "unattended") -> SeatsLook:
    """What another number of seats would do, before anything is changed."""
    ctx.require("robot.change")
    host = host_for(tx, ctx, host_id)
    _check(number)
    used = tx.count("robots.seats_taken", host=host_id, kind=_place(kind))
    # Where it is entered what is bought, giving it away costs nothing more.
    left = room_left(tx, ctx, kind)
    cost = None if left is not None else rates.in_force_for(tx, "seat_year", kind, company_day(tx, ctx))
    there, had = given_now(tx, kind), _had(host, kind)
    then = there - had + number
    against = ""
    if number < used:
        against = f"{used} seats are in use by runs; take away fewer, or wait for their ends"
    else:
        try:
            check_there(tx, ctx, kind, had, number, "seats")
        except InputFaults as error:
            against = error.faults[0].message
    return SeatsLook(
        now=had,
        then=number,
        used=used,
        left=None if left is None else left + had - number,
        seat_a_year=None if cost is None else text_of(cost, 2),
        all_now=None if cost is None else text_of(cost * there, 2),
        all_then=None if cost is None else text_of(cost * then, 2),
        against=against,
    )


@in_transaction
def set_seats(tx: Tx, ctx: Ctx, host_id: int, number: int, kind: SeatKind = "unattended") -> None:
    """Gives a host more or fewer seats of a kind."""
    ctx.require("robot.change")
    host = host_for(tx, ctx, host_id)
    had = _had(host, kind)
    check_there(tx, ctx, kind, had, number, "seats")
    give_seats(tx, host_id, number, kind)
    of_kind = "trial seats" if kind == "trial" else "seats"
    words = f"{host.name}: {had} → {number} {of_kind}"
    audit(tx, ctx, "seats changed", f"host:{host_id}", words, {of_kind: had}, {of_kind: number})
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")
