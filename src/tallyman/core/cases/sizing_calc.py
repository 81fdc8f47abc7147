"""`calc sizing`: share, effort, and yearly hours as a range, on plain JSON (rules §2)."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tallyman.core.cases import sampling, sanity, sizing
from tallyman.core.cases.sampling import Three
from tallyman.core.cases.sizing import RULES_VERSION, Sized
from tallyman.core.exact import Reader, exact, text_of
from tallyman.core.faults import Fault, InputFaults

MOST_WORKING_DAYS = 366


def points(facts: Mapping[str, Any], sized: Sized) -> dict[str, Three] | None:
    """The three-point inputs of a sizing, a year's volume among them; None while one is missing.

    Raises InputFaults when the points of one do not rise.
    """
    minutes = facts.get("handling_minutes")
    if sized.volume_per_year is None or minutes is None or sized.share is None or sized.effort_days is None:
        return None
    volume = float(sized.volume_per_year)
    given = facts.get("volume")
    times = volume / float(exact(given)) if given not in (None, "") and exact(given) else 1.0

    def end(name: str, factor: float = 1.0) -> float | None:
        value = facts.get(name)
        return None if value in (None, "") else float(exact(value)) * factor

    return {
        "volume": sampling.three("volume", end("volume_low", times), volume, end("volume_high", times)),
        "handling_minutes": sampling.three(
            "handling_minutes", end("minutes_low"), float(exact(minutes)), end("minutes_high")
        ),
        "automatable_share": sampling.three(
            "automatable_share", end("share_low"), float(sized.share), end("share_high")
        ),
        "build_effort": sampling.three(
            "build_effort", end("effort_low"), float(sized.effort_days), end("effort_high")
        ),
    }


def decimal(value: float | None, digits: int = 1) -> str | None:
    """A sampled figure as a plain decimal string."""
    return None if value is None else f"{value:.{digits}f}"


def sizing_of(given: dict[str, Any]) -> dict[str, Any]:
    """`calc sizing`: shares to 4 digits, days and hours to 1. Raises InputFaults with every fault."""
    if not isinstance(given, dict):
        raise InputFaults([Fault("input", given, "give one JSON object")])
    reader = Reader(given)
    days = reader.number("working_days", low=0, high=MOST_WORKING_DAYS)
    seed = given.get("seed")
    if isinstance(seed, bool) or not isinstance(seed, int) or seed < 0:
        reader.faults.append(Fault("seed", seed, "give a whole number, such as that of the idea"))
    if days is None or days.denominator != 1:
        reader.faults.append(
            Fault("working_days", given.get("working_days"), "give the working days of a year")
        )
    if reader.faults:
        raise InputFaults(reader.faults)
    assert days is not None and isinstance(seed, int)
    sized = sizing.size(given, int(days))
    three = points(given, sized)
    hours: dict[str, str | None] = {"likely": None, "p10": None, "p50": None, "p90": None}
    moves: list[dict[str, Any]] = []
    if three is not None:
        drawn = sampling.draw(three, seed)
        found = sampling.range_of(sampling.yearly_hours(drawn))
        likely = sampling.yearly_hours({name: point.likely for name, point in three.items()})
        hours = {
            "likely": decimal(likely),
            "p10": decimal(found.p10),
            "p50": decimal(found.p50),
            "p90": decimal(found.p90),
        }
        moves = [
            {"name": one.name, "at_low": decimal(one.at_low), "at_high": decimal(one.at_high)}
            for one in sampling.what_moves(three, sampling.yearly_hours)
            if one.width
        ]
    return {
        "volume_per_year": text_of(sized.volume_per_year, 2),
        "computed_share": text_of(sized.computed_share, 4),
        "automatable_share": text_of(sized.share, 4),
        "computed_effort_days": text_of(sized.computed_effort, 1),
        "build_effort_days": text_of(sized.effort_days, 1),
        "band": sized.band,
        "hours_per_year": hours,
        "moves": moves,
        "asks": [
            {"field": one.field, "words": one.words} for one in sanity.asks(given, sized.hours_per_year)
        ],
        "missing": list(sized.missing),
        "rules_version": RULES_VERSION,
        "working": {
            "volume": sized.volume_working.as_dict(),
            "share": sized.share_working.as_dict(),
            "effort": sized.effort_working.as_dict(),
        },
    }
