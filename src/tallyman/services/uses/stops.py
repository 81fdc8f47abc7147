"""What would stop if something went: routines that could not start, and starts that would wait."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from tallyman.core.runs import RobotFacts
from tallyman.core.uses import Hanging, Kind, Thing
from tallyman.core.working import Part, Working
from tallyman.services import robots, starts
from tallyman.services.context import Ctx
from tallyman.services.uses.answers import Stops, WouldStop
from tallyman.services.uses.links import FOR_OWNER, routines_of_areas
from tallyman.store.db import Tx
from tallyman.store.records.robots import HostSeen, RobotSeen
from tallyman.store.records.uses import UsesRoutines, UsesStart

AHEAD = timedelta(hours=24)
NO_ROBOT = "no robot would be left that may run it"
NO_OWN = "it is meant for the person whose own computer this is"
# Why a routine could not start without what it hangs on by itself; and what is said where none stops.
WHY: Mapping[Kind, str] = {
    "package": "its package would be gone",
    "release": "its release would be gone",
    "routine": "it would be gone itself",
    "secret": "its package asks for this, and would not be given it",
    "system": "it starts, and finds nothing to work with",
    "area": "it lies here",
}
SAID: Mapping[Kind, str] = {
    "idea": "Nothing stops: its routine would run on, and count for nothing.",
    "calendar": "Nothing stops: what looks at these closed days would start on them too.",
    "account": "No routine would stop: others may run what the robots under it run.",
    "host": "No routine would stop: other robots may run what its own run.",
    "robot": "No routine would stop: other robots may run what it runs.",
}
WORK: tuple[Kind, ...] = ("routine", "start")
Lost = dict[int, str]


@dataclass(frozen=True)
class Looked:
    """What is looked at, everything that hangs on it, and the facts of all robots."""

    thing: Thing
    hanging: list[Hanging]
    facts: Callable[[], Sequence[RobotFacts]]

    def keys(self, kind: Kind) -> list[str]:
        """The keys of what hangs on it of one kind."""
        return [one.thing.key for one in self.hanging if one.thing.kind == kind]


def _without_robots(tx: Tx, look: Looked, gone: frozenset[int]) -> Lost:
    return dict.fromkeys(robots.stranded_of(tx, look.facts(), gone), NO_ROBOT) if gone else {}


def _by_itself(_tx: Tx, look: Looked) -> Lost:
    """Routines that hang on it without a robot between them."""
    lost = {int(key): WHY[look.thing.kind] for key in look.keys("routine")}
    return lost | ({int(look.thing.key): WHY["routine"]} if look.thing.kind == "routine" else {})


def _robot(tx: Tx, look: Looked) -> Lost:
    own = [look.thing.key] if look.thing.kind == "robot" else look.keys("robot")
    # A person has one computer of their own.
    meant = {int(one.thing.key): NO_OWN for one in look.hanging if one.how == FOR_OWNER}
    return _without_robots(tx, look, frozenset(int(key) for key in own)) | meant


def _secret(tx: Tx, look: Looked) -> Lost:
    direct = [one.thing for one in look.hanging if one.upper == look.thing and one.thing.kind == "routine"]
    return _robot(tx, look) | {int(one.key): WHY["secret"] for one in direct}


def _area(tx: Tx, look: Looked) -> Lost:
    """Routines in it, and those for which only robots were left that are allowed nowhere else."""
    here = {int(look.thing.key), *(int(key) for key in look.keys("area"))}
    own = {int(key) for key in look.keys("robot")}
    rows = [row for row in tx.all(RobotSeen, "robots.robots") if row.id in own]
    allowed = robots.areas_allowed(tx, rows)
    gone = frozenset(one for one, areas in allowed.items() if {area.id for area in areas} <= here)
    lie_here = {row.lower: WHY["area"] for row in routines_of_areas(tx, tuple(here))}
    return _without_robots(tx, look, gone) | lie_here


def _nothing(_tx: Tx, _look: Looked) -> Lost:
    return {}


LOST: Mapping[Kind, Callable[[Tx, Looked], Lost]] = {
    "package": _by_itself,
    "release": _by_itself,
    "routine": _by_itself,
    "system": _by_itself,
    "secret": _secret,
    "area": _area,
    "host": _robot,
    "robot": _robot,
    "account": _robot,
    "idea": _nothing,
    "calendar": _nothing,
    "start": _nothing,
}


def _starts(tx: Tx, ctx: Ctx, routines: tuple[int, ...]) -> tuple[dict[int, list[datetime]], int]:
    """When some routines start within a day, by routine; and how many triggers cannot be read."""
    times: dict[int, list[datetime]] = {}
    unread = 0
    for row in tx.all(UsesStart, "uses.starts_of_routines", ids=routines) if routines else []:
        found = starts.times_until(tx, ctx, row, ctx.now + AHEAD)
        unread += found is None
        times.setdefault(row.routine_id, []).extend(found or [])
    return times, unread


def _counted(rows: list[WouldStop], unseen_starts: int) -> Working:
    parts = [Part(one.name, str(one.starts)) for one in rows if one.starts]
    if unseen_starts:
        parts.append(Part("Routines that you may not see", str(unseen_starts)))
    total = sum(one.starts for one in rows) + unseen_starts
    note = "what the clock starts; starts by people and programs are not known ahead"
    return Working(
        "starts of the next 24 hours that would wait",
        str(total),
        "starts",
        "the lines below add up",
        parts=tuple(parts) or (Part("None", "0"),),
        note=note,
    )


def _seats(tx: Tx, ctx: Ctx, thing: Thing) -> Working | None:
    """Of a host with seats: how many more starts would wait for one."""
    if thing.kind != "host":
        return None
    host = next((row for row in tx.all(HostSeen, "robots.hosts") if row.id == int(thing.key)), None)
    return starts.seats_coming.waits_without(tx, ctx, host.seats) if host and host.seats else None


def stops(tx: Tx, ctx: Ctx, look: Looked) -> Stops:
    """What would stop if a thing went, given everything that hangs on it."""
    thing, hanging = look.thing, look.hanging
    lost = LOST[thing.kind](tx, look)
    rows = tx.all(UsesRoutines, "uses.routines", ids=tuple(lost)) if lost else []
    times, unread = _starts(tx, ctx, tuple(lost))
    seen = [row for row in rows if ctx.actor.may_at("routine.see", row.area_id)]
    shown = [
        WouldStop(row.id, row.name, lost[row.id], len(when), min(when, default=None))
        for row in seen
        for when in [times.get(row.id, [])]
    ]
    unseen_starts = sum(len(times.get(row.id, [])) for row in rows if row not in seen)
    counted, seats = _counted(shown, unseen_starts), _seats(tx, ctx, thing)
    return Stops(
        routines=shown,
        unseen=len(rows) - len(seen),
        starts=sum(one.starts for one in shown) + unseen_starts,
        starts_working=counted,
        unread=unread,
        seat_waits=int(seats.outcome or 0) if seats else None,
        seat_waits_working=seats,
        # Where no work hangs on it there is nothing that others could take over.
        said=SAID.get(thing.kind, "") if any(one.thing.kind in WORK for one in hanging) else "",
    )
