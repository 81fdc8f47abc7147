"""A stranger at the door: what one request, or many, may do to a web process that is asked by others meanwhile."""

from __future__ import annotations

import contextlib
import io
import json
import os
import socket
import subprocess
import sys
import threading
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import psutil
import pytest

from tallyman.config import HOME, read_clock
from tests.conftest import Databases, free_port
from tests.patience import patience
from tests.serving import wait_for
from tests.world import PASSWORD, World

LONGEST_SILENCE = 1.0
LONGEST_WAIT = 20.0
MOST_GROWTH = 100_000_000


class Web:
    """A web process of its own, watched while it is attacked."""

    def __init__(self, databases: Databases, folder: Path) -> None:
        one = databases.wanted
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.log = folder / "web.log"
        environment = {
            **os.environ,
            "PYTHONPATH": str(HOME / "src"),
            "TALLYMAN_VAR": str(folder / "var"),
            "TALLYMAN_DB_PORT": str(one.db_port),
            "TALLYMAN_DB_NAME": one.db_name,
            "TALLYMAN_DB_USER": one.db_user,
            "TALLYMAN_DB_PASSWORD": one.db_password,
        }
        command = [sys.executable, "-m", "tallyman", "serve", "--port", str(self.port)]
        with self.log.open("wb") as words:
            self.process = subprocess.Popen(command, env=environment, stdout=words, stderr=words)
        wait_for(self.answers)
        self.client = httpx.Client(
            base_url=f"{self.url}/api/v1", headers={"X-Tallyman": "1"}, timeout=patience(30)
        )
        # What is loaded with the first requests is no growth.
        for _ in range(3):
            self.client.post("/session", content=b'{"a": 1}', headers={"Content-Type": "application/json"})

    def answers(self) -> bool:
        with contextlib.suppress(httpx.HTTPError):
            return httpx.get(f"{self.url}/healthz", timeout=2).status_code == 200
        return False

    def _memory(self) -> int:
        return int(psutil.Process(self.process.pid).memory_info().rss)

    @contextlib.contextmanager
    def watched(self) -> Iterator[None]:
        """Asks all the while, and asserts that no answer waited for a second of work, nor memory grew.

        Counted is the time that the process worked while an answer was waited for: on a machine that is
        busy with other things it may get little of it.
        """
        ended, longest, grown = threading.Event(), [0.0], [0]
        waited, before = [0.0], self._memory()
        server = psutil.Process(self.process.pid)

        def worked() -> float:
            times = server.cpu_times()
            return float(times.user + times.system)

        def look() -> None:
            with httpx.Client(timeout=patience(60)) as client:
                while not ended.is_set():
                    began, busy = time.monotonic(), worked()
                    client.get(f"{self.url}/healthz")
                    longest[0] = max(longest[0], worked() - busy)
                    waited[0] = max(waited[0], time.monotonic() - began)
                    grown[0] = max(grown[0], self._memory() - before)
                    ended.wait(0.02)

        thread = threading.Thread(target=look)
        thread.start()
        try:
            yield
        finally:
            ended.set()
            thread.join()
        assert longest[0] < LONGEST_SILENCE
        assert waited[0] < LONGEST_WAIT
        assert grown[0] < MOST_GROWTH

    def post(self, path: str, body: bytes, **heads: str) -> httpx.Response:
        heads = {"Content-Type": "application/json", **heads}
        return self.client.post(path, content=body, headers=heads)

    def enter(self, name: str) -> httpx.Response:
        email = f"{name.lower().replace(' ', '.')}@merrowdale.example"
        return self.client.post("/session", json={"email": email, "password": PASSWORD})

    def end(self) -> None:
        self.client.close()
        self.process.kill()
        self.process.wait()


@pytest.fixture(scope="module")
def web(databases: Databases, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Web]:
    databases.empty()
    db = databases.connect()
    world = World(db, read_clock())
    one = Web(databases, tmp_path_factory.mktemp("web"))
    one.world = world  # type: ignore[attr-defined]
    yield one
    one.end()
    db.close()


def entered(web: Web, name: str) -> Iterator[Web]:
    web.world.db.transact(lambda tx: tx.execute("DELETE FROM sign_in_try"))  # type: ignore[attr-defined]
    assert web.enter(name).status_code == 200
    yield web
    web.client.cookies.clear()


@pytest.fixture
def signed_in(web: Web) -> Iterator[Web]:
    yield from entered(web, "Ada Pell")


