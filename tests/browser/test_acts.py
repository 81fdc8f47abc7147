"""Every act that a page offers is one that the server allows, and the other way round: pages against the table of
docs/access-table.md, for every built-in role, held for the company, for the area in question, or for another."""

from __future__ import annotations

import contextlib
from collections import defaultdict
from collections.abc import Iterator
from typing import NamedTuple

import pytest
from selenium.common.exceptions import TimeoutException

from tallyman.api.common import COOKIE
from tallyman.core.access.permissions import ROLES
from tallyman.launcher.shots import browser
from tallyman.services.cases import sizing
from tallyman.services.house import areas
from tallyman.services.ideas import helpers
from tests.access_world import Everybody, everybody, kept, label
from tests.browser.conftest import Page
from tests.conftest import Databases
from tests.serving import serving

# What is made anew is made in an area of one's own, wherever the table's objects lie.
MADE_ANYWHERE = {
    "Set up a routine",
    "Set up as a routine",
    "Add a robot",
    "Add many",
    "Add an area",
    "Put one in",
    "Start a routine",
    "Give it to somebody",
}
# On a page that is the whole company's, or about what belongs to it.
OF_COMPANY = {"Propose it", "Give a role"}


class Act(NamedTuple):
    """A button or link of a page, by its words, and the route that it leads to."""

    view: str
    words: str
    verb: str
    path: str

    @property
    def row(self) -> str:
        """How the table heads it; the object is somebody else's."""
        return label(self.verb, f"/api/v1{self.path}", False)


