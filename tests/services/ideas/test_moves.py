"""Ideas off their way and back: asked back, parked, merged, withdrawn, another route; talk and voices."""

from __future__ import annotations

from datetime import date, timedelta
from decimal import Decimal
from typing import Any

import pytest

from tallyman.core.house.workdays import Calendar
from tallyman.core.ideas import way
from tallyman.engine import loops
from tallyman.errors import Forbidden, InputFaults, NotFound, Refused
from tallyman.services import tally
from tallyman.services.ideas import candidates, drafts, exports, moves, page, review, talk
from tallyman.services.ideas.answers import IdeaWhole, Volume
from tallyman.services.today import desk
from tests.conftest import NOW
from tests.world import World

WEEKDAYS = Calendar(frozenset({6, 7}), frozenset())
OTHER = "Hydrant inspection letters"


def look(world: World, idea: int, name: str = "Tom Okafor", **more: Any) -> IdeaWhole:
    return page.one(world.ctx(name, **more), idea)


def told(world: World, name: str, later: timedelta = timedelta()) -> list[str]:
    world.settle(later)
    person = world.actors[name].person_id
    rows = world.rows("SELECT text FROM notification WHERE person_id = %(p)s ORDER BY id", p=person)
    return [row["text"] for row in rows]


# ---- asked back --------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("due", "asked", "now", "wanted"),
    [
        ("2026-03-17", "2026-03-10", "2026-03-12", "2026-03-19"),
        ("2026-03-17", "2026-03-13", "2026-03-16", "2026-03-18"),
        ("2026-03-17", "2026-03-10", "2026-03-10", "2026-03-17"),
        (None, "2026-03-10", "2026-03-12", None),
    ],
)
def test_the_due_date_moves_on_by_the_working_days_of_waiting(
    due: str | None, asked: str, now: str, wanted: str | None
) -> None:
    day = date.fromisoformat
    found = way.resumed(due and day(due), day(asked), day(now), WEEKDAYS)
    assert found == (wanted and day(wanted))


def test_the_age_stands_still_while_the_proposer_is_asked(world: World) -> None:
    idea = world.noted()
    before = world.row("SELECT due_on FROM idea WHERE id = %(i)s", i=idea)["due_on"]
    review.judge_answer(world.ctx("Tom Okafor"), idea, "what", False, "Which letters?")
    review.judge_answer(world.ctx("Tom Okafor"), idea, "minutes", False, "Really eleven?")
    weeks = timedelta(days=21)
    seen = look(world, idea, later=weeks)
    assert seen.next.days_late == 0
    assert "answers what was asked back" in seen.next.words
    drafts.answer(world.ctx("Ada Pell", weeks), idea, "what", "The letters on leak allowances.", None)
    assert look(world, idea, later=weeks).asked_on is not None
    drafts.answer(world.ctx("Ada Pell", weeks), idea, "minutes", "12", None)
    after = look(world, idea, later=weeks)
    assert after.asked_on is None
    assert (after.next.due - before).days == 21


# ---- parked, reopened, withdrawn ---------------------------------------------------------------------


def test_a_parked_idea_comes_back_by_itself_on_its_day(world: World) -> None:
    idea = world.screened()
    until = (NOW + timedelta(days=30)).date()
    moves.park(world.ctx("Tom Okafor"), idea, until, "the new ledger comes in April")
    seen = look(world, idea)
    assert (seen.stage, seen.parked_until) == ("parked", until)
    assert "comes back by itself on 9 Apr 2026" in seen.next.words
    assert moves.come_back(world.program(timedelta(days=29))) == 0
    assert moves.come_back(world.program(timedelta(days=30))) == 1
    assert moves.come_back(world.program(timedelta(days=30))) == 0
    back = look(world, idea)
    assert (back.stage, back.parked_until) == ("screened", None)
    assert back.way[-1].person == "Tallyman"
    assert any("is back" in text for text in told(world, "Ada Pell", timedelta(days=31)))


@pytest.mark.parametrize("days", [0, -3, 800])
def test_an_idea_is_parked_until_a_day_within_reach(world: World, days: int) -> None:
    idea = world.noted()
    with pytest.raises(InputFaults, match="until"):
        moves.park(world.ctx("Tom Okafor"), idea, (NOW + timedelta(days=days)).date(), "waits")


