"""Files that a package hands over and how far it says it is: taken as they are, bounded, and no link followed."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from tallyman.runner import handed
from tallyman.runner.client import Rejected
from tallyman.runner.deliver import Delivery
from tests.engine.runner_world import Bench, bench
from tests.patience import patience
from tests.world import package

__all__ = ["bench"]
LETTERS = """
import pathlib
import tallyman_kit as job
pathlib.Path("letters.txt").write_text("Dear street")
job.file("letters.txt")
job.file("letters.txt", "../../second.txt")
pathlib.Path("letters.txt").write_text("changed later")
for n in range(4):
    job.progress(n, 4, f"street {n}")
"""


def go(bench: Bench, code: str) -> dict[str, Any]:
    return bench.go(package(code=code))


def kept(bench: Bench) -> dict[str, bytes]:
    folder = bench.folder / "spool/1-1/handed"
    return {one["name"]: (folder / str(one["n"])).read_bytes() for one in bench.outcome["files"]}


def test_files_are_taken_as_they_were_handed_over_under_plain_names(bench: Bench) -> None:
    assert go(bench, LETTERS)["state"] == "done"
    assert kept(bench) == {"letters.txt": b"Dear street", "second.txt": b"Dear street"}
    assert "hands over letters.txt" in bench.lines


def test_the_latest_progress_is_told(bench: Bench) -> None:
    go(bench, LETTERS)
    told = [one["progress"] for one in bench.reports if "progress" in one]
    assert told[-1] == {"done": 3, "of": 4, "words": "street 3"}


def test_what_a_failed_run_handed_over_is_kept_too(bench: Bench) -> None:
    assert go(bench, LETTERS + "raise SystemExit('no paper')\n")["state"] == "failed"
    assert set(kept(bench)) == {"letters.txt", "second.txt"}


def test_links_folders_and_pipes_are_no_files(bench: Bench) -> None:
    secret = bench.folder / "secret"
    secret.write_text("not yours")
    code = f"""
import os, pathlib
out = pathlib.Path(os.environ["TALLYMAN_OUT"])
(out / "link").symlink_to({str(secret)!r})
(out / "folder").mkdir()
os.mkfifo(out / "pipe")
(out / "own").write_text("mine")
os.link(out / "own", out / "twice")
(out / "single").write_text("kept")
"""
    found = go(bench, code)
    assert found["state"] == "done", found["reason"]
    assert kept(bench) == {"single": b"kept"}
    assert sum("is not kept" in line for line in bench.lines) == 5


def test_more_or_larger_than_is_kept_is_said(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(handed, "MOST", 3)
    monkeypatch.setattr(handed, "LARGEST", 10)
    monkeypatch.setattr(handed, "LARGEST_TOGETHER", 12)
    code = """
import os, pathlib
out = pathlib.Path(os.environ["TALLYMAN_OUT"])
for name, size in (("a", 8), ("b", 11), ("c", 8), ("d", 1), ("e", 1), ("f", 1)):
    (out / name).write_text("x" * size)
"""
    go(bench, code)
    assert list(kept(bench)) == ["a", "d", "e"]
    said = "\n".join(bench.lines)
    assert "'b' is not kept: it is larger" in said and "'c' is not kept: it makes them larger" in said
    assert "more than 3 files were handed over" in said


class Taking:
    """A server that takes files and outcomes, but refuses what is called so."""

    def __init__(self, refuses: bytes = b"") -> None:
        self.refuses = refuses
        self.outcomes: list[dict[str, Any]] = []

    def send(self, data: bytes) -> str:
        if data == self.refuses:
            raise Rejected(422, "too much of it")
        return f"digest of {data.decode()}"

    def report(self, *_: Any) -> bool:
        return True

    def outcome(self, run: int, body: dict[str, Any]) -> str:
        self.outcomes.append(body)
        return str(body["state"])


def delivered(bench: Bench, server: Any) -> dict[str, Any]:
    job = bench.job(
        package(
            code="""
import os, pathlib
out = pathlib.Path(os.environ["TALLYMAN_OUT"])
(out / "a").write_text("one")
(out / "b").write_text("two")
"""
        )
    )
    job.go()
    delivery = Delivery(server, 1, 1, job.spool, lambda: None, job.stopped)
    delivery.thread.start()
    delivery.thread.join(patience(30))
    found: dict[str, Any] = server.outcomes[0]
    return found


def test_they_go_with_the_outcome_and_nothing_stays_on_the_host(bench: Bench) -> None:
    body = delivered(bench, Taking())
    assert body["files"] == [
        {"name": "a", "digest": "digest of one"},
        {"name": "b", "digest": "digest of two"},
    ]
    assert not Path(bench.folder / "spool/1-1").exists()


def test_one_that_is_refused_does_not_keep_the_outcome_back(bench: Bench) -> None:
    body = delivered(bench, Taking(b"one"))
    assert [one["name"] for one in body["files"]] == ["b"]
    assert "the file a was refused" in body["reason"]
