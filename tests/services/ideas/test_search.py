"""Finding ideas: in all that is written, by every filter, as views; one act on many; the map; taken out."""

from __future__ import annotations

import io
from datetime import timedelta
from typing import Any

import openpyxl
import pytest

from tallyman.errors import Forbidden, InputFaults, NotFound
from tallyman.services.cases import fact_keeping
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.house import views
from tallyman.services.house.answers import ViewOut
from tallyman.services.ideas import bulk, drafts, exports, file_views, moves, page, review, search, talk
from tests.services.pdf import pdf_with
from tests.world import World, picture


def found(world: World, name: str = "Tom Okafor", **wanted: Any) -> list[str]:
    rows = page.page_of_ideas(world.ctx(name), page.Wanted(**wanted)).rows
    return sorted(row.title for row in rows)


def look_into(world: World) -> None:
    file_views.look_into(Ctx(world.db, world.now, PROGRAM))


def attach(world: World, idea: int, name: str, data: bytes, **more: Any) -> int:
    return drafts.attach(world.ctx("Ada Pell"), idea, name, "how-to", data, **more)


# ---- words -------------------------------------------------------------------------------------------


def test_words_are_found_in_names_answers_remarks_talk_and_files(world: World) -> None:
    idea = world.noted("Valve list")
    world.noted("Meter note")
    ada = world.ctx("Ada Pell")
    drafts.answer(ada, idea, "minutes", "9", "longer after frost")
    talk.say(ada, idea, "The depot at the weir has a stamp", [])
    attach(
        world,
        idea,
        "steps.md",
        b"first fetch the lantern",
        title="The way of the sexton",
        remark="found in a drawer",
    )
    attach(world, idea, "page.pdf", pdf_with("Culvert ledger of the year"))
    for words in ("valve", "frost", "stamp", "sexton", "drawer", "steps"):
        assert found(world, text=words) == ["Valve list"], words
    assert found(world, text="lantern") == []
    look_into(world)
    assert found(world, text="lantern") == ["Valve list"]
    assert found(world, text="culvert led") == ["Valve list"]
    assert found(world, text="frost lantern") == ["Valve list"]
    assert found(world, text="frost nowhere") == []
    assert found(world, text=f"I-{idea}") == ["Valve list"]
    assert found(world, text="alve li") == ["Valve list"]


@pytest.mark.parametrize("text", ['+-"', "the", "(((", "a*b*", "@1", "%", "  ", "~~ >< ~"])
def test_odd_signs_in_words_are_no_fault(world: World, text: str) -> None:
    world.noted("Valve list")
    assert found(world, text=text) in ([], ["Valve list"])


def test_what_is_taken_back_is_found_no_more(world: World) -> None:
    idea = world.noted("Valve list")
    ada = world.ctx("Ada Pell")
    said = talk.say(ada, idea, "Ask the harbourmaster", [])
    file = attach(world, idea, "steps.md", b"lantern")
    look_into(world)
    talk.take_back(ada, idea, said)
    drafts.detach(ada, idea, file)
    assert found(world, text="harbourmaster") == []
    assert found(world, text="lantern") == []


def test_ideas_of_the_release_before_are_gathered_by_the_engine(world: World) -> None:
    world.noted("Valve list")
    world.db.transact(lambda tx: tx.execute("DELETE FROM idea_text"))
    assert found(world, text="somebody") == []
    look_into(world)
    assert world.row("SELECT COUNT(*) AS n FROM idea_text")["n"] == 1
    assert search.gather_missing(world.program()) == 0


# ---- looking into files ------------------------------------------------------------------------------


def test_a_picture_is_made_anew_and_says_nothing_of_its_maker(world: World) -> None:
    idea = world.noted("Valve list")
    file = attach(world, idea, "photo.png", picture(width=1600) + b"secret trailer")
    tom = world.ctx("Tom Okafor")
    assert page.one(tom, idea).files[0].view == "making"
    look_into(world)
    row = page.one(tom, idea).files[0]
    assert (row.view, bool(row.pictured)) == ("ready", True)
    made = file_views.picture(tom, idea, file)
    assert made.startswith(b"\x89PNG") and b"secret trailer" not in made
    with pytest.raises(NotFound):
        file_views.picture(world.stranger("Bela Kiss"), idea, file)


