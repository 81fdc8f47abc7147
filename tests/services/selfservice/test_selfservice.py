"""Pages of self-service: published with what they need, used by colleagues with no other access, talked of."""

from __future__ import annotations

import hashlib
from dataclasses import replace
from typing import Any

import pytest

from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, Refused
from tallyman.services import access, runs
from tallyman.services.context import Ctx
from tallyman.services.ideas import page as idea_page
from tallyman.services.people import register
from tallyman.services.runs import reports, uploads
from tallyman.services.selfservice import publishing, reading, saying, using
from tallyman.services.selfservice.publishing import Given
from tallyman.services.starts import routine_page
from tallyman.store.records.robots import HostByToken
from tests.world import World

SOL, ADA, INES = "Sol Marin", "Ada Pell", "Ines Varga"
LETTERS = b"Dear street"


class Published:
    """A routine in service with its page."""

    def __init__(self, world: World) -> None:
        self.world = world
        self.host, self.idea, self.routine = world.live()
        self.page = publishing.publish(world.ctx(SOL), self.routine, self.given())

    def given(self, **but: Any) -> Given:
        keeper = self.world.number(SOL)
        return replace(Given("Count my rows", "Counts the rows of a sheet.", "", ["rows"], keeper), **but)

    def change(self, **but: Any) -> None:
        page = self.see(SOL)
        publishing.change(self.world.ctx(SOL), self.page, self.given(**but), page.version)

    def state(self, state: str, why: str = "") -> None:
        publishing.set_state(self.world.ctx(SOL), self.page, state, why, self.see(SOL).version)

    def see(self, name: str = ADA) -> reading.ServicePageView:
        return reading.one(self.world.ctx(name), self.page)

    def start(self, name: str = ADA, key: str = "one", **inputs: object) -> int:
        return using.start(self.world.ctx(name), self.page, inputs or {"rows": 4}, key)


@pytest.fixture
def there(world: World) -> Published:
    return Published(world)


def titles(ctx: Ctx) -> list[str]:
    return [one.title for one in reading.listed(ctx).pages]


# ---- publishing --------------------------------------------------------------------------------------


def test_only_what_passed_is_published(world: World) -> None:
    host = world.machine()
    routine = world.routine()
    given = Given("Count", "Counts.", "", [], world.number(SOL))
    look = publishing.setup(world.ctx(SOL), routine)
    assert look.against == ["No run of count-rows 1.0.0 has ended well yet: let one pass first"]
    with pytest.raises(Refused, match="cannot be published yet"):
        publishing.publish(world.ctx(SOL), routine, given)
    world.start(routine)
    world.finish(host, world.take(host))
    assert publishing.publish(world.ctx(SOL), routine, given)
    with pytest.raises(Refused, match="has a page already"):
        publishing.publish(world.ctx(SOL), routine, given)


def test_whatever_does_not_fit_is_named_at_once(there: Published) -> None:
    with pytest.raises(InputFaults) as refused:
        there.change(
            title=" ", does="x" * 3000, asks=["sheet"], keeper_id=99999, for_all=False, groups=[77777]
        )
    assert {one.field for one in refused.value.faults} == {"title", "does", "asks", "keeper_id", "groups"}
    with pytest.raises(InputFaults, match="choose a group"):
        there.change(for_all=False)


def test_a_needed_input_is_asked_for_or_set(world: World) -> None:
    there = Published(world)
    text = "UPDATE package_release SET inputs_json = JSON_SET(inputs_json, '$.required', JSON_ARRAY('rows'))"
    world.db.transact(lambda tx: tx.execute(text))
    with pytest.raises(InputFaults, match="ask for it here, or give it in the set-up"):
        there.change(asks=[])
    there.change(asks=["rows"])


def test_only_who_lets_routines_go_live_publishes(there: Published) -> None:
    world = there.world
    with pytest.raises(Forbidden):
        publishing.publish(world.ctx(ADA), there.routine, there.given())
    with pytest.raises(Forbidden):
        publishing.set_state(world.ctx(ADA), there.page, "paused", "Because", 1)
    with pytest.raises(Forbidden):
        publishing.managed(world.ctx(ADA))