def test_a_declined_idea_goes_back_to_where_it_stood(world: World) -> None:
    idea = world.screened()
    review.decline(world.ctx("Tom Okafor"), idea, "too little volume", "It hardly comes.")
    with pytest.raises(InputFaults, match="why"):
        moves.reopen(world.ctx("Tom Okafor"), idea, " ")
    moves.reopen(world.ctx("Tom Okafor"), idea, "the volume has doubled")
    assert look(world, idea).stage == "screened"
    assert [step.stage for step in look(world, idea).way][-2:] == ["declined", "screened"]
    assert any("the volume has doubled" in text for text in told(world, "Ada Pell"))


def test_a_proposer_withdraws_with_a_reason_and_comes_back(world: World) -> None:
    idea = world.noted()
    ada = world.ctx("Ada Pell")
    with pytest.raises(InputFaults, match="why"):
        moves.withdraw(ada, idea, "")
    moves.withdraw(ada, idea, "we do it otherwise now")
    assert look(world, idea).stage == "withdrawn"
    with pytest.raises(Forbidden):
        moves.withdraw(world.ctx("Tom Okafor"), idea, "no")
    moves.reopen(ada, idea, "we were wrong")
    assert look(world, idea).stage == "noted"
    assert any("we do it otherwise now" in text for text in told(world, "Tom Okafor"))


def test_only_reviewers_take_ideas_off_their_way(world: World) -> None:
    idea = world.noted()
    mei, until = world.ctx("Mei Tanaka"), (NOW + timedelta(days=9)).date()
    for act in (
        lambda: moves.park(mei, idea, until, "later"),
        lambda: moves.merge(mei, idea, idea + 1, ""),
        lambda: review.decline(mei, idea, "too little volume", "no"),
        lambda: moves.take_route(mei, idea, "training", "Teach it", mei.actor.person_id or 0, until),
    ):
        with pytest.raises(Forbidden):
            act()


# ---- merged ------------------------------------------------------------------------------------------


def test_a_merged_idea_goes_on_in_another_with_its_voices_and_volume(world: World) -> None:
    first = world.noted()
    bela = world.stranger("Bela Kiss")
    second = drafts.start(bela, "second")
    for question, value in {
        "title": "Leak allowance letters",
        "what": "Write the letter on a leak allowance.",
        "division": world.divisions["Networks"],
        "volume": {"amount": "50", "rhythm": "week"},
    }.items():
        drafts.answer(bela, second, question, value, None)
    drafts.hand_in(bela, second)
    talk.join(world.ctx("Mei Tanaka"), second, None, "good")
    talk.follow(world.ctx("Ruth Abernathy"), second, True)
    low = look(world, first).hours_low
    moves.merge(world.ctx("Tom Okafor"), second, first, "the same letters")
    seen = look(world, second, "Bela Kiss")
    assert (seen.stage, seen.merged_into) == ("merged", first)
    assert seen.answers
    into = look(world, first, "Bela Kiss")
    assert [one.id for one in into.merged_in] == [second]
    voices = {one.name: one for one in into.voices}
    assert voices["Bela Kiss"].volume == Volume("50", "week")
    assert voices["Bela Kiss"].from_idea_id == second
    assert voices["Mei Tanaka"].from_idea_id == second
    assert into.hours_low == pytest.approx(low * 3 / 2)
    assert any("goes on in" in text for text in told(world, "Bela Kiss"))
    assert any("went into" in text for text in told(world, "Ada Pell"))
    assert any("went into" in text or "is merged now" in text for text in told(world, "Ruth Abernathy"))
    with pytest.raises(Refused, match="does not come back"):
        moves.reopen(world.ctx("Tom Okafor"), second, "apart again")


def test_an_idea_goes_into_no_dead_one_and_not_into_itself(world: World) -> None:
    idea, other = world.noted(), world.noted(OTHER)
    tom = world.ctx("Tom Okafor")
    with pytest.raises(InputFaults, match="into itself"):
        moves.merge(tom, idea, idea, "")
    review.decline(tom, other, "too little volume", "no")
    with pytest.raises(InputFaults, match="declined"):
        moves.merge(tom, idea, other, "")
    with pytest.raises(NotFound):
        moves.merge(tom, idea, 999_999, "")


# ---- another route -----------------------------------------------------------------------------------


