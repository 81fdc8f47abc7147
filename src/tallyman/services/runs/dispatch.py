"""What a runner asks: to stay connected, and for work."""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from decimal import Decimal
from functools import partial

from tallyman.core.runs import RobotFacts
from tallyman.core.runs.starting import eligible
from tallyman.errors import Away, Clash, Unavailable
from tallyman.services.context import WORK, Ctx, audit, changed, in_transaction
from tallyman.services.robots import host_tokens, readings, robot_facts, slots
from tallyman.services.runs import handover, screens, stalling
from tallyman.services.runs.answers import HeartbeatAnswer, HeldOut, Signed, WorkGiven
from tallyman.services.upkeep import Rows, Work
from tallyman.services.workshop import Ask, Wants, ask_of, rolling
from tallyman.store.db import ENDS_TRANSACTION, Tx
from tallyman.store.records.robots import HostByToken, RobotsAccountsOfHost
from tallyman.store.records.runs import (
    LockedRun,
    RunsAsked,
    RunsDueByRoutine,
    RunsOfHost,
    RunsWaitingFirst,
    RunsWaitingRoutines,
)
from tallyman.store.records.workshop import ReleaseWhole, Routine

CLAIMS = Work("claims", "handing a run to a robot")

# The first due run fits nearly always; only when it does not are many read at once.
LOOKED_AT_FIRST = 3
LOOKED_AT = 100
MOST_TRIES = 12
# Well below the 30 s after which a host counts as silent.
NOTED_AFTER = timedelta(seconds=8)
NOTED_DRIFT_MS = 500
EARLIEST = datetime(1970, 1, 1, tzinfo=UTC)


@dataclass(frozen=True)
class Beat:
    """What a heartbeat says: the runner's clock, what it works on, and how it stands.

    `accounts` holds the run-as accounts that the runner looked at, each with why it cannot be used, or
    an empty text. `fresh`: it has just started, and names everything it knows of. `leaving`: it is
    being stopped and takes nothing more. `reading`: what was asked for with the beat before.
    `in_use`: somebody works at the computer itself. `quiet`: for how many seconds each run gave no sign.
    """

    clock: datetime
    runs: list[tuple[int, int]]
    accounts: dict[str, str] | None = None
    fresh: bool = False
    leaving: bool = False
    reading: readings.Reading | None = None
    in_use: bool = False
    quiet: dict[int, int] = field(default_factory=dict)


@in_transaction
def heartbeat(tx: Tx, ctx: Ctx, host: HostByToken, beat: Beat) -> HeartbeatAnswer:
    """Renews the leases of what the runner still works on; says what to pause, cancel or drop."""
    ahead = int((beat.clock - ctx.now) / timedelta(milliseconds=1))
    ahead = max(-(10**12), min(10**12, ahead))
    noted = _worth_noting(ctx, host, ahead, beat.leaving or beat.fresh)
    if noted:
        leaving = ctx.now if beat.leaving else None
        tx.write("robots.heard", id=host.id, now=ctx.now, ahead=ahead, leaving=leaving)
    if beat.accounts is not None and beat.accounts != host.accounts:
        tx.write("robots.set_accounts", id=host.id, accounts=beat.accounts)
        changed(tx, ctx, "robots")
    if beat.reading is not None:
        readings.take(tx, ctx, host, beat.reading, ahead)
    _in_use(tx, ctx, host, beat)
    _noted(tx, ctx, host, beat)
    if host.silent_told or host.heard_at is None or beat.fresh or beat.leaving:
        changed(tx, ctx, "robots")
        changed(tx, ctx, "runs")
    if beat.fresh or beat.leaving:
        handover.settle_with(tx, ctx, host, set(beat.runs), all_told=beat.fresh)
    kept: list[HeldOut] = []
    stop: list[int] = []
    for run_id, fence in beat.runs:
        if tx.write("runs.renew", id=run_id, fence=fence, host=host.id, now=ctx.now):
            kept.append(HeldOut(run=run_id, fence=fence))
        else:
            stop.append(run_id)
    mine = {one.run for one in kept}
    working = [row for row in tx.all(RunsOfHost, "runs.of_host", host=host.id) if row.id in mine]
    stalling.heard(tx, ctx, working, beat.quiet)
    accounts = tx.all(RobotsAccountsOfHost, "robots.accounts_of_host", host=host.id)
    return HeartbeatAnswer(
        at=ctx.now,
        kept=kept,
        cancel=[row.id for row in working if row.cancel_at is not None],
        pause=[row.id for row in working if row.pause_at is not None],
        stop=stop,
        accounts=[row.account for row in accounts],
        token=host_tokens.rotated(tx, ctx, host),
        read=readings.wanted(tx, ctx, host) if noted and beat.reading is None else None,
        prove=[row.account for row in accounts if row.to_prove],
        screens=screens.wanted(tx, working),
    )


def _in_use(tx: Tx, ctx: Ctx, host: HostByToken, beat: Beat) -> None:
    """Whether a person's own computer is in use by them; of others that is nobody's concern."""
    used = beat.in_use and host.owner_id is not None and not beat.leaving
    if used == (host.in_use_since is not None):
        return
    tx.write("own.in_use", id=host.id, since=ctx.now if used else None)
    for subject in ("robots", "runs", WORK):
        changed(tx, ctx, subject)


