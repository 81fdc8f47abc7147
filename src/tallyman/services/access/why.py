"""May they, and why: which roles, groups and areas grant somebody something, or what is missing."""

from __future__ import annotations

from collections.abc import Iterable

from tallyman.core import access
from tallyman.core.access.permissions import Held
from tallyman.errors import Fault, InputFaults, NotFound
from tallyman.services import holding
from tallyman.services.access.answers import AccessOf, GrantedOut, MayLine, SubjectLine, WhyOut
from tallyman.services.access.grants import breaches_of
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.holding import people_with
from tallyman.store.db import Row, Tx
from tallyman.store.record import Record
from tallyman.store.records.access import Member
from tallyman.store.records.house import Area, AreaBelow
from tallyman.store.records.ideas import Idea
from tallyman.store.records.people import Person
from tallyman.store.records.runs import Run
from tallyman.store.records.workshop import Routine

MOST_NAMES = 5
# The area of an object by its kind, and what seeing it asks for.
SUBJECTS: dict[str, tuple[type[Record], str, str]] = {
    "idea": (Idea, "ideas.by_id", "idea.see"),
    "routine": (Routine, "routines.routine", "routine.see"),
    "run": (Run, "runs.one", "run.see"),
    "area": (Area, "areas.area", "area.see"),
}


def givers(ctx: Ctx, area_id: int | None = None) -> list[str]:
    """The names of those who can give roles at an area, or for the whole company."""
    rows = ctx.db.transact(lambda tx: people_with(tx, "role.decide", area_id))
    return [row.name for row in rows[:MOST_NAMES]]


def _granted(held: Iterable[Held]) -> list[GrantedOut]:
    return [GrantedOut(role=one.role, group=one.group, where=one.where) for one in held]


def _parts(tx: Tx, idea: Row, person_id: int) -> list[str]:
    """The parts somebody has in an idea, which let them see it whatever their roles."""
    named = (("proposed it", "proposer_id"), ("owns the work", "owner_id"), ("is its expert", "expert_id"))
    parts = [words for words, key in (*named, ("builds it", "builder_id")) if idea[key] == person_id]
    if tx.value(int, "ideas.has_part", id=idea["id"], person=person_id) is not None:
        parts.append("helps with it")
    return parts


def _object(tx: Tx, subject: str, number: int) -> Row:
    record, statement, _ = SUBJECTS[subject]
    row: Record | None = tx.one(record, statement, id=number)
    if row is None:
        raise NotFound(f"There is no {subject} {number}.", "Check the number.")
    found = row.as_dict()
    return found | {"area_id": found["id"] if subject == "area" else found["area_id"]}


def _name(tx: Tx, area_id: int | None) -> str:
    row = None if area_id is None else tx.one(Area, "areas.area", id=area_id)
    return str(row.name) if row else ""


@in_transaction
def why(
    tx: Tx, ctx: Ctx, person_id: int, permission: str, subject: str | None = None, number: int | None = None
) -> WhyOut:
    """Whether a person may do something (to an object, or at all), and by what, or what is missing."""
    ctx.require("access.see")
    if permission not in access.PERMISSIONS:
        raise InputFaults([Fault("permission", permission, "there is no such permission")])
    if subject is not None and subject not in SUBJECTS:
        raise InputFaults([Fault("subject", subject, f"allowed: {', '.join(SUBJECTS)}")])
    person = tx.one(Person, "people.by_id", id=person_id)
    if person is None:
        raise NotFound("There is no such person.", "Choose one.")
    held = holding.held_of(tx, person_id)
    found = _object(tx, subject, number) if subject and number else None
    area_id = found["area_id"] if found else None
    path = holding.path(tx, area_id)
    if found is None:
        granted = [
            one for one in held if permission in access.reach([one], {}) and permission in one.permissions
        ]
    else:
        granted = access.granted_by(held, permission, path)
    parts = []
    if found is not None and subject == "idea" and permission == "idea.see":
        parts = _parts(tx, found, person_id)
    if permission in access.EVERYONE:
        parts.append("everybody may")
    active = person.state == "active"
    elsewhere = [one for one in held if permission in one.permissions and one not in granted]
    names = [row.name for row in people_with(tx, "role.decide", area_id)[:MOST_NAMES]]
    return WhyOut(
        person=person.name,
        permission=permission,
        words=access.PERMISSIONS[permission],
        object=_words_of(subject, number, found, _name(tx, area_id)),
        may=active and bool(granted or parts),
        state=person.state,
        granted=_granted(granted),
        parts=parts,
        elsewhere=_granted(elsewhere),
        roles_with=[row.name for row in holding.roles_holding(tx, permission)],
        givers=names,
    )


def _words_of(subject: str | None, number: int | None, found: Row | None, area: str) -> str:
    if found is None or subject is None:
        return "anywhere"
    name = found.get("title") or found.get("name") or found.get("routine") or ""
    where = f", in the area {area}" if area and subject != "area" else ""
    return f"{subject} {number} {name}{where}".strip()


@in_transaction
def of_person(tx: Tx, ctx: Ctx, person_id: int) -> AccessOf:
    """Everything a person may do and where, by which role; for themselves, or for who sees access."""
    if person_id != ctx.actor.person_id:
        ctx.require("access.see")
    held = holding.held_of(tx, person_id)
    reach = holding.reach_of(tx, held)
    names = {row.id: row.name for row in tx.all(AreaBelow, "areas.all")}
    lines = []
    for name, subject in access.SUBJECTS.items():
        may = [
            MayLine(
                permission=f"{name}.{act}",
                words=subject.acts[act],
                where=_areas(reach[f"{name}.{act}"], names),
            )
            for act in access.ACTS
            if f"{name}.{act}" in reach
        ]
        lacks = [
            MayLine(permission=f"{name}.{act}", words=subject.acts[act])
            for act in access.ACTS
            if act in subject.acts and f"{name}.{act}" not in reach
        ]
        lines.append(SubjectLine(subject=subject.title, may=may, lacks=lacks))
    return AccessOf(
        held=_granted(held),
        lines=lines,
        groups=[row.name for row in tx.all(Member, "access.groups_of", person=person_id)],
        breaches=breaches_of(tx, person_id),
        givers=[row.name for row in people_with(tx, "role.decide")[:MOST_NAMES]],
    )


def _areas(areas: frozenset[int] | None, names: dict[int, str]) -> str:
    if areas is None:
        return "the whole company"
    return ", ".join(sorted(names[one] for one in areas if one in names))
