"""A case taken out: a workbook with living formulas, a PDF page, JSON as `calc business-case` reads it."""

from __future__ import annotations

import base64
import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import date
from fractions import Fraction

from tallyman.config import settings
from tallyman.core.cases import business_case, workings
from tallyman.core.cases.business_case import Case
from tallyman.core.cases.facts import CASE, LABELS
from tallyman.core.cases.phases import working_days
from tallyman.core.exact import plain, text_of
from tallyman.core.free import FreeObject
from tallyman.core.ideas import Factors
from tallyman.core.known import Known
from tallyman.core.volume import times_a_year
from tallyman.formats import apart
from tallyman.formats.case_page import CasePage
from tallyman.formats.case_workbook import CaseBook, Cell, case_workbook
from tallyman.services.cases.answers import CaseJson, Lack
from tallyman.services.cases.business_case import figures_of, missing_rows
from tallyman.services.cases.inputs import Inputs, case_input, plain_or_none
from tallyman.services.context import Ctx, audit, calendar_of, company_of, in_transaction, working_days_a_year
from tallyman.services.ideas import find_to, obj, ref
from tallyman.services.upkeep import Piece, errands
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, Promise
from tallyman.store.records.upkeep import Errand

INPUTS = (
    ("cost_per_hour", "money an hour"),
    ("rework_share", "share"),
    ("rework_minutes", "min"),
    ("robot_minutes", "min"),
    ("robot_exception_share", "share"),
    ("robot_exception_minutes", "min"),
    ("robot_hours_per_day", "h"),
    ("robot_days_per_year", "days"),
    ("seat_cost_per_year", "money a year"),
    ("support_share", "share a year"),
    ("other_software_per_year", "money a year"),
    ("one_time_other", "money"),
    ("discount_rate", "share a year"),
)
# A cell that is not typed leaves what rests on it empty, never 0.
ERRAND = "case page"
VOLUME = 'IF(OR(ISBLANK(volume),ISBLANK(times_a_year)),"",ROUND(volume*times_a_year,6))'
SHARE = 'IF(share_taken="","",ROUND(share_taken,6))'
SIZING_CELLS = (
    ("judged_share", "share"),
    ("unsuitable_share", "share"),
    ("steps", ""),
    ("decisions", ""),
    ("variants", ""),
    ("languages", ""),
    ("reused_parts", ""),
)


@dataclass(frozen=True)
class _Taken:
    """A case as it is taken out."""

    idea: Idea
    inputs: Inputs
    figures: Case
    missing: list[Lack]
    company: str
    promise: Promise | None
    working_days: int
    closed: list[date]


def _take(tx: Tx, ctx: Ctx, idea_id: int, form: str) -> _Taken:
    idea = find_to(tx, ctx, idea_id, "idea.see")
    inputs = case_input(tx, ctx, idea)
    case, figures = figures_of(inputs)
    calendar = calendar_of(tx)
    audit(tx, ctx, "case taken out", obj(idea_id), f"Took the case out as {form}")
    return _Taken(
        idea,
        inputs,
        figures,
        missing_rows(case.missing, inputs.sized),
        company_of(tx).name,
        tx.one(Promise, "ideas.promise", idea=idea_id),
        working_days_a_year(calendar, ctx.now.year),
        sorted(calendar.closed),
    )


