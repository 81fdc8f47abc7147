"""Erasing a person who left: what is personal goes, numbers, sums and the sealed chain stay whole.

Only the account that owns the schema can do it: the application may not touch the audit trail.
"""

from __future__ import annotations

from tallyman.errors import NotFound, Refused
from tallyman.services.context import Ctx, audit, in_transaction
from tallyman.services.people.second_factor import drop_factor
from tallyman.store.db import Tx
from tallyman.store.lists import like
from tallyman.store.records.people import PeopleAnyByEmail


@in_transaction
def erase(tx: Tx, ctx: Ctx, email: str) -> str:
    """Erases a person by mail address; gives what they are called from now on.

    Raises NotFound, or Refused while they are active: their open work must be handed over first.
    """
    person = tx.one(PeopleAnyByEmail, "people.any_by_email", email=email.strip().lower())
    if person is None or person.state == "erased":
        raise NotFound(f"There is nobody with the address {email}", "Check the address")
    if person.state != "left":
        raise Refused(
            f"{person.name} is still {person.state}",
            "Deactivate them first, under House rules, People, where their open work is handed over",
        )
    number, shown = person.id, f"erased person {person.id}"
    params = {
        "id": number,
        "name": person.name,
        "shown": shown,
        "email": email.strip().lower(),
        "like": like(person.name),
        "email_like": like(email.strip().lower()),
        "object": f"person:{number}",
        "now": ctx.now,
    }
    if tx.count("erasure.open_effects", **params):
        raise Refused(
            f"Something that names {person.name} is still to be carried out",
            "Try again in a minute, with the engine running",
        )
    drop_factor(tx, ctx, number)
    tx.write("erasure.sessions", **params)
    tx.write("erasure.links", **params)
    tx.write("erasure.tokens", **params)
    tx.write("erasure.notifications", **params)
    tx.write("erasure.requests", **params)
    tx.write("erasure.mails", **params)
    tx.write("erasure.mails_about", **params)
    tx.write("erasure.told_about", **params)
    tx.write("erasure.effects", **params)
    tx.write("erasure.tries", **params)
    tx.write("erasure.uses", **params)
    tx.write("erasure.trail", **params)
    tx.write("erasure.person", **params, address=f"erased-{number}@invalid")
    audit(tx, ctx, "person erased", f"person:{number}", f"Erased what was personal of {shown}")
    return shown
