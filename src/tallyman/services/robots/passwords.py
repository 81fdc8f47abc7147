"""Passwords of run-as accounts: kept in the safe, tried by the host that the account belongs to."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass

from tallyman.core.runs import NO_PASSWORD, PasswordFacts
from tallyman.errors import Fault, InputFaults, NotFound, Refused
from tallyman.services import safe
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction
from tallyman.services.robots.seen import areas_allowed, host_for
from tallyman.store.db import Tx
from tallyman.store.records.robots import AccountKept, AccountsLock, HostByToken, RobotSeen

KIND = "run-as"
LONGEST = 200
LONGEST_SAID = 300
NOTHING_ASKED = NotFound("No sign-in as this account is asked for.", "Go on.")


def facts_of(tx: Tx, ctx: Ctx, kept: AccountKept | None) -> PasswordFacts:
    """How the password of an account stands, as the rules want it."""
    if kept is None:
        return NO_PASSWORD
    tried = kept.answered_at is not None and kept.for_version == kept.version
    return PasswordFacts(
        kept=True,
        over=kept.expires_on is not None and kept.expires_on < company_day(tx, ctx),
        asked_at=kept.asked_at,
        answered_at=kept.answered_at if tried else None,
        proved=kept.proved if tried else None,
        said=kept.said if tried else "",
    )


def _name_for(tx: Tx, host: str, account: str) -> str:
    """A free name in the safe, made of the host's and the account's."""
    plain = re.sub(r"[^a-z0-9]+", "-", f"{host}-{account}".lower()).strip("-")
    name = plain if plain[:1].isalpha() else f"host-{plain}"
    taken = safe.names_taken(tx)
    number, found = 1, name[:50]
    while found in taken:
        number += 1
        found = f"{name[:50]}-{number}"
    return found


@dataclass(frozen=True)
class Look:
    """Whether the password of an account is kept, and whether the actor may put it in or replace it."""

    kept: bool
    may_put: bool


def look_at(tx: Tx, ctx: Ctx, host_id: int, account: str, areas: Collection[int]) -> Look:
    """How the password of an account stands, for robots that are allowed in some areas."""
    rows = tx.all(AccountKept, "accounts.of_host", host=host_id)
    kept = next((row for row in rows if row.account == account), None)
    if kept is None:
        return Look(False, ctx.actor.may_at("secret.make", _area_of(areas)))
    return Look(True, ctx.actor.may_at("secret.change", kept.area_id))


def _area_of(areas: Collection[int]) -> int | None:
    """Where a password belongs: to the one area of its robots; that of several areas to the company."""
    return next(iter(areas)) if len(areas) == 1 else None


@in_transaction
def put(tx: Tx, ctx: Ctx, host_id: int, account: str, value: str) -> None:
    """Keeps the password of an account on a host, and asks the host to sign in with it.

    Nobody can read it from then on. Raises InputFaults, Refused, Forbidden.
    """
    host = host_for(tx, ctx, host_id)
    robots = [
        one for one in tx.all(RobotSeen, "robots.robots") if one.host_id == host_id and one.account == account
    ]
    if not robots:
        raise Refused(f"No robot of {host.name} works under {account}.", "Give a robot that account first.")
    if not 1 <= len(value) <= LONGEST or "\x00" in value:
        raise InputFaults([Fault("value", "…", f"give the password: 1 to {LONGEST} characters")])
    kept = tx.one(AccountsLock, "accounts.lock", host=host_id, account=account)
    if kept is None:
        areas = {area.id for rows in areas_allowed(tx, robots).values() for area in rows}
        area_id = _area_of(areas)
        ctx.require_at("secret.make", area_id)
        name = _name_for(tx, host.name, account)
        about = f"password of {account} on {host.name}"
        secret_id = safe.keep_password(tx, ctx, name, value, about, area_id)
    else:
        ctx.require_at("secret.change", kept.area_id)
        secret_id = safe.replace_password(tx, ctx, kept.secret_id, value)
    tx.write("accounts.put", host=host_id, account=account, secret=secret_id, now=ctx.now)
    words = f"Put in the password of {account} on {host.name}"
    audit(tx, ctx, "password put in", f"host:{host_id}", words)
    changed(tx, ctx, "robots")


@in_transaction
def try_again(tx: Tx, ctx: Ctx, host_id: int, account: str) -> None:
    """Asks the host to sign in with the password once more. Raises NotFound where none is kept."""
    host = host_for(tx, ctx, host_id)
    kept = tx.one(AccountsLock, "accounts.lock", host=host_id, account=account)
    if kept is None:
        raise NotFound(f"No password of {account} on {host.name} is kept.", "Put it in.")
    tx.write("accounts.put", host=host_id, account=account, secret=kept.secret_id, now=ctx.now)
    audit(tx, ctx, "sign-in asked", f"host:{host_id}", f"Asked {host.name} to sign in as {account}")
    changed(tx, ctx, "robots")


def _asked(tx: Tx, host: HostByToken, account: str) -> AccountsLock:
    kept = tx.one(AccountsLock, "accounts.lock", host=host.id, account=account)
    if kept is None or (kept.answered_at is not None and kept.for_version == kept.version):
        raise NOTHING_ASKED
    return kept


@in_transaction
def to_try(tx: Tx, ctx: Ctx, host: HostByToken, account: str) -> str:
    """The password that the runner of a host is to try, while that is asked of it; each use is noted."""
    kept = _asked(tx, host, account)
    what = f"sign-in as {account} on {host.name}"
    value = safe.open_secret(tx, ctx, KIND, kept.secret, what, f"runner of {host.name}")
    if value is None:
        raise NOTHING_ASKED
    tx.write("accounts.fetched", host=host.id, account=account, version=kept.version, now=ctx.now)
    return value


@in_transaction
def tried(tx: Tx, ctx: Ctx, host: HostByToken, account: str, proved: bool, said: str) -> None:
    """How signing in with a password went on the host."""
    _asked(tx, host, account)
    words = " ".join(said.split())[:LONGEST_SAID]
    if tx.write("accounts.answered", host=host.id, account=account, proved=proved, said=words, now=ctx.now):
        how = "worked" if proved else "was refused"
        audit(tx, ctx, "sign-in tried", f"host:{host.id}", f"The sign-in as {account} {how}: {words}")
        changed(tx, ctx, "robots")
