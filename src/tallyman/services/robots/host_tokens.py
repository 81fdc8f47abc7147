"""A runner's token: given against a one-time code, bound to its machine, changed every day, seen in use."""

from __future__ import annotations

import hmac
import secrets
from collections.abc import Mapping
from datetime import timedelta

from tallyman.core.alerts import kinds
from tallyman.errors import Fault, InputFaults, NotSignedIn
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed
from tallyman.services.people import token_digest
from tallyman.store.db import Tx
from tallyman.store.records.robots import HostByToken, RobotsHostByCode

PROTOCOL = 1
CHANGED_AFTER = timedelta(hours=24)
# Its use is noted once a minute, and at once when it comes from another address.
NOTED_AFTER = timedelta(minutes=1)


def _digest_of(machine: str) -> str:
    return token_digest(f"machine:{machine}") if machine else ""


PART = 4


def as_made(code: str) -> str:
    """A code as it was made, however it was typed: in small letters, with blanks or without its dashes."""
    plain = "".join(one for one in code.upper() if one.isalnum())
    return "-".join(plain[at : at + PART] for at in range(0, len(plain), PART))


def connect(
    ctx: Ctx, code: str, protocol: int, account: str, facts: Mapping[str, object], machine: str = ""
) -> dict[str, str]:
    """Uses up a one-time code and gives the runner its token, for this machine only."""
    if protocol != PROTOCOL:
        raise InputFaults([Fault("protocol", protocol, f"this server speaks protocol {PROTOCOL}")])
    token = secrets.token_urlsafe(32)

    def work(tx: Tx) -> dict[str, str]:
        digest = token_digest(as_made(code))
        host = tx.one(RobotsHostByCode, "robots.host_by_code", code=digest, now=ctx.now)
        if host is None:
            raise NotSignedIn(
                "This code is not known, was used already, or has run out.",
                "Make a new code for the host under Robots.",
            )
        tx.write(
            "robots.connect_host",
            id=host.id,
            token=token_digest(token),
            now=ctx.now,
            account=account[:80],
            facts=facts,
            machine=_digest_of(machine),
            address=ctx.actor.address[:60],
        )
        words = f"Runner connected {host.name} under the account {account}"
        audit(tx, ctx, "host connected", f"host:{host.id}", words, None, facts)
        changed(tx, ctx, "robots")
        changed(tx, ctx, "runs")
        return {"host": host.name, "token": token}

    return ctx.db.transact(work)


def host_of(ctx: Ctx, token: str, machine: str = "") -> HostByToken:
    """The host a runner's token belongs to; NotSignedIn for others, and from any other machine."""
    digest = token_digest(token)
    row = ctx.db.transact(lambda tx: tx.one(HostByToken, "robots.host_by_token", token=digest))
    if row is None:
        raise NotSignedIn("This runner's token is not known.", "Connect it again with a new code.")
    if row.machine and not hmac.compare_digest(row.machine, _digest_of(machine)):
        ctx.db.transact(lambda tx: _elsewhere(tx, ctx, row))
        raise NotSignedIn(
            f"The token of {row.name} was given to another machine.",
            "Connect this one with a code of its own; if the host was set up anew, make a new code.",
        )
    address = ctx.actor.address[:60]
    late = row.used_at is None or ctx.now - row.used_at > NOTED_AFTER
    if late or row.used_from != address or row.next_token == digest:
        ctx.db.transact(lambda tx: _used(tx, ctx, row, digest))
    return row


def _used(tx: Tx, ctx: Ctx, row: HostByToken, digest: str) -> None:
    tx.write("robots.token_used", id=row.id, now=ctx.now, address=ctx.actor.address[:60])
    if row.next_token == digest:
        # The runner has the new one, so the one before works no more.
        tx.write("robots.next_token_used", id=row.id, token=digest, now=ctx.now)
    if row.used_from and row.used_from != ctx.actor.address[:60]:
        words = f"The token of {row.name} is used from {ctx.actor.address}, before from {row.used_from}"
        audit(tx, ctx, "host moved", f"host:{row.id}", words)
        changed(tx, ctx, "robots")


def _elsewhere(tx: Tx, ctx: Ctx, row: HostByToken) -> None:
    """Somebody uses the token of a host on another machine: noted and told, once an hour."""
    if not tx.write("robots.told_elsewhere", id=row.id, now=ctx.now, before=ctx.now - timedelta(hours=1)):
        return
    words = f"The token of {row.name} was used on another machine, from {ctx.actor.address}; it was refused"
    audit(tx, ctx, "host token refused", f"host:{row.id}", words)
    tell(tx, ctx, kinds.TOKEN_ELSEWHERE, {}, what=words)


def rotated(tx: Tx, ctx: Ctx, host: HostByToken) -> str | None:
    """A new token once a day; both work until the runner uses the new one."""
    if not host.machine or (host.token_at and ctx.now - host.token_at < CHANGED_AFTER):
        return None
    token = secrets.token_urlsafe(32)
    tx.write("robots.next_token", id=host.id, token=token_digest(token))
    return token
