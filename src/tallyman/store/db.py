"""The only place that talks to MariaDB: pool, transactions with retry, verbs by result shape."""

from __future__ import annotations

import contextlib
import json
import queue
import secrets
import threading
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from datetime import UTC, datetime
from decimal import Decimal
from fractions import Fraction
from typing import Any, TypeVar

import pymysql
from pymysql.constants import FIELD_TYPE
from pymysql.converters import conversions
from pymysql.cursors import Cursor, DictCursor
from tenacity import (
    RetryCallState,
    Retrying,
    retry_if_exception_type,
    stop_after_delay,
    wait_incrementing,
    wait_random,
)

from tallyman.core.exact import rounded
from tallyman.errors import Away, Clash, Unavailable
from tallyman.store.record import Record
from tallyman.store.records import GIVES
from tallyman.store.refusals import Unlinked, refusal
from tallyman.store.statements import STATEMENTS

Row = dict[str, Any]
T = TypeVar("T")
R = TypeVar("R", bound=Record)
V = TypeVar("V")
# Deadlock, lock wait, snapshot conflict: the same work done again may succeed.
TRY_AGAIN = (1213, 1205, 1020)
# A table that is altered and cannot be put in its place, as another one's work on what hangs on it is in the
# way: a deadlock as well, told with another number and in words alone.
RENAME_FAILED, IN_DEADLOCK = 1025, "errno: 149"
# The connection is gone, or its node of a cluster left, maybe in the middle of a commit (1180): another
# connection may do.
LOST = (2006, 2013, 2055, 1927, 1053, 1047, 1180)
# Ends the transaction it happens in, so that nothing may catch it inside.
ENDS_TRANSACTION = (pymysql.err.OperationalError, pymysql.err.InterfaceError)
MOST_TRIES = 8
MOST_TRIES_LOST = 2
# While a migration changes a table, what points at it is refused for a moment.
MOST_TRIES_UNLINKED = 3
ASK_SECONDS = 10.0
# The time is only for tidying up; nothing is decided by it.
MARK = "INSERT INTO commit_mark (token, at) VALUES (%(token)s, UTC_TIMESTAMP(6))"


def _utc(text: str) -> datetime | str:
    try:
        return datetime.fromisoformat(text).replace(tzinfo=UTC)
    except ValueError:
        return text


def _instant(value: datetime, _mapping: Any = None) -> str:
    if value.tzinfo is None:
        raise ValueError("a naive time reached the store; hand down an aware one")
    return f"'{value.astimezone(UTC).strftime('%Y-%m-%d %H:%M:%S.%f')}'"


def plain(value: Any) -> Any:
    """Turns exact numbers and times into what JSON keeps without loss."""
    if isinstance(value, Decimal):
        return f"{value:f}"
    if isinstance(value, Fraction):
        return f"{rounded(value, 6):f}"
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat()
    return str(value)


def dump(value: Any) -> str:
    """A value as JSON text for a column whose name ends in _json."""
    return json.dumps(value, default=plain, ensure_ascii=False)


CONVERSIONS: dict[Any, Any] = {
    **conversions,
    FIELD_TYPE.DATETIME: _utc,
    FIELD_TYPE.TIMESTAMP: _utc,
    datetime: _instant,
    Fraction: lambda value, _mapping=None: f"{rounded(value, 6):f}",
}
READERS: dict[Any, Any] = {key: value for key, value in CONVERSIONS.items() if isinstance(key, int)}
WRITERS: dict[Any, Any] = {key: value for key, value in CONVERSIONS.items() if not isinstance(key, int)}


def _kept(params: Mapping[str, Any]) -> dict[str, Any]:
    """Objects and lists go into JSON columns; a tuple is a list of values for IN."""
    return {key: dump(value) if isinstance(value, dict | list) else value for key, value in params.items()}


def _given(record: type[R], name: str) -> Callable[[Sequence[Any]], R]:
    """How rows of a statement are read; raises TypeError for a record that the statement does not give."""
    if GIVES[name] is not record:
        raise TypeError(f"{name} gives {GIVES[name].__name__}, not {record.__name__}")
    return record.read


def _value(kind: type[V], name: str, value: Any) -> V:
    """A plain value of the kind that was asked for; raises TypeError for one of another kind."""
    if kind is bool:
        value = bool(value)
    elif kind in (dict, list) and isinstance(value, str):
        value = json.loads(value)
    if not isinstance(value, kind):
        raise TypeError(f"{name} gives {type(value).__name__}, not {kind.__name__}")
    return value


def _in_the_way(error: Exception) -> bool:
    """Whether another one's work was in the way, so that the same done again may succeed."""
    code = error.args[0] if error.args else 0
    return code in TRY_AGAIN or (code == RENAME_FAILED and IN_DEADLOCK in str(error.args[-1]))


@contextlib.contextmanager
def _in_words() -> Iterator[None]:
    """What the database refuses is told in words."""
    try:
        yield
    except pymysql.err.MySQLError as error:
        refused = refusal(error)
        if refused is None:
            raise
        raise refused from error


