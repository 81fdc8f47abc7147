"""What the database refuses, in words for people: keys, checks, links, and values that do not fit."""

from __future__ import annotations

import re

import pymysql

from tallyman.core.faults import Fault, InputFaults
from tallyman.errors import Clash

# What a unique key says is there already.
TAKEN = {
    "uq_address_token": "this token is given out already; make another",
    "uq_area_name": "an area of this name exists already; choose another name",
    "uq_counting_now": "a routine counts for this idea already",
    "uq_signing_key": "this key is known already; retire it there, or make another",
    "uq_secret_host": "this host has a value of its own already; replace it",
    "uq_secret_robot": "this robot has a value of its own already; replace it",
    "uq_division_place": "a division of this name is there already; choose another name",
    "uq_entry_source": "this is posted already",
    "uq_group_claim": "a group follows this claim already",
    "uq_group_name": "a group of this name exists already; choose another name",
    "uq_held": "this role is held there already",
    "uq_hitch_row": "this failure is noted already",
    "uq_host_code": "this one-time code is given out already; make another",
    "uq_host_name": "a host of this name exists already; choose another name",
    "uq_host_next_token": "this token belongs to a host already; make another",
    "uq_host_token": "this token belongs to a host already; make another",
    "uq_lock_name": "a lock of this name exists already",
    "uq_mail_effect": "this mail is written already",
    "uq_notch_once": "this notch is given already",
    "uq_notification_effect": "this message is there already",
    "uq_package_name": "a package of this name exists already; choose another name",
    "uq_person_email": "this address is in use already",
    "uq_person_outside": "this identity of the provider belongs to somebody already",
    "uq_release_version": "this version was released before; raise the version in package.toml",
    "uq_seat_person": "this person has seats of this kind; change their number",
    "uq_seat_group": "this group has seats of this kind; change their number",
    "uq_rollout_open": "this routine is being changed by a roll-out already; end that one first",
    "uq_robot_name": "a robot of this name exists already; choose another name",
    "uq_role_name": "a role of this name exists already; choose another name",
    "uq_routine_name": "a routine of this name exists already; choose another name",
    "uq_routine_trial_of": "this robot has the routine of its trial runs already",
    "uq_routine_tryout_of": "this release has the routine of its try-outs already",
    "uq_run_file": "the run handed over a file of this name already",
    "uq_run_again": "this run was started again already",
    "uq_run_nominal": "this start has its run already",
    "uq_seal_first": "this piece of the trail is sealed already",
    "uq_seal_previous": "this piece of the trail is sealed already",
    "uq_secret_name": "a secret of this name exists already; choose another name",
    "uq_segment_ask": "this ask has its run already",
    "uq_service_page": "this routine has a self-service page already; change that one",
    "uq_service_word": "this was said already",
    "uq_system_name": "a system of this name exists already; choose another name",
    "uq_token_hash": "this token is given out already; make another",
    "uq_trigger_occasion": "this occasion is noted already",
    "uq_trigger_start": "this start is noted already",
    "uq_variant_name": "a variant of this name exists already; choose another name",
    "uq_view_name": "a view of this name exists already; choose another name",
}
# What a row of a table is called, where that is not the table's own name.
CALLED = {
    "access_request": "request for access",
    "area_above": "area above",
    "business_system": "system",
    "case_variant": "variant",
    "clock_trigger": "trigger",
    "file_body": "file",
    "held_role": "held role",
    "idea_line": "line of a list",
    "idea_sheet": "list",
    "package_release": "release",
    "person_group": "group",
    "program_token": "token",
    "run_segment": "part of the run",
    "service_favourite": "favourite",
    "service_group": "group of a page",
    "service_page": "self-service page",
    "service_run": "run of a page",
    "service_word": "word about a page",
    "start_trigger": "trigger",
    "tally_entry": "entry",
    "tally_month": "month",
}
KEY = re.compile(r"for key '(?:\w+\.)?(\w+)'")
CHECK = re.compile(r"CONSTRAINT `(?:(\w+)\.)?(\w+)` failed for `\w+`\.`(\w+)`")
LINK = re.compile(r"`\w+`\.`(\w+)`, CONSTRAINT `(\w+)` FOREIGN KEY \(([^)]+)\) REFERENCES `(\w+)`")
COLUMN = re.compile(r"column (?:`\w+`\.`\w+`\.)?[`'](\w+)[`']", re.IGNORECASE)
DOUBLED, UNLINKED, IN_USE, CHECKED, MISSING = 1062, (1452, 1216), (1451, 1217), 4025, (1048, 1364)


class Unlinked(Clash):
    """What a row belongs to is not there; or only not for a moment, while its table is being changed."""


def refusal(error: pymysql.err.MySQLError) -> Clash | InputFaults | None:
    """What an error of the database means for a person; None for one that is no refusal of a value."""
    code, text = (error.args[0], str(error.args[1])) if len(error.args) > 1 else (0, "")
    if code == DOUBLED:
        return _doubled(text)
    if code in UNLINKED + IN_USE:
        return _unlinked(code, text)
    if code == CHECKED:
        return _checked(text)
    if code in MISSING:
        return InputFaults([Fault(_column(text), None, "is missing; give a value")])
    if isinstance(error, pymysql.err.DataError):
        return InputFaults([Fault(_column(text), None, _misfit(text))])
    return Clash("constraint", text) if isinstance(error, pymysql.err.IntegrityError) else None


def called(table: str) -> str:
    """A row of a table in words, with its article."""
    word = CALLED.get(table, table.replace("_", " "))
    return f"an {word}" if word[0] in "aeiou" else f"a {word}"


def _doubled(text: str) -> Clash:
    key = KEY.search(text)
    name = key.group(1) if key else "PRIMARY"
    return Clash(name, TAKEN.get(name, "it is there already"))


def _unlinked(code: int, text: str) -> Clash:
    link = LINK.search(text)
    if link is None:
        return Unlinked("constraint", "something that it belongs to is not there any more")
    table, name, column, other = link.groups()
    if code in IN_USE:
        return Clash(name, f"{called(table)} still needs it")
    field = column.strip("`").removesuffix("_id").replace("_", " ")
    return Unlinked(name, f"there is no such {field}: {called(other)} of this number is not there")


def _checked(text: str) -> Clash:
    check = CHECK.search(text)
    table, name, other = check.groups() if check else ("", "constraint", "")
    column = re.sub(r"^ck_[a-z]+_|_json$", "", name).replace("_", " ")
    what = called(table or other) if table or other else "what is kept"
    return Clash(name, f"{what} cannot hold this ({column}): it is none of what is allowed there")


def _column(text: str) -> str:
    column = COLUMN.search(text)
    return column.group(1).removesuffix("_json") if column else "value"


def _misfit(text: str) -> str:
    if "too long" in text:
        return "is longer than can be kept; shorten it"
    return "is larger than can be kept" if "Out of range" in text else "is not what can be kept there"
