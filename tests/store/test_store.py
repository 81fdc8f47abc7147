from __future__ import annotations

import ast
import re
import threading
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import pymysql
import pytest

from tallyman.core.faults import InputFaults
from tallyman.errors import Clash
from tallyman.services.access.why import SUBJECTS
from tallyman.store import files, lists
from tallyman.store.db import Database, Tx
from tallyman.store.migrate import FOLDER, migrate, pending
from tallyman.store.records import GIVES
from tallyman.store.records.upkeep import OnceFound
from tallyman.store.refusals import TAKEN
from tallyman.store.statements import FOLDER as SQL
from tallyman.store.statements import HEAD, STATEMENTS
from tests.conftest import NOW, Databases
from tests.patience import patience
from tests.world import World

SOURCE = Path(__file__).parents[2] / "src" / "tallyman"


VERBS = ("all", "kept", "one", "value", "values", "count", "write", "insert", "many", "at_end", "_note")


def calls() -> Iterator[tuple[str, str, str]]:
    """Every statement that is asked for by name: by which verb, which one, and as what."""
    for path in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.Call):
                continue
            verb = node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
            names = [one.value for one in node.args[:2] if isinstance(one, ast.Constant)]
            for name in names:
                if verb in VERBS and isinstance(name, str) and re.fullmatch(r"[a-z_]+\.[a-z_]+", name):
                    yield verb, name, ast.unparse(node.args[0])


def asked_for() -> set[str]:
    return {name for _, name, _ in calls()} | {statement for _, statement, _ in SUBJECTS.values()}


def test_every_statement_has_a_purpose() -> None:
    for path in SQL.rglob("*.sql"):
        text = path.read_text()
        assert len(HEAD.findall(text)) == text.count("-- name:"), path.name


def test_statements_and_those_who_ask_for_them_agree() -> None:
    # What the store itself runs where a statement moves what ideas are worth.
    own = {"worths.mark", "worths.mark_all"}
    assert asked_for() | own == set(STATEMENTS)


def test_every_row_is_read_as_the_record_of_its_statement() -> None:
    wrong = [
        f"{verb} {name} as {record}"
        for verb, name, record in calls()
        if (verb in ("all", "one", "kept"))
        != (name in GIVES and verb not in ("write", "insert", "many", "at_end", "_note"))
        or (verb in ("all", "one", "kept") and GIVES[name].__name__ != record)
    ]
    assert wrong == []


def test_no_record_stands_unused() -> None:
    asked = {name for _, name, _ in calls()} | {statement for _, statement, _ in SUBJECTS.values()}
    assert {name for name in GIVES if not name.startswith("list.")} <= asked


def test_migrations_run_twice_and_change_nothing(databases: Databases) -> None:
    assert pending(databases.owner) == []
    databases.owner.transact(lambda tx: tx.execute("DELETE FROM schema_migration"))
    names = sorted(path.name for path in FOLDER.glob("*.sql"))
    assert migrate(databases.owner, databases.wanted.db_user, NOW) == names
    assert migrate(databases.owner, databases.wanted.db_user, NOW) == []


@pytest.mark.parametrize("table", ["audit", "tally_entry"])
@pytest.mark.parametrize("verb", ["UPDATE {} SET id = id", "DELETE FROM {}"])
def test_the_application_cannot_change_ledger_or_audit(db: Database, table: str, verb: str) -> None:
    with pytest.raises(pymysql.err.OperationalError, match="denied"):
        db.transact(lambda tx: tx.execute(verb.format(table)))


def test_the_application_cannot_alter_tables(db: Database) -> None:
    with pytest.raises(pymysql.err.OperationalError, match="denied"):
        db.transact(lambda tx: tx.execute("ALTER TABLE idea ADD COLUMN x INT"))


def test_times_come_back_aware_and_exact(db: Database) -> None:
    at = datetime(2026, 3, 29, 1, 30, 0, 123456, tzinfo=UTC)
    db.transact(lambda tx: tx.write("common.changed", subject="x", id=1, now=at))
    row = db.transact(lambda tx: tx.execute("SELECT at FROM change_note").fetchone())
    assert row == {"at": at}


def test_a_naive_time_is_refused(db: Database) -> None:
    with pytest.raises(ValueError, match="naive"):
        db.transact(lambda tx: tx.write("common.changed", subject="x", id=1, now=NOW.replace(tzinfo=None)))


