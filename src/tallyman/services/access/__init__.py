"""Access: roles, who holds them where, groups, requests for access, and why somebody may or may not."""

from __future__ import annotations

from tallyman.services.access import requests
from tallyman.services.access.grants import give, give_in, holders, keep_a_giver, take_away
from tallyman.services.access.groups import add_group, change_group, groups, one_group, retire_group
from tallyman.services.access.requests import ask, decide, mine, waiting
from tallyman.services.access.roles import RoleGiven, add_role, change_role, find_role, listed, retire_role
from tallyman.services.access.why import givers, of_person, why

__all__ = [
    "RoleGiven",
    "add_group",
    "add_role",
    "ask",
    "change_group",
    "change_role",
    "decide",
    "find_role",
    "give",
    "give_in",
    "givers",
    "groups",
    "holders",
    "keep_a_giver",
    "listed",
    "mine",
    "of_person",
    "one_group",
    "requests",
    "retire_group",
    "retire_role",
    "take_away",
    "waiting",
    "why",
]