class Tx:
    """An open transaction. Statements are asked for by name, `subject.statement`."""

    def __init__(self, connection: pymysql.connections.Connection[DictCursor]) -> None:
        self._connection = connection
        self._wrote = False
        self._kept: dict[tuple[str, str], list[Any]] = {}
        self._at_end: dict[str, dict[str, dict[str, Any]]] = {}

    @property
    def wrote(self) -> bool:
        """Whether anything was written, so that a commit without an answer matters."""
        return self._wrote

    def _run(self, name: str, params: Mapping[str, Any]) -> DictCursor:
        return self.execute(STATEMENTS[name].sql, _kept(params))

    def execute(self, sql: str, params: Mapping[str, Any] | None = None) -> DictCursor:
        """Runs SQL text; only the store itself may hand in text."""
        cursor = self._connection.cursor(DictCursor)
        with _in_words():
            cursor.execute(sql, params or {})
        return cursor

    def _read(self, name: str, params: Mapping[str, Any]) -> Cursor:
        cursor = self._connection.cursor(Cursor)
        cursor.execute(STATEMENTS[name].sql, _kept(params))
        return cursor

    def all(self, record: type[R], name: str, /, **params: Any) -> list[R]:
        """Every row of a named statement, as the record that it gives."""
        read = _given(record, name)
        return [read(row) for row in self._read(name, params).fetchall()]

    def one(self, record: type[R], name: str, /, **params: Any) -> R | None:
        """The only row of a named statement, or None."""
        row = self._read(name, params).fetchone()
        return None if row is None else _given(record, name)(row)

    def count(self, name: str, /, **params: Any) -> int:
        """The number that a statement counts, which is never missing."""
        return self.value(int, name, **params) or 0

    def values(self, kind: type[V], name: str, /, **params: Any) -> list[V]:
        """The only column of every row of a named statement."""
        return [_value(kind, name, row[0]) for row in self._read(name, params).fetchall()]

    def kept(self, record: type[R], name: str, /, **params: Any) -> list[R]:
        """Every row of a named statement, read once however often it is asked for in this transaction,
        until something is written."""
        key = (name, repr(sorted(params.items())))
        if key not in self._kept:
            self._kept[key] = self.all(record, name, **params)
        return self._kept[key]

    def value(self, kind: type[V], name: str, /, **params: Any) -> V | None:
        """The only column of the only row, or None."""
        row = self._read(name, params).fetchone()
        return None if row is None or row[0] is None else _value(kind, name, row[0])

    def composed(self, sql: str, params: Mapping[str, Any]) -> list[tuple[Any, ...]]:
        """Rows of SQL that the store has put together, as they come."""
        cursor = self._connection.cursor(Cursor)
        cursor.execute(sql, params)
        return list(cursor.fetchall())

    def describe(self, sql: str) -> tuple[Any, ...]:
        """The columns of what a statement would give, as the driver describes them."""
        cursor = self._connection.cursor(Cursor)
        cursor.execute(sql)
        result: Any = getattr(cursor, "_result")  # noqa: B009 - the driver shows it nowhere else
        return tuple(result.fields) if result else ()

    def _writes(self) -> None:
        self._wrote = True
        self._kept.clear()

    def write(self, name: str, /, **params: Any) -> int:
        """Writes, and says how many rows the statement matched and changed."""
        self._writes()
        done = self._run(name, params).rowcount
        self._worths_moved(name, params)
        return done

    def insert(self, name: str, /, **params: Any) -> int:
        """Inserts one row and gives its number."""
        self._writes()
        number = int(self._run(name, params).lastrowid)
        self._worths_moved(name, params)
        return number

    def _worths_moved(self, name: str, params: Mapping[str, Any]) -> None:
        """Marks, in the transaction that moves them, the worths that are to be reckoned anew."""
        moves = STATEMENTS[name].moves_worths
        if moves == "all":
            self._run("worths.mark_all", {})
        elif moves:
            self._run("worths.mark", {"idea": params[moves]})

    def at_end(self, name: str, /, **params: Any) -> None:
        """Written when the transaction ends, once for the same parameters, in one statement with its like."""
        self._wrote = True
        self._at_end.setdefault(name, {})[repr(sorted(params.items()))] = params

    def end(self) -> None:
        """Writes what was kept for the end."""
        for name, rows in self._at_end.items():
            self.many(name, rows.values())
        self._at_end.clear()

    def many(self, name: str, rows: Iterable[Mapping[str, Any]]) -> None:
        """Inserts many rows by the same statement."""
        self._writes()
        with _in_words():
            self._connection.cursor().executemany(STATEMENTS[name].sql, [_kept(row) for row in rows])


class _Conflict(Exception):
    """Another transaction was in the way of this one."""


class _Gone(Exception):
    """The connection ended, and the work did not take place."""


def _enough(state: RetryCallState) -> bool:
    error = state.outcome.exception() if state.outcome else None
    if error is not None and isinstance(error.__cause__, Unlinked):
        return state.attempt_number >= MOST_TRIES_UNLINKED
    return (
        state.attempt_number > MOST_TRIES_LOST
        if isinstance(error, _Gone)
        else state.attempt_number >= MOST_TRIES
    )