def test_another_route_is_followed_to_its_end(world: World) -> None:
    idea = world.screened()
    due = (NOW + timedelta(days=40)).date()
    corin = world.actors["Corin Dahl"].person_id
    assert corin is not None
    moves.take_route(world.ctx("Tom Okafor"), idea, "changed procedure", "Ask once a year only", corin, due)
    seen = look(world, idea, "Corin Dahl")
    assert (seen.stage, seen.building, seen.route) == ("building", "open", "changed procedure")
    assert seen.next.words == "Corin Dahl sees to it: Ask once a year only"
    waits = desk.view(world.ctx("Corin Dahl")).waits
    assert [one.kind for one in waits if one.link == f"/ideas/{idea}"][-1] == "measure"
    moves.set_stuck(world.ctx("Corin Dahl"), idea, "the regulator has not answered")
    assert "stuck: the regulator" in look(world, idea).next.words
    moves.set_stuck(world.ctx("Corin Dahl"), idea, "")
    assert look(world, idea).building == "taken up"
    with pytest.raises(Forbidden):
        moves.measure_done(world.ctx("Ada Pell"), idea, "done")
    moves.measure_done(world.ctx("Corin Dahl"), idea, "The procedure is changed since today")
    done = look(world, idea)
    assert (done.stage, done.live_on) == ("in service", NOW.date())
    assert any("is in service" in text for text in told(world, "Ada Pell"))


@pytest.mark.parametrize(
    ("field", "given"),
    [
        ("route", {"route": "magic"}),
        ("measure", {"measure": " "}),
        ("owner", {"owner_id": 999_999}),
        ("due", {"due": NOW.date()}),
    ],
)
def test_a_measure_names_what_who_and_when(world: World, field: str, given: dict[str, Any]) -> None:
    idea = world.noted()
    wanted = {
        "route": "training",
        "measure": "Teach it",
        "owner_id": world.actors["Corin Dahl"].person_id,
        "due": (NOW + timedelta(days=9)).date(),
    }
    with pytest.raises(InputFaults) as caught:
        moves.take_route(world.ctx("Tom Okafor"), idea, **{**wanted, **given})
    assert [fault.field for fault in caught.value.faults] == [field]


def test_a_robots_build_is_stuck_and_goes_on_but_is_no_measure(world: World) -> None:
    idea = world.building()
    jonas = world.ctx("Jonas Lindqvist")
    moves.set_stuck(jonas, idea, "no test system")
    assert look(world, idea).building == "stuck"
    moves.set_stuck(jonas, idea, "")
    assert look(world, idea).building == "taken up"
    with pytest.raises(Refused, match="robot"):
        moves.measure_done(jonas, idea, "done")


# ---- talk --------------------------------------------------------------------------------------------


def test_a_comment_reaches_those_with_a_part_and_those_it_asks(world: World) -> None:
    idea = world.noted()
    talk.follow(world.ctx("Ruth Abernathy"), idea, True)
    mei = world.actors["Mei Tanaka"].person_id
    assert mei is not None
    number = talk.say(world.ctx("Tom Okafor"), idea, "How many a week?", [mei])
    assert any("asks you on" in text for text in told(world, "Mei Tanaka"))
    assert any("Tom Okafor on" in text for text in told(world, "Ada Pell"))
    assert any("Tom Okafor on" in text for text in told(world, "Ruth Abernathy"))
    with pytest.raises(Forbidden):
        talk.edit(world.ctx("Ada Pell"), idea, number, "Mine now", [])
    talk.edit(world.ctx("Tom Okafor"), idea, number, "How many a month?", [])
    seen = look(world, idea, "Ada Pell").comments[0]
    assert (seen.text, seen.edited_at is not None, seen.mine) == ("How many a month?", True, False)
    talk.take_back(world.ctx("Tom Okafor"), idea, number)
    gone = look(world, idea).comments[0]
    assert (gone.text, gone.taken_back_at is not None) == ("", True)
    with pytest.raises(Refused):
        talk.edit(world.ctx("Tom Okafor"), idea, number, "again", [])


def test_nobody_is_mentioned_who_may_not_see_the_idea(world: World) -> None:
    idea = world.noted()
    bela = world.stranger("Bela Kiss").actor.person_id
    assert bela is not None
    with pytest.raises(InputFaults, match="Bela Kiss"):
        talk.say(world.ctx("Tom Okafor"), idea, "What do you say?", [bela])
    with pytest.raises(NotFound):
        talk.say(world.ctx("Bela Kiss"), idea, "Hello", [])
    with pytest.raises(InputFaults):
        talk.say(world.ctx("Tom Okafor"), idea, "  ", [])


# ---- voices ------------------------------------------------------------------------------------------


