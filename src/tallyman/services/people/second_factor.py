"""The second factor of a sign-in: codes by time (RFC 6238) and recovery codes that work once each."""

from __future__ import annotations

import hashlib
import hmac
import secrets

import pyotp

from tallyman.core.alerts import kinds
from tallyman.errors import Fault, InputFaults, NotFound, Refused
from tallyman.services import safe
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed, company_of, in_transaction
from tallyman.services.people import guesses
from tallyman.services.people.answers import Enrolment, FactorOut
from tallyman.store.db import Tx
from tallyman.store.records.access import AccessHeldBy
from tallyman.store.records.people import Person, SecondFactorOfPerson

SECONDS = 30
# A code is taken one step early or late, for clocks that differ.
STEPS_APART = 1
RECOVERY_CODES = 10
CODE_BYTES = 5
WRONG = "this code does not fit; take the one shown now"


def _name(person_id: int) -> str:
    return f"person-{person_id}"


def _digest(code: str) -> str:
    return hashlib.sha256(code.encode()).hexdigest()


def status(tx: Tx, person_id: int) -> FactorOut:
    """Since when a person's second factor is on, how many recovery codes are left, and who asks for it."""
    row = tx.one(SecondFactorOfPerson, "second_factor.of_person", person=person_id)
    asked_by = roles_asking(tx, person_id)
    if row is None or row.on_since is None:
        return FactorOut(on_since=None, codes_left=0, asked_by=asked_by)
    return FactorOut(on_since=row.on_since, codes_left=row.codes_left or 0, asked_by=asked_by)


def is_on(tx: Tx, person_id: int) -> bool:
    """Whether a sign-in by password asks this person for a code."""
    row = tx.one(SecondFactorOfPerson, "second_factor.of_person", person=person_id)
    return row is not None and row.on_since is not None


def begin(ctx: Ctx) -> Enrolment:
    """A new secret for the person's app, shown this once; nothing is asked for before it is proved."""
    me = ctx.actor
    assert me.person_id is not None
    value = pyotp.random_base32()

    def work(tx: Tx) -> str:
        if is_on(tx, me.person_id or 0):
            raise Refused("Your second factor is on already.", "Turn it off first to set up another.")
        number = safe.put_or_replace(tx, ctx, safe.PRIVATE, _name(me.person_id or 0), value)
        tx.write("second_factor.begin", person=me.person_id, secret=number)
        return str(company_of(tx).name)

    company = ctx.db.transact(work)
    uri = pyotp.TOTP(value).provisioning_uri(name=me.email, issuer_name=f"Tallyman {company}")
    import segno

    picture = segno.make(uri, error="m").svg_data_uri(scale=4, border=2)
    return Enrolment(secret=value, uri=uri, picture=picture)


def confirm(ctx: Ctx, code: str) -> list[str]:
    """Turns the second factor on by a code from the app; gives the recovery codes, shown this once."""
    person_id = ctx.actor.person_id
    assert person_id is not None
    counters = _book(ctx)

    def work(tx: Tx) -> list[str]:
        row = tx.one(SecondFactorOfPerson, "second_factor.of_person", person=person_id)
        if row is None or row.on_since is not None:
            raise Refused("There is nothing to confirm.", "Begin anew.")
        step = _step_of(tx, ctx, row, code)
        if step is None:
            raise InputFaults([Fault("code", code[:10], WRONG)])
        guesses.was_right(tx, counters)
        tx.write("second_factor.turn_on", person=person_id, now=ctx.now, step=step)
        codes = _fresh_codes(tx, person_id)
        audit(tx, ctx, "second factor on", f"person:{person_id}", "Turned the second factor on")
        changed(tx, ctx, "people", person_id)
        return codes

    return ctx.db.transact(work)


def fresh_codes(ctx: Ctx, code: str) -> list[str]:
    """New recovery codes in place of the former, against a code."""
    counters = _book(ctx)

    def work(tx: Tx) -> list[str]:
        _prove(tx, ctx, code, counters)
        audit(tx, ctx, "recovery codes made", f"person:{ctx.actor.person_id}", "Made new recovery codes")
        return _fresh_codes(tx, ctx.actor.person_id or 0)

    return ctx.db.transact(work)


def turn_off(ctx: Ctx, code: str) -> None:
    """Turns one's own second factor off, against a code. Refused where a role asks for it."""
    person_id = ctx.actor.person_id
    assert person_id is not None
    counters = _book(ctx)

    def work(tx: Tx) -> None:
        roles = roles_asking(tx, person_id)
        if roles:
            words = " and ".join(roles)
            raise Refused(f"The role {words} asks for a second factor.", "It cannot be turned off.")
        _prove(tx, ctx, code, counters)
        drop_factor(tx, ctx, person_id)
        audit(tx, ctx, "second factor off", f"person:{person_id}", "Turned the second factor off")
        changed(tx, ctx, "people", person_id)

    ctx.db.transact(work)


