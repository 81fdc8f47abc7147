"""The kit by itself, the mail catcher over real sockets, the supervisor's care, the hub's hints."""

from __future__ import annotations

import asyncio
import json
import os
import subprocess
import sys
import threading
from pathlib import Path
from typing import Any

import httpx
import pytest

from tallyman.api.edge.hub import Hub
from tallyman.config import HOME, settings
from tallyman.engine import loops
from tallyman.engine.supervisor import Loop, Supervisor
from tallyman.errors import Away, Unavailable
from tallyman.services.context import Ctx, changed
from tallyman.services.house import mail_server
from tests.conftest import free_port
from tests.patience import patience
from tests.serving import wait_for
from tests.world import World

KIT = HOME / "src" / "tallyman" / "kit"


def tried(folder: Path, code: str, **inputs: Any) -> list[dict[str, Any]]:
    """What a package says when it is tried by hand."""
    (folder / "inputs.json").write_text(json.dumps(inputs))
    done = subprocess.run(
        [sys.executable, "-c", code],
        cwd=folder,
        env={"PYTHONPATH": str(KIT), "PATH": os.environ["PATH"]},
        capture_output=True,
        text=True,
        check=False,
    )
    return [json.loads(line) for line in done.stdout.splitlines()]


def test_a_package_can_be_tried_by_hand(tmp_path: Path) -> None:
    code = (
        "import tallyman_kit as job\n"
        "with job.step('Check', rows=job.inputs['rows']) as step:\n"
        "    job.log('one', 'caution')\n"
        "    step.out(bad=1)\n"
        "job.count('letters')\n"
        "job.count('letters', 2)\n"
        "job.output(bad=1, good=2)\n"
    )
    found = tried(tmp_path, code, rows=3)
    assert [one["kind"] for one in found] == ["step", "log", "step", "count", "count", "output"]
    assert (found[0]["data_in"], found[2]["data_out"]) == ({"rows": 3}, {"bad": 1})
    assert found[1]["level"] == "caution"
    assert [one["number"] for one in found if one["kind"] == "count"] == ["1", "2"]
    assert found[-1]["values"] == {"bad": 1, "good": 2}


def test_a_fault_inside_a_step_is_told_with_it(tmp_path: Path) -> None:
    code = "import tallyman_kit as job\nwith job.step('Open'):\n    raise ValueError('no such list')\n"
    assert tried(tmp_path, code)[-1]["fault"] == "ValueError: no such list"


def test_steps_are_numbered_in_the_order_they_began(tmp_path: Path) -> None:
    code = "import tallyman_kit as job\nfor name in 'abc':\n    with job.step(name):\n        pass\n"
    assert [one["n"] for one in tried(tmp_path, code)] == [1, 1, 2, 2, 3, 3]


def test_what_no_json_knows_is_written_as_text(tmp_path: Path) -> None:
    code = "import tallyman_kit as job\nfrom pathlib import Path\njob.output(place=Path('a/b'))\n"
    assert tried(tmp_path, code)[0]["values"] == {"place": "a/b"}


def test_the_mail_catcher_shows_what_the_engine_sent(world: World, monkeypatch: pytest.MonkeyPatch) -> None:
    smtp, page = free_port(), free_port()
    process = subprocess.Popen(
        [sys.executable, "-m", "tallyman", "mail-catcher", "--smtp-port", str(smtp), "--port", str(page)],
        env={**os.environ, "PYTHONPATH": str(HOME / "src")},
    )
    monkeypatch.setattr(settings(), "mail_port", smtp)
    try:
        base = f"http://127.0.0.1:{page}"

        def up() -> bool:
            try:
                return httpx.get(base).status_code == 200
            except httpx.TransportError:
                return False

        wait_for(up)
        idea = world.noted("Hydrants & <letters>")
        world.settle()
        assert loops.mails(world.program()) == 3
        mails = httpx.get(f"{base}/mails.json").json()
        assert {mail["to"][0] for mail in mails} == {
            "tom.okafor@merrowdale.example",
            "corin.dahl@merrowdale.example",
            "ines.varga@merrowdale.example",
        }
        assert any(f"/ideas/{idea}" in mail["body"] for mail in mails)
        shown = httpx.get(base).text
        assert "Hydrants &amp; &lt;letters&gt;" in shown
        assert "<letters>" not in shown
    finally:
        process.terminate()
        process.wait(timeout=patience(10))


def test_a_mail_server_that_is_away_is_said_to_be_so() -> None:
    server = mail_server.Server("127.0.0.1", free_port(), "none", "", "tallyman@merrowdale.example")
    with pytest.raises(Away, match=r"takes no mails: .*(refused|Errno)"):
        mail_server.hand_over(server, "ada.pell@merrowdale.example", "Subject", "Body", "1")


def test_a_loop_outlives_its_faults(world: World) -> None:
    turns: list[int] = []
    enough = threading.Event()

    def step(ctx: Ctx) -> int:
        turns.append(1)
        if len(turns) == 1:
            raise LookupError("the first turn meets something")
        enough.set()
        return 1

    supervisor = Supervisor(world.db, turns=(Loop("test", 0.01, step),))
    supervisor.start()
    assert enough.wait(10)
    supervisor.stop()
    assert len(turns) >= 2


def test_nothing_is_started_when_the_clocks_are_apart(world: World) -> None:
    with pytest.raises(Unavailable, match="clocks of engine and database"):
        loops.clock(world.program())


def test_hints_reach_every_listener_once(world: World) -> None:
    def hint(number: int) -> None:
        world.db.transact(lambda tx: changed(tx, world.program(), "runs", number))

    async def listen() -> list[list[int | None]]:
        hub = Hub(world.db)
        hint(1)
        ears = [hub.listen(), hub.listen()]
        # The first look only finds out where the hints stand now.
        await asyncio.sleep(1)
        for number in (2, 3):
            hint(number)
        heard = []
        for ear in ears:
            heard.append([(await asyncio.wait_for(ear.get(), 10)).number for _ in range(2)])
        for ear in ears:
            hub.leave(ear)
        hub.stop()
        return heard

    assert asyncio.run(listen()) == [[2, 3], [2, 3]]
