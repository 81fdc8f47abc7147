from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta
from typing import Any

import pytest

from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, Refused
from tallyman.services import alerts
from tallyman.services.cases import business_case, fact_keeping, promises, ranges, sizing
from tallyman.services.ideas import drafts, owners, page, review
from tallyman.services.portfolio import ranking
from tallyman.services.today import desk
from tests.conftest import NOW
from tests.world import NUMBERS, World


def stage(world: World, idea: int) -> str:
    return str(world.row("SELECT stage FROM idea WHERE id = %(i)s", i=idea)["stage"])


def told(world: World, name: str) -> list[str]:
    world.settle()
    return [row.text for row in alerts.notifications(world.ctx(name))]


def test_beginning_twice_with_one_key_gives_one_draft(world: World) -> None:
    ctx = world.ctx("Ada Pell")
    assert drafts.start(ctx, "a") == drafts.start(ctx, "a")


def test_an_untouched_draft_is_used_again(world: World) -> None:
    ctx = world.ctx("Ada Pell")
    first = drafts.start(ctx, "a")
    assert drafts.start(ctx, "b") == first
    drafts.answer(ctx, first, "title", "Tanker log", None)
    assert drafts.start(ctx, "c") != first


def test_handing_in_names_every_needed_answer(world: World) -> None:
    idea = world.draft(title="Tanker log", what=None, division=None)
    with pytest.raises(InputFaults) as refused:
        drafts.hand_in(world.ctx("Ada Pell"), idea)
    assert [one.field for one in refused.value.faults] == ["what"]
    assert stage(world, idea) == "draft"


def test_handing_in_tells_reviewers_and_owner_and_sets_the_due_day(world: World) -> None:
    idea = world.noted()
    found = page.one(world.ctx("Ada Pell"), idea)
    assert found.next.due == date(2026, 3, 17)
    assert any("handed in" in text for text in told(world, "Tom Okafor"))
    assert any("work owner" in text for text in told(world, "Corin Dahl"))


def test_first_look_is_kept_for_ranking_and_narrows_with_evidence(world: World) -> None:
    idea = world.noted()
    before = world.row("SELECT hours_low, hours_high FROM idea WHERE id = %(i)s", i=idea)
    drafts.attach(world.ctx("Ada Pell"), idea, "steps.md", "how-to", b"1. open the list")
    owners.confirm(world.ctx("Corin Dahl"), idea)
    after = world.row("SELECT hours_low, hours_high FROM idea WHERE id = %(i)s", i=idea)
    assert after["hours_low"] > before["hours_low"]
    assert after["hours_high"] < before["hours_high"]


def test_drafts_are_seen_by_nobody_else(world: World) -> None:
    idea = world.draft()
    with pytest.raises(NotFound):
        page.one(world.ctx("Ines Varga"), idea)
    found = page.page_of_ideas(world.ctx("Ines Varga"), page.Wanted(), sort="newest", after=None, limit=10)
    assert found.rows == []


def test_a_proposer_sees_only_own_ideas(world: World) -> None:
    idea = world.noted()
    ctx = world.ctx("Ada Pell")
    listed = page.page_of_ideas(ctx, page.Wanted(), sort="newest", after=None, limit=10)
    assert [row.id for row in listed.rows] == [idea]
    assert listed.stages == []
    other = drafts.start(world.ctx("Tom Okafor"), "other")
    with pytest.raises(NotFound):
        page.one(ctx, other)


def test_text_search_takes_percent_signs_as_they_are(world: World) -> None:
    world.noted("Hydrant letters")

    def search(text: str) -> int:
        found = page.page_of_ideas(
            world.ctx("Tom Okafor"), page.Wanted(text=text), sort="newest", after=None, limit=10
        )
        return len(found.rows)

    assert search("hydrant") == 1
    assert search("%") == 0
    assert search("_") == 0


def test_a_wrong_file_is_refused_and_the_answers_stay(world: World) -> None:
    idea = world.draft()
    before = world.rows("SELECT question, value_json FROM idea_answer ORDER BY question")
    with pytest.raises(InputFaults, match="cannot be attached"):
        drafts.attach(world.ctx("Ada Pell"), idea, "x.exe", "how-to", b"MZ")
    assert world.rows("SELECT question, value_json FROM idea_answer ORDER BY question") == before


def test_screening_waits_for_close_matches_and_sent_back_answers(world: World) -> None:
    first = world.screened("Leak allowance claims")
    second = world.noted("Leak allowance claims by mail")
    tom = world.ctx("Tom Okafor")
    with pytest.raises(Refused, match="cannot be screened"):
        review.screen(tom, second, None)
    review.settle(tom, second, first, "other")
    review.judge_answer(tom, second, "minutes", False, "Does that count the phone calls?")
    with pytest.raises(Refused) as refused:
        review.screen(tom, second, None)
    assert "minutes" in refused.value.mend
    drafts.answer(world.ctx("Ada Pell"), second, "minutes", "14", None)
    review.screen(tom, second, None)
    assert stage(world, second) == "screened"


