"""How a page and a run of it stand, in sentences for people who know nothing of robots."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest

from tallyman.core.runs import Need
from tallyman.core.selfservice import first_lacking, said_of_run, standing

NOW = datetime(2026, 3, 10, 9, 0, tzinfo=UTC)


def need(key: str, fact: str = "", since: datetime | None = None) -> Need:
    return Need(key, "words", False, fact, "mend", since=since)


def word(*needs: Need, state: str = "open", why: str = "", **more: bool) -> tuple[str, str]:
    found = standing(state, why, needs, NOW, **more)  # type: ignore[arg-type]
    return found.word, found.why


def test_a_page_whose_needs_are_met_is_ready_and_says_nothing() -> None:
    met = Need("robot", "that is free", True, "Dipper 1")
    assert word(met) == ("ready", "")


def test_what_never_passes_by_itself_comes_before_what_does() -> None:
    busy = need("robot")
    assert word(busy, state="taken back", why="No longer done") == (
        "not now",
        "It was taken back: No longer done",
    )
    assert word(busy, retired=True) == ("not now", "Nobody works with it any more")
    assert word(busy, state="paused", why="Until Monday") == ("not now", "Paused: Until Monday")
    assert word(busy, withdrawn=True)[0] == "not now"
    assert word(reaches=False) == ("not now", "It is published to others, not to you")


def test_what_keeps_longer_is_said_before_a_robot_that_is_at_work() -> None:
    silent = need("host", "last heard", datetime(2026, 3, 10, 8, 10, tzinfo=UTC))
    assert word(need("robot"), need("seat"), silent) == (
        "waits",
        "The computer that does it does not answer since 10 Mar, 08:10 UTC; yours begins when it is back",
    )
    assert word(need("limit"), need("hours", "Weir works 08:00 to 18:00"))[1].startswith(
        "It is done within set hours (Weir works 08:00 to 18:00)"
    )


def test_what_no_sentence_is_known_for_has_to_be_mended_first() -> None:
    assert word(need("something new"), need("robot"))[1].startswith("Something it needs is not there")


def test_inputs_are_left_to_the_form() -> None:
    assert word(need("inputs")) == ("ready", "")
    assert first_lacking([need("due"), need("release")]) is None


@pytest.mark.parametrize(
    ("state", "outcome", "said"),
    [
        ("waiting", None, "It begins in a moment"),
        ("running", None, "It is at work"),
        ("held", None, "It was stopped on its way and goes on once somebody lets it"),
        ("done", "worked", "Done"),
        ("done", "nothing", "Done: there was nothing to do"),
        ("cancelled", None, "It was stopped"),
        ("failed", None, "It did not work: the sheet is empty. Sol Marin looks after it"),
        ("lapsed", None, "It could not begin in time: the sheet is empty. Sol Marin looks after it"),
        (
            "lost",
            None,
            "Its computer went silent while it worked: the sheet is empty. Sol Marin looks after it",
        ),
    ],
)
def test_a_run_is_said_in_a_sentence(state: str, outcome: str | None, said: str) -> None:
    assert said_of_run(state, outcome, "the sheet is empty", None, "Sol Marin", NOW) == said  # type: ignore[arg-type]


def test_a_run_that_waits_says_what_for() -> None:
    said = said_of_run("waiting", None, "", need("robot"), "Sol Marin", NOW)
    assert said == "All robots that do it are at work; yours begins when one is free"
