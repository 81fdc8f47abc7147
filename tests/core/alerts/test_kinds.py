"""The kinds of messages: each said by somebody, in words that need what is given."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from tallyman.core.alerts import kinds
from tallyman.core.alerts.kinds import KINDS, TOPICS, Kind

SERVICES = Path(kinds.__file__).parents[2] / "services"
NAMES = {name: one for name, one in vars(kinds).items() if isinstance(one, Kind)}


def test_each_kind_has_a_key_of_its_own() -> None:
    assert len(KINDS) == len(NAMES)


def test_each_kind_is_told_somewhere_and_by_whom() -> None:
    source = "\n".join(path.read_text() for path in SERVICES.rglob("*.py"))
    assert [name for name in NAMES if not re.search(rf"\b{name}\b", source)] == []


@pytest.mark.parametrize("kind", KINDS.values(), ids=lambda kind: kind.key)
def test_a_kind_says_who_and_fits_a_mail_s_subject(kind: Kind) -> None:
    assert kind.topic in TOPICS
    assert kind.link.startswith("/")
    said = kind.words.format_map(dict.fromkeys(kind.values, "x"))
    assert "{" not in said and not said.endswith(".")
    # Ideas fill their own name and reference; nothing else is asked for twice under other names.
    assert kind.key.partition(".")[0] in {
        "idea",
        "rate",
        "service",
        "tally",
        "run",
        "rollout",
        "host",
        "system",
        "secret",
        "access",
        "person",
        "notch",
    }
