"""Entries of the tally: what an ended run posts at the rates in force (rules §11)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from fractions import Fraction
from zoneinfo import ZoneInfo

from tallyman.core.exact import plain, text_of
from tallyman.core.said import day_said
from tallyman.core.working import Part, Used, Working

HANDED_BACK = "handed_back"
PERSON_THERE = "person there"
DIGITS = 6


@dataclass(frozen=True)
class Rate:
    """A dated rate: its row, value, unit and first day."""

    rate_id: int
    name: str
    value: Fraction
    unit: str
    since: str


@dataclass(frozen=True)
class RunFacts:
    """What of an ended run is reckoned; counts by name as reported, minutes as robot time."""

    run_id: int
    state: str
    outcome: str | None
    counts: dict[str, Fraction]
    robot_minutes: Fraction
    trial: bool
    counting: bool
    basis: str
    count_name: str
    exception_minutes: Fraction
    fixed_units: Fraction | None = None
    fixed_back: Fraction | None = None
    # How long a person had to be there; of a run that robots did alone, not at all.
    there_minutes: Fraction = Fraction(0)


@dataclass(frozen=True)
class Entry:
    """One entry to post: hours and money, positive for benefit, negative for cost.

    A run's entry holds all that its working needs: `working_of` makes it whenever it is asked for.
    """

    line: str
    units: Fraction
    hours: Fraction
    money: Fraction
    rate_ids: tuple[int, ...]


@dataclass(frozen=True)
class MonthEntry(Entry):
    """An entry at the end of a month: promise and days in service are not in it, so it keeps its working."""

    working: Working


@dataclass(frozen=True)
class Posting:
    """What an ended run posts, and what somebody should be told."""

    entries: tuple[Entry, ...]
    caution: str = ""


def month_of(at: datetime, zone: str) -> str:
    """The month of an instant in the company's zone, as 2026-11."""
    return at.astimezone(ZoneInfo(zone)).strftime("%Y-%m")


def next_month(month: str) -> str:
    """The month after, as 2026-11."""
    year, number = int(month[:4]), int(month[5:])
    return f"{year + number // 12}-{number % 12 + 1:02}"


def units_of(run: RunFacts) -> tuple[Fraction, str]:
    """How many units a run counts, and a caution if its count is missing; a person's word goes first."""
    if run.fixed_units is not None:
        return run.fixed_units, ""
    if run.basis == "run":
        worked = run.state == "done" and run.outcome == "worked"
        return Fraction(1 if worked else 0), ""
    if run.count_name in run.counts:
        units = run.counts[run.count_name]
        late = run.state == "failed" and units > 0
        said = f"it failed after it had counted {plain(units)}, which are posted; look whether they were done"
        return units, said if late else ""
    if run.state == "done" and run.outcome == "worked":
        return Fraction(0), f"the package did not report the count {run.count_name!r}; 0 is posted"
    return Fraction(0), ""


# Of how many earlier counts the usual is taken, and how many times the largest is far from it.
USUAL_OF = 20
LEAST_USUAL = 5
FAR_TIMES = 10


def usual_most(before: Sequence[Fraction], a_year: Fraction | None) -> Fraction | None:
    """The most that a run may count without being far from the usual; None if nothing is known yet.

    `before` are the routine's last counts, the newest first; while there are few, a whole year of what
    was promised (`a_year`) is the bound.
    """
    counted = [one for one in before[:USUAL_OF] if one > 0]
    if len(counted) >= LEAST_USUAL:
        return max(counted) * FAR_TIMES
    return a_year if a_year else None


ONE_BACK = "Minutes for one handed back"


def _rate_used(rate: Rate, link: str = "") -> Used:
    return Used(rate.name, text_of(rate.value, 2), rate.unit, "rate", rate.since, link)


def _time_saved(line: str, units: Fraction, minutes: Rate, hour: Rate) -> Entry:
    hours = units * minutes.value / 60
    return Entry(line, units, hours, hours * hour.value, (minutes.rate_id, hour.rate_id))


@dataclass(frozen=True)
class Kept:
    """An entry of a run as it stands in the ledger; money and hours to six digits."""

    line: str
    units: Fraction
    hours: Fraction
    money: Fraction
    run_id: int
    day: date