_TRIED_AGAIN = Retrying(
    retry=retry_if_exception_type((_Conflict, _Gone)),
    stop=_enough,
    wait=wait_incrementing(0.002, 0.01) + wait_random(0, 0.02),
    reraise=True,
)
_ASKED_AGAIN = Retrying(
    retry=retry_if_exception_type((pymysql.err.Error, Unavailable)),
    stop=stop_after_delay(ASK_SECONDS),
    wait=wait_random(0.1, 0.3),
    reraise=True,
)


class Database:
    """A pool of connections to one database."""

    def __init__(
        self,
        *,
        host: str = "127.0.0.1",
        port: int = 3306,
        user: str,
        password: str,
        name: str | None,
        size: int = 12,
        more: Iterable[tuple[str, int]] = (),
    ) -> None:
        self._nodes = ((host, port), *more)
        self._settings: dict[str, Any] = {
            "user": user,
            "password": password,
            "database": name,
        }
        self._idle: queue.LifoQueue[pymysql.connections.Connection[DictCursor]] = queue.LifoQueue()
        self._room = threading.BoundedSemaphore(size)

    def _connect(self) -> pymysql.connections.Connection[DictCursor]:
        """A connection to the first node that answers and takes work."""
        code = 0
        for host, port in self._nodes:
            try:
                return pymysql.connect(
                    **self._settings,
                    host=host,
                    port=port,
                    charset="utf8mb4",
                    ssl_disabled=True,
                    autocommit=False,
                    connect_timeout=5,
                    read_timeout=120,
                    local_infile=False,
                    conv={**READERS, **WRITERS},
                    client_flag=pymysql.constants.CLIENT.FOUND_ROWS,
                    init_command="SET SESSION innodb_snapshot_isolation=ON, time_zone='+00:00', "
                    "sql_mode='STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION,ERROR_FOR_DIVISION_BY_ZERO'",
                )
            except pymysql.err.OperationalError as error:
                code = error.args[0]
        raise Away(f"the database does not answer ({code})")

    @contextlib.contextmanager
    def _connection(self) -> Iterator[pymysql.connections.Connection[DictCursor]]:
        if not self._room.acquire(timeout=20):
            raise Away("all connections to the database are busy")
        connection = None
        try:
            try:
                connection = self._idle.get_nowait()
            except queue.Empty:
                connection = self._connect()
            yield connection
        except BaseException:
            if connection is not None:
                with contextlib.suppress(Exception):
                    connection.rollback()
                if not connection.open:
                    connection = None
            raise
        finally:
            if connection is not None and connection.open:
                self._idle.put(connection)
            self._room.release()

    def transact(self, work: Callable[[Tx], T]) -> T:
        """Runs the work in one transaction; done again when another one was in its way.

        The work must do nothing but use the transaction, as it may run more than once. A commit
        that gets no answer is asked after by the mark it wrote, so that nothing is done twice.
        """
        try:
            result: T = _TRIED_AGAIN(self._once, work)
            return result
        except _Conflict as error:
            if isinstance(error.__cause__, Unlinked):
                raise error.__cause__ from None
            raise Unavailable("too many others changed the same just now", "Try again") from error
        except _Gone as error:
            raise Away("the database went away", "Try again in a moment") from error

    def _once(self, work: Callable[[Tx], T]) -> T:
        token = secrets.token_hex(16)
        committing = False
        try:
            with self._connection() as connection:
                tx = Tx(connection)
                result = work(tx)
                tx.end()
                if tx.wrote:
                    tx.execute(MARK, {"token": token})
                committing = tx.wrote
                connection.commit()
                return result
        except ENDS_TRANSACTION as error:
            code = error.args[0] if error.args else 0
            if code in LOST or isinstance(error, pymysql.err.InterfaceError):
                self.close()
                if committing and self._committed(token):
                    return result
                raise _Gone from error
            if not _in_the_way(error):
                raise
            raise _Conflict from error
        except Unlinked as error:
            raise _Conflict from error

    def _committed(self, token: str) -> bool:
        """Whether a transaction whose commit got no answer took place after all.

        Writing its mark once more settles it: the mark is there (it did), or it is ours now, and a
        straggler that still tries to commit fails on it. Raises Away while nobody can tell.
        """
        try:
            _ASKED_AGAIN(self._mark, token)
        except Clash:
            return True
        except (pymysql.err.Error, Unavailable) as error:
            message = "the database went away while a change was being kept"
            raise Away(message, "Look whether it is done") from error
        return False

    def _mark(self, token: str) -> None:
        try:
            with self._connection() as connection:
                Tx(connection).execute(MARK, {"token": token})
                connection.commit()
        except (pymysql.err.Error, Unavailable):
            self.close()
            raise

    def close(self) -> None:
        """Closes every idle connection."""
        while True:
            try:
                connection = self._idle.get_nowait()
            except queue.Empty:
                return
            with contextlib.suppress(Exception):
                connection.close()
