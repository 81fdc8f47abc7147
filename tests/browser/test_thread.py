"""The whole thread through the built pages: one idea becomes one tallied run, as the people do it."""

from __future__ import annotations

import re
from pathlib import Path

from tallyman.standins.mail_catcher import Caught
from tests.browser.conftest import Page
from tests.serving import Serving, wait_for
from tests.world import World, package

TITLE = "Pump log to job book"
READS = """
import csv
import tallyman_kit as job

with job.step("Read the log", file="log") as step:
    with open(job.inputs["log"], newline="") as file:
        rows = list(csv.DictReader(file))
    step.out(rows=len(rows))
for row in rows:
    job.log(f"pump {row['pump']}: {row['hours']} h")
job.count("entries", len(rows))
job.output(entries=len(rows))
"""
MANIFEST = """
name = "pump-log"
version = "{version}"
entry = "main.py"
tags = ["spreadsheets"]

[inputs.log]
type = "string"
format = "file"
title = "Pump log"
required = true

[outputs.entries]
type = "integer"
"""


def proposer(page: Page, tmp_path: Path) -> int:
    """The interview, one question at a time, with a wrong file refused on the way."""
    page.sign_in("Ada Pell", "/ideas/new")
    page.see("What is the work called?")
    page.type("What is the work called?", TITLE)
    page.click("Next")
    page.see("What happens in it")
    page.type("What happens in it, and what comes out?", "Copy pump hours from the log into the job book.")
    page.click("Next")
    page.see("How often does it come?")
    page.type("How many", "200")
    page.choose("Rhythm", "week")
    page.click("Next")
    page.see("How many minutes")
    page.type("How many minutes does one take?", "12")
    page.click("Next")
    page.see("What does the work arrive as?")
    # With volume and minutes the hours in reach are said at once, however wide.
    page.see("Hours in reach a year")
    page.type("Part of spreadsheet", "1")
    page.click("Next")
    for tenth in ("1", "2"):
        page.see("Of ten, how many need" if tenth == "1" else "Of ten, how many go off")
        page.press(f'//fieldset//label[normalize-space(.)="{tenth}"]')
        page.click("Next")
    page.see("How much has the work changed")
    page.press('//label[normalize-space(.)="A little"]')
    page.click("Next")
    page.see("Is a change announced?")
    page.click("I do not know")
    page.see("Where does it belong?")
    page.pick("Where does it belong?", "netw", "Networks")
    page.click("Next")
    page.see("Who answers for this work?")
    page.click("Next")
    page.see("Who else knows it well?")
    page.click("I do not know")
    _show(page, tmp_path)
    page.see("A last look")
    page.see("200 a week")
    page.click("Hand it in")
    page.see("Thank you. It is handed in")
    page.see("A reviewer reads the answers and decides")
    page.see("volume a year × minutes each ÷ 60 × fit")
    page.see("Put on file: event-log study")
    return page.number()


def _show(page: Page, tmp_path: Path) -> None:
    page.see("Have you something to show?")
    wrong = tmp_path / "steps.exe"
    wrong.write_bytes(b"MZ")
    page.attach("File", wrong)
    page.see("this kind cannot be attached")
    right = tmp_path / "steps.txt"
    right.write_text("1. open the log")
    page.attach("File", right)
    page.see("steps.txt")
    page.click("Next")


def review(page: Page, idea: int) -> None:
    page.sign_in("Tom Okafor")
    page.click(f"I-{idea} {TITLE}")
    page.see("No other idea is likely to be the same work.")
    row = '//tr[contains(., "Is a change announced?")]'
    page.click("Send back", row)
    page.type("What would you like to know?", "Ask the job book's owner, please")
    page.click("Send back to Ada Pell")
    page.see("1 sent back, not answered yet.")
    page.sign_in("Ada Pell")
    page.see("1 of your answers came back")
    page.click(f"I-{idea} {TITLE}")
    page.click("Answer it", row)
    page.press(f'{row}//label[normalize-space(.)="None"]')
    page.click("Keep the answer", row)
    page.sign_in("Tom Okafor", f"/ideas/{idea}")
    page.click("Screen it")
    page.see("Nothing. What needs you comes here by itself")


def size(page: Page, idea: int) -> None:
    page.sign_in("Mei Tanaka")
    page.click(f"I-{idea} {TITLE}")
    page.see("Missing:")
    page.leave("Unsuitable share", "500")
    page.see("at most 100 %")
    page.leave("Unsuitable share", "0.05")
    page.see("can be read as 5 % or 0.05 %")
    page.click("5 %")
    for label, value in (
        ("Steps", "12"),
        ("Decisions", "2"),
        ("Rework share", "5 %"),
        ("Rework minutes", "20"),
    ):
        page.leave(label, value)
        page.see("Each fact is kept when you leave its field.")
    page.click("Add a system")
    page.type("System 1", "Fettlebook")
    page.choose("Access to system 1", "web")
    page.see("small")
    page.click("Case")
    page.see("Not all figures can be computed.")
    page.click("Robot minutes an item")
    for label, value in (
        ("Robot minutes an item", "2"),
        ("Handed back by robots", "5"),
        ("Minutes for one handed back", "8"),
    ):
        page.leave(label, value)
        page.see("talk" if label == "never" else "Computed by business case 1.")
    page.see("Money in and out since the start")
    page.press('//*[contains(., "Saved a year, once live")]/following-sibling::button')
    page.see("cost of the work today − cost of what people still do")
    page.see("What would change it most")
    page.click("Sizing")
    page.click("Ask for agreement")
    page.see("Mei Tanaka asks for agreement; somebody else gives it")


