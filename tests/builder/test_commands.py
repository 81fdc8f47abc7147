"""What builders do by command, from an empty folder to a package that is checked and tried, without a server."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from typer.testing import CliRunner, Result

from tallyman.builder import commands, keys, trying
from tallyman.builder.packing import packed
from tallyman.core.faults import InputFaults
from tests.world import package

CODE = """
import sys
import tallyman_kit as job
job.log(f"the key has {len(job.secret('post-key'))} letters")
job.count("rows", job.inputs["rows"])
job.count("others")
if job.inputs["rows"] == 0:
    job.nothing_to_do("no rows")
elif job.inputs["rows"] == 1:
    raise ValueError("one row is too few")
else:
    with job.step("Add", rows=job.inputs["rows"]) as step:
        step.out(sum=3)
    job.output(sum=job.inputs["rows"])
"""
MANIFEST = """
name = "add-rows"
version = "1.0.0"
entry = "main.py"
secrets = ["post-key"]
counts = ["rows"]
[inputs.rows]
type = "integer"
default = 2
[outputs.sum]
type = "integer"
maximum = 9
required = true
"""


def run(*words: str) -> Result:
    return CliRunner().invoke(commands.app, list(words))


@pytest.fixture
def here(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.chdir(tmp_path)
    return tmp_path


def test_a_package_that_was_begun_is_right_and_its_tests_pass(here: Path) -> None:
    assert run("new", "gate-log").exit_code == 0
    assert "nothing is wrong" in run("check", "gate-log").output
    tried = run("try", "gate-log")
    assert tried.exit_code == 0
    assert "counts: lines 2" in tried.output
    (here / "gate-log" / "inputs.json").write_text('{"text": "a"}')
    assert "outputs: lines 1" in run("try", "gate-log").output
    assert commands._tests(here / "gate-log") == 0
    again = run("new", "gate-log")
    assert again.exit_code == 2
    assert "not empty" in again.output


def test_all_that_the_server_refuses_is_said_at_once(here: Path) -> None:
    run("new", "gate-log")
    manifest = here / "gate-log" / "package.toml"
    manifest.write_text(
        manifest.read_text().replace('"main.py"', '"start.py"').replace('"lines"]', '"Lines"]')
    )
    refused = run("check", "gate-log")
    assert refused.exit_code == 2
    assert [line.split(":")[0] for line in refused.output.splitlines()] == ["entry", "counts"]
    run("new", "other")
    (here / "other" / "main.py").write_text("def broken(:\n")
    assert "main.py, line 1" in run("check", "other").output
    assert "is not there" in run("check", "nowhere").output
    own = here / "other" / "package.toml"
    own.write_text(own.read_text().replace('"other"', '"tallyman-other"'))
    assert "are the program's own" in run("check", "other").output


def test_what_is_for_the_builder_alone_is_not_packed_and_the_same_files_give_the_same_zip(here: Path) -> None:
    run("new", "gate-log")
    folder = here / "gate-log"
    first = packed(folder)
    (folder / "inputs.json").write_text("{}")
    (folder / "__pycache__").mkdir()
    (folder / "__pycache__" / "main.pyc").write_bytes(b"x")
    (folder / ".local").mkdir()
    (folder / ".local" / "notes.md").write_text("mine")
    (folder / ".hidden").write_text("mine")
    assert packed(folder) == first
    (folder / "link.py").symlink_to(folder / "main.py")
    with pytest.raises(InputFaults) as told:
        packed(folder)
    assert [one.field for one in told.value.faults] == ["file"]


def tried(rows: object = None, key: bool = True, **more: float) -> trying.Tried:
    data = package(manifest=MANIFEST, code=CODE)
    given = {} if rows is None else {"rows": rows}
    return trying.tried(data, given, {"post-key": "reed"} if key else {}, say=lambda _: None, **more)


def test_a_run_here_is_what_the_server_would_keep() -> None:
    found = tried()
    assert (found.state, found.outcome, found.outputs) == ("done", "worked", {"sum": 2})
    assert found.counts == {"rows": 2, "others": 1}
    assert found.log == ["the key has 4 letters"]
    assert [(one["name"], one["data_out"]) for one in found.steps] == [("Add", {"sum": 3})]


def test_nothing_to_do_faults_wrong_outputs_and_missing_secrets() -> None:
    assert (tried(0).state, tried(0).outcome, tried(0).reason) == ("done", "nothing", "no rows")
    assert (tried(1).state, tried(1).reason) == (
        "failed",
        "ValueError: one row is too few (it ended with code 1)",
    )
    assert "sum" in tried(10).reason
    assert tried(10).state == "failed"
    assert "KeyError" in tried(key=False).reason
    with pytest.raises(InputFaults):
        tried("many")


def test_one_that_does_not_end_is_ended() -> None:
    data = package(manifest=MANIFEST, code="import time\nwhile True: time.sleep(1)\n")
    found = trying.tried(data, {}, {}, seconds=1, say=lambda _: None)
    assert (found.state, found.reason) == ("failed", "it did not end within 1 s, so it was ended")


def test_counts_that_are_not_declared_are_said(here: Path) -> None:
    (here / "p.zip").write_bytes(package(manifest=MANIFEST, code=CODE))
    (here / "s.json").write_text(json.dumps({"post-key": "reed"}))
    told = run("try", "p.zip", "--secrets", "s.json")
    assert told.exit_code == 0
    assert "others: not declared" in told.output
    (here / "s.json").write_text("[1]")
    assert run("try", "p.zip", "--secrets", "s.json").exit_code == 2


def test_a_release_needs_a_token(here: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv(commands.TOKEN, raising=False)
    refused = run("release", ".", "--server", "http://127.0.0.1:9", "--note", "First")
    assert refused.exit_code == 2
    assert "make a token" in refused.output
    monkeypatch.setenv(commands.TOKEN, "none")
    run("new", "gate-log")
    refused = run("release", "gate-log", "--server", "http://127.0.0.1:9", "--note", "First")
    assert "cannot be reached" in refused.output


def test_a_file_that_holds_no_key_is_named(here: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv(keys.VARIABLE, str(here / "key"))
    assert keys.private() is None
    (here / "key").write_text("\n")
    refused = run("key")
    assert (refused.exit_code, "holds no private half" in refused.output) == (2, True)
    (here / "key").unlink()
    assert "Signs as" in run("key").output
    assert run("key").output == run("key").output