def test_a_stranger_joins_from_a_draft_like_it_with_a_volume_of_their_own(world: World) -> None:
    idea = world.noted()
    far = world.noted("Tanker log to ledger", what="Copy the tanker log into the ledger.")
    bela = world.stranger("Bela Kiss")
    before = look(world, idea).hours_low
    with pytest.raises(NotFound):
        talk.join(bela, idea, {"amount": "100", "rhythm": "week"}, "")
    draft = drafts.start(bela, "mine")
    drafts.answer(bela, draft, "title", "Leak allowance claims by mail", None)
    drafts.answer(bela, draft, "what", "Check a claim against the repair job, write the letter.", None)
    with pytest.raises(NotFound):
        talk.join(bela, far, None, "", draft)
    talk.join(bela, idea, {"amount": "100", "rhythm": "week"}, "in the south", draft)
    seen = look(world, idea, "Bela Kiss")
    assert seen.hours_low == pytest.approx(before * 2)
    assert seen.voices[0].volume == Volume("100", "week")
    assert look(world, draft, "Bela Kiss").stage == "withdrawn"
    assert any("does the same work and joined" in text for text in told(world, "Ada Pell"))
    with pytest.raises(NotFound):
        look(world, draft)
    rows = page.page_of_ideas(world.ctx("Tom Okafor"), page.Wanted(), sort="newest", after=None, limit=50)
    assert draft not in [row.id for row in rows.rows]
    assert "withdrawn" not in [row.stage for row in rows.stages]
    talk.leave(bela, idea)
    assert look(world, idea).hours_low == pytest.approx(before)
    with pytest.raises(NotFound):
        look(world, idea, "Bela Kiss")


def test_each_has_one_voice_and_not_on_their_own_idea(world: World) -> None:
    idea = world.noted()
    for note in ("good", "very good"):
        talk.join(world.ctx("Mei Tanaka"), idea, None, note)
    assert [(one.name, one.note) for one in look(world, idea).voices] == [("Mei Tanaka", "very good")]
    with pytest.raises(Refused):
        talk.join(world.ctx("Ada Pell"), idea, None, "")
    with pytest.raises(InputFaults, match=r"volume\.rhythm"):
        talk.join(world.ctx("Mei Tanaka"), idea, {"amount": "3", "rhythm": "moon"}, "")


def test_who_follows_hears_each_move_and_who_stops_does_not(world: World) -> None:
    idea = world.noted()
    talk.follow(world.ctx("Ruth Abernathy"), idea, True)
    review.screen(world.ctx("Tom Okafor"), idea, None)
    assert [text for text in told(world, "Ruth Abernathy") if "screened" in text]
    talk.follow(world.ctx("Ruth Abernathy"), idea, False)
    count = len(told(world, "Ruth Abernathy"))
    moves.park(world.ctx("Tom Okafor"), idea, (NOW + timedelta(days=9)).date(), "waits")
    assert len(told(world, "Ruth Abernathy")) == count
    assert loops.effects(world.program()) == 0


# ---- finding -----------------------------------------------------------------------------------------


def numbers(world: World, later: timedelta = timedelta(), **wanted: Any) -> list[int]:
    found = page.page_of_ideas(world.ctx("Tom Okafor", later), page.Wanted(**wanted))
    return [row.id for row in found.rows]


def test_the_list_is_narrowed_by_what_one_looks_for(world: World) -> None:
    big = world.noted()
    small = world.noted(OTHER, volume={"amount": "1", "rhythm": "month"})
    far = world.noted("Tanker log to ledger", division=world.divisions["Customers & Metering"], owner=None)
    review.judge_answer(world.ctx("Tom Okafor"), small, "what", False, "Which?")
    later = timedelta(days=30)
    assert numbers(world, division=world.divisions["Networks"]) == [small, big]
    assert numbers(world, owner=world.actors["Corin Dahl"].person_id) == [small, big]
    assert numbers(world, reach_from=100) == [far, big]
    assert numbers(world, asked=True) == [small]
    assert numbers(world, late=True) == []
    assert numbers(world, later, late=True) == [far, big]
    corin = world.actors["Corin Dahl"].person_id
    assert corin is not None
    moves.take_route(world.ctx("Tom Okafor"), far, "training", "Teach it", corin, (NOW + later).date())
    assert numbers(world, route="training") == [far]
    assert numbers(world, stage="noted", text="letters", division=world.divisions["Networks"]) == [small]


