"""Answers that several subjects give alike."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Choice:
    """Something to choose, in words."""

    value: str
    words: str


@dataclass(frozen=True, slots=True)
class AreaName:
    """An area by name."""

    id: int
    name: str


@dataclass(frozen=True, slots=True)
class ListLine:
    """What a line of a list would do."""

    line: int
    name: str
    state: str
    faults: list[str]


@dataclass(frozen=True, slots=True)
class Brought:
    """What a list did."""

    entered: int
    changed: int
    here: int
    left_out: int


@dataclass(frozen=True, slots=True)
class HangsOn:
    """Something that hangs on what is to go out of use, and what becomes of it."""

    what: str
    name: str
    link: str
    then: str


@dataclass(frozen=True, slots=True)
class Retiring:
    """What going out of use would mean: what hangs on it (`unseen`: so many more that the reader may not
    see), what must be done first, and what stays."""

    name: str
    hangs: list[HangsOn]
    unseen: int
    against: list[str]
    stays: str
