"""My computer: connecting one's own computer, and answering the runs that ask for it."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tallyman.api.common import BySelf, In, Number
from tallyman.api.routing import Routes
from tallyman.core.runs import Answer
from tallyman.services.robots import Code, own
from tallyman.services.runs import attended, my_computer
from tallyman.services.runs.answers_of_own import Answered, MyComputer

router = Routes(prefix="/my-computer", tags=["my computer"])


class ComputerIn(In):
    """What one's own computer is called; of one that is known already, nothing."""

    name: Annotated[str, Field(max_length=200)] = ""


class ComputerAnswer(In):
    """When a run may have one's computer."""

    answer: Answer


class Stopped(In):
    """How the run stands now."""

    state: str


@router.get("")
def view(ctx: BySelf) -> MyComputer:
    """One's own computer, with the runs that are meant for one."""
    return my_computer.view(ctx)


@router.post("", status_code=201)
def connect(given: ComputerIn, ctx: BySelf) -> Code:
    """Connects one's own computer: gives the one-time code, which is shown only now."""
    return own.connect(ctx, given.name)


@router.post("/runs/{number}/answer")
def answer(number: Number, given: ComputerAnswer, ctx: BySelf) -> Answered:
    """Says when a run may begin: now, in ten minutes, or not today."""
    return Answered(at=attended.answer(ctx, number, given.answer))


@router.post("/runs/{number}/stop")
def stop(number: Number, ctx: BySelf) -> Stopped:
    """Stops a run that works, or would work, on one's own computer."""
    return Stopped(state=attended.stop(ctx, number))
