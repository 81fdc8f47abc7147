"""The runner's protocol, version 1 (docs/runner-protocol.md)."""

from __future__ import annotations

import asyncio
from datetime import datetime
from decimal import Decimal
from functools import partial
from typing import Annotated, Literal

from fastapi import Path, Query, Request, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.concurrency import run_in_threadpool

from tallyman.api.common import MOST, AccountName, Anyone, Done, In, Number, Runner
from tallyman.api.edge import Hint, Hub
from tallyman.api.routing import Routes
from tallyman.config import read_clock
from tallyman.errors import Unavailable
from tallyman.services.context import Ctx
from tallyman.services.robots import HostByToken, host_tokens, passwords, readings
from tallyman.services.runs import dispatch, handover, reports, screens, uploads
from tallyman.services.runs.answers import (
    Connected,
    HeartbeatAnswer,
    Kept,
    Reported,
    SecretValues,
    Uploaded,
    WorkGiven,
)

router = Routes(prefix="/runner", tags=["runner"])
WAIT_SECONDS = 18.0


Digest = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
DigestPath = Annotated[str, Path(pattern=r"^[0-9a-f]{64}$")]


class Connect(In):
    """A one-time code, and what the host is."""

    code: Annotated[str, Field(max_length=40)]
    protocol: Annotated[int, Field(ge=0, le=1000)]
    account: Annotated[str, Field(max_length=80)]
    facts: dict[Annotated[str, Field(max_length=40)], Annotated[str, Field(max_length=200)]]
    machine: Annotated[str, Field(max_length=200)] = ""


class Lenient(BaseModel):
    """What a runner tells of a package: a field that is not known is no reason to lose the rest."""

    model_config = ConfigDict(extra="ignore")


class Held(In):
    """A run that the runner works on."""

    run: Number
    fence: Annotated[int, Field(ge=1, le=MOST)]
    # For how many seconds it gave no sign.
    quiet: Annotated[int, Field(ge=0, le=MOST)] = 0


Megabytes = Annotated[int, Field(ge=0, le=MOST)]
Short = Annotated[str, Field(max_length=80)]


class ReadingIn(Lenient):
    """How the host is this moment; what its runner cannot tell is left out."""

    facts: dict[Annotated[str, Field(max_length=40)], Annotated[str, Field(max_length=200)]] = {}
    cpu_percent: Annotated[Decimal, Field(ge=0, le=100, max_digits=4, decimal_places=1)] | None = None
    memory_free_mb: Megabytes | None = None
    disk_free_mb: Megabytes | None = None
    applications: Annotated[list[Short], Field(max_length=200)] = []
    accounts: Annotated[list[Short], Field(max_length=200)] | None = None
    screen: Annotated[str, Field(max_length=20)] = ""

    def taken(self) -> readings.Reading:
        """The same as the use case takes it."""
        accounts = None if self.accounts is None else tuple(self.accounts)
        return readings.Reading(
            self.facts,
            self.cpu_percent,
            self.memory_free_mb,
            self.disk_free_mb,
            tuple(self.applications),
            accounts,
            self.screen,
        )


class Heartbeat(In):
    """The runner's clock and what it works on."""

    clock: datetime
    runs: Annotated[list[Held], Field(max_length=500)] = []
    accounts: dict[Annotated[str, Field(max_length=40)], Annotated[str, Field(max_length=200)]] | None = None
    fresh: bool = False
    leaving: bool = False
    reading: ReadingIn | None = None
    in_use: bool = False


class Line(Lenient):
    """A log line; what of it cannot be kept is mended, not refused."""

    at: datetime
    level: str = "info"
    text: str = ""


class StepIn(Lenient):
    """A step as it stands."""

    n: Annotated[int, Field(ge=1, le=MOST)]
    name: str = ""
    started_at: datetime
    ended_at: datetime | None = None
    fault: str | None = None
    data_in: object = None
    data_out: object = None


class Report(Lenient):
    """One numbered batch; sent again it changes nothing."""

    fence: Annotated[int, Field(ge=1, le=MOST)]
    seq: Annotated[int, Field(ge=1, le=MOST)]
    lines: Annotated[list[Line], Field(max_length=1000)] = []
    steps: Annotated[list[StepIn], Field(max_length=200)] = []
    progress: object = None


