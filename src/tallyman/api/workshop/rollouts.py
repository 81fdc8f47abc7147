"""Roll-outs: a release takes another's place in one or many routines, and routines over time."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tallyman.api.common import Done, In, Made, Number, SignedIn, Text
from tallyman.api.routing import Routes
from tallyman.core.workshop.words import RolloutHow
from tallyman.services.workshop import over_time, rollouts
from tallyman.services.workshop.answers import CouldRollOut, RollingOut, RolloutRow, RoutineOverTime

router = Routes(tags=["roll-outs"])


class ChosenRoutineIn(In):
    """A routine that is to take the release; with other inputs than it has, or null for those."""

    routine_id: Number
    inputs: dict[str, object] | None = None

    def chosen(self) -> rollouts.Chosen:
        """The same as the service takes it."""
        return rollouts.Chosen(self.routine_id, self.inputs)


class ChosenRoutinesIn(In):
    """Routines for which other inputs are looked at."""

    routines: Annotated[list[ChosenRoutineIn], Field(max_length=1000)] = []


class RollOutIn(ChosenRoutinesIn):
    """A roll-out: in which routines, how and why; in stages also what goes first, and how long."""

    how: RolloutHow = "at once"
    why: Text = ""
    first_robot: Number | None = None
    first_area: Number | None = None
    good_wanted: Annotated[int, Field(ge=-1000, le=100000)] = 3
    bad_allowed: Annotated[int, Field(ge=-1000, le=100000)] = 0


@router.post("/releases/{number}/rollouts/look")
def look(number: Number, given: ChosenRoutinesIn, ctx: SignedIn) -> CouldRollOut:
    """Which routines could take a release, each with what differs, its pre-check, and what is against it."""
    return rollouts.look(ctx, number, [one.chosen() for one in given.routines])


@router.post("/releases/{number}/rollouts", status_code=201)
def roll_out(number: Number, given: RollOutIn, ctx: SignedIn) -> Made:
    """A release takes another's place in some routines: at once, on trial, or in stages."""
    chosen = [one.chosen() for one in given.routines]
    apart = given.model_dump(exclude={"routines"})
    return Made(id=rollouts.roll_out(ctx, number, rollouts.Given(chosen, **apart)))


@router.get("/rollouts")
def listed(ctx: SignedIn) -> list[RolloutRow]:
    """The last 100 roll-outs, those under way first."""
    return rollouts.listed(ctx)


@router.get("/rollouts/{number}")
def one(number: Number, ctx: SignedIn) -> RollingOut:
    """A roll-out: which routines it changes, how the first do, and what became of each."""
    return rollouts.view(ctx, number)


@router.post("/rollouts/{number}/go-on")
def go_on(number: Number, ctx: SignedIn) -> Done:
    """The rest takes the release now."""
    rollouts.go_on(ctx, number)
    return Done()


@router.post("/rollouts/{number}/back")
def back(number: Number, ctx: SignedIn) -> Done:
    """Every routine takes the release that it had before."""
    rollouts.back(ctx, number)
    return Done()


@router.get("/routines/{number}/over-time")
def of_routine(number: Number, ctx: SignedIn) -> RoutineOverTime:
    """How a routine's runs ended day by day, and which release it had since when."""
    return over_time.of_routine(ctx, number)
