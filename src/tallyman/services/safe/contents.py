"""The safe: every secret sealed under a key of its own, shown to nobody, with who used it when for what."""

from __future__ import annotations

import contextlib
import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from tallyman.config import key_ring
from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound, Refused, Unavailable
from tallyman.formats.envelope import CannotOpen, Sealed, seal, unseal
from tallyman.formats.redact import Redactor
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction, unseen
from tallyman.services.holding import paths
from tallyman.services.safe.answers import (
    KeyOut,
    KindOut,
    Moving,
    OwnShown,
    RoutineOut,
    SecretOut,
    SecretRow,
    SecretsOut,
)
from tallyman.store.db import Tx
from tallyman.store.records.house import Area
from tallyman.store.records.safe import (
    OwnValue,
    OwnValuesForRun,
    SafeByName,
    SafeKeys,
    SafeListed,
    SafeRoutinesUsing,
    Secret,
    UseOut,
)

# The kinds of which people put secrets in here; the others come from the settings they belong to.
SHORTEST = 6
NAMED = "named"
OF_PEOPLE = {
    "package": "value for packages",
    "run-as": "password of a run-as account",
    NAMED: "named value, no secret: it stands in this list",
}
# Those that a package is given by name, and that may differ by host or robot.
FOR_PACKAGES = ("package", NAMED)
KINDS = {**OF_PEOPLE, "mail": "sign-in at the mail server", "identity": "sign-in at the identity provider"}
PRIVATE = "second factor"
NAME = re.compile(r"^[a-z][a-z0-9-]{1,60}$")
LONGEST_VALUE = 8000
LONGEST_ABOUT = 300
SAID_WHOLE = 200
EARLY = timedelta(days=14)
AN_HOUR = timedelta(hours=1)
MISSING = NotFound("There is no such secret.", "Load the page again.")


@dataclass(frozen=True)
class Given:
    """A secret as somebody puts it into the safe."""

    name: str
    kind: str
    value: str
    area_id: int | None = None
    about: str = ""
    expires_on: date | None = None


def bound_to(kind: str, name: str) -> str:
    """What a sealed value belongs to, so that it opens as nothing else."""
    return f"{kind}:{name}"


def put(tx: Tx, ctx: Ctx, given: Given) -> int:
    """Keeps a secret, checked already; gives its number. Raises Clash for a name that is taken."""
    sealed = seal(key_ring(), given.value.encode(), bound_to(given.kind, given.name))
    return tx.insert(
        "safe.put",
        name=given.name,
        kind=given.kind,
        area=given.area_id,
        about=given.about,
        key=sealed.key_id,
        wrapped=sealed.wrapped,
        sealed=sealed.body,
        expires=given.expires_on,
        by=ctx.actor.person_id,
        now=ctx.now,
    )


def put_or_replace(tx: Tx, ctx: Ctx, kind: str, name: str, value: str) -> int:
    """Keeps a secret of a setting, in place of the one so far; gives its number."""
    row = tx.one(SafeByName, "safe.by_name", kind=kind, name=name)
    if row is None:
        return put(tx, ctx, Given(name, kind, value))
    replace(tx, ctx, row, value, row.version)
    return int(row.id)


def replace(tx: Tx, ctx: Ctx, row: SafeByName | Secret, value: str, version: int) -> None:
    """Another value in place of the one so far. Raises Conflict where it changed meanwhile."""
    sealed = seal(key_ring(), value.encode(), bound_to(row.kind, row.name))
    done = tx.write(
        "safe.replace",
        id=row.id,
        key=sealed.key_id,
        wrapped=sealed.wrapped,
        sealed=sealed.body,
        now=ctx.now,
        version=version,
    )
    if not done:
        raise _stale(row)


def put_over(tx: Tx, ctx: Ctx, row: Secret, value: str) -> None:
    """Another value of a secret; an end that has come is taken off. Conflict if it changed meanwhile."""
    version = row.version
    if row.expires_on is not None and row.expires_on < company_day(tx, ctx):
        changes = {"about": row.about, "expires": None, "area": row.area_id}
        tx.write("safe.change", id=row.id, version=version, **changes)
        version += 1
    replace(tx, ctx, row, value, version)


