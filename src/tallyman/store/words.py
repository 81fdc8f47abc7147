"""Columns that hold one of some words: which words, by table and column.

A test holds them against the CHECK constraints of the schema, both ways.
"""

from __future__ import annotations

from dataclasses import dataclass
from importlib import import_module
from typing import get_args


@dataclass(frozen=True)
class Words:
    """The words of a column: the module and the name of their type."""

    module: str
    name: str

    def values(self) -> tuple[str, ...]:
        """The words themselves."""
        return get_args(getattr(import_module(self.module), self.name))


def _of(room: str, **columns: str) -> dict[str, Words]:
    return {
        column.replace("__", "."): Words(f"tallyman.core.{room}.words", name)
        for column, name in columns.items()
    }


WORDS: dict[str, Words] = {
    **_of(
        "ideas",
        idea__stage="Stage",
        idea__building="Building",
        idea__route="Route",
        idea__source="Source",
        idea_stage__stage="Stage",
        idea_stage__from_stage="Stage",
        idea_answer__state="AnswerState",
        idea_match__verdict="Verdict",
        idea_line__state="LineState",
        idea_line__choice="LineChoice",
        idea_file__kind="FileKind",
        file_view__state="ViewState",
    ),
    **_of(
        "cases",
        idea_measured__phase="MeasuredPhase",
        idea__sizing_state="SizingState",
        sizing_request__state="AskedState",
    ),
    **_of("rates", rate__state="RateState"),
    **_of(
        "workshop",
        package_release__says="Said",
        package_release__origin="Origin",
        package_release__seen_by="SeenBy",
        rollout__how="RolloutHow",
        rollout__state="RolloutState",
        rollout_routine__state="PartState",
    ),
    **_of(
        "tally",
        tally_entry__kind="EntryKind",
        idea_count__source="CountSource",
        tally_month__state="MonthState",
    ),
    **_of(
        "runs",
        run__state="RunState",
        run__outcome="Outcome",
        run_segment__ended_as="RunState",
        slot__kind="SlotKind",
        run__attended="Attended",
        routine__attended="Attended",
        seat_lot__kind="SeatKind",
        seat_given__kind="SeatOfPeople",
        seat_peak__kind="SeatKind",
    ),
    **_of(
        "starts",
        start_trigger__kind="TriggerKind",
        start_trigger__on_closed="OnClosed",
        start_trigger__missed="Missed",
        trigger_start__what="Became",
        start_call__outcome="CallOutcome",
        run_call_back__state="CallBackState",
    ),
    **_of("selfservice", service_page__state="PageState", service_word__kind="WordKind"),
    **_of("people", person__state="PersonState", link__kind="LinkKind"),
    **_of("access", access_request__state="RequestState"),
    **_of(
        "house",
        business_system__access="SystemAccess",
        business_system__test_system="TestSystem",
        business_system__state="SystemState",
    ),
    **_of("upkeep", errand__state="ErrandState"),
    **_of("workshop", counting_point__basis="Basis"),
}