def _noted(tx: Tx, ctx: Ctx, host: HostByToken, beat: Beat) -> None:
    """What happens to a host's connection stands in its history: each once."""
    words = ""
    if beat.fresh:
        words = f"The runner of {host.name} started"
    elif beat.leaving and host.leaving_at is None:
        words = f"The runner of {host.name} is being stopped"
    elif host.silent_told:
        words = f"{host.name} is heard from again"
    if words:
        audit(tx, ctx, "host heard", f"host:{host.id}", words)


def _worth_noting(ctx: Ctx, host: HostByToken, ahead: int, moved: bool) -> bool:
    """Whether a heartbeat is to be written: not each one, as 200 idle hosts would keep the disk busy."""
    if host.heard_at is None or host.silent_told or ctx.now < host.heard_at:
        return True
    if moved or host.leaving_at is not None:
        return True
    drifted = abs(ahead - (host.clock_ahead_ms or 0)) > NOTED_DRIFT_MS
    return drifted or ctx.now - host.heard_at > NOTED_AFTER


@in_transaction
def who_may_take(tx: Tx, ctx: Ctx, listening: set[int]) -> set[int]:
    """Which of the hosts that wait for work are worth waking: two for each run that could start now.

    Waking is no claim: a host that is woken in vain asks again, and one that is not is woken next time.
    """
    if not listening:
        return set()
    due = {row.routine_id: row.runs for row in tx.all(RunsDueByRoutine, "runs.due_by_routine", now=ctx.now)}
    if not due:
        return set()
    robots = [one for one in robot_facts(tx) if one.host_id in listening and one.busy_with is None]
    found: set[int] = set()
    # A routine that cannot be looked at wakes nobody; whoever asks for work notes why.
    routines = tx.all(RunsWaitingRoutines, "runs.waiting_routines")
    asks = {row.routine_id: ask_of(row) for row in routines}
    wants = Wants(tx, asks.values())
    for row in routines:
        ask = asks[row.routine_id]
        able = {one.host_id for one in _eligible(wants, ctx, ask, ctx.now, robots, {}, "")} - found
        most = 2 * min(due.get(row.routine_id, 0), row.run_limit - row.active)
        found |= set(random.sample(sorted(able), min(most, len(able))))
    # A run that one robot alone may take wakes nobody else in its place.
    chosen = set(tx.values(int, "runs.chosen_robots", now=ctx.now))
    found |= {one.host_id for one in robots if one.robot_id in chosen}
    return found


@in_transaction
def asked(tx: Tx, ctx: Ctx, host: HostByToken, key: str | None) -> WorkGiven | None:
    """What this ask was given before, if its answer was lost on the way."""
    row = None if key is None else tx.one(RunsAsked, "runs.asked", host=host.id, key=key)
    if row is None:
        return None
    run = tx.one(LockedRun, "runs.lock", id=row.run_id)
    robot = next((one for one in robot_facts(tx, host.id) if one.robot_id == row.robot_id), None)
    return None if run is None or robot is None else _work_of(tx, run, robot)


def take(ctx: Ctx, host: HostByToken, key: str | None = None, *, begins: bool = False) -> WorkGiven | None:
    """The first waiting run that a free robot of this host may take, or None. A host that leaves gets none.

    A runner that `begins` what it is handed says so itself; for one of the release before, which does
    not, the run is begun with the claim.

    Looking and taking are two transactions: the second only writes, under conditions, so that it
    stands on nothing that another engine or web process may have changed since. The key is kept
    with the claim, so that `asked` finds it when the answer is lost.
    """
    tried: set[int] = set()
    turn = Rows(ctx, CLAIMS)
    for _ in range(MOST_TRIES):
        faulty: dict[str, BaseException] = {}
        choice = ctx.db.transact(partial(_choose, ctx=ctx, host=host, tried=tried, faulty=faulty))
        for obj, error in faulty.items():
            turn.go(obj, partial(_fails, error), obj=obj)
        if choice is None:
            return None
        tried.add(choice[0])
        run_id, robot, failed_before = choice
        claim = _Claim(ctx, host, run_id, robot, key, begins)
        tried_it = turn.go(f"run:{run_id}", claim.go, obj=f"run:{run_id}", failed_before=failed_before)
        if claim.answer is not None or tried_it.nothing:
            return claim.answer
    return None


class _Claim:
    """One try to take one run. `answer` is what the runner is told, once there is something to tell."""

    def __init__(
        self, ctx: Ctx, host: HostByToken, run_id: int, robot: RobotFacts, key: str | None, begins: bool
    ) -> None:
        self._give = partial(_give, ctx=ctx, host=host, run_id=run_id, robot=robot, key=key, begins=begins)
        self._ctx, self._host, self._key = ctx, host, key
        self.answer: WorkGiven | None = None

    def go(self) -> int | None:
        """Gives 1 if the run was taken, 0 if another may be tried, None if this ask was answered before."""
        try:
            self.answer = self._ctx.db.transact(self._give)
        except Away:
            raise
        except (slots.Taken, Unavailable):
            return 0
        except Clash:
            # The same ask was answered meanwhile by another process.
            self.answer = asked(self._ctx, self._host, self._key)
            return None
        return 1


