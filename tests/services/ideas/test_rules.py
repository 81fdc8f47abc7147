"""What the lead sets for ideas: interviews, factors with preview and reckoning anew, stages, thanks."""

from __future__ import annotations

from copy import deepcopy
from datetime import timedelta
from typing import Any

import pytest

from tallyman.core.ideas.factors import STANDARD as FACTORS
from tallyman.core.ideas.factors import as_content as factors_content
from tallyman.core.ideas.interviews import STANDARD, as_content
from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, Refused
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.ideas import drafts, factors, helpers, moves, page, review, rules_set, talk, thanks
from tallyman.services.people import actor_of
from tallyman.services.upkeep import errands
from tests.world import World


def anew(world: World) -> None:
    ctx = Ctx(world.db, world.now, PROGRAM)
    while errands.carry_on(ctx, "engine", {factors.ERRAND: factors.carry_on}, actor_of):
        pass


def short(**more: Any) -> dict[str, Any]:
    content = deepcopy(as_content(STANDARD["short"]))
    own = {
        "key": "own-form",
        "text": "Which form?",
        "kind": "choice",
        "choices": ["old", "new"],
        "needed": True,
    }
    content["steps"][0]["questions"].append(own)
    return {**content, **more}


# ---- interviews --------------------------------------------------------------------------------------


def test_a_draft_is_asked_by_the_newest_version_and_own_questions_are_kept(world: World) -> None:
    lead, ada = world.ctx("Ines Varga"), world.ctx("Ada Pell")
    number = drafts.start(ada, "k", "short")
    assert "own-form" not in {row.key for row in page.one(ada, number).answers}
    assert rules_set.keep_interview(lead, "short", short(), "the form matters", 0) == 1
    asked = [row.key for row in page.one(ada, number).answers]
    assert asked == ["title", "what", "own-form", "volume", "minutes", "division"]
    for question, value in {"title": "Valve list", "what": "Typed over"}.items():
        drafts.answer(ada, number, question, value, None)
    with pytest.raises(InputFaults) as caught:
        drafts.hand_in(ada, number)
    assert [fault.field for fault in caught.value.faults] == ["own-form"]
    with pytest.raises(InputFaults, match="allowed: old, new"):
        drafts.answer(ada, number, "own-form", "blue", None)
    drafts.answer(ada, number, "own-form", "new", "since spring")
    drafts.hand_in(ada, number)
    # Taken out again, the answer stays with its idea, and can still be asked about.
    rules_set.keep_interview(lead, "short", as_content(STANDARD["short"]), "asked enough", 1)
    rows = {row.key: row for row in page.one(world.ctx("Tom Okafor"), number).answers}
    assert (rows["own-form"].value, rows["own-form"].step) == ("new", "Asked no more")
    assert rows["judge"].step == "Not asked in its interview"
    review.judge_answer(world.ctx("Tom Okafor"), number, "judge", False, "How many?")
    drafts.answer(ada, number, "judge", "2", None)
    assert page.page_of_ideas(world.ctx("Tom Okafor"), page.Wanted(text="since spring")).rows


def test_interviews_are_offered_begun_and_changed_for_a_draft(world: World) -> None:
    lead, ada = world.ctx("Ines Varga"), world.ctx("Ada Pell")
    rules_set.keep_interview(lead, "desk", short(title="For the desk", offered=False), "for the desk", 0)
    assert [one.kind for one in rules_set.offered(ada)] == ["full", "short", "expert"]
    with pytest.raises(InputFaults, match="allowed: full, short, expert"):
        drafts.start(ada, "k", "desk")
    rules_set.keep_interview(lead, "desk", short(title="For the desk"), "now offered", 1)
    number = drafts.start(ada, "k", "full")
    drafts.answer(ada, number, "judge", "3", None)
    drafts.choose_interview(ada, number, "desk")
    rows = {row.key: row.step for row in page.one(ada, number).answers}
    assert rows["judge"] == "Answered before"
    with pytest.raises(InputFaults, match="one interview to begin with"):
        for kind in ("full", "short", "expert", "desk"):
            rules_set.keep_interview(lead, kind, short(offered=False), "away", 2 if kind == "desk" else 0)


