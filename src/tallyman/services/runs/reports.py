"""What a runner tells of a run it works on: files and secrets it asks for, reports, the outcome."""

from __future__ import annotations

import json
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import structlog

from tallyman.core.exact import exact
from tallyman.core.free import Free, FreeObject
from tallyman.errors import Fault, InputFaults, NotFound
from tallyman.formats.redact import Redactor
from tallyman.formats.sound import Mender, one_line, sound
from tallyman.services import safe
from tallyman.services.context import Ctx, changed, in_transaction
from tallyman.services.holding import path
from tallyman.services.robots import slots
from tallyman.services.runs import late, uploads
from tallyman.services.runs.life import check_outputs, finish
from tallyman.services.workshop import inputs
from tallyman.store import files
from tallyman.store.db import Tx
from tallyman.store.records.robots import HostByToken
from tallyman.store.records.runs import LockedRun, RunsFilesOfHost, RunsToldOf
from tallyman.store.records.workshop import ReleaseWhole, Routine

log = structlog.get_logger()
LEVELS = ("info", "caution", "fault", "output")
MOST_LINES = 1000
LONGEST_LINE = 4000
MOST_LINES_A_RUN = 100_000
LARGEST_STEP_DATA = 20_000
LARGEST_OUTPUTS = 1_000_000
MOST_COUNTS = 50
MOST_FILES = 20
LONGEST_FILE_NAME = 120
LARGEST_PROGRESS = 10**9
LONGEST_PROGRESS_WORDS = 200
LARGEST_COUNT = 10**9
LONGEST_COUNT_NAME = 40
# What an outcome that nobody foresaw may raise: the run ends all the same.
UNTAKEN = (ValueError, TypeError, LookupError, ArithmeticError, RecursionError, AttributeError)


def _allowed_files(tx: Tx, host: HostByToken) -> set[str]:
    """The digests a host may fetch: those of the runs it works on, and nothing else."""
    allowed: set[str] = set()
    for row in tx.all(RunsFilesOfHost, "runs.files_of_host", host=host.id):
        allowed |= {row.digest, row.saved_digest or ""}
        allowed |= {wheel["digest"] for wheel in row.wheels or []}
        allowed |= inputs.digests_in(row.schema, row.inputs or {})
    return allowed


def body(ctx: Ctx, host: HostByToken, digest: str) -> bytes:
    """A package, wheel, saved state or input file of a run that the host works on."""

    def work(tx: Tx) -> bytes | None:
        return files.get(tx, digest) if digest in _allowed_files(tx, host) else None

    data = ctx.db.transact(work)
    if data is None:
        raise NotFound("No run of this host needs such a file.", "Report the run as failed.")
    return data


def mine(tx: Tx, host: HostByToken, run_id: int, fence: int) -> tuple[LockedRun, RunsToldOf]:
    """The run, locked, if this host worked on it under that number, and what was told of it so far."""
    run = tx.one(LockedRun, "runs.lock", id=run_id)
    told = tx.one(RunsToldOf, "runs.told_of", run=run_id, fence=fence)
    if run is None or told is None or (told.host_id or run.host_id) != host.id:
        raise NotFound("This run is not this host's.", "Drop it.")
    return run, told


@in_transaction
def secrets_of(tx: Tx, ctx: Ctx, host: HostByToken, run_id: int, fence: int) -> safe.Handed:
    """The secrets that the package of a run declares, for the host that works on it; each use is noted."""
    run, _ = mine(tx, host, run_id, fence)
    if run.fence != fence or run.state != "running":
        raise NotFound("This run is not this host's any more.", "Drop it.")
    release = tx.one(ReleaseWhole, "packages.release", id=run.release_id)
    routine = tx.one(Routine, "routines.routine", id=run.routine_id)
    assert release is not None and routine is not None
    area_path = frozenset(path(tx, routine.area_id))
    what = f"R-{run_id} of {routine.name}"
    at = safe.At(run.robot_id, run.host_id)
    return safe.values_for_run(tx, ctx, release.secrets or [], area_path, what, at)


def _redactor(tx: Tx, told: RunsToldOf) -> Redactor:
    """What takes a run's secrets out of what its runner sends, in case the runner did not."""
    return safe.redactor(tx, told.secrets or [])


