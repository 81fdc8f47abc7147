"""Finding whatever has a name or number, and house rules and commands by what they are called."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from itertools import chain

from tallyman.core.search import COMMANDS, RULES, SECTIONS, Found, Place, alike, nearest, open_to, words_of
from tallyman.services import selfservice
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.house import areas_seen
from tallyman.services.ideas import looked_for, seen_among
from tallyman.services.robots import areas_allowed, hosts_seen, robots_seen
from tallyman.services.search.answers import Hit, Hits
from tallyman.services.search.titles import words_of_titles
from tallyman.services.workshop import sight
from tallyman.store.db import Tx
from tallyman.store.records.ideas import ListIdeas
from tallyman.store.records.search import (
    FoundFiles,
    FoundPackages,
    FoundPeople,
    FoundRoutines,
    FoundRun,
    FoundSystems,
)

MOST = 100
LONGEST = 200
NUMBER = re.compile(r"(?i)([ir]?)-?(\d{1,15})")


def _number(typed: str, letter: str) -> int | None:
    found = NUMBER.fullmatch("".join(typed.split()))
    return int(found.group(2)) if found and found.group(1).lower() in ("", letter) else None


def _ideas(tx: Tx, ctx: Ctx, typed: str) -> Iterator[Found]:
    """Ideas by number or title, by what is written about them, and the files of those."""
    if not ctx.actor.for_ideas:
        return
    number = _number(typed, "i")
    words = str(looked_for(typed)["text_words"])
    titled = tx.values(int, "found.titles", words=words) if words else []
    told = tx.values(int, "found.texts", words=words) if words else []
    wanted = tuple(dict.fromkeys([*([number] if number else []), *titled, *told]))
    rows = seen_among(tx, ctx, wanted)
    for row in rows:
        yield _idea(row, written=True)
    if not rows:
        return
    for file in tx.all(FoundFiles, "found.files", ideas=tuple(row.id for row in rows)):
        where, name = f"I-{file.idea_id} {file.idea}", file.title or file.name
        yield Found(
            "file", file.id, "", name, f"{file.name}, on {where}", f"/ideas/{file.idea_id}?sheet=answers"
        )


def _idea(row: ListIdeas, written: bool = False) -> Found:
    link = f"/ideas/new/{row.id}" if row.stage == "draft" else f"/ideas/{row.id}"
    return Found("idea", row.id, f"I-{row.id}", row.title, row.stage, link, written)


def _misspelt_ideas(tx: Tx, ctx: Ctx, typed: str) -> list[Found]:
    """Ideas whose title is like what was typed, looked for once nothing was found by the letter."""
    if not ctx.actor.for_ideas:
        return []
    rows = seen_among(tx, ctx, tuple(alike(typed, words_of_titles(tx))[-MOST:]))
    return [_idea(row) for row in rows]


def _routines(tx: Tx, ctx: Ctx, typed: str) -> Iterator[Found]:
    """Routines, the command that starts each, and the latest run of those that are near."""
    if not ctx.actor.may("routine.see"):
        return
    rows = tx.all(FoundRoutines, "found.routines", **ctx.scope("routine.see"))
    found = [Found("routine", row.id, "", row.name, row.area, f"/workshop/routines/{row.id}") for row in rows]
    yield from found
    for row in rows:
        if ctx.actor.may_at("run.make", row.area_id):
            yield Found(
                "command", row.id, "", f"Start {row.name}", row.area, f"/workshop/routines/{row.id}?start=1"
            )
    near = nearest(typed, found, MOST).rows
    if near and ctx.actor.may("run.see"):
        for run in tx.all(FoundRun, "found.last_runs", routines=tuple(one.id for one in near)):
            yield _run(run, "the latest")


def _run(run: FoundRun, which: str = "") -> Found:
    more = ", ".join(part for part in (run.state, which) if part)
    return Found("run", run.id, f"R-{run.id}", run.routine, more, f"/runs/{run.id}")


def _runs(tx: Tx, ctx: Ctx, typed: str) -> Iterator[Found]:
    number = _number(typed, "r")
    if number is None or not ctx.actor.may("run.see"):
        return
    run = tx.one(FoundRun, "found.run", number=number, **ctx.scope("run.see"))
    if run:
        yield _run(run)


def _pages(tx: Tx, ctx: Ctx, _typed: str) -> Iterator[Found]:
    for row in selfservice.found(tx, ctx):
        yield Found("page", row.id, "", row.title, row.does, f"/self-service/{row.id}")


def _packages(tx: Tx, ctx: Ctx, _typed: str) -> Iterator[Found]:
    if ctx.actor.may("package.see"):
        hidden, told = sight.unseen(tx, ctx), set()
        for row in tx.all(FoundPackages, "found.packages"):
            # The newest that the reader sees stands for the package.
            if row.release_id not in hidden and row.id not in told:
                told.add(row.id)
                yield Found("package", row.id, "", row.name, "", f"/workshop/releases/{row.release_id}")


def _lies(names: Iterable[str]) -> str:
    """In which areas something works, in words."""
    return f"in {', '.join(sorted(names))}" if names else ""


def _machines(tx: Tx, ctx: Ctx, _typed: str) -> Iterator[Found]:
    if not ctx.actor.may("robot.see"):
        return
    robots = robots_seen(tx, ctx)
    seen = {area.id for area in areas_seen(tx, ctx)}
    on_hosts: dict[int, set[str]] = {}
    allowed = areas_allowed(tx, robots)
    for robot in robots:
        names = {area.name for area in allowed[robot.id] if area.id in seen}
        on_hosts.setdefault(robot.host_id, set()).update(names)
        more = ", ".join(part for part in (f"on {robot.host}", _lies(names)) if part)
        yield Found("robot", robot.id, "", robot.name, more, f"/robots/{robot.id}")
    for host in hosts_seen(tx, ctx):
        more = _lies(on_hosts.get(host.id, set()))
        yield Found("host", host.id, "", host.name, more, f"/robots/hosts/{host.id}")


def _people(tx: Tx, ctx: Ctx, _typed: str) -> Iterator[Found]:
    if ctx.actor.may("person.see"):
        for row in tx.all(FoundPeople, "found.people"):
            more = ", ".join(part for part in (row.division, row.email) if part)
            yield Found("person", row.id, "", row.name, more, f"/house/people/{row.id}")


def _systems(tx: Tx, ctx: Ctx, _typed: str) -> Iterator[Found]:
    if ctx.actor.may("system.see"):
        for row in tx.all(FoundSystems, "found.systems"):
            yield Found("system", row.id, "", row.name, row.access, f"/house/systems?system={row.id}")


def _areas(tx: Tx, ctx: Ctx, _typed: str) -> Iterator[Found]:
    if ctx.actor.may("area.see"):
        for row in areas_seen(tx, ctx):
            yield Found("area", row.id, "", row.name, "", f"/house/areas?area={row.id}")


def _places(_tx: Tx, ctx: Ctx, _typed: str) -> Iterator[Found]:
    def found(kind: str, places: tuple[Place, ...]) -> Iterator[Found]:
        for n, one in enumerate(open_to(places, ctx.actor.may)):
            yield Found(kind, n, "", one.name, one.words, one.link, other=one.other)

    yield from found("section", SECTIONS)
    yield from found("house rule", RULES)
    yield from found("command", COMMANDS)


SOURCES: tuple[Callable[[Tx, Ctx, str], Iterator[Found]], ...] = (
    _places,
    _ideas,
    _runs,
    _routines,
    _pages,
    _packages,
    _machines,
    _people,
    _systems,
    _areas,
)


@in_transaction
def find(tx: Tx, ctx: Ctx, typed: str, limit: int = 12) -> Hits:
    """What the actor may see of what was typed, the nearest first; by words, numbers and misspellings."""
    text = typed.strip()[:LONGEST]
    if not words_of(text):
        return Hits(rows=[], of_all=0, misspelt=False)
    found = list(chain.from_iterable(source(tx, ctx, text) for source in SOURCES))
    near = nearest(text, found, limit)
    if not any(one.kind == "idea" for one in found):
        near = nearest(text, chain(found, _misspelt_ideas(tx, ctx, text)), limit)
    shown = [Hit(one.kind, one.ref, one.name, one.more, one.link) for one in near.rows]
    return Hits(rows=shown, of_all=near.of_all, misspelt=bool(shown) and not near.by_letter)