@in_transaction
def as_json(tx: Tx, ctx: Ctx, idea_id: int) -> CaseJson:
    """The case as JSON: `input` is what `calc business-case` reads, `result` what it gives; with sources."""
    taken = _take(tx, ctx, idea_id, "JSON")
    given = {**taken.inputs.given}
    names = (*business_case.AMOUNTS, *business_case.SHARES)
    wanted = {*names, "currency", "robot_hours_per_day", "robot_days_per_year", "discount_rate"}
    wanted |= {"seats", "one_time_other", "running_lines", "phases", "start", "go_live"}
    case = business_case.read_case(given)
    tree = workings.workings(case, taken.figures, taken.inputs.sources)
    return CaseJson(
        idea=ref(idea_id),
        title=taken.idea.title,
        taken_out_at=ctx.now,
        rules_version=business_case.RULES_VERSION,
        input={name: value for name, value in given.items() if name in wanted},
        sources={
            name: {"from": source, "date": day, "field": field}
            for name, (source, day, field) in taken.inputs.sources.items()
        },
        result=business_case.as_texts(taken.figures),
        missing=taken.missing,
        benefit_lines=taken.inputs.benefits,
        promise=taken.promise.result if taken.promise else None,
        working=tree,
    )


def as_workbook(ctx: Ctx, idea_id: int) -> bytes:
    """The case as XLSX with living formulas."""

    # Nothing is locked or held while the file is made.
    return case_workbook(ctx.db.transact(lambda tx: _book(_take(tx, ctx, idea_id, "XLSX"))))


def _about(taken: _Taken) -> list[tuple[str, str]]:
    idea, promise = taken.idea, taken.promise
    rows = [
        ("Idea", f"{ref(idea.id)} {idea.title}, {idea.stage}"),
        ("Company", taken.company),
        ("Currency", taken.inputs.given["currency"]),
        ("Cost tables as of", f"{taken.inputs.day.isoformat()} ({taken.inputs.sheet['costs_on'].source})"),
        ("Reckoned by", f"{business_case.RULES_VERSION}, {taken.inputs.factors.name}"),
    ]
    if idea.sizer:
        agreed = f", agreed by {idea.agreer}" if idea.agreer else ", not agreed yet"
        rows.append(("Sized by", f"{idea.sizer}{agreed}"))
    if promise is not None:
        rows.append(("Promised", f"by {promise.person} on {promise.at.date().isoformat()}"))
    if taken.missing:
        rows.append(("Missing", ", ".join(row.label for row in taken.missing)))
    return rows


def _cell(taken: _Taken, name: str, unit: str, label: str = "", formula: str = "") -> Cell:
    source, day, field = taken.inputs.sources.get(name, ("", "", name))
    value = taken.inputs.given.get(name)
    text = None if value is None else str(value)
    return Cell(name, label or LABELS.get(field, name), text, unit, source, day, formula)


def _fact(taken: _Taken, name: str, unit: str) -> Cell:
    known = taken.inputs.sized_sheet.get(name)
    value = None if known is None or known.value in (None, "") else str(known.value)
    return Cell(name, LABELS[name], value, unit, known.source if known else "", known.date if known else "")


def _book(taken: _Taken) -> CaseBook:
    inputs, sheet = taken.inputs, taken.inputs.sheet
    phases = sheet.get("phases")
    follow = bool(phases and not phases.own)
    named = [row.get("currency") for row in (*inputs.lines, *inputs.benefits)]
    return CaseBook(
        title=f"{ref(taken.idea.id)} {taken.idea.title}: the business case",
        about=_about(taken),
        inputs=[
            _cell(taken, "volume_per_year", "items", "Volume a year", VOLUME),
            _cell(taken, "handling_minutes", "min"),
            _cell(taken, "automatable_share", "share", "Automatable share", SHARE),
            *(_cell(taken, name, unit) for name, unit in INPUTS),
            _cell(taken, "seats", "word", "Seats: whole, or their share"),
            Cell(
                "plan_start", LABELS["plan_start"], sheet["plan_start"].value, "date", *_from(inputs, "start")
            ),
            _day(inputs, "start_day", "First working day of the plan", "start", "first_day"),
            _day(inputs, "go_live", "Go-live", "go_live", "last_day"),
        ],
        sizing=_sizing_cells(taken),
        arrives=_arrives(taken),
        phases=_phases(inputs),
        phases_follow=follow,
        phases_source=phases.source if phases else "",
        closed=taken.closed,
        lines=inputs.lines,
        benefits=inputs.benefits,
        exchange=[(code, plain(rate)) for code, rate in inputs.exchange.items() if code in named],
        figures=_exact_figures(taken.figures),
    )