def test_a_pdf_shows_its_first_page_and_its_text(world: World) -> None:
    idea = world.noted("Valve list")
    file = attach(world, idea, "a.pdf", pdf_with("Culvert ledger"))
    look_into(world)
    tom = world.ctx("Tom Okafor")
    assert file_views.picture(tom, idea, file).startswith(b"\x89PNG")
    assert "Culvert ledger" in file_views.beginning(tom, idea, file).text


def test_a_broken_file_is_said_to_be_so_and_stays_to_be_downloaded(world: World) -> None:
    idea = world.noted("Valve list")
    file = attach(world, idea, "a.pdf", b"%PDF-1.7 nothing more")
    look_into(world)
    assert page.one(world.ctx("Tom Okafor"), idea).files[0].view == "failed"
    assert drafts.download(world.ctx("Tom Okafor"), idea, file)[1].startswith(b"%PDF")


def test_office_files_give_their_text(world: World) -> None:
    idea = world.noted("Valve list")
    book = openpyxl.Workbook()
    book.active["B2"] = "Sluice keeper"
    out = io.BytesIO()
    book.save(out)
    attach(world, idea, "a.xlsx", out.getvalue())
    look_into(world)
    assert found(world, text="sluice keeper") == ["Valve list"]


def test_a_file_is_described_anew(world: World) -> None:
    idea = world.noted("Valve list")
    file = attach(world, idea, "a.md", b"x")
    drafts.describe(world.ctx("Ada Pell"), idea, file, "drawing", "The way", "as of spring")
    row = page.one(world.ctx("Tom Okafor"), idea).files[0]
    assert (row.kind, row.title, row.remark) == ("drawing", "The way", "as of spring")
    with pytest.raises(InputFaults) as caught:
        drafts.describe(world.ctx("Ada Pell"), idea, file, "poem", "x" * 201, "")
    assert {fault.field for fault in caught.value.faults} == {"kind", "title"}
    with pytest.raises(Forbidden):
        drafts.describe(world.ctx("Ruth Abernathy"), idea, file, "drawing", "", "")


# ---- filters, views ----------------------------------------------------------------------------------


def test_filters_narrow_together(world: World) -> None:
    first = world.screened("Valve list")
    world.noted("Meter note")
    mei = world.ctx("Mei Tanaka")
    fact_keeping.keep(
        mei, first, {"systems": [{"name": "Fettlebook", "access": "web"}], "steps": "8"}, {}, "talk"
    )
    assert found(world, system="Fettlebook") == ["Valve list"]
    assert [(one.name, one.ideas) for one in page.systems(mei)] == [("Fettlebook", 1)]
    fact_keeping.keep(mei, first, {"systems": []}, {"systems": 1}, "talk")
    assert found(world, system="Fettlebook") == []
    low = world.row("SELECT hours_low FROM idea WHERE id = %(i)s", i=first)["hours_low"]
    assert found(world, reach_from=int(low), stage="screened") == ["Valve list"]
    assert found(world, reach_to=max(int(low) - 1, 0)) == []
    assert found(world, source="interview", stage="noted") == ["Meter note"]
    assert found(world, source="spreadsheet") == []
    assert found(world, older_than=3) == []
    later = page.page_of_ideas(world.ctx("Tom Okafor", timedelta(days=9)), page.Wanted(older_than=3)).rows
    assert len(later) == 2
    assert found(world, ids=(first,)) == ["Valve list"]


def test_a_view_is_saved_shared_changed_and_taken_away(world: World) -> None:
    tom, mei = world.ctx("Tom Okafor"), world.ctx("Mei Tanaka")
    number = views.add(tom, "ideas", "  Late   ones ", "?late=1&sort=due", False)
    assert views.listed(tom, "ideas") == [
        ViewOut(number, "Late ones", "late=1&sort=due", False, True, "Tom Okafor")
    ]
    assert views.listed(mei, "ideas") == []
    with pytest.raises(InputFaults, match="of this name"):
        views.add(tom, "ideas", "Late ones", "", False)
    views.change(tom, number, "ideas", "Late", "late=1", True)
    assert [(row.name, row.mine) for row in views.listed(mei, "ideas")] == [("Late", False)]
    with pytest.raises(NotFound):
        views.change(mei, number, "ideas", "Mine now", "", False)
    with pytest.raises(NotFound):
        views.drop(mei, number)
    views.drop(tom, number)
    assert views.listed(tom, "ideas") == []
    with pytest.raises(InputFaults) as caught:
        views.add(tom, "runs", "", "x=" + "y" * 1100, False)
    assert {fault.field for fault in caught.value.faults} == {"list", "name", "query"}


