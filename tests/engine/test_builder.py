"""A builder goes by command from an empty folder to a signed release that runs; one that was changed does not."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from typer.testing import CliRunner

from tallyman.builder import commands, keys
from tallyman.config import read_clock
from tallyman.services.people import signing_keys, tokens
from tallyman.services.workshop import packages
from tallyman.store.db import Database
from tests.engine.test_runner import Bench
from tests.serving import serving
from tests.world import World

SCOPE = ["package.make", "package.see"]


@pytest.fixture
def bench(databases: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Bench]:
    databases.empty()
    db: Database = databases.connect()
    with serving(db) as one:
        found = Bench(one, World(db, read_clock()))
        jonas = found.world.ctx("Jonas Lindqvist")
        made = tokens.make(jonas, "the desk", SCOPE, (jonas.now + timedelta(days=9)).date())
        monkeypatch.setenv(commands.TOKEN, made.token)
        monkeypatch.setenv(keys.VARIABLE, str(tmp_path / "key"))
        monkeypatch.chdir(tmp_path)
        yield found
    db.close()


def run(*words: str, ends: int = 0) -> str:
    result = CliRunner().invoke(commands.app, list(words))
    assert result.exit_code == ends, result.output
    return result.output


def released(bench: Bench, *words: str) -> int:
    told = run("release", "gate-log", "--server", bench.one.url, "--note", "What changed", *words)
    found = re.search(r"/workshop/releases/(\d+)", told)
    assert found is not None, told
    return int(found.group(1))


def signed_up(bench: Bench) -> None:
    public = run("key").split()[-1]
    signing_keys.add(bench.world.ctx("Jonas Lindqvist"), "the desk", public)


def test_from_an_empty_folder_to_a_signed_release_that_runs(bench: Bench) -> None:
    signed_up(bench)
    run("new", "gate-log")
    first = packages.one(bench.world.ctx("Jonas Lindqvist"), released(bench))
    assert (first.version, first.origin, first.counts) == ("1.0.0", "command", ["lines"])
    assert first.signed_by is not None
    number = bench.world.start(bench.world.routine("Gate log", first.id))
    ended = bench.ended(number)
    assert (ended.state, ended.reason) == ("done", ""), bench.log(number)

    manifest = Path("gate-log/package.toml")
    manifest.write_text(manifest.read_text().replace('default = "one\\ntwo"', "required = true"))
    refused = ("release", "gate-log", "--server", bench.one.url, "--note", "Asks", "--says", "fix")
    assert "make it 2.0.0" in run(*refused, ends=2)
    second = packages.one(
        bench.world.ctx("Jonas Lindqvist"), released(bench, "--says", "breaking", "--pipeline")
    )
    assert (second.version, second.says, second.origin) == ("2.0.0", "breaking", "pipeline")


def test_a_package_that_was_changed_after_its_release_does_not_run_and_says_why(bench: Bench) -> None:
    signed_up(bench)
    run("new", "gate-log")
    ctx = bench.world.ctx("Jonas Lindqvist")
    kept = packages.one(ctx, released(bench))
    routine = bench.world.routine("Gate log", kept.id)
    bench.world.rows("UPDATE file_chunk SET data = CONCAT(data, 'x') WHERE digest = %(one)s", one=kept.digest)
    failed = bench.ended(bench.world.start(routine, "changed"))
    assert failed.state == "failed"
    assert "was changed after its release" in (failed.reason or "")


def test_a_signature_that_fits_no_more_stops_it(bench: Bench) -> None:
    signed_up(bench)
    run("new", "gate-log")
    kept = released(bench)
    routine = bench.world.routine("Gate log", kept)
    bench.world.rows("UPDATE signing_key SET public_half = %(half)s", half="A" * 43 + "=")
    failed = bench.ended(bench.world.start(routine, "signed"))
    assert "does not fit its builder's signature" in (failed.reason or "")
