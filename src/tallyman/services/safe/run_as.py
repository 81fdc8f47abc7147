"""Passwords that other rooms keep here on somebody's behalf, each as a secret of its own."""

from __future__ import annotations

from tallyman.services.context import Ctx, audit, changed
from tallyman.services.safe.contents import OF_PEOPLE, Given, put, put_over
from tallyman.store.db import Tx
from tallyman.store.records.safe import Secret

RUN_AS = "run-as"


def names_taken(tx: Tx) -> set[str]:
    """The names that secrets of people have."""
    return set(tx.values(str, "safe.names", kinds=tuple(OF_PEOPLE)))


def keep_password(tx: Tx, ctx: Ctx, name: str, value: str, about: str, area_id: int | None) -> int:
    """Keeps the password of a run-as account under a free name; gives the secret's number.

    Whoever calls has checked that the actor may make secrets in that area.
    """
    number = put(tx, ctx, Given(name, RUN_AS, value, area_id, about))
    words = f"Put the secret {name} into the safe ({OF_PEOPLE[RUN_AS]})"
    audit(tx, ctx, "secret made", f"secret:{number}", words)
    changed(tx, ctx, "safe", number)
    return number


def replace_password(tx: Tx, ctx: Ctx, secret_id: int, value: str) -> int:
    """Another password in place of the one so far; gives the secret's number.

    One that had expired is good again from now on, without an end: that is set on the page of secrets.
    """
    row = tx.one(Secret, "safe.one", id=secret_id)
    assert row is not None
    put_over(tx, ctx, row, value)
    audit(tx, ctx, "secret changed", f"secret:{secret_id}", f"Changed the secret {row.name}: another value")
    changed(tx, ctx, "safe", secret_id)
    return secret_id
