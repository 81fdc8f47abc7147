"""The steps of the engine: each does what is due at one time and says how much it did."""

from __future__ import annotations

import secrets

from tallyman.config import settings
from tallyman.errors import Unavailable
from tallyman.services import effects as effects_service
from tallyman.services import errands as errands_service
from tallyman.services import robots, runs, safe, tally, trail
from tallyman.services.context import Ctx
from tallyman.services.ideas import case_export, factoring, importing, moving, showing
from tallyman.services.people import actor_of
from tallyman.services.people import importing as people_importing
from tallyman.services.runs import handing
from tallyman.services.starts.clock import start_due

# Names this process among those that want a lease.
PROCESS = secrets.token_hex(16)
MOST_CLOCK_DIFFERENCE = 2.0


def check_clock(ctx: Ctx) -> None:
    """Raises Unavailable when this process's clock and the database's differ by over two seconds."""
    if settings().clock_file:
        return
    theirs = ctx.db.transact(lambda tx: tx.value("common.database_now"))
    apart = abs((ctx.now - theirs).total_seconds())
    if apart > MOST_CLOCK_DIFFERENCE:
        raise Unavailable(
            f"The clocks of engine and database are {apart:.1f} s apart; nothing is started.",
            "Set the clocks right.",
        )


def clock(ctx: Ctx) -> int:
    """Starts what the clock says is due."""
    check_clock(ctx)
    return start_due(ctx)


def leases(ctx: Ctx) -> int:
    """Takes back what no runner began, loses runs whose lease has ended, lapses those past their time."""
    check_clock(ctx)
    return handing.take_back_late(ctx) + runs.lose_silent(ctx) + runs.lapse(ctx)


def silence(ctx: Ctx) -> int:
    """Notes hosts that fell silent."""
    return robots.tell_silent(ctx)


def effects(ctx: Ctx) -> int:
    """Carries out what follows from changes."""
    return effects_service.carry_out(ctx)


def mails(ctx: Ctx) -> int:
    """Gathers the day's news for who wants it so, and sends due mails."""
    effects_service.digests(ctx)
    return effects_service.send_mails(ctx)


def month_ends(ctx: Ctx) -> int:
    """Posts the costs of months that are over."""
    return tally.month_ends(ctx)


def seal_trail(ctx: Ctx) -> int:
    """Seals the next batches of the audit trail."""
    return trail.seal_next(ctx, PROCESS)


def secrets_ending(ctx: Ctx) -> int:
    """Tells of secrets that end soon, or ended."""
    return safe.tell_ending(ctx)


def parked(ctx: Ctx) -> int:
    """Brings back parked ideas whose day has come."""
    return moving.come_back(ctx)


# Who does which long work.
ERRANDS: dict[str, errands_service.Handler] = {
    importing.ERRAND: importing.carry_on,
    factoring.ERRAND: factoring.carry_on,
    case_export.ERRAND: case_export.carry_on,
    people_importing.ERRAND: people_importing.carry_on,
}


def errands(ctx: Ctx) -> int:
    """Does the next piece of long work that people began."""
    return errands_service.carry_on(ctx, PROCESS, ERRANDS, actor_of)


def files(ctx: Ctx) -> int:
    """Looks into attached files."""
    return showing.look_into(ctx)


def repair(ctx: Ctx) -> int:
    """Mends what processes of releases before left behind."""
    return effects_service.repair(ctx)


def tidy(ctx: Ctx) -> int:
    """Throws away hints and sessions that are of no more use."""
    effects_service.tidy(ctx)
    return 0
