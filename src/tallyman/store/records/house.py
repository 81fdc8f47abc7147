"""Records of the room `house`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any, ClassVar

from tallyman.core.house.words import SystemAccess, SystemState, TestSystem
from tallyman.core.ideas.words import Stage
from tallyman.core.people.words import LinkKind
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AreaBelow(Record):
    """All areas with the one above."""

    id: int
    name: str
    parent_id: int | None
    above: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Area(Record):
    """One area."""

    id: int
    name: str
    parent_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AreasTree(Record):
    """Every area with the one above and what lives in it."""

    BOOLS: ClassVar[tuple[int, ...]] = (4, 5)
    id: int
    name: str
    parent_id: int | None
    version: int
    screens: bool
    approve_releases: bool
    routines: int
    robots: int
    held: int
    closed_days: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AreasOne(Record):
    """One area, locked."""

    id: int
    name: str
    parent_id: int | None
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AreasLockAll(Record):
    """All areas, locked in order, before the tree is changed."""

    id: int
    parent_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AreasHeldAbove(Record):
    """Roles held for areas on a path, with everybody who holds them."""

    JSON: ClassVar[tuple[int, ...]] = (4,)
    BOOLS: ClassVar[tuple[int, ...]] = (3,)
    area_id: int | None
    area: str
    role: str
    built_in: bool
    permissions: Any
    person_id: int
    person: str
    grp: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AreasRobotsAbove(Record):
    """Robots allowed in areas on a path."""

    area_id: int
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AreasClosedDays(Record):
    """An area's own closed days."""

    day: date
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HouseCounts(Record):
    """How much there is of what the house rules gather."""

    people: int | None
    groups_there: int | None
    roles: int | None
    own_roles: int | None
    rule_versions: int | None
    areas: int | None
    divisions: int | None
    closed_days: int | None
    systems: int | None
    secrets: int | None
    tokens: int | None
    mails_waiting: int | None
    rates: int | None
    rows: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HouseFirstSteps(Record):
    """What of the first steps of an installation was done: the first of each, or nothing."""

    people: int | None
    rates: int | None
    idea: int | None
    host: int | None
    heard: int | None
    robot: int | None
    trial: int | None
    run: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HouseDivisionCounts(Record):
    """How many ideas and people belong to each division."""

    id: int
    ideas: int
    people: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class MailsDue(Record):
    """Unsent mails whose time has come, that no engine is at and none waits with after a failure; 20 …"""

    id: int
    to_address: str
    subject: str
    body: str
    made_at: datetime
    claimed_at: datetime | None
    link_id: int | None
    link_kind: LinkKind | None
    link_person: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RuleSetsNewest(Record):
    """The version of a rule set that is in force."""

    JSON: ClassVar[tuple[int, ...]] = (2,)
    kind: str
    version: int
    content: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RuleSetsVersions(Record):
    """All versions of a rule set, the newest first."""

    JSON: ClassVar[tuple[int, ...]] = (2,)
    kind: str
    version: int
    content: Any
    note: str
    made_at: datetime
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SystemsListed(Record):
    """Systems whose name, note or owner has the words, or in one state, with how many ideas and …"""

    id: int
    name: str
    access: SystemAccess
    owner_id: int | None
    owner: str | None
    owner_mail: str | None
    test_system: TestSystem
    note: str
    state: SystemState
    version: int
    ideas: int
    routines: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SystemChoice(Record):
    """Systems that can be chosen."""

    name: str
    access: SystemAccess
    state: SystemState


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class System(Record):
    """One system."""

    id: int
    name: str
    access: SystemAccess
    owner_id: int | None
    owner: str | None
    test_system: TestSystem
    note: str
    state: SystemState
    version: int
    made_by: str
    made_at: datetime
    changed_at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SystemsByName(Record):
    """A system by its name."""

    id: int
    access: SystemAccess
    state: SystemState


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsingIdea(Record):
    """Ideas that use a system, as far as the reader may see them."""

    id: int
    title: str
    stage: Stage


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsingRoutine(Record):
    """Routines that serve ideas that use a system, as far as the reader may see them."""

    id: int
    name: str
    idea_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SystemsUse(Record):
    """How many ideas and routines use a system, whoever may see them."""

    all_ideas: int | None
    all_routines: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SystemsFacts(Record):
    """Sizings that name a system."""

    JSON: ClassVar[tuple[int, ...]] = (1,)
    idea_id: int
    value: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TrailUnsealed(Record):
    """The entries after a number, oldest first."""

    id: int
    at: datetime
    person_id: int | None
    who: str
    address: str
    action: str
    object: str
    words: str
    before_text: str | None
    after_text: str | None
    salt: str | None
    content_digest: str | None
    erased_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TrailLastSeal(Record):
    """The newest seal."""

    id: int
    first_id: int
    last_id: int
    seal: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TrailSeals(Record):
    """Seals after a number, in order; 500 at once."""

    JSON: ClassVar[tuple[int, ...]] = (3,)
    id: int
    first_id: int
    last_id: int
    ids: Any
    entries: int
    root: str
    previous: str
    seal: str
    at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TrailSummary(Record):
    """How much is sealed, and by when."""

    seals: int
    entries: Decimal
    last_id: int | None
    at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TrailLease(Record):
    """Who holds a lease."""

    holder: str
    until: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ViewsSeen(Record):
    """Saved views of a list: one's own, and those that others share."""

    BOOLS: ClassVar[tuple[int, ...]] = (3,)
    id: int
    name: str
    query: str
    shared: bool
    person_id: int
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ViewsOne(Record):
    """A view."""

    BOOLS: ClassVar[tuple[int, ...]] = (3,)
    id: int
    name: str
    query: str
    shared: bool
    person_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ListTrail(Record):
    """The audit trail."""

    JSON: ClassVar[tuple[int, ...]] = (7, 8)
    id: int
    at: datetime
    who: str
    address: str
    action: str
    object: str
    words: str
    before: Any
    after: Any
    erased_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ListMails(Record):
    """The outbox."""

    id: int
    to_address: str
    subject: str
    kind: str
    made_at: datetime
    sent_at: datetime | None
    due_at: datetime
    tries: int
    answer: str | None
    person: str | None


GIVES: dict[str, type[Record]] = {
    "areas.all": AreaBelow,
    "areas.area": Area,
    "areas.tree": AreasTree,
    "areas.one": AreasOne,
    "areas.lock_all": AreasLockAll,
    "areas.held_above": AreasHeldAbove,
    "areas.robots_above": AreasRobotsAbove,
    "areas.closed_days": AreasClosedDays,
    "house.counts": HouseCounts,
    "house.first_steps": HouseFirstSteps,
    "house.division": Area,
    "house.division_counts": HouseDivisionCounts,
    "mails.due": MailsDue,
    "rule_sets.newest": RuleSetsNewest,
    "rule_sets.at": RuleSetsNewest,
    "rule_sets.versions": RuleSetsVersions,
    "systems.listed": SystemsListed,
    "systems.names": SystemChoice,
    "systems.one": System,
    "systems.by_name": SystemsByName,
    "systems.ideas": UsingIdea,
    "systems.routines": UsingRoutine,
    "systems.use": SystemsUse,
    "systems.facts": SystemsFacts,
    "trail.unsealed": TrailUnsealed,
    "trail.entries_between": TrailUnsealed,
    "trail.last_seal": TrailLastSeal,
    "trail.seals": TrailSeals,
    "trail.summary": TrailSummary,
    "trail.lease": TrailLease,
    "views.seen": ViewsSeen,
    "views.one": ViewsOne,
    "list.trail": ListTrail,
    "list.mails": ListMails,
}
