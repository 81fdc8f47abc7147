"""Where this program may connect to: hosts that whoever installed it listed, resolved once and pinned.

The list is a setting of the installation (TALLYMAN_OUTGOING), not of the house: nobody who may only
change a page's fields can make the server reach into the network around it.
"""

from __future__ import annotations

import contextlib
import ipaddress
import smtplib
import socket
import ssl
from datetime import timedelta
from typing import TYPE_CHECKING

from tallyman import config
from tallyman.errors import Fault, InputFaults, SlowDown, Unavailable
from tallyman.services.context import Ctx
from tallyman.store.db import Tx
from tallyman.store.records.people import PeopleTries

if TYPE_CHECKING:
    import requests

SECONDS = 10
MOST_TRIES = 10
WITHIN = timedelta(minutes=15)
LARGEST_ANSWER = 1_000_000


def _listed(host: str, port: int) -> bool:
    one = config.settings()
    allowed = {entry.lower() for entry in one.outgoing} | {f"{one.mail_host}:{one.mail_port}".lower()}
    return host.lower() in allowed or f"{host}:{port}".lower() in allowed


def _is_number(host: str) -> bool:
    with contextlib.suppress(ValueError):
        ipaddress.ip_address(host)
        return True
    return False


def check(host: str, port: int, field: str = "host") -> None:
    """Raises InputFaults unless connections to a host and port are allowed."""
    if not _listed(host, port):
        words = "is not among the hosts that this installation may connect to"
        mend = f"whoever runs it adds {host}:{port} to TALLYMAN_OUTGOING"
        raise InputFaults([Fault(field, f"{host}:{port}"[:120], f"{words}; {mend}")])


def resolved(host: str, port: int) -> str:
    """The one address that a listed host is reached at now. Raises InputFaults, or Unavailable.

    A name that leads to this machine or to what only lies beside it is refused unless the list says
    that address itself: whoever owns a name may let it lead anywhere.
    """
    check(host, port)
    try:
        found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
    except OSError:
        raise Unavailable(f"The name {host} is not known here.", "Check its spelling.") from None
    address = str(found[0][4][0])
    number = ipaddress.ip_address(address.partition("%")[0])
    near = number.is_loopback or number.is_link_local or number.is_unspecified or number.is_multicast
    if near and not _is_number(host) and host.lower() != "localhost":
        raise Unavailable(
            f"{host} leads to {address}, which is no other machine.",
            f"List {address} itself, if it is meant.",
        )
    return address


class _Mail(smtplib.SMTP):
    """Connects to the pinned address; the certificate is still asked to be the host's own."""

    def _get_socket(self, host: str, port: int, timeout: float) -> socket.socket:
        return socket.create_connection((resolved(host, port), port), timeout)


class _SecureMail(smtplib.SMTP_SSL):
    def _get_socket(self, host: str, port: int, timeout: float) -> socket.socket:
        plain = socket.create_connection((resolved(host, port), port), timeout)
        return self.context.wrap_socket(plain, server_hostname=host)


def mail(host: str, port: int, secure: ssl.SSLContext | None = None) -> smtplib.SMTP:
    """A connection to a listed mail server; with a context for TLS, encrypted from the first byte."""
    if secure is not None:
        return _SecureMail(host, port, timeout=SECONDS, context=secure)
    return _Mail(host, port, timeout=SECONDS)


def pin(session: requests.Session) -> None:
    """Has a session go nowhere but to listed hosts, without proxies of the surroundings or redirects."""
    from tallyman.services.house.pinned import Pinned

    session.trust_env = False
    session.max_redirects = 0
    for scheme in ("https://", "http://"):
        session.mount(scheme, Pinned(resolved))


def plain() -> requests.Session:
    """A session that goes nowhere but to listed hosts, and whose calls end after some seconds."""
    from tallyman.services.house.pinned import Plain

    session = Plain(SECONDS)
    pin(session)
    return session


def slow_down(tx: Tx, ctx: Ctx, what: str) -> None:
    """Counts a try of a connection by whoever asks. Raises SlowDown beyond ten in a quarter of an hour."""
    who = f"{what}:{ctx.actor.person_id}"
    tx.write("people.try_failed", who=who, now=ctx.now, forget=ctx.now - WITHIN)
    row = tx.one(PeopleTries, "people.tries", who=who)
    if row is not None and row.failures > MOST_TRIES:
        words = "Ten tests within a quarter of an hour are enough."
        raise SlowDown(words, "Wait, then test again.", seconds=900)
