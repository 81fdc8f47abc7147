"""Seats of a host: how many robots it runs at once, and what another number would do."""

from __future__ import annotations

from decimal import Decimal

from tallyman.core.exact import text_of
from tallyman.errors import Fault, InputFaults, Refused
from tallyman.services.context import Ctx, audit, changed, company_of, in_transaction
from tallyman.services.rates import rates
from tallyman.services.robots.answers import SeatsLook
from tallyman.services.robots.seen import host_for
from tallyman.store.db import Tx

MOST_SEATS = 50


def give_seats(tx: Tx, host_id: int, seats: int) -> None:
    """Makes so many places for runs on a host. Raises InputFaults, or Refused where one in use would go."""
    if not 0 <= seats <= MOST_SEATS:
        raise InputFaults([Fault("seats", seats, f"allowed: 0 to {MOST_SEATS}")])
    for n in range(seats):
        tx.write("robots.add_slot", kind="seat", owner=host_id, n=n)
    tx.write("robots.drop_slots", kind="seat", owner=host_id, n=seats)
    if tx.count("robots.count_slots", kind="seat", owner=host_id) > seats:
        raise Refused("A seat that would go is in use.", "Wait for its run to end, or take away fewer seats.")
    tx.write("robots.set_seats", id=host_id, seats=seats)


@in_transaction
def look_at_seats(tx: Tx, ctx: Ctx, host_id: int, seats: int) -> SeatsLook:
    """What another number of seats would do, before anything is changed."""
    ctx.require("robot.change")
    host = host_for(tx, ctx, host_id)
    if not 0 <= seats <= MOST_SEATS:
        raise InputFaults([Fault("seats", seats, f"allowed: 0 to {MOST_SEATS}")])
    used = tx.count("robots.seats_taken", host=host_id)
    rate = rates.in_force(tx, "seat_year", ctx.today(company_of(tx).zone))
    there = int(tx.value(Decimal, "tally.seats") or 0)
    then = there - host.seats + seats
    against = ""
    if seats < used:
        against = f"{used} seats are in use by runs; take away fewer, or wait for their ends"
    cost = None if rate is None else rate.value
    return SeatsLook(
        now=host.seats,
        then=seats,
        used=used,
        seat_a_year=None if cost is None else text_of(cost, 2),
        all_now=None if cost is None else text_of(cost * there, 2),
        all_then=None if cost is None else text_of(cost * then, 2),
        against=against,
    )


@in_transaction
def set_seats(tx: Tx, ctx: Ctx, host_id: int, seats: int) -> None:
    """Gives a host more or fewer seats."""
    ctx.require("robot.change")
    host = host_for(tx, ctx, host_id)
    give_seats(tx, host_id, seats)
    words = f"{host.name}: {host.seats} → {seats} seats"
    before, after = {"seats": host.seats}, {"seats": seats}
    audit(tx, ctx, "seats changed", f"host:{host_id}", words, before, after)
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")
