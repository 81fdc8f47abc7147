"""Changing the factors of the first look: what a change does to today's order, and reckoning anew on
purpose."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction
from functools import partial

from tallyman.core.exact import exact, text_of
from tallyman.core.ideas import factors as factors_
from tallyman.core.ideas import first_look, questions
from tallyman.core.ideas.factors import Factors, Ranked
from tallyman.errors import Refused
from tallyman.services.context import Ctx, audit, calendar_of, changed, in_transaction, working_days_a_year
from tallyman.services.house import rule_sets
from tallyman.services.ideas import rules
from tallyman.services.ideas.answers_of_rules import (
    FactorGroup,
    FactorRow,
    FactorsOut,
    MovedIdea,
    PreviewOut,
)
from tallyman.services.ideas.base import look_at, obj
from tallyman.services.upkeep import Piece, Rows, Work, errands
from tallyman.store.db import Tx
from tallyman.store.records.ideas import (
    Idea,
    IdeasAnswersOfMany,
    IdeasFileKindsOfMany,
    IdeasLock,
    IdeasRankedOpen,
    IdeasVolumesOfMany,
)
from tallyman.store.records.upkeep import Errand, HitchesWaiting

FIRST_LOOKS = Work("first looks", "a first look reckoned anew", most_tries=3)

ERRAND = "first looks anew"
IDEAS_A_PIECE = 50
MOST_SHOWN = 200


@in_transaction
def view(tx: Tx, ctx: Ctx) -> FactorsOut:
    """The factors in force, their versions, and how many open ideas still stand by other ones."""
    ctx.require_at("house.change", None)
    now = rules.factors(tx)
    return FactorsOut(
        version=now.version,
        name=now.name,
        groups=_groups(now),
        versions=rule_sets.shown(tx, rules.FACTORS),
        by_others=tx.count("ideas.count_by_other_factors", version=now.version),
    )


def _groups(now: Factors) -> list[FactorGroup]:
    content = factors_.as_content(now)
    standard = factors_.as_content(factors_.STANDARD)
    return [
        FactorGroup(
            key=group,
            title=factors_.GROUPS[group].title,
            unit=factors_.GROUPS[group].unit,
            rows=[
                FactorRow(name=name, value=_short(value), standard=_short(standard[group][name]))
                for name, value in rows.items()
            ],
        )
        for group, rows in content.items()
    ]


def _short(value: str) -> str:
    return value.rstrip("0").rstrip(".") if "." in value else value


def _inputs(tx: Tx, ctx: Ctx, ideas: list[IdeasRankedOpen]) -> dict[int, dict[str, object]]:
    """What the first look of each idea is reckoned from, read in few statements."""
    ids = tuple(row.id for row in ideas) or (0,)
    answers: dict[int, dict[str, object]] = {}
    for row in tx.all(IdeasAnswersOfMany, "ideas.answers_of_many", ids=ids):
        answers.setdefault(row.idea_id, {})[row.question] = row.value
    kinds: dict[int, set[str]] = {}
    for file in tx.all(IdeasFileKindsOfMany, "ideas.file_kinds_of_many", ids=ids):
        kinds.setdefault(file.idea_id, set()).add(file.kind)
    volumes: dict[int, list[dict[str, str]]] = {}
    for one in tx.all(IdeasVolumesOfMany, "ideas.volumes_of_many", ids=ids):
        volumes.setdefault(one.idea_id, []).append(one.volume)
    days = working_days_a_year(calendar_of(tx), ctx.now.year)
    found = {}
    for idea in ideas:
        number = idea.id
        evidence = [kind for kind in first_look.EVIDENCE if kind in kinds.get(number, ())]
        if idea.owner_confirmed_at is not None:
            evidence.append("owner confirmed")
        found[number] = questions.look_input(answers.get(number, {}), evidence, days, volumes.get(number, []))
    return found


def preview(ctx: Ctx, content: Mapping[str, object]) -> PreviewOut:
    """What other factors would do to today's order: each idea that moves, with its place and low end
    before and after. Raises InputFaults."""
    ctx.require_at("house.change", None)
    proposed = factors_.read_content(content, 0)

    def work(tx: Tx) -> PreviewOut:
        ideas = tx.all(IdeasRankedOpen, "ideas.ranked_open")
        inputs = _inputs(tx, ctx, ideas)
        now = {row.id: _exactly(row.hours_low) for row in ideas}
        then = {
            number: first_look.look(first_look.read_answers(given, proposed)).hours_low
            for number, given in inputs.items()
        }
        before = factors_.order([Ranked(number, low) for number, low in now.items()])
        after = factors_.order([Ranked(number, low) for number, low in then.items()])
        rows = [
            MovedIdea(
                id=row.id,
                title=row.title,
                stage=row.stage,
                place_now=before.get(row.id),
                place_then=after.get(row.id),
                low_now=text_of(now[row.id], 0),
                low_then=text_of(then[row.id], 0),
            )
            for row in ideas
        ]
        moved = [row for row in rows if row.place_now != row.place_then]
        moved.sort(key=lambda row: (-abs((row.place_then or 0) - (row.place_now or 0)), row.id))
        differ = sum(row.low_now != row.low_then for row in rows)
        return PreviewOut(ideas=len(rows), moved=len(moved), differ=differ, rows=moved[:MOST_SHOWN])

    return ctx.db.transact(work)


def _exactly(value: object) -> Fraction | None:
    return None if value is None else exact(value)


def keep(ctx: Ctx, content: Mapping[str, object], note: str, seen: int) -> int:
    """A new version of the factors; what was reckoned by former ones stays until it is reckoned anew."""
    read = factors_.read_content(content, 0)
    kept = factors_.as_content(read)
    return ctx.db.transact(lambda tx: rule_sets.keep(tx, ctx, rules.FACTORS, kept, note, seen))


@in_transaction
def begin_anew(tx: Tx, ctx: Ctx) -> int:
    """Begins to reckon every open idea's first look by the factors in force; gives the errand."""
    ctx.require_at("house.change", None)
    now = rules.factors(tx)
    total = tx.count("ideas.count_by_other_factors", version=now.version)
    if not total:
        raise Refused("Every open idea stands by the factors in force.", "There is nothing to reckon.")
    audit(tx, ctx, "first looks anew", f"rules:{rules.FACTORS}", f"{total} ideas by {now.name}")
    return errands.add(tx, ctx, ERRAND, total, {"version": now.version})


