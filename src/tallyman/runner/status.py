"""What a runner knows of itself: whether it is connected or why not, what it works on, and its last errors.

It is told in the same words on its own page, on the command line, and in a file beside its token, so that
it can be read when the runner works no more. No secret is part of it.
"""

from __future__ import annotations

import json
import os
import socket
import ssl
import threading
import time
from collections import deque
from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass, field
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime
from pathlib import Path
from typing import Any

import httpx
import psutil

KEPT_ERRORS = 10
# The server knows the runner no more; only another code changes that.
TOKEN = "token"
NEW_CODE = "Make a new code on the page of the host; one lasts 30 minutes, for one use"
# Beyond this the server gives such a host no work.
CLOCK_OFF_SECONDS = 30 * 60
STATUS_FILE = "status.json"
PROXIES = ("HTTPS_PROXY", "https_proxy", "HTTP_PROXY", "http_proxy", "ALL_PROXY", "all_proxy")


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")


def _on_the_wall(at: str) -> str:
    """A kept time as people of this computer read it."""
    return f"{datetime.fromisoformat(at).astimezone():%d %b %Y %H:%M:%S}"


@dataclass(frozen=True)
class Trouble:
    """Why a runner is not connected: what is wrong, and how to mend it."""

    key: str
    what: str
    mend: str


def _causes(error: BaseException | None) -> Iterator[BaseException]:
    while error is not None:
        yield error
        error = error.__cause__ or error.__context__


def _through(environment: Mapping[str, str]) -> str:
    """The proxy that calls go through, without what signs in to it."""
    found = next((environment[name] for name in PROXIES if environment.get(name)), "")
    return found.rpartition("@")[2] if found else ""


def of_transport(
    error: httpx.TransportError, server: str, environment: Mapping[str, str] = os.environ
) -> Trouble:
    """Why nothing came back from a server."""
    causes = list(_causes(error))
    if any(isinstance(one, ssl.SSLCertVerificationError) for one in causes):
        what = f"The certificate of {server} is not one that this computer trusts"
        mend = "Put the company's root certificate into SSL_CERT_FILE, or give the server one that is trusted"
        return Trouble("certificate", f"{what}: {next(_words(causes))}", mend)
    if any(isinstance(one, ssl.SSLError) for one in causes):
        what = f"{server} does not speak TLS as its address says"
        return Trouble("certificate", what, "Check whether the address begins with http or https")
    proxy = _through(environment)
    if isinstance(error, httpx.ProxyError) or (proxy and isinstance(error, httpx.ConnectError)):
        what = f"The proxy {proxy or 'in between'} does not let it through to {server}"
        return Trouble("proxy", what, "Mend HTTPS_PROXY, or name the server in NO_PROXY")
    if any(isinstance(one, socket.gaierror) for one in causes):
        what = f"No computer is known by the name in {server}"
        return Trouble("address", what, "Check the address; it is the one that people open Tallyman at")
    if isinstance(error, httpx.ConnectError):
        what = f"Nothing listens at {server}"
        return Trouble("address", what, "Check address and port, and whether Tallyman runs there")
    if isinstance(error, httpx.TimeoutException):
        what = f"{server} does not answer in time"
        return Trouble("silent", what, "Check the network in between; it is tried again by itself")
    what = f"{server} gave no good answer: {str(error)[:200] or type(error).__name__}"
    return Trouble("silent", what, "It is tried again by itself; look at the server's health if it lasts")


def _words(causes: list[BaseException]) -> Iterator[str]:
    for one in causes:
        if isinstance(one, ssl.SSLCertVerificationError):
            yield getattr(one, "verify_message", "") or str(one)


def of_refusal(status: int, words: str, host: str = "") -> Trouble:
    """Why a server refused; `host`: the name that this computer is connected as, empty while it connects."""
    words = words.rstrip(".")
    again = "Under Robots, on the page of the host, make a new code and start the runner once with --code"
    if status == 401 and host:
        return Trouble(TOKEN, f"The server knows this runner no more: {words}", again)
    if status in (401, 404, 410) and not host and words and not words.startswith("status "):
        return Trouble("code", words, NEW_CODE)
    if status == 407:
        return Trouble("proxy", "The proxy wants a sign-in", "Put it into HTTPS_PROXY")
    if words.startswith("status "):
        what = f"Something answers there, but it is not Tallyman ({words})"
        return Trouble("address", what, "Check the address; it is the one that people open Tallyman at")
    mend = "It is tried again by itself" if host else "Mend that, and start the runner again"
    return Trouble("refused", words, mend)