@in_transaction
def report(
    tx: Tx,
    ctx: Ctx,
    host: HostByToken,
    run_id: int,
    fence: int,
    seq: int,
    lines: Sequence[Mapping[str, object]],
    steps: Sequence[Mapping[str, object]],
    progress: Mapping[str, object] | None = None,
) -> bool:
    """Keeps one numbered batch; a repeated one changes nothing. Gives whether the run is current.

    A run that ended is closed: nothing is kept of what comes after. What was given up as lost may be
    told of for a while, to be read.
    """
    if len(lines) > MOST_LINES:
        raise InputFaults([Fault("lines", len(lines), f"at most {MOST_LINES} a batch")])
    run, told = mine(tx, host, run_id, fence)
    current: bool = run.fence == fence and run.state == "running"
    if not current and _is_closed(ctx, run, told):
        return False
    clean = _redactor(tx, told)
    kept = [_line(clean, line) for line in lines]
    if kept and told.lines_so_far > MOST_LINES_A_RUN:
        kept = []
    packed = zlib.compress(json.dumps(kept).encode())
    new = tx.write(
        "runs.add_report",
        run=run_id,
        fence=fence,
        seq=seq,
        now=ctx.now,
        total=len(kept),
        packed=packed,
    )
    if new and run.fence == fence:
        for step in steps:
            tx.write("runs.put_step", run=run_id, **_step(clean, step))
        if progress is not None:
            tx.write("handed.set_progress", run=run_id, progress=_progress(clean, progress))
    if new:
        changed(tx, ctx, "runs", run_id)
    return current


def _progress(clean: Redactor, told: Mapping[str, object]) -> dict[str, object]:
    """How far a run says it is, as it can be shown: what is no number in its bounds is left out."""

    def number(value: object) -> float | int | None:
        if isinstance(value, bool) or not isinstance(value, int | float):
            return None
        return value if 0 <= value <= LARGEST_PROGRESS else None

    done, of = number(told.get("done")), number(told.get("of"))
    words = one_line(clean.text(sound(str(told.get("words") or ""))))[:LONGEST_PROGRESS_WORDS]
    return {"done": done, "of": of or None, "words": words}


def _is_closed(ctx: Ctx, run: LockedRun, told: RunsToldOf) -> bool:
    """Whether nothing more is kept of what is told under a fencing number.

    An ended run is closed. What a runner did under a former number, or before a run was given up as
    lost, may be told for a while.
    """
    if run.state in ("done", "failed", "cancelled", "lapsed"):
        return True
    over = told.ended_at if told.host_id is not None else run.ended_at
    return over is not None and bool(ctx.now - over > late.COUNTS_FOR)


def _line(clean: Redactor, line: Mapping[str, object]) -> dict[str, object]:
    level = line["level"] if line["level"] in LEVELS else "info"
    text = clean.text(sound(str(line["text"])))[:LONGEST_LINE]
    return {"at": line["at"], "level": level, "text": text}


def _step(clean: Redactor, step: Mapping[str, object]) -> dict[str, object]:
    mender = Mender()

    def data(value: object) -> str | None:
        if value is None:
            return None
        text = json.dumps(clean.value(mender.value(value, "data")))
        return text if len(text) <= LARGEST_STEP_DATA else '"…"'

    fault = str(step.get("fault") or "")
    return {
        "n": step["n"],
        "name": clean.text(sound(str(step["name"])))[:200],
        "started": step["started_at"],
        "ended": step.get("ended_at"),
        "fault": clean.text(sound(fault))[:1000] or None,
        "data_in": data(step.get("data_in")),
        "data_out": data(step.get("data_out")),
    }


@dataclass(frozen=True)
class Handed:
    """A file that a run handed over: its name, and its digest, under which its host sent it before."""

    name: str
    digest: str


@dataclass(frozen=True)
class Outcome:
    """How a run ended, as its runner says: `saved` is the digest of an uploaded state, for *held*;
    `longest_quiet` its longest silence in seconds."""

    state: str
    worked: bool = True
    reason: str = ""
    outputs: object = field(default_factory=dict)
    counts: object = field(default_factory=dict)
    saved: str | None = None
    longest_quiet: int | None = None
    files: Sequence[Handed] = ()


def outcome(ctx: Ctx, host: HostByToken, run_id: int, fence: int, said: Outcome) -> str:
    """Ends or holds a run by what the runner says. Asked again it changes nothing. Gives the state kept.

    Whatever it says, the run comes to its end: what cannot be taken makes it *failed*, with that reason.
    """
    try:
        return ctx.db.transact(lambda tx: _outcome(tx, ctx, host, run_id, fence, said))
    except UNTAKEN as error:
        words = f"the server could not take its outcome: {type(error).__name__}"
        log.error("outcome not taken", action="run.outcome.failed", run=run_id, exc_info=error)
        plain = Outcome("failed", reason=words)
        return ctx.db.transact(lambda tx: _outcome(tx, ctx, host, run_id, fence, plain))


