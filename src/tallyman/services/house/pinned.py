"""Calls over HTTP that go to listed hosts only, at the one address that was looked at (see `outgoing`).

A module of its own, since what it builds on is slow to load and few ever need it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from urllib.parse import urlsplit

import requests
from requests.adapters import HTTPAdapter


class Pinned(HTTPAdapter):
    """Sends requests to the address that `resolved` gives for a host and port, under the host's own name."""

    def __init__(self, resolved: Callable[[str, int], str]) -> None:
        super().__init__()
        self._resolved = resolved

    def send(self, request: Any, *given: Any, **named: Any) -> requests.Response:
        """One request, in its own name."""
        request.headers["Host"] = urlsplit(request.url).netloc.rpartition("@")[2]
        return super().send(request, *given, **named)

    def build_connection_pool_key_attributes(self, request: Any, verify: Any, cert: Any = None) -> Any:
        """Where to connect, and whose certificate is expected there."""
        host_params, pool = super().build_connection_pool_key_attributes(request, verify, cert)
        parts = urlsplit(request.url)
        host = parts.hostname or ""
        port = parts.port or (443 if parts.scheme == "https" else 80)
        host_params["host"] = self._resolved(host, port)
        if parts.scheme == "https":
            pool |= {"server_hostname": host, "assert_hostname": host}
        return host_params, pool


class Plain(requests.Session):
    """Follows no redirects, and each call ends after some seconds."""

    def __init__(self, seconds: int) -> None:
        super().__init__()
        self._seconds = seconds

    def request(self, method: Any, url: Any, **more: Any) -> requests.Response:  # type: ignore[override]
        """One call that ends after some seconds and goes nowhere else."""
        more["timeout"], more["allow_redirects"] = self._seconds, False
        return super().request(method, url, **more)
