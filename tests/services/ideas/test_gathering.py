"""Other ways in: entered by the team, registered, amendments, and lists from spreadsheets."""

from __future__ import annotations

import io
import zipfile
from dataclasses import replace
from datetime import timedelta
from typing import Any

import openpyxl
import pytest

from tallyman.api.ideas.entry import MatchIn
from tallyman.engine import wiring
from tallyman.errors import Conflict, Fault, Forbidden, InputFaults, NotFound, Refused
from tallyman.formats.xlsx_file import xlsx_file
from tallyman.services import access
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.house import areas
from tallyman.services.ideas import drafts, page, sheet_coming, sheets, team_entry
from tallyman.services.people import actor_of
from tallyman.services.upkeep import errands
from tests.messy import messy
from tests.world import World

ANSWERS: dict[str, Any] = {"title": "Valve list", "what": "It is typed over by hand"}
HANDLERS = wiring.ERRANDS


def match(columns: dict[str, int], **given: object) -> dict[str, object]:
    """What is said of a list, where nothing else is said as it stands at first."""
    return MatchIn.model_validate({"columns": columns, **given}).model_dump()


def carry_on(world: World, holder: str = "engine one", days: float = 0) -> None:
    ctx = Ctx(world.db, world.now + timedelta(days=days), PROGRAM)
    while errands.carry_on(ctx, holder, HANDLERS, actor_of):
        pass


def area_of(world: World) -> int:
    return areas.add_area(world.ctx("Sol Marin"), "Depots", None)


def count(world: World, where: str = "1 = 1") -> int:
    return int(world.row(f"SELECT COUNT(*) AS n FROM idea WHERE {where}")["n"])


# ---- entered -----------------------------------------------------------------------------------------


def test_the_team_enters_an_idea_past_the_review_and_it_is_recorded(world: World) -> None:
    tom = world.ctx("Tom Okafor")
    entry = team_entry.Entry(
        {**ANSWERS, "volume": {"amount": "12", "rhythm": "week"}, "minutes": "9"}, why="agreed on Monday"
    )
    number = team_entry.enter(tom, entry, "k1")
    assert team_entry.enter(tom, entry, "k1") == number
    idea = page.one(tom, number)
    assert (idea.stage, idea.source) == ("screened", "the team")
    assert "past the first review: agreed on Monday" in idea.thread[1].reason
    assert world.row("SELECT words FROM audit WHERE action = 'idea entered'")["words"].endswith(
        "agreed on Monday"
    )


def test_entering_needs_the_permission_where_the_idea_belongs(world: World) -> None:
    with pytest.raises(Forbidden) as caught:
        team_entry.enter(world.ctx("Ada Pell"), team_entry.Entry(ANSWERS, why="x"), "k")
    assert caught.value.more["permission"] == "entry.make"
    lead = world.ctx("Ines Varga")
    stranger = world.stranger("Bela Kiss")
    reviewer = next(row.id for row in access.listed(lead) if row.name == "reviewer")
    assert stranger.actor.person_id is not None
    access.give(lead, reviewer, stranger.actor.person_id, None, area_of(world))
    again = world.again("Bela Kiss")
    with pytest.raises(Forbidden):
        team_entry.enter(again, team_entry.Entry(ANSWERS, why="no division, so for the whole company"), "k")


def test_an_entry_names_everything_that_is_missing_at_once(world: World) -> None:
    entry = team_entry.Entry({"title": "", "judgement": "3"}, "in service")
    with pytest.raises(InputFaults) as caught:
        team_entry.enter(world.ctx("Tom Okafor"), entry, "k")
    assert {fault.field for fault in caught.value.faults} == {"title", "what", "judgement", "why", "since"}
    assert count(world) == 0


def test_a_wrong_answer_leaves_nothing_behind(world: World) -> None:
    entry = team_entry.Entry({**ANSWERS, "minutes": "many"}, why="x")
    with pytest.raises(InputFaults):
        team_entry.enter(world.ctx("Tom Okafor"), entry, "k")
    assert count(world) == 0


