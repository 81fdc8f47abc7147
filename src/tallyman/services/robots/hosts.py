"""Hosts: their names, codes and hours, and that one fell silent."""

from __future__ import annotations

import re
import secrets
from datetime import timedelta

from tallyman.core.alerts import kinds
from tallyman.core.runs import SILENT_AFTER
from tallyman.core.starts import zone_fault
from tallyman.errors import Fault, InputFaults, Refused
from tallyman.services.alerts import tell
from tallyman.services.context import WORK, Ctx, audit, changed, in_transaction
from tallyman.services.naming import clean_name, named
from tallyman.services.people import token_digest
from tallyman.services.robots.answers import Code
from tallyman.services.robots.seat_lots import check_there, room_left
from tallyman.services.robots.seats import give_seats
from tallyman.services.robots.seen import host_for
from tallyman.services.upkeep import Work, each
from tallyman.store.db import Tx
from tallyman.store.records.robots import (
    RobotsSilentHosts,
)

SILENCE = Work("silence", "a host that fell silent")

CODE_LASTS = timedelta(minutes=30)
# No letters or digits that are mistaken for one another.
CODE_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
WALL = re.compile(r"^([01]\d|2[0-3]):[0-5]\d$")


def made_code() -> str:
    """A new one-time code."""
    letters = "".join(secrets.choice(CODE_LETTERS) for _ in range(12))
    return "-".join(letters[i : i + 4] for i in (0, 4, 8))


def insert_host(tx: Tx, ctx: Ctx, name: str, code: str) -> int:
    """A new host of a clean name with its one-time code, for whoever may do so; it has no seats yet."""
    new = {"name": name, "code": token_digest(code), "until": ctx.now + CODE_LASTS, "now": ctx.now}
    return int(named(lambda: tx.insert("robots.add_host", **new), "name", name))


def give_code(tx: Tx, ctx: Ctx, host_id: int, name: str) -> Code:
    """A new one-time code for a host, for whoever may do so; it is shown only now."""
    code, until = made_code(), ctx.now + CODE_LASTS
    tx.write("robots.new_code", id=host_id, code=token_digest(code), until=until)
    audit(tx, ctx, "host code made", f"host:{host_id}", f"Made a new code for {name}")
    changed(tx, ctx, "robots")
    return Code(id=host_id, code=code, until=until)


def add_host(ctx: Ctx, name: str, seats: int) -> Code:
    """A new host with its seats; gives the one-time code, which is shown only now."""
    ctx.require_at("robot.make", None)
    name = clean_name("name", name)
    code = made_code()

    def work(tx: Tx) -> int:
        host_id = insert_host(tx, ctx, name, code)
        check_there(tx, ctx, "unattended", 0, seats, "seats")
        give_seats(tx, host_id, seats)
        # One for trial runs comes with it, as long as there are any.
        left = room_left(tx, ctx, "trial")
        trials = 1 if left is None or left > 0 else 0
        give_seats(tx, host_id, trials, "trial")
        words = f"Added the host {name}, seats: {seats}, for trial runs: {trials}"
        audit(tx, ctx, "host added", f"host:{host_id}", words)
        changed(tx, ctx, "robots")
        return host_id

    return Code(id=ctx.db.transact(work), code=code, until=ctx.now + CODE_LASTS)


@in_transaction
def new_code(tx: Tx, ctx: Ctx, host_id: int) -> Code:
    """A new one-time code for a host that lost its connection for good, or never had one."""
    ctx.require("robot.change")
    return give_code(tx, ctx, host_id, host_for(tx, ctx, host_id).name)


@in_transaction
def revoke(tx: Tx, ctx: Ctx, host_id: int) -> None:
    """From now on the server knows a host's runner no more; what runs there is lost when its lease ends.

    A new code connects it again. Raises Refused where it is not connected.
    """
    ctx.require("robot.change")
    host = host_for(tx, ctx, host_id)
    if not tx.write("robots.revoke_token", id=host_id, now=ctx.now):
        raise Refused(f"{host.name} is not connected.", "Make a new code to connect it.")
    words = f"Revoked the token of {host.name}; its runner is known no more"
    audit(tx, ctx, "host token revoked", f"host:{host_id}", words)
    for subject in ("robots", "runs", WORK):
        changed(tx, ctx, subject)


@in_transaction
def rename(tx: Tx, ctx: Ctx, host_id: int, name: str) -> None:
    """Another name for a host; its runner and its runs stay."""
    ctx.require("robot.change")
    name = clean_name("name", name)
    host = host_for(tx, ctx, host_id)
    named(lambda: tx.write("robots.rename_host", id=host_id, name=name), "name", name)
    audit(tx, ctx, "host renamed", f"host:{host_id}", f"{host.name} is called {name}")
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")


@in_transaction
def set_hours(tx: Tx, ctx: Ctx, host_id: int, start: str | None, end: str | None, zone: str) -> None:
    """The hours within which a host works; none of both means always."""
    ctx.require("robot.change")
    faults = []
    if (start is None) != (end is None) or (start is not None and start == end):
        faults.append(Fault("hours", f"{start} to {end}", "give two different times such as 08:00, or none"))
    for field, value in (("from", start), ("to", end)):
        if value is not None and not WALL.match(value):
            faults.append(Fault(field, value, "give a wall time such as 08:30"))
    wrong_zone = zone_fault(zone, "zone")
    if faults or wrong_zone:
        raise InputFaults([*faults, *([wrong_zone] if wrong_zone else [])])
    host = host_for(tx, ctx, host_id)
    tx.write("robots.set_hours", id=host_id, start=start, end=end, zone=zone if start else None)
    words = f"{host.name} works {f'{start} to {end} ({zone})' if start else 'at any hour'}"
    audit(tx, ctx, "hours changed", f"host:{host_id}", words)
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")


def tell_silent(ctx: Ctx) -> int:
    """Notes hosts that fell silent, once each, so that pages show it. Gives how many."""

    def work(tx: Tx, row: RobotsSilentHosts) -> bool:
        if not tx.write("robots.told_silent", id=row.id):
            return False
        words = f"{row.name} not heard from since {row.heard_at:%H:%M:%S} UTC"
        audit(tx, ctx, "host silent", f"host:{row.id}", words)
        tell(tx, ctx, kinds.HOST_SILENT, {"id": row.id}, name=row.name, since=f"{row.heard_at:%H:%M:%S}")
        changed(tx, ctx, "robots")
        changed(tx, ctx, "runs")
        return True

    before = ctx.now - SILENT_AFTER
    rows = ctx.db.transact(
        lambda tx: tx.all(RobotsSilentHosts, "robots.silent_hosts", before=before, now=ctx.now)
    )
    return each(ctx, SILENCE, rows, work, "host")