def _fails(error: BaseException) -> int:
    raise error


def _eligible(
    wants: Wants,
    ctx: Ctx,
    ask: Ask,
    due: datetime,
    robots: list[RobotFacts],
    faulty: dict[str, BaseException],
    obj: str,
) -> list[RobotFacts]:
    """The robots that may take a routine's or a run's work; none, and why, if it cannot be looked at."""
    try:
        return eligible(wants.of(ask, due), robots, ctx.now)
    except ENDS_TRANSACTION:
        raise
    except Exception as error:
        faulty[obj] = error
        return []


def _choose(
    tx: Tx, ctx: Ctx, host: HostByToken, tried: set[int], faulty: dict[str, BaseException]
) -> tuple[int, RobotFacts, bool] | None:
    """The first run in the order of rules §7 that a free robot of this host may take now.

    What cannot be looked at is put into `faulty`, under its object, and stops no other. Gives the run, the
    robot, and whether handing it out failed before.
    """
    faulty.clear()
    # Most hosts have nothing to do most of the time; that must cost next to nothing. Whether it leaves is
    # asked now, as its runner may have said so since it asked for work.
    if tx.value(int, "runs.anything_for_host", host=host.id, now=ctx.now) is None:
        return None
    robots = [robot for robot in robot_facts(tx, host.id) if robot.busy_with is None]
    if not robots:
        return None
    asks = {row.routine_id: ask_of(row) for row in tx.all(RunsWaitingRoutines, "runs.waiting_routines")}
    wants = Wants(tx, asks.values())
    able = {
        number: ask
        for number, ask in asks.items()
        if _eligible(wants, ctx, ask, ctx.now, robots, faulty, f"routine:{number}")
    }
    order, after, most = EARLIEST, 0, LOOKED_AT_FIRST
    while able:
        rows = tx.all(
            RunsWaitingFirst,
            "runs.waiting_first",
            routines=tuple(able),
            now=ctx.now,
            order=order,
            after=after,
            limit=most,
        )
        for row in rows:
            if row.id in tried:
                continue
            ask = able[row.routine_id].for_run(row)
            found = _eligible(wants, ctx, ask, row.due_at, robots, faulty, f"run:{row.id}")
            if found:
                return row.id, found[0], bool(row.failed_before)
        if len(rows) < most:
            break
        order, after, most = rows[-1].order_at, rows[-1].id, LOOKED_AT
    return None


def _give(
    tx: Tx,
    ctx: Ctx,
    host: HostByToken,
    run_id: int,
    robot: RobotFacts,
    key: str | None = None,
    begins: bool = False,
) -> WorkGiven:
    """Takes the run and every place by conditional writes; any that is gone undoes all."""
    rolling.try_on(tx, run_id, robot.robot_id)
    until = ctx.now + handover.BEGINS_WITHIN
    claim = {"robot": robot.robot_id, "host": host.id, "until": until, "now": ctx.now}
    if not tx.write("runs.claim", id=run_id, **claim):
        raise slots.Taken
    run = tx.one(LockedRun, "runs.lock", id=run_id)
    assert run is not None
    if key is not None:
        tx.write("runs.add_ask", host=host.id, key=key, run=run_id, fence=run.fence, now=ctx.now)
    slots.take_all(tx, run_id, robot.robot_id, host.id, run.routine_id, run.for_person)
    changed(tx, ctx, "runs", run_id)
    if not begins:
        handover.begin_in(tx, ctx, host, run_id, run.fence)
        run = tx.one(LockedRun, "runs.lock", id=run_id)
        assert run is not None
    return _work_of(tx, run, robot)


def _work_of(tx: Tx, run: LockedRun, robot: RobotFacts) -> WorkGiven:
    """What the runner is told of a run it took."""
    release = tx.one(ReleaseWhole, "packages.release", id=run.release_id)
    routine = tx.one(Routine, "routines.routine", id=run.routine_id)
    assert release is not None and routine is not None
    worked = int(tx.value(Decimal, "runs.worked_seconds", run=run.id) or 0) if run.segment else 0
    return WorkGiven(
        run=run.id,
        fence=run.fence,
        segment=run.segment + (run.state == "waiting"),
        robot=robot.name,
        robot_id=robot.robot_id,
        account=robot.account,
        package=release.package,
        version=release.version,
        entry=release.entry,
        digest=release.digest,
        wheels=release.wheels or [],
        saved=run.saved_digest,
        inputs=run.inputs,
        input_schema=release.inputs,
        limit_seconds=max(1, routine.limit_minutes * 60 - worked),
        lease_seconds=routine.lease_minutes * 60,
        memory_mb=routine.memory_mb,
        secrets=release.secrets or [],
        signed=Signed(release.public_half or "", release.signature) if release.signature else None,
    )
