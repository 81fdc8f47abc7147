"""An identity provider that signs in whoever is chosen on its page (OpenID Connect); for demo and tests."""

from __future__ import annotations

import base64
import hashlib
import html
import json
import secrets
import signal
import threading
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs, urlencode, urlsplit

from joserfc import jwt
from joserfc.jwk import KeySet, RSAKey

CODE_SECONDS = 60
TOKEN_SECONDS = 300
KEY_BITS = 2048
STYLE = (
    "body{font:15px/1.5 sans-serif;max-width:34rem;margin:12vh auto;color:#222}"
    "button{display:block;width:100%;text-align:left;font:inherit;padding:.6rem;margin:.3rem 0}"
    "small{color:#666}"
)


class Provider:
    """Who can sign in here, the clients, and the codes that are on their way."""

    def __init__(self, issuer: str, client_id: str, secret: str, people: list[dict[str, Any]]) -> None:
        self.issuer = issuer
        self.client_id = client_id
        self.secret = secret
        self.people = {one["sub"]: one for one in people}
        self.key = RSAKey.generate_key(KEY_BITS, parameters={"kid": "one", "use": "sig", "alg": "RS256"})
        self.codes: dict[str, dict[str, Any]] = {}
        self.left: list[str] = []

    def discovery(self) -> dict[str, Any]:
        """Where things are, by their standard names."""
        return {
            "issuer": self.issuer,
            "authorization_endpoint": f"{self.issuer}/ask",
            "token_endpoint": f"{self.issuer}/token",
            "jwks_uri": f"{self.issuer}/keys",
            "end_session_endpoint": f"{self.issuer}/leave",
            "response_types_supported": ["code"],
            "subject_types_supported": ["public"],
            "id_token_signing_alg_values_supported": ["RS256"],
        }

    def keys(self) -> dict[str, Any]:
        """The public keys."""
        return dict(KeySet([self.key]).as_dict(private=False))

    def page(self, asked: dict[str, str]) -> str:
        """Who wants to sign in?"""
        hidden = "".join(
            f'<input type="hidden" name="{html.escape(key)}" value="{html.escape(value)}">'
            for key, value in asked.items()
        )
        rows = "".join(
            f'<button name="sub" value="{html.escape(one["sub"])}">{html.escape(one["name"])} '
            f"<small>{html.escape(one['email'])}</small></button>"
            for one in self.people.values()
        )
        return (
            f"<!doctype html><meta charset=utf-8><title>Identity stand-in</title><style>{STYLE}</style>"
            "<h1>Identity stand-in</h1><p>Who are you?</p>"
            f"<form method=post action=/chosen>{hidden}{rows}</form>"
        )

    def chosen(self, asked: dict[str, str]) -> str:
        """Where the browser goes with its code."""
        code = secrets.token_urlsafe(24)
        self.codes[code] = {**asked, "until": time.time() + CODE_SECONDS}
        return f"{asked['redirect_uri']}?{urlencode({'code': code, 'state': asked.get('state', '')})}"

    def token(self, given: dict[str, str], client: tuple[str, str]) -> dict[str, Any] | None:
        """A signed token against a code, or nothing if anything does not fit."""
        kept = self.codes.pop(given.get("code", ""), None)
        if kept is None or kept["until"] < time.time() or client != (self.client_id, self.secret):
            return None
        digest = hashlib.sha256(given.get("code_verifier", "").encode()).digest()
        if base64.urlsafe_b64encode(digest).rstrip(b"=").decode() != kept.get("code_challenge"):
            return None
        if given.get("redirect_uri") != kept["redirect_uri"] or kept["sub"] not in self.people:
            return None
        now = int(time.time())
        claims = {
            **self.people[kept["sub"]],
            "iss": self.issuer,
            "aud": self.client_id,
            "nonce": kept.get("nonce", ""),
            "iat": now,
            "exp": now + TOKEN_SECONDS,
        }
        signed = jwt.encode({"alg": "RS256", "kid": "one"}, claims, self.key)
        return {"access_token": secrets.token_urlsafe(16), "token_type": "Bearer", "id_token": signed}


def _first(text: str) -> dict[str, str]:
    return {key: values[0] for key, values in parse_qs(text).items()}


def server(provider: Provider, port: int) -> ThreadingHTTPServer:
    """The provider's pages on a port of this machine; to be served by the caller."""

    class Pages(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            path, asked = urlsplit(self.path).path, _first(urlsplit(self.path).query)
            if path == "/.well-known/openid-configuration":
                self._json(200, provider.discovery())
            elif path == "/keys":
                self._json(200, provider.keys())
            elif path == "/ask":
                self._send(200, "text/html; charset=utf-8", provider.page(asked))
            elif path == "/leave":
                provider.left.append(asked.get("id_token_hint", ""))
                self._go(asked.get("post_logout_redirect_uri", provider.issuer))
            else:
                self._json(404, {"error": "not_found"})

        def do_POST(self) -> None:
            body = self.rfile.read(int(self.headers.get("content-length") or 0)).decode()
            if urlsplit(self.path).path == "/chosen":
                self._go(provider.chosen(_first(body)))
                return
            kind, _, words = self.headers.get("authorization", "").partition(" ")
            text = base64.b64decode(words).decode() if kind == "Basic" else ":"
            name, _, secret = text.partition(":")
            found = provider.token(_first(body), (name, secret))
            self._json(200 if found else 400, found or {"error": "invalid_grant"})

        def _json(self, status: int, value: dict[str, Any]) -> None:
            self._send(status, "application/json", json.dumps(value))

        def _go(self, url: str) -> None:
            self.send_response(303)
            self.send_header("Location", url)
            self.end_headers()

        def _send(self, status: int, kind: str, text: str) -> None:
            self.send_response(status)
            self.send_header("Content-Type", kind)
            self.end_headers()
            self.wfile.write(text.encode())

        def log_message(self, format: str, *args: Any) -> None:
            """Says nothing."""

    return ThreadingHTTPServer(("127.0.0.1", port), Pages)


def serve(port: int, client_id: str, secret: str, people: list[dict[str, Any]]) -> int:
    """Serves the provider until a signal."""
    pages = server(Provider(f"http://127.0.0.1:{port}", client_id, secret, people), port)
    threading.Thread(target=pages.serve_forever, daemon=True).start()
    ended = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: ended.set())
    ended.wait()
    pages.shutdown()
    return 0
