"""Access: roles, who holds them where, groups, requests for access, and why somebody may or may not."""

from tallyman.services.access.asking import ask, decide, mine, waiting
from tallyman.services.access.giving import give, holders, take_away
from tallyman.services.access.groups import add_group, change_group, groups, one_group, retire_group
from tallyman.services.access.roles import RoleGiven, add_role, change_role, listed, retire_role
from tallyman.services.access.why import givers, of_person, why

__all__ = [
    "RoleGiven",
    "add_group",
    "add_role",
    "ask",
    "change_group",
    "change_role",
    "decide",
    "give",
    "givers",
    "groups",
    "holders",
    "listed",
    "mine",
    "of_person",
    "one_group",
    "retire_group",
    "retire_role",
    "take_away",
    "waiting",
    "why",
]
