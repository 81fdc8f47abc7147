"""A routine started by its address: another program calls it with its own token, and is told of the end."""

from __future__ import annotations

import json
import secrets
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import timedelta
from functools import partial
from urllib.parse import urlsplit

from tallyman.core.free import FreeObject
from tallyman.core.starts.callers import lets_in
from tallyman.core.starts.words import CallOutcome
from tallyman.errors import (
    Away,
    Clash,
    Fault,
    Forbidden,
    InputFaults,
    NotFound,
    NotSignedIn,
    Refused,
    SlowDown,
    TallymanError,
)
from tallyman.formats.schemas import check_inputs
from tallyman.services import runs
from tallyman.services.context import Actor, Ctx, audit
from tallyman.services.house import outgoing
from tallyman.services.people import token_digest
from tallyman.services.starts.answers import Called, RunTold
from tallyman.services.upkeep import Once, Rows, Work
from tallyman.services.workshop import find, startable
from tallyman.store.db import Tx
from tallyman.store.records.starts import CallBackDue, CalledRun, StartAddress
from tallyman.store.records.upkeep import HitchesFind
from tallyman.store.records.workshop import Routine

# So that a token found in a log or a file is known for what it is.
START = "tally_start_"
KEPT = timedelta(days=90)
# Beyond its pace so many refused calls stand in the log of a minute, and one line that says there were more.
MOST_REFUSED_A_MINUTE = 20
LONGEST_WAIT = 60
LONGEST_KEY = 200
TOLD_WITHIN = timedelta(minutes=2)
LONGEST_WHY = 500
NOBODY = NotSignedIn(
    "This token starts nothing here.",
    "Send the token of this routine's address as: Authorization: Bearer TOKEN. It may have been changed.",
)


def _drop(tx: Tx, ctx: Ctx, row: HitchesFind, why: str) -> None:
    tx.write("called.drop_call_back", run=int(row.row_key), words=f"given up: {why}"[:LONGEST_WHY])


CALL_BACKS = Work("call backs", "telling a caller the end of a run", drop=_drop)


@dataclass(frozen=True)
class Call:
    """A call as it came: the token, the JSON it brought, and where it wants to be told of the end."""

    token: str
    inputs: dict[str, object] = field(default_factory=dict)
    key: str = ""
    call_back: str = ""


def _found(tx: Tx, ctx: Ctx, routine_id: int, token: str) -> StartAddress:
    """The address of a routine, if the token is its own. Raises NotSignedIn, and says nothing more."""
    row = tx.one(StartAddress, "called.address", routine=routine_id)
    digest = token_digest(token)
    if row is None or not token.startswith(START):
        raise NOBODY
    old = row.old_digest if row.old_until is not None and row.old_until > ctx.now else None
    fits = [secrets.compare_digest(digest, one) for one in (row.token_digest, old) if one is not None]
    if not any(fits):
        raise NOBODY
    return row


def knows(ctx: Ctx, routine_id: int, token: str) -> bool:
    """Whether a token is that of a routine's address."""
    try:
        ctx.db.transact(lambda tx: _found(tx, ctx, routine_id, token))
    except NotSignedIn:
        return False
    return True


def call(ctx: Ctx, routine_id: int, given: Call) -> Called:
    """Starts a routine once for each key, however often it is called with it.

    What is refused stands in the log of the address with its reason, also where the call itself is undone.
    """
    row = ctx.db.transact(lambda tx: _found(tx, ctx, routine_id, given.token))
    came_from = ctx.actor.address[:45]
    try:
        _let_in(ctx, row, came_from)
        return ctx.db.transact(partial(_start, ctx=ctx, routine_id=routine_id, given=given))
    except Away:
        raise
    except Clash:
        # The same key came twice at one moment; the other one made the run.
        return ctx.db.transact(partial(_start, ctx=ctx, routine_id=routine_id, given=given))
    except (TallymanError, InputFaults) as error:
        ctx.db.transact(partial(_refused, ctx=ctx, row=row, error=error))
        raise


