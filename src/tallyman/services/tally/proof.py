"""Proving the ledger and the runs: every line names one thing that is wrong."""

from __future__ import annotations

from datetime import timedelta

from tallyman.services.context import Ctx
from tallyman.services.tally import counts
from tallyman.store.db import Tx
from tallyman.store.records.runs import (
    RunsCheckHanded,
    RunsCheckLocks,
    RunsCheckRunning,
    RunsCheckSlots,
    RunsCheckStarts,
    RunsCheckStuck,
)
from tallyman.store.records.tally import (
    TallyCheckCorrections,
    TallyCheckEntries,
    TallyCheckReversals,
    TallyCheckSums,
)

STUCK_AFTER = timedelta(minutes=5)


def _ledger(tx: Tx) -> list[str]:
    wrong = [
        f"sum of {row.month} idea {row.idea_id} {row.line} differs from its entries"
        for row in tx.all(TallyCheckSums, "tally.check_sums")
    ]
    wrong += [
        f"{row.entries} entries of {row.month} {row.line} are in no sum"
        for row in tx.all(TallyCheckEntries, "tally.check_entries")
    ]
    wrong += [f"run {row} ended and posted nothing" for row in tx.values(int, "tally.check_unposted")]
    wrong += [
        f"{row} is closed and holds not what was signed" for row in tx.values(str, "tally.check_closed")
    ]
    wrong += [
        f"the corrections of {row.source} {row.line} have a gap"
        for row in tx.all(TallyCheckCorrections, "tally.check_corrections")
    ]
    wrong += [
        f"reversal {row.correction} of {row.source} {row.line} does not take back what stood"
        for row in tx.all(TallyCheckReversals, "tally.check_reversals")
    ]
    return wrong


def _runs(tx: Tx, ctx: Ctx) -> list[str]:
    wrong = [
        f"place {row.kind} {row.owner_id}/{row.n} is held by run {row.run_id}, which does not run"
        for row in tx.all(RunsCheckSlots, "runs.check_slots")
    ]
    wrong += [
        f"run {row.id} runs with {row.places} of its 3 places"
        for row in tx.all(RunsCheckRunning, "runs.check_running")
    ]
    wrong += [
        f"run {row.id} is handed out although it is {row.state}"
        for row in tx.all(RunsCheckHanded, "runs.check_handed")
    ]
    wrong += [
        f"run {row.id} runs without the lock {row.name}" for row in tx.all(RunsCheckLocks, "runs.check_locks")
    ]
    wrong += [
        f"run {row.id} is {row.state}, which its times do not fit"
        for row in tx.all(RunsCheckHanded, "runs.check_states")
    ]
    wrong += [
        f"a segment of run {row.id} goes on although it is {row.state}"
        for row in tx.all(RunsCheckHanded, "runs.check_segments")
    ]
    wrong += [
        f"run {row.id} runs although its lease ended at {row.lease_until:%Y-%m-%d %H:%M} UTC"
        for row in tx.all(RunsCheckStuck, "runs.check_stuck", before=ctx.now - STUCK_AFTER)
    ]
    wrong += [
        f"start {row.id} names run {row.run_id}, which is not its own"
        for row in tx.all(RunsCheckStarts, "runs.check_starts")
    ]
    return wrong


def verify(ctx: Ctx) -> list[str]:
    """Proves sums, states, places, segments, starts, corrections and postings; empty if all is right."""
    return ctx.db.transact(lambda tx: _ledger(tx) + counts.verify(tx) + _runs(tx, ctx))
