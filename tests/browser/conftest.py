"""A running Tallyman with a mail catcher, and a browser that acts as one person after another."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from aiosmtpd.controller import Controller
from selenium import webdriver
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    ElementNotInteractableException,
    StaleElementReferenceException,
)
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from tallyman.config import read_clock, settings
from tallyman.launcher.shots import browser, picture
from tallyman.standins.mail_catcher import Caught
from tests.conftest import Databases, free_port
from tests.patience import patience
from tests.serving import Serving, serving
from tests.world import PASSWORD, World

SECONDS = 20
OPTION = '//li[contains(@class, "el-select-dropdown__item")]'
PASSING = (StaleElementReferenceException, ElementClickInterceptedException, ElementNotInteractableException)


class Page:
    """What a person does with a page: looks for words, clicks them, fills fields by their label."""

    def __init__(self, driver: webdriver.Chrome, base: str) -> None:
        self.driver = driver
        self.base = base

    def until(self, what: Any) -> Any:
        return WebDriverWait(self.driver, patience(SECONDS), 0.1, ignored_exceptions=PASSING).until(what)

    def find(self, path: str) -> WebElement:
        return self.until(
            lambda one: next((e for e in one.find_elements(By.XPATH, path) if e.is_displayed()), None)
        )

    def go(self, path: str) -> None:
        self.driver.get(self.base + path)

    def sign_in(self, name: str, path: str = "/") -> None:
        """Asks for a page, is sent to the sign-in, and reaches the page after it."""
        self.driver.delete_all_cookies()
        self.go(path)
        self.type("Mail address", f"{name.lower().replace(' ', '.')}@merrowdale.example")
        self.type("Password", PASSWORD)
        self.click("Sign in")
        # The page asked for may lead on by itself, query and all, as a new interview does to its draft.
        self.until(lambda one: one.current_url.startswith(self.base + path.partition("?")[0]))
        # On a phone the name stands among the sections, which come when they are called.
        self.until(
            lambda one: name in (one.find_element(By.TAG_NAME, "header").get_attribute("textContent") or "")
        )

    def see(self, words: str) -> None:
        self.until(lambda one: words in one.find_element(By.TAG_NAME, "body").text)

    def unseen(self, words: str) -> bool:
        return words not in self.driver.find_element(By.TAG_NAME, "body").text

    def press(self, path: str) -> None:
        """Clicks what the path leads to, found anew where the page redraws it in between."""

        def act(_: Any) -> bool:
            self.find(path).click()
            return True

        self.until(act)

    def words(self, path: str) -> str:
        """What stands there."""
        found: list[str] = []

        def act(_: Any) -> bool:
            found.append(self.find(path).text)
            return True

        self.until(act)
        return found[-1]

    def click(self, words: str, within: str = "//*[self::main or self::body]") -> None:
        """Clicks the first shown button or link with these words that is not disabled."""
        inside = f'normalize-space(.)="{words}"'
        self.press(f"{within}//*[self::button or self::a][not(@disabled)][{inside}]")

    def click_label(self, label: str) -> None:
        """Clicks the button that is called so for those who do not see it."""
        self.press(f'//button[@aria-label="{label}"]')

    def tick(self, words: str) -> None:
        """Clicks a choice that stands beside its words."""
        self.press(f'//label[normalize-space(.)="{words}"]')

    def field(self, label: str) -> WebElement:
        by_label = f'//*[@id=//label[normalize-space(.)="{label}"]/@for]'
        return self.find(
            f'({by_label} | //*[@aria-label="{label}" and (self::input or self::textarea or self::select)])'
        )

    def type(self, label: str, text: str) -> None:
        def act(_: Any) -> bool:
            field = self.field(label)
            # As a person does it: what stood there is marked and typed over.
            field.send_keys(Keys.CONTROL, "a")
            field.send_keys(Keys.DELETE, text)
            return True

        self.until(act)

    def type_in(self, name: str, text: str) -> None:
        """Types into a field that is named for those who do not see it."""
        self.type(name, text)

    def leave(self, label: str, text: str) -> None:
        """Types and leaves the field, which keeps it."""
        self.type(label, text)
        self.driver.execute_script("document.activeElement.blur()")

    def choose(self, label: str, words: str) -> None:
        """Opens a choice and takes what is called so."""
        named = f'@id=//label[normalize-space(.)="{label}"]/@for or @aria-label="{label}"'
        within = f'ancestor::label[starts-with(normalize-space(.), "{label}")]'
        box = f'//*[contains(@class, "el-select__wrapper")][.//input[{named}] or {within}]'
        option = f'{OPTION}[normalize-space(.)="{words}"]'

        def act(one: webdriver.Chrome) -> bool:
            if not self._shown(option):
                self.find(box).click()
            shown = self._shown(option)
            if not shown:
                return False
            shown[0].click()
            return True

        self.until(act)

    def _shown(self, path: str) -> list[WebElement]:
        return [one for one in self.driver.find_elements(By.XPATH, path) if one.is_displayed()]

    def day(self, label: str, day: date) -> None:
        """Types a day as it is written in English, and takes it."""

        def act(_: Any) -> bool:
            field = self.field(label)
            field.send_keys(Keys.CONTROL, "a")
            field.send_keys(day.strftime("%d/%m/%Y"), Keys.ENTER)
            return True

        self.until(act)

    def pick(self, label: str, typed: str, words: str) -> None:
        """Finds a choice by typing a part of it."""
        self.until(lambda one: one.find_elements(By.CSS_SELECTOR, f"input[aria-label='{label}']"))
        self.driver.find_element(By.CSS_SELECTOR, f"input[aria-label='{label}']").send_keys(typed)
        option = f'{OPTION}[contains(normalize-space(.), "{words}")]'

        def act(_: Any) -> bool:
            shown = self._shown(option)
            if shown:
                shown[0].click()
            return bool(shown)

        self.until(act)

    def attach(self, label: str, path: Path) -> None:
        self.until(lambda one: one.find_elements(By.CSS_SELECTOR, f"input[type=file][aria-label='{label}']"))
        self.driver.find_element(By.CSS_SELECTOR, f"input[type=file][aria-label='{label}']").send_keys(
            str(path)
        )

    def number(self) -> int:
        return int(self.driver.current_url.split("?")[0].rstrip("/").split("/")[-1])

    def faults(self) -> list[str]:
        """What the browser complained about, but for answers that say no on purpose."""
        kept = [one["message"] for one in self.driver.get_log("browser") if one["level"] == "SEVERE"]
        return [text for text in kept if "status of 4" not in text]


@pytest.fixture(scope="module")
def caught() -> Iterator[Caught]:
    found = Caught()
    port = free_port()
    controller = Controller(found, hostname="127.0.0.1", port=port)
    controller.start()
    before = settings().mail_port
    settings().mail_port = port
    yield found
    settings().mail_port = before
    controller.stop()


@pytest.fixture(scope="module")
def served(
    databases: Databases, caught: Caught, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[Serving]:
    databases.empty()
    db = databases.connect()
    with serving(db) as one:
        yield one
    db.close()


@pytest.fixture(scope="module")
def people(served: Serving) -> World:
    return World(served.db, read_clock())


@pytest.fixture(scope="module")
def page(served: Serving, people: World) -> Iterator[Page]:
    with browser() as driver:
        yield Page(driver, served.url)


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item, call: Any) -> Any:
    """A failed test leaves what the person saw, so that it can be looked at."""
    report = yield
    shown = getattr(item, "funcargs", {}).get("page")
    if report.when == "call" and report.failed and shown is not None:
        path = settings().var / "failed" / f"{item.name}.png"
        picture(shown.driver, path)
        report.sections.append(("picture", str(path)))
    return report