def _stale(row: SafeByName | Secret) -> Conflict:
    return Conflict(
        f"Somebody changed the secret {row.name} meanwhile.",
        "Look at it now, then try again.",
        theirs={},
        yours={},
        version=row.version,
    )


def open_secret(tx: Tx, ctx: Ctx, kind: str, name: str, what: str, who: str = "") -> str | None:
    """A secret's value for use, which is noted; None if there is none. Unavailable if it stays shut."""
    row = tx.one(SafeByName, "safe.by_name", kind=kind, name=name)
    if row is None:
        return None
    value = _open(row)
    tx.write(
        "safe.add_use",
        id=row.id,
        who=(who or ctx.actor.name)[:120],
        what=what[:200],
        now=ctx.now,
        since=ctx.now - AN_HOUR,
    )
    return value


def _open(row: SafeByName) -> str:
    sealed = Sealed(row.key_id, row.wrapped, row.sealed)
    try:
        # The ring is read after the row, so that a key added meanwhile is on it.
        return unseal(key_ring(), sealed, bound_to(row.kind, row.name)).decode()
    except CannotOpen as error:
        raise Unavailable(
            f"The secret {row.name} cannot be opened: {error}.",
            "Put the file of keys back that it was sealed with, or put the secret in again.",
        ) from None


def readable(tx: Tx, ids: Iterable[int]) -> dict[int, str]:
    """The values among some that are no secrets, by number; reading them is no use of them.

    One that will not open is left out, which stops no list.
    """
    values: dict[int, str] = {}
    for row in tx.all(SafeByName, "safe.readable", ids=tuple(ids) or (0,)):
        with contextlib.suppress(Unavailable):
            values[row.id] = _open(row)
    return values


def drop(tx: Tx, ctx: Ctx, secret_id: int) -> bool:
    """Takes a secret out of use; its value is gone at once."""
    return bool(tx.write("safe.retire", id=secret_id, now=ctx.now))


# ---- for packages ------------------------------------------------------------------------------------


def _of_people(tx: Tx, name: str) -> SafeByName | None:
    """A secret that people put in, of whichever kind; a name stands for one."""
    found = (tx.one(SafeByName, "safe.by_name", kind=kind, name=name) for kind in OF_PEOPLE)
    return next((row for row in found if row is not None), None)


def for_routine(tx: Tx, names: list[str], area_path: frozenset[int]) -> dict[str, SafeByName | None]:
    """The secrets of some names that a routine of an area may use; None where there is none."""
    found: dict[str, SafeByName | None] = {}
    for name in names:
        row = _of_people(tx, name)
        usable = row is not None and (row.area_id is None or row.area_id in area_path)
        found[name] = row if usable else None
    return found


@dataclass(frozen=True)
class Handed:
    """The values that a run is given, by name, and the names of those among them that are no secrets."""

    values: dict[str, str]
    named: list[str]


@dataclass(frozen=True)
class At:
    """Where a run works: its robot and host, whose own values go before those for all."""

    robot_id: int | None
    host_id: int | None


def values_for_run(
    tx: Tx, ctx: Ctx, names: list[str], area_path: frozenset[int], what: str, at: At
) -> Handed:
    """The values that a run's package declares, each use noted: its robot's own, its host's, or that of all.

    Raises Refused naming what is not there.
    """
    rows = for_routine(tx, names, area_path)
    lacking = [name for name, row in rows.items() if row is None]
    if lacking:
        raise Refused(
            f"The safe holds no secret {', '.join(lacking)} for this routine's area.",
            "Put it in under House rules, Secrets.",
        )
    found = {name: row for name, row in rows.items() if row is not None}
    ids = tuple(row.id for row in found.values()) or (0,)
    own: dict[int, str] = {}
    whose = {"robot": at.robot_id, "host": at.host_id}
    for one in tx.all(OwnValuesForRun, "own_values.for_run", ids=ids, **whose):
        # The robot's own comes first, and stays.
        own.setdefault(one.own_of or 0, one.name)
    values = {
        name: open_secret(tx, ctx, row.kind, own.get(row.id, name), what) or "" for name, row in found.items()
    }
    return Handed(values, [name for name, row in found.items() if row.kind == NAMED])


