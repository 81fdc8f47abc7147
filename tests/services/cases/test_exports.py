"""A case taken out: the workbook reckons the same cents, the JSON feeds the rules, the page is a PDF."""

from __future__ import annotations

import io
from datetime import date
from decimal import Decimal
from fractions import Fraction
from pathlib import Path
from typing import Any

import pypdfium2
import pytest
from openpyxl import load_workbook

from tallyman.core.cases.calc import business_case
from tallyman.core.exact import text_of
from tallyman.errors import NotFound
from tallyman.services.cases import exports, fact_keeping
from tallyman.services.upkeep import errands
from tests.office import reckoned
from tests.world import World

LINES = {
    "running_lines": [
        {"name": "Desk", "share": "0.1", "days": "220", "day_cost": "390"},
        {"name": "Reading of scans", "amount": "2600"},
        {"name": "Watching", "per_robot": "75.5"},
    ],
    "benefit_lines": [{"name": "Fines", "kind": "penalties avoided", "amount": "1200", "how": "two a year"}],
    "share_override": "0.55",
    "share_reason": "seen in the depot",
    "one_time_other": "1500",
    "risk_note": "The form may change.",
}
MONEY = {
    "cost_before": "cost_before",
    "cost_after_people": "cost_after_people",
    "saving_per_year": "saving_per_year",
    "running_cost_per_year": "running_cost_per_year",
    "one_time_cost": "one_time_cost",
    "npv_3y": "npv_3y",
}


def same(values: dict[str, Any], result: dict[str, Any]) -> None:
    """The workbook shows the figures of the rules to the cent, and the same payback."""

    def text(name: str, digits: int) -> str | None:
        value = values[name]
        return None if value == "none" else text_of(Fraction(Decimal(repr(float(value)))), digits)

    for name in MONEY:
        assert text(name, 2) == result[name], name
    for year in (1, 2, 3):
        assert text(f"net_year_{year}", 2) == result["net"][year - 1]
        assert text(f"full_year_{year}", 2) == result["after_go_live"][year - 1]
    assert text("payback_months", 4) == result["payback_months"]
    assert text("return_3y", 6) == result["return_3y"]
    assert text("robot_hours", 4) == result["robot_hours"]
    assert int(values["robots"]) == result["robots"]


def test_the_workbook_reckons_the_same_cents(world: World, tmp_path: Path) -> None:
    idea = world.offered()
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, LINES, {}, "finance")
    book = exports.as_workbook(world.ctx("Ines Varga"), idea)
    taken = exports.as_json(world.ctx("Ines Varga"), idea)
    assert taken.result == {
        key: value for key, value in business_case(taken.input).items() if key in taken.result
    }
    same(reckoned(book, tmp_path), taken.result)


@pytest.mark.parametrize(
    ("changes", "inputs"),
    [
        ({"cost_per_hour": 41.35, "robot_minutes": 44}, {"cost_per_hour": "41.35", "robot_minutes": "44"}),
        ({"volume": 5}, {"volume_per_year": "240"}),
        ({"share_override": 0.8}, {"automatable_share": "0.8"}),
        ({"discount_rate": 0.11, "one_time_other": 0}, {"discount_rate": "0.11", "one_time_other": "0"}),
        ({"go_live": date(2027, 9, 30)}, {"go_live": "2027-09-30"}),
    ],
)
def test_a_changed_input_moves_the_figures_as_the_rules_do(
    world: World, tmp_path: Path, changes: dict[str, Any], inputs: dict[str, str]
) -> None:
    idea = world.offered()
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, LINES, {}, "finance")
    book = exports.as_workbook(world.ctx("Ines Varga"), idea)
    given = exports.as_json(world.ctx("Ines Varga"), idea).input
    values = reckoned(book, tmp_path, changes)
    if "volume" in changes:
        inputs = {"volume_per_year": str(values["volume_per_year"])}
    given = {**given, **inputs}
    per_robot = [line for line in given["running_lines"] if line["name"] == "Watching"]
    robots = business_case(given)["robots"]
    per_robot[0]["amount"] = str(robots * Decimal("75.5"))
    same(values, business_case(given))


def test_effort_and_share_follow_from_the_facts_in_the_workbook(world: World, tmp_path: Path) -> None:
    idea = world.offered()
    book = exports.as_workbook(world.ctx("Ines Varga"), idea)
    before = reckoned(book, tmp_path)
    after = reckoned(book, tmp_path, {"steps": 40, "judged_share": 0.5})
    mei = world.ctx("Mei Tanaka")
    fact_keeping.keep(mei, idea, {"steps": "40", "judged_share": "0.5"}, {"steps": 1}, "")
    taken = exports.as_json(mei, idea)
    assert after["build_effort"] > before["build_effort"]
    same(after, taken.result)


def test_what_is_missing_gives_no_zero_in_the_workbook(world: World, tmp_path: Path) -> None:
    idea = world.screened()
    book = exports.as_workbook(world.ctx("Ines Varga"), idea)
    values = reckoned(book, tmp_path)
    assert values["npv_3y"] == "missing"
    assert values["missing_inputs"] > 0


def test_each_input_of_the_workbook_names_its_author(world: World) -> None:
    idea = world.offered()
    book = load_workbook(io.BytesIO(exports.as_workbook(world.ctx("Ines Varga"), idea)))
    sources = {
        row[5].value: row[3].value for sheet in ("Inputs", "Sizing") for row in book[sheet].iter_rows()
    }
    assert sources["robot_minutes"] == "talk, Mei Tanaka"
    assert sources["handling_minutes"] == "interview, Ada Pell"
    assert sources["cost_per_hour"] == "cost table, Mei Tanaka"


def test_words_that_begin_like_a_formula_stay_words(world: World, tmp_path: Path) -> None:
    idea = world.offered()
    lines = [{"name": "=1+1", "amount": "10"}]
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, {"running_lines": lines}, {}, "=cmd")
    book = load_workbook(io.BytesIO(exports.as_workbook(world.ctx("Ines Varga"), idea)))
    cell = next(row[0] for row in book["Lines"].iter_rows() if row[0].value == "=1+1")
    assert cell.data_type == "s" or cell.quotePrefix or not str(cell.value).startswith("==")


def test_the_page_is_a_pdf_with_the_figures(world: World) -> None:
    idea = world.offered()
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, LINES, {}, "finance")
    ines = world.ctx("Ines Varga")
    number = exports.begin_page(ines, idea)
    with pytest.raises(NotFound, match="no such file yet"):
        errands.file_of(ines, number)
    world.work_off()
    made = errands.file_of(ines, number)
    assert (made.name, made.media_type) == (f"case-I-{idea}.pdf", "application/pdf")
    with pytest.raises(NotFound, match="no such work of yours"):
        errands.file_of(world.ctx("Mei Tanaka"), number)
    data = made.data
    document = pypdfium2.PdfDocument(data)
    text = " ".join(page.get_textpage().get_text_bounded() for page in document)
    result = exports.as_json(world.ctx("Ines Varga"), idea).result
    assert f"{Decimal(result['saving_per_year']):,.0f}" in text
    assert "Fines" in text and "The form may change." in text and "interview, Ada Pell" in text


def test_a_case_is_taken_out_by_those_who_may_see_it_only(world: World) -> None:
    idea = world.offered()
    with pytest.raises(NotFound):
        exports.as_json(world.stranger("Nora Quill"), idea)
