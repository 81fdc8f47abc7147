"""Looking after people: the list, changes, and leaving with the open work handed over."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tallyman.core.alerts import kinds
from tallyman.errors import Conflict, Fault, InputFaults, NotFound, Refused
from tallyman.formats.csv_file import csv_file
from tallyman.services.access import keep_a_giver
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction
from tallyman.services.holding import permissions_of_role
from tallyman.services.people.answers import Leaving, OpenWork, PeoplePage, PersonRow
from tallyman.services.people.invitations import check_name
from tallyman.store import lists
from tallyman.store.db import Tx
from tallyman.store.records.access import AccessHeldBy, Member
from tallyman.store.records.people import (
    LinksLatest,
    PeopleByState,
    PeopleDivisions,
    PeopleListed,
    PeopleOpenWork,
    PeopleSessionsOf,
    Person,
)

PARTS = {
    "owns": "work owner of",
    "expert": "expert of",
    "builds": "builds",
    "proposed": "proposed",
    "helps": "helps with",
}
# Who proposed an idea stays who proposed it.
STAYS = "proposed"


# Who is here or comes; those who left are shown when they are asked for.
PRESENT = ("active", "invited")
PAGE = 50


def _shown(tx: Tx, ctx: Ctx, ids: Sequence[int]) -> list[PersonRow]:
    """People with roles, groups and state, by name."""
    rows = tx.all(PeopleListed, "people.listed", ids=tuple(ids) or (0,))
    invited = tuple(row.id for row in rows if row.state == "invited") or (0,)
    links = {
        row.person_id: row for row in tx.all(LinksLatest, "links.latest", kind="invitation", people=invited)
    }
    today = company_day(tx, ctx)
    return [
        PersonRow(
            id=row.id,
            name=row.name,
            email=row.email,
            state=row.state,
            zone=row.zone,
            version=row.version,
            division_id=row.division_id,
            division=row.division,
            roles=row.roles,
            groups_in=row.groups_in,
            seen_at=row.seen_at,
            invited_until=links[row.id].ends_at if row.id in links else None,
            away=row.away_until is not None and row.away_until >= today,
            away_until=row.away_until,
            stand_in=row.stand_in,
            factor=row.factor,
        )
        for row in rows
    ]


@in_transaction
def listed(
    tx: Tx, ctx: Ctx, state: str | None, text: str | None = None, after: str | None = None, limit: int = PAGE
) -> PeoplePage:
    """One page of people by name: in one state, or of those who did not leave; whom words fit."""
    ctx.require("person.see")
    filters: dict[str, object] = {"text": lists.like(text.strip()) if text and text.strip() else None}
    filters |= {"state": state} if state else {"states": PRESENT}
    rows, following = lists.page(tx, lists.PEOPLE, filters, "name", after, limit)
    counts: dict[str, int] = {row.state: row.people for row in tx.all(PeopleByState, "people.by_state")}
    return PeoplePage(rows=_shown(tx, ctx, [row.id for row in rows]), next=following, counts=counts)


@in_transaction
def person_row(tx: Tx, ctx: Ctx, person_id: int) -> PersonRow:
    """One person as the list shows them, or NotFound."""
    ctx.require("person.see")
    find_person(tx, person_id)
    return _shown(tx, ctx, [person_id])[0]


def _everybody(ctx: Ctx, only: str | None, text: str | None) -> Iterator[PersonRow]:
    """All who are or were here, or those of one state or whom words fit, page by page."""
    for state in (only,) if only else (*PRESENT, "left"):
        after: str | None = None
        while True:
            page = listed(ctx, state, text, after, lists.MOST_ROWS)
            yield from page.rows
            after = page.next
            if after is None:
                break


def as_csv(ctx: Ctx, state: str | None = None, text: str | None = None) -> bytes:
    """Everybody, or those that are listed, as CSV with what an import would want."""
    head = ["name", "mail address", "division", "state", "roles", "groups", "time zone"]
    rows = [
        [
            row.name,
            row.email,
            row.division,
            row.state,
            row.roles,
            row.groups_in,
            row.zone,
        ]
        for row in sorted(_everybody(ctx, state, text), key=lambda one: one.name)
    ]
    return csv_file(head, rows)


def find_person(tx: Tx, person_id: int) -> Person:
    """A person who was not erased, or NotFound."""
    row = tx.one(Person, "people.by_id", id=person_id)
    if row is None or row.state == "erased":
        raise NotFound("There is no such person.", "Choose one in the list.")
    return row


@in_transaction
def change_person(tx: Tx, ctx: Ctx, person_id: int, name: str, division_id: int | None, version: int) -> None:
    """Changes a person's name and division."""
    ctx.require("person.change")
    clean = check_name(name)
    old = find_person(tx, person_id)
    if division_id is not None and division_id not in {
        row.id for row in tx.all(PeopleDivisions, "people.divisions")
    }:
        raise InputFaults([Fault("division", division_id, "there is no such division; choose one")])
    if not tx.write("people.change_person", id=person_id, name=clean, division=division_id, version=version):
        raise Conflict(
            f"Somebody changed {old.name} meanwhile.",
            "Look at both, then save yours again.",
            theirs={"name": old.name, "division": old.division_id},
            yours={"name": clean, "division": division_id},
            version=old.version,
        )
    before = {"name": old.name, "division": old.division_id}
    after = {"name": clean, "division": division_id}
    audit(tx, ctx, "person changed", f"person:{person_id}", f"Changed {clean}", before, after)
    changed(tx, ctx, "people", person_id)


