"""Slowing whoever guesses passwords and codes, and not the one whose they are.

A try is counted before it is checked, under the lock of its counters' rows, so that tries at the same
time cannot pass one by one. What was right gives back its own count and no other's. A browser in which
somebody signed in before is known for their account: it has counters of its own, so that wrong tries
from elsewhere never hold up the owner.
"""

from __future__ import annotations

import hashlib
import hmac
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from tallyman.config import key_ring
from tallyman.errors import SlowDown
from tallyman.services.context import Ctx
from tallyman.store.db import Tx
from tallyman.store.records.people import PeopleTries

FORGET = timedelta(minutes=15)
KNOWN_FOR = timedelta(days=180)
MOST_KNOWN = 5


@dataclass(frozen=True)
class Counter:
    """What tries are counted under, how many are free, and the longest pause after more."""

    who: str
    free: int = 3
    longest: timedelta = timedelta(minutes=5)

    @property
    def key(self) -> str:
        """As it is kept; long names by their digest, exact to the last character."""
        return hashlib.sha256(self.who.encode("utf-8", "replace")).hexdigest()

    def wait(self, row: PeopleTries | None, now: datetime) -> timedelta:
        """How long until the next try: doubling once the free ones are used."""
        if row is None or now - row.last_at > FORGET or row.failures < self.free:
            return timedelta()
        pause = timedelta(seconds=2 ** min(row.failures - self.free + 1, 12))
        last: datetime = row.last_at
        return max(timedelta(), last + min(pause, self.longest) - now)


def of_sign_in(ctx: Ctx, email: str, browser: str) -> list[Counter]:
    """The counters of a sign-in by password."""
    if is_known(email, browser):
        return [Counter(f"known browser:{email}:{_id(browser)}")]
    address = ctx.actor.address
    return [
        Counter(f"account at address:{email}:{address}"),
        # Shared by all who come from one place, so higher and shorter.
        Counter(f"address:{address}", free=10, longest=timedelta(seconds=30)),
        Counter(f"account:{email}", free=20, longest=timedelta(minutes=1)),
    ]


def of_code(person_id: int, email: str, browser: str = "") -> list[Counter]:
    """The counters of a second factor's codes."""
    known = f":{_id(browser)}" if is_known(email, browser) else ""
    return [Counter(f"code:{person_id}{known}")]


def book(tx: Tx, ctx: Ctx, counters: list[Counter]) -> None:
    """Counts a try that is about to be checked. Raises SlowDown, and counts nothing, while one must wait."""
    wait = timedelta()
    for counter in sorted(counters, key=lambda one: one.key):
        tx.write("people.hold_try", who=counter.key, now=ctx.now)
        wait = max(wait, counter.wait(tx.one(PeopleTries, "people.tries", who=counter.key), ctx.now))
    if wait:
        seconds = int(wait.total_seconds()) + 1
        words = f"Too many failed tries; the next is allowed in {seconds} s."
        raise SlowDown(words, "Wait, then try again.", seconds=seconds)
    for counter in counters:
        tx.write("people.try_failed", who=counter.key, now=ctx.now, forget=ctx.now - FORGET)


def was_right(tx: Tx, counters: list[Counter]) -> None:
    """A try was right: its first counter starts anew, the others give back this one try."""
    first, *others = counters
    tx.write("people.try_worked", who=first.key)
    for counter in others:
        tx.write("people.try_given_back", who=counter.key)


def tried(ctx: Ctx, counters: list[Counter]) -> None:
    """As `book`, in a transaction of its own, for what is checked outside of one."""
    ctx.db.transact(lambda tx: book(tx, ctx, counters))


def _id(browser: str) -> str:
    return browser.partition(".")[0][:64]


def _proof(email: str, name: str) -> str:
    text = f"known browser:{email.lower()}:{name}".encode("utf-8", "replace")
    return hmac.new(key_ring().links, text, hashlib.sha256).hexdigest()[:32]


def is_known(email: str, browser: str) -> bool:
    """Whether somebody signed in to that account in this browser before, by what it keeps."""
    name, *proofs = browser[:400].split(".")
    wanted = _proof(email, name)
    return any(hmac.compare_digest(one.encode(), wanted.encode()) for one in proofs[:MOST_KNOWN])


def known_now(email: str, browser: str) -> str:
    """What the browser is to keep once somebody signed in: its name, and a proof for each account."""
    name, *proofs = browser[:400].split(".")
    if len(name) != 32 or not name.isalnum():
        name, proofs = secrets.token_hex(16), []
    mine = _proof(email, name)
    return ".".join([name, mine, *(one for one in proofs if one != mine)][: MOST_KNOWN + 1])
