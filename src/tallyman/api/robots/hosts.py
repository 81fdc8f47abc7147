"""Areas, hosts and robots."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from fastapi import Query
from pydantic import Field

from tallyman.api.common import AccountName, Done, In, Made, Number, SignedIn, Text, VersionSeen
from tallyman.api.routing import Routes
from tallyman.core.runs import SeatKind
from tallyman.services import robots
from tallyman.services.answers import Brought, ListLine, Retiring
from tallyman.services.house import areas
from tallyman.services.robots import many
from tallyman.services.robots.answers import (
    Code,
    HostPage,
    MaintenanceLook,
    RobotPage,
    Robots,
    SeatsLook,
)

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
    """How many seats of a kind a host has."""

    seats: Annotated[int, Field(ge=-1000, le=1000)]
    kind: SeatKind = "unattended"


class RobotIn(In):
    """A robot as it is set up."""

    name: Name
    host_id: Number
    tags: Annotated[list[Name], Field(max_length=30)] = []
    area_ids: Annotated[list[Number], Field(max_length=100)] = []
    account: Name = ""

    def wanted(self) -> robots.Given:
        """The same as the use case takes it."""
        return robots.Given(self.name, self.host_id, self.tags, self.area_ids, self.account)


class RobotsListIn(In):
    """A table of robots: CSV text, or as it is copied out of a spreadsheet."""

    text: Annotated[str, Field(max_length=1_000_000)]


class MaintenanceIn(In):
    """What is done to a host, and until when: a time with its zone, or one on the wall of whoever says it;
    without one, until it is ended."""

    until: datetime | None = None
    why: Text


class PasswordIn(In):
    """A password, which nobody can read from then on."""

    value: Annotated[str, Field(max_length=1000)]


class Renamed(In):
    """Another name."""

    name: Name


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


@router.get("/hosts/{number}")
def host_page(number: Number, ctx: SignedIn) -> HostPage:
    """A host with its robots and its last week."""
    return robots.host_page(ctx, number)


@router.get("/robots/{number}")
def robot_page(number: Number, ctx: SignedIn) -> RobotPage:
    """A robot, with every point of bringing it to work."""
    return robots.robot_page(ctx, number)


@router.delete("/hosts/{number}/token")
def revoke(number: Number, ctx: SignedIn) -> Done:
    """The host's runner is known no more."""
    robots.revoke(ctx, number)
    return Done()


@router.put("/hosts/{number}/accounts/{account}/password")
def put_password(number: Number, account: AccountName, given: PasswordIn, ctx: SignedIn) -> Done:
    """Keeps the password of a run-as account, and has the host sign in with it."""
    robots.passwords.put(ctx, number, account, given.value)
    return Done()


@router.post("/hosts/{number}/accounts/{account}/try")
def try_password(number: Number, account: AccountName, ctx: SignedIn) -> Done:
    """Has the host sign in with the password once more."""
    robots.passwords.try_again(ctx, number, account)
    return Done()


@router.post("/hosts/{number}/code", status_code=201)
def new_code(number: Number, ctx: SignedIn) -> Code:
    """A new one-time code for a host."""
    return robots.new_code(ctx, number)


@router.get("/hosts/{number}/seats")
def look_at_seats(
    number: Number,
    ctx: SignedIn,
    seats: Annotated[int, Query(ge=0, le=1000)],
    kind: SeatKind = "unattended",
) -> SeatsLook:
    """What another number of seats would do."""
    return robots.look_at_seats(ctx, number, seats, kind)


@router.put("/hosts/{number}/seats")
def set_seats(number: Number, given: Seats, ctx: SignedIn) -> Done:
    """Gives a host more or fewer seats."""
    robots.set_seats(ctx, number, given.seats, given.kind)
    return Done()


@router.put("/hosts/{number}/hours")
def set_hours(number: Number, given: Hours, ctx: SignedIn) -> Done:
    """Sets the hours within which a host works."""
    robots.set_hours(ctx, number, given.start, given.end, given.zone)
    return Done()


@router.put("/hosts/{number}/name")
def rename(number: Number, given: Renamed, ctx: SignedIn) -> Done:
    """Gives a host another name."""
    robots.rename(ctx, number, given.name)
    return Done()


@router.get("/hosts/{number}/maintenance")
def look_at_maintenance(number: Number, ctx: SignedIn) -> MaintenanceLook:
    """What maintenance of a host would mean."""
    return robots.maintenance.look(ctx, number)


@router.put("/hosts/{number}/maintenance")
def begin_maintenance(number: Number, given: MaintenanceIn, ctx: SignedIn) -> Done:
    """From now on the host takes nothing new."""
    robots.maintenance.begin(ctx, number, given.until, given.why)
    return Done()


@router.delete("/hosts/{number}/maintenance")
def end_maintenance(number: Number, ctx: SignedIn) -> Done:
    """The host takes work again."""
    robots.maintenance.end(ctx, number)
    return Done()


@router.get("/hosts/{number}/retiring")
def look_at_host(number: Number, ctx: SignedIn) -> Retiring:
    """What hangs on a host, before it is retired."""
    return robots.look_at_host(ctx, number)


@router.post("/hosts/{number}/retire")
def retire_host(number: Number, ctx: SignedIn) -> Done:
    """Takes a host out of work with its robots and seats."""
    robots.retire_host(ctx, number)
    return Done()


@router.get("/robots/{number}/retiring")
def look_at_robot(number: Number, ctx: SignedIn) -> Retiring:
    """What hangs on a robot, before it is retired."""
    return robots.look_at_robot(ctx, number)


@router.post("/robots/{number}/retire")
def retire_robot(number: Number, ctx: SignedIn) -> Done:
    """Takes a robot out of work."""
    robots.retire_robot(ctx, number)
    return Done()


@router.post("/robots/list/look")
def look_at_list(given: RobotsListIn, ctx: SignedIn) -> list[ListLine]:
    """What each line of a table of robots would do; nothing is kept."""
    return many.look(ctx, given.text.encode())


@router.post("/robots/list")
def bring_list(given: RobotsListIn, ctx: SignedIn) -> Brought:
    """Adds the robots of a table."""
    return many.bring(ctx, given.text.encode())


@router.post("/robots", status_code=201)
def add_robot(given: RobotIn, ctx: SignedIn) -> Made:
    """Adds a robot."""
    return Made(id=robots.add_robot(ctx, given.wanted()))


@router.put("/robots/{number}")
def change_robot(number: Number, given: RobotIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """Changes a robot: its name, host, tags, account and areas."""
    robots.change_robot(ctx, number, given.wanted(), version)
    return Done()