class HandedIn(Lenient):
    """A file that a run handed over, sent before by its digest."""

    name: Annotated[str, Field(max_length=1000)]
    digest: Digest


class OutcomeIn(Lenient):
    """How a run ended. Outputs and counts that cannot be taken make it *failed*, and say why."""

    fence: Annotated[int, Field(ge=1, le=MOST)]
    state: Literal["done", "failed", "cancelled", "held"]
    saved: Digest | None = None
    worked: bool = True
    reason: str = ""
    outputs: object = {}
    counts: object = {}
    files: Annotated[list[HandedIn], Field(max_length=100)] = []
    # The longest silence it had, in seconds.
    longest_quiet: Annotated[int, Field(ge=0, le=MOST)] | None = None


class Upload(In):
    """A file that is to come in pieces."""

    digest: Digest
    size: Annotated[int, Field(ge=0, le=MOST)]


@router.post("/connect", status_code=201)
def connect(given: Connect, ctx: Anyone) -> Connected:
    """Uses up a one-time code."""
    found = host_tokens.connect(ctx, given.code, given.protocol, given.account, given.facts, given.machine)
    return Connected(**found)


@router.post("/heartbeat")
def heartbeat(given: Heartbeat, runner: Runner, request: Request) -> HeartbeatAnswer:
    """Stays connected and renews leases."""
    ctx, host = runner
    held = [(one.run, one.fence) for one in given.runs]
    clock = given.clock if given.clock.tzinfo else given.clock.replace(tzinfo=ctx.now.tzinfo)
    reading = None if given.reading is None else given.reading.taken()
    beat = dispatch.Beat(
        clock,
        held,
        given.accounts,
        given.fresh,
        given.leaving,
        reading,
        given.in_use,
        {one.run: one.quiet for one in given.runs},
    )
    answer = dispatch.heartbeat(ctx, host, beat)
    if given.leaving:
        request.app.state.hub.host_leaves(host.id)
    return answer


class Password(In):
    """The value of a password."""

    value: str


class Tried(In):
    """How signing in with a password went."""

    proved: bool
    said: Annotated[str, Field(max_length=300)] = ""


@router.post("/accounts/{account}/password")
def password(account: AccountName, runner: Runner) -> Password:
    """The password of a run-as account that the host was asked to try."""
    return Password(value=passwords.to_try(*runner, account))


@router.post("/accounts/{account}/tried")
def tried(account: AccountName, given: Tried, runner: Runner) -> Done:
    """How it went."""
    passwords.tried(*runner, account, given.proved, given.said)
    return Done()


class Ask(In):
    """What an ask for work is known by; sent again after a lost answer it gets the same run.

    `begins`: the runner says of what it is handed that it begins it; until then the run waits.
    """

    key: Annotated[str, Field(pattern=r"^[0-9a-f]{32}$")] | None = None
    begins: bool = False


@router.post(
    "/work", response_model=WorkGiven, responses={204: {"description": "Nothing to do for now; ask again."}}
)
async def work(request: Request, runner: Runner, given: Ask | None = None) -> WorkGiven | Response:
    """The next run for a free robot of this host; waits a few seconds for one."""
    ctx, host = runner
    if not request.app.state.presence.clock_is_right:
        apart = request.app.state.presence.apart_ms / 1000
        raise Unavailable(
            f"This server's clock is {apart:+.1f} s from the database's; nothing is started.",
            "Set the clocks right.",
        )
    hub: Hub = request.app.state.hub
    listener = hub.listen(host.id)
    try:
        ask = given or Ask()
        key = ask.key
        ends = asyncio.get_running_loop().time() + WAIT_SECONDS
        found = await run_in_threadpool(dispatch.asked, ctx, host, key)
        found = found or await _take(request, ctx, host, ask, ends)
        while found is None:
            left = ends - asyncio.get_running_loop().time()
            if left <= 0 or not await _news(listener, left):
                # An earlier ask under this key, whose runner hung up, may have taken one since.
                found = await run_in_threadpool(dispatch.asked, ctx, host, key)
                break
            later = Ctx(ctx.db, read_clock(), ctx.actor)
            found = await _take(request, later, host, ask, ends)
        return found if found else Response(status_code=204)
    finally:
        hub.leave(listener)


