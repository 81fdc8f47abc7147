"""The applications that runners look for on their hosts: the list that the house keeps."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import asdict, dataclass

from tallyman.errors import Fault, InputFaults
from tallyman.formats.sound import one_line
from tallyman.services.context import Ctx, changed, in_transaction
from tallyman.services.house import rule_sets
from tallyman.services.robots.answers import Application, ApplicationsRule
from tallyman.services.robots.readings import APPLICATIONS, looked_for
from tallyman.store.db import Tx
from tallyman.store.records.robots import HostSeen

MOST, MOST_WAYS, LONGEST_NAME = 50, 10, 40
# A command on the path, or a file or folder from the root on.
WAY = re.compile(r"^(/[^\0\n]{1,198}|[A-Za-z0-9][A-Za-z0-9._+-]{0,98})$")


@dataclass(frozen=True)
class Given:
    """An application as somebody names it, and what it is found by on a host."""

    name: str
    found_by: list[str]


@in_transaction
def view(tx: Tx, ctx: Ctx) -> ApplicationsRule:
    """The list, on how many hosts each is, and the versions."""
    ctx.require_at("house.change", None)
    _, version = rule_sets.newest(tx, APPLICATIONS)
    there = [set(host.apps or []) for host in tx.all(HostSeen, "robots.hosts")]
    return ApplicationsRule(
        version=version,
        applications=[
            Application(name=name, found_by=ways, hosts=sum(name in apps for apps in there))
            for name, ways in looked_for(tx).items()
        ],
        versions=rule_sets.shown(tx, APPLICATIONS),
    )


def _checked(rows: Sequence[Given]) -> list[Given]:
    faults, seen, clean = [], set(), []
    if len(rows) > MOST:
        faults.append(Fault("applications", len(rows), f"up to {MOST}"))
    for n, row in enumerate(rows):
        name, ways = row.name.strip(), [way.strip() for way in row.found_by if way.strip()]
        at = f"applications.{n}"
        if not 1 <= len(name) <= LONGEST_NAME or one_line(name) != name or "," in name:
            message = f"give a name of 1 to {LONGEST_NAME} characters, in one line and without commas"
            faults.append(Fault(f"{at}.name", name[:60], message))
        elif name.casefold() in seen:
            faults.append(Fault(f"{at}.name", name, "stands in the list already"))
        seen.add(name.casefold())
        if not 1 <= len(ways) <= MOST_WAYS:
            message = f"name what it is found by: 1 to {MOST_WAYS} commands or paths"
            faults.append(Fault(f"{at}.found_by", len(ways), message))
        for way in ways:
            if not WAY.match(way):
                message = "a command such as report-writer, or a path from the root on"
                faults.append(Fault(f"{at}.found_by", way[:60], message))
        clean.append(Given(name, ways))
    if faults:
        raise InputFaults(faults)
    return clean


@in_transaction
def keep(tx: Tx, ctx: Ctx, rows: Sequence[Given], note: str, seen: int) -> int:
    """A new version of the list; runners look with their next reading. Raises InputFaults, Conflict."""
    content = {"applications": [asdict(one) for one in _checked(rows)]}
    version = rule_sets.keep(tx, ctx, APPLICATIONS, content, note, seen)
    tx.write("readings.again")
    changed(tx, ctx, "robots")
    return version
