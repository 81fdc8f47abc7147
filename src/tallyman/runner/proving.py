"""Whether the password of a run-as account is right: tried as at the host's own sign-in."""

from __future__ import annotations

import os
import platform
import threading
from collections.abc import Callable, Sequence

import httpx

from tallyman.runner.client import Client, Rejected
from tallyman.runner.machine import system_name

# What Debian and others ask at a console's sign-in; where that is not set up, PAM falls back on its own.
SERVICE = "login"


def sign_in(account: str, password: str) -> tuple[bool, str]:
    """Whether a password opens an account of this host, and in words how that was found out."""
    if platform.system() != "Linux":
        return False, f"a sign-in on {system_name()} cannot be tried by this runner"
    if os.geteuid() != 0:
        return False, "the runner was not started as root, so it may try no other account's password"
    try:
        import pam

        session = pam.pam()
        proved = session.authenticate(account, password, service=SERVICE)
    except (ImportError, OSError, AttributeError) as error:
        return False, f"the sign-in of this host cannot be asked: {error}"
    way = f"the sign-in of {system_name()} (PAM, as at its console)"
    if proved:
        return True, f"{way} took it"
    why = session.reason.decode() if isinstance(session.reason, bytes) else session.reason
    return False, f"{way} refused it: {why}"


class Prover:
    """Tries the passwords that the server asks for, one after the other, beside everything else."""

    def __init__(
        self,
        client: Client,
        hide: Callable[[str], None],
        say: Callable[[str], None],
        try_one: Callable[[str, str], tuple[bool, str]] = sign_in,
    ) -> None:
        self._client, self._hide, self._say, self._try = client, hide, say, try_one
        self._thread: threading.Thread | None = None

    def asked(self, accounts: Sequence[str]) -> None:
        """The server asks for these; while some are being tried, the next heartbeat asks again."""
        if accounts and (self._thread is None or not self._thread.is_alive()):
            self._thread = threading.Thread(target=self._all, args=(list(accounts),), name="proving")
            self._thread.start()

    def wait(self, seconds: float) -> None:
        """Waits for what is being tried."""
        if self._thread is not None:
            self._thread.join(timeout=seconds)

    def _all(self, accounts: Sequence[str]) -> None:
        for account in accounts:
            try:
                password = self._client.password(account)
                self._hide(password)
                proved, said = self._try(account, password)
                self._client.tried(account, proved, said)
                self._say(f"Sign-in as {account}: {said}")
            except (Rejected, httpx.TransportError) as error:
                self._say(f"Sign-in as {account} was not tried: {error}")
