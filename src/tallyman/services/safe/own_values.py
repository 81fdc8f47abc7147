"""Values that a secret has of its own for one host or one robot: found before the value that is for all."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

from tallyman.errors import Fault, InputFaults, NotFound, Refused
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.safe import contents
from tallyman.store.db import Tx
from tallyman.store.records.safe import OwnValue, SafeByName, Secret

Whose = Literal["host", "robot"]


@dataclass(frozen=True)
class GivenOwn:
    """A value for one host or robot, as somebody puts it in."""

    whose: Whose
    number: int
    value: str
    expires_on: date | None = None


def _holder(tx: Tx, given: GivenOwn) -> str:
    """What the host or robot is called. Raises InputFaults where there is none."""
    asked = {"id": given.number}
    host = given.whose == "host"
    name = tx.value(str, "own_values.host", **asked) if host else tx.value(str, "own_values.robot", **asked)
    if name is None:
        raise InputFaults([Fault(given.whose, given.number, f"there is no such {given.whose}; choose one")])
    return f"{given.whose} {name}"


def _of_package(tx: Tx, ctx: Ctx, secret_id: int) -> Secret:
    row = contents.find(tx, ctx, secret_id, "secret.change")
    if row.kind not in contents.FOR_PACKAGES:
        raise Refused(
            f"{row.name} is the password of one account.", "Only values for packages differ by host or robot."
        )
    return row


@in_transaction
def put(tx: Tx, ctx: Ctx, secret_id: int, given: GivenOwn) -> None:
    """Puts in, or replaces, the value that a host or a robot gets in place of the one for all."""
    row = _of_package(tx, ctx, secret_id)
    holder = _holder(tx, given)
    if wrong := contents.value_faults(given.value, row.kind):
        raise InputFaults(wrong)
    whose = {
        "host": given.number if given.whose == "host" else None,
        "robot": given.number if given.whose == "robot" else None,
    }
    # Of two who put it in at once one waits here, and replaces what the other put in.
    tx.one(Secret, "safe.lock", id=secret_id)
    known = tx.one(SafeByName, "own_values.known", secret=secret_id, **whose)
    if known is None:
        name = f"{row.name}@{given.whose}-{given.number}"
        number = contents.put(
            tx, ctx, contents.Given(name, row.kind, given.value, row.area_id, "", given.expires_on)
        )
        tx.write("own_values.belongs", id=number, secret=secret_id, **whose)
    else:
        own = tx.one(Secret, "safe.one", id=known.id)
        assert own is not None
        changes = {"about": "", "expires": given.expires_on, "area": row.area_id}
        tx.write("safe.change", id=own.id, version=own.version, **changes)
        contents.replace(tx, ctx, known, given.value, own.version + 1)
    words = f"{'Another' if known else 'A'} value of {row.name} of its own for the {holder}"
    audit(tx, ctx, "secret changed", f"secret:{secret_id}", words)
    changed(tx, ctx, "safe", secret_id)


@in_transaction
def take_out(tx: Tx, ctx: Ctx, secret_id: int, own_id: int) -> None:
    """From now on a host or robot gets the value that is for all; who used its own stays on record."""
    row = _of_package(tx, ctx, secret_id)
    own = next((one for one in of_secret(tx, secret_id) if one.id == own_id), None)
    if own is None:
        raise NotFound("There is no such value any more.", "Load the page again.")
    contents.drop(tx, ctx, own_id)
    tx.write("own_values.let_go", id=own_id, secret=secret_id)
    holder = f"host {own.host}" if own.host_id else f"robot {own.robot}"
    words = f"Took out the value of {row.name} of its own for the {holder}"
    audit(tx, ctx, "secret changed", f"secret:{secret_id}", words)
    changed(tx, ctx, "safe", secret_id)


def of_secret(tx: Tx, secret_id: int) -> list[OwnValue]:
    """The values that a secret has of its own, without the values."""
    return tx.all(OwnValue, "own_values.of_secret", secret=secret_id)
