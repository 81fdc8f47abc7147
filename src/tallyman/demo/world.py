"""Who and what there is in Merrowdale Water: all of it made up."""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from tallyman.core.runs import SeatKind

COMPANY = "Merrowdale Water"
ZONE = "Europe/Lisbon"
CURRENCY = "EUR"
PASSWORD = "tally-the-water-26"
DOMAIN = "merrowdale.example"
DIVISIONS = (
    "Networks",
    "Treatment & Laboratory",
    "Customers & Metering",
    "Fleet & Stores",
    "Corporate",
)
# Name, division, roles; the first role is the one printed at the start.
PEOPLE = (
    ("Ines Varga", "Corporate", ("lead",)),
    ("Tom Okafor", "Corporate", ("reviewer",)),
    ("Mei Tanaka", "Corporate", ("analyst",)),
    ("Jonas Lindqvist", "Corporate", ("builder",)),
    ("Priya Raman", "Corporate", ("builder",)),
    ("Sol Marín", "Corporate", ("operator",)),
    ("Ruth Abernathy", "Corporate", ("backer",)),
    ("Ada Pell", "Customers & Metering", ("proposer",)),
    ("Corin Dahl", "Networks", ("work owner",)),
    ("Lena Brook", "Treatment & Laboratory", ("expert",)),
    ("Marek Sowa", "Networks", ("proposer",)),
    ("Hanne Vik", "Fleet & Stores", ("proposer",)),
    ("Owen Tarr", "Customers & Metering", ("proposer",)),
    ("Bela Kiss", "Treatment & Laboratory", ("proposer",)),
)
# Came lately and hold no role for the whole company; each by name and division.
NEWCOMERS = (("Nils Arden", "Treatment & Laboratory"), ("Jaro Senn", "Fleet & Stores"))
# Where the ideas of a division belong, so that roles held for an area reach them.
PLACES = {
    "Networks": "Street works",
    "Treatment & Laboratory": "Laboratory",
    "Customers & Metering": "Metering",
    "Fleet & Stores": "Back office",
    "Corporate": "Back office",
}
# A group, the role it holds, for which area, and who is in it.
GROUP = ("Laboratory desk", "operator", "Laboratory", ("Nils Arden",))
# The claim of single sign-on that the group follows.
GROUP_CLAIM = "laboratory-desk"
# A secret that a package of the demo asks for: name, area, what it is for, days until it ends.
SECRET = ("certificate-seal", "Laboratory", "Seals the laboratory's certificates", 11)
# A named value it asks for, which is no secret, and what it is on one robot.
NAMED = ("laboratory-name", "Laboratory", "Stands on every certificate", "Merrowdale laboratory, lower bench")
NAMED_ON = ("Heron 1", "Merrowdale laboratory, upper bench")
# Who can sign in at the identity stand-in beside people who are here: they come for the first time.
OUTSIDERS = (
    {"sub": "m-2041", "name": "Vera Holm", "email": "vera.holm", "groups": [GROUP_CLAIM]},
    {"sub": "m-2042", "name": "Pavel Orlik", "email": "pavel.orlik", "groups": []},
    {"sub": "m-1007", "name": "Ada Pell", "email": "ada.pell", "groups": []},
)
AREAS = (
    ("Merrowdale", None),
    ("Metering", "Merrowdale"),
    ("Street works", "Merrowdale"),
    ("Laboratory", "Merrowdale"),
    ("Back office", "Merrowdale"),
)
HOSTS = (("Weir", 2), ("Sluice", 1))
ROBOTS = (
    ("Dipper 1", "Weir", ("spreadsheets", "letters"), ("Metering", "Street works")),
    ("Dipper 2", "Weir", ("spreadsheets",), ("Metering",)),
    ("Heron 1", "Sluice", ("spreadsheets", "letters"), ("Laboratory", "Street works")),
)
# What came of late: Culvert is looked after, Grebe half way to work, and Penstock has no runner yet.
NEWER_HOSTS = (("Culvert", 2), ("Penstock", 1))
NEWER_ROBOTS = (
    ("Heron 2", "Weir", ("letters",), ("Street works",), ""),
    ("Otter", "Culvert", ("spreadsheets", "letters"), ("Merrowdale",), ""),
    ("Grebe", "Sluice", ("spreadsheets",), ("Back office",), "meterbot"),
)
# Kind, number, from how many days ago, to how many days ahead, price of one a year, note.
SEATS_BOUGHT: tuple[tuple[SeatKind, int, int, int | None, str | None, str], ...] = (
    ("unattended", 4, 780, None, None, "since the beginning"),
    ("unattended", 2, 160, 19, "4900.00", "for the second half of the year"),
    ("attended", 3, 200, 165, None, "for the billing desk"),
    ("trial", 6, 160, None, "0.00", "come with the unattended ones"),
    ("builder", 3, 400, 330, "1200.00", ""),
)
SEATS_GIVEN: tuple[tuple[SeatKind, str, int], ...] = (
    ("attended", "Tom Okafor", 1),
    ("builder", "Jonas Lindqvist", 1),
    ("builder", "Priya Raman", 1),
)
# A person's own computer, and the routine that asks for it.
OWN_COMPUTER = ("Tom Okafor", "Reedside")
ATTENDED = ("Readings to look at by eye", "check-readings", "Metering")
APPLICATIONS = (
    ("Browser", ("x-www-browser",)),
    ("Archive tools", ("tar",)),
    ("Assayroom client", ("assayroom", "/opt/assayroom")),
)


