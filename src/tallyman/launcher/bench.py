"""Measures the running demo: medians of calls and pages, and the roll-up against the scan."""

from __future__ import annotations

import json
import statistics

import httpx
from rich.console import Console
from rich.table import Table

from tallyman.config import settings
from tallyman.launcher import bench_engine, bench_ideas, bench_robots, bench_workshop
from tallyman.launcher.databases import application
from tallyman.launcher.machine import Trouble
from tallyman.launcher.shots import browser, sign_in

CALLS = 15
PAGES = 5
LEAD = "ines.varga@merrowdale.example"
PATHS = (
    "/api/v1/today",
    "/api/v1/ideas?sort=reach",
    "/api/v1/portfolio",
    "/api/v1/runs",
    "/api/v1/robots",
    "/api/v1/routines",
    "/api/v1/value",
)
VIEWS = ("/", "/ideas", "/portfolio", "/workshop", "/robots", "/runs", "/value")


def _calls(base: str, password: str) -> dict[str, float]:
    with httpx.Client(base_url=base, headers={"X-Tallyman": "1"}, timeout=30) as client:
        body = {"email": LEAD, "password": password}
        client.post("/api/v1/session", json=body).raise_for_status()
        found = {}
        for path in PATHS:
            client.get(path).raise_for_status()
            found[path] = bench_engine.median_ms(lambda path=path: client.get(path), CALLS)  # type: ignore[misc]
        return found


# From the click on a link to the first row or figure of the page it leads to.
CLICK = """
const [path, done] = arguments;
const link = [...document.querySelectorAll('nav a')].find((one) => one.getAttribute('href') === path);
const began = performance.now();
link.click();
(function look() {
  const there = location.pathname === path && document.querySelector('main table, main .figures, main .note');
  if (there) done(performance.now() - began); else requestAnimationFrame(look);
})();
"""


def _pages(base: str, password: str) -> dict[str, float]:
    found: dict[str, list[float]] = {path: [] for path in VIEWS}
    with browser() as driver:
        sign_in(driver, base, LEAD, password)
        for _ in range(PAGES + 1):
            for path in VIEWS[1:] + VIEWS[:1]:
                found[path].append(float(driver.execute_async_script(CLICK, path)))
    return {path: round(statistics.median(spans[1:]), 1) for path, spans in found.items()}


def run(port: int) -> None:
    """Prints a table, then the same as JSON. Raises Trouble when the demo does not run."""
    base = f"http://127.0.0.1:{port}"
    path = settings().var / "demo.json"
    if not path.exists():
        raise Trouble("The demo is not running; start it with ./tallyman demo.")
    password = json.loads(path.read_text())["password"]
    try:
        figures = {"calls, median ms": _calls(base, password)}
        figures["pages, click to content, median ms"] = _pages(base, password)
        figures["tally of the demo by month, median ms"] = bench_engine.sums(application(2))
    except httpx.HTTPError as error:
        raise Trouble(f"Tallyman does not answer at {base} ({error}).") from None
    figures.update(bench_ideas.measure())
    figures.update(bench_robots.measure())
    figures.update(bench_workshop.measure())
    figures.update(bench_engine.measure())
    table = Table("What", "Where", "Figure")
    for what, rows in figures.items():
        for where, figure in rows.items():
            table.add_row(what, where, f"{figure:g}")
    Console().print(table)
    print(json.dumps(figures, indent=1))