def test_the_same_work_is_not_screened_twice(world: World) -> None:
    first = world.screened("Leak allowance claims")
    second = world.noted("Leak allowance claims by mail")
    tom = world.ctx("Tom Okafor")
    review.settle(tom, second, first, "same")
    with pytest.raises(Refused) as refused:
        review.screen(tom, second, None)
    assert "same work" in refused.value.mend


def test_declining_needs_a_reason_and_words_and_tells_the_proposer(world: World) -> None:
    idea = world.noted()
    tom = world.ctx("Tom Okafor")
    with pytest.raises(InputFaults) as refused:
        review.decline(tom, idea, "", "")
    assert {one.field for one in refused.value.faults} == {"reason", "words"}
    review.decline(tom, idea, "too little volume", "Twelve a month only.")
    assert stage(world, idea) == "declined"
    assert any("Twelve a month only" in text for text in told(world, "Ada Pell"))
    mail = world.row("SELECT body FROM mail WHERE to_address LIKE 'ada%%' ORDER BY id DESC LIMIT 1")
    assert "too little volume" in mail["body"]


def test_only_reviewers_screen(world: World) -> None:
    idea = world.noted()
    with pytest.raises(Forbidden) as refused:
        review.screen(world.ctx("Mei Tanaka"), idea, None)
    assert refused.value.more["permission"] == "idea.decide"


def test_an_idea_is_screened_once(world: World) -> None:
    idea = world.screened()
    with pytest.raises(Refused, match="not waiting"):
        review.screen(world.ctx("Tom Okafor"), idea, None)


def test_sizing_starts_from_the_answers_with_their_source(world: World) -> None:
    idea = world.screened()
    fields = {row.field: row for row in ranges.view(world.ctx("Mei Tanaka"), idea).fields}
    assert fields["volume"].value == "100"
    assert fields["judged_share"].value == "0.2"
    assert fields["volume"].source == "interview, Ada Pell"


def test_the_case_names_what_is_missing_and_where_to_give_it(world: World) -> None:
    idea = world.screened()
    found = business_case.view(world.ctx("Mei Tanaka"), idea)
    lacking = {row.field: row.sheet for row in found.missing}
    assert lacking["robot_minutes"] == "case"
    assert lacking["steps"] == "sizing"
    assert found.figures.npv_3y is None


def test_a_whole_case_has_figures_workings_and_a_plan(world: World) -> None:
    idea = world.offered()
    found = business_case.view(world.ctx("Mei Tanaka"), idea)
    assert found.missing == []
    assert found.figures.npv_3y is not None
    assert found.working["saving_per_year"].inputs[0].source == "interview, Ada Pell"
    assert found.plan.end == found.go_live
    world_rank = world.row("SELECT worth, effort_days FROM idea WHERE id = %(i)s", i=idea)
    assert f"{world_rank['worth']:.2f}" == found.figures.npv_3y


def test_facts_are_checked_all_at_once_and_nothing_is_kept(world: World) -> None:
    idea = world.screened()
    given: dict[str, Any] = {
        "steps": "many",
        "unsuitable_share": "5",
        "rhythm": "often",
        "robot_minutes": "2",
    }
    with pytest.raises(InputFaults) as refused:
        fact_keeping.keep(world.ctx("Mei Tanaka"), idea, given, {}, "")
    assert {one.field for one in refused.value.faults} == {"steps", "unsuitable_share", "rhythm"}
    assert world.rows("SELECT field FROM fact") == []


def test_two_who_change_one_fact_are_told_and_both_values_shown(world: World) -> None:
    idea = world.screened()
    mei = world.ctx("Mei Tanaka")
    fact_keeping.keep(mei, idea, {"steps": "20"}, {}, "")
    fact_keeping.keep(mei, idea, {"steps": "24"}, {"steps": 1}, "")
    with pytest.raises(Conflict) as refused:
        fact_keeping.keep(mei, idea, {"steps": "30"}, {"steps": 1}, "")
    assert (refused.value.more["theirs"], refused.value.more["yours"]) == ("24", "30")
    fact_keeping.keep(mei, idea, {"steps": "30"}, {"steps": refused.value.more["version"]}, "")


def test_who_sized_does_not_agree(world: World) -> None:
    idea = world.offered()
    with pytest.raises(Refused, match="somebody else"):
        sizing.settle(world.ctx("Mei Tanaka"), idea, True, "")
    sizing.settle(world.ctx("Ines Varga"), idea, True, "")
    assert stage(world, idea) == "sized"


def test_a_sizing_is_offered_only_when_whole(world: World) -> None:
    idea = world.screened()
    with pytest.raises(InputFaults) as refused:
        sizing.offer(world.ctx("Mei Tanaka"), idea)
    assert "steps" in {one.field for one in refused.value.faults}


def test_sending_a_sizing_back_needs_a_reason_and_tells_who_sized(world: World) -> None:
    idea = world.offered()
    with pytest.raises(InputFaults, match="say what"):
        sizing.settle(world.ctx("Ines Varga"), idea, False, " ")
    sizing.settle(world.ctx("Ines Varga"), idea, False, "Twenty steps seem few")
    assert any("Twenty steps seem few" in text for text in told(world, "Mei Tanaka"))


