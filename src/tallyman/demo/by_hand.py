"""What no robot does in the demo: tools of desks and measures, measured, promised and counted by hand."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from fractions import Fraction

from tallyman.core.exact import plain
from tallyman.demo.past import Past
from tallyman.services.cases import measures
from tallyman.services.rates import rates
from tallyman.services.tally import counts
from tallyman.store.records.tally import TallyNewestMinutesRate

MOST_MONTHS = 14
# What ran long before the team was there was registered at its beginning.
TEAM_BEGAN = 560
# Of each what one takes afterwards, of a hundred, and how much of the promised volume comes.
AFTER = (55, 40, 70, 30)
COMES = (96, 88, 104, 71, 93)


@dataclass(frozen=True)
class Brought:
    """Something in service without a robot: since when, who answers for it, how much comes a year."""

    idea: int
    since: date
    owner: str
    a_year: Fraction
    minutes: Fraction


def months(since: date, last: date) -> Iterator[tuple[date, date]]:
    """The spans of days of each month that is over, from a day on; at most the latest ones."""
    spans = []
    first = since
    while first <= last:
        after = date(first.year + first.month // 12, first.month % 12 + 1, 1)
        spans.append((first, after - timedelta(days=1)))
        first = after
    yield from (span for span in spans[-MOST_MONTHS:] if span[1] <= last)


def play(loader: Past, brought: list[Brought]) -> None:
    """Each is promised, measured, approved and counted month by month."""
    for n, one in enumerate(brought):
        ago = min(max((loader.now.date() - one.since).days, 1), TEAM_BEGAN)
        after = one.minutes * AFTER[n % len(AFTER)] / 100
        said = {
            "volume_per_year": plain(one.a_year),
            "minutes_before": plain(one.minutes),
            "minutes_after": plain(after),
            "once": str(400 + 150 * (n % 3)),
            "running": str(60 * (n % 2)),
        }
        last = loader.now.date().replace(day=1) - timedelta(days=1)
        spans = list(months(one.since, last))
        counted_from = spans[0][0] if spans else one.since
        measures.promise(loader.ctx("Ines Varga", ago), one.idea, said, counted_from, "", 0)
        mei = loader.ctx("Mei Tanaka", max(ago - 12, 0.5))
        day = max(one.since, min(one.since + timedelta(days=10), mei.now.date()))
        where = "a week at two desks, each case timed"
        measures.note(mei, one.idea, "before", plain(one.minutes), 40, one.since - timedelta(days=6), where)
        measures.note(mei, one.idea, "after", plain(after), 35, day, "the same two desks, each case timed")
        _approve(loader, one.idea, max(ago - 15, 0.3))
        owner = loader.with_all(one.owner, 0.2)
        for at, (first, until) in enumerate(spans):
            share = Fraction(((until - first).days + 1) * COMES[(n + at) % len(COMES)], 100 * 365)
            given = counts.Given(first, until, int(one.a_year * share), "the desk's own list")
            counts.add(owner, one.idea, given, f"by-hand-{one.idea}-{first}")


def _approve(loader: Past, idea: int, days_ago: float) -> None:
    """The lead approves the minutes saved."""
    row = loader.db.transact(
        lambda tx: tx.one(TallyNewestMinutesRate, "tally.newest_minutes_rate", idea=idea)
    )
    assert row is not None
    rates.settle(loader.ctx("Ines Varga", days_ago), row.id, True)
