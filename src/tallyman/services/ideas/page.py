"""Reading ideas: the list, and one idea with its thread, answers, first look and what is next."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from tallyman.core import ideas
from tallyman.core.first_look import working
from tallyman.core.interview import QUESTIONS
from tallyman.formats.csv_file import csv_file
from tallyman.services.context import Ctx, calendar_of, company_of
from tallyman.services.holding import people_with
from tallyman.services.ideas import moving, talk
from tallyman.services.ideas.base import days_late, find, look_at
from tallyman.services.ideas.helping import may_ask_helpers
from tallyman.services.ideas.review import close_matches
from tallyman.store import lists
from tallyman.store.db import Row, Tx

MOST_EXPORTED = 10_000
EXPORTED = (
    *("id", "title", "what", "stage", "proposer", "division", "route", "hours_low", "hours_high"),
    *("worth", "effort_days", "due_on"),
)
THREAD = ("noted", "screened", "sized", "backed", "building", "in service")


@dataclass(frozen=True)
class Wanted:
    """Which ideas a list shows: nothing set, all that the actor may see."""

    stage: str | None = None
    text: str | None = None
    mine: bool = False
    division: int | None = None
    owner: int | None = None
    route: str | None = None
    reach_from: int | None = None
    late: bool = False
    asked: bool = False

    def filters(self, tx: Tx, ctx: Ctx) -> dict[str, Any]:
        """As the list takes it, with what the actor may see."""
        me = ctx.actor.person_id
        areas = ctx.actor.areas("idea.see")
        below = tx.all("house.divisions_below", id=self.division) if self.division else []
        return {
            "stage": self.stage,
            "not_drafts_of_others": me,
            "text": lists.like(self.text) if self.text else None,
            "proposer": me if self.mine else None,
            "division": tuple(row["id"] for row in below) or (0,) if self.division else None,
            "owner": self.owner,
            "route": self.route,
            "reach_from": self.reach_from,
            "late_on": ctx.now.date() if self.late else None,
            "asked": True if self.asked else None,
            "in_areas": None if areas is None else tuple(areas) or (0,),
        }


def page_of_ideas(
    ctx: Ctx, wanted: Wanted, *, sort: str = "newest", after: str | None = None, limit: int = 50
) -> dict[str, Any]:
    """One page of the ideas that the actor may see."""

    def work(tx: Tx) -> dict[str, Any]:
        rows, following = lists.page(tx, lists.IDEAS, wanted.filters(tx, ctx), sort, after, limit)
        for row in rows:
            row["days_late"] = days_late(ctx, row)
        counts = tx.all("ideas.by_stage", **ctx.scope("idea.see")) if ctx.actor.may("idea.see") else []
        return {"rows": rows, "next": following, "stages": counts}

    return ctx.db.transact(work)


def as_csv(ctx: Ctx, wanted: Wanted) -> bytes:
    """The ideas that a list shows, whole, as CSV; at most `MOST_EXPORTED`."""
    head = ["number", "title", "description", "stage", "proposer", "division", "route", "hours in reach from"]
    head += ["hours in reach to", "worth", "build effort, days", "next move due", "days late"]
    found: list[list[Any]] = []
    after: str | None = None
    while len(found) < MOST_EXPORTED:
        part = page_of_ideas(ctx, wanted, after=after, limit=lists.MOST_ROWS)
        found += [[*(row[key] for key in EXPORTED), days_late(ctx, row)] for row in part["rows"]]
        after = part["next"]
        if after is None:
            break
    return csv_file(head, found)


def mine(ctx: Ctx) -> list[dict[str, Any]]:
    """The actor's own ideas by what they need: *needs you*, *moving*, *resting*; with what is next."""

    def work(tx: Tx) -> list[dict[str, Any]]:
        rows = []
        for row in tx.all("ideas.of_person", person=ctx.actor.person_id):
            needs = row["stage"] == "draft" or row["asked_on"] is not None
            alive = row["stage"] in ideas.TAKES_IN and row["stage"] != "in service"
            group = "needs you" if needs else ("moving" if alive else "resting")
            rows.append({**row, "group": group, "words": _next(tx, ctx, row)["words"]})
        return rows

    return ctx.db.transact(work)


def _standing(tx: Tx, low: Any) -> str:
    if low is None:
        return ""
    row = tx.one("ideas.standing", low=low) or {"ahead": 0, "ideas": 0}
    place, total = int(row["ahead"]) + 1, max(int(row["ideas"]), int(row["ahead"]) + 1)
    return f"By the low end it stands {place} of {total} among the ideas not yet being built."


def _thread(tx: Tx, idea: Row) -> list[dict[str, Any]]:
    """The stages on the path: reached when and by whom, or what is still to come."""
    reached: dict[str, Row] = {}
    for row in tx.all("ideas.stages", idea=idea["id"]):
        reached[row["stage"]] = row
    path = list(THREAD)
    if idea["stage"] not in (*THREAD, "draft"):
        known = [stage for stage in path if stage in reached]
        path = [*known, idea["stage"]]
    rows = []
    for stage in path:
        step = reached.get(stage)
        passed = step is not None and (
            stage not in THREAD
            or idea["stage"] not in THREAD
            or THREAD.index(stage) <= THREAD.index(idea["stage"])
        )
        rows.append(
            {
                "stage": stage,
                "at": step["at"] if step and passed else None,
                "by": step["person"] if step and passed else None,
                "reason": step["reason"] if step and passed else "",
                "now": stage == idea["stage"],
            }
        )
    return rows


