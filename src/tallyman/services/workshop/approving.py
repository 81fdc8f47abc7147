"""A second person's yes to a release, and to each secret it newly asks for, where an area asks for that."""

from __future__ import annotations

from tallyman.errors import Fault, InputFaults, Refused
from tallyman.formats.sound import one_line
from tallyman.services.context import WORK, Ctx, audit, changed, in_transaction
from tallyman.services.workshop import differing, sight
from tallyman.services.workshop.answers import Approval
from tallyman.store.db import Tx
from tallyman.store.records.workshop import PackagesLockRelease, ReleaseToApprove, ReleaseWhole

APPROVE = "package.decide"
LONGEST_NOTE = 500


def _new_secrets(tx: Tx, ctx: Ctx, row: ReleaseWhole) -> list[str]:
    """The secrets that a release asks for and the one before it did not."""
    before = differing.before_of(tx, ctx, row)
    known = set((before.secrets or []) if before else [])
    return [name for name in row.secrets or [] if name not in known]


def _against(ctx: Ctx, row: ReleaseWhole) -> str:
    if not ctx.actor.may(APPROVE):
        return "Only who may approve releases of others says yes to it."
    if row.person_id == ctx.actor.person_id:
        return "You released it; somebody else says yes to it."
    return "It is withdrawn." if row.withdrawn_at else ""


@in_transaction
def look(tx: Tx, ctx: Ctx, release_id: int) -> Approval:
    """Whether a release was approved, by whom; where that is asked for; and whether the actor may say yes."""
    ctx.require("package.see")
    row = sight.find(tx, ctx, release_id)
    areas = tx.values(str, "approvals.areas_asking", release=row.id)
    against = "" if row.approved_at else _against(ctx, row)
    return Approval(
        approved_at=row.approved_at,
        approved_by=row.approved_by,
        note=row.approval_note or "",
        areas=areas,
        new_secrets=_new_secrets(tx, ctx, row),
        may=not row.approved_at and not against,
        against=against,
    )


def waiting_for(tx: Tx, ctx: Ctx) -> list[ReleaseToApprove]:
    """The releases that wait for a second person's yes which the actor may give."""
    if not ctx.actor.may(APPROVE):
        return []
    return sight.seen(tx, ctx, tx.all(ReleaseToApprove, "approvals.waiting", me=ctx.actor.person_id or 0))


@in_transaction
def approve(tx: Tx, ctx: Ctx, release_id: int, secrets: list[str], note: str) -> None:
    """Says yes to a release, and by name to each secret that it newly asks for.

    Raises InputFaults for a secret that was not looked at, Refused for one's own release and a second yes.
    """
    ctx.require(APPROVE)
    tx.one(PackagesLockRelease, "packages.lock_release", id=release_id)
    row = sight.find(tx, ctx, release_id)
    name = f"{row.package} {row.version}"
    if row.approved_at:
        raise Refused(f"{row.approved_by} approved {name} already.", "Load the page again.")
    if against := _against(ctx, row):
        raise Refused(against, "Ask somebody who may.")
    wrong = [
        Fault("secrets", one, "is newly asked for; say yes to it by name")
        for one in _new_secrets(tx, ctx, row)
    ]
    wrong = [fault for fault in wrong if fault.value not in secrets]
    said = one_line(note.strip())
    if len(said) > LONGEST_NOTE:
        wrong.append(Fault("note", said[:40], f"up to {LONGEST_NOTE} characters"))
    if wrong:
        raise InputFaults(wrong)
    tx.write("approvals.add", release=row.id, person=ctx.actor.person_id, now=ctx.now, note=said)
    asked = f", with the secrets {', '.join(secrets)}" if secrets else ""
    words = f"Approved {name}{asked}" + (f": {said}" if said else "")
    audit(tx, ctx, "release approved", f"release:{row.id}", words)
    for subject in ("packages", "routines", "runs", WORK):
        changed(tx, ctx, subject)
