"""What the entrance offers, and the first person of a new installation."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tallyman.api.common import (
    Anyone,
    Done,
    In,
)
from tallyman.api.routing import Routes
from tallyman.services import people
from tallyman.services.today import EntranceOut, house_rules

Short = Annotated[str, Field(max_length=400)]
Password = Annotated[str, Field(max_length=2000)]

router = Routes(tags=["house"])


class FirstIn(In):
    """The first person of a new installation, by the code that was printed at its start."""

    code: Annotated[str, Field(max_length=60)]
    name: Short
    email: Short
    password: Annotated[str, Field(max_length=200)]
    zone: Annotated[str, Field(max_length=60)]
    company: Short
    currency: Annotated[str, Field(max_length=10)]


@router.get("/entrance")
def entrance(ctx: Anyone) -> EntranceOut:
    """What the sign-in page offers."""
    return house_rules.entrance(ctx)


@router.post("/first")
def first(given: FirstIn, ctx: Anyone) -> Done:
    """Makes the first person of a new installation its lead."""
    people.first_run.come(ctx, people.first_run.Given(**given.model_dump()))
    return Done()
