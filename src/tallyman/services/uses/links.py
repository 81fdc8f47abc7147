"""Which things hang on which, kind by kind, and what a thing stands on itself."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from tallyman.core.runs import RobotFacts
from tallyman.core.uses import Kind, Link, Thing
from tallyman.services import robots
from tallyman.services.safe import OF_PEOPLE, routines_asking
from tallyman.store.db import Tx
from tallyman.store.records.uses import (
    UsesAccountsOfSecrets,
    UsesPair,
    UsesRobotsWithAccounts,
    UsesStart,
)

# Ideas that hang on nothing any more.
ENDED = ("draft", "declined", "merged", "withdrawn", "retired")
# Of a routine for whoever's own computer the robot works on.
FOR_OWNER = "is meant for the owner of"
Ids = tuple[int, ...]
Pairs = Callable[[Tx, Ids], list[UsesPair]]


def _areas_of_areas(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.areas_of_areas", ids=ids)


def routines_of_areas(tx: Tx, ids: Ids) -> list[UsesPair]:
    """The routines that lie in some areas."""
    return tx.all(UsesPair, "uses.routines_of_areas", ids=ids)


def _robots_of_areas(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.robots_of_areas", ids=ids)


def _secrets_of_areas(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.secrets_of_areas", ids=ids, kinds=tuple(OF_PEOPLE))


def _ideas_of_areas(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.ideas_of_areas", ids=ids, kinds=ENDED)


def _robots_of_hosts(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.robots_of_hosts", ids=ids)


def _releases_of_packages(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.releases_of_packages", ids=ids)


def _routines_of_releases(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.routines_of_releases", ids=ids)


def _ideas_of_routines(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.ideas_of_routines", ids=ids)


def _ideas_of_systems(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.ideas_of_systems", ids=ids, kinds=ENDED)


def _routines_of_ideas(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.routines_of_ideas", ids=ids)


def _routines_of_owners(tx: Tx, ids: Ids) -> list[UsesPair]:
    return tx.all(UsesPair, "uses.routines_of_owners", ids=ids)


# Kind of the upper thing: where the pairs come from, kind of the lower thing, and how that hangs on it.
PAIRS: dict[Kind, tuple[tuple[Pairs, Kind, str], ...]] = {
    "area": (
        (_areas_of_areas, "area", "lies in"),
        (routines_of_areas, "routine", "lies in"),
        (_robots_of_areas, "robot", "is allowed in"),
        (_secrets_of_areas, "secret", "is kept for"),
        (_ideas_of_areas, "idea", "lies in"),
    ),
    "host": ((_robots_of_hosts, "robot", "works on"),),
    "package": ((_releases_of_packages, "release", "is a release of"),),
    "release": ((_routines_of_releases, "routine", "runs"),),
    "robot": ((_routines_of_owners, "routine", FOR_OWNER),),
    "routine": ((_ideas_of_routines, "idea", "has its units counted by"),),
    "system": ((_ideas_of_systems, "idea", "works with"),),
}


def _link(upper: Kind, upper_key: object, lower: Kind, lower_key: object, how: str) -> Link:
    return Link(Thing(upper, str(upper_key)), Thing(lower, str(lower_key)), how)


@dataclass(frozen=True)
class Links:
    """The links of the house, looked up as they are asked for; `root` is where the walk began.

    `facts` are those of all robots, read once for whatever asks for them.
    """

    tx: Tx
    root: Thing
    facts: Callable[[], Sequence[RobotFacts]]

    def below(self, kind: Kind, keys: Sequence[str]) -> list[Link]:
        """What hangs on things of one kind."""
        if kind == "account":
            return self._robots_of_accounts(keys)
        ids = tuple(int(key) for key in keys)
        found: list[Link] = []
        for pairs_of, lower, how in PAIRS.get(kind, ()):
            found += [_link(kind, row.upper, lower, row.lower, how) for row in pairs_of(self.tx, ids)]
        if kind == "routine":
            found += self._starts(ids)
        if kind == "robot":
            pairs = robots.takers(self.tx, self.facts(), frozenset(ids))
            found += [_link(kind, robot, "routine", one, "may be run by") for robot, one in pairs]
        if kind == "secret":
            found += self._of_secrets(ids)
        if kind == "calendar":
            found += self._by_calendar(ids)
        if kind == "system":
            found += self._routines_of_systems(found)
        # An idea's routine runs on without it; so it stands there only where the idea is looked at.
        if kind == "idea" and self.root.kind == "idea":
            counting = _routines_of_ideas(self.tx, ids)
            found += [_link(kind, row.upper, "routine", row.lower, "counts for") for row in counting]
        return found

    def _starts(self, ids: Ids) -> list[Link]:
        rows = self.tx.all(UsesStart, "uses.starts_of_routines", ids=ids)
        return [_link("routine", row.routine_id, "start", row.id, "starts") for row in rows]

    def _robots_of_accounts(self, keys: Sequence[str]) -> list[Link]:
        hosts = tuple({int(key.partition(":")[0]) for key in keys})
        rows = self.tx.all(UsesRobotsWithAccounts, "uses.robots_with_accounts", ids=hosts)
        pairs = [(f"{row.host_id}:{row.account}", row.id) for row in rows]
        return [_link("account", key, "robot", robot, "works under") for key, robot in pairs if key in keys]

    def _of_secrets(self, ids: Ids) -> list[Link]:
        asking = [
            _link("secret", number, "routine", routine, "asks for")
            for number in ids
            for routine in routines_asking(self.tx, number)
        ]
        rows = self.tx.all(UsesAccountsOfSecrets, "uses.accounts_of_secrets", ids=ids)
        accounts = [
            _link("secret", row.secret_id, "account", f"{row.host_id}:{row.account}", "signs in with")
            for row in rows
        ]
        return asking + accounts

    def _by_calendar(self, areas: Ids) -> list[Link]:
        return [
            _link("calendar", area, "start", start, "looks at")
            for area in areas
            for start in self.tx.values(int, "uses.starts_by_calendar", area=area)
        ]

    def _routines_of_systems(self, ideas: list[Link]) -> list[Link]:
        """The routines that count for ideas that work with a system."""
        upper: dict[int, list[Thing]] = defaultdict(list)
        for link in ideas:
            upper[int(link.lower.key)].append(link.upper)
        rows = _routines_of_ideas(self.tx, tuple(upper) or (0,))
        return [
            Link(system, Thing("routine", str(row.lower)), f"counts for I-{row.upper}, which works with")
            for row in rows
            for system in upper[row.upper]
        ]