def _day(inputs: Inputs, name: str, label: str, given: str, formula: str) -> Cell:
    follows = bool(inputs.plan) and inputs.given[given] == _planned(inputs, given)
    source = "the plan" if follows else inputs.sources[given][0]
    return Cell(name, label, inputs.given[given], "date", source, "", formula if follows else "")


def _planned(inputs: Inputs, given: str) -> str:
    assert inputs.plan is not None
    return str(inputs.plan["phases"][0]["start"] if given == "start" else inputs.plan["end"])


def _phases(inputs: Inputs) -> list[dict[str, object]]:
    """The phases with their working days and dates, as the plan has them."""
    placed = inputs.plan["phases"] if inputs.plan else []
    rows = _rows(inputs.sheet.get("phases"))
    return [
        {
            **{key: row.get(key) for key in ("name", "person_days", "day_rate")},
            "days": working_days(row),
            "lag": row.get("lag") or 0,
            "start": dates["start"],
            "end": dates["end"],
        }
        for row, dates in zip(rows, placed, strict=True)
    ]


def _rows(phases: Known | None) -> list[FreeObject]:
    return phases.value if phases else []


def _from(inputs: Inputs, name: str) -> tuple[str, str]:
    source, day, _ = inputs.sources[name]
    return source, day


def _arrives(taken: _Taken) -> list[tuple[str, str, str]]:
    known = taken.inputs.sized_sheet.get("arrives")
    rows = known.value if known and known.value else []
    readiness = taken.inputs.factors.readiness
    return [(row["kind"], str(row["part"]), text_of(readiness[row["kind"]], 4) or "") for row in rows]


def _sizing_cells(taken: _Taken) -> list[Cell]:
    sheet, sized = taken.inputs.sized_sheet, taken.inputs.sized
    rhythm = sheet.get("rhythm")
    times = times_a_year(str(rhythm.value), taken.working_days) if rhythm else None
    said = f"per {rhythm.value}, {rhythm.source}" if rhythm else ""
    systems = sheet.get("systems")
    factors = taken.inputs.factors
    known = (systems.value if systems else []) or []
    days = sum((factors.access[row["access"]] for row in known), Fraction(0))
    named = ", ".join(f"{row['name']} ({row['access']})" for row in (systems.value if systems else []) or [])
    by = f"{named}; {systems.source}" if systems else ""
    share = (
        'IF(OR(ISBLANK(judged_share),ISBLANK(unsuitable_share)),"",(1-judged_share)*(1-unsuitable_share)'
        "*SUMPRODUCT(arrives_part,arrives_readiness)/SUM(arrives_part))"
    )
    hard, effort = _build_formulas(factors)
    arrives = bool(_arrives(taken))
    return [
        _fact(taken, "volume", "items"),
        Cell("times_a_year", "Times a year", None if times is None else str(times), "", said, ""),
        *(_fact(taken, name, unit) for name, unit in SIZING_CELLS),
        Cell("days_for_systems", "Person-days for systems", plain(days) if named else None, "days", by, ""),
        _formula(
            "share_computed", "Automatable share, computed", sized.computed_share, "share", share, arrives
        ),
        _fact(taken, "share_override", "share"),
        _taken_one(
            "share_taken",
            "Automatable share, taken",
            sized.share,
            "share",
            "share_override",
            "share_computed",
        ),
        _formula("hard_to_read", "Factor for input that is hard to read", None, "", hard, arrives),
        _formula("effort_computed", "Build effort, computed", sized.computed_effort, "days", effort, True),
        _fact(taken, "effort_override", "days"),
        _taken_one(
            "build_effort",
            "Build effort, taken",
            sized.effort_days,
            "days",
            "effort_override",
            "effort_computed",
        ),
    ]


