"""Measures the robots' pages of a large house: 100 areas, 200 hosts and 500 robots."""

from __future__ import annotations

from tallyman.launcher.bench_engine import median_ms
from tallyman.launcher.bench_installation import Installation
from tallyman.services import robots
from tallyman.services.house import areas
from tallyman.services.robots import many, seats_page
from tallyman.services.starts import host_work, seats_coming
from tallyman.services.uses import view

AREAS, HOSTS, ROBOTS = 100, 200, 500
# How deep areas lie within one another.
WIDE = 10
LOOKS = 9
HEAD = "robot,host,areas,tags"


def _fill(one: Installation) -> None:
    """Areas in trees of ten, hosts with robots, all of them connected."""
    ids: list[int] = []
    for n in range(AREAS):
        above = ids[n - n % WIDE] if n % WIDE else None
        ids.append(areas.add_area(one.ctx(), f"Reach {n}", above))
    one.hosts(HOSTS, ids[0], "Sluice")
    rows = [f"Dipper {n},Sluice {n % HOSTS},Reach {n % AREAS},letters" for n in range(ROBOTS - HOSTS)]
    many.bring(one.ctx(), "\n".join([HEAD, *rows]).encode())


def measure(port: int = 9430) -> dict[str, dict[str, float]]:
    """What each page of a large house takes, in milliseconds, without the way to the browser."""
    one = Installation(port)
    try:
        return {f"pages of {HOSTS} hosts, {ROBOTS} robots, {AREAS} areas, median ms": _measure(one)}
    finally:
        one.end()


def _measure(one: Installation) -> dict[str, float]:
    _fill(one)
    shown = robots.view(one.ctx())
    host, robot = shown.hosts[-1].id, shown.robots[-1].id
    looks = {
        "hosts and robots": lambda: robots.view(one.ctx()),
        "a robot": lambda: robots.robot_page(one.ctx(), robot),
        "a host": lambda: robots.host_page(one.ctx(), host),
        "work of a host": lambda: host_work.view(one.ctx(), host),
        "what hangs on a host": lambda: view.of(one.ctx(), "host", str(host)),
        "what hangs on an area": lambda: view.of(one.ctx(), "area", str(shown.areas[0].id)),
        "seats": lambda: seats_page.view(one.ctx()),
        "seats, the next 24 hours": lambda: seats_coming.view(one.ctx()),
    }
    return {what: median_ms(look, LOOKS) for what, look in looks.items()}