def test_a_fault_undoes_the_whole_transaction(db: Database) -> None:
    def work(tx: Tx) -> None:
        tx.write("common.changed", subject="x", id=1, now=NOW)
        raise LookupError

    with pytest.raises(LookupError):
        db.transact(work)
    assert db.transact(lambda tx: tx.value(int, "common.last_change")) == 0


def test_two_that_change_one_row_are_done_one_after_the_other(db: Database) -> None:
    db.transact(lambda tx: tx.write("once.claim", key="n", object="0", said="", now=NOW))
    gate = threading.Barrier(4)

    def add(tx: Tx) -> None:
        old = tx.one(OnceFound, "once.found", key="n")
        assert old is not None
        given = {"o": str(int(old.object) + 1)}
        tx.execute("UPDATE started_once SET object = %(o)s WHERE start_key = 'n'", given)

    def many() -> None:
        gate.wait()
        for _ in range(5):
            db.transact(add)

    threads = [threading.Thread(target=many) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    found = db.transact(lambda tx: tx.one(OnceFound, "once.found", key="n"))
    assert found is not None
    assert found.object == "20"


def test_clashes_are_named_in_our_words(world: World) -> None:
    with pytest.raises(Clash) as refused:
        world.db.transact(
            lambda tx: tx.insert(
                "people.add",
                name="Ada Pell",
                email="ada.pell@merrowdale.example",
                password_hash="x",
                zone="UTC",
                division=None,
                now=NOW,
            )
        )
    assert (refused.value.constraint, refused.value.message) == ("uq_person_email", TAKEN["uq_person_email"])


def test_files_are_kept_once_and_come_back_whole(db: Database) -> None:
    data = bytes(range(256)) * 9000
    digests = {db.transact(lambda tx: files.put(tx, data, NOW)) for _ in range(2)}
    assert len(digests) == 1
    assert db.transact(lambda tx: files.get(tx, digests.pop())) == data
    assert db.transact(lambda tx: tx.execute("SELECT COUNT(*) AS n FROM file_chunk").fetchone()) == {"n": 3}
    assert db.transact(lambda tx: files.get(tx, "0" * 64)) is None


@pytest.mark.parametrize("sort", sorted(lists.IDEAS.sorts))
def test_pages_show_every_idea_once_in_order(world: World, sort: str) -> None:
    made = [world.noted(f"Idea number {n}", minutes=str(n) if n % 3 else None) for n in range(7)]
    seen: list[int] = []
    mark: str | None = None
    while True:
        rows, mark = world.db.transact(lambda tx, mark=mark: lists.page(tx, lists.IDEAS, {}, sort, mark, 2))
        seen += [row.id for row in rows]
        if mark is None:
            break
    assert sorted(seen) == made


@pytest.mark.parametrize("mark", ["x", "e30", "WzEsMl0x"])
def test_a_broken_page_mark_is_refused(db: Database, mark: str) -> None:
    with pytest.raises(InputFaults, match="page mark"):
        db.transact(lambda tx: lists.page(tx, lists.RUNS, {}, "newest", mark))


def test_an_unknown_sort_is_refused(db: Database) -> None:
    with pytest.raises(InputFaults, match="sort"):
        db.transact(lambda tx: lists.page(tx, lists.RUNS, {}, "; DROP TABLE run"))


SAID = re.compile(r"\b(at once|the first|latest|newest|last|next|some)\b")


def test_no_statement_cuts_its_rows_without_saying_so() -> None:
    silent = [
        f"{name}: {one.purpose}"
        for name, one in STATEMENTS.items()
        if re.search(r"LIMIT ([2-9]|\d{2,})\s*$", one.sql)
        and one.sql.startswith(("SELECT", "WITH"))
        and not SAID.search(one.purpose)
    ]
    assert silent == []


def test_two_that_keep_the_same_file_at_once_keep_it_once(db: Database) -> None:
    first_wrote, answers = threading.Event(), []

    def first(tx: Tx) -> str:
        digest = files.put(tx, b"lantern", NOW)
        first_wrote.set()
        # The second one stands in line by now, or comes after the commit; both must do.
        waiting.wait(timeout=0.3)
        return digest

    def second() -> None:
        assert first_wrote.wait(timeout=patience(20))
        answers.append(db.transact(lambda tx: files.put(tx, b"lantern", NOW)))
        waiting.set()

    waiting = threading.Event()
    thread = threading.Thread(target=second)
    thread.start()
    answers.append(db.transact(first))
    thread.join(timeout=patience(30))
    assert len(set(answers)) == 1 and len(answers) == 2
    assert db.transact(lambda tx: files.get(tx, answers[0])) == b"lantern"
