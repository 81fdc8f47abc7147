"""What came to the demo's hosts and robots of late: more of them, one looked after, one half way to work."""

from __future__ import annotations

from datetime import timedelta

from tallyman.demo import world
from tallyman.demo.past import Past
from tallyman.services import robots

SINCE_DAYS = 6


def play(demo: Past, areas: dict[str, int]) -> None:
    """Adds them, gives one host maintenance until tomorrow, and lists the applications to look for."""
    ctx = demo.ctx("Sol Marín", SINCE_DAYS)
    hosts = {host.name: host.id for host in robots.view(ctx).hosts}
    for name, seats in world.NEWER_HOSTS:
        hosts[name] = robots.add_host(ctx, name, seats).id
    for name, host, tags, where, account in world.NEWER_ROBOTS:
        allowed = [areas[one] for one in where]
        robots.add_robot(ctx, robots.Given(name, hosts[host], list(tags), allowed, account))
    today = demo.ctx("Sol Marín", 0)
    robots.maintenance.begin(today, hosts["Culvert"], today.now + timedelta(days=1), "twice the memory")
    rows = [robots.applications.Given(name, list(ways)) for name, ways in world.APPLICATIONS]
    robots.applications.keep(demo.ctx("Ines Varga", SINCE_DAYS), rows, "what our routines may need", 0)
