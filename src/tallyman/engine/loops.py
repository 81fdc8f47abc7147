"""The steps of the engine: each does what is due at one time and says how much it did."""

from __future__ import annotations

import secrets
from datetime import datetime

from tallyman.config import settings
from tallyman.engine.wiring import EFFECTS, ERRANDS, TIDIED
from tallyman.errors import Unavailable
from tallyman.services import alerts, robots, runs, safe, tally
from tallyman.services.cases import worths
from tallyman.services.context import Ctx
from tallyman.services.house import send_mails, trail
from tallyman.services.ideas import file_views, moves
from tallyman.services.people import actor_of
from tallyman.services.runs import handover
from tallyman.services.starts import called, start_due
from tallyman.services.upkeep import carry_out, tidying
from tallyman.services.upkeep import errands as errands_service
from tallyman.services.workshop import rolling

# Names this process among those that want a lease.
PROCESS = secrets.token_hex(16)
MOST_CLOCK_DIFFERENCE = 2.0


def check_clock(ctx: Ctx) -> None:
    """Raises Unavailable when this process's clock and the database's differ by over two seconds."""
    if settings().clock_file:
        return
    theirs = ctx.db.transact(lambda tx: tx.value(datetime, "common.database_now")) or ctx.now
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
    return handover.take_back_late(ctx) + runs.lose_silent(ctx) + runs.lapse(ctx)


def silence(ctx: Ctx) -> int:
    """Notes hosts that fell silent."""
    return robots.tell_silent(ctx)


def effects(ctx: Ctx) -> int:
    """Carries out what follows from changes."""
    return carry_out(ctx, EFFECTS)


def mails(ctx: Ctx) -> int:
    """Gathers the day's news for who wants it so, and sends due mails."""
    alerts.digests(ctx)
    return send_mails(ctx)


def what_ideas_are_worth(ctx: Ctx) -> int:
    """Reckons anew what ideas are worth that something moved."""
    return worths.carry_on(ctx)


def month_ends(ctx: Ctx) -> int:
    """Posts the costs of months that are over."""
    return tally.month_ends(ctx)


def seal_trail(ctx: Ctx) -> int:
    """Seals the next batches of the audit trail."""
    return trail.seal_next(ctx, PROCESS)


def secrets_ending(ctx: Ctx) -> int:
    """Tells of secrets that end soon, or ended."""
    return safe.tell_ending(ctx)


def asking(ctx: Ctx) -> int:
    """Asks people for whom runs have come due whether these may have their computer."""
    return runs.attended.ask_due(ctx)


def seats(ctx: Ctx) -> int:
    """Notes how many seats were used at once on days that are over, and tells of seats that end soon."""
    return robots.seat_peaks.note(ctx) + robots.seat_lots.tell_ending(ctx)


def rollouts(ctx: Ctx) -> int:
    """Lets the rest of staged roll-outs follow the first, or takes them back."""
    return rolling.carry_on(ctx)


def call_backs(ctx: Ctx) -> int:
    """Tells callers the end of runs that they started by an address."""
    return called.tell_callers(ctx)


def parked(ctx: Ctx) -> int:
    """Brings back parked ideas whose day has come."""
    return moves.come_back(ctx)


def errands(ctx: Ctx) -> int:
    """Does the next piece of long work that people began."""
    return errands_service.carry_on(ctx, PROCESS, ERRANDS, actor_of)


def files(ctx: Ctx) -> int:
    """Looks into attached files."""
    return file_views.look_into(ctx)


def repair(ctx: Ctx) -> int:
    """Mends what processes of releases before left behind."""
    return runs.repair(ctx)


def tidy(ctx: Ctx) -> int:
    """Throws away hints and sessions that are of no more use."""
    tidying.tidy(ctx, TIDIED)
    return 0
