"""Finding: whatever has a name or number, within what the reader may see."""

from __future__ import annotations

import pytest

from tallyman.core.search import COMMANDS, RULES, SECTIONS
from tallyman.services.ideas import talk
from tallyman.services.search import everything, places
from tallyman.services.search.answers import Hits
from tests.world import World


def kinds(hits: Hits) -> list[tuple[str, str]]:
    return [(one.kind, one.name) for one in hits.rows]


def find(world: World, name: str, words: str, limit: int = 12) -> Hits:
    return everything.find(world.ctx(name), words, limit)


def test_an_idea_is_found_by_number_title_and_what_is_written_about_it(world: World) -> None:
    number = world.noted("Leak allowance claims")
    other = world.noted("Meter letters")
    talk.say(world.ctx("Ines Varga"), other, "It waits for the tanker drivers", [])
    for words in (f"I-{number}", str(number), "leak allow", "Leak allowance claims"):
        assert kinds(find(world, "Ines Varga", words))[0] == ("idea", "Leak allowance claims"), words
    found = find(world, "Ines Varga", "tanker")
    assert [(one.kind, one.ref, one.link) for one in found.rows] == [
        ("idea", f"I-{other}", f"/ideas/{other}")
    ]
    assert not found.misspelt


def test_a_misspelt_title_is_found_and_said_to_be_so(world: World) -> None:
    world.noted("Leak allowance claims")
    found = find(world, "Ines Varga", "leek alowance")
    assert kinds(found) == [("idea", "Leak allowance claims")]
    assert found.misspelt


def test_a_title_that_changed_is_found_as_it_is_now(world: World) -> None:
    number = world.noted("Leak allowance claims")
    assert find(world, "Ines Varga", "leek alowance").rows
    world.db.transact(
        lambda tx: tx.execute("UPDATE idea SET title = 'Hydrant letters' WHERE id = %(i)s", {"i": number})
    )
    assert not find(world, "Ines Varga", "leek alowance").rows
    assert kinds(find(world, "Ines Varga", "hidrant leters")) == [("idea", "Hydrant letters")]


def test_a_stranger_finds_only_what_they_may_see(world: World) -> None:
    number = world.noted("Leak allowance claims")
    world.machine()
    routine = world.routine("Leak rows")
    stranger = world.stranger("Nia Bell")
    hits = everything.find(stranger, "leak", 50)
    assert not [one for one in hits.rows if one.kind in ("idea", "routine", "file", "run")]
    assert not everything.find(stranger, f"I-{number}", 50).rows
    assert not [one for one in everything.find(stranger, "roles", 50).rows if one.kind == "house rule"]
    assert routine


def test_a_draft_is_found_by_its_proposer_alone(world: World) -> None:
    world.draft("Leak allowance claims")
    hits = find(world, "Ada Pell", "leak")
    assert kinds(hits) == [("idea", "Leak allowance claims")]
    assert hits.rows[0].link.startswith("/ideas/new/")
    assert not find(world, "Ines Varga", "leak").rows
    assert not find(world, "Ines Varga", "leek allowance").rows


def test_a_routine_is_found_with_what_starts_it_and_its_latest_run(world: World) -> None:
    world.machine()
    routine = world.routine("Count rows")
    run = world.start(routine)
    found = kinds(find(world, "Ines Varga", "count rows"))
    assert set(found) >= {("routine", "Count rows"), ("command", "Start Count rows"), ("run", "Count rows")}
    assert kinds(find(world, "Ines Varga", "start count"))[0] == ("command", "Start Count rows")
    assert find(world, "Ines Varga", f"R-{run}").rows[0].link == f"/runs/{run}"


def test_who_may_not_start_is_not_offered_to(world: World) -> None:
    world.machine()
    world.routine("Count rows")
    found = kinds(find(world, "Ada Pell", "start count"))
    assert ("command", "Start Count rows") not in found


def test_packages_robots_hosts_people_and_areas_are_found(world: World) -> None:
    world.machine()
    world.release()
    robot = str(world.row("SELECT name FROM robot")["name"])
    host = str(world.row("SELECT name FROM host")["name"])
    package = str(world.row("SELECT name FROM package")["name"])
    area = str(world.row("SELECT name FROM area")["name"])
    for kind, name in (
        ("robot", robot),
        ("host", host),
        ("package", package),
        ("person", "Tom Okafor"),
        ("area", area),
    ):
        assert (kind, name) in kinds(find(world, "Ines Varga", name)), kind
    said = {row.kind: row.more for row in find(world, "Ines Varga", robot).rows}
    assert said["robot"] == f"on {host}, in {area}", "it says where it lies"
    assert {row.kind: row.more for row in find(world, "Ines Varga", host).rows}["host"] == f"in {area}"


def test_rules_and_commands_are_found_by_other_words_too(world: World) -> None:
    assert ("house rule", "Calendar") in kinds(find(world, "Ines Varga", "holidays"))
    assert ("command", "Add a host") in kinds(find(world, "Ines Varga", "add a host"))


def test_no_limit_cuts_in_silence(world: World) -> None:
    for n in range(5):
        world.noted(f"Leak {n}")
    hits = find(world, "Ines Varga", "leak", 2)
    assert (len(hits.rows), hits.of_all) == (2, 5)


@pytest.mark.parametrize("words", ["", "   ", "%", "***", '+-<>()~"@', "a" * 200])
def test_signs_of_the_index_are_words_like_any(world: World, words: str) -> None:
    world.noted("Leak allowance claims")
    assert not find(world, "Ines Varga", words).rows


def test_places_are_those_that_open(world: World) -> None:
    mine = places.mine(world.ctx("Ines Varga"))
    assert {one.name for one in mine.sections} == {one.name for one in SECTIONS}
    assert {one.link for one in mine.rules} == {one.link for one in RULES}
    theirs = places.mine(world.stranger("Nia Bell"))
    assert [one.name for one in theirs.sections] == ["Today", "Ideas", "Self-service"]
    assert theirs.rules == []
    assert len(COMMANDS) > len(RULES)
