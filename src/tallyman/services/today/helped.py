"""The ranking of who helped most over some months: by person, group or division, by the weights of the house.

Who does not want to be shown is in no row and in no sum; they see their own points alone.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import date, datetime, time
from fractions import Fraction
from zoneinfo import ZoneInfo

from tallyman.core.exact import plain, text_of
from tallyman.core.faults import unknown_word
from tallyman.core.ideas import helping
from tallyman.errors import Fault, InputFaults
from tallyman.services.context import Ctx, company_of, in_transaction
from tallyman.services.house import rule_sets
from tallyman.services.ideas import ref, seen_among
from tallyman.services.today.answers_of_helped import HelpedOut, HelpedRow, HelpedRuleOut, Weight
from tallyman.store.db import Tx
from tallyman.store.records.ideas import (
    HadPart,
    HelpedGroups,
    HelpedInService,
    HelpedPeople,
    HelpedReused,
    HelpedScreened,
    HelpedTallied,
    ThanksMonths,
)

RULE = "helped"
BY = ("person", "group", "division")
MOST_MONTHS = 36
USUAL_MONTHS = 3
NO_DIVISION = "no division"
UNSEEN = "an idea that you may not see"
MONTH = re.compile(r"20\d\d-(0[1-9]|1[0-2])")


def weights(tx: Tx) -> tuple[dict[str, Fraction], int]:
    """The weights in force, and their version; 0 while nobody changed them."""
    content, version = rule_sets.newest(tx, RULE)
    return (helping.STANDARD if content is None else helping.read_weights(content["weights"])), version


def _shown_weights(found: Mapping[str, Fraction]) -> list[Weight]:
    return [Weight(kind, words, plain(found[kind])) for kind, words in helping.KINDS.items()]


@in_transaction
def rule(tx: Tx, ctx: Ctx) -> HelpedRuleOut:
    """The weights, for whoever sets house rules."""
    ctx.require_at("house.change", None)
    found, version = weights(tx)
    return HelpedRuleOut(version, _shown_weights(found), rule_sets.shown(tx, RULE))


@in_transaction
def keep_rule(tx: Tx, ctx: Ctx, given: Mapping[str, object], note: str, seen: int) -> int:
    """A new version of the weights. Raises InputFaults, Conflict."""
    read = helping.read_weights(given)
    content = {"weights": {kind: plain(value) for kind, value in read.items()}}
    return rule_sets.keep(tx, ctx, RULE, content, note, seen)


def _months(ctx: Ctx, zone: str, first: str | None, last: str | None) -> tuple[str, str]:
    """The span of months that is shown: the last ones where nothing is said. Raises InputFaults."""
    today = ctx.today(zone)
    last = last or f"{today:%Y-%m}"
    faults = [
        Fault(name, month, "give a month such as 2026-04")
        for name, month in (("from", first), ("to", last))
        if month is not None and not MONTH.fullmatch(month)
    ]
    if faults:
        raise InputFaults(faults)
    at = int(last[:4]) * 12 + int(last[5:]) - 1
    first = first or f"{(at - USUAL_MONTHS + 1) // 12}-{(at - USUAL_MONTHS + 1) % 12 + 1:02}"
    count = at - (int(first[:4]) * 12 + int(first[5:]) - 1) + 1
    if not 1 <= count <= MOST_MONTHS:
        raise InputFaults([Fault("from", first, f"choose 1 to {MOST_MONTHS} months, the first one first")])
    return first, last


def _span(zone: str, first: str, last: str) -> tuple[datetime, datetime]:
    begin = date.fromisoformat(f"{first}-01")
    year, number = int(last[:4]), int(last[5:])
    end = date(year + number // 12, number % 12 + 1, 1)
    at = ZoneInfo(zone)
    return datetime.combine(begin, time(), at), datetime.combine(end, time(), at)


Found = defaultdict[int, list[helping.Came]]


def _came(tx: Tx, zone: str, first: str, last: str) -> Found:
    """What came of each person's help in the months from the first to the last."""
    since, until = _span(zone, first, last)
    span = {"since": since, "until": until}
    found: Found = defaultdict(list)
    screened = tx.all(HelpedScreened, "helped.screened", **span)
    at = {row.id: row for row in screened}
    for row in screened:
        found[row.proposer_id].append(_idea("screened", Fraction(1), row.id, row.title, row.at.date()))
    for put in tx.all(HadPart, "helped.evidence", ideas=tuple(at) or (0,)):
        idea = at[put.idea_id]
        found[put.person_id].append(_idea("evidence", Fraction(1), idea.id, idea.title, idea.at.date()))
    live = {row.id: row for row in tx.all(HelpedInService, "helped.in_service", **span)}
    tallied = {row.idea_id: row for row in tx.all(HelpedTallied, "helped.tallied", first=first, last=last)}
    parts: defaultdict[int, list[int]] = defaultdict(list)
    for part in tx.all(HadPart, "helped.parts", ideas=tuple({*live, *tallied}) or (0,)):
        parts[part.idea_id].append(part.person_id)
    for number, people in parts.items():
        for person in people:
            if number in live:
                one = live[number]
                found[person].append(_idea("in service", Fraction(1), number, one.title, one.at.date()))
            if number in tallied:
                sum_ = tallied[number]
                share = Fraction(sum_.money) / helping.THOUSAND / len(people)
                found[person].append(_idea("value", share, number, sum_.title, sum_.month))
    for used in tx.all(HelpedReused, "helped.reused", **span):
        what = f"{used.name}, with the package {used.package}"
        day = used.made_at.date().isoformat()
        found[used.person_id].append(
            helping.Came("reused", Fraction(1), what, f"/workshop/routines/{used.id}", day)
        )
    return found


