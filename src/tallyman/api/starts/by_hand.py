"""Starts by hand: with inputs, on a robot, at a time, several times, or a run for each row of a table."""

from __future__ import annotations

from typing import Annotated

from pydantic import AwareDatetime, Field

from tallyman.api.common import In, Number, SignedIn, StartKey
from tallyman.api.routing import Routes
from tallyman.services.answers import ListLine
from tallyman.services.starts import by_hand, groups
from tallyman.services.starts.answers import CancelledRuns, GroupView, Started, StartLook

Table = Annotated[str, Field(max_length=1_000_000)]


class WhereIn(In):
    """On which robot (none: any that may), and when (none: now)."""

    robot_id: int | None = None
    at: AwareDatetime | None = None


class StartIn(WhereIn):
    """The same with inputs (none: those of its set-up), and how often."""

    inputs: dict[str, object] | None = None
    times: int = 1

    def given(self) -> by_hand.Given:
        """The same as the service takes it."""
        return by_hand.Given(self.inputs, self.robot_id, self.at, self.times)


class RowsIn(WhereIn):
    """The same with a table: a run for each row."""

    text: Table


class RowsLookIn(In):
    """A table of inputs to be looked at."""

    text: Table


router = Routes(tags=["runs"])


@router.post("/routines/{number}/starts/look")
def look(number: Number, given: StartIn, ctx: SignedIn) -> StartLook:
    """What such a start would need this moment."""
    return by_hand.look(ctx, number, given.given())


@router.post("/routines/{number}/starts", status_code=201)
def start(number: Number, given: StartIn, ctx: SignedIn, key: StartKey) -> Started:
    """Starts a routine with these inputs, there and then, as often as is said."""
    return by_hand.start(ctx, number, given.given(), key)


@router.post("/routines/{number}/starts/rows/look")
def look_at_rows(number: Number, given: RowsLookIn, ctx: SignedIn) -> list[ListLine]:
    """What each row of a table would start, or why it would not."""
    return by_hand.look_at_rows(ctx, number, given.text)


@router.post("/routines/{number}/starts/rows", status_code=201)
def start_rows(number: Number, given: RowsIn, ctx: SignedIn, key: StartKey) -> Started:
    """Starts a run for each row of a table that fits."""
    return by_hand.start_rows(ctx, number, given.text, by_hand.Given(None, given.robot_id, given.at), key)


@router.get("/run-groups/{number}")
def group(number: Number, ctx: SignedIn) -> GroupView:
    """Runs that were started together."""
    return groups.view(ctx, number)


@router.post("/run-groups/{number}/cancel")
def cancel(number: Number, ctx: SignedIn) -> CancelledRuns:
    """Cancels those of them that nothing began yet."""
    return CancelledRuns(groups.cancel(ctx, number))
