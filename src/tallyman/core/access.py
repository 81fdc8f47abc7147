"""Roles as fixed sets of permissions: subject and what may be done to it (product: people)."""

from __future__ import annotations

from collections.abc import Iterable

PERMISSIONS = {
    "idea.make": "hand in ideas",
    "idea.see": "see all ideas",
    "idea.review": "screen ideas",
    "idea.size": "size ideas and write their cases",
    "idea.agree": "agree to a sizing somebody else made",
    "idea.back": "back ideas",
    "idea.build": "take up backed ideas",
    "package.see": "see packages",
    "package.make": "release packages",
    "robot.see": "see areas, hosts and robots",
    "robot.change": "add and change hosts, robots and seats",
    "routine.see": "see routines",
    "routine.change": "set up and change routines and their triggers",
    "run.see": "see runs",
    "run.start": "start, pause, continue and cancel runs",
    "value.see": "see the tally",
    "value.correct": "correct what a run was counted as",
    "health.see": "see the health of engines, effects and the database",
    "health.mend": "try stuck effects and mails again, or set them aside",
    "rate.see": "see rates",
    "rate.propose": "propose rates",
    "rate.approve": "approve rates",
}
_EVERYONE = {"idea.make"}
_WORKS = {"package.see", "robot.see", "routine.see", "run.see"}
ROLES: dict[str, frozenset[str]] = {
    "proposer": frozenset(_EVERYONE),
    "work owner": frozenset(_EVERYONE | {"idea.see"}),
    "expert": frozenset(_EVERYONE | {"idea.see", "idea.size"}),
    "reviewer": frozenset(_EVERYONE | {"idea.see", "idea.review"}),
    "analyst": frozenset(
        _EVERYONE | {"idea.see", "idea.size", "idea.agree", "value.see", "rate.see", "rate.propose"}
    ),
    "builder": frozenset(
        _EVERYONE | _WORKS | {"idea.see", "idea.build", "package.make", "routine.change"} | {"run.start"}
    ),
    "operator": frozenset(
        _EVERYONE
        | _WORKS
        | {"idea.see", "robot.change", "routine.change", "run.start", "value.see", "rate.see"}
        | {"value.correct", "health.see", "health.mend"}
    ),
    "lead": frozenset(PERMISSIONS) - {"idea.size", "package.make"},
    "backer": frozenset(_EVERYONE | {"idea.see", "value.see", "rate.see"}),
}


def permissions_of(roles: Iterable[str]) -> frozenset[str]:
    """Everything that somebody with these roles may do. Raises KeyError for an unknown role."""
    return frozenset().union(*(ROLES[role] for role in roles)) | _EVERYONE


def roles_with(permission: str) -> list[str]:
    """The roles that hold a permission."""
    return [role for role, held in ROLES.items() if permission in held]
