"""Areas, hosts, robots and seats: what others ask of them."""

from __future__ import annotations

from tallyman.services.robots import (
    applications,
    host_tokens,
    maintenance,
    own,
    passwords,
    readings,
    seat_lots,
    seat_peaks,
    seats_page,
    slots,
)
from tallyman.services.robots.answers import Code
from tallyman.services.robots.answers_of_own import OwnComputerShown, OwnSeats
from tallyman.services.robots.hosts import (
    CODE_LASTS,
    add_host,
    new_code,
    rename,
    revoke,
    set_hours,
    tell_silent,
)
from tallyman.services.robots.page import host_page, robot_page, view
from tallyman.services.robots.retiring import (
    look_at_host,
    look_at_robot,
    retire_host,
    retire_robot,
    stranded_of,
    takers,
    takers_on,
)
from tallyman.services.robots.robots import (
    Given,
    add_robot,
    change_robot,
    check_tags,
    move_robot,
    robot_facts,
)
from tallyman.services.robots.seats import look_at_seats, set_seats
from tallyman.services.robots.seen import (
    areas_allowed,
    check_seen,
    hosts_seen,
    may_at_all,
    robot_for,
    robots_seen,
)
from tallyman.store.records.robots import HostByToken

__all__ = [
    "CODE_LASTS",
    "Code",
    "Given",
    "HostByToken",
    "OwnComputerShown",
    "OwnSeats",
    "add_host",
    "add_robot",
    "applications",
    "areas_allowed",
    "change_robot",
    "check_seen",
    "check_tags",
    "host_page",
    "host_tokens",
    "hosts_seen",
    "look_at_host",
    "look_at_robot",
    "look_at_seats",
    "maintenance",
    "may_at_all",
    "move_robot",
    "new_code",
    "own",
    "passwords",
    "readings",
    "rename",
    "retire_host",
    "retire_robot",
    "revoke",
    "robot_facts",
    "robot_for",
    "robot_page",
    "robots_seen",
    "seat_lots",
    "seat_peaks",
    "seats_page",
    "set_hours",
    "set_seats",
    "slots",
    "stranded_of",
    "takers",
    "takers_on",
    "tell_silent",
    "view",
]