async def _take(request: Request, ctx: Ctx, host: HostByToken, ask: Ask, ends: float) -> WorkGiven | None:
    """Looks for a run, few hosts at a time: a hint wakes all that wait, and one run is for one of them.

    Nothing is taken once the ask's time is over: its runner may have hung up and asked again.
    """
    async with request.app.state.looking:
        if asyncio.get_running_loop().time() >= ends:
            return None
        return await run_in_threadpool(partial(dispatch.take, ctx, host, ask.key, begins=ask.begins))


async def _news(listener: asyncio.Queue[Hint | None], seconds: float) -> bool:
    """Waits for a hint that there may be work; False when time is up or the server stops."""
    try:
        async with asyncio.timeout(seconds):
            while (hint := await listener.get()) is not None:
                # One look answers all the hints that came until now.
                while hint is not None and not listener.empty():
                    hint = listener.get_nowait()
                return hint is not None
    except TimeoutError:
        return False
    return False


@router.get("/files/{digest}", response_class=Response)
def body(digest: DigestPath, runner: Runner) -> Response:
    """A package, wheel, saved state or input file of a run that the host works on."""
    return Response(reports.body(*runner, digest), media_type="application/octet-stream")


@router.post("/uploads")
def begin_upload(given: Upload, runner: Runner) -> Uploaded:
    """Begins an upload, or finds how far an earlier one came."""
    return Uploaded(have=uploads.begin(*runner, given.digest, given.size))


@router.put("/uploads/{digest}")
async def upload(
    digest: DigestPath, offset: Annotated[int, Query(ge=0, le=MOST)], request: Request, runner: Runner
) -> Uploaded:
    """Keeps the next piece of an upload."""
    data = await request.body()
    return Uploaded(have=await run_in_threadpool(uploads.put, *runner, digest, offset, data))


@router.post("/runs/{number}/report")
def report(number: Number, given: Report, runner: Runner) -> Reported:
    """A batch of log lines and steps."""
    ctx, host = runner
    lines = [{"at": line.at.isoformat(), "level": line.level, "text": line.text} for line in given.lines]
    steps = [step.model_dump() for step in given.steps]
    progress = given.progress if isinstance(given.progress, dict) else None
    current = reports.report(ctx, host, number, given.fence, given.seq, lines, steps, progress)
    return Reported(current=current)


class Claim(In):
    """Under which claim something is asked for."""

    fence: Annotated[int, Field(ge=1, le=MOST)]


@router.post("/runs/{number}/secrets")
def secrets(number: Number, given: Claim, runner: Runner) -> SecretValues:
    """The secrets of a run that the host works on; each use is noted."""
    found = reports.secrets_of(*runner, number, given.fence)
    return SecretValues(values=found.values, named=found.named)


class ScreenIn(Claim):
    """The picture of a run's screen, sent before by its digest, or why there is none."""

    digest: Digest | None = None
    said: Annotated[str, Field(max_length=300)] = ""


@router.post("/runs/{number}/screen")
def screen(number: Number, given: ScreenIn, runner: Runner) -> Done:
    """A picture of the screen of a stalled run, which a heartbeat asked for."""
    screens.keep(*runner, number, given.fence, given.digest, given.said)
    return Done()


@router.post("/runs/{number}/begin")
def begin(number: Number, given: Claim, runner: Runner) -> Done:
    """The runner begins what it was handed: from now on the run is running; sent again it changes nothing."""
    handover.begin(*runner, number, given.fence)
    return Done()


@router.post("/runs/{number}/back")
def give_back(number: Number, given: Claim, runner: Runner) -> Done:
    """The runner will not begin what it was handed; it waits again at once."""
    handover.give_back(*runner, number, given.fence)
    return Done()


@router.post("/runs/{number}/outcome")
def outcome(number: Number, given: OutcomeIn, runner: Runner) -> Kept:
    """How a run ended; sent again it changes nothing."""
    ctx, host = runner
    said = reports.Outcome(
        given.state,
        given.worked,
        given.reason,
        given.outputs,
        given.counts,
        given.saved,
        given.longest_quiet,
        [reports.Handed(one.name, one.digest) for one in given.files],
    )
    return Kept(state=reports.outcome(ctx, host, number, given.fence, said))