# ---- many at once ------------------------------------------------------------------------------------


def test_one_act_on_many_names_what_could_not_be_done(world: World) -> None:
    noted, other = world.noted("Valve list"), world.noted("Meter note")
    withdrawn = world.noted("Third one")
    moves.withdraw(world.ctx("Ada Pell"), withdrawn, "no more")
    tom = world.ctx("Tom Okafor")
    act = bulk.Act("decline", "Too few of them", "too little volume")
    done = bulk.do(tom, [noted, other, withdrawn, 999_999], act)
    assert done.done == sorted([noted, other])
    assert [row.id for row in done.refused] == [withdrawn, 999_999]
    assert "withdrawn" in done.refused[0].why
    assert found(world, stage="declined") == ["Meter note", "Valve list"]
    back = bulk.do(tom, [noted], bulk.Act("reopen", "looked at again"))
    assert back.done == [noted]


def test_what_is_wrong_with_the_act_itself_is_said_once_and_nothing_is_done(world: World) -> None:
    noted = world.noted("Valve list")
    tom = world.ctx("Tom Okafor")
    with pytest.raises(InputFaults, match="reason"):
        bulk.do(tom, [noted], bulk.Act("decline", "x", "no such reason"))
    with pytest.raises(InputFaults, match="until"):
        bulk.do(tom, [noted], bulk.Act("park", "x"))
    with pytest.raises(InputFaults, match="allowed"):
        bulk.do(tom, [noted], bulk.Act("retire"))
    with pytest.raises(InputFaults, match="1 to 200"):
        bulk.do(tom, list(range(1, 300)), bulk.Act("follow"))
    assert found(world, stage="noted") == ["Valve list"]


def test_following_many(world: World) -> None:
    ideas = [world.noted("Valve list"), world.noted("Meter note")]
    mei = world.ctx("Mei Tanaka")
    bulk.do(mei, ideas, bulk.Act("follow"))
    assert all(page.one(mei, idea).follows for idea in ideas)


# ---- the map, taken out ------------------------------------------------------------------------------


def test_the_map_says_where_ideas_stand_and_where_they_are_stuck(world: World) -> None:
    world.noted("Valve list")
    world.screened("Meter note")
    seen = exports.stage_map(world.ctx("Tom Okafor", timedelta(days=20)))
    rows = {row.stage: row for row in seen.stages}
    assert (rows["noted"].ideas, rows["noted"].late, rows["noted"].limit) == (1, 1, 5)
    assert rows["noted"].oldest_age == 20
    assert (rows["noted"].came, rows["noted"].left, rows["noted"].median_stay) == (2, 1, 0)
    assert rows["screened"].late == 0
    assert "stuck at noted: 1 idea is past the limit of 5 working days" in seen.words
    now = exports.stage_map(world.ctx("Tom Okafor"))
    assert now.words == "Nothing is past its limit."
    with pytest.raises(Forbidden):
        exports.stage_map(world.ctx("Ada Pell"))


def test_the_map_counts_only_what_may_be_seen_and_stands_still_while_asked_back(world: World) -> None:
    idea = world.noted("Valve list")
    review.judge_answer(world.ctx("Tom Okafor"), idea, "minutes", False, "With the walk?")
    rows = exports.stage_map(world.ctx("Tom Okafor", timedelta(days=20))).stages
    noted = next(row for row in rows if row.stage == "noted")
    assert (noted.late, noted.asked) == (0, 1)


def test_what_is_taken_out_as_a_spreadsheet_holds_no_formula(world: World) -> None:
    idea = world.noted("=SUM(A1:A9)")
    drafts.answer(world.ctx("Ada Pell"), idea, "what", "@cmd", None)
    data = exports.as_xlsx(world.ctx("Tom Okafor"), page.Wanted(stage="noted"))
    sheet = openpyxl.load_workbook(io.BytesIO(data)).worksheets[0]
    head = [cell.value for cell in sheet[1]]
    row = dict(zip(head, sheet[2], strict=True))
    assert (row["title"].value, row["title"].data_type) == ("=SUM(A1:A9)", "s")
    assert (row["description"].value, row["description"].data_type) == ("@cmd", "s")
    assert row["number"].value == idea
    assert isinstance(row["hours in reach from"].value, (int, float))
    assert head == list(exports.COLUMNS.values())