def test_a_version_is_never_lost_between_two_editors(world: World) -> None:
    lead = world.ctx("Ines Varga")
    rules_set.keep_interview(lead, "short", short(), "one", 0)
    with pytest.raises(Conflict) as caught:
        rules_set.keep_interview(lead, "short", short(title="Mine"), "two", 0)
    assert caught.value.more["version"] == 1
    with pytest.raises(InputFaults, match="what changes and why"):
        rules_set.keep_interview(lead, "short", short(), "  ", 1)
    with pytest.raises(InputFaults, match="small letters"):
        rules_set.keep_interview(lead, "Desk 1", short(), "x", 0)
    shown = next(one for one in rules_set.listed(lead) if one.kind == "short")
    assert [(row.version, row.note, row.person) for row in shown.versions] == [(1, "one", "Ines Varga")]
    assert rules_set.version_of(lead, "interview:short", 1)["title"] == "The short one"
    with pytest.raises(NotFound):
        rules_set.version_of(lead, "interview:short", 9)
    with pytest.raises(Forbidden):
        rules_set.keep_interview(world.ctx("Tom Okafor"), "short", short(), "x", 1)


# ---- factors -----------------------------------------------------------------------------------------


def content(**readiness: str) -> dict[str, Any]:
    given = factors_content(FACTORS)
    given["readiness"] |= readiness
    return given


def two(world: World) -> tuple[int, int]:
    """One on screens, one on spreadsheets, the first with a little more in reach."""
    kinds = {"arrives": [{"kind": "screen", "part": "1"}], "minutes": "12"}
    first = world.noted("Valve list", **kinds)
    second = world.noted("Meter note", arrives=[{"kind": "spreadsheet", "part": "1"}], minutes="11")
    return first, second


def test_a_preview_says_who_would_move_and_changes_nothing(world: World) -> None:
    first, second = two(world)
    lead = world.ctx("Ines Varga")
    before = [row.id for row in page.page_of_ideas(lead, page.Wanted(), sort="reach").rows]
    assert before == [first, second]
    seen = factors.preview(lead, content(screen="0.5"))
    assert (seen.ideas, seen.moved, seen.differ) == (2, 2, 1)
    moves = {row.id: (row.place_now, row.place_then) for row in seen.rows}
    assert moves == {first: (1, 2), second: (2, 1)}
    assert [row.id for row in page.page_of_ideas(lead, page.Wanted(), sort="reach").rows] == before
    assert factors.preview(lead, content()).moved == 0


def test_old_first_looks_stay_until_they_are_reckoned_anew_on_purpose(world: World) -> None:
    first, second = two(world)
    lead = world.ctx("Ines Varga")
    was = page.one(lead, first).look.outcome
    factors.keep(lead, content(screen="0.5"), "screens break too often", 0)
    assert page.one(lead, first).look.outcome == was
    assert "factors 1" in page.one(lead, first).look.note
    assert factors.view(lead).by_others == 2
    # A new idea is reckoned by what is in force when it is handed in.
    third = world.noted("Third", arrives=[{"kind": "screen", "part": "1"}])
    assert "factors 2" in page.one(lead, third).look.note
    factors.begin_anew(lead)
    anew(world)
    assert factors.view(lead).by_others == 0
    assert page.one(lead, first).look.outcome != was
    order = [row.id for row in page.page_of_ideas(lead, page.Wanted(ids=(first, second)), sort="reach").rows]
    assert order == [second, first]
    trail = world.rows(
        "SELECT before_json FROM audit WHERE action = 'first look anew' AND object = %(o)s", o=f"idea:{first}"
    )
    assert len(trail) == 1
    with pytest.raises(Refused, match="by the factors in force"):
        factors.begin_anew(lead)


def test_an_answer_given_later_keeps_the_factors_of_its_idea(world: World) -> None:
    first, _ = two(world)
    factors.keep(world.ctx("Ines Varga"), content(screen="0.5"), "why not", 0)
    drafts.answer(world.ctx("Ada Pell"), first, "minutes", "13", None)
    assert "factors 1" in page.one(world.ctx("Tom Okafor"), first).look.note


# ---- stages ------------------------------------------------------------------------------------------


def test_a_stage_names_what_it_needs(world: World) -> None:
    lead, tom = world.ctx("Ines Varga"), world.ctx("Tom Okafor")
    given = {"noted": {"days": 2, "needs": ["minutes"]}, "screened": {"days": 4, "needs": ["knows", "files"]}}
    rules_set.keep_stages(lead, given, "sooner", 0)
    ada = world.ctx("Ada Pell")
    number = world.draft("Valve list", minutes=None)
    with pytest.raises(InputFaults) as caught:
        drafts.hand_in(ada, number)
    assert [fault.field for fault in caught.value.faults] == ["minutes"]
    drafts.answer(ada, number, "minutes", "9", None)
    drafts.hand_in(ada, number)
    due = page.one(tom, number).next.due
    assert due is not None and (due - world.now.date()).days <= 4
    with pytest.raises(Refused) as refused:
        review.screen(tom, number, None)
    assert "Who else knows it well?" in refused.value.mend
    drafts.answer(ada, number, "knows", world.actors["Corin Dahl"].person_id, None)
    drafts.attach(ada, number, "a.md", "how-to", b"x")
    review.screen(tom, number, None)
    assert page.one(tom, number).stage == "screened"
    with pytest.raises(InputFaults, match="did you mean 'minutes'"):
        rules_set.keep_stages(lead, {"noted": {"needs": ["minuts"]}}, "x", 1)


