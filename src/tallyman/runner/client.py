"""The runner's side of the protocol (docs/runner-protocol.md), with retries that wait longer."""

from __future__ import annotations

import hashlib
import random
import secrets
import threading
from collections.abc import Callable
from typing import Any

import httpx

PROTOCOL = 1
LONGEST_PAUSE = 20.0
# Bytes of a file that are sent at once.
PIECE = 500_000


class Rejected(Exception):
    """The server understood and said no; asking again does not help."""

    def __init__(self, status: int, words: str, more: dict[str, Any] | None = None) -> None:
        super().__init__(words)
        self.status = status
        self.more = more or {}


class Stopped(Exception):
    """The runner is to stop, so nothing is asked again."""


def _words(answer: httpx.Response) -> str:
    try:
        body = answer.json()
        return f"{body.get('detail', '')} {body.get('mend', '')}".strip().rstrip(".")
    except ValueError:
        return f"status {answer.status_code}"


def _more(answer: httpx.Response) -> dict[str, Any]:
    try:
        found = answer.json().get("more", {})
        return found if isinstance(found, dict) else {}
    except ValueError:
        return {}


class Client:
    """Calls the server; what fails on the way is tried again until the runner stops."""

    def __init__(
        self, server: str, token: str = "", stop: threading.Event | None = None, machine: str = ""
    ) -> None:
        self._stop = stop or threading.Event()
        self._ask_key = ""
        self._machine = machine
        # Hears of each good answer, with the time that the server says in it.
        self.heard: Callable[[str | None], None] = lambda _: None
        self._http = httpx.Client(base_url=f"{server.rstrip('/')}/api/v1/runner", timeout=25.0)
        self.use(token)

    def use(self, token: str) -> None:
        """Goes on under another token."""
        heads = {"Authorization": f"Bearer {token}"} if token else {}
        machine = {"X-Tallyman-Machine": self._machine} if self._machine else {}
        self._http.headers.update({**heads, **machine})

    def close(self) -> None:
        """Closes the connections."""
        self._http.close()

    def ask(
        self,
        method: str,
        path: str,
        body: Any = None,
        seconds: float | None = None,
        data: bytes | None = None,
    ) -> httpx.Response:
        """One call. Raises Rejected for a no, httpx.TransportError when nothing answers."""
        patience: Any = httpx.USE_CLIENT_DEFAULT if seconds is None else seconds
        answer = self._http.request(method, path, json=body, content=data, timeout=patience)
        if answer.status_code >= 500 or answer.status_code == 429:
            raise httpx.TransportError(_words(answer))
        if answer.status_code >= 400:
            raise Rejected(answer.status_code, _words(answer), _more(answer))
        self.heard(answer.headers.get("date"))
        return answer

    def insist(self, method: str, path: str, body: Any = None, data: bytes | None = None) -> httpx.Response:
        """A call that is made again, with growing jittered pauses, until the server answers."""
        pause = 0.5
        while True:
            try:
                return self.ask(method, path, body, data=data)
            except httpx.TransportError:
                if self._stop.wait(pause * random.uniform(0.7, 1.3)):
                    raise Stopped from None
                pause = min(pause * 2, LONGEST_PAUSE)

    def connect(self, code: str, account: str, facts: dict[str, str]) -> dict[str, str]:
        """Uses up a one-time code; gives the host's name and the token."""
        body = {
            "code": code,
            "protocol": PROTOCOL,
            "account": account,
            "facts": facts,
            "machine": self._machine,
        }
        found: dict[str, str] = self.ask("POST", "/connect", body).json()
        return found

    def heartbeat(
        self,
        held: list[tuple[int, int]],
        clock: str,
        accounts: dict[str, str],
        *,
        fresh: bool = False,
        leaving: bool = False,
        reading: dict[str, Any] | None = None,
        in_use: bool = False,
        quiet: dict[int, int] | None = None,
    ) -> dict[str, Any]:
        """Says that the runner lives, what it works on, and which accounts it can use.

        `fresh`: it has just started, and this is all it knows of. `leaving`: it takes nothing more.
        `reading`: how the host is, where the answer before asked for that.
        `in_use`: somebody works at the computer itself. `quiet`: for how many seconds each run gave no sign.
        """
        body = {
            "clock": clock,
            "runs": [{"run": run, "fence": fence, "quiet": (quiet or {}).get(run, 0)} for run, fence in held],
            "accounts": accounts,
            "fresh": fresh,
            "leaving": leaving,
            "in_use": in_use,
            **({} if reading is None else {"reading": reading}),
        }
        found: dict[str, Any] = self.ask("POST", "/heartbeat", body).json()
        return found

    def password(self, account: str) -> str:
        """The password of an account that the server wants tried."""
        return str(self.ask("POST", f"/accounts/{account}/password").json()["value"])

    def tried(self, account: str, proved: bool, said: str) -> None:
        """Says how signing in with it went."""
        self.insist("POST", f"/accounts/{account}/tried", {"proved": proved, "said": said[:300]})

    def work(self) -> dict[str, Any] | None:
        """The next run, or None when there was none for some seconds.

        An ask whose answer was lost is made again under the same key, and gets what it got before.
        """
        self._ask_key = self._ask_key or secrets.token_hex(16)
        answer = self.ask("POST", "/work", {"key": self._ask_key, "begins": True})
        self._ask_key = ""
        if answer.status_code == 204:
            return None
        found: dict[str, Any] = answer.json()
        return found

    def begin(self, run: int, fence: int) -> None:
        """Says that a run begins here. Raises Rejected when it was taken back, or is another's."""
        self.insist("POST", f"/runs/{run}/begin", {"fence": fence})

    def give_back(self, run: int, fence: int) -> None:
        """Gives back what was handed out and is not begun; not insisted on, as it comes back by itself."""
        self.ask("POST", f"/runs/{run}/back", {"fence": fence}, 5.0)

    def file(self, digest: str) -> bytes:
        """A package or input file."""
        return self.insist("GET", f"/files/{digest}").content

    def secrets(self, run: int, fence: int) -> tuple[dict[str, str], list[str]]:
        """The values that a run asks for, by name, and the names of those that are no secrets."""
        found = self.insist("POST", f"/runs/{run}/secrets", {"fence": fence}).json()
        # A server of the release before knows secrets only.
        return found["values"], found.get("named", [])

    def begin_upload(self, digest: str, size: int) -> int:
        """How many bytes of a file the server has already."""
        return int(self.insist("POST", "/uploads", {"digest": digest, "size": size}).json()["have"])

    def upload(self, digest: str, offset: int, piece: bytes) -> int:
        """Sends a piece; gives how many bytes the server has now, also when they are not those expected."""
        try:
            answer = self.insist("PUT", f"/uploads/{digest}?offset={offset}", data=piece)
        except Rejected as error:
            if error.status != 409:
                raise
            return int(error.more.get("have", 0))
        return int(answer.json()["have"])

    def send(self, data: bytes) -> str:
        """Sends a file in pieces; gives its digest."""
        digest = hashlib.sha256(data).hexdigest()
        have = self.begin_upload(digest, len(data))
        while have < len(data):
            have = self.upload(digest, have, data[have : have + PIECE])
        return digest

    def pictured(self, run: int, fence: int, digest: str | None, said: str) -> None:
        """Says which picture was taken of a run's screen, or (None) why none was."""
        self.insist("POST", f"/runs/{run}/screen", {"fence": fence, "digest": digest, "said": said[:300]})

    def report(self, run: int, body: dict[str, Any]) -> bool:
        """Sends a batch; gives whether the run is still ours."""
        return bool(self.insist("POST", f"/runs/{run}/report", body).json()["current"])

    def outcome(self, run: int, body: dict[str, Any]) -> str:
        """Hands in the outcome; gives the state that the server keeps."""
        return str(self.insist("POST", f"/runs/{run}/outcome", body).json()["state"])
