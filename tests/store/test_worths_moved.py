"""No statement moves what a case is reckoned from without saying so."""

from __future__ import annotations

import re

import pytest

from tallyman.store.statements import STATEMENTS

ALL = frozenset({"*"})
# What a case is reckoned from: by table the columns that it reads.
READ = {
    "fact": ALL,
    "idea_answer": frozenset({"value_json"}),
    "idea_voice": frozenset({"volume_json"}),
    "promise": ALL,
    "rate": ALL,
    "closed_day": frozenset({"day"}),
    "area_closed_day": frozenset({"day"}),
    "area_above": ALL,
    "host": frozenset({"hours_from", "hours_to", "seats"}),
    "division": frozenset({"parent_id"}),
    "company": frozenset({"zone", "currency"}),
    "rule_set": ALL,
    "idea": frozenset(
        {
            "division_id",
            "area_id",
            "sizing_state",
            "agreed_at",
            "sized_at",
            "stage",
            "live_on",
            "factors_version",
        }
    ),
}
# Why a statement that writes there moves nothing.
BUT = {
    "areas.add_above": "an area that was just made has no ideas yet",
    "people.add_division": "a division that was just made has no ideas yet",
    "ideas.add": "an idea that was just made has no facts yet",
    "demo.many_ideas": "ideas for measuring, without facts",
    "demo.many_answers": "answers of ideas without facts",
    "robots.add_host": "a host begins without seats",
    "house.merge_answers": "which division an idea is of stands in the idea itself",
}
WRITES = re.compile(r"^\s*(?:UPDATE|INSERT(?: IGNORE)? INTO|DELETE FROM|DELETE \w+ FROM)\s+(\w+)")
INSERTED = re.compile(r"^\s*INSERT[^(]+\(([^)]+)\)")
SET = re.compile(r"\b(\w+) = ")


def columns(sql: str) -> set[str]:
    """The columns that a statement writes; all of them where it takes rows away."""
    if sql.lstrip().startswith("DELETE"):
        return {"*"}
    inserted = INSERTED.match(sql)
    if inserted:
        return {name.strip() for name in inserted.group(1).split(",")}
    return set(SET.findall(sql.split("SET", 1)[1].split("WHERE", maxsplit=1)[0]))


def moving() -> list[str]:
    found = []
    for name, statement in STATEMENTS.items():
        table = WRITES.match(statement.sql)
        read = READ.get(table.group(1)) if table else None
        if read and (read is ALL or "*" in (written := columns(statement.sql)) or written & read):
            found.append(name)
    return found


@pytest.mark.parametrize("name", moving())
def test_what_moves_a_case_marks_its_worth(name: str) -> None:
    assert (STATEMENTS[name].moves_worths != "") != (name in BUT), BUT.get(name, "it says nothing")


def test_a_marked_statement_names_a_parameter_of_its_own() -> None:
    wrong = [
        name
        for name, one in STATEMENTS.items()
        if one.moves_worths not in ("", "all") and f"%({one.moves_worths})s" not in one.sql
    ]
    assert wrong == []
    assert set(BUT) <= set(moving())