def test_what_runs_already_stands_in_service_from_its_day(world: World) -> None:
    tom = world.ctx("Tom Okafor")
    since = (world.now - timedelta(days=400)).date()
    entry = team_entry.Entry(
        ANSWERS, "in service", "found at a desk", since, "A desk in the depot", "runs already"
    )
    number = team_entry.enter(tom, entry, "k")
    idea = page.one(tom, number)
    assert (idea.stage, idea.live_on, idea.runs_on) == ("in service", since, "A desk in the depot")
    with pytest.raises(InputFaults, match="lies ahead"):
        team_entry.enter(tom, replace(entry, since=(world.now + timedelta(days=9)).date()), "k2")


def test_an_amendment_names_what_it_changes_and_can_become_an_idea_of_its_own(world: World) -> None:
    _, live, _ = world.live()
    ada, tom = world.ctx("Ada Pell"), world.ctx("Tom Okafor")
    number = drafts.start(ada, "amend", "short", live)
    assert page.one(ada, number).amends_id == live
    for question, value in ANSWERS.items():
        drafts.answer(ada, number, question, value, None)
    drafts.hand_in(ada, number)
    assert [one.id for one in page.one(tom, live).amendments] == [number]
    with pytest.raises(Forbidden):
        team_entry.amend(ada, number, None)
    team_entry.amend(tom, number, None)
    assert page.one(tom, number).amends_id is None
    with pytest.raises(InputFaults, match="only what is in service"):
        team_entry.amend(tom, number, world.noted("Another"))
    team_entry.amend(tom, number, live)
    assert page.page_of_ideas(tom, page.Wanted(amendments=True)).rows[0].id == number


# ---- lists -------------------------------------------------------------------------------------------


def test_five_hundred_messy_lines_come_in_once_with_their_faults_listed(world: World) -> None:
    made = messy()
    tom = world.ctx("Tom Okafor")
    sheet = sheets.upload(tom, "depot list.xlsx", made.data)
    seen = sheets.view(tom, sheet)
    assert seen.page == "List 2024"
    assert seen.head_row == 3
    assert set(seen.match) >= {
        "title",
        "what",
        "volume",
        "minutes",
        "division",
        "owner",
        "noted",
        "number",
        "arrives",
    }
    assert count(world) == 0
    assert seen.counts == {
        "in": made.good,
        "here": 0,
        "repeat": 0,
        "conflict": made.repeats,
        "fault": len(made.bad),
    }
    faults = {row.line: row.faults[0].field for row in seen.lines if row.state == "fault"}
    assert faults == made.bad
    sheets.begin(tom, sheet, seen.version)
    carry_on(world)
    after = sheets.view(tom, sheet)
    assert after.errand_state == "done"
    assert f"{made.good} came in" in after.errand_words
    assert count(world, "stage = 'noted' AND source = 'spreadsheet'") == made.good
    # The same file once more, and the file in CSV: nothing comes in twice.
    again = sheets.upload(tom, "again.xlsx", made.data)
    counts = sheets.view(tom, again).counts
    assert (counts["here"], counts["conflict"]) == (made.good, made.repeats)
    sheets.begin(tom, again, 1)
    carry_on(world)
    assert count(world) == made.good


def test_what_cells_mean_is_what_comes_in(world: World) -> None:
    rows = [
        ["Valve list", "=HYPERLINK(1)", "1.200", "1:30", "Networks", "corin.dahl@merrowdale.example", "A-1"],
        ["Meter note", "Typed by hand", "12,5", "7,5", "networks", "Corin Dahl", "A-2"],
    ]
    data = xlsx_file(
        "x", ["Title", "Description", "How many a month", "Minutes", "Division", "Owner", "No"], rows
    )
    tom = world.ctx("Tom Okafor")
    sheet = sheets.upload(tom, "x.xlsx", data)
    sheets.begin(tom, sheet, 1)
    carry_on(world)
    found = page.page_of_ideas(tom, page.Wanted(), sort="title").rows
    assert [row.title for row in found] == ["Meter note", "Valve list"]
    valve = page.one(tom, found[1].id)
    answers = {row.key: row.value for row in valve.answers}
    assert answers["volume"] == {"amount": "1200", "rhythm": "month"}
    assert answers["minutes"] == "90"
    assert valve.owner == "Corin Dahl"
    assert valve.division == "Networks"
    assert valve.what == "=HYPERLINK(1)"
    assert "number A-1 there" in valve.thread[0].reason


