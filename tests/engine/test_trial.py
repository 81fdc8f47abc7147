"""The conformance test, tried on our own runner and on one that keeps to little."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from tallyman.config import HOME
from tallyman.standins import trial
from tallyman.standins.trial import Trial

POOR = """
import json, sys, time, urllib.request
server, code = sys.argv[1:]

def ask(path, body=None, token=None):
    request = urllib.request.Request(server + "/api/v1/runner" + path, json.dumps(body).encode(), {"content-type": "application/json"})
    if token:
        request.add_header("Authorization", "Bearer " + token)
    with urllib.request.urlopen(request, timeout=10) as answer:
        text = answer.read()
    return json.loads(text) if text else None

token = ask("/connect", {"code": code, "protocol": 1, "account": "x", "facts": {}})["token"]
while True:
    ask("/heartbeat", {"clock": "2026-01-01T00:00:00Z", "runs": []}, token)
    work = ask("/work", None, token)
    if work:
        ask("/runs/%d/outcome" % work["run"], {"fence": 1, "state": "done", "outputs": {}, "counts": {}}, token)
"""


@pytest.fixture
def folder() -> Iterator[Path]:
    with tempfile.TemporaryDirectory(prefix="tallyman-trial-") as name:
        Path(name).chmod(0o755)
        yield Path(name)


def test_our_own_runner_keeps_to_the_protocol(folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("PYTHONPATH", str(HOME / "src"))
    command = [
        sys.executable,
        "-m",
        "tallyman",
        "runner",
        "--server",
        "{server}",
        "--code",
        "{code}",
        "--state",
        "{state}",
        *(["--as-myself"] if os.geteuid() else []),
    ]
    verdicts = Trial(command, folder).judge()
    assert [verdict for verdict in verdicts if not verdict.kept] == []
    assert len(verdicts) == 40


@pytest.mark.filterwarnings("ignore::pytest.PytestUnhandledThreadExceptionWarning")
def test_a_runner_that_keeps_to_little_is_found_out(folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(trial, "PATIENCE", 2.0)
    monkeypatch.setattr(trial, "POINTS", trial.POINTS[:4])
    script = folder / "poor.py"
    script.write_text(POOR)
    verdicts = Trial([sys.executable, str(script), "{server}", "{code}"], folder).judge()
    kept = {verdict.point: verdict.kept for verdict in verdicts}
    assert kept["connects with code, protocol, account and facts"]
    assert not kept["bears the fencing number on every report"]
    assert not kept["passes on log lines and steps"]
    assert not kept["fails a run whose package arrives damaged"]
