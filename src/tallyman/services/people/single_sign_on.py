"""Single sign-on: settings, the way out to the identity provider and back, and who somebody is then."""

from __future__ import annotations

import hashlib
import hmac
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from tallyman.config import address
from tallyman.core.alerts import kinds
from tallyman.core.free import FreeObject
from tallyman.errors import Clash, Fault, Forbidden, InputFaults, NotFound, NotSignedIn
from tallyman.services import safe
from tallyman.services.access import find_role
from tallyman.services.alerts import tell
from tallyman.services.context import Actor, Ctx, audit, changed, company_of, in_transaction
from tallyman.services.house import outgoing, settings
from tallyman.services.people import provider
from tallyman.services.people.answers import FollowsOut, OutsideSettings
from tallyman.services.people.invitations import LONGEST_NAME, check_address
from tallyman.services.people.sessions import open_session, token_digest
from tallyman.store.db import Tx
from tallyman.store.records.people import SingleSignOnBegun, SingleSignOnGroupsByClaim, SingleSignOnPerson
from tallyman.store.records.safe import SafeByName

SETTING = "identity"
SECRET = "sign-in-client"
LASTS = timedelta(minutes=10)
BACK = "/api/v1/outside/back"
HOW = "single sign-on"
LONGEST_TOKEN = 8000
MOST_GROUPS = 500


@dataclass(frozen=True)
class Given:
    """Single sign-on as the lead sets it up."""

    on: bool
    name: str
    issuer: str
    client_id: str
    groups_claim: str
    role_id: int | None
    secret: str = ""


@dataclass(frozen=True)
class Entered:
    """A sign-in that came back: the session, its end, and the page to go to."""

    token: str
    ends: datetime
    back: str


@in_transaction
def shown(tx: Tx, ctx: Ctx) -> OutsideSettings:
    """The settings as their page shows them, never the secret."""
    ctx.require("house.change")
    value, version = settings.read(tx, SETTING)
    kept = value or {}
    groups = tx.all(SingleSignOnGroupsByClaim, "single_sign_on.groups_by_claim")
    return OutsideSettings(
        on=kept.get("on", False),
        name=kept.get("name", ""),
        issuer=kept.get("issuer", ""),
        client_id=kept.get("client_id", ""),
        groups_claim=kept.get("groups_claim", "groups"),
        role_id=kept.get("role_id"),
        version=version,
        has_secret=tx.one(SafeByName, "safe.by_name", kind=SETTING, name=SECRET) is not None,
        back=f"{address()}{BACK}",
        groups=[FollowsOut(name=row.name, claim=row.claim) for row in groups],
    )


def _check(tx: Tx, given: Given) -> None:
    faults = []
    if not 1 <= len(given.name.strip()) <= 60:
        faults.append(Fault("name", given.name[:60], "say what the button is to name, in 1 to 60 characters"))
    if not 1 <= len(given.client_id.strip()) <= 200:
        faults.append(
            Fault("client_id", given.client_id[:60], "give the name the provider knows Tallyman by")
        )
    if not 1 <= len(given.groups_claim.strip()) <= 60:
        faults.append(Fault("groups_claim", given.groups_claim[:60], "give the claim's name, mostly groups"))
    if given.role_id is not None:
        try:
            find_role(tx, given.role_id)
        except NotFound:
            faults.append(Fault("role", given.role_id, "there is no such role; choose one"))
    try:
        provider.check_issuer(given.issuer)
    except InputFaults as error:
        faults += error.faults
    if faults:
        raise InputFaults(faults)


def keep(ctx: Ctx, given: Given, version: int) -> None:
    """Keeps the settings; the secret goes into the safe. An empty secret keeps the one there is.

    Turned on only when the provider answers under this issuer.
    """
    ctx.require("house.change")
    ctx.db.transact(lambda tx: _check(tx, given))
    issuer = provider.check_issuer(given.issuer)
    if given.on:
        ctx.db.transact(lambda tx: outgoing.slow_down(tx, ctx, "identity test"))
    endpoints = provider.discover(issuer) if given.on else {}

    def work(tx: Tx) -> None:
        if given.role_id is not None:
            # Whoever comes by single sign-on gets it: that is giving roles.
            ctx.require_at("role.decide", None)
        before, _ = settings.read(tx, SETTING)
        value = {
            "on": given.on,
            "name": given.name.strip(),
            "issuer": issuer,
            "client_id": given.client_id.strip(),
            "groups_claim": given.groups_claim.strip(),
            "role_id": given.role_id,
            "leave": endpoints.get("end_session_endpoint"),
        }
        moved = before is not None and before["issuer"] != issuer
        if moved and not given.secret and tx.one(SafeByName, "safe.by_name", kind=SETTING, name=SECRET):
            raise InputFaults([Fault("secret", None, "type it: the one kept is for the issuer before only")])
        settings.keep(tx, ctx, SETTING, value, version)
        if given.secret:
            safe.put_or_replace(tx, ctx, SETTING, SECRET, given.secret)
        words = f"Single sign-on by {value['name']} is {'on' if given.on else 'off'}"
        audit(tx, ctx, "single sign-on changed", "setting:identity", words, before, value)
        changed(tx, ctx, "house")

    ctx.db.transact(work)