def _let_in(ctx: Ctx, row: StartAddress, came_from: str) -> None:
    if not lets_in(row.networks, came_from):
        raise Forbidden(
            f"Calls from {came_from} are not let in.",
            "Whoever looks after the routine adds this address on its page.",
        )
    if _lately(ctx, row.routine_id) >= row.a_minute:
        raise SlowDown(
            f"This address may be called {row.a_minute} times a minute.", "Wait a minute.", seconds=60
        )


def _lately(ctx: Ctx, routine_id: int) -> int:
    since = ctx.now - timedelta(minutes=1)
    return ctx.db.transact(lambda tx: tx.count("called.calls_since", routine=routine_id, since=since))


def _start(tx: Tx, ctx: Ctx, routine_id: int, given: Call) -> Called:
    routine = find(tx, routine_id)
    faults = _faults(routine, given)
    if faults:
        raise InputFaults(faults)
    inputs = {**routine.inputs, **given.inputs}
    once = Once(f"called {routine_id}", given.key, [given.inputs, given.call_back])
    known = once.known(tx, ctx)
    if known is None:
        by = Ctx(ctx.db, ctx.now, Actor(None, f"a call to its address from {ctx.actor.address}"))
        known = runs.add(tx, by, startable(routine), by.actor.name, inputs=inputs)
        once.made(tx, ctx, known)
        if given.call_back:
            tx.write("called.call_back", run=known, address=given.call_back)
        audit(tx, by, "run started", f"run:{known}", f"Started {routine.name} by its address")
        _note(tx, ctx, routine_id, "started", "", known)
        return Called(run=known, repeated=False, told=_told(tx, routine_id, known))
    _note(tx, ctx, routine_id, "repeated", "", known)
    return Called(run=known, repeated=True, told=_told(tx, routine_id, known))


def _faults(routine: Routine, given: Call) -> list[Fault]:
    """All that is wrong with what a call brought, at once."""
    faults = []
    if not 1 <= len(given.key) <= LONGEST_KEY:
        message = f"send a key of your own, new for each start, of 1 to {LONGEST_KEY} characters"
        faults.append(Fault("Idempotency-Key", given.key[:60] or None, message))
    if given.call_back:
        faults += _wrong_call_back(given.call_back)
    if routine.attended and not routine.attended_for:
        message = "works on the computer of whoever starts it; say in its set-up for whom it is"
        faults.append(Fault("routine", routine.name, message))
    try:
        check_inputs(routine.schema, {**routine.inputs, **given.inputs})
    except InputFaults as error:
        faults += error.faults
    return faults


def _wrong_call_back(address: str) -> list[Fault]:
    try:
        parts = urlsplit(address)
        port = parts.port or (443 if parts.scheme == "https" else 80)
    except ValueError:
        parts, port = urlsplit(""), 0
    if parts.scheme not in ("https", "http") or not parts.hostname or parts.username or len(address) > 500:
        message = "give an address such as https://desk.example/ended, up to 500 characters, without a name"
        return [Fault("call_back", address[:120], message)]
    try:
        outgoing.check(parts.hostname, port, "call_back")
    except InputFaults as error:
        return list(error.faults)
    return []


def _note(tx: Tx, ctx: Ctx, routine_id: int, outcome: CallOutcome, why: str, run: int | None = None) -> None:
    note = {"routine": routine_id, "outcome": outcome, "why": why[:LONGEST_WHY], "run": run}
    tx.write("called.note", **note, came_from=ctx.actor.address[:45], now=ctx.now)


def _refused(tx: Tx, ctx: Ctx, row: StartAddress, error: TallymanError | InputFaults) -> None:
    """Notes why a call was refused; of very many in one minute the first, and that there were more."""
    since = ctx.now - timedelta(minutes=1)
    listed = tx.count("called.calls_since", routine=row.routine_id, since=since)
    most = row.a_minute + MOST_REFUSED_A_MINUTE
    if listed > most:
        return
    why = str(error)
    if isinstance(error, InputFaults):
        why = "; ".join(_said_of(one) for one in error.faults)
    if listed == most:
        why = "more calls were refused in this minute than stand here"
    _note(tx, ctx, row.routine_id, "refused", why)