def test_columns_can_be_matched_otherwise_and_lines_come_in_without_what_is_unreadable(world: World) -> None:
    tom = world.ctx("Tom Okafor")
    sheet = sheets.upload(tom, "l.csv", b"X;Y;Z\nValve list;typed over;abc\n;no name;5\n")
    seen = sheets.view(tom, sheet)
    assert seen.match == {"title": 0}
    assert set(seen.asked) == {"head", "title"}
    with pytest.raises(InputFaults, match="say whether it is right"):
        sheets.begin(tom, sheet, 1)
    given = match({"title": 0, "what": 1, "minutes": 2})
    sheets.set_match(tom, sheet, given, 1)
    assert sheets.view(tom, sheet).counts["fault"] == 2
    with pytest.raises(Conflict):
        sheets.set_match(tom, sheet, given, 1)
    sheets.set_match(tom, sheet, {**given, "without_values": True}, 2)
    seen = sheets.view(tom, sheet)
    assert seen.counts == {"in": 1, "here": 0, "repeat": 0, "conflict": 0, "fault": 1}
    left = sheets.left_out(tom, sheet).decode("utf-8-sig").splitlines()
    assert left[0] == "X,Y,Z,what is wrong"
    assert "is empty; an idea needs a name" in left[1]


def test_lines_that_skip_the_review_need_a_reason(world: World) -> None:
    tom = world.ctx("Tom Okafor")
    sheet = sheets.upload(tom, "l.csv", b"title,what\nValve list,typed over\n")
    given = match({"title": 0, "what": 1}, stage="screened")
    sheets.set_match(tom, sheet, given, 1)
    with pytest.raises(InputFaults, match="why they skip"):
        sheets.begin(tom, sheet, 2)
    sheets.set_match(tom, sheet, {**given, "why": "looked at in spring"}, 2)
    sheets.begin(tom, sheet, 3)
    carry_on(world)
    assert count(world, "stage = 'screened'") == 1


def test_a_stopped_import_goes_on_where_it_was_and_a_silent_engine_is_taken_over(world: World) -> None:
    tom = world.ctx("Tom Okafor")
    lines = "".join(f"Work {n} of the depot,typed over {n}\n" for n in range(55))
    sheet = sheets.upload(tom, "l.csv", b"title,what\n" + lines.encode())
    errand = sheets.begin(tom, sheet, 1)
    assert sheets.begin(tom, sheet, 2) == errand
    errands.carry_on(Ctx(world.db, world.now, PROGRAM), "engine one", HANDLERS, actor_of)
    assert count(world) == sheet_coming.LINES_A_PIECE
    errands.cancel(tom, errand)
    carry_on(world)
    assert count(world) == sheet_coming.LINES_A_PIECE
    assert sheets.view(tom, sheet).errand_state == "cancelled"
    sheets.begin(tom, sheet, sheets.view(tom, sheet).version)
    # One engine takes it and falls silent in the middle of a piece.
    world.db.transact(
        lambda tx: tx.execute(
            "UPDATE errand SET state = 'running', holder = 'silent', lease_until = %(t)s WHERE state = 'waiting'",
            {"t": world.now + timedelta(seconds=60)},
        )
    )
    carry_on(world, "engine two")
    assert count(world) == sheet_coming.LINES_A_PIECE
    carry_on(world, "engine two", days=1)
    assert count(world) == 55


