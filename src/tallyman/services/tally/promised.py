"""What ideas were promised, by every promise that was ever made for them, as the tally is set against it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from zoneinfo import ZoneInfo

from tallyman.core.cases import (
    PROMISED_LINES,
    YEAR_DAYS,
    Promised,
    month_of,
    promised_a_year,
    promised_between,
    promised_days,
)
from tallyman.core.said import day_said
from tallyman.core.tally.sums import money_of
from tallyman.core.working import Used, Working
from tallyman.services.context import company_of
from tallyman.store.db import Tx
from tallyman.store.records.tally import TallyFormerPromised, TallyPromised

EVER = date(1, 1, 1)


@dataclass(frozen=True)
class Promises:
    """Every promise of one idea, the first one first; `row` is the one in force."""

    row: TallyPromised
    made: tuple[Promised, ...]

    @property
    def first_month(self) -> str:
        """The month from which something was promised."""
        return min(one.go_live for one in self.made).strftime("%Y-%m")

    def to(self, today: date) -> Fraction:
        """The saving promised up to a day."""
        return promised_between(self.made, EVER, today)

    def of_month(self, month: str, today: date) -> Fraction:
        """The saving promised for a month; of the running one only up to today."""
        first, last = month_of(month)
        return promised_between(self.made, first, min(last, today))

    def of_line(self, line: str, today: date) -> tuple[Fraction, Working]:
        """What a line was promised up to a day, and its working: a step for each promise while in force."""
        days = promised_days(self.made, EVER, today)
        amount = promised_between(self.made, EVER, today, line)
        steps = tuple(promised_step(one, count, line, PROMISED_LINES[line]) for one, count in days)
        return amount, Working(
            "Promised to date",
            money_of(amount),
            "money",
            "sum of the promises, each while in force",
            steps=steps,
        )

    def said(self, today: date) -> str:
        """From when to when, in words."""
        if len(self.made) == 1:
            return f"from its promised go-live {day_said(self.row.go_live_on)} to {day_said(today)}"
        said = ", ".join(
            f"{count} days by that of {day_said(one.made)}"
            for one, count in promised_days(self.made, EVER, today)
        )
        return f"each day by the promise in force, to {day_said(today)}: {said or 'no day yet'}"


def promised_step(one: Promised, days: int, line: str, words: str) -> Working:
    """What one promise comes to over the days on which it was in force."""
    made = one.made.isoformat()
    return Working(
        f"By the promise of {day_said(one.made)}",
        money_of(one.yearly[line] * days / YEAR_DAYS),
        "money",
        f"a year × days in force ÷ {YEAR_DAYS}",
        inputs=(
            Used("A year", money_of(one.yearly[line]), "money", words, made),
            Used("Days in force", str(days), "days", f"from {day_said(one.go_live)}", made),
        ),
    )


def promises_of(tx: Tx, rows: Iterable[TallyPromised]) -> list[Promises]:
    """The promises of ideas, given the one in force of each."""
    found = list(rows)
    zone = ZoneInfo(company_of(tx).zone)
    former: defaultdict[int, list[TallyFormerPromised]] = defaultdict(list)
    for row in tx.all(
        TallyFormerPromised, "tally.former_promised", ideas=tuple(one.idea_id for one in found) or (0,)
    ):
        former[row.idea_id].append(row)

    def read(row: TallyFormerPromised | TallyPromised) -> Promised:
        return Promised(
            row.at.astimezone(zone).date(), row.go_live_on, promised_a_year(row.input, row.result)
        )

    return [Promises(row, (*map(read, former[row.idea_id]), read(row))) for row in found]
