from __future__ import annotations

import http.client
import json
import subprocess
import sys
from collections.abc import Iterator

import httpx
import pytest

from tallyman.api.app import create_app
from tallyman.config import HOME
from tests.conftest import Databases
from tests.patience import patience
from tests.serving import Serving, serving
from tests.world import PASSWORD, World, package

OPEN = {
    ("post", "/api/v1/session"),
    ("delete", "/api/v1/session"),
    ("post", "/api/v1/runner/connect"),
    ("post", "/api/v1/forgotten"),
    ("get", "/api/v1/links/{kind}/{token}"),
    ("post", "/api/v1/links/invitation/{token}"),
    ("post", "/api/v1/links/password/{token}"),
    ("post", "/api/v1/session/second"),
    ("get", "/api/v1/entrance"),
    ("post", "/api/v1/first"),
    ("get", "/api/v1/outside/start"),
    ("get", "/api/v1/outside/back"),
    ("get", "/api/v1/asked-sizings/{token}"),
    ("put", "/api/v1/asked-sizings/{token}/facts"),
    ("post", "/api/v1/asked-sizings/{token}/done"),
}


@pytest.fixture(scope="module")
def server(databases: Databases) -> Iterator[Serving]:
    db = databases.connect()
    with serving(db, ()) as one:
        yield one
    db.close()


@pytest.fixture
def client(server: Serving, world: World) -> Iterator[httpx.Client]:
    with httpx.Client(base_url=server.url, headers={"X-Tallyman": "1"}, timeout=patience(30)) as one:
        yield one


def sign_in(client: httpx.Client, name: str) -> None:
    email = f"{name.lower().replace(' ', '.')}@merrowdale.example"
    assert client.post("/api/v1/session", json={"email": email, "password": PASSWORD}).status_code == 200


def routes() -> list[tuple[str, str]]:
    paths = create_app().openapi()["paths"]
    return [(verb, path) for path, verbs in paths.items() for verb in verbs]


def filled(path: str) -> str:
    for name, value in {
        "number": "1",
        "question": "title",
        "file_id": "1",
        "other": "2",
        "trigger": "1",
        "subject": "idea",
        "month": "2026-03",
        "digest": "0" * 64,
        "person": "1",
        "day": "2030-01-01",
        "handle": "0" * 16,
        "run": "1",
        "file": "1",
    }.items():
        path = path.replace(f"{{{name}}}", value)
    return path


@pytest.mark.parametrize(("verb", "path"), [route for route in routes() if route not in OPEN])
def test_every_route_asks_who_it_is(client: httpx.Client, verb: str, path: str) -> None:
    answer = client.request(verb, filled(path), headers={"Idempotency-Key": "k", "If-Match": '"1"'})
    # Whoever is not signed in learns nothing, not even whether the input was right.
    assert answer.status_code in (401, 422), answer.text
    if answer.status_code == 422:
        sign_in(client, "Ada Pell")
    else:
        assert answer.json()["code"] == "not_signed_in"


GUARDED = [
    ("get", "/api/v1/robots", "robot.see"),
    ("get", "/api/v1/releases", "package.see"),
    ("get", "/api/v1/routines", "routine.see"),
    ("get", "/api/v1/runs", "run.see"),
    ("get", "/api/v1/runs/1", "run.see"),
    ("get", "/api/v1/runs/1/log", "run.see"),
    ("get", "/api/v1/value", "value.see"),
    ("get", "/api/v1/value/ideas/1", "value.see"),
    ("get", "/api/v1/rates", "rate.see"),
    ("get", "/api/v1/portfolio", "value.see"),
    ("get", "/api/v1/history/run/1", "run.see"),
    ("post", "/api/v1/routines/1/start", "run.make"),
    ("post", "/api/v1/routines/1/go-live", "routine.decide"),
    ("post", "/api/v1/ideas/1/back", "case.decide"),
    ("post", "/api/v1/ideas/1/take-up", "build.make"),
    ("post", "/api/v1/ideas/1/screen", "idea.decide"),
    ("post", "/api/v1/runs/1/cancel", "run.change"),
    ("post", "/api/v1/value/months/2026-03/close", "value.decide"),
]


@pytest.mark.parametrize(("verb", "path", "permission"), GUARDED)
def test_a_proposer_is_refused_with_the_permission_named(
    client: httpx.Client, verb: str, path: str, permission: str
) -> None:
    sign_in(client, "Ada Pell")
    answer = client.request(verb, path, json={} if verb == "post" else None, headers={"Idempotency-Key": "k"})
    assert answer.status_code == 403, answer.text
    assert permission in answer.json()["detail"]
    assert answer.json()["mend"]


def test_a_problem_names_field_value_and_mend(client: httpx.Client) -> None:
    sign_in(client, "Ada Pell")
    idea = client.post("/api/v1/ideas", headers={"Idempotency-Key": "k"}).json()["id"]
    answer = client.put(f"/api/v1/ideas/{idea}/answers/minutes", json={"value": "ten"})
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["errors"] == [
        {"field": "minutes", "value": "ten", "message": "not a number; give a number such as 12.5"}
    ]


def test_a_misspelt_field_is_refused(client: httpx.Client) -> None:
    sign_in(client, "Sol Marin")
    answer = client.post("/api/v1/areas", json={"nmae": "Metering"})
    fields = {one["field"] for one in answer.json()["errors"]}
    assert {"name", "nmae"} <= fields


@pytest.mark.parametrize("heads", [{}, {"X-Tallyman": "1", "Origin": "http://elsewhere.example"}])
def test_changes_from_other_sites_are_refused(server: Serving, heads: dict[str, str]) -> None:
    with httpx.Client(base_url=server.url) as client:
        answer = client.post("/api/v1/session", json={"email": "a", "password": "b"}, headers=heads)
    assert (answer.status_code, answer.json()["code"]) == (403, "foreign_origin")