@dataclass(frozen=True)
class Tale:
    """An idea of the demo: its answers and how far it came, in days before today."""

    title: str
    what: str
    proposer: str
    division: str
    owner: str
    volume: tuple[str, str]
    minutes: str
    judge: int
    off: int
    arrives: tuple[tuple[str, int], ...]
    began: int
    stage: str
    changed: str = "nothing"
    announced: str = "nothing"
    evidence: tuple[str, ...] = ()
    facts: dict[str, Any] = field(default_factory=dict)
    unanswered: tuple[str, ...] = ()


def ends_of(minutes: str, amount: str) -> dict[str, str]:
    """What an expert says of the least and most, beside the usual."""
    usual, items = Decimal(minutes), Decimal(amount)
    ends = {
        "minutes_low": usual * 4 / 5,
        "minutes_high": usual * 8 / 5,
        "volume_low": items * 9 / 10,
        "volume_high": items * 5 / 4,
    }
    return {name: f"{end.normalize():f}" for name, end in ends.items()}


def _facts(steps: int, decisions: int, systems: tuple[tuple[str, str], ...], **more: Any) -> dict[str, Any]:
    base = {
        "steps": str(steps),
        "decisions": str(decisions),
        "systems": [{"name": name, "access": access} for name, access in systems],
        "unsuitable_share": "0.05",
        "rework_share": "0.04",
        "rework_minutes": "15",
        "robot_minutes": "2",
        "robot_exception_share": "0.05",
        "robot_exception_minutes": "8",
    }
    return {**base, **more}


