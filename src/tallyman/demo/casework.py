"""Sizings and cases of the demo: systems and their owners, roles, experts asked, what was delivered."""

from __future__ import annotations

from datetime import date, timedelta

from tallyman.demo import world
from tallyman.demo.past import Past
from tallyman.services.cases import asked, delivered, fact_keeping, promises, sizing, variants
from tallyman.services.context import Ctx
from tallyman.services.house import systems
from tallyman.store.records.common import DemoIdeasAt
from tallyman.store.records.ideas import Promise

# System, access, owner, whether there is a test system, and what one should know of it.
SYSTEMS = (
    ("Fettlebook", "web", "Corin Dahl", "yes", "The job book; closed for an hour each night at two."),
    ("Dialhouse", "API", "Owen Tarr", "yes", "The meter store; a new release each spring."),
    ("Assayroom", "desktop", "Hanne Vik", "no", "The laboratory book, one window at a time."),
    ("Culvertline", "web", None, "yes", "The map."),
    ("Kerbgate", "web", None, "no", "The street-works portal; the county runs it."),
    ("Sumhall", "desktop", "Ruth Abernathy", "yes", "The ledger; closed in the first two days of a month."),
    ("shared mail", "API", None, "not known", ""),
)
# The role of those who do the work, by division.
ROLES = {
    "Networks": "engineer",
    "Treatment & Laboratory": "laboratory analyst",
    "Customers & Metering": "clerk",
    "Fleet & Stores": "clerk",
    "Corporate": "clerk",
}
# Of each idea in service: person-days by phase, and by how much more came than was thought.
SPENT = (("2.5", "7", "3.5"), ("1.5", "6.5", "2"), ("3", "9", "4"))
CAME = (1.06, 0.91, 1.18)


def enter_systems(loader: Past) -> None:
    """The inventory, as the analyst entered it."""
    ctx = loader.ctx("Mei Tanaka", 700)
    for name, access, owner, test, note in SYSTEMS:
        owner_id = loader.actors[owner].person_id if owner else None
        systems.add(ctx, systems.Given(name, access, owner_id, test, note))


def write(loader: Past) -> None:
    """What analysts, experts and the lead did with sizings and cases, and what builders recorded."""
    _cases(loader)
    _delivered(loader)


def _stages(loader: Past, stage: str, state: str = "", first: str = "id") -> list[int]:
    """Ideas at a stage, the latest (or those of the most worth) first."""
    rows = loader.db.transact(lambda tx: tx.all(DemoIdeasAt, "demo.ideas_at", stage=stage, state=state))
    return [row.id for row in sorted(rows, key=lambda row: -(getattr(row, first) or 0))]


def _cases(loader: Past) -> None:
    mei = loader.ctx("Mei Tanaka", 6)
    sized = _stages(loader, "sized", "agreed", "worth")
    offered = _stages(loader, "screened", "offered")
    open_ones = _stages(loader, "screened", "open")
    notes = {
        "benefit_lines": [
            {
                "name": "Late notices",
                "kind": "penalties avoided",
                "amount": "2400",
                "how": "four a year at 600, by the regulator's list",
            },
            {"name": "Reader of forms", "kind": "licence given back", "amount": "1150", "currency": "GBP"},
        ],
        "running_lines": [
            {"name": "Support desk", "share": "0.05", "days": "220", "day_cost": "390"},
        ],
        "risk_note": "The form is to change next spring; the robot would need a day or two then.",
        "strategy_note": "The depots wait for it; it would be the first robot that they see.",
        "mends": {"cost": 3, "errors": 2, "waiting": 4, "relief of staff": 1},
    }
    for idea in sized[:1]:
        facts = {name: value for name, value in notes.items() if name != "mends"}
        fact_keeping.keep(mei, idea, facts, {}, "talk with finance")
        changes = {"robot_minutes": "4", "robot_exception_share": "0.12"}
        variants.put(mei, idea, None, "slow portal", changes, 0)
    if offered:
        points = [("volume", "Is the quiet summer in it?"), ("rework_share", "Half of what the depots say")]
        sizing.settle(loader.ctx("Ines Varga", 2), offered[0], False, "", points)
        fact_keeping.keep(
            loader.ctx("Mei Tanaka", 1), offered[0], {"rework_share": "0.08"}, {"rework_share": 1}, ""
        )
    corin = loader.actors["Corin Dahl"].person_id
    for idea in open_ones[:2]:
        assert corin is not None
        words = "How many come in a month, and how long does one take?"
        wanted = ["volume", "rhythm", "handling_minutes", "unsuitable_share", "rework_share"]
        asked.send(loader.ctx("Mei Tanaka", 3), idea, corin, words, wanted)


def _delivered(loader: Past) -> None:
    """Days spent and items counted of the ideas in service; one of them was promised anew."""
    jonas = loader.ctx("Jonas Lindqvist", 30)
    for n, (_, index, *_rest) in enumerate(world.ROUTINES):
        idea = loader.ideas[index]
        row = _promise(loader, idea)
        for phase, days in zip(row.plan["phases"], SPENT[n], strict=False):
            ended = date.fromisoformat(phase["end"]) + timedelta(days=2)
            delivered.spend(jonas, idea, phase["name"], days, ended, 0)
        _months(loader, idea, CAME[n], float(row.input["volume_per_year"]))
    ines = Ctx(loader.db, loader.now - timedelta(days=20), loader.actors["Ines Varga"])
    idea = loader.ideas[world.ROUTINES[-1][1]]
    fact_keeping.keep(
        loader.ctx("Mei Tanaka", 21),
        idea,
        {"robot_exception_share": "0.11"},
        {"robot_exception_share": 1},
        "",
    )
    promises.promise_anew(ines, idea, "More certificates are handed back since the new form", 1)


def _promise(loader: Past, idea: int) -> Promise:
    row = loader.db.transact(lambda tx: tx.one(Promise, "ideas.promise", idea=idea))
    assert row is not None
    return row


def _months(loader: Past, idea: int, more: float, yearly: float) -> None:
    mei = loader.ctx("Mei Tanaka", 2)
    day = loader.now.date().replace(day=1)
    for n in range(1, 7):
        day = (day - timedelta(days=1)).replace(day=1)
        items = round(yearly / 12 * more * (1 + 0.03 * ((n * 7) % 5 - 2)))
        delivered.count_month(mei, idea, day.strftime("%Y-%m"), str(items), "monthly count of the desk", 0)
