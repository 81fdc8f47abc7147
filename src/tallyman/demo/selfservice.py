"""What colleagues of the demo start themselves: pages for all and for a desk, one paused; what was said."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from tallyman.demo import history
from tallyman.demo.past import Past
from tallyman.demo.releases import PACKAGES
from tallyman.formats.package_zip import pack
from tallyman.services import access
from tallyman.services.selfservice import publishing, reading, saying, using
from tallyman.services.workshop import packages, routines
from tallyman.store.db import Tx

SOL = "Sol Marín"


@dataclass(frozen=True)
class Page:
    """A page: its routine, name, what it does and needs, what it asks for, who looks after it, and the group
    that it is for (none: all)."""

    routine: str
    title: str
    does: str
    needs: str
    asks: tuple[str, ...]
    keeper: str = SOL
    group: str = ""


# Packages that exist for colleagues alone: package, routine, area, and inputs where nobody is asked.
OWN: tuple[tuple[str, str, str, dict[str, object]], ...] = (
    ("street-notices", "Street notices", "Street works", {"street": "Mill Reach", "day": "2026-01-12"}),
    ("allowance-sheets", "Allowance sheets", "Metering", {"used": 410, "usual": 120}),
    ("sample-labels", "Sample labels", "Laboratory", {"round": "North"}),
)
PAGES = (
    Page(
        "Street notices",
        "Notice to a street",
        "Writes the notice to the residents of a street whose water is off, ready to be printed or mailed.",
        "The street, the day, and the hours as the crew gave them.",
        ("street", "day", "hours", "what"),
    ),
    Page(
        "Allowance sheets",
        "Leak allowance",
        "Works out what a customer is allowed for a leak, and writes the sheet for the answer.",
        "What was used in the year of the leak and in a usual one: both stand in Dialhouse.",
        ("used", "usual", "price", "first_claim"),
        "Owen Tarr",
    ),
    Page(
        "Sample labels",
        "Labels for a sample round",
        "Writes the labels for tomorrow's round, in the order of the route.",
        "",
        ("round", "bottles"),
        "Lena Brook",
    ),
    Page(
        "Check meter readings",
        "Check a list of readings",
        "Compares each reading of a list with the last one, and gives back those that cannot be right.",
        "A list as CSV with the columns meter, last and now. Without one the sample week is checked.",
        ("readings", "most_times"),
    ),
    Page(
        "Hydrant letters",
        "Letters about hydrants",
        "Writes a letter for each inspected hydrant of a list.",
        "The inspection list as CSV, as Fettlebook gives it out.",
        ("inspections",),
    ),
    Page(
        "Laboratory certificates",
        "Take a laboratory sheet over",
        "Takes the results of one sheet over into the job book.",
        "The sheet as CSV with sample, pH and chlorine.",
        ("sheet",),
        "Lena Brook",
        "Laboratory desk",
    ),
)
PAUSED = (
    "Letters about hydrants",
    "Fettlebook gives out a new list from Monday on; until then they are by hand",
)
# Page, who ran it, days ago.
RUNS = (
    ("Notice to a street", "Ilse Marten", 9.2),
    ("Notice to a street", "Rafa Quint", 6.1),
    ("Notice to a street", "Ilse Marten", 2.3),
    ("Leak allowance", "Jana Birk", 8.4),
    ("Leak allowance", "Jana Birk", 5.2),
    ("Leak allowance", "Felix Orme", 5.1),
    ("Leak allowance", "Nadia Sund", 1.2),
    ("Labels for a sample round", "Emil Varn", 3.4),
)
# Page, who, marks, remark.
MARKS = (
    ("Notice to a street", "Ilse Marten", 5, "Saves me a call to the print room each time"),
    ("Leak allowance", "Jana Birk", 4, "Quick; I still copy the sheet into the mail by hand"),
    ("Leak allowance", "Felix Orme", 3, ""),
    ("Check a list of readings", "Theo Marsh", 5, "Found two swapped digits on the first day"),
)
WISH = (
    "Check a list of readings",
    "Theo Marsh",
    "it took the list as the meter store mails it, without the columns",
)
# What is done once the demo's runners are there.
WAITS: tuple[str, str, dict[str, object]] = ("Leak allowance", "Jana Birk", {"used": 386, "usual": 140})
FAVOURITES = (("Leak allowance", "Jana Birk"), ("Notice to a street", "Ada Pell"))


class SelfService:
    """Publishes routines to colleagues, who use them."""

    def __init__(self, past: Past) -> None:
        self._past = past
        self._pages: dict[str, int] = {}

    def play(self) -> None:
        """Pages, whose runs there were, and what was said."""
        rows = {one.name: one.id for one in routines.listed(self._past.ctx(SOL, 12))}
        for page in PAGES:
            self._publish(page, rows[page.routine])
        for title, who, days in RUNS:
            self._ran(title, who, days)
        for title, who, marks, remark in MARKS:
            saying.rate(self._past.ctx(who, 1), self._pages[title], marks, remark)
        title, who, text = WISH
        saying.wish(self._past.ctx(who, 0.9), self._pages[title], text, "demo-wish")
        for title, who in FAVOURITES:
            reading.favour(self._past.ctx(who, 1), self._pages[title], True)
        title, who, inputs = WAITS
        using.start(self._past.ctx(who, 0.001), self._pages[title], inputs, "demo-waits")
        title, why = PAUSED
        publishing.set_state(self._past.ctx(SOL, 0.5), self._pages[title], "paused", why, 1)

    def set_up(self, areas: dict[str, int]) -> list[dict[str, Any]]:
        """The routines that are for colleagues alone; gives their trial runs and what colleagues ran, to be
        written in the order of time."""
        rows = []
        title_of = {page.routine: page.title for page in PAGES}
        for package, name, area, inputs in OWN:
            folder = PACKAGES / package
            data = pack({one.name: one.read_bytes() for one in folder.iterdir() if one.is_file()})
            given = packages.Given("First release")
            release = packages.release(self._past.ctx("Priya Raman", 15), data, given)
            made = routines.Given(name, areas[area], release, inputs, [])
            routine = routines.add(self._past.ctx(SOL, 14), made)
            rows.append(history.trial_row(routine, release, self._days_ago(13)))
            rows += [
                {**history.trial_row(routine, release, self._days_ago(days)), "words": who}
                for title, who, days in RUNS
                if title == title_of[name]
            ]
        return rows

    def _days_ago(self, days: float) -> datetime:
        return self._past.now - timedelta(days=days)

    def _publish(self, page: Page, routine: int) -> None:
        keeper = self._past.actors[page.keeper].person_id
        groups = [self._group(page.group)] if page.group else []
        given = publishing.Given(
            page.title, page.does, page.needs, list(page.asks), keeper, not groups, groups
        )
        self._pages[page.title] = publishing.publish(self._past.ctx(SOL, 12), routine, given)

    def _group(self, name: str) -> int:
        known = access.groups(self._past.ctx("Ines Varga", 12))
        return next(one.id for one in known if one.name == name)

    def _ran(self, title: str, who: str, days: float) -> None:
        """That a run of the past was somebody's, on a page."""
        page = self._pages[title]

        def work(tx: Tx) -> None:
            routine = reading.find(tx, self._past.ctx(SOL, days), page).routine_id
            run = tx.value(int, "demo.run_begun", routine=routine, began=self._days_ago(days))
            tx.write("service_runs.note_run", run=run, page=page, person=self._past.actors[who].person_id)

        self._past.db.transact(work)
