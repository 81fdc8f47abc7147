"""Counts far from a routine's usual: noted before they are posted, held for a yes if the house wants."""

from __future__ import annotations

from fractions import Fraction

from tallyman.core.alerts import kinds
from tallyman.core.exact import exact, plain
from tallyman.core.faults import unknown_word
from tallyman.core.tally import entries
from tallyman.errors import InputFaults, NotFound, Refused
from tallyman.services.alerts import tell
from tallyman.services.answers import Choice
from tallyman.services.context import Ctx, audit, changed, in_transaction, unseen
from tallyman.services.house import settings
from tallyman.services.tally.answers import CountsOut, Unusual
from tallyman.services.tally.later import post_later
from tallyman.store.db import Tx
from tallyman.store.records.runs import RunsForPosting
from tallyman.store.records.tally import TallyUnusual

SETTING = "counts"
HELD = "held"
POSTED = "posted"
CHOICES = {
    HELD: "wait for a yes before they are posted",
    POSTED: "are posted, with a caution",
}


def choice(tx: Tx) -> str:
    """What becomes of such counts here."""
    value, _ = settings.read(tx, SETTING)
    return str(value["unusual"]) if value else HELD


def _before(tx: Tx, row: RunsForPosting) -> list[Fraction]:
    """What the routine counted in its last runs, the newest first."""
    name = row.count_name
    rows = tx.values(dict, "tally.usual_counts", routine=row.routine_id, run=row.id)
    return [exact(one[name]) for one in rows if one and name in one]


def why_held(tx: Tx, ctx: Ctx, row: RunsForPosting, facts: entries.RunFacts) -> tuple[str, str]:
    """Why a run's count is not posted yet, and what is to be said of it though it is; mostly neither.

    Notes a count that is far from the usual, and tells those who may correct it, once.
    """
    if not facts.counting or facts.fixed_units is not None or facts.basis != "count":
        return "", ""
    units, _ = entries.units_of(facts)
    case = row.input or {}
    a_year = exact(case["volume_per_year"]) if case.get("volume_per_year") else None
    most = entries.usual_most(_before(tx, row), a_year)
    if most is None or units <= most:
        return "", ""
    known = tx.one(TallyUnusual, "tally.unusual", run=row.id)
    if known is None:
        known = _note(tx, ctx, row, units, most)
    words = f"{plain(units)} {row.count_name} are far from the usual: at most {plain(most)} by what is known"
    if known.held and known.settled_at is None:
        return f"{words}; nothing of it is posted until somebody says that it is right", ""
    return "", f"{words}; it is posted" + (", as somebody said it is right" if known.settled_at else "")


def _note(tx: Tx, ctx: Ctx, row: RunsForPosting, units: Fraction, most: Fraction) -> TallyUnusual:
    held = choice(tx) == HELD
    shown = {"units": plain(units), "usual": plain(most)}
    tx.write("tally.note_unusual", run=row.id, **shown, held=held, now=ctx.now)
    area = tx.value(int, "runs.idea_area", routine=row.routine_id)
    ask = ": is it right?" if held else "; it is posted"
    counted = {"units": shown["units"], "counted": row.count_name, "ask": ask}
    tell(tx, ctx, kinds.UNUSUAL_COUNT, {"id": row.id, "area_id": area}, **counted)
    found = tx.one(TallyUnusual, "tally.unusual", run=row.id)
    assert found is not None
    return found


def of_run(tx: Tx, run_id: int) -> Unusual | None:
    """What was noted of a run's count, if it waits for a yes."""
    row = tx.one(TallyUnusual, "tally.unusual", run=run_id)
    if row is None or not row.held or row.settled_at is not None:
        return None
    return Unusual(row.units, row.usual, row.noted_at)


def counted_run(tx: Tx, ctx: Ctx, run_id: int) -> RunsForPosting:
    """What of a run is reckoned, for whoever may correct the tally there; Forbidden or NotFound otherwise."""
    row = tx.one(RunsForPosting, "runs.for_posting", id=run_id)
    if row is None:
        missing = NotFound(f"There is no run R-{run_id}.", "Choose one in the list.")
        raise unseen(ctx, "value.change", False, missing)
    ctx.require_at("value.change", tx.value(int, "runs.idea_area", routine=row.routine_id))
    return row


@in_transaction
def say_right(tx: Tx, ctx: Ctx, run_id: int) -> None:
    """Says that a count far from the usual is right: it is posted. Raises Refused if none waits."""
    ctx.require("value.change")
    counted_run(tx, ctx, run_id)
    if not tx.write("tally.settle_unusual", run=run_id, person=ctx.actor.person_id, now=ctx.now):
        raise Refused(f"No count of R-{run_id} waits for a yes.", "Load the page again.")
    words = f"Said that the count of R-{run_id} is right"
    audit(tx, ctx, "unusual count settled", f"run:{run_id}", words)
    post_later(tx, ctx, run_id)
    changed(tx, ctx, "runs", run_id)


@in_transaction
def shown(tx: Tx, ctx: Ctx) -> CountsOut:
    """What becomes of counts far from the usual, and what can be chosen."""
    ctx.require("value.see")
    _, version = settings.read(tx, SETTING)
    return CountsOut(
        unusual=choice(tx),
        choices=[Choice(value=key, words=words) for key, words in CHOICES.items()],
        version=version,
        may_change=ctx.actor.may("house.change"),
    )


@in_transaction
def choose(tx: Tx, ctx: Ctx, unusual: str, version: int) -> None:
    """The house chooses what becomes of counts far from the usual."""
    ctx.require("house.change")
    if unusual not in CHOICES:
        raise InputFaults([unknown_word("unusual", unusual, CHOICES)])
    before = choice(tx)
    settings.keep(tx, ctx, SETTING, {"unusual": unusual}, version)
    words = f"Counts far from the usual {CHOICES[unusual]}"
    audit(tx, ctx, "counts rule changed", "setting:counts", words, {"unusual": before}, {"unusual": unusual})
    changed(tx, ctx, "tally")
