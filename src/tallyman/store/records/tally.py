"""Records of the room `tally`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any, ClassVar

from tallyman.core.ideas.words import Stage
from tallyman.core.rates.words import RateState
from tallyman.core.tally.words import CountSource, EntryKind, MonthState
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AttendedSumsSums(Record):
    """What runs on people's own computers posted, line by line, in areas that the reader may see."""

    line: str
    runs: int
    hours: Decimal
    money: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CountsOfIdea(Record):
    """The units that were given for an idea by hand, the latest first."""

    id: int
    first_on: date
    last_on: date
    units: Decimal
    evidence: str
    source: CountSource
    at: datetime
    taken_back_at: datetime | None
    person: str
    entries: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HandCounted(Record):
    """One count."""

    id: int
    idea_id: int
    first_on: date
    last_on: date
    units: Decimal
    evidence: str
    source: CountSource
    taken_back_at: datetime | None
    person_id: int
    area_id: int | None
    title: str
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CountsOverlapping(Record):
    """A count of an idea that holds a day of a span."""

    id: int
    first_on: date
    last_on: date
    units: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CountsCountedSince(Record):
    """From when to when routines counted for an idea, also while a next release was tried; the one …"""

    live_at: datetime | None
    ended_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CountsStanding(Record):
    """What stands in the tally for each count by hand, but for those that are about to be posted."""

    id: int
    units: Decimal
    money: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RateInForce(Record):
    """The approved rate of a kind in force on a day; the latest approved one of a day wins."""

    id: int
    value: Decimal
    since: date


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyRates(Record):
    """All rates by kind, the newest first."""

    id: int
    kind: str
    idea_id: int
    idea: str | None
    what: str
    division_id: int
    division: str | None
    value: Decimal
    since: date
    state: RateState
    source: str
    made_by: int
    proposer: str
    made_at: datetime
    approver: str | None
    approved_at: datetime | None
    area_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyRate(Record):
    """One rate."""

    id: int
    kind: str
    idea_id: int
    value: Decimal
    since: date
    state: RateState
    made_by: int
    area_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyRatesToSettle(Record):
    """Proposed rates that somebody else may approve."""

    id: int
    kind: str
    idea_id: int
    idea: str
    value: Decimal
    since: date
    source: str
    proposer: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyNewestMinutesRate(Record):
    """The newest rate of minutes by hand of an idea that is approved, or may still be."""

    id: int
    value: Decimal
    since: date
    state: RateState


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyMonths(Record):
    """All months with their state."""

    JSON: ClassVar[tuple[int, ...]] = (4,)
    month: str
    state: MonthState
    closed_at: datetime | None
    month_end_at: datetime | None
    open: Any
    closed_by: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyPosted(Record):
    """What stands posted for a source: by line its net amounts and its last correction number."""

    line: str
    units: Decimal
    hours: Decimal
    money: Decimal
    correction: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallySumsOfIdea(Record):
    """The roll-ups of an idea by month and line."""

    month: str
    line: str
    units: Decimal
    hours: Decimal
    money: Decimal
    entries: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallySumsOfAll(Record):
    """The roll-ups of every idea over all months."""

    idea_id: int
    line: str
    units: Decimal
    hours: Decimal
    money: Decimal
    entries: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallySumsByMonth(Record):
    """The roll-ups of every month over all ideas."""

    month: str
    line: str
    units: Decimal
    hours: Decimal
    money: Decimal
    entries: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyEntriesOfMonth(Record):
    """The entries of an idea in a month, after an entry number."""

    JSON: ClassVar[tuple[int, ...]] = (8, 13)
    id: int
    run_id: int | None
    line: str
    units: Decimal
    hours: Decimal
    money: Decimal
    at: datetime
    belongs_to: str
    rates: Any
    routine: str | None
    routine_id: int | None
    kind: EntryKind
    why: str
    facts: Any
    person: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyEntriesOfRun(Record):
    """What one run posted."""

    JSON: ClassVar[tuple[int, ...]] = (9,)
    id: int
    idea_id: int | None
    line: str
    month: str
    units: Decimal
    hours: Decimal
    money: Decimal
    at: datetime
    posted_at: datetime
    rates: Any
    kind: EntryKind
    why: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyRatesByIds(Record):
    """Rates that entries were reckoned with."""

    id: int
    kind: str
    value: Decimal
    since: date


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyUnusual(Record):
    """Whether a run's count is far from the usual, and what was said of it."""

    BOOLS: ClassVar[tuple[int, ...]] = (3,)
    run_id: int
    units: Decimal
    usual: Decimal
    held: bool
    noted_at: datetime
    settled_by: int | None
    settled_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyUnusualOpen(Record):
    """Counts that wait for a yes."""

    run_id: int
    units: Decimal
    usual: Decimal
    noted_at: datetime
    routine: str
    idea_id: int
    idea: str
    area_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyPromised(Record):
    """The promises of all ideas, with their going into service."""

    JSON: ClassVar[tuple[int, ...]] = (6, 7)
    idea_id: int
    title: str
    stage: Stage
    live_on: date | None
    at: datetime
    go_live_on: date
    result: Any
    input: Any
    area_id: int | None
    division: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyFormerPromised(Record):
    """The promises of some ideas that a later one took the place of, in the order in which they were …"""

    JSON: ClassVar[tuple[int, ...]] = (4, 5)
    idea_id: int
    number: int
    at: datetime
    go_live_on: date
    result: Any
    input: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyFixOfRun(Record):
    """What a person said a run is to be counted as."""

    units: Decimal
    handed_back: Decimal
    why: str
    at: datetime
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallySumOfMonth(Record):
    """What a month holds, over all its entries."""

    entries: int
    hours: Decimal
    money: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyInService(Record):
    """Promised ideas in service in a month, with what their costs are reckoned from."""

    JSON: ClassVar[tuple[int, ...]] = (4, 5)
    idea_id: int
    title: str
    live_on: date
    retired_on: date | None
    input: Any
    result: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyCheckSums(Record):
    """Roll-ups that differ from their entries."""

    month: str
    idea_id: int
    line: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyCheckEntries(Record):
    """Entries of a month and line that no roll-up holds."""

    month: str
    line: str
    entries: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyCheckCorrections(Record):
    """Sources whose corrections do not follow one another without a gap; the first 20."""

    source: str
    line: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TallyCheckReversals(Record):
    """Reversals that do not take back exactly what stood before them; the first 20."""

    source: str
    line: str
    correction: int