def test_two_who_change_a_page_are_told(there: Published) -> None:
    seen = there.see(SOL).version
    there.change(title="Count them")
    with pytest.raises(Conflict, match="meanwhile"):
        publishing.change(there.world.ctx(SOL), there.page, there.given(), seen)
    with pytest.raises(Conflict):
        publishing.set_state(there.world.ctx(SOL), there.page, "paused", "Rest", seen)
    assert there.see().title == "Count them"


def test_a_page_is_listed_with_how_it_is_used(there: Published) -> None:
    there.start()
    saying.rate(there.world.ctx(ADA), there.page, 4, "")
    (row,) = publishing.managed(there.world.ctx(SOL))
    assert (row.title, row.runs, row.people, float(row.marks or 0)) == ("Count my rows", 1, 1, 4.0)


# ---- whom it reaches ---------------------------------------------------------------------------------


def test_a_page_for_a_group_reaches_its_members_and_nobody_else(there: Published) -> None:
    world = there.world
    group = access.add_group(world.ctx(INES), "Meter desk", "", "", [])
    there.change(for_all=False, groups=[group])
    assert titles(world.ctx(ADA)) == []
    with pytest.raises(NotFound):
        there.see()
    with pytest.raises(NotFound):
        there.start()
    access.change_group(world.ctx(INES), group, "Meter desk", "", "", [world.number(ADA)], 1)
    assert titles(world.ctx(ADA)) == ["Count my rows"]
    assert there.start()


def test_a_favourite_of_who_left_the_group_starts_nothing(there: Published) -> None:
    world = there.world
    group = access.add_group(world.ctx(INES), "Meter desk", "", "", [world.number(ADA)])
    there.change(for_all=False, groups=[group])
    reading.favour(world.ctx(ADA), there.page, True)
    access.change_group(world.ctx(INES), group, "Meter desk", "", "", [], 1)
    (card,) = reading.listed(world.ctx(ADA)).pages
    assert (card.word, card.why) == ("not now", "It is published to others, not to you")
    for use in (
        there.start,
        lambda: saying.thank(world.ctx(ADA), there.page),
        lambda: using.keep_file(world.ctx(ADA), there.page, "a.csv", b"a;b"),
    ):
        with pytest.raises(Refused):
            use()


def test_a_group_that_is_out_of_use_is_reached_by_no_page(there: Published) -> None:
    world = there.world
    group = access.add_group(world.ctx(INES), "Meter desk", "", "", [world.number(ADA)])
    there.change(for_all=False, groups=[group])
    assert titles(world.ctx(ADA)) == ["Count my rows"]
    access.retire_group(world.ctx(INES), group)
    assert titles(world.ctx(ADA)) == []


def test_who_leaves_hands_over_the_pages_they_look_after(there: Published) -> None:
    world = there.world
    there.change(keeper_id=world.number("Corin Dahl"))
    corin = world.number("Corin Dahl")
    assert register.before_leaving(world.ctx(INES), corin).pages == ["Count my rows"]
    with pytest.raises(InputFaults, match="need somebody active"):
        register.deactivate(world.ctx(INES), corin, None)
    register.deactivate(world.ctx(INES), corin, world.number(SOL))
    assert there.see().keeper == SOL


def test_somebody_with_no_role_at_all_uses_it(there: Published) -> None:
    ctx = there.world.stranger("Bo Lund")
    assert titles(ctx) == ["Count my rows"]
    run = using.start(ctx, there.page, {"rows": 2}, "a")
    assert using.run(ctx, run).run.said == "It begins in a moment"
    with pytest.raises(Forbidden):
        runs.one(ctx, run)


def test_what_is_paused_says_so_and_starts_nothing(there: Published) -> None:
    there.state("paused", "The meter store is being moved until Friday")
    assert (there.see().word, there.see().why) == (
        "not now",
        "Paused: The meter store is being moved until Friday",
    )
    with pytest.raises(Refused, match="not to be had now"):
        there.start()
    there.state("open")
    assert there.start()
    with pytest.raises(InputFaults, match="colleagues read it"):
        there.state("paused")


def test_what_was_taken_back_is_gone_but_for_who_keeps_it_at_hand(there: Published) -> None:
    world = there.world
    reading.favour(world.ctx(ADA), there.page, True)
    there.state("taken back", "Nobody needs it")
    (card,) = reading.listed(world.ctx(ADA)).pages
    assert (card.favourite, card.word, card.why) == (True, "not now", "It was taken back: Nobody needs it")
    assert titles(world.ctx(INES)) == []
    reading.favour(world.ctx(ADA), there.page, False)
    assert titles(world.ctx(ADA)) == []
    with pytest.raises(Refused, match="was taken back"):
        there.state("paused", "Rest")
    there.change(title="Count again")
    assert titles(world.ctx(ADA)) == ["Count again"]


