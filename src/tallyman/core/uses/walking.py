"""The way from one thing to whatever hangs on it, the nearest first; nothing is met twice."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Literal, get_args

Kind = Literal[
    "idea",
    "package",
    "release",
    "routine",
    "area",
    "host",
    "robot",
    "account",
    "secret",
    "system",
    "calendar",
    "start",
]
KINDS: tuple[Kind, ...] = get_args(Kind)


@dataclass(frozen=True, order=True)
class Thing:
    """Something of the house: its kind and its key, which is its number or, of an account, HOST:NAME."""

    kind: Kind
    key: str


@dataclass(frozen=True)
class Link:
    """The lower thing hangs on the upper one; `how`: in which way, said of the lower one."""

    upper: Thing
    lower: Thing
    how: str


@dataclass(frozen=True)
class Hanging:
    """Something that hangs on the first thing: by way of what, how, and how many steps from it (from 1)."""

    thing: Thing
    upper: Thing
    how: str
    depth: int


@dataclass(frozen=True)
class Walked:
    """What hangs on the first thing, the nearest first; the links from each step to the next; and whether
    the walk ended early, because there was too much."""

    hanging: list[Hanging]
    links: list[Link]
    cut: bool


Below = Callable[[Kind, Sequence[str]], Iterable[Link]]


def walk(root: Thing, below: Below, most: int) -> Walked:
    """Everything that hangs on `root`; `below` gives the links from things of one kind.

    Ends after the step on which more than `most` things are known.
    """
    depths = {root: 0}
    found: list[Hanging] = []
    links: list[Link] = []
    step = [root]
    while step and len(found) <= most:
        met: list[Thing] = []
        for kind, things in groupby(sorted(step), key=lambda one: one.kind):
            for link in below(kind, [one.key for one in things]):
                depth = depths[link.upper] + 1
                if link.lower not in depths:
                    depths[link.lower] = depth
                    found.append(Hanging(link.lower, link.upper, link.how, depth))
                    met.append(link.lower)
                # What was met on an earlier step, or on this one, is not drawn backwards.
                if depths[link.lower] == depth:
                    links.append(link)
        step = met
    return Walked(found, links, cut=bool(step))
