"""A database as it may be after years: a hundred thousand rows wherever rows gather, made from the schema."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime

from tallyman.store.db import Tx
from tallyman.store.words import WORDS

MANY, FEW = 100_000, 200
# What a house has few of, however long it works.
OF_THE_HOUSE = frozenset(
    [
        "area",
        "area_above",
        "area_closed_day",
        "access_request",
        "business_system",
        "case_variant",
        "closed_day",
        "commit_mark",
        "company",
        "worth_mark",
        "counting_point",
        "division",
        "file_body",
        "group_member",
        "held_role",
        "hitch",
        "host",
        "lease",
        "link",
        "migration_lease",
        "named_lock",
        "notch",
        "outside_sign_in",
        "package",
        "package_release",
        "release_approval",
        "rollout",
        "start_address",
        "service_favourite",
        "service_group",
        "service_page",
        "service_word",
        "signing_key",
        "person",
        "person_group",
        "person_role",
        "process",
        "program_token",
        "rate",
        "recovery_code",
        "robot",
        "robot_area",
        "role",
        "routine",
        "routine_lock",
        "rule_set",
        "saved_view",
        "seat_given",
        "seat_lot",
        "schema_migration",
        "second_factor",
        "secret",
        "secret_use",
        "setting",
        "sign_in_step",
        "slot",
        "start_trigger",
        "tally_month",
        "upload",
        "wheel",
    ]
)
# What nearly every row says once its time is over; the last rows say everything there is to say.
IN_THE_END = {
    "errand.state": "done",
    "idea.stage": "in service",
    "idea_match.verdict": "other",
    "run.state": "done",
}
# Empty in nearly every row.
MOSTLY_EMPTY = frozenset(
    [
        "again_of",
        "amends_id",
        "asked_on",
        "away_from",
        "away_until",
        "cancel_at",
        "digest_at",
        "edited_at",
        "erased_at",
        "handed_at",
        "handed_until",
        "held_at",
        "late_json",
        "merged_into",
        "pause_at",
        "refused_at",
        "retry_at",
        "stuck_at",
        "taken_back_at",
        "withdrawn_at",
    ]
)
# Texts that say one of some things.
KINDS = frozenset(["action", "kind", "work"])
# Unique by a column and one of two words: in fives they would be the same.
ONE_EACH = frozenset(["seat_given"])
# So many of the last rows are still open, as in life.
OPEN = 100


@dataclass(frozen=True)
class Column:
    """A column: what it holds, what it points at, and whether it is unique, or the first of what is."""

    name: str
    kind: str
    wide: int
    none: bool
    to: str | None
    unique: bool
    first: bool


def fill(tx: Tx, now: datetime, most: int = MANY) -> None:
    """Fills every table; what a row holds means nothing, but how values spread is as in life."""
    tx.execute("SET check_constraint_checks = 0, foreign_key_checks = 0, unique_checks = 0")
    for table, given in columns(tx).items():
        rows = min(rows_of(table), most)
        names = ", ".join(f"`{one.name}`" for one in given)
        values = ", ".join(value(table, one, rows) for one in given)
        numbers = f"SELECT seq AS n FROM seq_1_to_{rows}"
        tx.execute(f"INSERT IGNORE INTO `{table}` ({names}) SELECT {values} FROM ({numbers}) s", {"now": now})
        tx.execute(f"ANALYZE TABLE `{table}`").fetchall()
    tx.execute("SET check_constraint_checks = 1, foreign_key_checks = 1, unique_checks = 1")


def rows_of(table: str) -> int:
    """How many rows a table gets."""
    return FEW if table in OF_THE_HOUSE else MANY


def columns(tx: Tx) -> dict[str, list[Column]]:
    """Every table's columns but those that the database makes itself."""
    points = {
        (row["t"], row["c"]): row["to"]
        for row in tx.execute(
            "SELECT TABLE_NAME AS t, COLUMN_NAME AS c, REFERENCED_TABLE_NAME AS `to`"
            " FROM information_schema.KEY_COLUMN_USAGE"
            " WHERE TABLE_SCHEMA = DATABASE() AND REFERENCED_TABLE_NAME IS NOT NULL"
        ).fetchall()
    }
    keys: dict[tuple[str, str], list[str]] = defaultdict(list)
    for row in tx.execute(
        "SELECT TABLE_NAME AS t, INDEX_NAME AS i, COLUMN_NAME AS c FROM information_schema.STATISTICS"
        " WHERE TABLE_SCHEMA = DATABASE() AND NON_UNIQUE = 0 ORDER BY TABLE_NAME, INDEX_NAME, SEQ_IN_INDEX"
    ).fetchall():
        keys[row["t"], row["i"]].append(row["c"])
    alone = {(table, names[0]) for (table, _), names in keys.items() if len(names) == 1}
    first = {(table, names[0]) for (table, _), names in keys.items() if len(names) > 1}
    found: dict[str, list[Column]] = defaultdict(list)
    for row in tx.execute(
        "SELECT TABLE_NAME AS t, c.COLUMN_NAME AS c, c.DATA_TYPE AS k, c.IS_NULLABLE AS n,"
        " COALESCE(c.CHARACTER_MAXIMUM_LENGTH, 0) AS w FROM information_schema.COLUMNS c"
        " JOIN information_schema.TABLES b USING (TABLE_SCHEMA, TABLE_NAME)"
        " WHERE TABLE_SCHEMA = DATABASE() AND b.TABLE_TYPE = 'BASE TABLE' AND c.EXTRA NOT LIKE '%%GENERATED%%'"
        " ORDER BY TABLE_NAME, c.ORDINAL_POSITION"
    ).fetchall():
        at = (row["t"], row["c"])
        shape = (row["c"], row["k"], row["w"], row["n"] == "YES", points.get(at), at in alone, at in first)
        found[row["t"]].append(Column(*shape))
    return found