GIVES: dict[str, type[Record]] = {
    "attended_sums.sums": AttendedSumsSums,
    "counts.of_idea": CountsOfIdea,
    "counts.one": HandCounted,
    "counts.overlapping": CountsOverlapping,
    "counts.counted_since": CountsCountedSince,
    "counts.standing": CountsStanding,
    "tally.rate_in_force": RateInForce,
    "tally.rate_in_force_for": RateInForce,
    "tally.rates": TallyRates,
    "tally.rate": TallyRate,
    "tally.rates_to_settle": TallyRatesToSettle,
    "tally.newest_minutes_rate": TallyNewestMinutesRate,
    "tally.months": TallyMonths,
    "tally.posted": TallyPosted,
    "tally.sums_of_idea": TallySumsOfIdea,
    "tally.sums_of_all": TallySumsOfAll,
    "tally.sums_by_month": TallySumsByMonth,
    "tally.entries_of_month": TallyEntriesOfMonth,
    "tally.entries_of_run": TallyEntriesOfRun,
    "tally.rates_by_ids": TallyRatesByIds,
    "tally.unusual": TallyUnusual,
    "tally.unusual_open": TallyUnusualOpen,
    "tally.promised": TallyPromised,
    "tally.promised_of_idea": TallyPromised,
    "tally.former_promised": TallyFormerPromised,
    "tally.fix_of_run": TallyFixOfRun,
    "tally.sum_of_month": TallySumOfMonth,
    "tally.in_service": TallyInService,
    "tally.check_sums": TallyCheckSums,
    "tally.check_entries": TallyCheckEntries,
    "tally.check_corrections": TallyCheckCorrections,
    "tally.check_reversals": TallyCheckReversals,
}
