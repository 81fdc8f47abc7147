"""Measures claims alone: ours, beside the bare driver doing the same writes one after the other."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import timedelta

import pymysql

from tallyman.config import read_clock
from tallyman.launcher.bench_installation import Installation
from tallyman.services import runs
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.robots import host_tokens
from tallyman.services.runs import dispatch
from tallyman.services.workshop import routines
from tallyman.store.db import Tx

CLAIMS = 80
# What a claim writes, and nothing that it reads to choose.
WRITES = (
    "UPDATE run SET robot_id = %(robot)s, host_id = %(host)s, fence = fence + 1, handed_until = %(until)s,"
    " changed_at = %(now)s WHERE id = %(run)s AND state = 'waiting'",
    "INSERT INTO run_ask (host_id, ask_key, run_id, fence, at)"
    " VALUES (%(host)s, %(key)s, %(run)s, 1, %(now)s)",
    "UPDATE slot SET run_id = %(run)s WHERE kind = 'seat' AND owner_id = %(host)s AND run_id IS NULL LIMIT 1",
    "UPDATE slot SET run_id = %(run)s WHERE kind = 'robot' AND owner_id = %(robot)s AND run_id IS NULL",
    "UPDATE slot SET run_id = %(run)s WHERE kind = 'limit' AND owner_id = %(routine)s AND run_id IS NULL"
    " LIMIT 1",
    "INSERT INTO change_note (subject, object_id, at) VALUES ('runs', %(run)s, %(now)s)",
    "INSERT INTO commit_mark (token, at) VALUES (%(key)s, UTC_TIMESTAMP(6))",
)


def measure(one: Installation, area: int) -> dict[str, float]:
    """Claims a second by `dispatch.take` and by the bare driver, and their ratio; one after the other."""
    routine, tokens = one.routine(area, "For claims"), one.hosts(CLAIMS, area, "Claimer")
    one.owner.transact(lambda tx: tx.execute("UPDATE host SET heard_at = UTC_TIMESTAMP(6)"))
    ours = _a_second(one, routine, tokens, _take)
    bare = pymysql.connect(
        host="127.0.0.1", port=one.port + 1, user="app", password="app", database="tallyman"
    )
    hosts = one.db.transact(_hosts)
    waiting: list[int] = []

    def write(ctx: Ctx, _: str, n: int) -> None:
        if not waiting:
            waiting.extend(one.db.transact(lambda tx: _waiting(tx, routine)))
        host, robot = hosts[n]
        given = {"run": waiting[n], "host": host, "robot": robot, "routine": routine, "key": f"{n:032x}"}
        with bare.cursor() as cursor:
            for statement in WRITES:
                until = ctx.now + timedelta(seconds=10)
                cursor.execute(
                    statement, {**given, "now": ctx.now.isoformat()[:26], "until": until.isoformat()[:26]}
                )
        bare.commit()

    driver = _a_second(one, routine, tokens, write)
    bare.close()
    return {"ours": ours, "bare driver": driver, "ours / bare driver": round(ours / driver, 2)}


def _a_second(
    one: Installation, routine: int, tokens: list[str], act: Callable[[Ctx, str, int], None]
) -> float:
    """How many claims a second an act makes; what it claimed is taken off the hosts again."""
    due = read_clock()

    def add(tx: Tx) -> None:
        row = routines.find(tx, routine)
        for _ in range(CLAIMS):
            runs.add(tx, Ctx(one.db, due, one.actor), row, "the bench", due=due)

    one.db.transact(add)
    began = time.perf_counter()
    for n in range(CLAIMS):
        act(Ctx(one.db, read_clock(), PROGRAM), tokens[n], n)
    rate = round(CLAIMS / (time.perf_counter() - began), 1)
    one.owner.transact(_clear)
    return rate


def _take(ctx: Ctx, token: str, n: int) -> None:
    host = host_tokens.host_of(ctx, token)
    assert dispatch.take(ctx, host, f"{n:031x}a", begins=True) is not None


def _hosts(tx: Tx) -> list[tuple[int, int]]:
    rows = tx.execute(
        "SELECT host_id, MIN(id) AS robot FROM robot WHERE name LIKE 'Claimer%%'"
        " GROUP BY host_id ORDER BY host_id"
    ).fetchall()
    return [(row["host_id"], row["robot"]) for row in rows]


def _waiting(tx: Tx, routine: int) -> list[int]:
    sql = "SELECT id FROM run WHERE routine_id = %(routine)s AND state = 'waiting' AND handed_until IS NULL"
    return [row["id"] for row in tx.execute(sql, {"routine": routine}).fetchall()]


def _clear(tx: Tx) -> None:
    tx.execute("UPDATE slot SET run_id = NULL")
    tx.execute("UPDATE run SET state = 'cancelled', handed_until = NULL WHERE state = 'waiting'")
