"""The mail server: its settings, the test of them, and handing mails to it."""

from __future__ import annotations

import re
import secrets
import smtplib
import ssl
from dataclasses import asdict, dataclass
from email.message import EmailMessage

from tallyman import config
from tallyman.errors import Away, Fault, InputFaults, Refused, Unavailable
from tallyman.formats.sound import one_line
from tallyman.services import safe
from tallyman.services.answers import Choice
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.house import outgoing, settings
from tallyman.services.house.answers import MailSettings
from tallyman.store.db import Tx
from tallyman.store.records.safe import SafeByName

SETTING = "mail"
SECRET = "mail-server"
SECURITY = {
    "none": "no encryption",
    "starttls": "encryption asked for after connecting (STARTTLS)",
    "tls": "encryption from the first byte (TLS)",
}
HOST = re.compile(r"^[A-Za-z0-9]([A-Za-z0-9.-]{0,250}[A-Za-z0-9])?$|^\[?[0-9a-fA-F:]{2,39}\]?$")
ADDRESS = re.compile(r"^[^@\s,;<>\"]{1,64}@[A-Za-z0-9.-]{1,120}$")


@dataclass(frozen=True)
class Server:
    """How the mail server is reached, and who mails come from."""

    host: str
    port: int
    security: str
    user: str
    sender: str
    password: str = ""


def server(tx: Tx, ctx: Ctx, what: str = "sending mails") -> Server:
    """The mail server in use: as set under House rules, else as this installation was started with."""
    value, _ = settings.read(tx, SETTING)
    if value is None:
        one = config.settings()
        return Server(one.mail_host, one.mail_port, "none", "", one.mail_from)
    password = safe.open_secret(tx, ctx, "mail", SECRET, what) if value["user"] else ""
    return Server(**value, password=password or "")


class Unheard(OSError):
    """The mail server was given a mail and did not answer: it may have taken it, or not."""


def written(sender: str, to: str, subject: str, body: str, message_id: str) -> EmailMessage:
    """One mail as it goes out; the same `message_id` names the same mail, however often it is handed over."""
    message = EmailMessage()
    message["From"], message["To"] = sender, to
    # A head is one line, whatever a person wrote.
    message["Subject"] = " ".join(one_line(subject).split())
    message["Message-ID"] = f"<{message_id}@{sender.partition('@')[2]}>"
    message.set_content(body)
    return message


def _connected(to_server: Server) -> smtplib.SMTP:
    secure = ssl.create_default_context()
    connection = outgoing.mail(
        to_server.host, to_server.port, secure if to_server.security == "tls" else None
    )
    try:
        if to_server.security == "starttls":
            connection.starttls(context=secure)
        if to_server.user:
            connection.login(to_server.user, to_server.password)
    except BaseException:
        connection.close()
        raise
    return connection


def hand_over(to_server: Server, to: str, subject: str, body: str, message_id: str) -> str:
    """Hands one mail to the mail server and gives its answer.

    Raises OSError when it refuses this mail, Away when it takes none: no answer, or no sign-in.
    """
    message = written(to_server.sender, to, subject, body, message_id)
    try:
        connection = _connected(to_server)
    except (OSError, smtplib.SMTPException) as error:
        raise Away(f"The mail server {to_server.host} takes no mails: {error}") from error
    except (InputFaults, Unavailable) as error:
        raise Away(f"The mail server may not be connected to: {error}") from error
    try:
        with connection:
            connection.send_message(message)
    except (smtplib.SMTPServerDisconnected, TimeoutError) as error:
        raise Unheard(str(error)) from error
    except smtplib.SMTPException as error:
        raise OSError(str(error)) from error
    return "taken"


