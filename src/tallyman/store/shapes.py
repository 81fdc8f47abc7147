"""Writes the records out: what every SELECT gives, by the database's own description of its columns.

A statement of one column gives plain values and has no record. One may name its record by a line
`-- gives: Name` below its purpose; statements that give the same columns may share one. Lines
`-- always: a, b` and `-- yes or no: c` name columns that are never empty, or are 0 or 1, though the
database cannot know it. Columns that a CHECK bounds to some words have the type of those words (`WORDS`).
"""

from __future__ import annotations

import re
from collections import defaultdict
from dataclasses import dataclass, replace

from pymysql.constants import FIELD_TYPE

from tallyman.store.db import Database, Tx
from tallyman.store.lists import LISTINGS
from tallyman.store.statements import FOLDER, STATEMENTS, Statement
from tallyman.store.words import WORDS

TARGET = FOLDER.parent / "records"
NOT_NULL = 1
BINARY = 63
TYPES = {
    FIELD_TYPE.TINY: "int",
    FIELD_TYPE.SHORT: "int",
    FIELD_TYPE.INT24: "int",
    FIELD_TYPE.LONG: "int",
    FIELD_TYPE.LONGLONG: "int",
    FIELD_TYPE.YEAR: "int",
    FIELD_TYPE.NEWDECIMAL: "Decimal",
    FIELD_TYPE.FLOAT: "float",
    FIELD_TYPE.DOUBLE: "float",
    FIELD_TYPE.DATE: "date",
    FIELD_TYPE.DATETIME: "datetime",
    FIELD_TYPE.TIMESTAMP: "datetime",
}
# JSON columns that hold a plain list, by name, whatever their table.
LISTS = {"tags_json": "list[str]", "mentions_json": "list[int]"}
WHOLE_NUMBERS = (FIELD_TYPE.TINY, FIELD_TYPE.LONG, FIELD_TYPE.LONGLONG)
HEAD = (
    '"""Records of the room `{room}`, written out by `store/shapes.py`: change the statements instead."""\n'
)


@dataclass(frozen=True)
class Column:
    """A column of a statement: its name, its type in words, and the module that the type comes from."""

    name: str
    type: str
    json: bool = False
    yes_no: bool = False


def selects() -> dict[str, Statement]:
    """The statements that give rows, by name."""
    return {name: one for name, one in STATEMENTS.items() if re.match(r"(SELECT|WITH)\b", one.sql)}


def tried(sql: str) -> str:
    """A statement with nothing given, so that it can be asked what it would give."""
    sql = re.sub(r"\bLIMIT %\(\w+\)s", "LIMIT 0", sql)
    sql = re.sub(r"\bIN %\(\w+\)s", "IN (NULL)", sql)
    return re.sub(r"%\(\w+\)s", "NULL", sql).replace("%%", "%")


def columns(tx: Tx, statement: Statement) -> tuple[Column, ...]:
    """The columns of a statement, as the database describes them."""
    return tuple(_as_said(_column(field), statement) for field in tx.describe(tried(statement.sql)))


def _as_said(column: Column, statement: Statement) -> Column:
    """A column with what the statement says of it and the database cannot know."""
    if column.name in statement.yes_no:
        column = replace(column, type=column.type.replace("int", "bool"), yes_no=True)
    if column.name in statement.always:
        column = replace(column, type=column.type.removesuffix(" | None"))
    return column


def _column(field: object) -> Column:
    name, table, origin = (str(getattr(field, key)) for key in ("name", "org_table", "org_name"))
    code, length, flags, charset = (
        int(getattr(field, key)) for key in ("type_code", "length", "flags", "charsetnr")
    )
    none = "" if flags & NOT_NULL else " | None"
    if name.endswith("_json"):
        return Column(name[:-5], LISTS.get(origin, "Any") + (none if origin in LISTS else ""), json=True)
    if f"{table}.{origin}" in WORDS:
        return Column(name, WORDS[f"{table}.{origin}"].name + none)
    if code in WHOLE_NUMBERS and length == 1:
        return Column(name, "bool" + none, yes_no=True)
    kind = TYPES.get(code, "bytes" if charset == BINARY else "str")
    return Column(name, kind + none)


