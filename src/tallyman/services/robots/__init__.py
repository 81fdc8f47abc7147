"""Areas, hosts, robots and seats: what others ask of them."""

from __future__ import annotations

from tallyman.services.robots import host_tokens, maintenance, slots
from tallyman.services.robots.hosts import (
    CODE_LASTS,
    add_host,
    new_code,
    rename,
    set_hours,
    tell_silent,
    view,
)
from tallyman.services.robots.retiring import look_at_host, look_at_robot, retire_host, retire_robot
from tallyman.services.robots.robots import Given, add_robot, change_robot, check_tags, robot_facts
from tallyman.services.robots.seats import look_at_seats, set_seats
from tallyman.services.robots.seen import check_seen, hosts_seen, robots_seen
from tallyman.store.records.robots import HostByToken

__all__ = [
    "CODE_LASTS",
    "Given",
    "HostByToken",
    "add_host",
    "add_robot",
    "change_robot",
    "check_seen",
    "check_tags",
    "host_tokens",
    "hosts_seen",
    "look_at_host",
    "look_at_robot",
    "look_at_seats",
    "maintenance",
    "new_code",
    "rename",
    "retire_host",
    "retire_robot",
    "robot_facts",
    "robots_seen",
    "set_hours",
    "set_seats",
    "slots",
    "tell_silent",
    "view",
]
