"""Migrations: forward only, each re-runnable, under the account that owns the schema."""

from __future__ import annotations

from datetime import datetime
from functools import partial
from pathlib import Path

from tallyman.store.db import Database, Tx

FOLDER = Path(__file__).parent / "migrations"
# What the application's account may only add to, never change or take away.
INSERT_ONLY = ("audit", "tally_entry")
NOTES = """
CREATE TABLE IF NOT EXISTS schema_migration (
  name VARCHAR(80) PRIMARY KEY,
  at DATETIME(6) NOT NULL
)"""


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
    """Applies what is pending and sets the application account's rights. Gives the names applied."""
    names = pending(owner)
    for name in names:
        text = (FOLDER / name).read_text(encoding="utf-8")
        for sql in _statements(text):
            owner.transact(partial(Tx.execute, sql=sql.rstrip(";")))
        noted = "INSERT IGNORE INTO schema_migration (name, at) VALUES (%(name)s, %(now)s)"
        owner.transact(partial(Tx.execute, sql=noted, params={"name": name, "now": now}))
    owner.transact(lambda tx: _grant(tx, app_user))
    return names


def _grant(tx: Tx, app_user: str) -> None:
    account = f"'{app_user}'@'%%'"
    tables = [next(iter(row.values())) for row in tx.execute("SHOW TABLES").fetchall()]
    for table in tables:
        rights = "SELECT, INSERT"
        if table not in INSERT_ONLY and table != "schema_migration":
            rights += ", UPDATE, DELETE"
        tx.execute(f"GRANT {rights} ON `{table}` TO {account}")
