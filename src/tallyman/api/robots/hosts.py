"""Areas, hosts and robots."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import Field

from tallyman.api.common import Done, In, Made, Number, SignedIn, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services import robots
from tallyman.services.house import areas
from tallyman.services.robots.answers import Code, Robots, SeatsLook

router = Routes(tags=["robots"])
Name = Annotated[str, Field(max_length=200)]


class NewArea(In):
    """A new area."""

    name: Name
    parent_id: Number | None = None


class NewHost(In):
    """A new host with seats."""

    name: Name
    seats: Annotated[int, Field(ge=-1000, le=1000)] = 1


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
    return robots.view(ctx)


@router.post("/areas", status_code=201)
def add_area(given: NewArea, ctx: SignedIn) -> Made:
    """Adds an area."""
    return Made(id=areas.add_area(ctx, given.name, given.parent_id))


@router.post("/hosts", status_code=201)
def add_host(given: NewHost, ctx: SignedIn) -> Code:
    """Adds a host and gives its one-time code."""
    return robots.add_host(ctx, given.name, given.seats)


@router.post("/hosts/{number}/code", status_code=201)
def new_code(number: Number, ctx: SignedIn) -> Code:
    """A new one-time code for a host."""
    return robots.new_code(ctx, number)


@router.get("/hosts/{number}/seats")
def look_at_seats(number: Number, ctx: SignedIn, seats: Annotated[int, Query(ge=0, le=1000)]) -> SeatsLook:
    """What another number of seats would do."""
    return robots.look_at_seats(ctx, number, seats)


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
