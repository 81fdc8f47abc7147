"""A release is set against the one before, numbered by what it says, and refused where it says too little."""

from __future__ import annotations

import pytest

from tallyman.errors import InputFaults, NotFound
from tallyman.services.workshop import differing, packages
from tests.world import World, package

BEFORE = """
name = "hydrant-letters"
version = "{number}"
about = "Writes letters"
entry = "main.py"
{more}
[inputs.list]
type = "string"
title = "List"
required = {required}
"""


def zipped(number: str = "", required: str = "false", more: str = "") -> bytes:
    manifest = BEFORE.format(number=number, required=required, more=more)
    return package(manifest=manifest if number else manifest.replace('version = ""\n', ""))


@pytest.fixture
def first(world: World) -> World:
    world.kept = packages.release(world.ctx("Jonas Lindqvist"), zipped("1.4.2"), packages.Given("First"))
    return world


def release(world: World, data: bytes, note: str = "Another", **said: str) -> packages.Release:
    ctx = world.ctx("Jonas Lindqvist")
    return packages.one(ctx, packages.release(ctx, data, packages.Given(note, **said)))


def refused(world: World, data: bytes, **said: str) -> list[tuple[str, str]]:
    with pytest.raises(InputFaults) as told:
        release(world, data, **said)
    return [(one.field, one.message) for one in told.value.faults]


def test_a_fix_that_requires_another_input_is_refused_line_by_line(first: World) -> None:
    data = zipped("1.4.3", "true", 'secrets = ["post-key"]')
    assert refused(first, data) == [
        ("version", "says fix, but input list is required now, which is breaking; make it 2.0.0"),
        (
            "version",
            "says fix, but secret post-key must be there before a routine of it starts, which is breaking; "
            "make it 2.0.0",
        ),
    ]
    assert release(first, zipped("2.0.0", "true", 'secrets = ["post-key"]')).says == "breaking"


def test_without_a_number_it_gets_the_next_that_says_what_its_builder_says(first: World) -> None:
    counted = zipped(more='counts = ["letters"]')
    assert refused(first, counted) == [("says", "say how much changed since 1.4.2; found is addition: 1.5.0")]
    assert refused(first, counted, says="fix")[0][1].endswith("which is addition; make it 1.5.0")
    made = release(first, counted, says="addition")
    assert (made.version, made.says, made.origin) == ("1.5.0", "addition", "page")
    assert refused(first, counted, says="fix") == [("file", "is 1.5.0 already, to the byte")]
    assert release(first, zipped(more='counts = ["letters", "pages"]'), says="breaking").version == "2.0.0"


def test_a_number_and_what_is_said_must_say_the_same(first: World) -> None:
    assert refused(first, zipped("1.5.0"), says="fix") == [
        ("says", "1.5.0 is the number of a release that says addition; the one that says fix is 1.4.3")
    ]
    assert refused(first, zipped("1.5.0"), number="1.6.0")[0][0] == "number"
    assert refused(first, zipped("1.4.1")) == [
        ("version", "is lower than 1.4.2, the first release; take a higher number")
    ]
    assert refused(first, zipped("1.4.2", more='tags = ["letters"]'))[0][0] == "version"


def test_an_older_line_goes_on_from_its_own_last_release(first: World) -> None:
    release(first, zipped("2.0.0", "true"))
    assert release(first, zipped("1.4.3", more="checkpoints = false")).says == "fix"


def test_the_first_release_has_nothing_to_be_set_against(world: World) -> None:
    made = release(world, zipped())
    assert (made.version, made.says) == ("1.0.0", "")


def test_a_note_is_required(first: World) -> None:
    assert refused(first, zipped("1.4.3"), note=" ") == [("note", "say in a sentence what changed")]


def test_a_look_says_what_changed_and_which_numbers_say_so(first: World) -> None:
    ctx = first.ctx("Jonas Lindqvist")
    seen = packages.look(ctx, zipped(more='counts = ["letters"]'))
    assert (seen.before, seen.found, seen.number) == ("1.4.2", "addition", None)
    assert [(one.says, one.number, one.enough) for one in seen.numbers] == [
        ("fix", "1.4.3", False),
        ("addition", "1.5.0", True),
        ("breaking", "2.0.0", True),
    ]
    assert ("addition", "count", "letters", "is counted too") in [
        (one.weight, one.kind, one.name, one.words) for one in seen.changes
    ]
    stated = packages.look(ctx, zipped("1.4.3", "true"))
    assert (stated.number, stated.said, stated.numbers) == ("1.4.3", "fix", [])
    assert stated.against == ["says fix, but input list is required now, which is breaking; make it 2.0.0"]
    assert not first.rows("SELECT * FROM package_release WHERE id > %(i)s", i=first.kept)


def test_two_releases_stand_side_by_side(first: World) -> None:
    ctx = first.ctx("Jonas Lindqvist")
    number = release(first, zipped("2.0.0", "true")).id
    shown = differing.of(ctx, number, None)
    assert (shown.before, shown.found) == ("1.4.2", "breaking")
    assert [(one.kind, one.name, one.words) for one in shown.changes] == [
        ("input", "list", "is required now"),
        ("file", "package.toml", "is changed"),
    ]
    sides = differing.file(ctx, number, first.kept, "package.toml")
    changed = [(row.left, row.right) for row in sides.rows if row.state == "changed"]
    assert changed == [('version = "1.4.2"', 'version = "2.0.0"'), ("required = false", "required = true")]
    assert differing.file(ctx, number, first.kept, "nothing.md").rows == []
    # Set against a later one, it is looked at the other way round.
    assert differing.of(ctx, first.kept, number).changes[0].words == "may be left out now"
    assert differing.of(ctx, first.kept, None).before is None


def test_a_release_is_taken_out_to_the_byte(first: World) -> None:
    name, data = differing.package(first.ctx("Jonas Lindqvist"), first.kept)
    assert (name, data) == ("hydrant-letters-1.4.2.zip", zipped("1.4.2"))
    with pytest.raises(NotFound):
        differing.of(first.ctx("Jonas Lindqvist"), first.kept, first.kept)


def test_one_that_can_no_longer_be_read_is_said_to_be_so(first: World) -> None:
    number = release(first, zipped("2.0.0", "true")).id
    first.db.transact(
        lambda tx: tx.execute(
            "UPDATE file_chunk c JOIN package_release r ON r.digest = c.digest SET c.data = 'broken' WHERE r.id = %(i)s",
            {"i": number},
        )
    )
    shown = differing.of(first.ctx("Jonas Lindqvist"), number, None)
    assert [(one.weight, one.kind) for one in shown.changes] == [("breaking", "package")]
    assert "can no longer be read" in shown.changes[0].words
