"""Entries of the tally: what an ended run posts at the rates in force (rules §11)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction
from zoneinfo import ZoneInfo

from tallyman.core.exact import text_of
from tallyman.core.working import Part, Used, Working

HANDED_BACK = "handed_back"
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


@dataclass(frozen=True)
class Entry:
    """One entry to post: hours and money, positive for benefit, negative for cost."""

    line: str
    units: Fraction
    hours: Fraction
    money: Fraction
    rate_ids: tuple[int, ...]
    working: Working


@dataclass(frozen=True)
class Posting:
    """What an ended run posts, and what somebody should be told."""

    entries: tuple[Entry, ...]
    caution: str = ""


def month_of(at: datetime, zone: str) -> str:
    """The month of an instant in the company's zone, as 2026-11."""
    return at.astimezone(ZoneInfo(zone)).strftime("%Y-%m")


def units_of(run: RunFacts) -> tuple[Fraction, str]:
    """How many units a run counts, and a caution if its count is missing."""
    if run.basis == "run":
        worked = run.state == "done" and run.outcome == "worked"
        return Fraction(1 if worked else 0), ""
    if run.count_name in run.counts:
        return run.counts[run.count_name], ""
    if run.state == "done" and run.outcome == "worked":
        return Fraction(0), f"the package did not report the count {run.count_name!r}; 0 is posted"
    return Fraction(0), ""


def _rate_used(rate: Rate) -> Used:
    return Used(rate.name, text_of(rate.value, 2), rate.unit, "rate", rate.since)


def _time_saved(line: str, units: Fraction, minutes: Rate, hour: Rate, said: str) -> Entry:
    hours = units * minutes.value / 60
    money = hours * hour.value
    working = Working(
        line,
        text_of(money, 2),
        "money",
        "units × minutes each ÷ 60 × what an hour costs",
        parts=(Part("Hours", text_of(hours, 4) or "", "units × minutes ÷ 60"),),
        inputs=(Used("Units", text_of(units, 0), said, "run"), _rate_used(minutes), _rate_used(hour)),
    )
    return Entry(line, units, hours, money, (minutes.rate_id, hour.rate_id), working)


def post(run: RunFacts, minutes: Rate | None, hour: Rate, robot_hour: Rate) -> Posting:
    """The entries of one ended run. Trial runs post nothing.

    `minutes` is the approved minutes by hand; without it no benefit is posted and a caution says so.
    """
    if run.trial:
        return Posting(())
    entries: list[Entry] = []
    caution = ""
    if run.counting and minutes is None:
        caution = "no approved minutes by hand were in force, so no benefit is posted"
    elif run.counting and minutes is not None:
        units, caution = units_of(run)
        entries.append(_time_saved("time saved", units, minutes, hour, run.count_name or "runs"))
        back = run.counts.get(HANDED_BACK, Fraction(0))
        if back:
            each = Rate(
                minutes.rate_id,
                "Minutes for one handed back",
                run.exception_minutes,
                "min",
                minutes.since,
            )
            taken = _time_saved("handed back", -back, each, hour, "handed back")
            entries.append(taken)
    robot_hours = run.robot_minutes / 60
    entries.append(_robot_time(robot_hours, robot_hour))
    return Posting(tuple(entries), caution)


def _robot_time(hours: Fraction, price: Rate) -> Entry:
    money = -hours * price.value
    working = Working(
        "robot time",
        text_of(money, 2),
        "money",
        "− robot hours × standard price of a robot hour",
        inputs=(Used("Robot hours", text_of(hours, 4), "h", "run"), _rate_used(price)),
    )
    return Entry("robot time", Fraction(0), Fraction(0), money, (price.rate_id,), working)
