"""How far colleagues without a role in the team browse ideas: the house decides, by division."""

from __future__ import annotations

from tallyman.core.faults import InputFaults, unknown_word
from tallyman.core.ideas import way
from tallyman.services.answers import Choice
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.house import rule_sets
from tallyman.services.ideas.answers_of_rules import BrowsingOut
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea
from tallyman.store.records.people import Person

RULE = "browsing"
NOBODY, OWN, BRANCH, COMPANY = "nobody", "own", "branch", "company"
WORDS = {
    NOBODY: "only what they have a part in",
    OWN: "the ideas of their own division and those below it",
    BRANCH: "the ideas of their whole branch, from its top division down",
    COMPANY: "the ideas of all divisions",
}
# What is browsed: what was handed in and is alive or rests; never drafts, nor what was let go.
STAGES = (*way.TAKES_IN, "parked")


def reach(tx: Tx) -> str:
    """How far they browse."""
    content, _ = rule_sets.newest(tx, RULE)
    return OWN if content is None else str(content["reach"])


def divisions(tx: Tx, ctx: Ctx) -> tuple[int, ...] | None:
    """The divisions whose ideas the actor browses; None is all, and ideas of none."""
    far = reach(tx)
    if far == COMPANY and ctx.actor.may("idea.make"):
        return None
    if far == NOBODY or not ctx.actor.for_ideas or not ctx.actor.may("idea.make"):
        return ()
    person = tx.one(Person, "people.by_id", id=ctx.actor.person_id)
    if person is None or person.division_id is None:
        return ()
    top = person.division_id
    if far == BRANCH:
        top = tx.value(int, "house.division_top", id=top) or top
    return tuple(tx.values(int, "house.divisions_below", id=top))


def browses(tx: Tx, ctx: Ctx, idea: Idea) -> bool:
    """Whether the actor sees an idea for no other reason than that the house lets colleagues browse."""
    if idea.stage not in STAGES:
        return False
    among = divisions(tx, ctx)
    return among is None or idea.division_id in among


@in_transaction
def view(tx: Tx, ctx: Ctx) -> BrowsingOut:
    """How far colleagues browse, the choices, and the versions."""
    ctx.require_at("house.change", None)
    _, version = rule_sets.newest(tx, RULE)
    return BrowsingOut(
        version=version,
        reach=reach(tx),
        choices=[Choice(value=one, words=words) for one, words in WORDS.items()],
        versions=rule_sets.shown(tx, RULE),
    )


@in_transaction
def keep(tx: Tx, ctx: Ctx, far: str, note: str, seen: int) -> int:
    """A new version of how far colleagues browse. Raises InputFaults, Conflict."""
    if far not in WORDS:
        raise InputFaults([unknown_word("reach", far, WORDS)])
    return rule_sets.keep(tx, ctx, RULE, {"reach": far}, note, seen)