@in_transaction
def take_from(tx: Tx, ctx: Ctx, person_id: int) -> None:
    """Takes away somebody's second factor who lost it; they are told, and signed out everywhere."""
    ctx.require("person.change")
    person = tx.one(Person, "people.by_id", id=person_id)
    if person is None or person.state == "erased":
        raise NotFound("There is no such person.", "Choose one under House rules, People.")
    if not is_on(tx, person_id):
        raise Refused(f"{person.name} has no second factor.", "Load the page again.")
    drop_factor(tx, ctx, person_id)
    tx.write("people.end_sessions_of", person=person_id, but="")
    words = f"Took away the second factor of {person.name}"
    audit(tx, ctx, "second factor taken away", f"person:{person_id}", words)
    tell(tx, ctx, kinds.FACTOR_TAKEN, {"id": person_id}, [person_id])
    changed(tx, ctx, "people", person_id)


def roles_asking(tx: Tx, person_id: int) -> list[str]:
    """The roles a person holds that ask for a second factor."""
    rows = tx.all(AccessHeldBy, "access.held_by", person=person_id)
    return sorted({row.role for row in rows if row.second_factor})


def accepts(tx: Tx, ctx: Ctx, person_id: int, code: str) -> str:
    """Uses a code up: "code", "spare code", or nothing if it does not fit."""
    row = tx.one(SecondFactorOfPerson, "second_factor.of_person", person=person_id)
    if row is None or row.on_since is None:
        return ""
    clean = "".join(code.split()).replace("-", "").upper()
    if clean.isdigit() and len(clean) == 6:
        step = _step_of(tx, ctx, row, clean)
        used = step is not None and tx.write("second_factor.use_step", person=person_id, step=step)
        return "code" if used else ""
    if not tx.write("second_factor.use_code", person=person_id, code=_digest(clean), now=ctx.now):
        return ""
    left = (row.codes_left or 1) - 1
    tell(tx, _by_nobody(ctx), kinds.SPARE_CODE_USED, {"id": person_id}, [person_id], left=left)
    return "spare code"


def _by_nobody(ctx: Ctx) -> Ctx:
    """The same request, so that also who asks is told."""
    return Ctx(ctx.db, ctx.now)


def _book(ctx: Ctx) -> list[guesses.Counter]:
    """Counts a try of a code by somebody signed in; wrong ones stay counted, whatever is undone after."""
    counters = [guesses.Counter(f"own code:{ctx.actor.person_id}")]
    guesses.tried(ctx, counters)
    return counters


def _prove(tx: Tx, ctx: Ctx, code: str, counters: list[guesses.Counter]) -> None:
    if not accepts(tx, ctx, ctx.actor.person_id or 0, code):
        raise InputFaults([Fault("code", code[:10], WRONG)])
    guesses.was_right(tx, counters)


def _step_of(tx: Tx, ctx: Ctx, row: SecondFactorOfPerson, code: str) -> int | None:
    """The step of time a code belongs to, if it fits and is later than the last one used."""
    name = _name(row.person_id)
    value = safe.open_secret(tx, ctx, safe.PRIVATE, name, "second factor of a sign-in")
    if value is None:
        return None
    totp = pyotp.TOTP(value)
    now = int(ctx.now.timestamp()) // SECONDS
    for step in range(now - STEPS_APART, now + STEPS_APART + 1):
        if hmac.compare_digest(totp.generate_otp(step), code.strip()) and step > row.last_step:
            return step
    return None


def _fresh_codes(tx: Tx, person_id: int) -> list[str]:
    tx.write("second_factor.drop_codes", person=person_id)
    codes = []
    for _ in range(RECOVERY_CODES):
        code = secrets.token_hex(CODE_BYTES).upper()
        tx.write("second_factor.add_code", person=person_id, code=_digest(code))
        codes.append(f"{code[:5]}-{code[5:]}")
    return codes


def drop_factor(tx: Tx, ctx: Ctx, person_id: int) -> None:
    """Nothing of a person's second factor is left, its secret included."""
    row = tx.one(SecondFactorOfPerson, "second_factor.of_person", person=person_id)
    tx.write("second_factor.turn_off", person=person_id)
    tx.write("second_factor.drop_codes", person=person_id)
    if row is not None:
        safe.drop(tx, ctx, row.secret_id)