def carry_on(ctx: Ctx, errand: Errand) -> Piece:
    """Reckons the next ideas anew, each in a transaction of its own."""
    version = errand.input["version"]

    def rest(tx: Tx) -> tuple[list[int], int, int]:
        rows = tx.values(
            int, "ideas.by_other_factors", version=version, after=0, most=IDEAS_A_PIECE, now=ctx.now
        )
        waiting = tx.all(HitchesWaiting, "hitches.waiting", work=FIRST_LOOKS.name, now=ctx.now)
        mine = [row for row in waiting if row.row_key.startswith(f"{version}:")]
        return (
            rows,
            tx.count("ideas.count_by_other_factors", version=version),
            sum(row.stuck for row in mine),
        )

    rows = ctx.db.transact(rest)[0]
    turn = Rows(ctx, FIRST_LOOKS)
    for row in rows:
        act = partial(ctx.db.transact, partial(_anew, ctx=ctx, idea_id=row, version=version))
        turn.go(f"{version}:{row}", act, obj=obj(row))
    _, left, stuck = ctx.db.transact(rest)
    done = max(errand.total - left, 0)
    words = f"{done:,} of {errand.total:,} ideas reckoned anew"
    if stuck:
        words += f"; {stuck:,} could not be, which Health shows with the reason"
    return Piece(done, words, left <= stuck)


def _anew(tx: Tx, ctx: Ctx, idea_id: int, version: int) -> int:
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = tx.one(Idea, "ideas.by_id", id=idea_id)
    if idea is None or idea.factors_version == version:
        return 0
    seen = look_at(tx, ctx, replace(idea, factors_version=version))
    tx.write(
        "ideas.set_look",
        id=idea_id,
        fit_low=seen.fit_low,
        fit_high=seen.fit_high,
        hours_low=seen.hours_low,
        hours_high=seen.hours_high,
        factors=version,
    )
    before = {"hours_low": text_of(_exactly(idea.hours_low), 1), "factors": idea.factors_version}
    after = {"hours_low": text_of(seen.hours_low, 1), "factors": version}
    words = f"First look and sizing reckoned anew by factors {version + 1}"
    audit(tx, ctx, "first look anew", obj(idea_id), words, before, after)
    changed(tx, ctx, "ideas", idea_id)
    return 1
