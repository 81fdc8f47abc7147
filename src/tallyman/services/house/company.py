"""Whose installation this is, and its divisions."""

from __future__ import annotations

import re
from collections.abc import Mapping

from tallyman.core.starts import zone_fault
from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound
from tallyman.services.context import Ctx, audit, changed, company_of, in_transaction
from tallyman.services.house.answers import CompanyOut, DivisionOut
from tallyman.store.db import Tx
from tallyman.store.records.house import Area, HouseDivisionCounts
from tallyman.store.records.people import PeopleDivisions


@in_transaction
def company(tx: Tx, ctx: Ctx) -> CompanyOut:
    """Whose installation this is, and its divisions with how much belongs to each."""
    ctx.require("house.change")
    counts = {row.id: row for row in tx.all(HouseDivisionCounts, "house.division_counts")}
    rows = [
        DivisionOut(
            id=row.id,
            name=row.name,
            own=row.own,
            parent_id=row.parent_id,
            depth=row.depth,
            ideas=counts[row.id].ideas,
            people=counts[row.id].people,
        )
        for row in tx.all(PeopleDivisions, "people.divisions")
        if row.id in counts
    ]
    found = company_of(tx)
    return CompanyOut(name=found.name, zone=found.zone, currency=found.currency, divisions=rows)


def check_company(name: str, zone: str, currency: str) -> None:
    """Raises InputFaults unless a company's name, zone and currency fit."""
    faults = []
    if not 1 <= len(name.strip()) <= 120:
        faults.append(Fault("company", name[:80], "give a name of 1 to 120 characters"))
    fault = zone_fault(zone, "zone")
    if fault:
        faults.append(fault)
    if not re.fullmatch(r"[A-Z]{3}", currency):
        faults.append(Fault("currency", currency[:10], "three capital letters, such as EUR"))
    if faults:
        raise InputFaults(faults)


@in_transaction
def set_company(tx: Tx, ctx: Ctx, name: str, zone: str, currency: str, seen: str) -> None:
    """Names the company, its zone and its currency; `seen` is the name that was shown.

    The currency stays once something was posted in it: sums of two currencies are no sum.
    """
    ctx.require("house.change")
    check_company(name, zone, currency)
    before = company_of(tx).as_dict()
    if seen != before["name"]:
        raise Conflict(
            "Somebody changed the company meanwhile.",
            "Look at it now, then keep yours again.",
            theirs=before,
            yours={"name": name, "zone": zone, "currency": currency},
            version=0,
        )
    posted = tx.value(int, "tally.anything_posted")
    if currency != before["currency"] and posted is not None:
        message = f"entries are posted in {before['currency']} already, so it stays"
        raise InputFaults([Fault("currency", currency, message)])
    tx.write("common.set_company", name=name.strip(), zone=zone, currency=currency)
    after = {"name": name.strip(), "zone": zone, "currency": currency}
    audit(tx, ctx, "company changed", "setting:company", f"The company is {name.strip()}", before, after)
    changed(tx, ctx, "notifications")


def _division_name(name: str) -> str:
    clean = " ".join(name.split())
    if not 1 <= len(clean) <= 80:
        raise InputFaults([Fault("division", name[:80], "give a name of 1 to 80 characters")])
    return clean


TAKEN = "there is one of this name in the same place already"


def _division(tx: Tx, number: int, field: str = "") -> Area:
    """A division in use. Raises NotFound, or InputFaults where it is what a field names."""
    row = tx.one(Area, "house.division", id=number)
    if row is None and field:
        raise InputFaults([Fault(field, number, "there is no such division; choose one")])
    if row is None:
        raise NotFound("There is no such division.", "Load the page again.")
    return row


def _note(
    tx: Tx,
    ctx: Ctx,
    action: str,
    number: int,
    words: str,
    before: Mapping[str, object] | None = None,
    after: Mapping[str, object] | None = None,
) -> None:
    audit(tx, ctx, action, f"division:{number}", words, before, after)
    changed(tx, ctx, "people")
    changed(tx, ctx, "ideas")


@in_transaction
def add_division(tx: Tx, ctx: Ctx, name: str, parent_id: int | None = None) -> int:
    """A division more, at the top or below another; gives its number."""
    ctx.require("house.change")
    clean = _division_name(name)
    above = _division(tx, parent_id, "parent") if parent_id is not None else None
    try:
        number = tx.insert("people.add_division", name=clean, parent=parent_id)
    except Clash:
        raise InputFaults([Fault("division", clean, TAKEN)]) from None
    where = f" below {above.name}" if above else ""
    _note(tx, ctx, "division added", number, f"Added the division {clean}{where}")
    return number


@in_transaction
def rename_division(tx: Tx, ctx: Ctx, number: int, name: str) -> None:
    """Another name for a division; what belongs to it stays with it."""
    ctx.require("house.change")
    clean = _division_name(name)
    row = _division(tx, number)
    try:
        tx.write("house.rename_division", id=number, name=clean)
    except Clash:
        raise InputFaults([Fault("division", clean, TAKEN)]) from None
    words = f"The division {row.name} is called {clean} now"
    _note(tx, ctx, "division renamed", number, words, {"name": row.name}, {"name": clean})


@in_transaction
def move_division(tx: Tx, ctx: Ctx, number: int, parent_id: int | None) -> None:
    """A division lies below another, or at the top, with all below it."""
    ctx.require("house.change")
    tx.values(int, "house.lock_divisions")
    row = _division(tx, number)
    above = _division(tx, parent_id, "parent") if parent_id is not None else None
    if parent_id in {one for one in tx.values(int, "house.divisions_below", id=number)}:
        raise InputFaults([Fault("parent", above and above.name, "a division cannot lie below itself")])
    try:
        tx.write("house.move_division", id=number, parent=parent_id)
    except Clash:
        raise InputFaults([Fault("parent", row.name, TAKEN)]) from None
    words = f"{row.name} lies {'below ' + above.name if above else 'at the top'} now"
    before, after = {"parent": row.parent_id}, {"parent": parent_id}
    _note(tx, ctx, "division moved", number, words, before, after)


@in_transaction
def merge_division(tx: Tx, ctx: Ctx, number: int, into_id: int) -> None:
    """A division goes into another: its ideas, its people and what lay below it belong there from now on."""
    ctx.require("house.change")
    tx.values(int, "house.lock_divisions")
    row, into = _division(tx, number), _division(tx, into_id, "into")
    if into_id in {one for one in tx.values(int, "house.divisions_below", id=number)}:
        message = "it is this division or lies below it; choose another"
        raise InputFaults([Fault("into", into.name, message)])
    ends = {"id": number, "into": into_id}
    ideas = tx.write("house.merge_ideas", **ends)
    tx.write("house.merge_answers", into=into_id, id_json=str(number), into_json=str(into_id))
    people = tx.write("house.merge_people", **ends)
    try:
        tx.write("house.merge_children", **ends)
    except Clash:
        message = "both have a division of the same name below them; rename one first"
        raise InputFaults([Fault("into", into.name, message)]) from None
    tx.write("house.merge_division", **ends)
    words = f"{row.name} went into {into.name}, with {ideas} ideas and {people} people"
    _note(tx, ctx, "division merged", number, words, {"name": row.name}, {"into": into.name})