@dataclass
class Status:
    """What is known now; changed by the runner's threads, read by its page."""

    server: str
    state: Path | None = None
    host: str = ""
    account: str = ""
    release: str = ""
    began_at: str = field(default_factory=_now)
    heard_at: str = ""
    trouble: Trouble | None = None
    trouble_since: str = ""
    clock_ahead_seconds: float | None = None
    stopping: bool = False
    works: dict[int, dict[str, str]] = field(default_factory=dict)
    errors: deque[dict[str, str]] = field(default_factory=lambda: deque(maxlen=KEPT_ERRORS))
    _lock: threading.Lock = field(default_factory=threading.Lock, repr=False)

    def answered(self, date: str | None = None) -> None:
        """The server answered; `date` is the head of its answer that says its time."""
        with self._lock:
            if self.trouble is not None and self.trouble.key == TOKEN:
                # The answer to something asked before: what the server said of the token stays true.
                return
            self.heard_at, self.trouble, self.trouble_since = _now(), None, ""
            if date:
                self.clock_ahead_seconds = _ahead(date)

    def troubled(self, trouble: Trouble) -> None:
        """It is not connected, and why; what lasts keeps the time it began, and is noted once."""
        with self._lock:
            if self.trouble is None or self.trouble.key != trouble.key:
                self.trouble_since = _now()
                self.errors.appendleft({"at": _now(), "what": trouble.what})
            self.trouble = trouble

    def erred(self, what: str) -> None:
        """Something went wrong that is no matter of being connected."""
        with self._lock:
            self.errors.appendleft({"at": _now(), "what": what})

    def begun(self, run: int, what: str, robot: str) -> None:
        """It works on a run."""
        with self._lock:
            self.works[run] = {"run": f"R-{run}", "what": what, "robot": robot, "since": _now()}

    def ended(self, run: int) -> None:
        """It works on a run no more."""
        with self._lock:
            self.works.pop(run, None)

    def told(self) -> dict[str, Any]:
        """All of it as plain JSON."""
        with self._lock:
            trouble = self.trouble
            if trouble is None and abs(self.clock_ahead_seconds or 0) > CLOCK_OFF_SECONDS:
                trouble = _clock(self.clock_ahead_seconds or 0)
            return {
                "server": self.server,
                "host": self.host,
                "account": self.account,
                "release": self.release,
                "began_at": self.began_at,
                "heard_at": self.heard_at,
                "connected": bool(self.host and self.heard_at and self.trouble is None),
                "trouble": None if trouble is None else asdict(trouble),
                "trouble_since": self.trouble_since,
                "clock_ahead_seconds": self.clock_ahead_seconds,
                "stopping": self.stopping,
                "works": list(self.works.values()),
                "errors": list(self.errors),
            }

    def keep(self, page: str = "") -> None:
        """Writes it beside the token, so that it can be read when the runner works no more."""
        if self.state is None:
            return
        aside = self.state / f".{STATUS_FILE}.part"
        try:
            text = json.dumps({**self.told(), "page": page, "process": os.getpid(), "kept_at": _now()})
            aside.write_text(text, encoding="utf-8")
            aside.chmod(0o600)
            aside.replace(self.state / STATUS_FILE)
        except OSError:
            # With a full disk the page still says it.
            aside.unlink(missing_ok=True)


def read_status(state: Path) -> dict[str, Any]:
    """What a runner last kept of itself in its folder; empty if it never did, or it cannot be read."""
    try:
        found = json.loads((state / STATUS_FILE).read_text(encoding="utf-8"))
    except (OSError, ValueError):
        return {}
    return found if isinstance(found, dict) else {}


def say_status(state: Path) -> int:
    """Says how the runner of a folder is, in the words of its page; 0 if it is connected."""
    kept = read_status(state)
    if not kept:
        print(f"No runner ever worked in {state}. Start one: ./tallyman runner --server URL --code CODE")
        return 1
    told = _fresh(kept)
    if told is None:
        print(f"No runner works in {state} now. What it knew last, at {_on_the_wall(kept['kept_at'])}:")
        told = {**kept, "connected": False, "stopping": False, "works": []}
    for line in lines(told):
        print(line)
    if kept.get("page"):
        print(f"Its page: {kept['page']}")
    return 0 if told["connected"] and told["trouble"] is None else 1


def _fresh(kept: Mapping[str, Any]) -> dict[str, Any] | None:
    """What the living runner says of itself; None if it lives no more."""
    if not psutil.pid_exists(int(kept.get("process") or 0)):
        return None
    if not kept.get("page"):
        return dict(kept)
    try:
        with httpx.Client(trust_env=False, timeout=5) as client:
            found: dict[str, Any] = client.get(f"{kept['page']}status.json").json()
    except (httpx.HTTPError, ValueError):
        return None
    return found if found.get("began_at") == kept["began_at"] else None


def _ahead(date: str) -> float | None:
    try:
        return time.time() - parsedate_to_datetime(date).timestamp()
    except (TypeError, ValueError):
        return None


def _clock(ahead: float) -> Trouble:
    way = "ahead of" if ahead > 0 else "behind"
    what = (
        f"The clock of this computer is {abs(ahead) / 60:.0f} min {way} the server's, so it is given no work"
    )
    return Trouble("clock", what, "Set the clock right, best by the network")


def _connection(told: Mapping[str, Any]) -> str:
    heard = f"last heard {_on_the_wall(told['heard_at'])}" if told["heard_at"] else ""
    if told["connected"]:
        return f"Connected to {told['server']} as host {told['host']}, {heard}."
    if told["trouble"] is None:
        return f"Not connected to {told['server']}{f'; {heard}' if heard else ' yet'}."
    since = f" since {_on_the_wall(told['trouble_since'])}" if told["trouble_since"] else ""
    return f"Not connected to {told['server']}{since}."


def lines(told: Mapping[str, Any]) -> list[str]:
    """What is known, in the words of the page and the command line."""
    found = [_connection(told)]
    if told["trouble"] is not None:
        found += [f"{told['trouble']['what']}.", f"Mend: {told['trouble']['mend']}."]
    began = _on_the_wall(told["began_at"])
    found.append(f"Works under the account {told['account']}, release {told['release']}, since {began}.")
    if told["stopping"]:
        found.append("It is being stopped: it takes nothing more.")
    for one in told["works"]:
        since = _on_the_wall(one["since"])
        found.append(f"{one['run']}: {one['what']} as {one['robot']}, since {since}")
    if not told["works"]:
        found.append("It works on nothing now.")
    return found + [f"Error at {_on_the_wall(one['at'])}: {one['what']}" for one in told["errors"]]