def test_a_retired_routine_is_not_to_be_had(there: Published) -> None:
    sql = "UPDATE routine SET retired_at = '2026-03-09 08:00:00'"
    there.world.db.transact(lambda tx: tx.execute(sql))
    assert (there.see().word, there.see().why) == ("not now", "Nobody works with it any more")


def test_a_silent_host_is_said_with_since_when(there: Published) -> None:
    sql = "UPDATE host SET heard_at = '2026-03-10 07:00:00'"
    there.world.db.transact(lambda tx: tx.execute(sql))
    seen = there.see()
    assert seen.word == "waits"
    assert seen.why.startswith("The computer that does it does not answer since 10 Mar, 07:00")


# ---- running -----------------------------------------------------------------------------------------


def test_a_start_is_made_once_for_a_key_and_keeps_to_what_is_asked(there: Published) -> None:
    first = there.start()
    assert there.start() == first
    row = there.world.row("SELECT inputs_json, started_words FROM run WHERE id = %(id)s", id=first)
    assert (row["inputs_json"], row["started_words"]) == ('{"rows": 4}', ADA)
    there.change(asks=[])
    with pytest.raises(InputFaults, match="does not ask for it"):
        there.start(key="two")
    there.change(asks=["rows"])
    with pytest.raises(InputFaults, match="allowed: 0 or more"):
        there.start(key="three", rows=-5)


def test_what_must_be_given_is_asked_for_each_time(there: Published) -> None:
    text = "UPDATE package_release SET inputs_json = JSON_SET(inputs_json, '$.required', JSON_ARRAY('rows'))"
    there.world.db.transact(lambda tx: tx.execute(text))
    there.world.db.transact(lambda tx: tx.execute("UPDATE routine SET inputs_json = '{\"rows\": 7}'"))
    assert there.see().inputs == {}
    with pytest.raises(InputFaults, match="is needed"):
        using.start(there.world.ctx(ADA), there.page, {}, "one")
    there.change(asks=[])
    run = using.start(there.world.ctx(ADA), there.page, {}, "two")
    assert there.world.row("SELECT inputs_json AS i FROM run WHERE id = %(r)s", r=run)["i"] == '{"rows": 7}'


def sent(world: World, host: HostByToken) -> str:
    digest = hashlib.sha256(LETTERS).hexdigest()
    uploads.begin(world.program(), host, digest, len(LETTERS))
    uploads.put(world.program(), host, digest, 0, LETTERS)
    return digest


def test_ones_own_run_gives_its_files_and_what_came_of_it_to_nobody_else(there: Published) -> None:
    world = there.world
    run = there.start()
    work = world.take(there.host)
    handed = reports.Handed("letters.txt", sent(world, there.host))
    said = reports.Outcome("done", True, "", {"rows": 4}, {"rows": "4"}, files=(handed,))
    reports.outcome(world.program(), there.host, work.run, work.fence, said)
    seen = using.run(world.ctx(ADA), run)
    assert (seen.run.said, seen.run.files) == ("Done", 1)
    assert [(one.name, one.value) for one in seen.inputs] == [("Rows", "4")]
    assert [(one.name, one.value) for one in seen.outputs] == [("rows", "4")]
    assert using.file(world.ctx(ADA), run, seen.files[0].id) == ("letters.txt", LETTERS)
    with pytest.raises(NotFound):
        using.run(world.ctx(INES), run)
    with pytest.raises(NotFound):
        using.file(world.ctx(INES), run, seen.files[0].id)
    world.settle()
    sql = "SELECT text FROM notification WHERE person_id = %(p)s AND link = %(link)s"
    (told,) = world.rows(sql, p=world.number(ADA), link=f"/self-service/runs/{run}")
    assert told["text"] == "Count my rows: it is done"


def test_ones_own_run_can_be_stopped_by_its_person_alone(there: Published) -> None:
    run = there.start()
    with pytest.raises(NotFound):
        using.stop(there.world.ctx(INES), run)
    assert using.stop(there.world.ctx(ADA), run) == "cancelled"
    assert using.run(there.world.ctx(ADA), run).run.said == "It was stopped"


