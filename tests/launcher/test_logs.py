"""Logs: one line of JSON an event, with a plain traceback and no values of variables."""

from __future__ import annotations

import json
import subprocess
import sys

from tallyman.config import HOME
from tests.patience import patience

FAILS = """
import structlog
from tallyman.config import configure_logs
configure_logs()
password = "meadow-and-" + "weir-9"
try:
    raise ValueError("no such thing")
except ValueError as error:
    structlog.get_logger().error("request failed", action="web.failed", exc_info=error)
"""


def test_a_fault_is_one_line_of_json_and_tells_no_secret() -> None:
    done = subprocess.run(
        [sys.executable, "-c", FAILS],
        env={"PYTHONPATH": str(HOME / "src")},
        capture_output=True,
        text=True,
        check=True,
        timeout=patience(60),
    )
    lines = done.stdout.splitlines()
    assert len(lines) == 1
    found = json.loads(lines[0])
    assert (found["action"], found["level"]) == ("web.failed", "error")
    assert "ValueError: no such thing" in found["exception"]
    assert "meadow-and-weir-9" not in done.stdout
    assert found["timestamp"].endswith("Z")
