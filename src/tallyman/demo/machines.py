"""What came to the demo's hosts and robots of late: more of them, one looked after, one half way to work."""

from __future__ import annotations

from datetime import timedelta
from decimal import Decimal

from tallyman.demo import world
from tallyman.demo.past import Past
from tallyman.services import robots, runs
from tallyman.services.robots import seat_lots, seat_peaks
from tallyman.services.workshop import packages, routines

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
    _seats(demo)
    _own_computer(demo, areas)
    rows = [robots.applications.Given(name, list(ways)) for name, ways in world.APPLICATIONS]
    robots.applications.keep(demo.ctx("Ines Varga", SINCE_DAYS), rows, "what our routines may need", 0)


def _own_computer(demo: Past, areas: dict[str, int]) -> None:
    """Somebody's own computer, and a routine on trial for them whose run asks for it."""
    person, name = world.OWN_COMPUTER
    robots.own.connect(demo.ctx(person, 2), name)
    sol = demo.ctx("Sol Marín", 1.5)
    desk = next(one for one in robots.view(sol).robots if one.name == name)
    robots.change_robot(sol, desk.id, robots.Given(name, desk.host_id, ["spreadsheets"], []), desk.version)
    routine, package, area = world.ATTENDED
    ctx = demo.ctx("Sol Marín", 1)
    release = next(row.id for row in packages.listed(ctx) if row.package == package)
    mine = demo.actors[person].person_id
    given = routines.Given(routine, areas[area], release, {}, [], attended="answer", attended_for=mine)
    number = routines.add(ctx, given)
    runs.start(demo.ctx("Sol Marín", 0.01), number, "demo-attended")


def _seats(demo: Past) -> None:
    """Seats of every kind, with some that end soon; how many were used is noted as the engine does."""
    ctx = demo.ctx("Sol Marín", 0)
    today = ctx.now.date()
    for kind, number, since, until, price, note in world.SEATS_BOUGHT:
        last = None if until is None else today + timedelta(days=until)
        cost = None if price is None else Decimal(price)
        first = today - timedelta(days=since)
        seat_lots.buy(ctx, seat_lots.Given(kind, number, first, last, cost, note))
    for kind, name, number in world.SEATS_GIVEN:
        holder = demo.actors[name].person_id
        assert holder is not None
        seat_lots.give(ctx, kind, "person", holder, number)
    while seat_peaks.note(ctx):
        pass