def test_ones_runs_are_listed_in_pages(there: Published) -> None:
    made = [there.start(key=f"k{n}") for n in range(23)]
    first = using.mine(there.world.ctx(ADA), None)
    assert [one.id for one in first] == made[:2:-1]
    assert [one.id for one in using.mine(there.world.ctx(ADA), first[-1].id)] == made[2::-1]
    assert using.mine(there.world.ctx(INES), None) == []


def test_a_file_is_kept_for_a_page_that_reaches_one(there: Published) -> None:
    kept = using.keep_file(there.world.ctx(ADA), there.page, "sheet.csv", b"a;b\n1;2\n")
    assert kept.value.endswith("/sheet.csv")
    there.change(for_all=False, groups=[access.add_group(there.world.ctx(INES), "Meter desk", "", "", [])])
    with pytest.raises(NotFound):
        using.keep_file(there.world.ctx(ADA), there.page, "sheet.csv", b"a;b\n")


# ---- what is said ------------------------------------------------------------------------------------


def voices(there: Published) -> list[tuple[str, str]]:
    seen = idea_page.one(there.world.ctx(INES), there.idea)
    return [(one.name, one.note) for one in seen.voices]


def test_thanks_and_marks_are_voices_for_the_idea_and_told_to_the_keeper(there: Published) -> None:
    world, ada = there.world, there.world.ctx(INES)
    saying.thank(ada, there.page)
    saying.thank(ada, there.page)
    saying.rate(ada, there.page, 2, "Slow")
    saying.rate(ada, there.page, 5, "Quick now")
    seen = there.see(INES)
    assert (seen.sums.thanks, seen.sums.ratings, str(seen.sums.marks)) == (1, 1, "5.0")
    assert (seen.my_marks, seen.my_remark, seen.thanked) == (5, "Quick now", True)
    assert (INES, "5 of 5 marks for Count my rows: Quick now") in voices(there)
    world.settle()
    sql = "SELECT text FROM notification WHERE person_id = %(p)s AND link LIKE '/self-service%%' ORDER BY id"
    told = [row["text"] for row in world.rows(sql, p=world.number(SOL))]
    assert told[0] == "Ines Varga says thanks for Count my rows"
    assert told[-1] == "Ines Varga gave 5 of 5 marks to Count my rows: Quick now"
    with pytest.raises(InputFaults, match="1 to 5"):
        saying.rate(ada, there.page, 6, "")


def test_what_is_said_is_read_by_who_looks_after_it(there: Published) -> None:
    saying.rate(there.world.ctx(INES), there.page, 4, "Good")
    assert there.see().said is None
    assert [one.remark for one in there.see(SOL).said or []] == ["Good"]


def test_a_wish_is_an_amendment_of_the_idea_in_service(there: Published) -> None:
    world = there.world
    first = saying.wish(world.ctx(INES), there.page, "it read several sheets", "w")
    assert saying.wish(world.ctx(INES), there.page, "it read several sheets", "w") == first
    assert first.idea_id is not None
    made = idea_page.one(world.ctx(INES), first.idea_id)
    assert made.amends_id == there.idea
    assert made.title == "Count my rows: it read several sheets"
    assert [(one.remark, one.idea_id) for one in there.see(SOL).said or []] == [
        ("it read several sheets", first.idea_id)
    ]


def test_a_page_of_no_idea_keeps_its_wishes(there: Published) -> None:
    world = there.world
    world.db.transact(lambda tx: tx.execute("DELETE FROM counting_point"))
    assert saying.wish(world.ctx(ADA), there.page, "it did more", "w").idea_id is None
    assert there.see(SOL).sums.wishes == 1


def test_the_routines_page_says_that_it_is_published(there: Published) -> None:
    published = routine_page.one(there.world.ctx(SOL), there.routine).published
    assert published is not None
    assert (published.title, published.state) == ("Count my rows", "open")


def test_a_run_that_takes_another_s_place_is_of_the_same_person(there: Published) -> None:
    run = there.start()
    work = there.world.take(there.host)
    there.world.finish(there.host, work, "failed")
    again = runs.start_again(there.world.ctx(SOL), run, "again")
    assert [one.id for one in using.mine(there.world.ctx(ADA), None)] == [again, run]