def _build_formulas(factors: Factors) -> tuple[str, str]:
    """How input that is hard to read, and the build effort, follow from the names of the sheet."""
    under, least, times = (
        plain(value)
        for value in (
            factors.hard["readiness under"],
            factors.hard["from this share on"],
            factors.hard_times["hard to read input"],
        )
    )
    part = f'SUMIF(arrives_readiness,"<{under}",arrives_part)/SUM(arrives_part)'
    days = {name: plain(value) for name, value in factors.effort.items()}
    base = (
        f"{days['to begin with']}+{days['a step']}*steps+{days['a decision']}*decisions"
        f"+{days['a further variant']}*(variants-1)+{days['a further language']}*(languages-1)"
        "+days_for_systems"
    )
    reuse = f"MIN({plain(factors.reuse['at most'])},{plain(factors.reuse['a part of ours'])}*reused_parts)"
    return (
        f"IF(AND({part}>0,{part}>={least}),{times},1)",
        'IF(OR(ISBLANK(steps),ISBLANK(decisions),ISBLANK(days_for_systems)),"",'
        f"CEILING(ROUND(({base})*hard_to_read*(1-{reuse}),9),0.5))",
    )


def _formula(name: str, label: str, value: Fraction | None, unit: str, formula: str, known: bool) -> Cell:
    return Cell(name, label, plain_or_none(value), unit, "", "", formula if known else '""')


def _taken_one(
    name: str, label: str, value: Fraction | None, unit: str, override: str, computed: str
) -> Cell:
    formula = f"IF(ISBLANK({override}),{computed},{override})"
    return Cell(name, label, plain_or_none(value), unit, "the judgement where one is given", "", formula)


def _exact_figures(figures: Case) -> dict[str, Fraction | int | None]:
    """Unrounded figures by the names of the workbook, for programs that show it without reckoning."""
    found: dict[str, Fraction | int | None] = {
        "hours_before": figures.hours_before,
        "rework_hours": figures.rework_hours,
        "cost_before": figures.cost_before,
        "kept_hours": figures.kept_hours,
        "returned_hours": figures.returned_hours,
        "cost_after_people": figures.cost_after_people,
        "saving_per_year": figures.saving,
        "robot_hours": figures.robot_hours,
        "robots": figures.robots,
        "robot_share": figures.robot_share,
        "seats_paid": figures.seats_paid,
        "one_time_cost": figures.one_time,
        "running_cost_per_year": figures.running,
        "gap_days": figures.gap_days,
        "payback_months": figures.payback_months,
        "npv_3y": figures.npv,
        "return_3y": figures.return_3y,
    }
    for name, values in (
        ("live_year", figures.live_parts),
        ("net_year", figures.net),
        ("full_year", figures.after_go_live),
    ):
        for year, value in enumerate(values or (), 1):
            found[f"{name}_{year}"] = value
    return found


PAGE_FIGURES = (
    ("saving_per_year", "Saved a year, once live", "money"),
    ("running_cost_per_year", "Costs a year to run", "money"),
    ("one_time_cost", "Costs once, to build", "money"),
    ("payback_months", "Paid back after", "months"),
    ("npv_3y", "Worth over three years, NPV", "money"),
    ("return_3y", "Return over three years", "share"),
)


@in_transaction
def begin_page(tx: Tx, ctx: Ctx, idea_id: int) -> int:
    """Begins to lay the case out as a PDF page, which takes some seconds; gives the errand."""
    find_to(tx, ctx, idea_id, "idea.see")
    return errands.add(tx, ctx, ERRAND, 1, {"idea": idea_id})