def working_of(kept: Kept, used: Sequence[Rate], name: str, note: str) -> Working:
    """The working of a run's entry, by the rates that it was posted with (rules §11).

    What is no rate comes from the entry itself: the robot's hours, and the minutes for one handed back.
    """
    source, day, link = f"run R-{kept.run_id}", kept.day.isoformat(), f"/runs/{kept.run_id}"
    outcome, rates = text_of(kept.money, 2), [_rate_used(one, "/value/rates") for one in used]
    if kept.line == "robot time":
        price = used[0].value if used else Fraction(0)
        hours = text_of(-kept.money / price, 4) if price else None
        first = Used("Robot hours", hours, "h", source, day, link)
        formula = f"− robot hours × {rates[0].name.lower() if rates else 'what one costs'}"
        return Working(name, outcome, "money", formula, inputs=(first, *rates), note=note)
    if kept.line == PERSON_THERE:
        there = Used("Hours there", text_of(-kept.hours, 4), "h", source, day, link)
        formula = f"− hours there × {rates[0].name.lower() if rates else 'what an hour costs'}"
        return Working(name, outcome, "money", formula, inputs=(there, *rates), note=note)
    units = Used("Units", text_of(kept.units, 0), "", source, day, link)
    if kept.line == HANDED_BACK.replace("_", " ") and kept.units:
        one_back = Used(ONE_BACK, text_of(kept.hours * 60 / kept.units, 2), "min", "promise", day)
        rates = [one_back, *rates[1:]]
    hours_ = Used("Hours", text_of(kept.hours, 4), "h", "units × minutes ÷ 60", day)
    each, hour = ([one.name.lower() for one in rates] + ["minutes each", "what an hour costs"])[:2]
    formula = f"units × {each} ÷ 60 × {hour}"
    return Working(name, outcome, "money", formula, inputs=(units, *rates, hours_), note=note)


def post(run: RunFacts, minutes: Rate | None, hour: Rate, robot_hour: Rate, *, held: str = "") -> Posting:
    """The entries of one ended run. Trial runs post nothing.

    `minutes` is the approved minutes by hand; without it no benefit is posted and a caution says so.
    `held` says why its count waits for a yes: until then only the robot's time is posted.
    """
    if run.trial:
        return Posting(())
    entries: list[Entry] = []
    caution = ""
    if held:
        caution = held
    elif run.counting and minutes is None:
        caution = "no approved minutes by hand were in force, so no benefit is posted"
    elif run.counting and minutes is not None:
        units, caution = units_of(run)
        entries.append(_time_saved("time saved", units, minutes, hour))
        back = run.counts.get(HANDED_BACK, Fraction(0)) if run.fixed_back is None else run.fixed_back
        if back > units:
            # What is handed back is of what was counted, so it cannot be more.
            caution = f"{plain(back)} were handed back of {plain(units)} counted; {plain(units)} are posted"
            back = units
        if back:
            each = Rate(
                minutes.rate_id,
                ONE_BACK,
                run.exception_minutes,
                "min",
                minutes.since,
            )
            taken = _time_saved("handed back", -back, each, hour)
            entries.append(taken)
    if run.there_minutes:
        entries.append(_person_there(run.there_minutes / 60, hour))
    robot_hours = run.robot_minutes / 60
    entries.append(_robot_time(robot_hours, robot_hour))
    return Posting(tuple(entries), caution)


def _person_there(hours: Fraction, hour: Rate) -> Entry:
    """What the person cost who had to be there while it ran: taken off what it saved."""
    return Entry(PERSON_THERE, Fraction(0), -hours, -hours * hour.value, (hour.rate_id,))


def _robot_time(hours: Fraction, price: Rate) -> Entry:
    return Entry("robot time", Fraction(0), Fraction(0), -hours * price.value, (price.rate_id,))


@dataclass(frozen=True)
class HandCount:
    """Units of a span of days that no routine counted: its number, by whom or what they were given."""

    count_id: int
    units: Fraction
    first: date
    last: date
    by: str