IDEA = "/ideas/{number}"
ACTS = [
    Act(*one)
    for one in (
        ("/ideas/{open}", "Decline", "post", f"{IDEA}/decline"),
        ("/ideas/{open}", "Screen it", "post", f"{IDEA}/screen"),
        ("/ideas/{open}", "Accept", "put", IDEA + "/answers/{question}/judgement"),
        ("/ideas/{open}", "Park it", "post", f"{IDEA}/park"),
        ("/ideas/{open}", "Another route", "post", f"{IDEA}/route"),
        ("/ideas/{open}", "Merge it", "post", f"{IDEA}/merge"),
        ("/ideas/{open}", "It is a change to something in service", "put", f"{IDEA}/amends"),
        ("/ideas/{open}", "Ask somebody to help", "post", f"{IDEA}/helpers"),
        ("/ideas/{open}", "Follow", "put", f"{IDEA}/follow"),
        ("/ideas/{open}?sheet=talk", "Say it", "post", f"{IDEA}/comments"),
        ("/ideas/{open}?sheet=talk", "Join it", "put", f"{IDEA}/voice"),
        ("/ideas/{screened}?sheet=sizing", "Ask for agreement", "post", f"{IDEA}/sizing/offer"),
        ("/ideas/{screened}?sheet=sizing", "Add a system", "put", f"{IDEA}/facts"),
        (
            "/ideas/{screened}?sheet=sizing",
            "Send this sheet to an expert",
            "post",
            f"{IDEA}/sizing/requests",
        ),
        ("/ideas/{sized}?sheet=sizing", "Agree to the sizing", "post", f"{IDEA}/sizing/settle"),
        ("/ideas/{offered}?sheet=case", "Make one of your own", "post", f"{IDEA}/variants"),
        ("/ideas/{offered}?sheet=case", "PDF page", "post", f"{IDEA}/case/page"),
        ("/ideas/{offered}?sheet=case", "Back this idea", "post", f"{IDEA}/back"),
        ("/ideas/{backed}?sheet=plan", "Record", "put", f"{IDEA}/spent"),
        ("/ideas/{backed}?sheet=plan", "Take it up", "post", f"{IDEA}/take-up"),
        ("/ideas/{idea}?sheet=tally", "Give units", "post", f"{IDEA}/counts"),
        ("/ideas/{idea}?sheet=tally", "Take it out of service", "post", f"{IDEA}/retire"),
        ("/ideas", "Enter one for the team", "post", "/entries"),
        ("/ideas", "Bring a list", "post", "/sheets"),
        ("/workshop", "Set up a routine", "post", "/routines"),
        ("/workshop?tab=packages", "Release it", "post", "/releases"),
        ("/workshop/routines/{trial}", "Let it go live", "post", "/routines/{number}/go-live"),
        ("/workshop/routines/{routine}", "Start now", "post", "/routines/{number}/start"),
        ("/workshop/routines/{routine}", "Choose how to start", "post", "/routines/{number}/starts"),
        ("/workshop/routines/{routine}/start", "Start it now", "post", "/routines/{number}/starts"),
        ("/runs/groups/{started}", "Cancel what waits", "post", "/run-groups/{number}/cancel"),
        ("/workshop/routines/{routine}", "Change the set-up", "put", "/routines/{number}"),
        ("/workshop/routines/{routine}/self-service", "Pause it", "put", "/service-pages/{number}/state"),
        ("/workshop/routines/{routine}/self-service", "Take it back", "put", "/service-pages/{number}/state"),
        ("/workshop/routines/{routine}", "Retire it", "post", "/routines/{number}/retire"),
        (
            "/workshop/routines/{routine}",
            "Add a start on the clock",
            "post",
            "/routines/{number}/triggers",
        ),
        ("/workshop/routines/{routine}", "End it", "delete", "/routines/{number}/triggers/{trigger}"),
        ("/workshop/releases/{spare}", "Set up as a routine", "post", "/routines"),
        ("/workshop/releases/{spare}", "Say yes to count-rows 9.0.0", "post", "/releases/{number}/approve"),
        ("/profile?sheet=programs", "Add a key", "post", "/profile/keys"),
        ("/workshop/releases/{spare}", "Change who sees it", "post", "/releases/{number}/move"),
        ("/workshop/releases/{spare}", "Withdraw it", "post", "/releases/{number}/withdraw"),
        ("/robots", "Add an area", "post", "/areas"),
        ("/robots", "Add a host", "post", "/hosts"),
        ("/robots", "Add a robot", "post", "/robots"),
        ("/robots", "Add many", "post", "/robots/list"),
        ("/robots", "Seats of Weir", "put", "/hosts/{number}/seats"),
        ("/robots", "Hours of Weir", "put", "/hosts/{number}/hours"),
        ("/robots", "Maintenance of Weir", "put", "/hosts/{number}/maintenance"),
        ("/robots", "Name of Weir", "put", "/hosts/{number}/name"),
        ("/robots", "New code for Weir", "post", "/hosts/{number}/code"),
        ("/robots", "Retire Weir", "post", "/hosts/{number}/retire"),
        ("/robots", "Change Dipper 1", "put", "/robots/{number}"),
        ("/robots", "Retire Dipper 1", "post", "/robots/{number}/retire"),
        ("/robots/{robot}", "Change it", "put", "/robots/{number}"),
        ("/robots/{robot}", "Retire it", "post", "/robots/{number}/retire"),
        ("/robots/{robot}", "Once more: A trial run there and back", "post", "/robots/{number}/trial"),
        (
            "/robots/{robot}",
            "Password: Its password is proved by a sign-in",
            "put",
            "/hosts/{number}/accounts/{account}/password",
        ),
        ("/robots/hosts/{host}", "Seats", "put", "/hosts/{number}/seats"),
        ("/robots/hosts/{host}", "Replace it by another computer", "post", "/hosts/{number}/code"),
        ("/robots/hosts/{host}", "Revoke its token", "delete", "/hosts/{number}/token"),
        ("/robots/hosts/{host}", "Retire it", "post", "/hosts/{number}/retire"),
        ("/robots/seats?kind=builder", "Enter seats bought", "post", "/seats/lots"),
        ("/robots/seats?kind=builder", "Give seats", "put", "/seats/given"),
        ("/robots/seats", "Change the seats of Weir", "put", "/hosts/{number}/seats"),
        ("/house/robots", "Add an application", "put", "/rules/applications"),
        ("/runs", "Start a routine", "post", "/routines/{number}/start"),
        ("/runs/{run}", "Cancel the run", "post", "/runs/{number}/cancel"),
        ("/runs/{ended}", "Start again", "post", "/runs/{number}/again"),
        ("/value", "Close …", "post", "/value/months/{month}/close"),
        ("/value/rates", "Propose it", "post", "/rates"),
        ("/house/secrets?secret={secret}", "Put one in", "post", "/secrets"),
        ("/house/secrets?secret={secret}", "Change it", "put", "/secrets/{number}"),
        ("/house/secrets?secret={secret}", "Take it out", "delete", "/secrets/{number}"),
        ("/house/areas", "Add an area", "post", "/areas"),
        ("/house/company", "Keep it", "put", "/house/company"),
        ("/house/sign-in", "Keep it", "put", "/house/sign-in"),
        ("/house/tokens", "Revoke", "delete", "/tokens/{number}"),
        ("/house/people", "Bring in a list", "post", "/people/list"),
        ("/house/people", "Make a group", "post", "/access/groups"),
        ("/house/people", "Invite somebody", "post", "/people/invitations"),
        ("/house/people/{asker}", "Deactivate …", "post", "/people/{number}/leaving"),
        ("/house/people/{asker}", "Give a role", "post", "/access/holders"),
        ("/house/roles?role={role}", "Copy it", "post", "/access/roles"),
        ("/house/roles?role={role}", "Give it to somebody", "post", "/access/holders"),
        ("/house/roles?role={role}", "Change it", "put", "/access/roles/{number}"),
        ("/house/roles?role={role}", "Take out of use", "delete", "/access/roles/{number}"),
        ("/house/systems", "Enter a system", "post", "/systems"),
        ("/house/systems", "Change", "put", "/systems/{number}"),
        ("/house/mail", "Change the mail server", "put", "/house/mail"),
        ("/house/access", "Give it", "post", "/access/requests/{number}/decide"),
        ("/health", "Try now", "post", "/health/hitches/{number}/again"),
    )
]
# Held for an area, a role reaches what lies there; those that reach most, in each kind of page.
IN_AREAS = [("analyst", "A"), ("operator", "A"), ("operator", "O"), ("lead", "A"), ("lead", "O")]
SHOWN = """
return [...document.querySelectorAll('main button, main a, aside button, aside a')]
  .filter((one) => one.checkVisibility())
  .map((one) => (one.getAttribute('aria-label') ?? one.textContent).trim().replace(/\\s+/g, ' '))
"""
# Counts what is asked of the server, so that it is known when a page has all it asked for.
COUNTING = """
window.asked = 0
const asks = window.fetch
window.fetch = (...given) => {
  window.asked += 1
  return asks(...given).finally(() => (window.asked -= 1))
}
"""
# Answers once nothing is asked and the page has not changed for a while.
QUIET = """
const done = arguments[0]
let changed = performance.now()
const look = new MutationObserver(() => (changed = performance.now()))
look.observe(document.body, { childList: true, subtree: true, attributes: true })
const again = () => {
  const there = document.querySelector('main h1, main [role=alert]')
  if (there && !window.asked && performance.now() - changed > 100) {
    look.disconnect()
    done(true)
  } else requestAnimationFrame(again)
}
again()
"""