def _outcome(tx: Tx, ctx: Ctx, host: HostByToken, run_id: int, fence: int, told: Outcome) -> str:
    run, so_far = mine(tx, host, run_id, fence)
    if run.fence != fence or run.state not in ("running", "lost"):
        return str(run.state)
    if told.longest_quiet is not None:
        tx.write("stalling.note_longest", id=run_id, fence=fence, seconds=told.longest_quiet)
    clean = _redactor(tx, so_far)
    mender = Mender(longest_text=LARGEST_OUTPUTS)
    said = clean.text(sound(told.reason))
    given = clean.value(mender.value(told.outputs, "its outputs"))
    counts, untaken = _counts(clean, told.counts)
    if run.state == "lost":
        later = tx.value(int, "runs.later_attempt", id=run_id) is not None
        if later or told.state in ("cancelled", "held"):
            return "lost"
    release = tx.one(ReleaseWhole, "packages.release", id=run.release_id)
    assert release is not None
    _keep_files(tx, ctx, host, run_id, told.files, clean)
    if told.state == "held":
        # Only a file of its own: else a digest would be enough to have any file as one's state.
        own = told.saved is not None and uploads.sent_by(tx, host, told.saved) is not None
        return _hold(tx, ctx, run, release, said, told.saved if own else None)
    end, why = told.state, said
    wrong = untaken or _misfit(release, told, given)
    if end == "done" and wrong:
        end, why = "failed", wrong
    elif end == "done":
        why = f"{why} {_too_late(run)}".strip()
    kind = None if end != "done" else ("worked" if told.worked else "nothing")
    outputs = given if isinstance(given, dict) else {}
    ended: dict[str, object] = {"outcome": kind, "outputs": outputs, "counts": counts}
    if run.state == "lost" and late.is_too_late(ctx, run):
        late.keep(tx, ctx, run, {"state": end, "reason": why[:1000], **ended})
        return "lost"
    if run.state == "lost":
        why = f"{why} {late.CAME_LATE}".strip()
    return _finished(tx, ctx, run, end, why, ended)


def _keep_files(
    tx: Tx, ctx: Ctx, host: HostByToken, run_id: int, files_: Sequence[Handed], clean: Redactor
) -> None:
    """Keeps the files that a run handed over: those that its host sent itself, and no others."""
    for one in files_[:MOST_FILES]:
        size = uploads.sent_by(tx, host, one.digest)
        name = one_line(clean.text(sound(one.name))).rpartition("/")[2].strip()[:LONGEST_FILE_NAME]
        if size is not None:
            given = {"run": run_id, "name": name or "file", "digest": one.digest, "size": size}
            tx.write("handed.keep", **given, now=ctx.now)


def _finished(tx: Tx, ctx: Ctx, run: LockedRun, end: str, why: str, ended: FreeObject) -> str:
    """Ends a run; gives the state that is kept, also when that is another one by now."""
    if finish(tx, ctx, run, end, reason=why, **ended):
        return end
    kept = tx.one(LockedRun, "runs.lock", id=run.id)
    return str((kept or run).state)


def _misfit(release: ReleaseWhole, told: Outcome, given: Free) -> str:
    """Why outputs are not what the package declares; empty if they are."""
    if not isinstance(given, dict):
        return "its outputs are no names with values"
    if len(json.dumps(given)) > LARGEST_OUTPUTS:
        return f"its outputs are larger than {LARGEST_OUTPUTS // 1_000_000} MB"
    misfit = check_outputs(release.outputs, given) if told.worked else ""
    return f"the outputs do not fit what the package declares: {misfit}" if misfit else ""


def _too_late(run: LockedRun) -> str:
    """What was asked of a run that finished first."""
    if run.cancel_at is not None:
        return "it finished before the cancel took effect"
    return "it finished before the pause took effect" if run.pause_at is not None else ""


def _hold(tx: Tx, ctx: Ctx, run: LockedRun, release: ReleaseWhole, reason: str, saved: str | None) -> str:
    """A run saved its state and ended its process: it is held, and its places are free."""
    if run.state != "running":
        return str(run.state)
    if not release.checkpoints or saved is None:
        return _finished(tx, ctx, run, "failed", "it stopped without a saved state to go on from", {})
    words = reason or "paused; its state is saved"
    if tx.write("runs.hold", id=run.id, fence=run.fence, saved=saved, reason=words[:1000], now=ctx.now):
        tx.write("runs.end_segment", run=run.id, fence=run.fence, now=ctx.now, state="held")
        slots.free(tx, ctx, run.id)
        changed(tx, ctx, "runs", run.id)
    return "held"


def _counts(clean: Redactor, counts: Free) -> tuple[dict[str, str], str]:
    """The counts that can be kept, by name, and why others cannot."""
    if not isinstance(counts, dict):
        return {}, "its counts are no names with numbers"
    found: dict[str, str] = {}
    faults = []
    for name, value in counts.items():
        shown = clean.text(sound(str(name)))[:LONGEST_COUNT_NAME]
        try:
            number = exact(value)
            if not 0 <= number <= LARGEST_COUNT:
                raise ValueError(f"allowed: 0 to {LARGEST_COUNT:,}")
            if len(found) >= MOST_COUNTS:
                raise ValueError(f"it reports more than {MOST_COUNTS} counts")
        except ValueError as error:
            faults.append(f"the count {shown!r} is {str(value)[:40]!r}: {error}")
            continue
        found[shown] = str(value)
    return found, "; ".join(faults[:3])
