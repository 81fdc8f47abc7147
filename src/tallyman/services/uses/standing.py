"""What a thing stands on itself: the nearest things without which it would not be, or not work."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from tallyman.core.uses import Kind, Link, Thing
from tallyman.services import robots, safe
from tallyman.services.holding import path
from tallyman.services.uses.naming_things import COMPANY
from tallyman.services.workshop import find
from tallyman.store.db import Tx
from tallyman.store.records.robots import RobotSeen
from tallyman.store.records.uses import UsesPair, UsesReleases, UsesSecrets, UsesStart

Upper = tuple[Kind, object, str]


def _routine(tx: Tx, key: str) -> list[Upper]:
    row = find(tx, int(key))
    names = list(row.release_secrets or [])
    secrets = safe.for_routine(tx, names, frozenset(path(tx, row.area_id)))
    found: list[Upper] = [("release", row.release_id, "runs"), ("area", row.area_id, "lies in")]
    found += [("secret", one.id, "asks for") for one in secrets.values() if one is not None]
    takers = robots.takers(tx, robots.robot_facts(tx), routine_ids=frozenset({row.id}))
    found += [("robot", robot, "may be run by") for robot, _ in takers]
    clock = tx.all(UsesStart, "uses.starts_of_routines", ids=(row.id,))
    looks = [one for one in clock if one.on_closed != "run"]
    found += [("calendar", COMPANY, "has a start that looks at")] if looks else []
    closed = tx.values(int, "uses.areas_with_closed_days", ids=path(tx, row.area_id)) if looks else []
    return found + [("calendar", area, "has a start that looks at") for area in closed]


def _release(tx: Tx, key: str) -> list[Upper]:
    rows = tx.all(UsesReleases, "uses.releases", ids=(int(key),))
    return [("package", row.package_id, "is a release of") for row in rows]


def _robot(tx: Tx, key: str) -> list[Upper]:
    row = next(one for one in tx.all(RobotSeen, "robots.robots") if one.id == int(key))
    found: list[Upper] = [("host", row.host_id, "works on")]
    found += [("account", f"{row.host_id}:{row.account}", "works under")] if row.account else []
    return found + [("area", one.id, "is allowed in") for one in robots.areas_allowed(tx, [row])[row.id]]


def _account(tx: Tx, key: str) -> list[Upper]:
    host, _, name = key.partition(":")
    secrets = tx.values(int, "uses.password_of", host=int(host), account=name)
    return [("host", host, "is an account on"), *(("secret", one, "signs in with") for one in secrets)]


def _secret(tx: Tx, key: str) -> list[Upper]:
    rows = tx.all(UsesSecrets, "uses.secrets", ids=(int(key),), kinds=tuple(safe.OF_PEOPLE))
    return [("area", row.area_id, "is kept for") for row in rows if row.area_id is not None]


def _area(tx: Tx, key: str) -> list[Upper]:
    above = [one for one in path(tx, int(key)) if one != int(key)]
    rows = tx.all(UsesPair, "uses.areas_of_areas", ids=tuple(above) or (0,))
    return [("area", row.upper, "lies in") for row in rows if row.lower == int(key)]


def _idea(tx: Tx, key: str) -> list[Upper]:
    ids = (int(key),)
    counts = tx.all(UsesPair, "uses.routines_of_ideas", ids=ids)
    systems = tx.all(UsesPair, "uses.systems_of_ideas", ids=ids)
    return [
        *(("routine", row.lower, "has its units counted by") for row in counts),
        *(("system", row.lower, "works with") for row in systems),
    ]


def _calendar(_tx: Tx, key: str) -> list[Upper]:
    return [] if key == COMPANY else [("area", key, "belongs to")]


STANDS_ON: Mapping[Kind, Callable[[Tx, str], list[Upper]]] = {
    "routine": _routine,
    "release": _release,
    "robot": _robot,
    "account": _account,
    "secret": _secret,
    "area": _area,
    "idea": _idea,
    "calendar": _calendar,
}


def stands_on(tx: Tx, thing: Thing) -> list[Link]:
    """What a thing stands on, each as a link from that to the thing."""
    look = STANDS_ON.get(thing.kind)
    found = look(tx, thing.key) if look else []
    return [Link(Thing(kind, str(key)), thing, how) for kind, key, how in found]