def redactor(tx: Tx, names: list[str]) -> Redactor:
    """What takes the values of some secrets out of texts that arrive; nothing counts as a use of them.

    A secret that will not open was not given out either; what arrives is kept all the same.
    """
    found = (_of_people(tx, name) for name in names)
    # What everybody may read is not taken out, or short ones would leave holes in every log.
    rows = [row for row in found if row is not None and row.kind != NAMED]
    ids = tuple(row.id for row in rows) or (0,)
    values = []
    for row in [*rows, *tx.all(SafeByName, "own_values.all_of", ids=ids)]:
        with contextlib.suppress(Unavailable):
            values.append(_open(row))
    return Redactor(values)


# ---- for people --------------------------------------------------------------------------------------


@in_transaction
def listed(tx: Tx, ctx: Ctx) -> SecretsOut:
    """The secrets that the actor may know of, never their values."""
    ctx.require("secret.see")
    rows = tx.all(SafeListed, "safe.listed", kinds=tuple(KINDS), **ctx.scope("secret.see"))
    today = company_day(tx, ctx)
    values = readable(tx, (row.id for row in rows if row.kind == NAMED))
    shown = [
        SecretRow(
            id=row.id,
            name=row.name,
            kind=row.kind,
            kind_words=KINDS[row.kind],
            of_people=row.kind in OF_PEOPLE,
            area_id=row.area_id,
            area=row.area,
            about=row.about,
            value=values.get(row.id),
            expires_on=row.expires_on,
            ends=_ends(row.expires_on, today),
            changed_at=row.changed_at,
            used_at=row.used_at,
            made_by=row.made_by,
            version=row.version,
            may_change=row.kind in OF_PEOPLE and ctx.actor.may_at("secret.change", row.area_id),
            may_retire=row.kind in OF_PEOPLE and ctx.actor.may_at("secret.retire", row.area_id),
        )
        for row in rows
    ]
    keys = tx.all(SafeKeys, "safe.keys") if ctx.actor.areas("secret.see") is None else []
    return SecretsOut(
        secrets=shown,
        kinds=[KindOut(kind=kind, words=words) for kind, words in OF_PEOPLE.items()],
        may_make=ctx.actor.may("secret.make"),
        early_days=EARLY.days,
        keys=[
            KeyOut(key_id=row.key_id, secrets=row.secrets, current=row.key_id == key_ring().current)
            for row in keys
        ],
    )


def _ends(expires_on: date | None, today: date) -> str:
    if expires_on is None:
        return ""
    if expires_on < today:
        return "over"
    return "soon" if expires_on - today <= EARLY else "later"


def _check(given: Given) -> None:
    faults = []
    if given.kind not in OF_PEOPLE:
        faults.append(Fault("kind", given.kind, f"allowed: {', '.join(OF_PEOPLE)}"))
    if not NAME.match(given.name):
        faults.append(Fault("name", given.name[:80], "small letters, digits and -, such as billing-login"))
    faults += value_faults(given.value, given.kind) + _about_faults(given.about)
    if faults:
        raise InputFaults(faults)


def value_faults(value: str, kind: str) -> list[Fault]:
    """What is wrong with a value; it is never repeated."""
    if kind == "package" and len(value.strip()) < SHORTEST:
        message = f"at least {SHORTEST} characters: a shorter one cannot be told from other words in a log"
        return [Fault("value", "…", message)]
    # The value itself is never repeated.
    if not 1 <= len(value.encode()) <= LONGEST_VALUE or "\x00" in value:
        return [Fault("value", "…", f"1 to {LONGEST_VALUE:,} bytes of text")]
    return []