def test_answers_carry_the_security_headers(client: httpx.Client) -> None:
    answer = client.get("/healthz")
    assert answer.headers["x-content-type-options"] == "nosniff"
    assert answer.headers["x-frame-options"] == "DENY"
    assert answer.headers["referrer-policy"] == "same-origin"


def test_an_edit_without_the_version_seen_is_refused(client: httpx.Client, world: World) -> None:
    world.machine()
    routine = world.routine()
    sign_in(client, "Sol Marin")
    shown = client.get(f"/api/v1/routines/{routine}")
    assert shown.headers["etag"] == '"1"'
    body = {"name": "New", "area_id": world.area, "release_id": shown.json()["release_id"]}
    assert client.put(f"/api/v1/routines/{routine}", json=body).status_code == 422
    ok = client.put(f"/api/v1/routines/{routine}", json=body, headers={"If-Match": '"1"'})
    assert ok.status_code == 200
    late = client.put(f"/api/v1/routines/{routine}", json=body, headers={"If-Match": '"1"'})
    assert late.status_code == 409
    assert late.json()["more"]["theirs"]["name"] == "New"


def test_too_large_a_body_is_refused_before_it_is_read(server: Serving) -> None:
    call = http.client.HTTPConnection("127.0.0.1", server.port, timeout=patience(10))
    call.putrequest("POST", "/api/v1/ideas/1/files")
    for name, value in (("X-Tallyman", "1"), ("Content-Length", "30000000")):
        call.putheader(name, value)
    call.endheaders()
    answer = call.getresponse()
    assert (answer.status, json.loads(answer.read())["code"]) == (413, "too_large")
    call.close()


def test_files_go_out_as_downloads_only(client: httpx.Client, world: World) -> None:
    idea = world.draft()
    sign_in(client, "Ada Pell")
    made = client.post(
        f"/api/v1/ideas/{idea}/files", files={"file": ("a note.txt", b"<script>")}, data={"kind": "how-to"}
    )
    answer = client.get(f"/api/v1/ideas/{idea}/files/{made.json()['id']}")
    assert answer.headers["content-disposition"].startswith("attachment")
    assert answer.headers["content-type"] == "application/octet-stream"


def test_a_package_is_released_through_the_api(client: httpx.Client) -> None:
    sign_in(client, "Jonas Lindqvist")
    made = client.post("/api/v1/releases", files={"file": ("p.zip", package())}, data={"note": "first"})
    assert made.status_code == 201
    again = client.post("/api/v1/releases", files={"file": ("p.zip", package())}, data={"note": "more"})
    assert again.json()["errors"][0]["field"] == "version"


def test_money_leaves_as_text_never_as_a_float(client: httpx.Client, world: World) -> None:
    idea = world.offered()
    sign_in(client, "Mei Tanaka")
    text = client.get(f"/api/v1/ideas/{idea}/case").text
    figures = json.loads(text, parse_float=lambda found: pytest.fail(f"a float: {found}"))["figures"]
    assert isinstance(figures["npv_3y"], str)


def test_pages_that_are_not_files_are_the_page_itself(client: httpx.Client) -> None:
    assert '<div id="app">' in client.get("/ideas/101?sheet=case").text
    assert client.get("/api/v1/nowhere").json()["code"] == "not_found"
    assert client.get("/../../etc/passwd").text.startswith("<!doctype html>")


def test_the_description_of_the_api_is_current() -> None:
    kept = json.loads((HOME / "docs" / "openapi.json").read_text())
    assert kept == json.loads(json.dumps(create_app().openapi())), (
        "run ./tallyman openapi > docs/openapi.json"
    )


def calc(kind: str, text: str) -> subprocess.CompletedProcess[str]:
    words = [sys.executable, "-m", "tallyman", "calc", kind, "-"]
    return subprocess.run(
        words,
        input=text,
        capture_output=True,
        text=True,
        check=False,
        env={"PYTHONPATH": str(HOME / "src"), "PATH": ""},
    )


def test_calc_takes_one_or_many_and_names_faults() -> None:
    good = '{"start":"2026-06-07","phases":[{"name":"Build","days":5}]}'
    one = calc("workdays", good)
    assert (one.returncode, json.loads(one.stdout)["end"]) == (0, "2026-06-12")
    many = calc("workdays", f'[{good}, {{"start":"x","phases":[]}}]')
    assert many.returncode == 2
    results = json.loads(many.stdout)
    assert results[0]["end"] == "2026-06-12"
    assert [fault["field"] for fault in results[1]["errors"]] == ["start", "phases"]
    assert [line.split(":")[0] for line in many.stderr.splitlines()] == ["start", "phases"]


@pytest.mark.parametrize(
    ("kind", "text", "words"), [("sums", "{}", "allowed:"), ("clock", "{", "cannot be read")]
)
def test_calc_refuses_what_it_cannot_read(kind: str, text: str, words: str) -> None:
    found = calc(kind, text)
    assert found.returncode == 2
    assert words in found.stderr


def test_an_act_says_what_it_changed_and_a_look_changes_nothing(client: httpx.Client, world: World) -> None:
    sign_in(client, "Ines Varga")
    idea = world.noted()
    talked = client.post(f"/api/v1/ideas/{idea}/comments", json={"text": "The list comes twice"})
    assert "ideas" in talked.headers["X-Changed"].split(", ")
    assert "X-Changed" not in client.get("/api/v1/ideas").headers
    refused = client.post(f"/api/v1/ideas/{idea}/comments", json={"text": ""})
    assert (refused.status_code, "X-Changed" in refused.headers) == (422, False)