def _open_work(tx: Tx, person_id: int) -> list[OpenWork]:
    rows = []
    for row in tx.all(PeopleOpenWork, "people.open_work", person=person_id):
        rows.append(
            OpenWork(
                id=row.id,
                title=row.title,
                stage=row.stage,
                words=PARTS[row.part],
                hands_over=row.part != STAYS,
            )
        )
    return rows


def _hand_over(tx: Tx, ctx: Ctx, person_id: int, to_id: int | None) -> None:
    """Gives every part in ideas under way to somebody else."""
    parties = {"person": person_id, "to": to_id, "now": ctx.now}
    tx.write("people.hand_owner", **parties)
    tx.write("people.hand_expert", **parties)
    tx.write("people.hand_builder", **parties)
    tx.write("people.hand_helper", **parties)


@in_transaction
def before_leaving(tx: Tx, ctx: Ctx, person_id: int) -> Leaving:
    """What somebody would leave open: ideas with their part in each, roles, groups, sign-ins, tokens."""
    ctx.require("person.retire")
    person = find_person(tx, person_id)
    return Leaving(
        name=person.name,
        state=person.state,
        work=_open_work(tx, person_id),
        roles=[
            row.role + (f" for {row.area}" if row.area else "")
            for row in tx.all(AccessHeldBy, "access.held_by", person=person_id)
            if row.grp is None
        ],
        groups=[row.name for row in tx.all(Member, "access.groups_of", person=person_id)],
        pages=tx.values(str, "service.kept_by", person=person_id),
        sessions=len(tx.all(PeopleSessionsOf, "people.sessions_of", person=person_id, now=ctx.now)),
    )


@in_transaction
def deactivate(tx: Tx, ctx: Ctx, person_id: int, to_id: int | None) -> int:
    """Somebody leaves: signed out, without roles and groups, the open work handed over. Gives how much."""
    ctx.require("person.retire")
    if person_id == ctx.actor.person_id:
        raise Refused("You cannot deactivate yourself.", "Ask somebody else who looks after people.")
    person = find_person(tx, person_id)
    left = _open_work(tx, person_id)
    wanted = [row for row in left if row.hands_over]
    heir = tx.one(Person, "people.by_id", id=to_id) if to_id is not None else None
    pages = tx.values(str, "service.kept_by", person=person_id)
    several = len(wanted) + len(pages)
    if several and (heir is None or heir.state != "active" or to_id == person_id):
        message = f"{several} open pieces of work need somebody active who takes them over"
        raise InputFaults([Fault("to", to_id, message)])
    own = [row for row in tx.all(AccessHeldBy, "access.held_by", person=person_id) if row.grp is None]
    if any(row.area_id is None and "role.decide" in permissions_of_role(row.role, row) for row in own):
        keep_a_giver(tx, but_person=person_id)
    if wanted:
        _hand_over(tx, ctx, person_id, to_id)
    tx.write("people.drop_helping", person=person_id)
    tx.write("people.leave", id=person_id, now=ctx.now)
    tx.write("people.end_sessions_of", person=person_id, but="")
    tx.write("tokens.revoke_of", person=person_id, now=ctx.now)
    tx.write("people.drop_roles", person=person_id)
    tx.write("people.drop_groups", person=person_id)
    words = f"Deactivated {person.name}"
    if pages:
        tx.write("service.hand_keeper", person=person_id, to=to_id)
        changed(tx, ctx, "routines")
    if heir and several:
        words += f"; {heir.name} takes over {several}"
        taken = {"count": several, "name": person.name}
        tell(tx, ctx, kinds.TAKES_OVER, {"id": person_id}, [heir.id], **taken)
    before = {"roles": [row.role for row in own], "work": [row.id for row in wanted], "pages": pages}
    audit(tx, ctx, "person deactivated", f"person:{person_id}", words, before, {"to": to_id})
    changed(tx, ctx, "people", person_id)
    changed(tx, ctx, "access")
    return several


@in_transaction
def reactivate(tx: Tx, ctx: Ctx, person_id: int) -> None:
    """Somebody comes back, without the roles they had."""
    ctx.require("person.retire")
    person = find_person(tx, person_id)
    if not tx.write("people.come_back", id=person_id):
        raise Refused(f"{person.name} is {person.state}.", "Only who left comes back.")
    audit(tx, ctx, "person reactivated", f"person:{person_id}", f"{person.name} is back, without roles")
    changed(tx, ctx, "people", person_id)