def _about_faults(about: str) -> list[Fault]:
    if len(about) > LONGEST_ABOUT:
        return [Fault("about", about[:40] + "…", f"up to {LONGEST_ABOUT} characters")]
    return []


@in_transaction
def make(tx: Tx, ctx: Ctx, given: Given) -> int:
    """Puts a secret into the safe; from now on nobody can read it. Gives its number."""
    ctx.require("secret.make")
    _check(given)
    if given.area_id is not None and tx.one(Area, "areas.area", id=given.area_id) is None:
        raise InputFaults([Fault("area", given.area_id, "there is no such area; choose one")])
    ctx.require_at("secret.make", given.area_id)
    taken = Fault("name", given.name, "a secret of this name is in the safe already; choose another name")
    if _of_people(tx, given.name) is not None:
        raise InputFaults([taken])
    try:
        number = put(tx, ctx, given)
    except Clash:
        raise InputFaults([taken]) from None
    words = f"Put the secret {given.name} into the safe ({OF_PEOPLE[given.kind]})"
    if given.kind == NAMED:
        words = f"Gave the named value {given.name}: {_said(given.value)}"
    audit(tx, ctx, "secret made", f"secret:{number}", words, None, _audited(given.about, given.expires_on))
    changed(tx, ctx, "safe", number)
    return number


def _said(value: str) -> str:
    """A named value as its history says it; a long one by its beginning."""
    return value if len(value) <= SAID_WHOLE else f"{value[:SAID_WHOLE]} … ({len(value):,} characters)"


def _audited(about: str, expires_on: date | None) -> dict[str, object]:
    return {"about": about, "expires_on": expires_on.isoformat() if expires_on else None}


def find(tx: Tx, ctx: Ctx, secret_id: int, permission: str) -> Secret:
    """A secret that the actor may know of, and do something to; Forbidden or NotFound otherwise."""
    row = tx.one(Secret, "safe.one", id=secret_id)
    if row is None or row.kind == PRIVATE or not ctx.actor.may_at("secret.see", row.area_id):
        raise unseen(ctx, "secret.see", row is not None and row.kind != PRIVATE, MISSING)
    ctx.require_at(permission, row.area_id)
    if permission != "secret.see" and row.kind not in OF_PEOPLE:
        raise Refused(
            f"{row.name} belongs to the settings of {row.kind}.", "Change it there, under House rules."
        )
    return row


@dataclass(frozen=True)
class Change:
    """What a secret is changed to: another value (None keeps the one there is), purpose, end, and area."""

    value: str | None
    about: str
    expires_on: date | None
    area_id: int | None


@in_transaction
def change(tx: Tx, ctx: Ctx, secret_id: int, given: Change, version: int) -> None:
    """Another value, purpose, end or area of a secret; its name, and who used it, stay."""
    if faults := _about_faults(given.about):
        raise InputFaults(faults)
    row = find(tx, ctx, secret_id, "secret.change")
    if given.value is not None and (wrong := value_faults(given.value, row.kind)):
        raise InputFaults(wrong)
    _may_move(tx, ctx, row, given.area_id)
    changes = {"about": given.about, "expires": given.expires_on, "area": given.area_id}
    if not tx.write("safe.change", id=secret_id, version=version, **changes):
        raise _stale(row)
    tx.write("own_values.follow", secret=secret_id, area=given.area_id)
    if given.value is not None:
        replace(tx, ctx, row, given.value, version + 1)
    words = f"Changed the secret {row.name}" + (": another value" if given.value is not None else "")
    if row.kind == NAMED:
        words = f"Changed the named value {row.name}" + (f": {_said(given.value)}" if given.value else "")
    before = {**_audited(row.about, row.expires_on), "area": row.area_id}
    after = {**_audited(given.about, given.expires_on), "area": given.area_id}
    audit(tx, ctx, "secret changed", f"secret:{secret_id}", words, before, after)
    changed(tx, ctx, "safe", secret_id)
    changed(tx, ctx, "routines")


