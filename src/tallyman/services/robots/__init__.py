"""Areas, hosts, robots and seats: what others ask of them."""

from __future__ import annotations

from tallyman.services.robots.machines import (
    CODE_LASTS,
    add_area,
    add_host,
    add_robot,
    areas_seen,
    change_robot,
    check_seen,
    check_tags,
    hosts_seen,
    new_code,
    robot_facts,
    set_hours,
    set_seats,
    tell_silent,
    view,
)

__all__ = [
    "CODE_LASTS",
    "add_area",
    "add_host",
    "add_robot",
    "areas_seen",
    "change_robot",
    "check_seen",
    "check_tags",
    "hosts_seen",
    "new_code",
    "robot_facts",
    "set_hours",
    "set_seats",
    "tell_silent",
    "view",
]
