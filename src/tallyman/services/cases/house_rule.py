"""How the house reckons cases: whether a small idea carries a whole seat, or its share of a robot."""

from __future__ import annotations

from collections.abc import Mapping

from tallyman.core.cases.business_case import SEATS, SHARED_SEATS, WHOLE_SEATS
from tallyman.core.faults import InputFaults, unknown_word
from tallyman.core.known import Known
from tallyman.services.answers import Choice
from tallyman.services.cases.answers_of_rules import CaseRuleOut
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.house import rule_sets
from tallyman.store.db import Tx

RULE = "case"
WORDS = {
    WHOLE_SEATS: "whole seats: the robots it needs, up to the next whole one",
    SHARED_SEATS: "its share of a robot: the hours that it uses, of those that a robot has",
}


def seats_in_cases(tx: Tx) -> Known:
    """How cases count seats, with the version of the rule and its day."""
    content, version = rule_sets.newest(tx, RULE)
    if content is None:
        return Known(WHOLE_SEATS, "house rule, cases 1", "")
    return Known(content["seats"], f"house rule, cases {version + 1}", "")


@in_transaction
def view(tx: Tx, ctx: Ctx) -> CaseRuleOut:
    """How cases are reckoned, the choices, and the versions."""
    ctx.require_at("house.change", None)
    _, version = rule_sets.newest(tx, RULE)
    return CaseRuleOut(
        version=version,
        seats=seats_in_cases(tx).value,
        choices=[Choice(value=one, words=WORDS[one]) for one in SEATS],
        versions=rule_sets.shown(tx, RULE),
    )


@in_transaction
def keep(tx: Tx, ctx: Ctx, given: Mapping[str, object], note: str, seen: int) -> int:
    """A new version of how cases are reckoned; every worth follows. Raises InputFaults, Conflict."""
    seats = given.get("seats")
    if seats not in SEATS:
        raise InputFaults([unknown_word("seats", seats, SEATS)])
    return rule_sets.keep(tx, ctx, RULE, {"seats": seats}, note, seen)