def _may_move(tx: Tx, ctx: Ctx, row: Secret, area_id: int | None) -> None:
    """Raises InputFaults or Forbidden unless a secret may belong to another area."""
    if area_id == row.area_id:
        return
    if area_id is not None and tx.one(Area, "areas.area", id=area_id) is None:
        raise InputFaults([Fault("area", area_id, "there is no such area; choose one")])
    ctx.require_at("secret.make", area_id)


@in_transaction
def look_at_move(tx: Tx, ctx: Ctx, secret_id: int, area_id: int | None) -> Moving:
    """Which routines would find a secret no more, and which would find it, if it belonged to another area."""
    row = find(tx, ctx, secret_id, "secret.change")
    _may_move(tx, ctx, row, area_id)
    using = tx.all(SafeRoutinesUsing, "safe.routines_using", name=row.name)
    way = paths(tx, (one.area_id for one in using))

    def finds(one: SafeRoutinesUsing, where: int | None) -> bool:
        return where is None or where in way[one.area_id]

    lose = [one for one in using if finds(one, row.area_id) and not finds(one, area_id)]
    gain = [one for one in using if finds(one, area_id) and not finds(one, row.area_id)]
    seen = {one.id for one in using if ctx.actor.may_at("routine.see", one.area_id)}
    return Moving(
        lose=[RoutineOut(one.id, one.name) for one in lose if one.id in seen],
        gain=[RoutineOut(one.id, one.name) for one in gain if one.id in seen],
        lose_unseen=sum(one.id not in seen for one in lose),
        gain_unseen=sum(one.id not in seen for one in gain),
    )


@in_transaction
def retire(tx: Tx, ctx: Ctx, secret_id: int) -> None:
    """Takes a secret out of the safe; its value is gone, its uses stay on record."""
    row = find(tx, ctx, secret_id, "secret.retire")
    if row.kind in OF_PEOPLE:
        using = tx.all(SafeRoutinesUsing, "safe.routines_using", name=row.name)
        if using:
            names = ", ".join(one.name for one in using[:5])
            raise Refused(f"{row.name} is asked for by {names}.", "Change those routines first.")
    for own in tx.all(OwnValue, "own_values.of_secret", secret=secret_id):
        drop(tx, ctx, own.id)
        tx.write("own_values.let_go", id=own.id, secret=secret_id)
    drop(tx, ctx, secret_id)
    audit(tx, ctx, "secret retired", f"secret:{secret_id}", f"Took {row.name} out of the safe")
    changed(tx, ctx, "safe", secret_id)


def _own(tx: Tx, row: Secret) -> list[OwnShown]:
    """The values of a secret's own, each with what it is where that is no secret."""
    rows = tx.all(OwnValue, "own_values.of_secret", secret=row.id)
    values = readable(tx, (one.id for one in rows)) if row.kind == NAMED else {}
    return [
        OwnShown(
            id=one.id,
            host_id=one.host_id,
            host=one.host,
            robot_id=one.robot_id,
            robot=one.robot,
            value=values.get(one.id),
            expires_on=one.expires_on,
            changed_at=one.changed_at,
            made_by=one.made_by,
            used_at=one.used_at,
        )
        for one in rows
    ]


@in_transaction
def one(tx: Tx, ctx: Ctx, secret_id: int) -> SecretOut:
    """Who used a secret when for what, and which routines would miss it."""
    row = find(tx, ctx, secret_id, "secret.see")
    using = tx.all(SafeRoutinesUsing, "safe.routines_using", name=row.name) if row.kind in OF_PEOPLE else []
    seen = [RoutineOut(one.id, one.name) for one in using if ctx.actor.may_at("routine.see", one.area_id)]
    return SecretOut(
        uses=tx.all(UseOut, "safe.uses", id=secret_id),
        routines=seen,
        unseen=len(using) - len(seen),
        own=_own(tx, row),
        may_differ=row.kind in FOR_PACKAGES and ctx.actor.may_at("secret.change", row.area_id),
    )