def _answers(tx: Tx, ctx: Ctx, idea: Row) -> list[dict[str, Any]]:
    given = {row["question"]: row for row in tx.all("ideas.answers", idea=idea["id"])}
    rows = []
    for question in QUESTIONS:
        row = given.get(question.key, {})
        value = row.get("value")
        shown = value
        if question.key == "division":
            shown = idea["division"]
        elif question.key == "owner":
            shown = idea["owner"]
        rows.append(
            {
                "key": question.key,
                "text": question.text,
                "help": question.help,
                "kind": question.kind,
                "needed": question.needed,
                "choices": [{"value": v, "words": w} for v, w in question.choices],
                "value": value,
                "shown": shown,
                "remark": row.get("remark"),
                "state": row.get("state"),
                "note": row.get("state_note"),
                "by": row.get("person"),
                "at": row.get("at"),
            }
        )
    return rows


def _next(tx: Tx, ctx: Ctx, idea: Row) -> dict[str, Any]:
    since = idea["stage_since"].date()
    calendar = calendar_of(tx)
    step = ideas.next_of(idea["stage"], since, calendar)
    words = step.words
    if idea["stage"] == "screened" and idea["sizing_state"] == "offered":
        words = f"Somebody other than {idea['sizer']} agrees to the sizing, or sends it back"
    if idea["asked_on"] is not None:
        words = f"{idea['proposer']} answers what was asked back; the age stands still meanwhile"
    if idea["stage"] == "building":
        words = _next_of_build(idea, words)
    if idea["stage"] == "parked" and idea["parked_until"] is not None:
        words = f"It comes back by itself on {idea['parked_until']:%d %b %Y}"
    if idea["stage"] == "merged" and idea["merged_into"] is not None:
        words = f"It goes on in I-{idea['merged_into']} {idea['merged_title']}"
    return {
        "words": words,
        "permission": step.permission,
        "due": idea["due_on"],
        "days_late": days_late(ctx, idea),
    }


def _areas_to_choose(tx: Tx, ctx: Ctx, idea: Row) -> list[Row]:
    """Where an idea may be placed: the areas where the actor says so, and where it lies now."""
    rows = tx.all("areas.tree")
    return [row for row in rows if row["id"] == idea["area_id"] or ctx.actor.may_at("idea.change", row["id"])]


def _next_of_build(idea: Row, words: str) -> str:
    if idea["building"] == "stuck":
        return f"It is stuck: {idea['stuck_why']}"
    if idea["route"] != ideas.ROBOT:
        return f"{idea['measure_owner']} sees to it: {idea['measure']}"
    return "Trial runs are watched; then the routine goes live" if idea["building"] == "on trial" else words


def one(ctx: Ctx, idea_id: int) -> dict[str, Any]:
    """An idea as its page shows it."""

    def work(tx: Tx) -> dict[str, Any]:
        idea = find(tx, ctx, idea_id)
        seen = look_at(tx, ctx, idea)
        me, area = ctx.actor.person_id, idea["area_id"]

        def may(permission: str) -> bool:
            return ctx.actor.may_at(permission, area)

        reviewing = may("idea.decide") and idea["stage"] == "noted"
        return {
            **{key: idea[key] for key in SHOWN},
            "thread": _thread(tx, idea),
            "next": _next(tx, ctx, idea),
            "answers": _answers(tx, ctx, idea),
            "files": tx.all("ideas.files", idea=idea_id),
            "helpers": tx.all("ideas.helpers", idea=idea_id),
            "areas": _areas_to_choose(tx, ctx, idea) if may("idea.change") else [],
            "look": working(seen, _standing(tx, seen.hours_low)).as_dict(),
            "comments": talk.comments(tx, ctx, idea),
            "voices": talk.voices(tx, idea),
            "follows": tx.value("talk.follows", idea=idea_id, person=me) is not None,
            "merged_in": tx.all("ideas.merged_in", id=idea_id),
            "moves": moving.choices(tx, ctx, idea),
            "way": tx.all("ideas.stages", idea=idea_id),
            "matches": close_matches(tx, ctx, idea) if reviewing else [],
            "experts": people_with(tx, "sizing.make", area) if reviewing else [],
            "may": {
                "answer": idea["proposer_id"] == me and idea["stage"] in ("draft", "noted", "screened"),
                "review": reviewing,
                "confirm": ctx.actor.is_or_stands_in_for(idea["owner_id"])
                and idea["owner_confirmed_at"] is None,
                "size": may("sizing.make") and idea["stage"] in ("screened", "sized"),
                "see_case": may("idea.see"),
                "agree": may("sizing.decide")
                and idea["sizing_state"] == "offered"
                and idea["sized_by"] != me,
                "back": may("case.decide") and idea["stage"] == "sized",
                "build": may("build.make") and idea["stage"] == "backed",
                "see_tally": may("value.see"),
                "place": may("idea.change"),
                "ask_helpers": may_ask_helpers(ctx, idea),
            },
            "company_zone": company_of(tx)["zone"],
        }

    return ctx.db.transact(work)


SHOWN = (
    "id",
    "title",
    "what",
    "stage",
    "building",
    "stage_since",
    "due_on",
    "area",
    "area_id",
    "division",
    "division_id",
    "proposer",
    "proposer_id",
    "owner",
    "owner_id",
    "owner_confirmed_at",
    "builder",
    "fit_low",
    "fit_high",
    "hours_low",
    "hours_high",
    "worth",
    "effort_days",
    "sizing_state",
    "sizer",
    "sized_at",
    "agreer",
    "agreed_at",
    "sizing_note",
    "live_on",
    "asked_on",
    "parked_until",
    "merged_into",
    "merged_title",
    "route",
    "measure",
    "measure_owner",
    "stuck_why",
    "version",
    "made_at",
    "changed_at",
)