TALES = (
    Tale(
        "Check implausible meter readings",
        "Compare each week's meter readings with last year's use and send those that cannot be right "
        "to a person before the bill goes out.",
        "Ada Pell",
        "Customers & Metering",
        "Owen Tarr",
        ("290", "working day"),
        "1.6",
        1,
        1,
        (("data feed", 3), ("spreadsheet", 1)),
        660,
        "in service",
        evidence=("how-to", "example in"),
        facts=_facts(
            14,
            3,
            (("Dialhouse", "API"), ("Sumhall", "desktop")),
            robot_minutes="0.2",
            robot_exception_minutes="2",
            rework_minutes="4",
        ),
    ),
    Tale(
        "Hydrant inspection letters",
        "Write a letter to the residents of each street whose hydrant was inspected, from the "
        "inspection list, and put a copy into the job book.",
        "Marek Sowa",
        "Networks",
        "Corin Dahl",
        ("24", "working day"),
        "9",
        1,
        2,
        (("spreadsheet", 2), ("screen", 1)),
        640,
        "in service",
        evidence=("how-to",),
        facts=_facts(11, 2, (("Fettlebook", "web"), ("shared mail", "web")), robot_minutes="1"),
    ),
    Tale(
        "Laboratory certificates into the job book",
        "Take each sample's result from the laboratory sheet over into the job book and attach the "
        "certificate to the site.",
        "Bela Kiss",
        "Treatment & Laboratory",
        "Lena Brook",
        ("34", "working day"),
        "6",
        0,
        1,
        (("spreadsheet", 1),),
        620,
        "in service",
        evidence=("how-to", "example in", "example out"),
        facts=_facts(16, 2, (("Assayroom", "desktop"), ("Fettlebook", "web")), robot_minutes="1"),
    ),
    Tale(
        "Leak allowance claims",
        "Check a claim for a leak allowance against the repair job and the meter, write the letter and "
        "post the credit.",
        "Ada Pell",
        "Customers & Metering",
        "Owen Tarr",
        ("100", "week"),
        "11",
        2,
        2,
        (("mail", 1), ("screen", 3)),
        40,
        "building",
        evidence=("how-to", "example in"),
        facts=_facts(22, 5, (("Fettlebook", "web"), ("Dialhouse", "API"), ("Sumhall", "desktop"))),
    ),
    Tale(
        "Tanker log to ledger",
        "Copy each tanker's load and mileage from the log sheet into the ledger at the end of the day.",
        "Hanne Vik",
        "Fleet & Stores",
        "Hanne Vik",
        ("45", "working day"),
        "4",
        0,
        1,
        (("spreadsheet", 3), ("handwriting", 1)),
        22,
        "backed",
        evidence=("example in",),
        facts=_facts(9, 1, (("Sumhall", "desktop"),), robot_minutes="1"),
    ),
    Tale(
        "Burst-main notices to homes",
        "When a main bursts, find the homes that lose water on the map and send them a notice with the "
        "expected time of repair.",
        "Marek Sowa",
        "Networks",
        "Corin Dahl",
        ("38", "week"),
        "35",
        2,
        3,
        (("screen", 2), ("free text", 1)),
        41,
        "sized",
        evidence=("how-to",),
        facts=_facts(18, 6, (("Culvertline", "desktop"), ("shared mail", "web"), ("Dialhouse", "API"))),
    ),
    Tale(
        "Street-works permit requests",
        "Fill the permit request on the portal from the job book and note the answer in the job.",
        "Marek Sowa",
        "Networks",
        "Corin Dahl",
        ("60", "week"),
        "14",
        1,
        2,
        (("screen", 3), ("fixed form", 1)),
        19,
        "sized",
        changed="small",
        evidence=("how-to", "drawing"),
        facts=_facts(20, 4, (("Kerbgate", "web"), ("Fettlebook", "web"))),
    ),
    Tale(
        "Priority-care register sync",
        "Compare the register of homes with special needs in the meter store with the one of the "
        "customer desk and mend the differences.",
        "Owen Tarr",
        "Customers & Metering",
        "Owen Tarr",
        ("420", "month"),
        "5",
        1,
        1,
        (("database", 1),),
        13,
        "offered",
        evidence=("example in", "example out"),
        facts=_facts(10, 3, (("Dialhouse", "API"), ("shared spreadsheets", "API"))),
    ),
    Tale(
        "Wayleave renewals",
        "Find the wayleaves that run out within the year, write to the land owners and file the answers.",
        "Marek Sowa",
        "Networks",
        "Corin Dahl",
        ("900", "year"),
        "40",
        4,
        3,
        (("scan", 2), ("mail", 1)),
        30,
        "screened",
    ),
    Tale(
        "Bore-hole level returns",
        "Collect the monthly levels of the bore holes and fill in the return to the regulator.",
        "Bela Kiss",
        "Treatment & Laboratory",
        "Lena Brook",
        ("64", "month"),
        "25",
        1,
        1,
        (("data feed", 2), ("fixed form", 1)),
        9,
        "screened",
        evidence=("how-to",),
    ),
    Tale(
        "Meter readings that look wrong",
        "Look through the meter readings of the week for those that cannot be right and ask the home "
        "for a photo.",
        "Owen Tarr",
        "Customers & Metering",
        "Owen Tarr",
        ("150", "week"),
        "3",
        2,
        1,
        (("data feed", 1), ("image", 1)),
        9,
        "noted",
    ),
    Tale(
        "Store orders below the limit",
        "Order spare parts when the stock of a depot falls below its limit, by the form of the supplier.",
        "Hanne Vik",
        "Fleet & Stores",
        "Hanne Vik",
        ("35", "week"),
        "12",
        2,
        2,
        (("spreadsheet", 1), ("fixed-layout PDF", 1)),
        4,
        "noted",
        evidence=("how-to",),
        unanswered=("announced",),
    ),
    Tale(
        "Toolbox talk attendance",
        "Type the names from the signed attendance sheet into the training list.",
        "Hanne Vik",
        "Fleet & Stores",
        "Hanne Vik",
        ("12", "month"),
        "20",
        0,
        1,
        (("handwriting", 1),),
        25,
        "declined",
    ),
    Tale(
        "Moving-house final bills",
        "Read the final meter reading from the mail, close the account and send the last bill.",
        "Ada Pell",
        "Customers & Metering",
        "",
        ("80", "week"),
        "9",
        3,
        2,
        (("mail", 1),),
        1,
        "draft",
        unanswered=("changed", "announced", "judge", "off"),
    ),
)
# Each counting routine: idea, package, area, count, a usual day's runs, and its trigger today.
# Ideas that left the way: parked until some days ahead, merged into another, sent another route.
PARKED = Tale(
    "Reservoir visit sheets",
    "Type the sheets of the weekly reservoir visits into the job book.",
    "Hanne Vik",
    "Fleet & Stores",
    "Hanne Vik",
    ("24", "week"),
    "9",
    1,
    2,
    (("scan", 1),),
    70,
    "noted",
)
MERGED = Tale(
    "Permit forms for street works",
    "Fill the permit form on the portal for each job in the road and note the answer.",
    "Hanne Vik",
    "Networks",
    "Corin Dahl",
    ("15", "week"),
    "12",
    1,
    2,
    (("screen", 1),),
    60,
    "noted",
)
ROUTED = Tale(
    "Duplicate stock cards",
    "Look through the stock cards for parts that stand there twice and put them together.",
    "Owen Tarr",
    "Fleet & Stores",
    "Hanne Vik",
    ("30", "month"),
    "20",
    5,
    4,
    (("screen", 1),),
    50,
    "noted",
)
# About which idea of the tales: who joined with which volume, and who said what, in days before today.
VOICES = (("Bore-hole level returns", "Corin Dahl", 5, ("40", "month"), "Also for the northern bore-holes"),)
TALK = (
    ("Bore-hole level returns", "Tom Okafor", 4, "Who sends the levels to the regulator today?"),
    (
        "Bore-hole level returns",
        "Bela Kiss",
        3,
        "The laboratory does, by mail each month. I attach last month's.",
    ),
    ("Street-works permit requests", "Mei Tanaka", 12, "Does the portal take a list, or one job at a time?"),
    ("Street-works permit requests", "Marek Sowa", 11, "One at a time, and it asks for the map each time."),
)
ROUTINES = (
    ("Check meter readings", 0, "check-readings", "Metering", "readings", 5, "*/5 * * * *"),
    ("Hydrant letters", 1, "hydrant-letters", "Street works", "letters", 3, "40 7-18 * * 1-5"),
    ("Laboratory certificates", 2, "lab-sheets", "Laboratory", "certificates", 4, "*/15 * * * *"),
)
# Kind, for whom or which, division, value, days before today from which it was in force.
RATES = (
    ("hour_cost", "", "", "36.00", 780),
    ("hour_cost", "", "", "38.00", 200),
    ("hour_cost", "clerk", "", "33.50", 400),
    ("hour_cost", "clerk", "", "34.20", 3),
    ("hour_cost", "clerk", "Customers & Metering", "35.80", 400),
    ("hour_cost", "engineer", "", "52.00", 400),
    ("hour_cost", "laboratory analyst", "", "46.50", 400),
    ("person_hours_year", "", "", "1640", 780),
    ("robot_hour", "", "", "6.50", 780),
    ("day_rate", "", "", "560.00", 780),
    ("day_rate", "analyst", "", "510.00", 780),
    ("seat_year", "", "", "5200.00", 780),
    ("seat_year", "attended", "", "1900.00", 780),
    ("hosting", "", "", "340.00", 780),
    ("support_share", "", "", "0.12", 780),
    ("support_day", "support desk", "", "390.00", 780),
    ("other_software", "", "", "400.00", 780),
    ("other_software", "Reading of scans", "", "2600.00", 500),
    ("exchange", "USD", "", "0.93", 300),
    ("exchange", "GBP", "", "1.16", 300),
    ("discount_rate", "", "", "0.06", 780),
)
