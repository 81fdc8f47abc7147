"""Areas, hosts and robots."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import Field

from tallyman.api.common import AreaName, Done, In, Made, Model, Number, SignedIn, VersionSeen
from tallyman.services import robots
from tallyman.services.house import areas

router = APIRouter(tags=["robots"])
Name = Annotated[str, Field(max_length=200)]


class Area(Model):
    """An area and the one above it."""

    id: int
    name: str
    parent_id: int | None
    above: str | None


class Host(Model):
    """A host: when it was heard, under which account, and its seats."""

    id: int
    name: str
    heard_at: datetime | None
    connected_at: datetime | None
    connected: bool
    silent: bool
    code_open: bool
    account: str | None
    facts: dict[str, Any] | None
    clock_ahead_ms: int | None
    hours_from: str | None
    hours_to: str | None
    hours_zone: str | None
    seats: int
    seats_used: int
    leaving_at: datetime | None
    used_at: datetime | None
    used_from: str
    token_at: datetime | None
    bound: bool


class Robot(Model):
    """A robot on its host, with tags and areas."""

    id: int
    name: str
    host_id: int
    host: str
    runner_account: str | None
    silent: bool
    tags: list[str]
    areas: list[AreaName]
    busy_with: int | None
    account: str
    account_fault: str
    as_runner: bool
    version: int


class Robots(Model):
    """Areas, hosts and robots."""

    areas: list[Area]
    hosts: list[Host]
    robots: list[Robot]
    now: datetime


class NewArea(In):
    """A new area."""

    name: Name
    parent_id: Number | None = None


class NewHost(In):
    """A new host with seats."""

    name: Name
    seats: Annotated[int, Field(ge=-1000, le=1000)] = 1


class Code(Model):
    """The one-time code of a host; it is shown only once."""

    id: int
    code: str
    until: datetime


class Seats(In):
    """How many seats a host has."""

    seats: Annotated[int, Field(ge=-1000, le=1000)]


class NewRobot(In):
    """A new robot."""

    name: Name
    host_id: Number
    tags: Annotated[list[Name], Field(max_length=30)] = []
    area_ids: Annotated[list[Number], Field(max_length=100)] = []
    account: Name = ""


class ChangeRobot(In):
    """Tags and areas of a robot."""

    tags: Annotated[list[Name], Field(max_length=30)]
    area_ids: Annotated[list[Number], Field(max_length=100)]
    account: Name = ""


class Hours(In):
    """The hours within which a host works, as wall times; none of both means always."""

    start: Annotated[str, Field(max_length=10)] | None = None
    end: Annotated[str, Field(max_length=10)] | None = None
    zone: Annotated[str, Field(max_length=60)]


@router.get("/robots")
def view(ctx: SignedIn) -> Robots:
    """Areas, hosts and robots."""
    return Robots.model_validate(robots.view(ctx))


@router.post("/areas", status_code=201)
def add_area(given: NewArea, ctx: SignedIn) -> Made:
    """Adds an area."""
    return Made(id=areas.add_area(ctx, given.name, given.parent_id))


@router.post("/hosts", status_code=201)
def add_host(given: NewHost, ctx: SignedIn) -> Code:
    """Adds a host and gives its one-time code."""
    return Code.model_validate(robots.add_host(ctx, given.name, given.seats))


@router.post("/hosts/{number}/code", status_code=201)
def new_code(number: Number, ctx: SignedIn) -> Code:
    """A new one-time code for a host."""
    return Code.model_validate(robots.new_code(ctx, number))


@router.put("/hosts/{number}/seats")
def set_seats(number: Number, given: Seats, ctx: SignedIn) -> Done:
    """Gives a host more or fewer seats."""
    robots.set_seats(ctx, number, given.seats)
    return Done()


@router.put("/hosts/{number}/hours")
def set_hours(number: Number, given: Hours, ctx: SignedIn) -> Done:
    """Sets the hours within which a host works."""
    robots.set_hours(ctx, number, given.start, given.end, given.zone)
    return Done()


@router.post("/robots", status_code=201)
def add_robot(given: NewRobot, ctx: SignedIn) -> Made:
    """Adds a robot."""
    robot_id = robots.add_robot(ctx, given.name, given.host_id, given.tags, given.area_ids, given.account)
    return Made(id=robot_id)


@router.put("/robots/{number}")
def change_robot(number: Number, given: ChangeRobot, version: VersionSeen, ctx: SignedIn) -> Done:
    """Changes tags and areas of a robot."""
    robots.change_robot(ctx, number, given.tags, given.area_ids, version, given.account)
    return Done()
