"""Figures while somebody types: reckoned from what stands in the fields, with nothing kept."""

from __future__ import annotations

from collections.abc import Mapping

from tallyman.core.cases.facts import check_fact
from tallyman.core.known import Known
from tallyman.errors import Fault, InputFaults
from tallyman.services.cases import ranges
from tallyman.services.cases import sizing as sizing_service
from tallyman.services.cases.answers import FaultFound, FiguresPreview
from tallyman.services.cases.business_case import figures_of, figures_out
from tallyman.services.cases.inputs import case_input
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.ideas import find_to
from tallyman.store.db import Tx


@in_transaction
def preview(tx: Tx, ctx: Ctx, idea_id: int, values: Mapping[str, object]) -> FiguresPreview:
    """Sizing and case as they would be with the facts typed so far.

    Facts that cannot be kept are named as faults and left out; nothing is written.
    """
    ctx.require("sizing.make")
    typed: dict[str, Known] = {}
    faults: list[Fault] = []
    for field, value in values.items():
        if value in (None, ""):
            continue
        try:
            typed[field] = Known(check_fact(field, value), "as typed", "", True)
        except InputFaults as error:
            faults += error.faults
    idea = find_to(tx, ctx, idea_id, "sizing.make")
    inputs = case_input(tx, ctx, idea, typed=typed)
    _, figures = figures_of(inputs)
    return FiguresPreview(
        faults=[FaultFound(one.field, one.value, one.message) for one in faults],
        results=sizing_service.results_of(inputs.sized),
        ranges=ranges.of(tx, ctx, idea, inputs),
        figures=figures_out(figures),
    )
