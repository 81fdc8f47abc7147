"""One row of a loop is one transaction and one try: what fails is counted, put off, and in the end stuck.

Every loop goes through its rows here, so that one row that raises anything at all stops no other. A row
that failed waits with a growing pause; after its last try it is *stuck*: Health shows it with its reason,
and a person has it tried again or gives it up. The statements that find a loop's rows leave out those
that wait, so that no number of them keeps the others from being found.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import partial
from typing import Protocol, TypeVar

import structlog

from tallyman.errors import Away, InputFaults, TallymanError
from tallyman.formats.sound import sound
from tallyman.services.context import Ctx, changed
from tallyman.store.db import Tx
from tallyman.store.records.upkeep import HitchesFind, HitchesOne

log = structlog.get_logger()
LONGEST_PAUSE = timedelta(minutes=15)
NEVER = datetime(9999, 12, 31, tzinfo=UTC)
# A hitch that was due for so long and not tried has no row any more.
FORGOTTEN_AFTER = timedelta(hours=1)


# Ends for good what a hitch is about, for a person's reason.
Drop = Callable[[Tx, Ctx, HitchesFind, str], None]
# Every kind of rows by its name; each stands beside its loop.
WORKS: dict[str, Work] = {}


@dataclass(frozen=True)
class Work:
    """One kind of rows that a loop goes through: its name, what it is in words, and how often it is tried.

    With `drop` a person can end a row for good; without, it is only left alone from then on.
    """

    name: str
    words: str
    most_tries: int = 10
    drop: Drop | None = None

    def __post_init__(self) -> None:
        WORKS[self.name] = self


class HasNumber(Protocol):
    """A row with a number."""

    @property
    def id(self) -> int:
        """The number."""


T = TypeVar("T", bound=int | HasNumber)


@dataclass(frozen=True)
class Tried:
    """What one try came to: how much it did, or that there was nothing to do; or that it failed, why, and
    whether it is stuck now."""

    done: int = 0
    nothing: bool = False
    failed: bool = False
    stuck: bool = False
    why: str = ""


def pause(tries: int) -> timedelta:
    """How long until a row that failed so often is tried again: doubling from two seconds."""
    return min(timedelta(seconds=2 ** min(tries, 12)), LONGEST_PAUSE)


def reason(error: BaseException) -> str:
    """What an error says, fit to be kept and shown, whatever it is."""
    try:
        if isinstance(error, TallymanError):
            said = error.message
        else:
            # What was said for people needs no name of its kind before it.
            said = str(error) if isinstance(error, InputFaults) else f"{type(error).__name__}: {error}"
        # One line: it stands in tables, and characters that nothing can keep are left out.
        return " ".join(sound(str(said))[:2000].split())[:500] or type(error).__name__
    except Exception:
        return f"{type(error).__name__}, which cannot say what it is"


class Rows:
    """One turn of a loop over the rows of one kind of work."""

    def __init__(self, ctx: Ctx, work: Work) -> None:
        self._ctx = ctx
        self._work = work
        self._failed_before: set[str] | None = None

    def go(
        self,
        key: str,
        act: Callable[[], int | None],
        about: str = "",
        obj: str = "",
        failed_before: bool | None = None,
    ) -> Tried:
        """One try of one row. Only what every row needs and is away, as the database, ends the turn.

        `act` gives how much it did, None where there was nothing to do. `about` says to people which row it
        is, `obj` leads there, such as run:12. `failed_before`: whether the row had a hitch, where the caller
        knows; it spares asking.
        """
        try:
            done = act()
        except Away:
            raise
        except (Exception, SystemExit) as error:
            _log(self._work, key, error)
            why = reason(error)
            note = partial(_note, ctx=self._ctx, work=self._work, key=key, about=about, obj=obj, why=why)
            return Tried(failed=True, stuck=self._ctx.db.transact(note), why=why)
        # Another engine was at it: what it finds is its own to say.
        if done is None:
            return Tried(nothing=True)
        if failed_before or (failed_before is None and key in self._before()):
            self._ctx.db.transact(lambda tx: tx.write("hitches.clear", work=self._work.name, key=key))
        return Tried(done)

    def _before(self) -> set[str]:
        if self._failed_before is None:
            rows = self._ctx.db.transact(
                lambda tx: tx.values(str, "hitches.of_work", work=self._work.name, now=self._ctx.now)
            )
            self._failed_before = set(rows)
        return self._failed_before


def _log(work: Work, key: str, error: BaseException) -> None:
    try:
        log.error("row failed", action=f"{work.name}.row.failed", row=key, exc_info=error)
    except Exception:
        log.error("row failed", action=f"{work.name}.row.failed", row=key, kind=type(error).__name__)


def _note(tx: Tx, ctx: Ctx, work: Work, key: str, about: str, obj: str, why: str) -> bool:
    """Counts a failed try; gives whether that was the last."""
    before = tx.one(HitchesOne, "hitches.one", work=work.name, key=key)
    if before is not None and before.due_at > ctx.now:
        return bool(before.due_at == NEVER)
    tries = 1 + (before.tries if before else 0)
    stuck = tries >= work.most_tries
    tx.write(
        "hitches.note",
        work=work.name,
        key=key,
        object=obj[:60],
        about=about[:250],
        tries=tries,
        now=ctx.now,
        due=NEVER if stuck else ctx.now + pause(tries),
        stuck=stuck,
        fault=why,
    )
    changed(tx, ctx, "health")
    return stuck


def each(ctx: Ctx, work: Work, rows: Iterable[T], do: Callable[[Tx, T], int], obj: str = "") -> int:
    """Does something with each row, in a transaction of its own. Gives how much was done.

    A row is known by its number; `obj` is the subject of an object of that number, such as run.
    """
    turn = Rows(ctx, work)
    done = 0
    for row in rows:
        known = str(row if isinstance(row, int) else row.id)
        act = partial(ctx.db.transact, partial(_with_row, do, row))
        done += turn.go(known, act, obj=f"{obj}:{known}" if obj else "").done
    return done


def _with_row(work: Callable[[Tx, T], int], row: T, tx: Tx) -> int:
    return work(tx, row)


def tidy(tx: Tx, ctx: Ctx) -> None:
    """Hitches of rows that are not there any more go."""
    tx.write("hitches.prune", before=ctx.now - FORGOTTEN_AFTER)
