"""Speaking OpenID Connect with the identity provider that the house set: discovery, code, checked claims."""

from __future__ import annotations

import contextlib
import json
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING
from urllib.parse import urlencode, urlsplit

from tallyman.core.free import FreeObject
from tallyman.errors import Fault, InputFaults, NotSignedIn, Unavailable
from tallyman.services.house import outgoing

if TYPE_CHECKING:
    from authlib.integrations.requests_client import OAuth2Session

SCOPE = "openid email profile"
# Only signatures by the provider's own key; never by a shared secret, never none.
ALGORITHMS = ["RS256", "RS384", "RS512", "PS256", "ES256", "ES384", "EdDSA"]
CLOCKS_APART_SECONDS = 60
LOOPBACK = ("127.0.0.1", "localhost", "::1")


@dataclass(frozen=True)
class Provider:
    """An identity provider as set under House rules, with the client secret."""

    issuer: str
    client_id: str
    secret: str
    groups_claim: str = "groups"


def check_issuer(issuer: str) -> str:
    """The issuer's address without a slash at its end. InputFaults unless it is https or this machine."""
    try:
        parts = urlsplit(issuer.strip())
        host, port = parts.hostname, parts.port
    except ValueError:
        # Brackets that do not close, or a port that is no number.
        host = None
    local = host in LOOPBACK
    if not host or (parts.scheme != "https" and not (parts.scheme == "http" and local)) or parts.query:
        message = "give an address that begins with https://, as the provider names it"
        raise InputFaults([Fault("issuer", issuer[:120], message)])
    outgoing.check(host, port or (443 if parts.scheme == "https" else 80), "issuer")
    return issuer.strip().rstrip("/")


def _json(url: str) -> FreeObject:
    import requests
    from urllib3.exceptions import HTTPError

    try:
        with outgoing.plain() as session, session.get(url, stream=True) as answer:
            text = answer.raw.read(outgoing.LARGEST_ANSWER + 1, decode_content=True)
        found = json.loads(text) if answer.status_code == 200 else None
    except (requests.RequestException, HTTPError, ValueError) as error:
        raise _away(url, type(error).__name__) from None
    if not isinstance(found, dict):
        raise _away(url, f"it answered {answer.status_code}")
    return found


def _away(url: str, why: str) -> Unavailable:
    host = urlsplit(url).netloc
    return Unavailable(
        f"The identity provider at {host} cannot be used: {why}.",
        "Sign in with a password, or try again in a moment.",
    )


def discover(issuer: str) -> dict[str, str]:
    """The provider's endpoints, by their standard names. Raises Unavailable."""
    found = _json(f"{issuer}/.well-known/openid-configuration")
    if str(found.get("issuer", "")).rstrip("/") != issuer:
        raise _away(issuer, f"it calls itself {str(found.get('issuer'))[:80]}")
    wanted = ("authorization_endpoint", "token_endpoint", "jwks_uri")
    for name in wanted:
        try:
            check_issuer(str(found.get(name, "")).partition("?")[0])
        except InputFaults:
            raise _away(issuer, f"its {name} is no safe address") from None
    names = (*wanted, "end_session_endpoint")
    return {name: str(found[name]) for name in names if isinstance(found.get(name), str)}


def _client(provider: Provider, back: str) -> OAuth2Session:
    from authlib.integrations.requests_client import OAuth2Session

    client = OAuth2Session(
        provider.client_id,
        provider.secret or None,
        redirect_uri=back,
        scope=SCOPE,
        code_challenge_method="S256",
        token_endpoint_auth_method="client_secret_basic" if provider.secret else "none",
        default_timeout=outgoing.SECONDS,
    )
    outgoing.pin(client)
    return client


def address_to_ask(provider: Provider, back: str, state: str, nonce: str, verifier: str) -> str:
    """Where the browser is sent to sign in."""
    asked = discover(provider.issuer)["authorization_endpoint"]
    url, _ = _client(provider, back).create_authorization_url(
        asked, state=state, nonce=nonce, code_verifier=verifier
    )
    return str(url)


def claims(
    provider: Provider, back: str, code: str, nonce: str, verifier: str, now: datetime
) -> tuple[FreeObject, str]:
    """What the provider says of who signed in, and the token that ends it there; its signature checked.

    Raises NotSignedIn for whatever does not hold, Unavailable when the provider does not answer.
    """
    import requests
    from authlib.common.errors import AuthlibBaseError
    from joserfc import jwt
    from joserfc.errors import JoseError
    from joserfc.jwk import KeySet

    found = discover(provider.issuer)
    refused = NotSignedIn(
        "The identity provider did not confirm the sign-in.", "Try again, or use a password."
    )
    try:
        with contextlib.closing(_client(provider, back)) as client:
            token = client.fetch_token(
                found["token_endpoint"], code=code, code_verifier=verifier, grant_type="authorization_code"
            )
    except AuthlibBaseError:
        raise refused from None
    except (requests.RequestException, ValueError) as error:
        raise _away(provider.issuer, type(error).__name__) from None
    raw = str(token.get("id_token", ""))
    try:
        keys = KeySet.import_key_set(_json(found["jwks_uri"]))  # type: ignore[arg-type]
        said = jwt.decode(raw, keys, algorithms=ALGORITHMS).claims
        registry = jwt.JWTClaimsRegistry(
            now=int(now.timestamp()),
            leeway=CLOCKS_APART_SECONDS,
            iss={"essential": True, "value": provider.issuer},
            aud={"essential": True, "value": provider.client_id},
            nonce={"essential": True, "value": nonce},
            exp={"essential": True},
            sub={"essential": True},
        )
        registry.validate({**said, "iss": str(said.get("iss", "")).rstrip("/")})
    except (JoseError, ValueError):
        raise refused from None
    return dict(said), raw


def address_to_leave(leave: str, id_token: str, client_id: str, back: str) -> str:
    """Where the browser is sent to sign out at the provider; `leave` is its own address for that."""
    joined = "&" if "?" in leave else "?"
    told = {"id_token_hint": id_token, "client_id": client_id, "post_logout_redirect_uri": back}
    return f"{leave}{joined}{urlencode(told)}"