@pytest.fixture
def builder(web: Web) -> Iterator[Web]:
    yield from entered(web, "Jonas Lindqvist")


@pytest.fixture
def lead(web: Web) -> Iterator[Web]:
    yield from entered(web, "Ines Varga")


def keys(number: int) -> bytes:
    return json.dumps({f"k{n}": n for n in range(number)}).encode()


@pytest.mark.parametrize("number", [300_000, 1_800_000])
def test_a_body_of_unknown_fields_is_not_read_before_sign_in(web: Web, number: int) -> None:
    with web.watched():
        answer = web.post("/session", keys(number))
    assert answer.status_code == 413
    assert len(answer.content) < 5_000


def test_the_largest_body_that_is_read_answers_few_faults(web: Web) -> None:
    with web.watched():
        answer = web.post("/session", keys(4_000))
    assert answer.status_code == 422
    assert len(answer.json()["errors"]) == 20
    assert answer.json()["more"]["faults"] > 4_000
    assert len(answer.content) < 20_000


def test_a_signed_in_body_is_bounded_in_fields_values_and_depth(signed_in: Web) -> None:
    with signed_in.watched():
        for body in (
            keys(60_000),
            b'{"words": ' + b"[" * 200_000 + b"]" * 200_000 + b"}",
            b'{"words": [' + b"0," * 300_000 + b"0]}",
            b'{"words": ' + b"9" * 500_000 + b"}",
            b'{"words": "' + b"x" * 900_000 + b'"}',
        ):
            answer = signed_in.post("/access/requests", body)
            assert answer.status_code == 422
            assert len(answer.content) < 20_000


def raw(web: Web, head: bytes, pieces: Iterator[bytes], seconds: float = 30) -> bytes:
    """Sends bytes as they are until the other side has enough; gives what it answers."""
    with socket.create_connection(("127.0.0.1", web.port), timeout=seconds) as connection:
        connection.sendall(head)
        with contextlib.suppress(OSError):
            for piece in pieces:
                connection.sendall(piece)
        answer = b""
        with contextlib.suppress(OSError):
            while data := connection.recv(65536):
                answer += data
        return answer