def decide(page: Page, idea: int) -> None:
    page.sign_in("Ines Varga")
    page.click(f"I-{idea} {TITLE}")
    page.click("Agree to the sizing")
    page.see("agreed by Ines Varga")
    page.go("/portfolio")
    page.see(f"Best to decide next: I-{idea} {TITLE}")
    page.click("Back this idea")
    page.see("These figures are frozen as the promise.")
    page.click("Back it and freeze the promise", "//*[@role='dialog']")
    page.see("Nothing is sized, agreed and waiting for a decision.")
    page.go(f"/ideas/{idea}?sheet=plan")
    page.see("Promised to")


def release(page: Page, idea: int, tmp_path: Path) -> None:
    page.sign_in("Jonas Lindqvist")
    page.click(f"I-{idea} {TITLE}")
    page.click("Take it up")
    page.see("Building: taken up, by Jonas Lindqvist")
    page.go("/workshop?tab=packages")
    path = tmp_path / "pump-log.zip"
    path.write_bytes(b"no zip")
    page.attach("Package", path)
    page.see("is not a zip")
    good = tmp_path / "pump-log-1.zip"
    good.write_bytes(package(code=READS, manifest=MANIFEST))
    page.attach("Package", good)
    page.see("It is the first release of this package.")
    page.type("What changed", "It reads the pump log")
    page.click("Release it as 1.0.0")
    page.see("pump-log 1.0.0")


def robot(page: Page, served: Serving) -> None:
    page.sign_in("Sol Marin", "/robots")
    page.click("Add an area")
    page.type("Name of the area", "Pump stations")
    page.click("Add it")
    page.see("Pump stations")
    page.click("Add a host")
    page.type("Name of the host", "Culvert")
    page.click("Add it and show the code")
    page.see("It is shown only now")
    words = page.words("//pre")
    code = re.search(r"--code (\S+)", words)
    assert code is not None
    served.runner(code.group(1), "culvert")
    page.click("I have it")
    page.see("heard")
    page.click("Add a robot")
    page.type("Name of the robot", "Otter")
    page.type("Tags, what it can do", "spreadsheets")
    # The area made a moment ago is ticked already.
    ticked = page.driver.find_elements("css selector", "label.area.is-checked")
    assert [one.text.strip() for one in ticked] == ["Pump stations"]
    page.click("Add it")
    page.see("Otter")


def routine(page: Page, idea: int, tmp_path: Path) -> int:
    page.go(f"/ideas/{idea}")
    page.click("Set up a routine")
    page.choose("Area", "Pump stations")
    page.choose("Release", "pump-log 1.0.0")
    page.choose("One unit is", "what the package counts")
    page.type("Name of the count", "entries")
    page.click("Set it up")
    page.see("is needed")
    log = tmp_path / "pumps.csv"
    log.write_text("pump,hours\nP-1,7\nP-2,9\nP-3,4\n")
    page.attach("Pump log", log)
    page.see("pumps.csv")
    page.click("Set it up")
    page.see("Pre-check: it can start")
    page.see("To go live: 2 not met")
    return page.number()


def run_once(page: Page) -> int:
    page.click("Start now")
    page.until(lambda one: "/runs/" in one.current_url)
    page.see("It worked.")
    page.see("pump P-2: 9 h")
    page.see("entries")
    return page.number()


def go_live(page: Page, number: int) -> None:
    page.sign_in("Ines Varga", "/value/rates")
    page.click("Approve")
    page.until(lambda _: page.unseen("Waiting for approval"))
    page.sign_in("Sol Marin", f"/workshop/routines/{number}")
    page.click("Let it go live")
    page.click("Let it go live", "//*[@role='dialog']")
    page.see("in service since")
    page.click("Add a start on the clock")
    page.tick("by a code")
    page.type("Minute, hour, day of month, month, day of week", "61 * * * *")
    page.see("61 is out of range")
    page.type("Minute, hour, day of month, month, day of week", "* * * * *")
    page.see("Every minute (Europe/Lisbon)")
    page.click("Start it so")
    page.see("next, in Europe/Lisbon:")


def tallied(page: Page, idea: int, run: int) -> None:
    page.sign_in("Ines Varga", "/value")
    page.see(f"I-{idea} {TITLE}")
    page.click(f"I-{idea} {TITLE}")
    page.press('//tr[contains(., "entries")]//button[@aria-expanded]')
    page.see("time saved")
    # 3 entries × (12 min + 5 % of 20 min) ÷ 60 × € 38
    page.press('//td[contains(@class,"entries")]//button[normalize-space(.)="24.70"]')
    page.see("units × minutes by hand ÷ 60 × an hour costs")
    page.see(f"run R-{run}")
    page.click(f"R-{run}")
    page.see("Posted to the tally")


def test_one_idea_becomes_one_tallied_run(
    page: Page, served: Serving, people: World, caught: Caught, tmp_path: Path
) -> None:
    idea = proposer(page, tmp_path)
    review(page, idea)
    size(page, idea)
    decide(page, idea)
    release(page, idea, tmp_path)
    robot(page, served)
    number = routine(page, idea, tmp_path)
    run_once(page)
    go_live(page, number)
    page.go(f"/workshop/routines/{number}")
    run = run_once(page)
    tallied(page, idea, run)
    wait_for(lambda: people.rows("SELECT id FROM run WHERE trigger_id IS NOT NULL AND state = 'done'"), 75)
    subjects = [str(mail["subject"]) for mail in caught.mails if "ada.pell@merrowdale.example" in mail["to"]]
    assert any("was screened by Tom Okafor" in text for text in subjects)
    assert any("is in service" in text for text in subjects)
    assert page.faults() == []