def offered(tx: Tx) -> str:
    """What the button of the sign-in page names; empty while single sign-on is off."""
    value, _ = settings.read(tx, SETTING)
    return str(value["name"]) if value and value["on"] else ""


def _provider(tx: Tx, ctx: Ctx) -> tuple[provider.Provider, dict[str, object]]:
    value, _ = settings.read(tx, SETTING)
    if value is None or not value["on"]:
        raise NotFound("Single sign-on is not set up here.", "Sign in with a password.")
    secret = safe.open_secret(tx, ctx, SETTING, SECRET, HOW, "the sign-in page") or ""
    return provider.Provider(value["issuer"], value["client_id"], secret, value["groups_claim"]), value


def start(ctx: Ctx, back: str) -> tuple[str, str]:
    """The address to send the browser to, and the state that it keeps until it comes back."""
    found, _ = ctx.db.transact(lambda tx: _provider(tx, ctx))
    state, nonce, verifier = (secrets.token_urlsafe(48) for _ in range(3))
    safe_back = back[:300] if back.startswith("/") and not back.startswith(("//", "/\\")) else "/"
    url = provider.address_to_ask(found, f"{address()}{BACK}", state, nonce, verifier)
    ctx.db.transact(
        lambda tx: tx.write(
            "single_sign_on.begin",
            state=token_digest(state),
            nonce=nonce,
            verifier=verifier,
            back=safe_back,
            ends=ctx.now + LASTS,
        )
    )
    return url, state


def come_back(ctx: Ctx, state: str, kept: str, code: str, agent: str) -> Entered:
    """A session for whoever the provider names. `kept` is the state that the browser kept.

    Raises NotSignedIn, Forbidden or Unavailable, in words for the sign-in page.
    """

    def begun(tx: Tx) -> tuple[SingleSignOnBegun, provider.Provider, dict[str, object]]:
        row = tx.one(SingleSignOnBegun, "single_sign_on.begun", state=token_digest(state), now=ctx.now)
        if row is None or not hmac.compare_digest(state.encode(), kept.encode()):
            raise NotSignedIn("This sign-in took too long or began in another browser.", "Sign in again.")
        tx.write("single_sign_on.end", state=token_digest(state))
        return row, *_provider(tx, ctx)

    row, found, value = ctx.db.transact(begun)
    said, raw = provider.claims(found, f"{address()}{BACK}", code, row.nonce, row.verifier, ctx.now)

    def enter(tx: Tx) -> Entered:
        person = _person(tx, ctx, said, value)
        _follow_claims(tx, ctx, person, said.get(found.groups_claim))
        kept_token = raw if len(raw) <= LONGEST_TOKEN else None
        token, ends = open_session(tx, ctx, person.id, person.name, agent, HOW, kept_token)
        return Entered(token, ends, row.back)

    return ctx.db.transact(enter)


def _person(tx: Tx, ctx: Ctx, said: dict[str, object], value: FreeObject) -> SingleSignOnPerson:
    """Who the provider's claims stand for: known by its identity, by a proved address, or new."""
    source = hashlib.sha256(value["issuer"].encode()).hexdigest()[:16]
    outside = f"{source}:{said['sub']}"[:190]
    person = tx.one(SingleSignOnPerson, "single_sign_on.person", outside=outside)
    if person is None:
        email = _address(said)
        person = tx.one(SingleSignOnPerson, "single_sign_on.by_email", email=email)
        if person is not None and person.active:
            tx.write("single_sign_on.bind", id=person.id, outside=outside)
            words = f"{person.name} is known by single sign-on from now on"
            audit(tx, _as(ctx, person), "single sign-on bound", f"person:{person.id}", words)
        elif person is None:
            return _new(tx, ctx, said, value, outside, email)
    if not person.active or person.state not in ("active", "invited"):
        raise Forbidden(
            "Your account at Tallyman is not active any more.", "Ask the lead to take you back in."
        )
    return person


