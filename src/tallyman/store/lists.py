"""The query composer: lists with free filters, sorts and keyset pages from whitelisted parts only."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Generic, TypeVar

from tallyman.core.faults import Fault, InputFaults, unknown_word
from tallyman.store.db import Tx, plain
from tallyman.store.record import Record
from tallyman.store.records.house import ListMails, ListTrail
from tallyman.store.records.ideas import ListIdeas
from tallyman.store.records.people import ListPeople
from tallyman.store.records.runs import ListRuns

R = TypeVar("R", bound=Record)
MOST_ROWS = 200


@dataclass(frozen=True)
class Listing(Generic[R]):
    """What a list may be asked: its SELECT without WHERE, conditions by name, sorts by name.

    What is listed is read first, in its order, and the rest looked up for the rows of a page: without
    STRAIGHT_JOIN the planner may begin at a small table and read and sort everything.

    A condition uses its own name as parameter, or several when its value is a mapping. A sort is
    (column, descending).
    """

    room: str
    purpose: str
    record: type[R]
    select: str
    filters: Mapping[str, str]
    sorts: Mapping[str, tuple[str, bool]]
    key: str


def like(words: str) -> str:
    """A pattern that finds words anywhere, whatever signs they hold."""
    escaped = words.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return f"%{escaped}%"


def _cursor(value: Any, number: int) -> str:
    # A time says that it is one: a title may read like it.
    if isinstance(value, datetime):
        value = {"at": value.isoformat()}
    raw = json.dumps([value, number], default=plain)
    return base64.urlsafe_b64encode(raw.encode()).decode().rstrip("=")


def _read_cursor(text: str) -> tuple[Any, int]:
    try:
        value, number = json.loads(base64.urlsafe_b64decode(text + "=" * (-len(text) % 4)))
        if isinstance(value, dict):
            value = datetime.fromisoformat(value["at"])
        if isinstance(value, list):
            raise TypeError("a page mark holds one value")
        return value, int(number)
    except (ValueError, TypeError, KeyError, binascii.Error):
        fault = Fault("after", text, "not a page mark of this list; leave it out")
        raise InputFaults([fault]) from None


def _beyond(column: str, key: str, down: bool, value: Any) -> str:
    """The rows after a page mark; empty values stand last when falling, first when rising."""
    sign = "<" if down else ">"
    if value is None:
        later = f"{column} IS NULL AND {key} {sign} %(mark_key)s"
        return f"({later})" if down else f"({later} OR {column} IS NOT NULL)"
    tie = f"{column} = %(mark)s AND {key} {sign} %(mark_key)s"
    last = f" OR {column} IS NULL" if down else ""
    return f"({column} {sign} %(mark)s OR {tie}{last})"


def _used(listing: Listing[R], filters: Mapping[str, Any]) -> tuple[dict[str, Any], list[str]]:
    """The parameters and conditions of the filters that are set."""
    used: dict[str, Any] = {}
    conditions = []
    for name, value in filters.items():
        if value is None:
            continue
        conditions.append(listing.filters[name])
        used.update(value if isinstance(value, Mapping) else {name: value})
    return used, conditions


def page(
    tx: Tx,
    listing: Listing[R],
    filters: Mapping[str, Any],
    sort: str,
    after: str | None = None,
    limit: int = 50,
) -> tuple[list[R], str | None]:
    """One page of a list and the mark of the next, or None on the last page.

    Raises InputFaults for an unknown sort or a broken page mark.
    """
    limit = max(1, min(limit, MOST_ROWS))
    rows = tx.composed(*composed(listing, filters, sort, after, limit))
    more = len(rows) > limit
    rows = rows[:limit]
    # Every list begins with the number of its rows; the sort mark stands last.
    mark = _cursor(rows[-1][-1], int(rows[-1][0])) if more else None
    return [listing.record.read(row[:-1]) for row in rows], mark


def composed(
    listing: Listing[R], filters: Mapping[str, Any], sort: str, after: str | None, limit: int
) -> tuple[str, dict[str, Any]]:
    """The statement of a page, which reads one row more than the page has, and its parameters."""
    if sort not in listing.sorts:
        raise InputFaults([unknown_word("sort", sort, listing.sorts)])
    column, down = listing.sorts[sort]
    used, conditions = _used(listing, filters)
    if after:
        used["mark"], used["mark_key"] = _read_cursor(after)
        conditions.append(_beyond(column, listing.key, down, used["mark"]))
    direction = "DESC" if down else "ASC"
    where = f" WHERE {' AND '.join(conditions)}" if conditions else ""
    return (
        f"{listing.select.replace(' FROM ', f', {column} AS sort_mark FROM ', 1)}{where} "
        f"ORDER BY {column} {direction}, {listing.key} {direction} LIMIT {limit + 1}",
        used,
    )


# Whoever has a part in an idea sees it, whatever their roles.
OWN = (
    "i.proposer_id = %({me})s OR i.owner_id = %({me})s OR i.expert_id = %({me})s OR i.builder_id = %({me})s "
    "OR i.measure_owner_id = %({me})s "
    "OR EXISTS (SELECT 1 FROM idea_helper h WHERE h.idea_id = i.id AND h.person_id = %({me})s) "
    "OR EXISTS (SELECT 1 FROM idea_voice v WHERE v.idea_id = i.id AND v.person_id = %({me})s)"
)
# What was never handed in is its proposer's alone, also when it was withdrawn.
HANDED_IN = (
    "(i.stage <> 'draft' AND (i.stage <> 'withdrawn' OR NOT EXISTS (SELECT 1 FROM idea_stage s "
    "WHERE s.idea_id = i.id AND s.stage = 'withdrawn' AND s.from_stage = 'draft')))"
)
# What colleagues browse, as far as the house lets them.
BROWSED = (
    "((%(browse_all)s OR i.division_id IN %(browsed)s) "
    "AND i.stage IN ('noted','screened','sized','backed','building','in service','parked'))"
)
IDEAS = Listing(
    room="ideas",
    purpose="Ideas in a list.",
    record=ListIdeas,
    select="SELECT STRAIGHT_JOIN i.id, i.title, i.what, i.stage, i.building, i.stage_since, i.due_on, "
    "i.asked_on, "
    "i.fit_low, i.fit_high, i.hours_low, i.hours_high, i.worth, i.worth_on, i.worth_key, i.effort_days, "
    "i.sizing_state, i.sized_by, i.changed_at, "
    "i.route, i.source, i.amends_id, i.owner_id, i.area_id, d.name AS division, p.name AS proposer, "
    "i.proposer_id, o.name AS owner FROM idea i JOIN person p ON p.id = i.proposer_id "
    "LEFT JOIN division d ON d.id = i.division_id LEFT JOIN person o ON o.id = i.owner_id",
    filters={
        "stage": "i.stage = %(stage)s",
        "stages": "i.stage IN %(stages)s",
        "not_drafts_of_others": f"(i.proposer_id = %(not_drafts_of_others)s OR {HANDED_IN})",
        # Used together with not_drafts_of_others, which names who asks.
        "in_areas": f"(i.area_id IN %(in_areas)s OR {OWN.format(me='not_drafts_of_others')} OR {BROWSED})",
        "figured_in": "i.area_id IN %(figured_in)s",
        "proposer": "i.proposer_id = %(proposer)s",
        "division": "i.division_id IN %(division)s",
        "owner": "i.owner_id = %(owner)s",
        "route": "i.route = %(route)s",
        "reach_from": "i.hours_low >= %(reach_from)s",
        "reach_to": "i.hours_low <= %(reach_to)s",
        "worth_from": "i.worth >= %(worth_from)s",
        "worth_to": "i.worth <= %(worth_to)s",
        "source": "i.source = %(source)s",
        "system": "EXISTS (SELECT 1 FROM idea_system y WHERE y.idea_id = i.id AND y.name = %(system)s)",
        "since_before": "i.stage_since < %(since_before)s",
        "amendments": "i.amends_id IS NOT NULL",
        "ids": "i.id IN %(ids)s",
        "late_on": "(i.due_on < %(late_on)s AND i.asked_on IS NULL)",
        "asked": "i.asked_on IS NOT NULL",
        "text": "(i.id = %(text_number)s OR i.title LIKE %(text)s OR (%(text_words)s <> '' AND EXISTS ("
        "SELECT 1 FROM idea_text t WHERE t.idea_id = i.id AND MATCH (t.text) AGAINST "
        "(%(text_words)s IN BOOLEAN MODE))))",
    },
    sorts={
        "title": ("i.title", False),
        "oldest": ("i.stage_since", False),
        "worth": ("i.worth", True),
        "reach": ("i.hours_low", True),
        "newest": ("i.id", True),
        "changed": ("i.changed_at", True),
        "due": ("i.due_on", False),
    },
    key="i.id",
)

RUNS = Listing(
    room="runs",
    purpose="Runs in a list.",
    record=ListRuns,
    select="SELECT STRAIGHT_JOIN r.id, r.routine_id, o.name AS routine, a.name AS area, r.state, r.outcome, "
    "r.reason, r.trial, "
    "r.started_words, r.due_at, r.made_at, r.started_at, r.ended_at, r.robot_id, b.name AS robot, "
    "r.cancel_at, r.again_of, r.changed_at FROM run r JOIN routine o ON o.id = r.routine_id "
    "JOIN area a ON a.id = o.area_id LEFT JOIN robot b ON b.id = r.robot_id",
    filters={
        "state": "r.state = %(state)s",
        "states": "r.state IN %(states)s",
        "in_areas": "o.area_id IN %(in_areas)s",
        "routine": "r.routine_id = %(routine)s",
        "robot": "r.robot_id = %(robot)s",
    },
    sorts={"newest": ("r.id", True)},
    key="r.id",
)

TRAIL = Listing(
    room="house",
    purpose="The audit trail.",
    record=ListTrail,
    select="SELECT u.id, u.at, u.who, u.address, u.action, u.object, u.words, u.before_json, u.after_json, "
    "u.erased_at FROM audit u",
    filters={
        "who": "u.person_id = %(who)s",
        "action": "u.action = %(action)s",
        "object": "u.object = %(object)s",
        "text": "u.words LIKE %(text)s",
        "since": "u.at >= %(since)s",
    },
    sorts={"newest": ("u.id", True)},
    key="u.id",
)

MAILS = Listing(
    room="house",
    purpose="The outbox.",
    record=ListMails,
    select="SELECT m.id, m.to_address, m.subject, m.kind, m.made_at, m.sent_at, m.due_at, m.tries, m.answer, "
    "p.name AS person FROM mail m LEFT JOIN person p ON p.id = m.person_id",
    filters={
        "text": "(m.to_address LIKE %(text)s OR m.subject LIKE %(text)s)",
        "waiting": "m.sent_at IS NULL",
    },
    sorts={"newest": ("m.id", True)},
    key="m.id",
)

PEOPLE = Listing(
    room="people",
    purpose="People in a list.",
    record=ListPeople,
    select="SELECT p.id, p.name FROM person p LEFT JOIN division d ON d.id = p.division_id",
    filters={
        "text": "(p.name LIKE %(text)s OR p.email LIKE %(text)s OR d.name LIKE %(text)s "
        "OR EXISTS (SELECT 1 FROM held_role h JOIN role r ON r.id = h.role_id "
        "WHERE h.person_id = p.id AND r.name LIKE %(text)s) "
        "OR EXISTS (SELECT 1 FROM group_member m JOIN person_group g ON g.id = m.group_id "
        "WHERE m.person_id = p.id AND g.retired_at IS NULL AND g.name LIKE %(text)s))",
        "state": "p.state = %(state)s",
        "states": "p.state IN %(states)s",
    },
    sorts={"name": ("p.name", False)},
    key="p.id",
)

LISTINGS: dict[str, Listing[Any]] = {
    "ideas": IDEAS,
    "runs": RUNS,
    "trail": TRAIL,
    "mails": MAILS,
    "people": PEOPLE,
}