def _seen(tx: Tx, ctx: Ctx, found: Found) -> Found:
    """With ideas by name only where the reader may see them; they count all the same."""
    linked = {one.link for rows in found.values() for one in rows if one.idea}
    numbers = {int(link.rsplit("/", 1)[1]) for link in linked}
    seen = {f"/ideas/{row.id}" for row in seen_among(tx, ctx, tuple(sorted(numbers)))}
    shown: Found = defaultdict(list)
    for number, rows in found.items():
        for one in rows:
            named = not one.idea or one.link in seen
            shown[number].append(one if named else replace(one, what=UNSEEN, link=""))
    return shown


def _idea(kind: str, amount: Fraction, number: int, title: str, on: date | str) -> helping.Came:
    return helping.Came(kind, amount, f"{ref(number)} {title}", f"/ideas/{number}", str(on))


@in_transaction
def ranking(
    tx: Tx, ctx: Ctx, first: str | None = None, last: str | None = None, by: str = "person"
) -> HelpedOut:
    """Who helped most, those with any points, the most first; the same points share a place."""
    if by not in BY:
        raise InputFaults([unknown_word("by", by, BY)])
    zone = company_of(tx).zone
    first, last = _months(ctx, zone, first, last)
    found, (weighed, _) = _seen(tx, ctx, _came(tx, zone, first, last)), weights(tx)
    people = {row.id: row for row in tx.all(HelpedPeople, "helped.people")}
    shown = {number for number, row in people.items() if not row.hidden}
    me = ctx.actor.person_id or 0
    rows = _rows(by, _keyed(tx, by, people, shown), found, weighed, people, me)
    own = _row(people[me].name, [me], found, weighed, people, me) if me in people else None
    ends = tx.one(ThanksMonths, "thanks.months")
    return HelpedOut(
        first=first,
        last=last,
        by=by,
        oldest=f"{ends.oldest:%Y-%m}" if ends and ends.oldest else first,
        newest=f"{ctx.today(zone):%Y-%m}",
        rows=rows,
        mine=own,
        hidden=me in people and bool(people[me].hidden),
        left_out=sum(1 for number in found if number in people and number not in shown),
        weights=_shown_weights(weighed),
        may_change=ctx.actor.may_at("house.change", None),
    )


def _keyed(tx: Tx, by: str, people: Mapping[int, HelpedPeople], shown: set[int]) -> dict[str, list[int]]:
    """Who is in each row: one person, a group's or a division's people; nobody who hides."""
    keyed: defaultdict[str, list[int]] = defaultdict(list)
    if by == "group":
        for row in tx.all(HelpedGroups, "helped.groups"):
            if row.person_id in shown:
                keyed[row.name].append(row.person_id)
    else:
        for number in sorted(shown):
            row_ = people[number]
            keyed[str(number) if by == "person" else row_.division or NO_DIVISION].append(number)
    return dict(keyed)


def _row(
    name: str,
    numbers: Iterable[int],
    found: Found,
    weighed: Mapping[str, Fraction],
    people: Mapping[int, HelpedPeople],
    me: int,
) -> HelpedRow:
    members = [number for number in numbers if number in found]
    came = [one for number in members for one in found[number]]
    division = (people[members[0]].division or "") if len(members) == 1 else ""
    working = helping.working(f"{name}: points", weighed, came)
    return HelpedRow(0, name, division, working.outcome or "0", len(members), me in members, working)


def _rows(
    by: str,
    keyed: Mapping[str, list[int]],
    found: Found,
    weighed: Mapping[str, Fraction],
    people: Mapping[int, HelpedPeople],
    me: int,
) -> list[HelpedRow]:
    rows = []
    for key, numbers in keyed.items():
        name = people[numbers[0]].name if by == "person" else key
        came = [one for number in numbers for one in found.get(number, ())]
        total = helping.points(weighed, came)
        if total > 0:
            rows.append((total, _row(name, numbers, found, weighed, people, me)))
    rows.sort(key=lambda one: (-one[0], one[1].name.lower()))
    places: dict[str, int] = {}
    placed = []
    for n, (total, row) in enumerate(rows, 1):
        place = places.setdefault(text_of(total, 2) or "", n)
        placed.append(HelpedRow(place, row.name, row.division, row.points, row.people, row.me, row.working))
    return placed
