"""Asking for access: who asks, what for, and the answer of somebody who can give it."""

from __future__ import annotations

from tallyman.core.access.permissions import PERMISSIONS
from tallyman.core.alerts import kinds
from tallyman.errors import Fault, InputFaults, NotFound, Refused
from tallyman.services.access.answers import Decided, RequestOut
from tallyman.services.access.grants import give_in
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.store.db import Tx
from tallyman.store.records.access import AccessRequest, AccessRequests, AccessRequestsOf
from tallyman.store.records.house import Area

LONGEST = 500


@in_transaction
def ask(tx: Tx, ctx: Ctx, permission: str, area_id: int | None, words: str) -> int:
    """Asks for access; the same asked again while it is open gives the same request."""
    faults = []
    if permission and permission not in PERMISSIONS:
        faults.append(Fault("permission", permission, "there is no such permission"))
    if not 1 <= len(words.strip()) <= LONGEST:
        faults.append(Fault("words", words[:40], f"say what you need it for, in 1 to {LONGEST} characters"))
    if faults:
        raise InputFaults(faults)
    tx.value(int, "people.hold", id=ctx.actor.person_id)
    known = tx.value(
        int, "access.same_request", person=ctx.actor.person_id, permission=permission, area=area_id
    )
    if known is not None:
        return int(known)
    if area_id is not None and tx.one(Area, "areas.area", id=area_id) is None:
        raise InputFaults([Fault("area", area_id, "there is no such area; choose one")])
    number = tx.insert(
        "access.add_request",
        person=ctx.actor.person_id,
        permission=permission,
        area=area_id,
        words=words.strip(),
        now=ctx.now,
    )
    audit(tx, ctx, "access asked", f"person:{ctx.actor.person_id}", f"Asked for access: {words.strip()}")
    tell(tx, ctx, kinds.ACCESS_ASKED, {"id": number, "area_id": area_id}, words=words.strip())
    changed(tx, ctx, "access")
    return number


def mine(ctx: Ctx) -> list[RequestOut]:
    """What the actor asked for, and what came of it."""
    rows = ctx.db.transact(
        lambda tx: tx.all(AccessRequestsOf, "access.requests_of", person=ctx.actor.person_id)
    )
    return [_shown(row) for row in rows]


def _shown(row: AccessRequests | AccessRequestsOf) -> RequestOut:
    return RequestOut(
        id=row.id,
        person_id=row.person_id if isinstance(row, AccessRequests) else None,
        person=row.person if isinstance(row, AccessRequests) else None,
        permission=row.permission,
        area_id=row.area_id,
        area=row.area,
        words=row.words,
        state=row.state,
        made_at=row.made_at,
        decided_by=row.decided_by,
        decided_at=row.decided_at,
        answer=row.answer,
    )


def rows_waiting(tx: Tx, ctx: Ctx) -> list[AccessRequests]:
    """Open requests that the actor can answer; one for no area can be answered by all who give roles."""
    areas = ctx.actor.areas("role.decide")
    return [
        row
        for row in tx.all(AccessRequests, "access.requests", state="open")
        if row.person_id != ctx.actor.person_id and (areas is None or row.area_id in areas)
    ]


def waiting(ctx: Ctx) -> list[RequestOut]:
    """The open requests that wait for the actor, oldest first."""
    ctx.require("role.decide")
    return [_shown(row) for row in ctx.db.transact(lambda tx: rows_waiting(tx, ctx))]


@in_transaction
def decide(
    tx: Tx, ctx: Ctx, request_id: int, role_id: int | None, area_id: int | None, answer: str
) -> Decided:
    """Answers a request: gives a role for an area or the company, or (no role) refuses with a reason."""
    ctx.require("role.decide")
    if role_id is None and not answer.strip():
        raise InputFaults([Fault("answer", answer, "say why not, and what would help")])
    row = tx.one(AccessRequest, "access.request", id=request_id)
    if row is None:
        raise NotFound("There is no such request.", "Load the page again.")
    if row.person_id == ctx.actor.person_id:
        raise Refused("This is your own request.", "Somebody else who gives roles answers it.")
    ctx.require_at("role.decide", row.area_id)
    if role_id is not None:
        ctx.require_at("role.decide", area_id)
    state = "refused" if role_id is None else "granted"
    done = tx.write(
        "access.decide_request",
        id=request_id,
        state=state,
        person=ctx.actor.person_id,
        now=ctx.now,
        answer=answer.strip()[:LONGEST],
    )
    if not done:
        raise Refused(f"This request is {row.state} already.", "Load the page again.")
    if role_id is not None:
        give_in(tx, ctx, role_id, row.person_id, None, area_id)
    obj = f"person:{row.person_id}"
    audit(tx, ctx, f"access {state}", obj, f"Request {state}: {row.words}. {answer.strip()}".strip())
    said = f": {answer.strip()}" if answer else ""
    tell(tx, ctx, kinds.ACCESS_ANSWERED, {**row.as_dict(), "id": request_id}, state=state, answer=said)
    changed(tx, ctx, "access")
    return Decided(state=state)