def reviewer(world: World, area: int | None) -> tuple[Ctx, int]:
    """Somebody new who reviews, for the company or an area; and the number by which they hold that role."""
    lead = world.ctx("Ines Varga")
    role = next(row.id for row in access.listed(lead) if row.name == "reviewer")
    bela = world.stranger("Bela Kiss")
    assert bela.actor.person_id is not None
    held = access.give(lead, role, bela.actor.person_id, None, area)
    return world.again("Bela Kiss"), held.id


def test_who_enters_ideas_of_an_area_alone_is_told_before_a_list_is_read(world: World) -> None:
    bela, _ = reviewer(world, area_of(world))
    with pytest.raises(Forbidden, match=r"entry\.make"):
        sheets.upload(bela, "l.csv", b"title,what\nValve list,typed over\n")


def test_what_the_person_may_not_do_any_more_ends_their_list_with_the_reason(world: World) -> None:
    bela, held = reviewer(world, None)
    sheet = sheets.upload(bela, "l.csv", b"title,what\nValve list,typed over\n")
    sheets.begin(bela, sheet, 1)
    access.take_away(world.ctx("Ines Varga"), held)
    carry_on(world)
    errand = world.row("SELECT state, words FROM errand")
    assert errand["state"] == "failed"
    assert "entry.make" in errand["words"]
    assert count(world) == 0


def test_a_list_is_its_bringers_alone(world: World) -> None:
    sheet = sheets.upload(world.ctx("Tom Okafor"), "l.csv", b"title,what\nOne,two\n")
    with pytest.raises(NotFound):
        sheets.view(world.ctx("Ines Varga"), sheet)
    with pytest.raises(Forbidden):
        sheets.upload(world.ctx("Ada Pell"), "l.csv", b"title\nOne\n")


def _bomb() -> bytes:
    book = openpyxl.Workbook()
    out = io.BytesIO()
    book.save(out)
    with zipfile.ZipFile(out, "a", zipfile.ZIP_DEFLATED) as box:
        box.writestr("xl/media/zeros.bin", b"\x00" * 210_000_000)
    return out.getvalue()


def _entities() -> bytes:
    book = openpyxl.Workbook()
    out = io.BytesIO()
    book.save(out)
    kept = {}
    with zipfile.ZipFile(out) as box:
        kept = {name: box.read(name) for name in box.namelist()}
    laughs = b'<!DOCTYPE x [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;">]>'
    kept["xl/workbook.xml"] = kept["xl/workbook.xml"].replace(b"<workbook", laughs + b"<workbook", 1)
    again = io.BytesIO()
    with zipfile.ZipFile(again, "w") as box:
        for name, data in kept.items():
            box.writestr(name, data)
    return again.getvalue()


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("empty.csv", b"", "is empty"),
        ("head.csv", b"title,what\n", "no lines below"),
        ("zeros.csv", b"title\x00,what\nA,B\n", "no CSV"),
        ("old.xls", b"\xd0\xcf\x11\xe0" + b"\x00" * 600, "of an old kind"),
        ("broken.xlsx", b"PK\x03\x04 not a book", "cannot be read as XLSX"),
        ("bomb.xlsx", _bomb(), "far larger inside"),
        ("laughs.xlsx", _entities(), "cannot be read as XLSX"),
    ],
    ids=lambda value: value if isinstance(value, str) else "",
)
def test_hostile_and_broken_files_are_refused_in_words(
    world: World, name: str, data: bytes, said: str
) -> None:
    with pytest.raises(InputFaults, match=said) as caught:
        sheets.upload(world.ctx("Tom Okafor"), name, data)
    assert isinstance(caught.value.faults[0], Fault)


def test_matching_waits_until_it_is_stopped(world: World) -> None:
    tom = world.ctx("Tom Okafor")
    sheet = sheets.upload(tom, "l.csv", b"title,what\nOne,two\n")
    sheets.begin(tom, sheet, 1)
    given = match({"title": 0})
    with pytest.raises(Refused, match="just now"):
        sheets.set_match(tom, sheet, given, 2)