def test_what_is_filtered_is_exported_and_nothing_else(world: World) -> None:
    world.noted()
    world.noted("=cmd|calc", what="Not a formula.")
    drafts.start(world.ctx("Ada Pell"), "draft")
    lines = (
        exports.as_csv(world.ctx("Tom Okafor"), page.Wanted(stage="noted")).decode("utf-8-sig").splitlines()
    )
    assert lines[0].startswith("number,title,description,stage")
    assert len(lines) == 3
    assert "'=cmd|calc" in lines[1]
    stranger = exports.as_csv(world.stranger("Bela Kiss"), page.Wanted()).decode("utf-8-sig").splitlines()
    assert len(stranger) == 1


def test_a_list_that_is_cut_says_so(world: World, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(exports, "MOST_EXPORTED", 1)
    monkeypatch.setattr(exports.lists, "MOST_ROWS", 1)
    for title in ("Valve list", "Meter note", "Tanker log"):
        world.noted(title)
    lines = exports.as_csv(world.ctx("Tom Okafor"), page.Wanted()).decode("utf-8-sig").splitlines()
    assert len(lines) == 3
    assert "More than 1 ideas: narrow the list" in lines[2]


def test_my_ideas_stand_by_what_they_need(world: World) -> None:
    noted, asked, parked = world.noted(), world.noted(OTHER), world.noted("Tanker log to ledger")
    draft = drafts.start(world.ctx("Ada Pell"), "draft")
    tom = world.ctx("Tom Okafor")
    review.judge_answer(tom, asked, "what", False, "Which?")
    moves.park(tom, parked, (NOW + timedelta(days=9)).date(), "waits")
    found = {row.id: (row.group, row.words) for row in page.mine(world.ctx("Ada Pell"))}
    assert {number: group for number, (group, _) in found.items()} == {
        noted: "moving",
        asked: "needs you",
        parked: "resting",
        draft: "needs you",
    }
    assert found[parked][1] == "It comes back by itself on 19 Mar 2026"


# ---- where to begin ----------------------------------------------------------------------------------


def test_a_draft_begins_with_typical_work_and_keeps_what_is_typed_since(world: World) -> None:
    ada = world.ctx("Ada Pell")
    first = candidates.listed(ada, "field", "paper").rows[0]
    draft = candidates.begin(ada, first.key, "one")
    assert look(world, draft, "Ada Pell").title == first.title
    drafts.answer(ada, draft, "title", "Our crews' sheets", None)
    assert candidates.begin(ada, first.key, "one") == draft
    assert look(world, draft, "Ada Pell").title == "Our crews' sheets"
    with pytest.raises(NotFound):
        candidates.begin(ada, "field-99", "two")
    with pytest.raises(InputFaults, match="kind"):
        candidates.listed(ada, "magic", None)


def test_an_idea_whose_place_nobody_knows_is_handed_in_and_found(world: World) -> None:
    idea = world.noted(division=None)
    assert look(world, idea).division is None
    assert numbers(world) == [idea]
    assert numbers(world, division=world.divisions["Networks"]) == []


# ---- out of service ----------------------------------------------------------------------------------


def test_an_idea_in_service_is_taken_out_of_it_and_costs_nothing_from_then_on(world: World) -> None:
    _, idea, _ = world.live()
    lead = world.ctx("Ines Varga", timedelta(days=10))
    assert look(world, idea, "Ines Varga").moves.retire
    with pytest.raises(InputFaults, match="say why it ends"):
        moves.retire(lead, idea, " ")
    moves.retire(lead, idea, "the ledger does it itself now")
    seen = look(world, idea, "Ines Varga")
    assert (seen.stage, seen.moves.retire) == ("retired", False)
    with pytest.raises(Refused, match="is retired, not in service"):
        moves.retire(lead, idea, "again")
    later = world.program(timedelta(days=100))
    assert tally.month_ends(later) > 0
    rows = world.rows(
        "SELECT month, line, money FROM tally_entry WHERE idea_id = %(i)s AND kind = 'month end'", i=idea
    )
    support = {row["month"]: row["money"] for row in rows if row["line"] == "support"}
    # In service from 10 to 20 March: eleven days, and nothing afterwards.
    build = next(row["money"] for row in rows if row["line"] == "build")
    assert support == {"2026-03": (build * Decimal("0.1") * 11 / 365).quantize(Decimal("0.000001"))}
    assert tally.verify(later) == []


def test_an_idea_is_taken_out_of_service_by_those_who_decide_about_cases(world: World) -> None:
    _, idea, _ = world.live()
    for name in ("Ada Pell", "Tom Okafor", "Jonas Lindqvist", "Ruth Abernathy"):
        with pytest.raises(Forbidden, match=r"case\.decide"):
            moves.retire(world.ctx(name), idea, "why not")
