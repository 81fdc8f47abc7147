"""Telling the server, in order, whatever it takes: a thread for each run."""

from __future__ import annotations

import contextlib
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

import httpx

from tallyman.runner.client import Client, Rejected, Stopped
from tallyman.runner.control import STATE
from tallyman.runner.spool import HANDED, Spool

WAIT_SECONDS = 0.5
LAST_SECONDS = 5.0
# The token or the run is not this runner's.
NOT_OURS = (401, 403, 404)
UNSENDABLE = (OSError, ValueError, TypeError, KeyError, RecursionError)


class Delivery:
    """Delivers one run's spool; calls `not_ours` when the server says that it is not ours any more."""

    def __init__(
        self,
        client: Client,
        run: int,
        fence: int,
        spool: Spool,
        not_ours: Callable[[], None],
        stop: threading.Event,
    ) -> None:
        self.client = client
        self.run = run
        self.fence = fence
        self.spool = spool
        self.not_ours = not_ours
        self.stop = stop
        # What of the reports the server did not take, if anything.
        self.refused = ""
        self.thread = threading.Thread(target=self._go, name=f"deliver-{run}")

    def start(self) -> None:
        """Begins to deliver."""
        self.thread.start()

    def _go(self) -> None:
        try:
            while not self._step():
                pass
        except Stopped:
            self._last_words()

    def _step(self) -> bool:
        """One thing told; True when nothing is left to tell.

        What the server will never take is left out, and said in the outcome: a run whose outcome never
        comes would be lost, and perhaps begun again without end.
        """
        found = self.spool.next(WAIT_SECONDS)
        if found is None:
            return False
        kind, body = found
        try:
            return self._report(body) if kind == "report" else self._outcome(body)
        except Rejected as error:
            if error.status in NOT_OURS:
                # The server knows no such run of ours: nothing of it is of use to it.
                self.not_ours()
                self.spool.drop()
                return True
            return self._refused(kind, f"the server refused its {kind}: {error}")
        except UNSENDABLE as error:
            return self._refused(kind, f"its {kind} cannot be sent: {type(error).__name__}")

    def _report(self, body: dict[str, Any]) -> bool:
        if not self.client.report(self.run, {"fence": self.fence, **body}):
            self.not_ours()
        self.spool.told()
        return False

    def _outcome(self, body: dict[str, Any]) -> bool:
        if body["state"] == "held":
            body = {**body, "saved": self._upload(self.spool.folder / STATE)}
        body = {**body, "files": self._sent(body.get("files") or [])}
        if self.refused:
            body = {**body, "reason": f"{body.get('reason', '')} ({self.refused})".strip()}
        self.client.outcome(self.run, {"fence": self.fence, **body})
        self.spool.drop()
        return True

    def _refused(self, kind: str, words: str) -> bool:
        """A report is left out; an outcome is replaced by one that says why, which any server takes."""
        if kind == "report":
            self.refused = self.refused or words[:300]
            self.spool.told()
            return False
        with contextlib.suppress(Rejected):
            plain = {"fence": self.fence, "state": "failed", "reason": words[:900]}
            self.client.outcome(self.run, plain)
        self.spool.drop()
        return True

    def _sent(self, files: list[dict[str, Any]]) -> list[dict[str, str]]:
        """Sends the files that the run handed over; one that cannot be sent is left out, and said."""
        sent = []
        for one in files:
            try:
                data = (self.spool.folder / HANDED / str(one["n"])).read_bytes()
                sent.append({"name": str(one["name"]), "digest": self.client.send(data)})
            except Rejected as error:
                if error.status in NOT_OURS:
                    raise
                self.refused = self.refused or f"the file {one['name']} was refused: {error}"[:300]
            except (OSError, KeyError) as error:
                words = f"the file {one.get('name')} cannot be sent: {type(error).__name__}"
                self.refused = self.refused or words[:300]
        return sent

    def _upload(self, path: Path) -> str:
        """Sends the saved state; gives its digest."""
        return self.client.send(path.read_bytes())

    def _last_words(self) -> None:
        """The runner stops: one more try for each thing, without waiting; the rest stays on disk."""
        try:
            while (found := self.spool.next(0)) is not None:
                kind, body = found
                if kind == "outcome" and (body["state"] == "held" or body.get("files")):
                    return
                path = f"/runs/{self.run}/{'report' if kind == 'report' else 'outcome'}"
                self.client.ask("POST", path, {"fence": self.fence, **body}, LAST_SECONDS)
                if kind == "outcome":
                    self.spool.drop()
                    return
                self.spool.told()
        except (httpx.TransportError, Rejected):
            return
