"""What tests of a package import: `tried(**inputs)` runs the package of the working folder, without a server.

run = tried(text="a\\nb")
run.state, run.outcome, run.reason, run.counts, run.outputs, run.steps, run.log
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

from tallyman.builder.packing import packed
from tallyman.builder.trying import Tried
from tallyman.builder.trying import tried as _tried


def tried(_secrets: dict[str, str] | None = None, _seconds: float = 60, **inputs: Any) -> Tried:
    """The run that these inputs make, with the defaults of package.toml for all others."""
    return _tried(packed(Path.cwd()), inputs, _secrets, seconds=_seconds, say=lambda _: None)