def test_changing_an_agreed_sizing_opens_it_again(world: World) -> None:
    idea = world.offered()
    sizing.settle(world.ctx("Ines Varga"), idea, True, "")
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, {"robot_minutes": "4"}, {"robot_minutes": 1}, "")
    assert stage(world, idea) == "sized"
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, {"steps": "25"}, {"steps": 1}, "")
    assert stage(world, idea) == "screened"


def test_backing_freezes_the_promise_whatever_changes_later(world: World) -> None:
    idea = world.backed()
    before = business_case.view(world.ctx("Ines Varga"), idea).promise
    world.db.transact(lambda tx: tx.execute("UPDATE rate SET value = 99 WHERE kind = 'hour_cost'"))
    after = business_case.view(world.ctx("Ines Varga"), idea)
    assert after.promise == before
    assert after.figures.saving_per_year != before.figures.saving_per_year


def test_only_an_agreed_sizing_is_backed_and_only_by_the_lead(world: World) -> None:
    idea = world.offered()
    with pytest.raises(Refused, match="sizing"):
        promises.back(world.ctx("Ines Varga"), idea, "")
    with pytest.raises(Forbidden):
        promises.back(world.ctx("Mei Tanaka"), idea, "")


def test_the_portfolio_ranks_by_worth_for_each_day_and_says_what_lacks(world: World) -> None:
    poor = world.offered("Wayleave renewals")
    fact_keeping.keep(world.ctx("Mei Tanaka"), poor, {"steps": "400"}, {"steps": 1}, "")
    good = world.offered("Tanker log")
    unsized = world.screened("Bore-hole returns")
    rows = ranking.view(world.ctx("Ines Varga")).rows
    assert [row.id for row in rows] == [good, poor, unsized]
    assert rows[2].working.missing == ("worth", "build effort")


def test_taking_up_names_the_builder_and_happens_once(world: World) -> None:
    idea = world.building()
    found = page.one(world.ctx("Ines Varga"), idea)
    assert (found.stage, found.building, found.builder) == (
        "building",
        "taken up",
        "Jonas Lindqvist",
    )
    with pytest.raises(Refused):
        business_case.take_up(world.ctx("Jonas Lindqvist"), idea)


def test_every_stage_is_recorded_with_who_and_when(world: World) -> None:
    idea = world.building()
    thread = {row.stage: row for row in page.one(world.ctx("Ines Varga"), idea).thread}
    assert thread["noted"].by == "Ada Pell"
    assert thread["screened"].by == "Tom Okafor"
    assert thread["backed"].reason == "worth it"
    assert thread["in service"].at is None


def test_overdue_moves_are_counted_in_days(world: World) -> None:
    idea = world.noted()
    found = page.one(world.ctx("Tom Okafor", timedelta(days=10)), idea)
    assert found.next.days_late == 3
    assert NOW.date() == date(2026, 3, 10)


def test_a_title_that_reads_like_a_time_does_not_break_the_next_page(world: World) -> None:
    titles = ["2026-01-05T07:00 rota", "2026-13-99Tank", "2026-T", "Abc"]
    for title in titles:
        world.noted(title)
    ctx = world.ctx("Ines Varga")
    found: list[str] = []
    after = None
    while True:
        one = page.page_of_ideas(ctx, page.Wanted(), sort="title", after=after, limit=1)
        found += [row.title for row in one.rows]
        after = one.next
        if after is None:
            break
    assert found == titles


def test_days_late_are_days_of_the_company_wherever_the_server_counts_its_own(world: World) -> None:
    idea = world.noted()
    world.db.transact(lambda tx: tx.execute("UPDATE company SET zone = 'Pacific/Auckland'"))
    due = world.row("SELECT due_on FROM idea")["due_on"]
    # Noon UTC of the day it is due is the day after in Auckland.
    noon = datetime.combine(due, time(12), UTC)
    ctx = replace(world.ctx("Ines Varga"), now=noon)
    assert page.one(ctx, idea).next.days_late == 1
    late = page.page_of_ideas(ctx, page.Wanted(late=True)).rows
    assert [(row.id, row.days_late) for row in late] == [(idea, 1)]
    assert next(row.late for row in desk.view(ctx).waits if row.kind == "review") == 1
    before = replace(ctx, now=noon - timedelta(hours=2))
    assert page.one(before, idea).next.days_late == 0


def test_more_that_waits_than_the_start_page_shows_is_counted(world: World) -> None:
    world.noted()
    world.db.transact(
        lambda tx: tx.execute(
            "INSERT INTO idea (title, what, stage, proposer_id, area_id, stage_since, due_on, made_at, changed_at) "
            f"SELECT CONCAT('Copy ', s.seq), what, stage, proposer_id, area_id, stage_since, due_on, made_at, changed_at "
            f"FROM idea JOIN {NUMBERS} s WHERE s.seq <= 60"
        )
    )
    waits = [row for row in desk.view(world.ctx("Tom Okafor")).waits if row.kind == "review"]
    assert (len(waits), waits[-1].title, waits[-1].link) == (51, "11 more", "/ideas?stage=noted")
