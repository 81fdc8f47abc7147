"""Variants of a case side by side: as sized, cautious, bold, and those that people kept of their own."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

from tallyman.core.cases import business_case
from tallyman.core.cases import variants as rules
from tallyman.core.cases.running import with_lines
from tallyman.core.cases.variants import BOLD, CAUTIOUS, SIZED, Variant
from tallyman.core.exact import exact, plain
from tallyman.core.known import Known
from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound, Refused
from tallyman.services.cases.answers_of_variants import (
    DifferingInput,
    VariantFigure,
    VariantInput,
    VariantOut,
    VariantsOut,
)
from tallyman.services.cases.inputs import Inputs, case_input, wanted_lines
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.ideas import find_to, obj
from tallyman.store.db import Tx, dump
from tallyman.store.records.cases import VariantsOfIdea
from tallyman.store.records.ideas import IdeasLock

MOST = 8
LONGEST_NAME = 60
FIGURES = (
    ("saving_per_year", "Saved a year", "money"),
    ("running_cost_per_year", "To run, a year", "money"),
    ("one_time_cost", "To build", "money"),
    ("robots", "Robots", ""),
    ("payback_months", "Paid back after", "months"),
    ("npv_3y", "Worth over three years", "money"),
    ("return_3y", "Return over three years", "share"),
)


def _number(sheet: Mapping[str, Known], field: str) -> Fraction | None:
    known = sheet.get(field)
    return None if known is None or known.value in (None, "") else exact(known.value)


def ends_of(inputs: Inputs) -> dict[str, tuple[Fraction | None, Fraction | None]]:
    """The ends of each range that the sizing gives, in the units of the case."""
    sheet, sized = inputs.sized_sheet, inputs.sized
    volume = _number(sheet, "volume")
    times = sized.volume_per_year / volume if sized.volume_per_year and volume else Fraction(1)

    def pair(low: str, high: str, factor: Fraction = Fraction(1)) -> tuple[Fraction | None, Fraction | None]:
        ends = (_number(sheet, low), _number(sheet, high))
        return (
            None if ends[0] is None else ends[0] * factor,
            None if ends[1] is None else ends[1] * factor,
        )

    return {
        "volume_per_year": pair("volume_low", "volume_high", times),
        "handling_minutes": pair("minutes_low", "minutes_high"),
        "automatable_share": pair("share_low", "share_high"),
        rules.EFFORT: pair("effort_low", "effort_high"),
    }


@in_transaction
def view(tx: Tx, ctx: Ctx, idea_id: int) -> VariantsOut:
    """All variants with their figures, what each says otherwise, and where they differ."""
    idea = find_to(tx, ctx, idea_id, "idea.see")
    inputs = case_input(tx, ctx, idea)
    lines = wanted_lines(inputs)

    def complete(given: dict[str, object]) -> dict[str, object]:
        return with_lines(given, lines, inputs.exchange)[0]

    ends = ends_of(inputs)
    own = tx.all(VariantsOfIdea, "variants.of_idea", idea=idea_id)
    wanted: list[tuple[str, dict[str, str]]] = [
        (SIZED, {}),
        (CAUTIOUS, rules.from_ends(ends, bold=False)),
        (BOLD, rules.from_ends(ends, bold=True)),
        *((row.name, row.input) for row in own),
    ]
    found = [rules.variant(name, inputs.given, changes, complete) for name, changes in wanted]
    return VariantsOut(
        variants=[_shown(one, own) for one in found],
        differing=[DifferingInput(**row) for row in rules.differing(found)],
        inputs=[
            VariantInput(field=name, label=label, value=_base(inputs, name))
            for name, label in rules.INPUTS.items()
        ],
        no_range=[rules.INPUTS[name] for name, (low, high) in ends.items() if low is None and high is None],
        may_change=ctx.actor.may_at("sizing.make", idea.area_id),
    )


def _base(inputs: Inputs, name: str) -> str | None:
    if name == rules.EFFORT:
        effort = rules.effort_of(inputs.given)
        return None if effort is None else plain(effort)
    value = inputs.given.get(name)
    return None if value is None else str(value)


def _shown(one: Variant, own: list[VariantsOfIdea]) -> VariantOut:
    row = next((row for row in own if row.name == one.name), None)
    texts = business_case.as_texts(one.figures)
    return VariantOut(
        id=row.id if row else None,
        version=row.version if row else 0,
        by=row.person if row else "",
        name=one.name,
        changes=one.changes,
        figures=[
            VariantFigure(
                name=name,
                label=label,
                unit=unit,
                value=_text(texts[name]),
                said=str(texts["payback_said"]) if name == "payback_months" else "",
            )
            for name, label, unit in FIGURES
        ],
        net=texts["net"],
    )


def _text(value: object) -> str | None:
    return None if value is None else str(value)


def _checked(name: str, changes: Mapping[str, object]) -> tuple[str, dict[str, str]]:
    clean = " ".join(name.split())
    faults = []
    if not 1 <= len(clean) <= LONGEST_NAME:
        message = f"give the variant a name of 1 to {LONGEST_NAME} characters"
        faults.append(Fault("name", name[:40], message))
    if clean in (SIZED, CAUTIOUS, BOLD):
        faults.append(Fault("name", clean, "this one is made by itself; choose another name"))
    if not any(value not in (None, "") for value in changes.values()):
        faults.append(Fault("changes", None, "say at least one figure otherwise"))
    if faults:
        raise InputFaults(faults)
    return clean, rules.check(changes)


@in_transaction
def put(
    tx: Tx, ctx: Ctx, idea_id: int, number: int | None, name: str, changes: Mapping[str, object], version: int
) -> int:
    """Keeps a variant, a new one without `number`; gives its number. `version` is the one that was shown.

    Raises InputFaults when an input is out of range, Conflict when somebody changed it meanwhile.
    """
    ctx.require("sizing.make")
    name, kept = _checked(name, changes)
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "sizing.make")
    inputs = case_input(tx, ctx, idea)
    rules.variant(name, inputs.given, kept, lambda given: given)
    there = tx.all(VariantsOfIdea, "variants.of_idea", idea=idea_id)
    row = next((one for one in there if one.id == number), None)
    words = {"name": name, "input": dump(kept), "person": ctx.actor.person_id, "now": ctx.now}
    try:
        if number is None:
            if len(there) >= MOST:
                raise Refused(f"There are {MOST} variants already.", "Take one away first.")
            made = tx.insert("variants.add", idea=idea_id, **words)
        elif row is None:
            raise NotFound("There is no such variant.", "Load the page again.")
        elif row.version != version:
            raise Conflict(
                f"{row.person} changed this variant meanwhile.",
                "Look at both, then save yours again or keep theirs.",
                theirs=row.input,
                yours=kept,
                version=row.version,
            )
        else:
            made = number
            tx.write("variants.change", id=number, **words)
    except Clash:
        raise InputFaults([Fault("name", name, "there is a variant of this name already")]) from None
    audit(
        tx,
        ctx,
        "variant kept",
        obj(idea_id),
        f"Kept the variant {name}",
        row.input if row else None,
        kept,
    )
    changed(tx, ctx, "ideas", idea_id)
    return made


@in_transaction
def drop(tx: Tx, ctx: Ctx, idea_id: int, number: int) -> None:
    """Takes a variant away; the audit trail keeps what it said."""
    ctx.require("sizing.make")
    find_to(tx, ctx, idea_id, "sizing.make")
    row = next(
        (one for one in tx.all(VariantsOfIdea, "variants.of_idea", idea=idea_id) if one.id == number),
        None,
    )
    if row is None:
        raise NotFound("There is no such variant.", "Load the page again.")
    tx.write("variants.drop", id=number)
    audit(
        tx,
        ctx,
        "variant taken away",
        obj(idea_id),
        f"Took the variant {row.name} away",
        row.input,
        None,
    )
    changed(tx, ctx, "ideas", idea_id)