def value(table: str, column: Column, rows: int) -> str:
    """What a column holds in the n-th row, as SQL."""
    is_open, said = f"n > {rows - OPEN}", _said(table, column, rows)
    if column.none and column.name in MOSTLY_EMPTY:
        return f"IF({is_open}, {said}, NULL)"
    if column.none and column.to is None and column.kind in ("datetime", "date"):
        return f"IF({is_open}, NULL, {said})"
    return said


def _said(table: str, column: Column, rows: int) -> str:
    is_open, at = f"n > {rows - OPEN}", f"{table}.{column.name}"
    # Rows that are unique by several columns come in fives by the first of them.
    in_fives = column.first and not column.unique and table not in ONE_EACH
    number = "(n DIV 5)" if in_fives else "n"
    if column.name == "id":
        return "n"
    words = WORDS[at].values() if at in WORDS else ()
    if words:
        each = f"ELT(1 + n MOD {len(words)}, {', '.join(repr(word) for word in words)})"
        return f"IF({is_open}, {each}, '{IN_THE_END[at]}')" if at in IN_THE_END else each
    if column.to is not None and column.kind.endswith("int"):
        return f"1 + {number} MOD {rows_of(column.to)}"
    if column.name.endswith("_json"):
        return "'[]'"
    if column.kind in ("datetime", "timestamp"):
        return f"%(now)s - INTERVAL ({rows} - n) * 5 MINUTE"
    if column.kind == "date":
        return f"DATE(%(now)s) - INTERVAL n {'' if column.unique else 'MOD 2000'} DAY"
    if column.kind == "time":
        return "SEC_TO_TIME(n MOD 80000)"
    if column.kind == "tinyint":
        return f"IF({is_open}, 0, 1)"
    if column.kind in ("decimal", "float", "double"):
        return "n MOD 90"
    if column.kind.endswith("int"):
        return number
    if column.name in KINDS:
        return "CONCAT('kind ', n MOD 40)"
    if column.wide == 7:
        return "DATE_FORMAT(%(now)s - INTERVAL n MOD 60 MONTH, '%%Y-%%m')"
    if 0 < column.wide < 8:
        return f"LEFT(MD5(n), {column.wide})"
    return f"LEFT(CONCAT('w', {number}, ' of the crowd'), {column.wide or 80})"