def counted_by_hand(count: HandCount, minutes: Rate, hour: Rate) -> MonthEntry:
    """What units that a person, a list or a program gave come to: each saves the approved minutes."""
    hours = count.units * minutes.value / 60
    money = hours * hour.value
    until = count.last.isoformat()
    saved = replace(minutes, name="Minutes saved each")
    working = Working(
        f"Count {count.count_id} by hand: time saved",
        text_of(money, 2),
        "money",
        f"units × minutes saved each ÷ 60 × {hour.name.lower()}",
        inputs=(
            Used("Units", text_of(count.units, 2), "", count.by, until),
            _rate_used(saved, "/value/rates"),
            _rate_used(hour, "/value/rates"),
            Used("Hours", text_of(hours, 4), "h", "units × minutes ÷ 60", until),
        ),
        note=f"Of {day_said(count.first)} to {day_said(count.last)}; at the rates in force on its last day.",
    )
    return MonthEntry("time saved", count.units, hours, money, (minutes.rate_id, hour.rate_id), working)


def taken_back(line: str, money: Fraction) -> Working:
    """The working of an entry that takes back what stood posted: `money` is what it comes to."""
    stood = Used("What stood posted", text_of(-money, 2), "money", "the tally")
    return Working(f"{line}, taken back", text_of(money, 2), "money", "− what stood posted", inputs=(stood,))


@dataclass(frozen=True)
class MonthEnd:
    """What an idea in service costs in a month beside its robot time; yearly amounts, as promised.

    `days` of the month lie in its service; `went_live` says that it went into service in this month.
    """

    days: int
    one_time_cost: Fraction
    support_share: Fraction
    software_a_year: Fraction
    running_a_year: Fraction
    went_live: bool


def _share_of_year(line: str, name: str, a_year: Fraction, days: int, used: tuple[Used, ...]) -> MonthEntry:
    money = -a_year * days / 365
    working = Working(
        line,
        text_of(money, 2),
        "money",
        f"− {name} × days in service ÷ 365",
        inputs=(*used, Used("Days in service", str(days), "days", "go-live date")),
    )
    return MonthEntry(line, Fraction(0), Fraction(0), money, (), working)


def month_end(facts: MonthEnd) -> list[MonthEntry]:
    """An idea's month-end costs: support, software, running lines, and the build when it went live."""
    one_time = Used("One-time cost", text_of(facts.one_time_cost, 2), "money", "promise")
    share = Used("Support share", text_of(facts.support_share, 6), "of one-time cost a year", "promise")
    software = Used("Other software a year", text_of(facts.software_a_year, 2), "money a year", "promise")
    running = Used("Running lines a year", text_of(facts.running_a_year, 2), "money a year", "promise")
    support_a_year = facts.support_share * facts.one_time_cost
    entries = [
        _share_of_year(
            "support", "support share × one-time cost", support_a_year, facts.days, (share, one_time)
        ),
        _share_of_year("software", "other software a year", facts.software_a_year, facts.days, (software,)),
        _share_of_year("running lines", "running lines a year", facts.running_a_year, facts.days, (running,)),
    ]
    if facts.went_live:
        words = "− one-time cost; in the month of go-live"
        working = Working("build", text_of(-facts.one_time_cost, 2), "money", words, inputs=(one_time,))
        entries.append(MonthEntry("build", Fraction(0), Fraction(0), -facts.one_time_cost, (), working))
    return [entry for entry in entries if entry.money]


def unused_seats(
    seats: int, seat_year: Rate, robot_hours: Fraction, hours_a_day: Rate, days_a_year: Rate, days: int
) -> MonthEntry | None:
    """What the seats of a month cost that robots did not use; None if all were used or there are none."""
    within = seats * hours_a_day.value * days_a_year.value * days / 365
    if not within or robot_hours >= within:
        return None
    cost = seats * seat_year.value * days / 365
    money = -cost * (1 - robot_hours / within)
    working = Working(
        "unused seats",
        text_of(money, 2),
        "money",
        "− seats of the month × (1 − robot hours ÷ hours within reach)",
        parts=(
            Part(
                "Seats of the month",
                text_of(cost, 2) or "",
                f"{seats} seats × seat a year × {days} days ÷ 365",
            ),
            Part(
                "Hours within reach",
                text_of(within, 1) or "",
                "seats × hours a day × days a year × days ÷ 365",
            ),
            Part("Robot hours", text_of(robot_hours, 1) or "", "segments that ended in the month"),
        ),
        inputs=(_rate_used(seat_year), _rate_used(hours_a_day), _rate_used(days_a_year)),
    )
    # Hours and days that come from hosts and calendar are no rates; the working holds them.
    rates = tuple(one.rate_id for one in (seat_year, hours_a_day, days_a_year) if one.rate_id)
    return MonthEntry("unused seats", Fraction(0), Fraction(0), money, rates, working)
