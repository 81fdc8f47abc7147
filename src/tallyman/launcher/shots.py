"""Pictures of the main views, from the running demo, at 1280×800."""

from __future__ import annotations

import base64
import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx
from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

from tallyman.config import settings
from tallyman.launcher.machine import Trouble

WIDTH, HEIGHT = 1280, 800
WAIT_SECONDS = 20


@dataclass(frozen=True)
class View:
    """A picture: its name, who looks, and the address."""

    name: str
    person: str
    path: str


VIEWS = (
    View("today", "ines.varga", "/"),
    View("ideas", "ines.varga", "/ideas"),
    View("interview", "ada.pell", "/ideas/new/{draft}?q=arrives"),
    View("review", "tom.okafor", "/ideas/{noted}"),
    View("sizing", "mei.tanaka", "/ideas/{sized}?sheet=sizing&figure=effort"),
    View("case", "ines.varga", "/ideas/{sized}?sheet=case&figure=saving_per_year"),
    View("portfolio", "ines.varga", "/portfolio"),
    View("workshop", "jonas.lindqvist", "/workshop"),
    View("release", "priya.raman", "/workshop/releases/8"),
    View("rollout", "sol.marin", "/workshop/rollouts/4"),
    View("routine", "sol.marin", "/workshop/routines/{routine}"),
    View("robots", "sol.marin", "/robots"),
    View("robot", "sol.marin", "/robots/4"),
    View("selfservice", "jana.birk", "/self-service"),
    View("hangs-on", "sol.marin", "/uses/host/1"),
    View("runs", "sol.marin", "/runs"),
    View("run", "sol.marin", "/runs/{run}"),
    View("value", "ruth.abernathy", "/value"),
    View("tally", "ines.varga", "/ideas/{live}?sheet=tally"),
)


@contextmanager
def browser() -> Iterator[webdriver.Chrome]:
    """Headless Chromium that reaches nothing but this machine, with a fresh profile."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in (
        "--headless=new",
        "--no-sandbox",
        "--disable-dev-shm-usage",
        f"--window-size={WIDTH},{HEIGHT}",
        "--force-device-scale-factor=1",
        "--hide-scrollbars",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--no-first-run",
        "--lang=en-GB",
        "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE localhost , EXCLUDE 127.0.0.1",
    ):
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    try:
        yield driver
    finally:
        driver.quit()


def picture(driver: webdriver.Chrome, path: Path) -> None:
    """Saves what is seen at exactly 1280×800."""
    size = {"width": WIDTH, "height": HEIGHT, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    shot: dict[str, Any] = driver.execute_cdp_cmd("Page.captureScreenshot", {"format": "png"})
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(base64.b64decode(shot["data"]))


def sign_in(driver: webdriver.Chrome, base: str, email: str, password: str) -> None:
    """Signs in through the page."""
    driver.delete_all_cookies()
    driver.get(f"{base}/sign-in")
    wait = WebDriverWait(driver, WAIT_SECONDS)
    wait.until(lambda one: one.find_elements(By.CSS_SELECTOR, "input[type=email]"))
    driver.find_element(By.CSS_SELECTOR, "input[type=email]").send_keys(email)
    driver.find_element(By.CSS_SELECTOR, "input[type=password]").send_keys(password)
    driver.find_element(By.CSS_SELECTOR, "form button").click()
    wait.until(lambda one: one.find_elements(By.CSS_SELECTOR, "nav[aria-label=Sections] a"))


def settle(driver: webdriver.Chrome) -> None:
    """Waits until nothing is being read and the fonts are there."""
    wait = WebDriverWait(driver, WAIT_SECONDS)
    wait.until(lambda one: one.find_elements(By.CSS_SELECTOR, "main h1"))
    wait.until(lambda one: not one.find_elements(By.CSS_SELECTOR, "[aria-busy=true]"))
    driver.execute_async_script(
        "const done = arguments[0]; document.fonts.ready.then(() =>"
        " requestAnimationFrame(() => setTimeout(done, 400)))"
    )


def _numbers(client: httpx.Client) -> dict[str, Any]:
    """The numbers of the demo's objects that the views show."""
    ideas = client.get("/api/v1/ideas", params={"limit": 100}).json()["rows"]
    first = {
        stage: next((i["id"] for i in ideas if i["stage"] == stage), 0)
        for stage in ("noted", "sized", "in service")
    }
    # Of the sized ones that with the most worth: its case has something to show.
    ranked = client.get("/api/v1/portfolio").json()["rows"]
    sized = [row for row in ranked if row["stage"] == "sized" and row["worth"]]
    if sized:
        first["sized"] = max(sized, key=lambda row: float(row["worth"]))["id"]
    # Of those in service the one that delivered most; one that was only registered has nothing tallied.
    tallied = client.get("/api/v1/value").json()["rows"]
    if tallied:
        first["in service"] = max(tallied, key=lambda row: float(row["saved"]))["idea_id"]
    runs = client.get("/api/v1/runs", params={"state": "done"}).json()["rows"]
    routines = client.get("/api/v1/routines").json()
    worked = [run for run in runs if run["outcome"] == "worked"] or runs
    return {
        "noted": first["noted"],
        "sized": first["sized"],
        "live": first["in service"],
        "routine": routines[0]["id"] if routines else 0,
        "run": worked[0]["id"] if worked else 0,
    }


@contextmanager
def _session(base: str, email: str, password: str) -> Iterator[httpx.Client]:
    with httpx.Client(base_url=base, headers={"X-Tallyman": "1"}, timeout=20) as client:
        client.post("/api/v1/session", json={"email": email, "password": password}).raise_for_status()
        yield client


def take_all(port: int, folder: Path) -> None:
    """Takes every picture into a folder. Raises Trouble when the demo does not run."""
    base = f"http://127.0.0.1:{port}"
    path = settings().var / "demo.json"
    if not path.exists():
        raise Trouble("The demo is not running; start it with ./tallyman demo.")
    made = json.loads(path.read_text())
    try:
        with _session(base, "ines.varga@merrowdale.example", made["password"]) as client:
            numbers = _numbers(client)
        with _session(base, "ada.pell@merrowdale.example", made["password"]) as client:
            rows = client.get("/api/v1/ideas", params={"mine": True, "stage": "draft"}).json()["rows"]
            numbers["draft"] = rows[-1]["id"] if rows else 0
    except httpx.HTTPError as error:
        raise Trouble(f"Tallyman does not answer at {base} ({error}).") from None
    with browser() as driver:
        person = ""
        for view in VIEWS:
            if view.person != person:
                sign_in(driver, base, f"{view.person}@merrowdale.example", made["password"])
                person = view.person
            driver.get(base + view.path.format(**numbers))
            settle(driver)
            picture(driver, folder / f"{view.name}.png")
            print(folder / f"{view.name}.png")
