"""A case year by year: what the work costs without and with robots, each with its working (rules §3)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from tallyman.core.cases.business_case import Case
from tallyman.core.exact import exact, text_of
from tallyman.core.working import Part, Working


@dataclass(frozen=True)
class Year:
    """A year from the start: what the work costs without and with robots, and what becomes of it; money.

    `live` is the share of the year after go-live; `to_build` is None but in the first year.
    """

    live: Fraction
    before: Fraction
    people: Fraction
    after: Fraction
    saved: Fraction
    to_run: Fraction
    to_build: Fraction | None
    net: Fraction


def years_of(figures: Case) -> list[Year] | None:
    """Each of the three years (rules §3); None while the nets are missing."""
    if figures.live_parts is None or figures.net is None:
        return None
    saving, running = figures.saving or Fraction(0), figures.running or Fraction(0)
    before = figures.cost_before or Fraction(0)
    rows = []
    for year, live in enumerate(figures.live_parts):
        once = None if year else figures.one_time or Fraction(0)
        people = before - live * saving
        after = people + live * running + (once or Fraction(0))
        rows.append(Year(live, before, people, after, live * saving, live * running, once, figures.net[year]))
    return rows


def costs_by_year(figures: Case) -> dict[str, Working]:
    """How the cost of the work comes about in each year, without and with robots (rules §3)."""
    found: dict[str, Working] = {}
    for n, row in enumerate(years_of(figures) or [], 1):
        share = f"{text_of(row.live * 100, 1)} % of the year"
        people = text_of(row.people, 2) or ""
        kept = text_of(row.live * (figures.cost_after_people or Fraction(0)), 2) or ""
        alone = text_of((1 - row.live) * row.before, 2) or ""
        once = () if row.to_build is None else (Part("To build", text_of(row.to_build, 2) or ""),)
        found[f"before_{n}"] = Working(
            f"Cost of the work in year {n}, without robots",
            text_of(row.before, 2),
            "money",
            "cost of the work today, a year",
            parts=(Part("Cost of the work today, a year", text_of(row.before, 2) or ""),),
        )
        found[f"people_{n}"] = Working(
            f"Cost of people in year {n}, with robots",
            people,
            "money",
            "all of it before go-live + what people still do from then on",
            parts=(Part("Before go-live", alone), Part("From go-live", kept, share)),
        )
        found[f"after_{n}"] = Working(
            f"All costs of the work in year {n}, with robots",
            text_of(row.after, 2),
            "money",
            "people + to run" + (" + to build" if once else ""),
            parts=(Part("People", people), Part("To run", text_of(row.to_run, 2) or "", share), *once),
        )
    return found


def benefits(lines: Sequence[Mapping[str, Any]]) -> Working:
    """The benefit lines of a case, a year; empty while an amount is missing (rules §3)."""
    amounts = [row["a_year"] for row in lines]
    total = None if None in amounts else sum((exact(one) for one in amounts), Fraction(0))
    return Working(
        "Benefit lines, a year",
        text_of(total, 2),
        "money",
        "sum of the lines; kept apart from time saved, and out of payback and NPV",
        parts=tuple(Part(row["name"], row["a_year"] or "–", row.get("how") or row["kind"]) for row in lines),
    )