@in_transaction
def shown(tx: Tx, ctx: Ctx) -> MailSettings:
    """The settings as their page shows them: whether there is a password, never which."""
    ctx.require("mail.see")
    value, version = settings.read(tx, SETTING)
    found = asdict(server(tx, ctx)) if value is None else dict(value)
    found.pop("password", None)
    return MailSettings(
        **found,
        version=version,
        has_password=tx.one(SafeByName, "safe.by_name", kind="mail", name=SECRET) is not None,
        securities=[Choice(value=key, words=words) for key, words in SECURITY.items()],
        may_change=ctx.actor.may("mail.change"),
    )


def _check(given: Server) -> None:
    faults = []
    if not HOST.match(given.host):
        faults.append(
            Fault("host", given.host[:80], "give a host's name or address, such as mail.company.example")
        )
    if not 1 <= given.port <= 65535:
        faults.append(Fault("port", given.port, "allowed: 1 to 65,535; most servers take 587 or 465"))
    if given.security not in SECURITY:
        faults.append(Fault("security", given.security[:20], f"allowed: {', '.join(SECURITY)}"))
    if not ADDRESS.match(given.sender):
        faults.append(Fault("sender", given.sender[:80], "give a mail address"))
    if given.user and given.security == "none" and given.host not in ("127.0.0.1", "localhost", "::1"):
        faults.append(Fault("security", "none", "a password is sent over encrypted connections only"))
    if faults:
        raise InputFaults(faults)
    outgoing.check(given.host, given.port)


def _with_password(tx: Tx, ctx: Ctx, given: Server, what: str) -> Server:
    """The settings with the password that is kept, where none was typed and the server stays the same."""
    if given.password or not given.user:
        return given
    value, _ = settings.read(tx, SETTING)
    if value is None or (value["host"], value["user"]) != (given.host, given.user):
        raise InputFaults(
            [Fault("password", None, "type it: it is kept for the server and name before only")]
        )
    return Server(**{**asdict(given), "password": safe.open_secret(tx, ctx, "mail", SECRET, what) or ""})


@in_transaction
def keep(tx: Tx, ctx: Ctx, given: Server, version: int) -> None:
    """Keeps the settings; the password goes into the safe. An empty password keeps the one there is."""
    ctx.require("mail.change")
    _check(given)
    before, _ = settings.read(tx, SETTING)
    whole = _with_password(tx, ctx, given, "keeping the mail settings")
    value = {key: one for key, one in asdict(given).items() if key != "password"}
    settings.keep(tx, ctx, SETTING, value, version)
    if whole.user and given.password:
        safe.put_or_replace(tx, ctx, "mail", SECRET, given.password)
    if not given.user:
        row = tx.one(SafeByName, "safe.by_name", kind="mail", name=SECRET)
        if row is not None:
            safe.drop(tx, ctx, row.id)
    audit(tx, ctx, "mail settings changed", "setting:mail", f"Mails leave by {given.host}", before, value)
    changed(tx, ctx, "house")


def test(ctx: Ctx, given: Server) -> str:
    """Sends a mail to whoever asks, by the settings typed; gives the server's answer. Raises Refused."""
    ctx.require("mail.change")
    _check(given)
    whole = ctx.db.transact(lambda tx: _ready_to_test(tx, ctx, given))
    body = f"{ctx.actor.name},\n\nthis is the test of the mail settings. It arrived, so they work.\n"
    try:
        message_id = f"test.{secrets.token_hex(16)}"
        return hand_over(whole, ctx.actor.email, "Test of the mail settings", body, message_id)
    except (OSError, Away) as error:
        said = str(error) or type(error).__name__
        raise Refused(
            f"The mail server did not take it: {said[:300]}", "Mend the settings, then test again."
        ) from None


def _ready_to_test(tx: Tx, ctx: Ctx, given: Server) -> Server:
    outgoing.slow_down(tx, ctx, "mail test")
    whole = _with_password(tx, ctx, given, "testing the mail settings")
    audit(tx, ctx, "mail settings tested", "setting:mail", f"Tested mails by {given.host}:{given.port}")
    return whole
