"""The kill suite: a short form in every test run; TALLYMAN_STORM_SECONDS=900 for the long one."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

import pytest

from tests.chaos.storm import Storm

SECONDS = float(os.environ.get("TALLYMAN_STORM_SECONDS", "45"))
SEED = int(os.environ.get("TALLYMAN_STORM_SEED", "26"))


@pytest.mark.filterwarnings("ignore::pytest.PytestUnhandledThreadExceptionWarning")
@pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning")
def test_nothing_is_lost_or_doubled_whatever_dies() -> None:
    with tempfile.TemporaryDirectory(prefix="tallyman-storm-") as name:
        folder = Path(name)
        folder.chmod(0o755)
        storm = Storm(folder, SEED)
        try:
            storm.begin()
            storm.rage(SECONDS)
            storm.calm()
            found = storm.findings()
            runs = storm.count("SELECT COUNT(*) AS n FROM run")
            states = storm.world.rows("SELECT state, COUNT(*) AS n FROM run GROUP BY state")
            print(runs, states, dict(storm.log))
        finally:
            storm.end()
    assert found == []
    assert runs > SECONDS
    assert {row["state"] for row in states} >= {"done", "lost"}
