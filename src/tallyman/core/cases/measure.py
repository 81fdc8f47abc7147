"""What a measure that is no robot, or an automation that ran already, is promised to bring: the case of work
that takes fewer minutes from a day on, by the same rules as any other case."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Any

from tallyman.core.exact import exact, plain, text_of
from tallyman.core.faults import Fault, InputFaults
from tallyman.core.working import Used, Working

LARGEST = {"volume_per_year": 10**9, "minutes_before": 10**5, "minutes_after": 10**5}
MONEY = 10**9
# What only robots cost: nothing here.
WITHOUT_ROBOTS = {
    "automatable_share": "1",
    "rework_share": "0",
    "rework_minutes": "0",
    "robot_minutes": "0",
    "robot_exception_share": "0",
    "robot_exception_minutes": "0",
    "seat_cost_per_year": "0",
    "support_share": "0",
    "other_software_per_year": "0",
    "robot_hours_per_day": "24",
    "robot_days_per_year": "365",
    "phases": [],
}


def read_measure(given: Mapping[str, Any]) -> dict[str, Fraction]:
    """Checks what somebody says of a measure: items a year, minutes each before and after, cost once and a
    year. Raises InputFaults with every fault."""
    faults, read = [], {}
    for name, most in {**LARGEST, "once": MONEY, "running": MONEY}.items():
        try:
            value = exact(given.get(name))
            if not 0 <= value <= most:
                raise ValueError(f"allowed: 0 to {most:,}")
            read[name] = value
        except ValueError as error:
            faults.append(Fault(name, given.get(name), str(error)))
    if not faults and read["minutes_after"] >= read["minutes_before"]:
        message = f"is to be less than before, which is {plain(read['minutes_before'])}"
        faults.append(Fault("minutes_after", given.get("minutes_after"), message))
    if faults:
        raise InputFaults(faults)
    return read


def measure_case(
    read: Mapping[str, Fraction],
    hour: Fraction,
    discount_rate: Fraction,
    currency: str,
    go_live: date,
) -> dict[str, Any]:
    """The input of a business case for a checked measure: every item takes the minutes saved less.

    `hour`: what an hour costs, in money; `discount_rate`: a share a year; `go_live`: its first day.
    """
    running = [{"name": "what it costs to keep", "amount": plain(read["running"])}] if read["running"] else []
    return {
        **WITHOUT_ROBOTS,
        "currency": currency,
        "volume_per_year": plain(read["volume_per_year"]),
        "handling_minutes": plain(read["minutes_before"] - read["minutes_after"]),
        "minutes_before": plain(read["minutes_before"]),
        "minutes_after": plain(read["minutes_after"]),
        "cost_per_hour": plain(hour),
        "discount_rate": plain(discount_rate),
        "one_time_other": plain(read["once"]),
        "running_lines": running,
        "start": go_live.isoformat(),
        "go_live": go_live.isoformat(),
    }


@dataclass(frozen=True)
class Saving:
    """What a measure saves in a year of 365 days: hours, and money by what an hour costs."""

    hours: Fraction
    money: Fraction
    working: Working


def saving_of(read: Mapping[str, Fraction], hour: Used) -> Saving:
    """What a checked measure saves in a year, with its working; `hour`: what an hour costs, and from when."""
    hours = read["volume_per_year"] * (read["minutes_before"] - read["minutes_after"]) / 60
    money = hours * exact(hour.value)
    here = "this form"
    of_hours = Working(
        "Hours saved a year",
        text_of(hours, 4),
        "h",
        "items a year × (minutes before − minutes after) ÷ 60",
        inputs=(
            Used("Items a year", plain(read["volume_per_year"]), "", here),
            Used("Minutes before", plain(read["minutes_before"]), "min", here),
            Used("Minutes after", plain(read["minutes_after"]), "min", here),
        ),
    )
    working = Working(
        "Saving a year",
        text_of(money, 2),
        "money",
        "hours saved a year × an hour costs",
        inputs=(hour,),
        note="By the same rules as any case: a year of 365 days, at the rate of the day of the promise.",
        steps=(of_hours,),
    )
    return Saving(hours, money, working)