@pytest.fixture(scope="module")
def those(databases: Databases, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Everybody]:
    with everybody(databases, tmp_path_factory.mktemp("keys") / "keys.json") as found:
        world = found.world
        found.screened = world.screened("Sludge tanker bookings")
        found.sized = world.offered("Valve inspection sheets")
        found.offered = world.offered("Permit reminders")
        sizing.settle(world.ctx("Ines Varga"), found.offered, True, "")
        found.backed = world.backed("Meter swap letters")
        for number in (found.screened, found.sized, found.offered, found.backed):
            helpers.set_area(world.ctx("Tom Okafor"), number, found.area)
        found.spare = world.release("9.0.0")
        found.trial = world.routine("On trial", found.spare)
        areas.set_approving(world.ctx("Sol Marin"), found.area, True)
        found.ended = world.row("SELECT MIN(id) AS id FROM run WHERE state = 'done'")["id"]
        world.rows("INSERT INTO tally_month (month) VALUES ('2026-01')")
        yield found


@pytest.fixture(scope="module")
def page(those: Everybody) -> Iterator[Page]:
    with serving(those.world.db) as served, browser() as driver:
        driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": COUNTING})
        shown = Page(driver, served.url)
        shown.go("/sign-in")
        yield shown


def offered(words: str, shown: list[str]) -> bool:
    begins = words.removesuffix("…")
    return any(one == words or (begins != words and one.startswith(begins)) for one in shown)


def unlike(page: Page, those: Everybody, role: str, reach: str) -> list[str]:
    """Where pages offer what the table refuses to somebody, or keep back what it allows."""
    rows, place = kept(), list(ROLES).index(role)
    page.driver.delete_all_cookies()
    page.driver.add_cookie({"name": COOKIE, "value": those.tokens[role, reach], "path": "/"})
    by_view = defaultdict(list)
    for act in ACTS:
        by_view[act.view].append(act)
    found = []
    for view, acts in by_view.items():
        allowed = {act.words for act in acts if may(act, rows[act.row][place], reach)}
        page.go(view.format(**{name: n for name, n in vars(those).items() if isinstance(n, int)}))
        shown = seen_once_quiet(page, allowed)
        for act in acts:
            if offered(act.words, shown) != (act.words in allowed):
                how = "is not offered, and allowed" if act.words in allowed else "is offered, and refused"
                found.append(f"{view}: {act.words} {how}")
    return found


def may(act: Act, reaches: str, reach: str) -> bool:
    """Whether the table allows an act to a role held with some reach."""
    if act.words in OF_COMPANY:
        return reach == "C" and "C" in reaches
    return reach in reaches or (act.words in MADE_ANYWHERE and "A" in reaches)


def seen_once_quiet(page: Page, allowed: set[str]) -> list[str]:
    """What a page shows once nothing is asked any more; parts that come later are waited for by what they offer."""

    shown: list[str] = []

    def whole(_: object) -> bool:
        page.driver.execute_async_script(QUIET)
        shown[:] = page.driver.execute_script(SHOWN)
        return all(offered(words, shown) for words in allowed)

    with contextlib.suppress(TimeoutException):
        page.until(whole)
    return shown


@pytest.mark.parametrize("role", list(ROLES))
def test_pages_offer_what_the_server_allows_and_nothing_else(page: Page, those: Everybody, role: str) -> None:
    wrong = unlike(page, those, role, "C")
    assert not wrong, "\n".join(wrong)


@pytest.mark.parametrize(("role", "reach"), IN_AREAS)
def test_pages_know_for_which_area_a_role_is_held(
    page: Page, those: Everybody, role: str, reach: str
) -> None:
    wrong = unlike(page, those, role, reach)
    assert not wrong, "\n".join(wrong)
