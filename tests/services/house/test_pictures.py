"""The tables of pictures as files, and the list of systems narrowed."""

from __future__ import annotations

import io
from decimal import Decimal

import pytest
from openpyxl import load_workbook

from tallyman.errors import InputFaults
from tallyman.services.house import pictures, systems
from tests.world import World

COLUMNS = ["Month", "Delivered, EUR"]
ROWS = [["Oct 2026", Decimal("1200.50")], ["=1+1", None], ["Nov 2026", Decimal("-3")]]


def test_a_workbook_holds_numbers_as_numbers_and_text_as_text(world: World) -> None:
    data = pictures.table_file(world.ctx("Ada Pell"), "xlsx", "Delivered / by month", COLUMNS, ROWS)
    sheet = load_workbook(io.BytesIO(data)).active
    assert sheet is not None
    assert [[cell.value for cell in row] for row in sheet.rows] == [
        COLUMNS,
        ["Oct 2026", 1200.5],
        ["=1+1", None],
        ["Nov 2026", -3],
    ]
    assert sheet["A3"].data_type == "s"


def test_a_list_of_commas_opens_as_text_and_keeps_its_figures(world: World) -> None:
    data = pictures.table_file(world.ctx("Ada Pell"), "csv", "Delivered", COLUMNS, ROWS)
    assert data.decode("utf-8-sig").splitlines() == [
        'Month,"Delivered, EUR"',
        "Oct 2026,1200.50",
        "'=1+1,",
        "Nov 2026,-3",
    ]


def test_a_row_that_does_not_fit_its_heads_is_named(world: World) -> None:
    with pytest.raises(InputFaults) as told:
        pictures.table_file(world.ctx("Ada Pell"), "csv", "Delivered", COLUMNS, [*ROWS, ["Dec"]])
    assert [(fault.field, fault.value) for fault in told.value.faults] == [("rows[3]", 1)]


def test_a_table_beyond_all_bounds_is_refused(world: World) -> None:
    wide = [[Decimal(n)] for n in range(pictures.MOST_CELLS + 1)]
    with pytest.raises(InputFaults, match="cells at most"):
        pictures.table_file(world.ctx("Ada Pell"), "csv", "All", ["n"], wide)


def test_systems_are_narrowed_by_words_and_state_and_taken_out_so(world: World) -> None:
    lead = world.ctx("Ines Varga")
    for name in ("Dialhouse", "Kerbgate"):
        systems.add(lead, systems.Given(name, "web", None, "yes", "meters"))
    number = next(row.id for row in systems.listed(lead) if row.name == "Kerbgate")
    systems.retire(lead, number, True)
    assert [row.name for row in systems.listed(lead, "meters")] == ["Dialhouse", "Kerbgate"]
    assert [row.name for row in systems.listed(lead, "meters", "retired")] == ["Kerbgate"]
    assert [row.name for row in systems.listed(lead, "", "retired")] == ["Kerbgate"]
    lines = systems.as_csv(lead, "meters", "known").decode("utf-8-sig").splitlines()
    assert [line.split(",")[0] for line in lines[1:]] == ["Dialhouse"]
