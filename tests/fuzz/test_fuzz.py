"""Whatever the description of the API allows, sent to every route by two people: no fault of ours, no leak."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator
from datetime import timedelta
from types import SimpleNamespace
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, settings
from schemathesis import Case

from tallyman.api.app import create_app
from tallyman.api.common import COOKIE
from tallyman.config import read_clock
from tallyman.services import safe
from tallyman.services.ideas import helpers
from tallyman.services.people import token_digest
from tests.conftest import Databases
from tests.world import World

# Stands in the name of whatever a stranger may not see.
MARK = "quillwort"
EXAMPLES = 12
WHO = ("Ines Varga", "Jaro Senn")
# Held open for ever; and what ends the very session that asks.
LEFT_OUT = re.compile(
    r"^/api/v1/(events|session|profile/sessions.*|profile/second-factor.*|people/\{number\}/leaving)$"
)
_app = create_app()
api = schemathesis.openapi.from_dict(_app.openapi())


@pytest.fixture(scope="module")
def world(databases: Databases) -> Iterator[World]:
    databases.empty()
    db = databases.connect()
    made = World(db, read_clock())
    made.draft(f"{MARK} draft")
    idea = made.noted(f"{MARK} idea")
    made.machine()
    made.number = made.routine(f"{MARK} routine")
    made.run = made.start(made.number)
    helpers.set_area(made.ctx("Tom Okafor"), idea, made.area)
    safe.make(made.ctx("Ines Varga"), safe.Given(f"{MARK}-login", "package", f"{MARK} value"))
    made.stranger("Jaro Senn")
    made.settle()
    for name in WHO:
        person = made.actors[name].person_id
        db.transact(
            lambda tx, name=name, person=person: tx.write(  # type: ignore[misc]
                "people.add_session",
                token=token_digest(name),
                person=person,
                now=made.now,
                ends=made.now + timedelta(hours=9),
                address="-",
                agent="",
                how="password",
                outside=None,
            )
        )
    _app.state.db = db
    _serve(_app, db)
    yield made
    db.close()


def _serve(app: Any, db: Any) -> None:
    """What the application's own start would set up."""
    served = create_app(db)
    for name, value in vars(served.state)["_state"].items():
        setattr(app.state, name, value)
    app.state.presence = SimpleNamespace(clock_is_right=True, apart_ms=0)


def text_of(content: bytes) -> str:
    """What an answer says, packed files unpacked."""
    if content.startswith(b"PK"):
        with zipfile.ZipFile(io.BytesIO(content)) as box:
            content = b"".join(box.read(name) for name in box.namelist())
    return content.decode("utf-8", "replace")


@pytest.mark.parametrize("who", WHO)
@api.exclude(path_regex=LEFT_OUT.pattern).parametrize()
@settings(
    max_examples=EXAMPLES,
    deadline=None,
    derandomize=True,
    phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)
def test_no_fault_and_no_leak(case: Case, who: str, world: World) -> None:
    headers = {"X-Tallyman": "1", "Cookie": f"{COOKIE}={who}"}
    # Numbers of things that are there, half of the time.
    for name, value in case.path_parameters.items():
        if isinstance(value, int) and value % 2:
            case.path_parameters[name] = value % 6 + 1
    answer = case.call(app=_app, base_url="http://testserver", headers=headers)
    shown = text_of(answer.content)
    assert answer.status_code < 500, shown
    assert "Traceback" not in shown
    assert "SELECT " not in shown
    if who == "Jaro Senn" and "runner" not in case.path:
        assert MARK not in shown, shown