def _address(said: FreeObject) -> str:
    """The proved mail address of a newcomer. Raises Forbidden, saying what is missing."""
    if not said.get("email") or said.get("email_verified") is not True:
        raise Forbidden(
            "The identity provider names no proved mail address for you.",
            "Ask whoever looks after it to prove your address, or ask the lead for an invitation.",
        )
    try:
        return check_address(str(said["email"]))
    except InputFaults as error:
        raise Forbidden(
            f"The identity provider's mail address for you cannot be used: {error}.", ""
        ) from None


def _new(
    tx: Tx, ctx: Ctx, said: dict[str, object], value: FreeObject, outside: str, email: str
) -> SingleSignOnPerson:
    """A person who came by single sign-on for the first time, with the role chosen for them."""
    name = " ".join(str(said.get("name") or email.partition("@")[0]).split())[:LONGEST_NAME]
    zone = company_of(tx).zone
    try:
        number = tx.insert(
            "single_sign_on.add", name=name, email=email, zone=zone, outside=outside, now=ctx.now
        )
    except Clash:
        raise Forbidden(
            "Your mail address belongs to another account here.", "Ask the lead to put this right."
        ) from None
    person = SingleSignOnPerson(number, name, email, "active", True)
    audit(tx, _as(ctx, person), "person came", f"person:{number}", f"{name} came by single sign-on")
    if value["role_id"] is not None:
        role = find_role(tx, value["role_id"])
        tx.insert(
            "access.give",
            role=role.id,
            person=number,
            group=None,
            area=None,
            holder=f"person:{number}",
            by=None,
            now=ctx.now,
        )
        words = f"{name} holds the role {role.name}, as the settings of single sign-on say"
        audit(tx, ctx, "role given", f"person:{number}", words, None, {"role": role.name})
    tell(tx, ctx, kinds.CAME_IN, {"id": number}, name=name)
    changed(tx, ctx, "people", number)
    return person


def _follow_claims(tx: Tx, ctx: Ctx, person: SingleSignOnPerson, said: object) -> None:
    """Puts a person into the groups that the claims name, and out of those they name no more.

    Who was put into a group by hand stays in it.
    """
    named = {str(one) for one in said[:MOST_GROUPS]} if isinstance(said, list) else set()
    groups = {row.id: row for row in tx.all(SingleSignOnGroupsByClaim, "single_sign_on.groups_by_claim")}
    wanted = {number for number, row in groups.items() if row.claim in named}
    before = set(tx.values(int, "single_sign_on.claimed", person=person.id))
    for number in sorted(wanted - before):
        if tx.write("access.join", group=number, person=person.id, by_claim=True, now=ctx.now):
            _audit_group(tx, ctx, person, number, f"{person.name} is in {groups[number].name} by claim")
    for number in sorted(before - wanted):
        tx.write("access.leave", group=number, person=person.id)
        name = groups[number].name if number in groups else "a group"
        _audit_group(tx, ctx, person, number, f"{person.name} is in {name} no more: the claim is gone")


def _audit_group(tx: Tx, ctx: Ctx, person: SingleSignOnPerson, group_id: int, words: str) -> None:
    audit(tx, _as(ctx, person), "group followed claim", f"group:{group_id}", words)
    changed(tx, ctx, "access")


def _as(ctx: Ctx, person: SingleSignOnPerson) -> Ctx:
    return Ctx(ctx.db, ctx.now, Actor(person.id, person.name, address=ctx.actor.address))


def sign_out_address(ctx: Ctx, token: str) -> str | None:
    """Where to end the sign-in at the provider too, for a session that came from there."""
    if not token:
        return None

    def look(tx: Tx) -> tuple[str | None, FreeObject | None]:
        return tx.value(str, "single_sign_on.token_of", token=token_digest(token)), settings.read(
            tx, SETTING
        )[0]

    raw, value = ctx.db.transact(look)
    if not raw or value is None:
        return None
    if not value.get("leave"):
        return None
    return provider.address_to_leave(value["leave"], raw, value["client_id"], f"{address()}/sign-in")