# ---- thanks ------------------------------------------------------------------------------------------


def notches(world: World, name: str) -> list[tuple[str, bool]]:
    return [(row.kind, row.first) for row in thanks.page(world.ctx(name)).mine]


def test_what_helped_is_thanked_for_once(world: World) -> None:
    idea = world.noted("Valve list")
    drafts.attach(world.ctx("Corin Dahl"), idea, "a.md", "how-to", b"x")
    tom = world.ctx("Tom Okafor")
    review.judge_answer(tom, idea, "minutes", False, "With the walk?")
    drafts.answer(world.ctx("Ada Pell", timedelta(days=1)), idea, "minutes", "9", None)
    review.screen(tom, idea, None)
    assert notches(world, "Ada Pell") == [("screened", True), ("answered", True)]
    assert notches(world, "Corin Dahl") == [("evidence", True)]
    other = world.noted("Meter note")
    review.settle(tom, other, idea, "other")
    review.screen(tom, other, None)
    assert notches(world, "Ada Pell")[0] == ("screened", False)
    world.settle(timedelta(days=2))
    told = world.rows("SELECT text FROM notification WHERE text LIKE 'A first notch%%'")
    assert len(told) == 3


def test_a_late_answer_is_no_notch(world: World) -> None:
    idea = world.noted("Valve list")
    review.judge_answer(world.ctx("Tom Okafor"), idea, "minutes", False, "With the walk?")
    drafts.answer(world.ctx("Ada Pell", timedelta(days=4)), idea, "minutes", "9", None)
    assert notches(world, "Ada Pell") == []


def test_who_helped_is_thanked_when_it_is_in_service(world: World) -> None:
    idea = world.noted("Valve list")
    tom = world.ctx("Tom Okafor")
    corin, jonas = world.actors["Corin Dahl"].person_id, world.actors["Jonas Lindqvist"].person_id
    assert corin is not None and jonas is not None
    helpers.add_helper(tom, idea, jonas, "shows it")
    talk.join(world.ctx("Ruth Abernathy"), idea, None, "")
    due = (world.now + timedelta(days=9)).date()
    moves.take_route(tom, idea, "training", "teach it", corin, due)
    moves.measure_done(world.ctx("Corin Dahl"), idea, "taught")
    assert notches(world, "Ada Pell") == [("in service", True)]
    assert notches(world, "Jonas Lindqvist") == [("in service", True)]
    assert notches(world, "Ruth Abernathy") == [("joined", True)]


def test_the_page_shows_a_month_by_person_and_leaves_out_who_hides(world: World) -> None:
    idea = world.noted("Valve list")
    review.screen(world.ctx("Tom Okafor"), idea, None)
    mei = world.ctx("Mei Tanaka")
    shown = thanks.page(mei, f"{world.now:%Y-%m}")
    assert [(one.name, one.notches[0].kind) for one in shown.people] == [("Ada Pell", "screened")]
    assert thanks.page(mei, "2020-01").people == []
    thanks.hide(world.ctx("Ada Pell"), True)
    assert thanks.page(mei).people == []
    assert thanks.page(world.ctx("Ada Pell")).mine
    thanks.hide(world.ctx("Ada Pell"), False)
    assert thanks.page(mei).people
    with pytest.raises(InputFaults, match="such as"):
        thanks.page(mei, "2026-13")


def test_the_lead_chooses_what_is_thanked_for(world: World) -> None:
    lead = world.ctx("Ines Varga")
    rules_set.keep_thanks(lead, ["in service"], "only what came to something", 0)
    review.screen(world.ctx("Tom Okafor"), world.noted("Valve list"), None)
    assert notches(world, "Ada Pell") == []
    assert [row.given for row in rules_set.thanks_given(lead).kinds] == [
        False,
        False,
        False,
        True,
        False,
    ]
    with pytest.raises(InputFaults, match="allowed"):
        rules_set.keep_thanks(lead, ["clapping"], "x", 1)