def camel(name: str) -> str:
    """`clock_triggers` as `ClockTriggers`."""
    return "".join(part.capitalize() for part in re.split(r"[._]", name))


def written(tx: Tx) -> dict[str, str]:
    """Every room's records as Python text."""
    rooms: dict[str, dict[str, Statement]] = defaultdict(dict)
    for name, statement in selects().items():
        rooms[statement.room][name] = statement
    for name, listing in LISTINGS.items():
        rooms[listing.room][f"list.{name}"] = Statement(listing.select, listing.purpose, listing.room, None)
    return {room: _module(tx, room, given) for room, given in sorted(rooms.items())}


def _module(tx: Tx, room: str, given: dict[str, Statement]) -> str:
    classes: dict[str, tuple[str, tuple[Column, ...]]] = {}
    gives: dict[str, str] = {}
    for name, statement in given.items():
        found = columns(tx, statement)
        if len(found) == 1:
            continue
        known = next((one for one, (_, other) in classes.items() if other == found), None)
        title = statement.gives or known or camel(name)
        if title in classes and classes[title][1] != found:
            raise ValueError(f"{name} gives other columns than the {title} before it")
        classes.setdefault(title, (statement.purpose, found))
        gives[name] = title
    return _text(room, classes, gives)


def _text(room: str, classes: dict[str, tuple[str, tuple[Column, ...]]], gives: dict[str, str]) -> str:
    body = "".join(_class(title, *one) for title, one in classes.items())
    used = set(re.findall(r"\b\w+\b", re.sub(r'""".*?"""', "", body)))
    words = {one.name: one.module for one in WORDS.values() if one.name in used}
    lines = [
        HEAD.format(room=room),
        "from __future__ import annotations\n",
        "from dataclasses import dataclass",
    ]
    at = [name for name in ("date", "datetime") if name in used]
    lines += [f"from datetime import {', '.join(at)}"] if at else []
    lines += ["from decimal import Decimal"] if "Decimal" in used else []
    typing = [name for name in ("Any", "ClassVar") if name in used]
    lines += [f"from typing import {', '.join(typing)}"] if typing else []
    modules = sorted({*words.values(), "tallyman.store.record"})
    lines += [""] + [
        f"from {module} import "
        + ", ".join(
            ["Record"] if module.endswith(".record") else sorted(n for n in words if words[n] == module)
        )
        for module in modules
    ]
    listed = "".join(f'    "{name}": {title},\n' for name, title in gives.items())
    return "\n".join(lines) + "\n" + body + f"\n\nGIVES: dict[str, type[Record]] = {{\n{listed}}}\n"


def _class(title: str, purpose: str, found: tuple[Column, ...]) -> str:
    head = "@dataclass(frozen=True, slots=True, eq=False, repr=False)"
    text = f'\n\n{head}\nclass {title}(Record):\n    """{_short(purpose)}"""\n\n'
    for name, at in (("JSON", "json"), ("BOOLS", "yes_no")):
        where = [n for n, one in enumerate(found) if getattr(one, at)]
        if where:
            inside = ", ".join(map(str, where)) + ("," if len(where) == 1 else "")
            text += f"    {name}: ClassVar[tuple[int, ...]] = ({inside})\n"
    return text + "".join(f"    {one.name}: {one.type}\n" for one in found)


def _short(purpose: str) -> str:
    return purpose if len(purpose) <= 96 else purpose[:95].rsplit(" ", 1)[0] + " …"


def write(db: Database) -> None:
    """Writes the modules of all rooms."""
    TARGET.mkdir(exist_ok=True)
    for room, text in db.transact(written).items():
        (TARGET / f"{room}.py").write_text(text, encoding="utf-8")
