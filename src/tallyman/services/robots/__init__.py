"""Areas, hosts, robots and seats: what others ask of them."""

from __future__ import annotations

from tallyman.services.robots import host_tokens, slots
from tallyman.services.robots.hosts import (
    CODE_LASTS,
    add_host,
    add_robot,
    change_robot,
    check_seen,
    check_tags,
    hosts_seen,
    look_at_seats,
    new_code,
    robot_facts,
    robots_seen,
    set_hours,
    set_seats,
    tell_silent,
    view,
)
from tallyman.store.records.robots import HostByToken

__all__ = [
    "CODE_LASTS",
    "HostByToken",
    "add_host",
    "add_robot",
    "change_robot",
    "check_seen",
    "check_tags",
    "host_tokens",
    "hosts_seen",
    "look_at_seats",
    "new_code",
    "robot_facts",
    "robots_seen",
    "set_hours",
    "set_seats",
    "slots",
    "tell_silent",
    "view",
]
