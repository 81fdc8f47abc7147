"""Today: what waits for me, what went wrong, what comes next."""

from __future__ import annotations

from datetime import date, datetime

from fastapi import APIRouter

from tallyman.api.common import BySelf, Model
from tallyman.api.people import Notification
from tallyman.services.today import desk

router = APIRouter(tags=["today"])


class Waits(Model):
    """Something that waits for me."""

    kind: str
    title: str
    words: str
    link: str
    due: date | None
    late: int


class Wrong(Model):
    """Something that went wrong."""

    state: str
    title: str
    words: str
    link: str
    at: datetime | None


class Coming(Model):
    """A start that comes next."""

    id: int
    routine_id: int
    routine: str
    next_at: datetime


class Mine(Model):
    """An idea of my own."""

    id: int
    title: str
    stage: str
    building: str | None
    due_on: date | None
    stage_since: datetime


class FirstStep(Model):
    """A first step of a new installation."""

    title: str
    words: str
    fact: str
    done: bool
    link: str


class Today(Model):
    """The start page."""

    waits: list[Waits]
    wrong: list[Wrong]
    sees_runs: bool
    coming: list[Coming]
    mine: list[Mine]
    told: list[Notification]
    steps: list[FirstStep]
    now: datetime


@router.get("/today")
def view(ctx: BySelf) -> Today:
    """The start page of the signed-in person."""
    return Today.model_validate(desk.view(ctx))