def _said_of(fault: Fault) -> str:
    value = "" if fault.value is None else f" “{str(fault.value)[:60]}”"
    return f"{fault.field}{value}: {fault.message}"


def _told(tx: Tx, routine_id: int, run_id: int) -> RunTold:
    row = tx.one(CalledRun, "called.called_run", routine=routine_id, run=run_id)
    assert row is not None
    return _said(row)


def _said(row: CalledRun | CallBackDue) -> RunTold:
    return RunTold(
        run=row.id,
        state=row.state,
        outcome=row.outcome,
        reason=row.reason,
        made_at=row.made_at,
        started_at=row.started_at,
        ended_at=row.ended_at,
        outputs=row.outputs or {},
    )


def run(ctx: Ctx, routine_id: int, run_id: int, token: str) -> RunTold:
    """How a run stands that this address started. Raises NotFound for any other."""

    def work(tx: Tx) -> RunTold:
        address = _found(tx, ctx, routine_id, token)
        if not lets_in(address.networks, ctx.actor.address):
            raise Forbidden(f"Calls from {ctx.actor.address} are not let in.", "Ask who looks after it.")
        row = tx.one(CalledRun, "called.called_run", routine=routine_id, run=run_id)
        if row is None:
            raise NotFound(f"This address started no run {run_id}.", "Take the number of its answer.")
        return _said(row)

    return ctx.db.transact(work)


# ---- told of the end ---------------------------------------------------------------------------------

# Given address and JSON; raises for whatever is no yes.
Tell = Callable[[str, FreeObject], str]


def tell_callers(ctx: Ctx, tell: Tell | None = None) -> int:
    """Tells each caller that asked for it the end of its run; claimed first, so that one engine does."""
    late = ctx.now - TOLD_WITHIN
    due = ctx.db.transact(lambda tx: tx.all(CallBackDue, "called.call_backs_due", now=ctx.now, late=late))
    turn, done = Rows(ctx, CALL_BACKS), 0
    for row in due:
        about = f"the end of {runs.ref(row.id)}, at {row.address}"
        obj = f"run:{row.id}"
        done += turn.go(str(row.id), partial(_tell, ctx, row, tell or _post), about=about, obj=obj).done
    return done


def _tell(ctx: Ctx, row: CallBackDue, tell: Tell) -> int | None:
    claim, late = secrets.token_hex(16), ctx.now - TOLD_WITHIN
    mine = {"run": row.id, "claim": claim}
    if not ctx.db.transact(lambda tx: tx.write("called.claim_call_back", **mine, now=ctx.now, late=late)):
        return None
    try:
        words = tell(row.address, _json_of(_said(row)))
    except BaseException as error:
        _end(ctx, mine, "waits", str(error) or type(error).__name__)
        raise
    _end(ctx, mine, "sent", words)
    return 1


def _end(ctx: Ctx, mine: dict[str, object], state: str, words: str) -> None:
    sent = ctx.now if state == "sent" else None
    given = {**mine, "state": state, "words": words[:LONGEST_WHY], "sent": sent}
    ctx.db.transact(lambda tx: tx.write("called.end_call_back", **given))


def _json_of(told: RunTold) -> FreeObject:
    return {
        "run": told.run,
        "state": told.state,
        "outcome": told.outcome,
        "reason": told.reason,
        "ended_at": told.ended_at.isoformat() if told.ended_at else None,
        "outputs": told.outputs,
    }


def _post(address: str, body: FreeObject) -> str:
    """Sends JSON to a listed host. Raises Refused for an answer that is no yes."""
    with outgoing.plain() as session:
        heads = {"Content-Type": "application/json", "Idempotency-Key": f"run-{body['run']}"}
        answer = session.post(address, data=json.dumps(body), headers=heads)
    if not answer.ok:
        raise Refused(f"It answered {answer.status_code}.", "Look at what answers there.")
    return f"it answered {answer.status_code}"


TIDIED = {"calls": lambda tx, ctx: tx.write("called.prune", before=ctx.now - KEPT)}