def chunked(size: int, each: int = 65_536) -> Iterator[bytes]:
    for _ in range(size // each):
        yield f"{each:x}\r\n".encode() + b" " * each + b"\r\n"
    yield b"0\r\n\r\n"


HEAD = b"POST /api/v1/%s HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Tallyman: 1\r\nContent-Type: application/json\r\n%s\r\n"


@pytest.mark.parametrize(
    "path", [b"session", b"forgotten", b"runner/connect", b"runner/heartbeat", b"runs/1/cancel"]
)
def test_a_body_without_a_length_is_counted_while_it_comes(web: Web, path: bytes) -> None:
    with web.watched():
        answer = raw(web, HEAD % (path, b"Transfer-Encoding: chunked\r\n"), chunked(300_000_000))
    assert b" 413 " in answer.split(b"\r\n")[0] or answer == b""


def test_a_false_cookie_opens_no_larger_door(web: Web) -> None:
    heads = b"Cookie: tallyman_session=made-up\r\nTransfer-Encoding: chunked\r\n"
    with web.watched():
        answer = raw(web, HEAD % (b"people/list", heads), chunked(100_000_000))
    assert b" 413 " in answer.split(b"\r\n")[0] or answer == b""


def test_many_large_bodies_at_once_are_bounded_together(signed_in: Web) -> None:
    cookie = f"tallyman_session={signed_in.client.cookies['tallyman_session']}"
    heads = f"Cookie: {cookie}\r\nTransfer-Encoding: chunked\r\n".encode()
    answers: list[bytes] = []
    with signed_in.watched():
        threads = [
            threading.Thread(
                target=lambda: answers.append(
                    raw(signed_in, HEAD % (b"people/list", heads), chunked(4_900_000))
                )
            )
            for _ in range(40)
        ]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    assert len(answers) == 40


def test_a_file_in_a_form_is_bounded_before_sign_in_and_after(signed_in: Web) -> None:
    boundary = b'--b\r\nContent-Disposition: form-data; name="file"; filename="a.zip"\r\n\r\n'
    kind = b"Content-Type: multipart/form-data; boundary=b\r\nTransfer-Encoding: chunked\r\n"
    head = b"POST /api/v1/releases HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Tallyman: 1\r\n"
    cookie = f"Cookie: tallyman_session={signed_in.client.cookies['tallyman_session']}\r\n".encode()
    first = f"{len(boundary):x}\r\n".encode() + boundary + b"\r\n"

    def form() -> Iterator[bytes]:
        yield first
        yield from chunked(60_000_000)

    with signed_in.watched():
        for who in (b"", cookie):
            answer = raw(signed_in, head + who + kind + b"\r\n", form())
            assert b" 413 " in answer.split(b"\r\n")[0] or answer == b""


def zipped(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


def many_entries(number: int) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for n in range(number):
            archive.writestr(f"{n}", b"")
    return out.getvalue()


MANIFEST = b'name = "one"\nversion = "1.0.0"\nentry = "main.py"\n'
PACKAGES = {
    "a bomb": lambda: zipped({"package.toml": MANIFEST, "main.py": b"\0" * 90_000_000}),
    "a manifest without end": lambda: zipped({"package.toml": b"# " + b"x" * 30_000_000, "main.py": b""}),
    "brackets without end": lambda: zipped(
        {"package.toml": MANIFEST + b"x = " + b"[" * 40_000, "main.py": b""}
    ),
    "files without end": lambda: many_entries(150_000),
    "a schema without end": lambda: zipped(
        {
            "package.toml": MANIFEST + b"".join(b"[inputs.n%d]\ntype = 'string'\n" % n for n in range(3000)),
            "main.py": b"",
        }
    ),
}


@pytest.mark.parametrize("make", PACKAGES.values(), ids=PACKAGES)
def test_a_hostile_package_holds_up_nobody(builder: Web, make: Any) -> None:
    data = make()
    with builder.watched():
        answer = builder.client.post(
            "/releases", files={"file": ("a.zip", data, "application/zip")}, data={"note": "first"}
        )
    assert answer.status_code in (413, 422)
    assert len(answer.content) < 20_000


LISTS = {
    "/people/list/look": "name,mail address\n" + "a,b\n" * 240_000,
    "/systems/list/look": "system,access\n" + "a,web\n" * 150_000,
    "/calendars/ical/look": "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\n"
    "DTSTART;VALUE=DATE:20260101\r\nRRULE:FREQ=SECONDLY;COUNT=999999999\r\nSUMMARY:x\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n",
}


@pytest.mark.parametrize("path", LISTS)
def test_a_hostile_list_holds_up_nobody(lead: Web, path: str) -> None:
    with lead.watched():
        answer = lead.client.post(path, json={"text": LISTS[path]})
    assert answer.status_code < 500


def test_a_packed_body_is_not_unpacked(web: Web) -> None:
    assert web.post("/session", b"x" * 100, **{"Content-Encoding": "gzip"}).status_code == 415


UNSOUND = {
    "half a character": b'"half \\ud800"',
    "an end of text": b'"a\\u0000b"',
    "no number": b"NaN",
    "without end": b"Infinity",
    "below all": b"-Infinity",
    "too large": b"1e999",
    "too long": b"9" * 5000,
}


@pytest.mark.parametrize("value", UNSOUND.values(), ids=UNSOUND)
def test_unsound_text_and_numbers_are_refused_everywhere_before_sign_in(web: Web, value: bytes) -> None:
    for path in ("/session", "/session/second", "/forgotten", "/first", "/runner/connect"):
        answer = web.post(path, b'{"email": ' + value + b', "password": ' + value + b"}")
        assert answer.status_code == 422, answer.text
        assert {fault["field"] for fault in answer.json()["errors"]} & {"email", "password", "body"}


def test_bytes_that_are_no_text_are_refused(web: Web) -> None:
    for body in (b'{"email": "\xed\xa0\x80"}', '{"email": "x"}'.encode("utf-16"), b"\xff\xfe", b"{"):
        assert web.post("/session", body).status_code == 422


def test_a_slow_or_idle_connection_ends(web: Web) -> None:
    def drip(head: bytes) -> float:
        began = time.monotonic()
        with socket.create_connection(("127.0.0.1", web.port), timeout=patience(30)) as connection:
            connection.sendall(head)
            while connection.recv(1024):
                pass
        return time.monotonic() - began

    spent: dict[str, float] = {}
    cases = {
        "nothing": b"",
        "half a head": b"GET /healthz HTTP/1.1\r\nHost: 127",
        "half a body": HEAD % (b"session", b"Content-Length: 50\r\n") + b'{"a"',
    }
    threads = [
        threading.Thread(target=lambda name=name, head=head: spent.update({name: drip(head)}))
        for name, head in cases.items()
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert set(spent) == set(cases)
    assert max(spent.values()) < 20


@pytest.mark.parametrize(
    "line", [b"X-Long: " + b"a" * 500_000, b"\r\n".join(b"X-%d: a" % n for n in range(60_000))]
)
def test_a_head_without_end_is_cut(web: Web, line: bytes) -> None:
    head = b"GET /healthz HTTP/1.1\r\nHost: 127.0.0.1\r\n"
    with web.watched():
        answer = raw(web, head, iter([line, b"\r\n\r\n"]))
    assert b" 200 " not in answer.split(b"\r\n")[0]


def test_trailers_without_end_are_cut(web: Web) -> None:
    def pieces() -> Iterator[bytes]:
        yield b"2\r\n{}\r\n0\r\n"
        for n in range(200_000):
            yield b"X-%d: aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa\r\n" % n

    with web.watched():
        raw(web, HEAD % (b"session", b"Transfer-Encoding: chunked\r\n"), pieces())


@pytest.mark.parametrize("host", ["elsewhere.example", "elsewhere.example:80", "127.0.0.1.elsewhere.example"])
def test_a_foreign_name_is_not_answered(web: Web, host: str) -> None:
    assert httpx.get(f"{web.url}/api/v1/entrance", headers={"Host": host}).status_code == 421


def test_a_forwarded_address_is_believed_of_nobody_who_is_not_configured(web: Web) -> None:
    web.world.db.transact(lambda tx: tx.execute("DELETE FROM sign_in_try"))  # type: ignore[attr-defined]
    states = []
    for n in range(6):
        heads = {"X-Forwarded-For": f"192.0.2.{n}"}
        answer = web.client.post(
            "/session", json={"email": "corin.dahl@merrowdale.example", "password": "wrong"}, headers=heads
        )
        states.append(answer.status_code)
    assert states == [401, 401, 401, 429, 429, 429]


def guess(web: Web, email: str, cookie: str = "", password: str = "wrong") -> int:
    heads = {"Cookie": cookie} if cookie else {}
    with httpx.Client(headers={"X-Tallyman": "1", **heads}, timeout=patience(30)) as client:
        body: dict[str, Any] = {"email": email, "password": password}
        return client.post(f"{web.url}/api/v1/session", json=body).status_code


def test_guesses_at_the_same_time_pass_no_more_than_one_after_the_other(web: Web) -> None:
    web.world.db.transact(lambda tx: tx.execute("DELETE FROM sign_in_try"))  # type: ignore[attr-defined]
    found: list[int] = []
    threads = [
        threading.Thread(target=lambda: found.append(guess(web, "bela.kiss@merrowdale.example")))
        for _ in range(40)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert found.count(401) == 3
    assert found.count(429) == 37


def test_ones_own_good_sign_in_forgives_no_guesses_at_others(web: Web) -> None:
    web.world.db.transact(lambda tx: tx.execute("DELETE FROM sign_in_try"))  # type: ignore[attr-defined]
    found = []
    for n in range(14):
        found.append(guess(web, f"nobody{n}@merrowdale.example"))
        guess(web, "ada.pell@merrowdale.example", password=PASSWORD)
    assert 429 in found


def test_guesses_from_elsewhere_do_not_hold_up_the_owner_in_a_known_browser(web: Web) -> None:
    web.world.db.transact(lambda tx: tx.execute("DELETE FROM sign_in_try"))  # type: ignore[attr-defined]
    email = "ruth.abernathy@merrowdale.example"
    with httpx.Client(base_url=f"{web.url}/api/v1", headers={"X-Tallyman": "1"}) as owner:
        owner.post("/session", json={"email": email, "password": PASSWORD}).raise_for_status()
        assert [guess(web, email) for _ in range(5)] == [401, 401, 401, 429, 429]
        owner.cookies.delete("tallyman_session")
        assert owner.post("/session", json={"email": email, "password": PASSWORD}).status_code == 200
        # That a browser is known helps with its own account only.
        assert owner.post(
            "/session", json={"email": "ada.pell@merrowdale.example", "password": "x"}
        ).status_code in (
            401,
            429,
        )


def test_nothing_of_all_this_stands_in_the_log(web: Web) -> None:
    text = web.log.read_text()
    assert "Traceback" not in text, text[-3000:]
    assert "request failed" not in text
