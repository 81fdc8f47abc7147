"""The address of a routine: given and taken, its token renewed, from where and how often it is called."""

from __future__ import annotations

import secrets
from dataclasses import dataclass, field
from datetime import timedelta

from tallyman.core.starts.callers import MOST_A_MINUTE, MOST_NETWORKS, wrong_networks
from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound, Refused
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.people import token_digest
from tallyman.services.starts.answers import AddressGiven, CallsPage, RoutineAddress, StartCall
from tallyman.services.starts.called import START
from tallyman.services.workshop import find_for, in_use
from tallyman.store.db import Tx
from tallyman.store.records.starts import AddressLocked, StartAddress
from tallyman.store.records.workshop import Routine

CHANGE = "routine.change"
OLD_WORKS_FOR = timedelta(days=1)
A_PAGE = 50
LAST = 2**62
MISSING = NotFound("This routine has no address.", "Give it one on its page.")


@dataclass(frozen=True)
class Given:
    """From where (addresses or networks; none: from anywhere) and how often a minute it may be called."""

    networks: list[str] = field(default_factory=list)
    a_minute: int = 60


def _checked(given: Given) -> dict[str, object]:
    networks = [one.strip() for one in given.networks if one.strip()]
    faults = []
    for wrong in wrong_networks(networks):
        message = "is no address and no network; write such as 10.0.4.17 or 10.0.4.0/24"
        faults.append(Fault("networks", wrong[:60], message))
    if len(networks) > MOST_NETWORKS:
        faults.append(Fault("networks", len(networks), f"up to {MOST_NETWORKS} addresses or networks"))
    if not 1 <= given.a_minute <= MOST_A_MINUTE:
        faults.append(Fault("a_minute", given.a_minute, f"allowed: 1 to {MOST_A_MINUTE}"))
    if faults:
        raise InputFaults(faults)
    return {"networks": networks, "a_minute": given.a_minute}


def _routine(tx: Tx, ctx: Ctx, routine_id: int) -> Routine:
    ctx.require(CHANGE)
    return find_for(tx, ctx, routine_id, CHANGE)


def _locked(tx: Tx, routine_id: int) -> AddressLocked:
    row = tx.one(AddressLocked, "called.lock_address", routine=routine_id)
    if row is None:
        raise MISSING
    return row


def _token() -> tuple[str, dict[str, object]]:
    token = START + secrets.token_urlsafe(32)
    return token, {"token": token_digest(token), "end": token[-4:]}


@in_transaction
def shown(tx: Tx, ctx: Ctx, routine_id: int) -> RoutineAddress | None:
    """The address of a routine, but for its token; None where it has none."""
    routine = find_for(tx, ctx, routine_id)
    row = tx.one(StartAddress, "called.address", routine=routine.id)
    if row is None:
        return None
    old = row.old_until if row.old_until is not None and row.old_until > ctx.now else None
    return RoutineAddress(
        routine_id=routine.id,
        networks=row.networks,
        a_minute=row.a_minute,
        token_end=row.token_end,
        old_until=old,
        person=row.person,
        made_at=row.made_at,
        version=row.version,
    )


@in_transaction
def give(tx: Tx, ctx: Ctx, routine_id: int, given: Given) -> AddressGiven:
    """A routine can be started by its address; gives its token, which is shown this once."""
    routine = in_use(_routine(tx, ctx, routine_id))
    params = _checked(given)
    token, kept = _token()
    person = ctx.actor.person_id
    try:
        tx.write("called.give", routine=routine.id, **params, **kept, person=person, now=ctx.now)
    except Clash:
        raise Refused(f"{routine.name} has an address already.", "Load the page again.") from None
    words = f"{routine.name} can be started by its address"
    audit(tx, ctx, "address given", f"routine:{routine.id}", words, None, params)
    changed(tx, ctx, "routines", routine.id)
    return AddressGiven(token=token)


@in_transaction
def change(tx: Tx, ctx: Ctx, routine_id: int, given: Given, version: int) -> None:
    """From where and how often it may be called, unless somebody else changed that meanwhile."""
    routine = _routine(tx, ctx, routine_id)
    params = _checked(given)
    row = _locked(tx, routine.id)
    if not tx.write("called.change", routine=routine.id, version=version, **params):
        message = "Somebody changed this address meanwhile."
        raise Conflict(message, "Load the page again.", version=row.version)
    words = f"Changed from where and how often {routine.name} may be called"
    audit(tx, ctx, "address changed", f"routine:{routine.id}", words, None, params)
    changed(tx, ctx, "routines", routine.id)


@in_transaction
def renew(tx: Tx, ctx: Ctx, routine_id: int, at_once: bool) -> AddressGiven:
    """Another token, shown this once; the one of before works for a day more, unless it ends `at_once`."""
    routine = _routine(tx, ctx, routine_id)
    _locked(tx, routine.id)
    token, kept = _token()
    until = ctx.now if at_once else ctx.now + OLD_WORKS_FOR
    tx.write("called.rotate", routine=routine.id, **kept, until=until)
    words = f"Renewed the token of {routine.name}'s address"
    audit(tx, ctx, "address renewed", f"routine:{routine.id}", words)
    changed(tx, ctx, "routines", routine.id)
    return AddressGiven(token=token)


@in_transaction
def take(tx: Tx, ctx: Ctx, routine_id: int) -> None:
    """Nothing starts a routine by its address any more; the calls so far stay to be read."""
    routine = _routine(tx, ctx, routine_id)
    _locked(tx, routine.id)
    tx.write("called.take", routine=routine.id)
    audit(tx, ctx, "address taken", f"routine:{routine.id}", f"Took {routine.name} its address")
    changed(tx, ctx, "routines", routine.id)


@in_transaction
def calls(tx: Tx, ctx: Ctx, routine_id: int, before: int | None) -> CallsPage:
    """The calls of a routine's address, the latest first, each with what it started or why it was refused."""
    routine = find_for(tx, ctx, routine_id)
    params = {"routine": routine.id, "before": before or LAST, "limit": A_PAGE + 1}
    rows = tx.all(StartCall, "called.calls", **params)
    more = len(rows) > A_PAGE
    rows = rows[:A_PAGE]
    return CallsPage(rows=rows, next=rows[-1].id if more else None)
