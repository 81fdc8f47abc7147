"""The keys by which a builder signs: the public halves are kept here, the private ones never come."""

from __future__ import annotations

from tallyman.errors import Fault, InputFaults, NotFound, Refused
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.people.answers import SigningKeyRow
from tallyman.signed import is_public, shown
from tallyman.store.db import Tx
from tallyman.store.records.people import SigningKey

MOST = 20


@in_transaction
def add(tx: Tx, ctx: Ctx, name: str, public: str) -> int:
    """Keeps the public half of a key of the actor's own; gives its number. Raises InputFaults or Clash."""
    ctx.require("package.make")
    name, public = " ".join(name.split()), public.strip()
    faults = []
    if not 1 <= len(name) <= 80:
        faults.append(Fault("name", name[:80], "say on which computer it is, in 1 to 80 characters"))
    if not is_public(public):
        message = "is no public half of a key; paste what `./tallyman package key` prints"
        faults.append(Fault("public", public[:60], message))
    if faults:
        raise InputFaults(faults)
    rows = [row for row in _of(tx, ctx) if row.retired_at is None]
    if len(rows) >= MOST:
        raise Refused(f"You have {MOST} keys already.", "Retire those that are not used.")
    number = tx.insert("signing_keys.add", person=ctx.actor.person_id, name=name, public=public, now=ctx.now)
    audit(tx, ctx, "key added", f"key:{number}", f"Added the key {name}, {shown(public)}")
    changed(tx, ctx, "keys", number)
    return number


def _of(tx: Tx, ctx: Ctx) -> list[SigningKey]:
    return tx.all(SigningKey, "signing_keys.of_person", person=ctx.actor.person_id)


@in_transaction
def mine(tx: Tx, ctx: Ctx) -> list[SigningKeyRow]:
    """The actor's own keys, the newest first."""
    return [
        SigningKeyRow(row.id, row.name, shown(row.public_half), row.made_at, row.retired_at)
        for row in _of(tx, ctx)
    ]


@in_transaction
def retire(tx: Tx, ctx: Ctx, key_id: int) -> None:
    """A key of the actor's own signs no more; releases it signed stay signed. Raises NotFound."""
    row = next((one for one in _of(tx, ctx) if one.id == key_id), None)
    if row is None:
        raise NotFound("You have no such key.", "Load the page again.")
    if not tx.write("signing_keys.retire", id=key_id, person=ctx.actor.person_id, now=ctx.now):
        raise Refused(f"{row.name} is retired already.", "Load the page again.")
    audit(tx, ctx, "key retired", f"key:{key_id}", f"Retired the key {row.name}")
    changed(tx, ctx, "keys", key_id)


def open_of(tx: Tx, ctx: Ctx) -> list[SigningKey]:
    """The keys by which the actor may sign now."""
    return [row for row in _of(tx, ctx) if row.retired_at is None]
