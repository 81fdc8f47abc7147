"""Lists in other words, columns and conditions than ours: matched, asked, mended, and nothing lost in silence."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest

from tallyman.api.ideas.entry import MatchIn
from tallyman.engine import wiring
from tallyman.errors import Conflict, InputFaults, Refused
from tallyman.formats.xlsx_file import xlsx_file
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.ideas import page, sheets
from tallyman.services.ideas.answers_of_lists import SheetLine, SheetOut
from tallyman.services.people import actor_of
from tallyman.services.upkeep import errands
from tests.world import World

HEADS = "Vorgang;Ablauf;Fälle;Dauer;Bereich;Ansprechpartner;Eingang;Kennung"
WORK = ("Ablesungen", "Rechnungen", "Hausanschlüsse", "Störungen", "Zählerwechsel", "Gutschriften")


def foreign() -> bytes:
    """66 rows: 60 ideas, 4 that stand twice, one whose quotation mark does not close, one that ends early."""
    lines = [HEADS]
    for n in range(60):
        work = WORK[n % 6]
        said = f"Bei {work} Nr. {n} werden Angaben aus Schreiben in das System übertragen und dann geprüft"
        kind = ("Papier", "E-Mail", "Anruf")[n % 3]
        lines.append(
            f"{work} übertragen {n};{said};{n + 5} pro Woche;0:{n % 50 + 10};Netze;C. Dahl;{kind};V-{n:03}"
        )
    lines += lines[3:7]
    lines.insert(20, 'Offen;"Hier fehlt das Ende;5 pro Woche;0:10;Netze;C. Dahl;Papier;V-900')
    lines.insert(30, "Kurz;Hier fehlen Zellen;5 pro Woche")
    return "\n".join(lines).encode()


def brought(world: World, data: bytes, name: str = "l.csv") -> tuple[Ctx, int]:
    tom = world.ctx("Tom Okafor")
    return tom, sheets.upload(tom, name, data)


def seen(tom: Ctx, sheet: int) -> SheetOut:
    return sheets.view(tom, sheet)


def keep(tom: Ctx, sheet: int, **given: Any) -> SheetOut:
    """Says something of a list, the rest as it stands."""
    now = seen(tom, sheet)
    ways = {
        column.field: {way.name: way.value for way in column.ways if way.chosen} for column in now.columns
    }
    standing = {
        **{name: getattr(now, name) for name in MatchIn.model_fields if hasattr(now, name)},
        "columns": now.match,
        "ways": {name: chosen for name, chosen in ways.items() if name and chosen},
    }
    checked = MatchIn.model_validate({**standing, **given})
    sheets.set_match(tom, sheet, checked.model_dump(), now.version)
    return seen(tom, sheet)


def word(tom: Ctx, sheet: int, of: str, theirs: str, ours: str | int | None) -> SheetOut:
    sheets.set_word(tom, sheet, of, theirs, ours, seen(tom, sheet).version)
    return seen(tom, sheet)


def bring(world: World, tom: Ctx, sheet: int) -> SheetOut:
    sheets.begin(tom, sheet, seen(tom, sheet).version)
    while errands.carry_on(Ctx(world.db, world.now, PROGRAM), "engine", wiring.ERRANDS, actor_of):
        pass
    return seen(tom, sheet)


def line(found: SheetOut, number: int) -> SheetLine:
    return next(one for one in found.lines if one.line == number)


def only_idea(tom: Ctx, title: str) -> int:
    return next(
        row.id for row in page.page_of_ideas(tom, page.Wanted(), limit=200).rows if row.title == title
    )


def person(world: World, name: str) -> int:
    return int(world.row("SELECT id FROM person WHERE name = %(n)s", n=name)["id"])


def test_a_list_in_another_language_comes_in_as_sixty_ideas_four_doubles_and_two_faults(world: World) -> None:
    tom, sheet = brought(world, foreign())
    found = seen(tom, sheet)
    assert found.total == 66
    assert found.match == {"title": 0, "what": 1, "volume": 2, "minutes": 3, "number": 7}
    assert set(found.asked) == {"head", "title", "what", "volume", "minutes", "number"}
    with pytest.raises(InputFaults, match="say whether it is right"):
        sheets.begin(tom, sheet, found.version)
    found = keep(tom, sheet, columns={**found.match, "division": 4, "owner": 5, "arrives": 6}, asked=[])
    # Every line is told apart from those that cannot be read at all; none of them is lost in silence.
    assert found.counts == {"in": 0, "here": 0, "repeat": 0, "conflict": 0, "fault": 66}
    faults = {fault.field for fault in line(found, 2).faults}
    assert faults == {"volume", "division", "owner"}
    assert {fault.field for fault in line(found, 4).faults} == {"volume", "division", "owner", "arrives"}
    unknown = {(one.of, one.theirs): one.lines for one in found.words if not one.how}
    assert set(unknown) == {
        ("rhythm", "pro Woche"),
        ("division", "Netze"),
        ("person", "C. Dahl"),
        ("kind", "Anruf"),
    }
    assert unknown["division", "Netze"] == 64
    networks = world.row("SELECT id FROM division WHERE name = 'Networks'")["id"]
    word(tom, sheet, "rhythm", "pro Woche", "week")
    word(tom, sheet, "division", "Netze", networks)
    word(tom, sheet, "person", "C. Dahl", person(world, "Corin Dahl"))
    word(tom, sheet, "kind", "Papier", "scan")
    found = word(tom, sheet, "kind", "Anruf", "talk")
    assert found.counts == {"in": 60, "here": 0, "repeat": 4, "conflict": 0, "fault": 2}
    volume = next(column for column in found.columns if column.field == "volume")
    assert (volume.read[0].theirs, volume.read[0].ours) == ("5 pro Woche", "5 a week")
    after = bring(world, tom, sheet)
    assert after.errand_words == "60 came in; 4 stood twice; 2 stayed out"
    first = page.one(tom, only_idea(tom, "Ablesungen übertragen 0"))
    answers = {row.key: row.value for row in first.answers}
    assert answers["volume"] == {"amount": "5", "rhythm": "week"}
    assert answers["arrives"] == [{"kind": "scan", "part": "1"}]
    assert (first.owner, first.division) == ("Corin Dahl", "Networks")


def test_rows_that_do_not_fit_their_head_are_mended_in_their_place(world: World) -> None:
    data = b'title;what;minutes\nOne;is typed;5\nTwo;is; typed;5\nThree;is typed\nFour;"is typed;5\nFive;is typed;7\n'
    tom, sheet = brought(world, data)
    found = seen(tom, sheet)
    assert {one.line: one.faults[0].message.split(":")[0] for one in found.lines if one.faults} == {
        3: "has 4 cells where the head has 3",
        4: "has 2 cells where the head has 3",
        5: "opens a quotation mark that is not closed",
    }
    assert [one.title for one in found.lines if one.state == "in"] == ["One", "Five"]
    # Not even lines that come in without what cannot be read: where its cells end is not known.
    assert keep(tom, sheet, without_values=True, without_people=True).counts["fault"] == 3
    with pytest.raises(InputFaults, match="still opens a quotation mark"):
        sheets.mend(tom, sheet, 5, {}, 'Four;"is typed;5', seen(tom, sheet).version)
    with pytest.raises(InputFaults, match="it needs 3"):
        sheets.mend(tom, sheet, 3, {}, "Two;is;typed;6", seen(tom, sheet).version)
    sheets.mend(tom, sheet, 3, {}, 'Two;"is; typed";5', seen(tom, sheet).version)
    sheets.mend(tom, sheet, 5, {}, "Four;is typed;5", seen(tom, sheet).version)
    found = seen(tom, sheet)
    assert [one.title for one in found.lines if one.state == "in"] == ["One", "Two", "Four", "Five"]
    assert line(found, 3).mended
    sheets.as_it_came(tom, sheet, 3, found.version)
    assert line(seen(tom, sheet), 3).faults[0].field == "row"
    found = keep(tom, sheet, ends_early=True)
    assert line(found, 4).state == "in"


def test_all_faults_of_a_line_are_named_and_its_cells_mended_in_their_place(world: World) -> None:
    rows = [
        ["Valve list", "is typed", "lots", "abc", "Nobody Here", "smoke"],
        ["Meter note", "is typed", "5 a week", "10", "Corin Dahl", "mail"],
    ]
    tom, sheet = brought(
        world, xlsx_file("x", ["Title", "Description", "Volume", "Minutes", "Owner", "Input"], rows), "l.xlsx"
    )
    found = seen(tom, sheet)
    assert {one.field: one.at for one in line(found, 2).faults} == {
        "volume": 2,
        "minutes": 3,
        "owner": 4,
        "arrives": 5,
    }
    stale = found.version
    sheets.mend(tom, sheet, 2, {2: "30 a month", 3: "12"}, None, stale)
    assert [one.field for one in line(seen(tom, sheet), 2).faults] == ["arrives", "owner"]
    with pytest.raises(Conflict):
        sheets.mend(tom, sheet, 2, {5: "mail"}, None, stale)
    with pytest.raises(InputFaults, match="no such column"):
        sheets.mend(tom, sheet, 2, {99: "mail"}, None, seen(tom, sheet).version)
    # Who is not known and what cannot be read are two switches.
    assert line(keep(tom, sheet, without_people=True), 2).state == "fault"
    assert line(keep(tom, sheet, without_people=True, without_values=True), 2).state == "in"
    sheets.mend(tom, sheet, 2, {5: "mail"}, None, seen(tom, sheet).version)
    assert line(keep(tom, sheet, without_values=False), 2).state == "in"
    bring(world, tom, sheet)
    with pytest.raises(Refused, match="settled already"):
        sheets.mend(tom, sheet, 2, {5: "scan"}, None, seen(tom, sheet).version)


def test_a_column_of_yearly_volumes_is_told_its_rhythm_once(world: World) -> None:
    tom, sheet = brought(world, b"title,description,volume\nOne,is typed,1200\nTwo,is typed,600\n")
    found = seen(tom, sheet)
    assert found.counts["fault"] == 2
    with pytest.raises(InputFaults, match="did you mean"):
        keep(tom, sheet, ways={"volume": {"rhythm": "yaer"}})
    found = keep(tom, sheet, ways={"volume": {"rhythm": "year"}})
    assert found.counts["in"] == 2
    volume = next(column for column in found.columns if column.field == "volume")
    assert [(one.theirs, one.ours) for one in volume.read] == [("1200", "1200 a year"), ("600", "600 a year")]
    assert [(way.name, way.value, way.chosen) for way in volume.ways] == [
        ("rhythm", "year", True),
        ("decimal", ".", False),
    ]


def test_the_same_number_with_other_content_is_shown_and_decided(world: World) -> None:
    data = b"no,title,what,minutes\nA1,One,is typed,5\nA1,One,is typed,9\nA1,One,is typed,5\n"
    tom, sheet = brought(world, data)
    found = seen(tom, sheet)
    assert [one.state for one in found.lines] == ["in", "conflict", "repeat"]
    [differs] = line(found, 3).differs
    assert (differs.field, differs.theirs, differs.ours) == ("Minutes each", "9", "5")
    after = bring(world, tom, sheet)
    assert "1 wait for a word" in after.errand_words
    assert line(after, 3).state == "conflict"
    # Another list brings it with other words; the one that is here keeps what it says.
    tom, other = brought(world, b"no,title,what,minutes\na1,One,is copied,5\n")
    assert [one.field for one in line(seen(tom, other), 2).differs] == ["What happens in it"]
    sheets.choose(tom, other, 2, "same", seen(tom, other).version)
    assert line(seen(tom, other), 2).state == "here"
    sheets.choose(tom, other, 2, "another", seen(tom, other).version)
    assert line(seen(tom, other), 2).state == "in"
    bring(world, tom, other)
    assert world.row("SELECT COUNT(*) AS n FROM idea")["n"] == 2
    tom, again = brought(world, b"no,title,what,minutes\na1,One,is copied,5\n")
    sheets.choose(tom, again, 2, "another", seen(tom, again).version)
    assert line(seen(tom, again), 2).state == "here"


def test_days_cost_rework_and_state_have_their_place(world: World) -> None:
    day = (world.now - timedelta(days=200)).date()
    heads = [
        "Title",
        "Description",
        "Status",
        "Submitted on",
        "Runs since",
        "Rework",
        "Cost",
        "Cost per hour",
    ]
    rows = [
        ["One", "is typed", "New", day.isoformat(), "", "20 %", "€ 1.200", "38,50"],
        ["Two", "is typed", "Live", "", day.isoformat(), "", "3 k", "40,00"],
        ["Three", "is typed", "Rejected", "", "", "", "", ""],
        ["Four", "is typed", "On hold", "", "", "", "$ 40", ""],
        ["Five", "is typed", "abgelegt", "", "", "", "", ""],
        ["Six", "is typed", "Live", "", "", "", "", ""],
    ]
    tom, sheet = brought(world, xlsx_file("x", heads, rows), "l.xlsx")
    found = seen(tom, sheet)
    assert set(found.match) == {"title", "what", "state", "noted", "since", "rework", "cost", "hour_cost"}
    assert {one.line: one.faults[0].message for one in found.lines if one.faults} == {
        5: "is in USD; give the amount in EUR",
        6: line(found, 6).faults[0].message,
        7: "say since when it runs: match the column that says it",
    }
    found = word(tom, sheet, "state", "abgelegt", "out")
    assert "so you said" in line(found, 6).faults[0].message
    found = keep(tom, sheet, without_values=True)
    with pytest.raises(InputFaults) as caught:
        sheets.begin(tom, sheet, found.version)
    assert {fault.field for fault in caught.value.faults} == {"why", "back_on", "declined_for"}
    with pytest.raises(InputFaults, match="after today"):
        keep(tom, sheet, back_on=date(2020, 1, 1))
    back = (world.now + timedelta(days=60)).date()
    keep(tom, sheet, why="from the depot", back_on=back, declined_for="too little volume")
    after = bring(world, tom, sheet)
    assert after.errand_words == "4 came in; 2 stayed out"
    one = page.one(tom, only_idea(tom, "One"))
    assert one.handed_in_on == day
    fact = world.row("SELECT value_json, source FROM fact WHERE field = 'rework_share'")
    assert (fact["value_json"], fact["source"]) == ('"0.2"', "spreadsheet l.xlsx, line 2")
    stages = {row.title: row.stage for row in page.page_of_ideas(tom, page.Wanted()).rows}
    assert stages == {"One": "noted", "Two": "in service", "Three": "declined", "Four": "parked"}
    assert page.one(tom, only_idea(tom, "Two")).live_on == day


def test_the_head_is_where_a_person_says(world: World) -> None:
    data = b"Valve list,is typed over from paper into the register every single morning,5 a week\n" * 1
    data += b"Meter note,is typed over from paper into the register every single evening,9 a week\n"
    tom, sheet = brought(world, data)
    found = seen(tom, sheet)
    assert (found.head_row, found.total) == (0, 2)
    assert found.match == {"title": 0, "what": 1, "volume": 2}
    assert "head" in found.asked
    sheets.set_head(tom, sheet, 1, found.version)
    found = seen(tom, sheet)
    assert (found.head_row, found.total, found.columns[0].head) == (1, 1, "Valve list")
    sheets.set_head(tom, sheet, 0, found.version)
    found = seen(tom, sheet)
    assert (found.head_row, [one.title for one in found.lines]) == (0, ["Valve list", "Meter note"])
    with pytest.raises(InputFaults, match="rows 1 to 1"):
        sheets.set_head(tom, sheet, 7, found.version)
    keep(tom, sheet, asked=[])
    bring(world, tom, sheet)
    with pytest.raises(Refused, match="came in already"):
        sheets.set_head(tom, sheet, 1, seen(tom, sheet).version)


def test_what_is_left_out_for_its_size_is_said(world: World) -> None:
    wide = xlsx_file("x", ["Title", *(f"c{n}" for n in range(90))], [["One", *("x" for _ in range(90))]])
    tom, sheet = brought(world, wide, "w.xlsx")
    assert seen(tom, sheet).limits == ["columns after the first 80 of the page x"]
