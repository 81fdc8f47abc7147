"""What a person was told."""

from __future__ import annotations

from tallyman.services.context import Ctx
from tallyman.store.records.alerts import Notification


def notifications(ctx: Ctx) -> list[Notification]:
    """What the person was told, latest first."""
    return ctx.db.transact(lambda tx: tx.all(Notification, "alerts.mine", person=ctx.actor.person_id))


def mark_read(ctx: Ctx, upto: int) -> None:
    """The person has read everything up to one notification."""
    ctx.db.transact(
        lambda tx: tx.write("alerts.mark_read", person=ctx.actor.person_id, now=ctx.now, upto=upto)
    )
