"""Starts by hand: with inputs, on a robot, at a time, several times, or one for each row of a table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from datetime import datetime, timedelta

from tallyman.core.runs import Need
from tallyman.errors import Fault, InputFaults, Refused
from tallyman.formats import cells
from tallyman.formats.columns import LONGEST_CELL, read_lines
from tallyman.formats.schemas import called, check_inputs
from tallyman.services import runs
from tallyman.services.answers import ListLine
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.starts.answers import RefusedRow, Started, StartLook
from tallyman.services.starts.robots_there import faults_of_choice, robots_there
from tallyman.services.upkeep import Once
from tallyman.services.workshop import find_for, pre_check, startable
from tallyman.store.db import Tx
from tallyman.store.records.workshop import Routine

MAKE = "run.make"
MOST_TIMES = 100
MOST_ROWS = 1000
FURTHEST = timedelta(days=366)
TO_START, WRONG = "to be started", "not as it is"
LONGEST_SHOWN = 90


@dataclass(frozen=True)
class Given:
    """A start as somebody wants it. `inputs`: none, those of its set-up; `robot_id`: none, any that may;
    `at`: none, now; `times`: how often the same."""

    inputs: dict[str, object] | None = None
    robot_id: int | None = None
    at: datetime | None = None
    times: int = 1


@dataclass(frozen=True)
class _Row:
    """A line of a table: what it starts, or what is wrong with it."""

    line: int
    inputs: dict[str, object]
    faults: list[str]


def _routine(tx: Tx, ctx: Ctx, routine_id: int) -> Routine:
    ctx.require(MAKE)
    return startable(find_for(tx, ctx, routine_id, MAKE))


def _checked(tx: Tx, ctx: Ctx, routine: Routine, given: Given) -> None:
    """Raises InputFaults naming whatever does not fit, all at once."""
    faults = []
    if routine.attended and given.robot_id is not None:
        message = "it works on a person's own computer; choose no robot"
        faults.append(Fault("robot_id", given.robot_id, message))
    elif not routine.attended:
        faults += faults_of_choice(tx, ctx, routine.area_id, given.robot_id)
    if given.at is not None and not ctx.now - timedelta(minutes=1) <= given.at <= ctx.now + FURTHEST:
        message = f"give a moment from now on, within {FURTHEST.days} days"
        faults.append(Fault("at", given.at.isoformat(timespec="minutes"), message))
    if not 1 <= given.times <= MOST_TIMES:
        faults.append(Fault("times", given.times, f"allowed: 1 to {MOST_TIMES}"))
    try:
        check_inputs(routine.schema, _inputs(routine, given))
    except InputFaults as error:
        faults += error.faults
    if faults:
        raise InputFaults(faults)


def _inputs(routine: Routine, given: Given) -> dict[str, object]:
    return routine.inputs if given.inputs is None else given.inputs


@in_transaction
def look(tx: Tx, ctx: Ctx, routine_id: int, given: Given) -> StartLook:
    """What such a start would need this moment; nothing is kept."""
    routine = _routine(tx, ctx, routine_id)
    with_inputs = replace(routine, inputs=_inputs(routine, given))
    needs: list[Need] = pre_check.of_routine(tx, ctx, with_inputs, given.robot_id)
    there = [] if routine.attended else robots_there(tx, ctx, routine.area_id)
    return StartLook(robots=there, pre_check=needs)


@in_transaction
def start(tx: Tx, ctx: Ctx, routine_id: int, given: Given, key: str) -> Started:
    """Starts a routine so; the same key gives the same again.

    Several times makes a group of runs. Raises InputFaults for whatever does not fit.
    """
    once = Once("by hand", key, [routine_id, asdict(given)])
    known = once.known(tx, ctx)
    if known is None:
        routine = _routine(tx, ctx, routine_id)
        _checked(tx, ctx, routine, given)
        rows = [(n, _inputs(routine, given)) for n in range(1, given.times + 1)]
        times = f"{given.times} times"
        known = _make(tx, ctx, routine, rows, given, times) if given.times > 1 else None
        if known is None:
            known = _one(tx, ctx, routine, _inputs(routine, given), given, None)
            audit(tx, ctx, "run started", f"run:{known}", f"Started {routine.name}{_when(given)}")
        once.made(tx, ctx, known)
    several = given.times > 1
    return Started(None if several else known, known if several else None, given.times)


def _when(given: Given) -> str:
    return " now" if given.at is None else f" for {given.at:%Y-%m-%d %H:%M} UTC"


def _one(
    tx: Tx,
    ctx: Ctx,
    routine: Routine,
    inputs: dict[str, object],
    given: Given,
    group: tuple[int, int] | None,
) -> int:
    due = None if given.at is None or given.at <= ctx.now else given.at
    robot = given.robot_id
    return runs.add(tx, ctx, routine, ctx.actor.name, inputs=inputs, due=due, only_robot=robot, group=group)


def _make(
    tx: Tx,
    ctx: Ctx,
    routine: Routine,
    rows: Sequence[tuple[int, dict[str, object]]],
    given: Given,
    words: str,
    refused: Sequence[_Row] = (),
) -> int:
    """A group with a run for each row; its number."""
    kept = [{"line": one.line, "faults": one.faults} for one in refused]
    group = tx.insert(
        "groups.add",
        routine=routine.id,
        person=ctx.actor.person_id,
        words=words[:200],
        refused=kept,
        now=ctx.now,
    )
    for line, inputs in rows:
        _one(tx, ctx, routine, inputs, given, (group, line))
    said = f"Started {routine.name}{_when(given)}, {words}: {len(rows)} runs"
    said += f", {len(refused)} rows refused" if refused else ""
    audit(tx, ctx, "runs started", f"routine:{routine.id}", said, None, {"group": group})
    changed(tx, ctx, "runs")
    return int(group)


def _lines(schema: dict[str, object], text: str) -> list[tuple[int, dict[str, str]]]:
    """The lines of a table of inputs. Raises InputFaults for what is none."""
    heads = cells.heads_of(schema)
    if not heads:
        raise InputFaults([Fault("file", None, "the package takes no inputs, so there is nothing to head")])
    return read_lines(text.encode(), heads, (), MOST_ROWS, closed=True)


def _rows(routine: Routine, lines: Sequence[tuple[int, dict[str, str]]]) -> list[_Row]:
    """What each line starts, or why it does not: what a line leaves out is what the set-up says."""
    found = []
    for number, given in lines:
        long = [f"{name}: longer than {LONGEST_CELL} characters" for name, one in given.items() if _long(one)]
        inputs = {**routine.inputs, **cells.inputs_of(routine.schema, given)}
        faults = long
        try:
            check_inputs(routine.schema, inputs)
        except InputFaults as error:
            faults = long + [called(routine.schema, one) for one in error.faults]
        found.append(_Row(number, inputs, faults))
    return found


def _long(cell: str) -> bool:
    return len(cell) > LONGEST_CELL


def _named(row: _Row, lines: dict[int, dict[str, str]]) -> str:
    words = ", ".join(cell for cell in lines[row.line].values() if cell)
    return words if len(words) <= LONGEST_SHOWN else f"{words[: LONGEST_SHOWN - 1]}…"


def look_at_rows(ctx: Ctx, routine_id: int, text: str) -> list[ListLine]:
    """What each row of a table would start, or why it would not; nothing is kept."""
    routine = ctx.db.transact(lambda tx: _routine(tx, ctx, routine_id))
    lines = _lines(routine.schema, text)
    by_line = dict(lines)
    return [
        ListLine(row.line, _named(row, by_line), WRONG if row.faults else TO_START, row.faults)
        for row in _rows(routine, lines)
    ]


def start_rows(ctx: Ctx, routine_id: int, text: str, given: Given, key: str) -> Started:
    """Starts a run for each row of a table that fits, as one group that names the rows it refused.

    The same key gives the same group again. Raises InputFaults where no row fits.
    """
    routine = ctx.db.transact(lambda tx: _routine(tx, ctx, routine_id))
    rows = _rows(routine, _lines(routine.schema, text))
    good = [(row.line, row.inputs) for row in rows if not row.faults]
    refused = [row for row in rows if row.faults]
    if not good:
        first = refused[0].faults[0] if refused else "it holds no row below its heads"
        raise InputFaults([Fault("text", None, f"no row of it fits: {first}")])

    def work(tx: Tx) -> int:
        once = Once("rows", key, [routine_id, text, asdict(given)])
        known = once.known(tx, ctx)
        if known is not None:
            return known
        now = _routine(tx, ctx, routine_id)
        if now.version != routine.version:
            # The rows were read by what it took then.
            raise Refused(f"Somebody changed {now.name} meanwhile.", "Look at the table again.")
        _checked(tx, ctx, replace(now, inputs=good[0][1]), replace(given, inputs=None))
        made = _make(tx, ctx, now, good, given, "a run for each row of a table", refused)
        once.made(tx, ctx, made)
        return made

    return Started(None, ctx.db.transact(work), len(good))


def refused_of(kept: object) -> list[RefusedRow]:
    """The rows that a group refused, as they were kept."""
    assert isinstance(kept, list)
    return [RefusedRow(one["line"], one["faults"]) for one in kept]
