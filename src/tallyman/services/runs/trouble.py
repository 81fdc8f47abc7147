"""Telling of runs that came to no good end: at once, and for one routine no more than once an hour."""

from __future__ import annotations

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from tallyman.core.alerts import kinds
from tallyman.core.said import time_said
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, company_of
from tallyman.store.db import Tx
from tallyman.store.records.runs import Run
from tallyman.store.records.selfservice import ServiceRunOf

# A routine that fails every minute is told of once; the rest is seen where the message leads.
QUIET = timedelta(hours=1)
TOLD_AS = {"failed": "failed", "lost": "was lost", "lapsed": "lapsed"}
LONGEST_WHY = 240


def tell_of_end(tx: Tx, ctx: Ctx, run_id: int, state: str, reason: str) -> None:
    """Tells those who look after runs there that one failed, was lost or lapsed; trial runs are watched."""
    run = tx.one(Run, "runs.one", id=run_id)
    _tell_colleague(tx, ctx, run_id, state, reason)
    if run is not None and run.trial_of is not None:
        _tell_of_trial(tx, ctx, run, state, reason)
    if state not in TOLD_AS or run is None or run.trial:
        return
    told = {"object": f"routine:{run.routine_id}", "kind": kinds.RUN_ENDED_BADLY.key}
    last = tx.value(datetime, "alerts.told_last", **told)
    if last is not None and last > ctx.now - QUIET:
        return
    verb = TOLD_AS[state]
    why = reason if len(reason) <= LONGEST_WHY else reason[: LONGEST_WHY - 1] + "…"
    row = {"id": run.routine_id, "area_id": run.area_id}
    said = {"run": run_id, "routine": run.routine, "verb": verb, "why": why or "it gave no reason"}
    said["more"] = _more(tx, run, last)
    tell(tx, ctx, kinds.RUN_ENDED_BADLY, row, **said)


def _tell_colleague(tx: Tx, ctx: Ctx, run_id: int, state: str, reason: str) -> None:
    """The end of a run that somebody started on a self-service page, to them."""
    asked = tx.one(ServiceRunOf, "service_runs.who_asked", run=run_id)
    if asked is None or state == "held":
        return
    why = f": {reason[:LONGEST_WHY]}" if reason and state != "done" else ""
    how = {**TOLD_AS, "done": "is done", "failed": "did not work", "cancelled": "was stopped"}
    said = {"title": asked.title, "how": f"it {how[state]}{why}"}
    tell(tx, ctx, kinds.SERVICE_ENDED, {"id": run_id}, [asked.person_id], **said)


def _tell_of_trial(tx: Tx, ctx: Ctx, run: Run, state: str, reason: str) -> None:
    """The test notice of a robot's trial run, to whoever started it."""
    if state == "held":
        return
    ended = f"{state}: {reason or 'no reason given'}"
    how = "passed: it went there and came back" if state == "done" else ended[:LONGEST_WHY]
    row = {"id": run.trial_of, "area_id": run.area_id}
    said = {"run": run.id, "routine": run.routine, "how": how}
    tell(tx, ctx, kinds.TRIAL_ENDED, row, [run.started_by], **said)


def _more(tx: Tx, run: Run, last: datetime | None) -> str:
    """How many others came to no good end since people were told last; nothing is kept from them."""
    if last is None:
        return ""
    others = tx.count("runs.bad_since", routine=run.routine_id, since=last, run=run.id)
    at = time_said(last.astimezone(ZoneInfo(company_of(tx).zone)))
    return f"; {others} more of it came to no good end since {at}" if others else ""
