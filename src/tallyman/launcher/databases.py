"""The accounts under which the processes of an installation reach its database."""

from __future__ import annotations

from tallyman.config import more_nodes, settings
from tallyman.store.db import Database


def owner() -> Database:
    """The account that owns the schema."""
    one = settings()
    return Database(
        host=one.db_host,
        port=one.db_port,
        user=one.owner_user,
        password=one.owner_password,
        name=one.db_name,
    )


def application(size: int = 12) -> Database:
    """The application's own account."""
    one = settings()
    return Database(
        host=one.db_host,
        port=one.db_port,
        user=one.db_user,
        password=one.db_password,
        name=one.db_name,
        size=size,
        more=more_nodes(one),
    )
