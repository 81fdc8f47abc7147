"""What a host can do, as its runner reports it, and what a routine asks of that (rules §7)."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from typing import ClassVar

from tallyman.core.working import WHOLE

MB_IN_GB = 1024
NO_SCREEN = "none"


@dataclass(frozen=True)
class Abilities:
    """What a robot's host can do; None or an empty text: its runner does not say.

    `system` is in plain words, as *Debian 12*; `memory_gb` and `disk_gb` are whole gigabytes, all that there
    is; `screen` is its size, or *none*; `applications` are those found of the list kept under House rules.
    """

    __pydantic_config__: ClassVar[dict[str, bool]] = WHOLE
    system: str = ""
    processors: int | None = None
    memory_gb: int | None = None
    disk_gb: int | None = None
    screen: str = ""
    python: str = ""
    applications: tuple[str, ...] = ()

    @property
    def words(self) -> list[str]:
        """The same as a list of short texts, as it is shown."""
        found = [self.system]
        if self.processors:
            found.append("1 processor" if self.processors == 1 else f"{self.processors} processors")
        if self.memory_gb is not None:
            found.append(f"{self.memory_gb} GB memory")
        if self.disk_gb is not None:
            found.append(f"{self.disk_gb} GB disk")
        if self.screen:
            found.append("no screen" if self.screen == NO_SCREEN else f"screen {self.screen}")
        if self.python:
            found.append(f"Python {self.python}")
        return [one for one in [*found, *self.applications] if one]


@dataclass(frozen=True)
class Asked:
    """What a routine asks of a host beside tags; nothing asked where a field is empty or 0.

    `system` is the beginning of the system's name: *Debian* or *Debian 12*.
    """

    __pydantic_config__: ClassVar[dict[str, bool]] = WHOLE
    system: str = ""
    processors: int = 0
    memory_gb: int = 0
    disk_gb: int = 0
    screen: bool = False
    applications: tuple[str, ...] = ()

    def __bool__(self) -> bool:
        return self != Asked()

    @property
    def words(self) -> list[str]:
        """What is asked, as a list of short texts."""
        found = [self.system] if self.system else []
        if self.processors:
            found.append(f"{self.processors} processors")
        if self.memory_gb:
            found.append(f"{self.memory_gb} GB memory")
        if self.disk_gb:
            found.append(f"{self.disk_gb} GB disk")
        if self.screen:
            found.append("a screen")
        return [*found, *self.applications]


NOTHING_ASKED = Asked()
NOTHING_KNOWN = Abilities()


def _whole(text: object) -> int | None:
    """A whole number out of a text; None if it is none."""
    found = str(text or "").strip()
    return int(found) if found.isdecimal() and len(found) < 12 else None


def _gigabytes(text: object) -> int | None:
    """Whole gigabytes, to the nearest: a machine sold as 8 GB tells of a little less."""
    found = _whole(text)
    return None if found is None else (found + MB_IN_GB // 2) // MB_IN_GB


def read_abilities(facts: Mapping[str, object], applications: Iterable[str] = ()) -> Abilities:
    """What the facts that a runner reports say of its host; whatever they leave out is not known."""
    return Abilities(
        system=str(facts.get("system_name") or facts.get("system") or ""),
        processors=_whole(facts.get("processors")) or None,
        memory_gb=_gigabytes(facts.get("memory_mb")),
        disk_gb=_gigabytes(facts.get("disk_mb")),
        screen=str(facts.get("screen") or ""),
        python=str(facts.get("python") or ""),
        applications=tuple(sorted(set(applications), key=str.casefold)),
    )


def read_asked(found: Mapping[str, object] | None) -> Asked:
    """What is kept of what a routine asks, as the rules want it; None: nothing is asked."""
    if not found:
        return NOTHING_ASKED
    names = found.get("applications")
    return Asked(
        system=str(found.get("system") or ""),
        processors=_whole(found.get("processors")) or 0,
        memory_gb=_whole(found.get("memory_gb")) or 0,
        disk_gb=_whole(found.get("disk_gb")) or 0,
        screen=bool(found.get("screen")),
        applications=tuple(str(name) for name in names) if isinstance(names, list) else (),
    )


def _is_system(asked: str, found: str) -> bool:
    """Whether a system is the one asked for, or a version of it."""
    wanted, has = asked.casefold().split(), found.casefold().split()
    return has[: len(wanted)] == wanted


def lacking(asked: Asked, has: Abilities) -> list[str]:
    """What a host lacks of what is asked, each in words; empty if it has all of it."""
    found = []
    if asked.system and not _is_system(asked.system, has.system):
        found.append(f"is {has.system}, not {asked.system}" if has.system else "does not say its system")
    for words, want, is_there, unit in (
        ("processors", asked.processors, has.processors, ""),
        ("memory", asked.memory_gb, has.memory_gb, " GB"),
        ("disk", asked.disk_gb, has.disk_gb, " GB"),
    ):
        if not want:
            continue
        if is_there is None:
            found.append(f"does not say its {words}")
        elif is_there < want:
            found.append(f"{words}: {is_there}{unit} of {want}{unit}")
    if asked.screen and has.screen in ("", NO_SCREEN):
        found.append("has no screen" if has.screen else "does not say whether it has a screen")
    missing = _missing(asked.applications, has.applications)
    return [*found, *(f"has no {name}" for name in missing)]


def _missing(wanted: Collection[str], there: Collection[str]) -> list[str]:
    known = {name.casefold() for name in there}
    return [name for name in wanted if name.casefold() not in known]
