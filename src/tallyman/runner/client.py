"""The runner's side of the protocol (docs/runner-protocol.md), with retries that wait longer."""

from __future__ import annotations

import random
import threading
from datetime import UTC, datetime
from typing import Any

import httpx

PROTOCOL = 1
LONGEST_PAUSE = 20.0


class Rejected(Exception):
    """The server understood and said no; asking again does not help."""

    def __init__(self, status: int, words: str) -> None:
        super().__init__(words)
        self.status = status


class Stopped(Exception):
    """The runner is to stop, so nothing is asked again."""


def _words(answer: httpx.Response) -> str:
    try:
        body = answer.json()
        return f"{body.get('detail', '')} {body.get('mend', '')}".strip()
    except ValueError:
        return f"status {answer.status_code}"


class Client:
    """Calls the server; what fails on the way is tried again until the runner stops."""

    def __init__(self, server: str, token: str = "", stop: threading.Event | None = None) -> None:
        self._stop = stop or threading.Event()
        heads = {"Authorization": f"Bearer {token}"} if token else {}
        self._http = httpx.Client(base_url=f"{server.rstrip('/')}/api/v1/runner", headers=heads, timeout=25.0)

    def close(self) -> None:
        """Closes the connections."""
        self._http.close()

    def ask(self, method: str, path: str, body: Any = None) -> httpx.Response:
        """One call. Raises Rejected for a no, httpx.TransportError when nothing answers."""
        answer = self._http.request(method, path, json=body)
        if answer.status_code >= 500 or answer.status_code == 429:
            raise httpx.TransportError(_words(answer))
        if answer.status_code >= 400:
            raise Rejected(answer.status_code, _words(answer))
        return answer

    def insist(self, method: str, path: str, body: Any = None) -> httpx.Response:
        """A call that is made again, with growing pauses, until the server answers."""
        pause = 0.5
        while True:
            try:
                return self.ask(method, path, body)
            except httpx.TransportError:
                if self._stop.wait(pause * random.uniform(0.7, 1.3)):
                    raise Stopped from None
                pause = min(pause * 2, LONGEST_PAUSE)

    def connect(self, code: str, account: str, facts: dict[str, str]) -> dict[str, str]:
        """Uses up a one-time code; gives the host's name and the token."""
        body = {"code": code, "protocol": PROTOCOL, "account": account, "facts": facts}
        found: dict[str, str] = self.ask("POST", "/connect", body).json()
        return found

    def heartbeat(self, held: list[tuple[int, int]]) -> dict[str, Any]:
        """Says that the runner lives and what it works on."""
        body = {
            "clock": datetime.now(UTC).isoformat(),
            "runs": [{"run": run, "fence": fence} for run, fence in held],
        }
        found: dict[str, Any] = self.ask("POST", "/heartbeat", body).json()
        return found

    def work(self) -> dict[str, Any] | None:
        """The next run, or None when there was none for some seconds."""
        answer = self.ask("POST", "/work")
        if answer.status_code == 204:
            return None
        found: dict[str, Any] = answer.json()
        return found

    def file(self, digest: str) -> bytes:
        """A package or input file."""
        return self.insist("GET", f"/files/{digest}").content

    def report(self, run: int, body: dict[str, Any]) -> bool:
        """Sends a batch; gives whether the run is still ours."""
        return bool(self.insist("POST", f"/runs/{run}/report", body).json()["current"])

    def outcome(self, run: int, body: dict[str, Any]) -> str:
        """Hands in the outcome; gives the state that the server keeps."""
        return str(self.insist("POST", f"/runs/{run}/outcome", body).json()["state"])
