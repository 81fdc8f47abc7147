"""What starts a routine: triggers on the clock, and their history."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Query, Response
from pydantic import Field

from tallyman.api.common import (
    MOST,
    Done,
    In,
    Made,
    Number,
    SignedIn,
    VersionSeen,
)
from tallyman.api.routing import Routes
from tallyman.services.starts import triggers
from tallyman.services.starts.answers import Preview, TriggerHistory

router = Routes(tags=["routines"])


OnClosed = Literal["run", "skip", "next", "previous"]


class Window(In):
    """Wall times within which starts are allowed: from ≤ t < to."""

    start: Annotated[str, Field(max_length=10, alias="from", examples=["08:00"])]
    end: Annotated[str, Field(max_length=10, alias="to", examples=["18:00"])]


class FormIn(In):
    """When something starts: a code, an interval, or once; one of the three."""

    expr: Annotated[str, Field(max_length=400, examples=["30 7 * * 1-5"])] | None = None
    dialect: Annotated[str, Field(max_length=20)] | None = None
    years: Annotated[str, Field(max_length=100)] | None = None
    weeks: Annotated[int, Field(ge=0, le=1000)] | None = None
    weeks_from: Annotated[str, Field(max_length=20)] | None = None
    every_minutes: Annotated[int, Field(ge=0, le=MOST)] | None = None
    anchor: Annotated[str, Field(max_length=40)] | None = None
    once: Annotated[str, Field(max_length=40)] | None = None


class TriggerIn(In):
    """A start on the clock: its form, zone, closed days, window, and what becomes of missed starts."""

    form: FormIn
    zone: Annotated[str, Field(max_length=60, examples=["Europe/Lisbon"])]
    on_closed: OnClosed = "run"
    window: Window | None = None
    missed: Annotated[str, Field(max_length=10)] = "once"
    missed_hours: Annotated[int, Field(ge=-1, le=MOST)] = 24
    latest_minutes: Annotated[int, Field(ge=-1, le=MOST)] | None = None

    def given(self) -> triggers.Given:
        """As the services take it."""
        return triggers.Given(
            {name: value for name, value in self.form.model_dump().items() if value not in (None, "")},
            self.zone,
            self.on_closed,
            self.window.model_dump(by_alias=True) if self.window else None,
            self.missed,
            self.missed_hours,
            self.latest_minutes,
        )


@router.post("/clock/preview")
def preview(given: TriggerIn, ctx: SignedIn, routine: Number | None = None) -> Preview:
    """Reads a form before it is kept; for a routine by the closed days of its area."""
    return triggers.preview(ctx, given.given(), routine)


@router.post("/routines/{number}/triggers", status_code=201)
def add_trigger(number: Number, given: TriggerIn, ctx: SignedIn) -> Made:
    """Starts a routine on the clock."""
    return Made(id=triggers.add(ctx, number, given.given()))


@router.put("/routines/{number}/triggers/{trigger}")
def change_trigger(
    number: Number, trigger: Number, given: TriggerIn, version: VersionSeen, ctx: SignedIn
) -> Done:
    """Changes a trigger; nominal times it has handled are never started again."""
    triggers.change(ctx, number, trigger, given.given(), version)
    return Done()


@router.delete("/routines/{number}/triggers/{trigger}")
def end_trigger(number: Number, trigger: Number, ctx: SignedIn) -> Done:
    """Ends a trigger."""
    triggers.retire(ctx, number, trigger)
    return Done()


@router.get("/routines/{number}/triggers/{trigger}/history")
def trigger_history(
    number: Number,
    trigger: Number,
    ctx: SignedIn,
    before: Annotated[int | None, Query(ge=1, le=MOST)] = None,
) -> TriggerHistory:
    """What a trigger started, merged, skipped or missed, and why."""
    return triggers.history(ctx, number, trigger, before)


@router.get("/routines/{number}/starts.ics", response_class=Response)
def as_calendar(number: Number, ctx: SignedIn) -> Response:
    """The coming starts of a routine as an iCalendar file."""
    heads = {"Content-Disposition": f'attachment; filename="routine-{number}.ics"'}
    return Response(triggers.as_calendar(ctx, number), media_type="text/calendar", headers=heads)
