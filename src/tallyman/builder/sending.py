"""Sends a package to a server as a release, as the person whose token is given."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import httpx

from tallyman.core.faults import Fault, InputFaults

SECONDS = 60


@dataclass(frozen=True)
class Server:
    """Where releases go, and the token that says whose they are."""

    url: str
    token: str

    def ask(self, path: str, data: bytes, more: dict[str, str] | None = None) -> dict[str, Any]:
        """Sends a zip with some fields; gives the answer. Raises InputFaults with all that is refused."""
        heads = {"Authorization": f"Bearer {self.token}"}
        sent = {"file": ("package.zip", data, "application/zip")}
        try:
            answer = httpx.post(
                f"{self.url.rstrip('/')}/api/v1{path}", headers=heads, files=sent, data=more, timeout=SECONDS
            )
        except httpx.HTTPError as error:
            message = f"cannot be reached: {error}"
            raise InputFaults([Fault("server", self.url, message)]) from None
        return _read(self.url, answer)


def _read(url: str, answer: httpx.Response) -> dict[str, Any]:
    try:
        said = answer.json()
    except ValueError:
        message = f"answers as no Tallyman does (status {answer.status_code})"
        raise InputFaults([Fault("server", url, message)]) from None
    if answer.is_success and isinstance(said, dict):
        return said
    rows = said.get("errors") or []
    faults = [Fault(str(one["field"]), one.get("value"), str(one["message"])) for one in rows]
    words = " ".join(part for part in (said.get("detail"), said.get("mend")) if part)
    raise InputFaults(faults or [Fault("server", url, words or f"refused (status {answer.status_code})")])