def carry_on(ctx: Ctx, errand: Errand) -> Piece:
    """Lays the page out and keeps it for whoever asked for it."""
    idea_id = errand.input["idea"]
    page = ctx.db.transact(lambda tx: _page(_take(tx, ctx, idea_id, "PDF"), ctx))
    answer = apart.run("case page", json.dumps(asdict(page)).encode(), str(settings().web_dist / "assets"))
    data = base64.b64decode(answer["pdf"])
    errands.keep_file(ctx, errand.id, f"case-I-{idea_id}.pdf", "application/pdf", data)
    return Piece(1, "the page is ready", whole=True)


def _page(taken: _Taken, ctx: Ctx) -> CasePage:
    inputs, texts = taken.inputs, business_case.as_texts(taken.figures)
    given = inputs.given
    notes = [
        (LABELS[name], str(inputs.sheet[name].value))
        for name in ("risk_note", "strategy_note")
        if name in inputs.sheet and inputs.sheet[name].value
    ]
    return CasePage(
        title=f"{ref(taken.idea.id)} {taken.idea.title}",
        about=[*_about(taken), ("Printed", f"{ctx.today(ctx.actor.zone).isoformat()} by {ctx.actor.name}")],
        currency=given["currency"],
        figures=[(label, _text(texts[name]), unit) for name, label, unit in PAGE_FIGURES],
        years=_years(taken.figures),
        inputs=_page_inputs(taken),
        phases=[
            (str(row["name"]), str(row.get("person_days") or ""), str(row.get("day_rate") or ""))
            for row in _rows(inputs.sheet.get("phases"))
        ],
        lines=[(row["name"], row["a_year"] or "", row["how_reckoned"]) for row in inputs.lines],
        benefits=[
            (row["name"], row["a_year"] or "", f"{row['kind']}. {row.get('how', '')}".strip())
            for row in inputs.benefits
        ],
        notes=notes,
        money_by_month=_money_by_month(taken.figures),
        go_live_month=None if taken.figures.gap_days is None else taken.figures.gap_days * 12 / 365,
        payback_month=None if taken.figures.payback_months is None else float(taken.figures.payback_months),
    )


def _text(value: object) -> str | None:
    return None if value is None else str(value)


def _page_inputs(taken: _Taken) -> list[tuple[str, str, str, str]]:
    names: Sequence[tuple[str, str]] = (
        ("volume_per_year", "items"),
        ("handling_minutes", "min"),
        ("automatable_share", "share"),
        *INPUTS,
    )
    labels = {"volume_per_year": "Volume a year", "automatable_share": "Automatable share", **CASE}
    rows = []
    for name, unit in names:
        source, day, field = taken.inputs.sources.get(name, ("", "", name))
        value = taken.inputs.given.get(name)
        label = labels.get(name) or LABELS.get(field, name)
        said = f"{source}, {day}" if day else source
        rows.append((label, "–" if value is None else str(value), unit, said))
    return rows


def _years(figures: Case) -> list[tuple[str, list[str | None]]]:
    live = figures.live_parts or ()
    saving, running = figures.saving, figures.running

    def row(value: Fraction | None, sign: int = 1) -> list[str | None]:
        return [None if value is None else text_of(sign * part * value, 2) for part in live]

    once: list[str | None] = [None if figures.one_time is None else text_of(-figures.one_time, 2), None, None]
    return [
        ("Saved", row(saving)),
        ("To run", row(running, -1)),
        ("To build", once),
        ("Net from the start", [text_of(one, 2) for one in figures.net or ()]),
        ("Net, full years from go-live", [text_of(one, 2) for one in figures.after_go_live or ()]),
    ]


def _money_by_month(figures: Case) -> list[tuple[float, float]]:
    """Money since the start at month ends, for the picture."""
    saving, running, once, gap = figures.saving, figures.running, figures.one_time, figures.gap_days
    if saving is None or running is None or once is None or gap is None:
        return []
    begin = Fraction(gap * 12, 365)
    points = sorted({*map(Fraction, range(37)), min(begin, Fraction(36))})
    return [
        (float(month), float(-once + max(Fraction(0), month - begin) * (saving - running) / 12))
        for month in points
    ]
