"""Migrations: forward only, each re-runnable, under the account that owns the schema."""

from __future__ import annotations

import secrets
from datetime import datetime, timedelta
from functools import partial
from pathlib import Path

from tallyman.errors import Unavailable
from tallyman.store.db import Database, Tx

FOLDER = Path(__file__).parent / "migrations"
# What the application's account may only add to, never change or take away.
INSERT_ONLY = ("audit", "audit_seal", "secret_use", "tally_entry")
OWNERS_ONLY = ("schema_migration", "migration_lease")
NOTES = """
CREATE TABLE IF NOT EXISTS schema_migration (
  name VARCHAR(80) PRIMARY KEY,
  at DATETIME(6) NOT NULL
)"""


LEASE = """
CREATE TABLE IF NOT EXISTS migration_lease (
  id TINYINT PRIMARY KEY,
  holder VARCHAR(40) NULL,
  until DATETIME(6) NULL
)"""
LEASE_MINUTES = 30


def _take_lease(owner: Database, holder: str, now: datetime) -> None:
    """Makes sure that only one process migrates. Raises Unavailable while another one does."""

    def work(tx: Tx) -> int:
        tx.execute("INSERT IGNORE INTO migration_lease (id) VALUES (1)")
        taken = tx.execute(
            "UPDATE migration_lease SET holder = %(holder)s, until = %(until)s "
            "WHERE id = 1 AND (holder IS NULL OR until < %(now)s)",
            {"holder": holder, "until": now + timedelta(minutes=LEASE_MINUTES), "now": now},
        )
        return taken.rowcount

    owner.transact(lambda tx: tx.execute(LEASE))
    if not owner.transact(work):
        message = "another process migrates this database just now"
        raise Unavailable(message, f"Wait for it; a lease left behind ends after {LEASE_MINUTES} minutes")


def _give_lease_back(owner: Database, holder: str) -> None:
    sql = "UPDATE migration_lease SET holder = NULL, until = NULL WHERE holder = %(holder)s"
    owner.transact(lambda tx: tx.execute(sql, {"holder": holder}))


def _statements(text: str) -> list[str]:
    lines = [line for line in text.splitlines() if not line.startswith("--")]
    return [part.strip() for part in "\n".join(lines).split(";\n") if part.strip().strip(";")]


def pending(owner: Database) -> list[str]:
    """The names of migrations that were not applied yet."""

    def work(tx: Tx) -> list[str]:
        tx.execute(NOTES)
        done = {row["name"] for row in tx.execute("SELECT name FROM schema_migration").fetchall()}
        return [path.name for path in sorted(FOLDER.glob("*.sql")) if path.name not in done]

    return owner.transact(work)


def migrate(owner: Database, app_user: str, now: datetime) -> list[str]:
    """Applies what is pending and sets the application account's rights. Gives the names applied.

    Raises Unavailable while another process does the same.
    """
    holder = secrets.token_hex(16)
    _take_lease(owner, holder, now)
    try:
        names = _apply(owner, now)
        owner.transact(lambda tx: _grant(tx, app_user))
    finally:
        _give_lease_back(owner, holder)
    return names


def _apply(owner: Database, now: datetime) -> list[str]:
    names = pending(owner)
    for name in names:
        text = (FOLDER / name).read_text(encoding="utf-8")
        for sql in _statements(text):
            owner.transact(partial(Tx.execute, sql=sql.rstrip(";")))
        noted = "INSERT IGNORE INTO schema_migration (name, at) VALUES (%(name)s, %(now)s)"
        owner.transact(partial(Tx.execute, sql=noted, params={"name": name, "now": now}))
    return names


def _grant(tx: Tx, app_user: str) -> None:
    account = f"'{app_user}'@'%%'"
    tables = [next(iter(row.values())) for row in tx.execute("SHOW TABLES").fetchall()]
    for table in tables:
        rights = "SELECT, INSERT"
        if table not in INSERT_ONLY and table not in OWNERS_ONLY:
            rights += ", UPDATE, DELETE"
        tx.execute(f"GRANT {rights} ON `{table}` TO {account}")
