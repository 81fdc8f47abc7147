"""Records of the room `search`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from tallyman.core.house.words import SystemAccess
from tallyman.core.runs.words import RunState
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class FoundTitlesDigest(Record):
    """What the titles of all ideas come to, so that it is seen whether any changed."""

    ideas: int
    digest: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class FoundNewestTitles(Record):
    """Titles of the newest 20,000 ideas, for finding what is misspelt."""

    id: int
    title: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class FoundFiles(Record):
    """The newest 500 files of some ideas."""

    id: int
    idea_id: int
    name: str
    title: str
    idea: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class FoundRoutines(Record):
    """Routines in use, by name."""

    id: int
    name: str
    area: str
    area_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class FoundPackages(Record):
    """All releases with their packages, the newest of each first."""

    id: int
    name: str
    release_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class FoundRun(Record):
    """A run by its number, as far as the reader may see it."""

    id: int
    routine: str
    state: RunState
    made_at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class FoundSystems(Record):
    """Systems in use, by name."""

    id: int
    name: str
    access: SystemAccess


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class FoundPeople(Record):
    """Everybody who is here or invited, by name."""

    id: int
    name: str
    email: str
    division: str | None


GIVES: dict[str, type[Record]] = {
    "found.titles_digest": FoundTitlesDigest,
    "found.newest_titles": FoundNewestTitles,
    "found.files": FoundFiles,
    "found.routines": FoundRoutines,
    "found.packages": FoundPackages,
    "found.run": FoundRun,
    "found.last_runs": FoundRun,
    "found.systems": FoundSystems,
    "found.people": FoundPeople,
}
