"""What came to the demo's hosts and robots of late: more of them, one looked after, one half way to work."""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING

from tallyman.demo import world
from tallyman.services import robots

if TYPE_CHECKING:
    from tallyman.demo.load import Loader

SINCE_DAYS = 6


def play(demo: Loader) -> None:
    """Adds them, gives one host maintenance until tomorrow, and lists the applications to look for."""
    ctx = demo.ctx("Sol Marín", SINCE_DAYS)
    hosts = {host.name: host.id for host in robots.view(ctx).hosts}
    for name, seats in world.NEWER_HOSTS:
        hosts[name] = robots.add_host(ctx, name, seats).id
    for name, host, tags, areas, account in world.NEWER_ROBOTS:
        allowed = [demo.areas[one] for one in areas]
        robots.add_robot(ctx, robots.Given(name, hosts[host], list(tags), allowed, account))
    today = demo.ctx("Sol Marín", 0)
    robots.maintenance.begin(today, hosts["Culvert"], today.now + timedelta(days=1), "twice the memory")
    rows = [robots.applications.Given(name, list(ways)) for name, ways in world.APPLICATIONS]
    robots.applications.keep(demo.ctx("Ines Varga", SINCE_DAYS), rows, "what our routines may need", 0)
