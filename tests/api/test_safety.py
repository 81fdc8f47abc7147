"""What keeps sessions, programs and pages safe, by HTTP: headers, cookies, origins, tokens, second factors."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from datetime import timedelta

import httpx
import pyotp
import pytest

from tallyman.api.common import COOKIE
from tallyman.config import read_clock
from tests.conftest import Databases
from tests.patience import patience
from tests.serving import Serving, serving
from tests.world import PASSWORD, World


@pytest.fixture(scope="module")
def served(databases: Databases) -> Iterator[Serving]:
    databases.empty()
    db = databases.connect()
    with serving(db) as one:
        World(db, read_clock())
        yield one
    db.close()


@pytest.fixture
def client(served: Serving) -> Iterator[httpx.Client]:
    with httpx.Client(
        base_url=f"{served.url}/api/v1", headers={"X-Tallyman": "1"}, timeout=patience(30)
    ) as one:
        yield one


def enter(client: httpx.Client, name: str) -> httpx.Response:
    email = f"{name.lower().replace(' ', '.')}@merrowdale.example"
    return client.post("/session", json={"email": email, "password": PASSWORD})


def token_of(served: Serving, name: str, *scope: str) -> str:
    with contextlib.closing(served.session(name)) as client:
        ends = (read_clock() + timedelta(days=9)).date().isoformat()
        given = {"name": "Sync", "scope": list(scope), "ends_on": ends}
        return str(client.post("/profile/tokens", json=given).raise_for_status().json()["token"])


def test_pages_allow_no_script_or_style_but_their_own(served: Serving) -> None:
    for path in ("/", "/api/v1/entrance", "/assets/none.js"):
        policy = httpx.get(served.url + path).headers["content-security-policy"]
        rules = dict(part.strip().partition(" ")[::2] for part in policy.split(";"))
        assert rules["default-src"] == "'none'"
        assert rules["script-src"] == rules["style-src"] == "'self'"
        assert rules["frame-ancestors"] == "'none'"
    assert "<script>" not in httpx.get(served.url).text


def test_the_sessions_cookie_is_for_this_site_and_no_script(client: httpx.Client) -> None:
    cookie = enter(client, "Ada Pell").headers["set-cookie"].lower()
    assert "httponly" in cookie
    assert "samesite=strict" in cookie


def test_signing_in_again_ends_the_session_the_browser_had(client: httpx.Client) -> None:
    enter(client, "Ada Pell")
    before = client.cookies[COOKIE]
    enter(client, "Ada Pell")
    assert client.cookies[COOKIE] != before
    client.cookies.set(COOKIE, before)
    client.cookies.clear()
    assert client.get("/me", headers={"Cookie": f"{COOKIE}={before}"}).status_code == 401


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"X-Tallyman": "1"}, 200),
        ({}, 403),
        ({"X-Tallyman": "1", "Origin": "https://elsewhere.example"}, 403),
        ({"Authorization": "Bearer nothing"}, 403),
    ],
)
def test_another_sites_page_can_change_nothing(
    served: Serving, client: httpx.Client, headers: dict[str, str], status: int
) -> None:
    enter(client, "Ada Pell")
    kept = {"Cookie": f"{COOKIE}={client.cookies[COOKIE]}", **headers}
    answer = httpx.post(f"{served.url}/api/v1/notifications/read?upto=1", headers=kept)
    assert answer.status_code == status


def test_a_program_needs_no_more_than_its_token_and_gets_no_more(served: Serving) -> None:
    heads = {"Authorization": f"Bearer {token_of(served, 'Sol Marin', 'robot.see', 'area.make')}"}
    with httpx.Client(base_url=f"{served.url}/api/v1", headers=heads) as program:
        assert program.get("/me").json()["permissions"] == ["area.make", "robot.see"]
        assert program.post("/areas", json={"name": "Depots"}).status_code == 201
        trail = served.db.transact(
            lambda tx: tx.execute("SELECT who FROM audit WHERE words LIKE '%%Depots%%'").fetchone()
        )
        assert trail == {"who": "Sol Marin by Sync"}
        assert program.get("/runs").status_code == 403
        for verb, path in (
            ("GET", "/profile"),
            ("POST", "/profile/second-factor"),
            ("POST", "/profile/tokens"),
            ("PUT", "/profile/password"),
        ):
            given = (
                {"old": "a", "new": "b"}
                if "password" in path
                else {"name": "x", "scope": [], "ends_on": "2030-01-01"}
            )
            answer = program.request(verb, path, json=None if "second" in path or verb == "GET" else given)
            assert answer.status_code == 403, (path, answer.text)
            assert "is a program" in answer.json()["detail"]
        assert program.get("/robots", headers={"X-See-As": "person:1"}).status_code == 403


def test_a_token_counts_in_the_header_only(served: Serving) -> None:
    token = token_of(served, "Sol Marin", "robot.see")
    assert httpx.get(f"{served.url}/api/v1/robots?token={token}&access_token={token}").status_code == 401
    assert httpx.get(f"{served.url}/api/v1/robots", cookies={COOKIE: token}).status_code == 401


def test_a_password_alone_opens_nothing_once_a_second_factor_is_on(
    served: Serving, client: httpx.Client
) -> None:
    enter(client, "Mei Tanaka")
    secret = client.post("/profile/second-factor").json()["secret"]
    totp = pyotp.TOTP(secret)
    first = totp.at(read_clock())
    assert client.post("/profile/second-factor/confirm", json={"code": first}).status_code == 200
    client.cookies.clear()
    half = enter(client, "Mei Tanaka")
    assert half.status_code == 401
    assert half.json()["code"] == "second_factor"
    assert COOKIE not in client.cookies
    step = half.json()["more"]["step"]
    assert client.get("/me", headers={"Cookie": f"{COOKIE}={step}"}).status_code == 401
    later = totp.at(read_clock(), counter_offset=1)
    assert client.post("/session/second", json={"step": step, "code": later}).status_code == 200
    assert client.get("/me").json()["name"] == "Mei Tanaka"


def test_tries_are_slowed_alike_whether_the_account_exists_or_not(served: Serving) -> None:
    seen = []
    for email in ("corin.dahl@merrowdale.example", "nobody.here@merrowdale.example"):
        with httpx.Client(base_url=f"{served.url}/api/v1", headers={"X-Tallyman": "1"}) as client:
            answers = [
                client.post("/session", json={"email": email, "password": "wrong-one"}) for _ in range(5)
            ]
        seen.append([(one.status_code, one.json()["code"]) for one in answers][:3])
        served.db.transact(lambda tx: tx.execute("DELETE FROM sign_in_try"))
    assert seen[0] == seen[1]


def test_the_way_out_never_leads_elsewhere(served: Serving) -> None:
    answer = httpx.get(f"{served.url}/api/v1/outside/start?to=//elsewhere.example")
    assert (answer.status_code, answer.headers["location"]) == (303, "/sign-in?outside=not_found")
    back = httpx.get(f"{served.url}/api/v1/outside/back?state=x&code=y")
    assert back.headers["location"] == "/sign-in?outside=not_signed_in"
