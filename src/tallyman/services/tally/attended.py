"""What runs on people's own computers came to, counted apart: hours saved less those there."""

from __future__ import annotations

from fractions import Fraction

from tallyman.core.exact import text_of
from tallyman.core.tally import sums
from tallyman.core.working import Part, Working
from tallyman.services.context import Ctx
from tallyman.services.tally.answers import AttendedSum
from tallyman.store.db import Tx
from tallyman.store.records.tally import AttendedSumsSums


def of_all(tx: Tx, ctx: Ctx) -> AttendedSum | None:
    """The sum of all attended runs that the reader may see; None where there are none."""
    rows = tx.all(AttendedSumsSums, "attended_sums.sums", **ctx.scope("value.see"))
    if not rows:
        return None
    benefit = [row for row in rows if row.line in sums.BENEFIT]
    hours = sum((Fraction(row.hours) for row in benefit), Fraction(0))
    money = sum((Fraction(row.money) for row in benefit), Fraction(0))
    return AttendedSum(
        runs=max(row.runs for row in rows),
        hours=text_of(hours, 1) or "0.0",
        money=text_of(money, 2) or "0.00",
        hours_working=_working("hours", "h", [(row.line, Fraction(row.hours)) for row in benefit]),
        money_working=_working("money", "money", [(row.line, Fraction(row.money)) for row in benefit]),
    )


def _working(what: str, unit: str, lines: list[tuple[str, Fraction]]) -> Working:
    total = sum((value for _, value in lines), Fraction(0))
    digits = 1 if unit == "h" else 2
    parts = tuple(Part(line, text_of(value, digits) or "0") for line, value in lines)
    name = f"{what} of runs on people's own computers"
    formula = "sum of the entries: what they saved, less the time that a person had to be there"
    return Working(name, text_of(total, digits), unit, formula, parts)
