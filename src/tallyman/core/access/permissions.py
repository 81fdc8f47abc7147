"""Who may do what, where: permissions (subject and act), roles, and what a person's roles reach.

A permission is a subject and one of five acts, `routine.change`. A role is a set of them, held for the
whole company or for one area and all below it, by a person or a group. What is held for an area reaches
only the subjects that live in areas; the others ask for the whole company.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

ACTS = ("see", "make", "change", "decide", "retire")


@dataclass(frozen=True)
class Subject:
    """What permissions are about. `by_area`: whether its objects live in areas; `acts`: act to words."""

    title: str
    by_area: bool
    acts: Mapping[str, str]


SUBJECTS: dict[str, Subject] = {
    "idea": Subject(
        "Ideas",
        True,
        {
            "see": "see the ideas that were handed in",
            "make": "hand in ideas",
            "change": "say where an idea belongs and who helps with it",
            "decide": "screen ideas",
        },
    ),
    "entry": Subject(
        "Ideas entered for others",
        True,
        {"make": "enter ideas past the first review, register what runs already and bring in lists"},
    ),
    "sizing": Subject(
        "Sizings and cases",
        True,
        {
            "make": "size ideas and write their cases",
            "decide": "agree to a sizing somebody else made",
        },
    ),
    "system": Subject(
        "Systems",
        False,
        {
            "see": "see the systems, what uses each, and what breaks if one changes",
            "change": "enter, change and retire systems, and bring in lists of them",
        },
    ),
    "case": Subject("Backing", True, {"decide": "back ideas"}),
    "build": Subject("Building", True, {"make": "take up backed ideas"}),
    "package": Subject(
        "Packages",
        False,
        {
            "see": "see packages",
            "make": "release packages",
            "decide": "approve releases of others, where an area asks for that",
            "retire": "withdraw releases and bring them back",
        },
    ),
    "routine": Subject(
        "Routines",
        True,
        {
            "see": "see routines",
            "make": "set up routines",
            "change": "change routines and their triggers",
            "decide": "let routines go live",
            "retire": "retire routines",
        },
    ),
    "run": Subject(
        "Runs",
        True,
        {"see": "see runs", "make": "start runs", "change": "pause, continue and cancel runs"},
    ),
    "robot": Subject(
        "Hosts and robots",
        True,
        {
            "see": "see hosts and robots",
            "make": "add hosts and robots",
            "change": "change hosts, robots and seats",
            "retire": "retire hosts and robots",
        },
    ),
    "area": Subject(
        "Areas",
        True,
        {
            "see": "see areas",
            "make": "add areas",
            "change": "rename and move areas and set their closed days",
        },
    ),
    "value": Subject(
        "The tally",
        True,
        {
            "see": "see the tally",
            "change": "correct what a run was counted as",
            "decide": "close and sign a month",
        },
    ),
    "rate": Subject(
        "Rates", True, {"see": "see rates", "make": "propose rates", "decide": "approve or refuse rates"}
    ),
    "person": Subject(
        "People",
        False,
        {
            "see": "see everybody's roles and groups",
            "make": "invite people",
            "change": "change people, groups and who is in them",
            "retire": "deactivate people",
        },
    ),
    "role": Subject(
        "Roles",
        True,
        {
            "see": "see roles and who holds them",
            "make": "make roles by copying",
            "change": "change roles",
            "decide": "give roles and take them away",
            "retire": "take roles out of use",
        },
    ),
    "access": Subject(
        "Access of others",
        False,
        {"see": "see the application as somebody else does, and why they may do what"},
    ),
    "secret": Subject(
        "Secrets",
        True,
        {
            "see": "see which secrets there are and who used them, never their values",
            "make": "put secrets into the safe",
            "change": "put in another value for a secret",
            "retire": "take secrets out of the safe",
        },
    ),
    "token": Subject(
        "Tokens for programs",
        False,
        {
            "see": "see everybody's tokens for programs",
            "make": "make tokens for programs of one's own",
            "retire": "revoke anybody's tokens for programs",
        },
    ),
    "mail": Subject(
        "Mail", False, {"see": "see what was sent to whom", "change": "change the mail settings"}
    ),
    "audit": Subject("The audit trail", False, {"see": "see the audit trail and its seals"}),
    "house": Subject(
        "House rules", False, {"change": "change the house rules: company, sign-in, closed days"}
    ),
    "health": Subject(
        "Health",
        False,
        {
            "see": "see the health of engines, effects and the database",
            "change": "try stuck effects and mails again, or set them aside",
        },
    ),
}
PERMISSIONS: dict[str, str] = {
    f"{name}.{act}": subject.acts[act]
    for name, subject in SUBJECTS.items()
    for act in ACTS
    if act in subject.acts
}
EVERYONE = frozenset({"idea.make"})
_WORKS = {"package.see", "area.see", "robot.see", "routine.see", "run.see"}
_OPERATES = {"run.make", "run.change"}
# Kept from the lead, so that no one person sizes and backs, sets rates and closes months, or releases
# what they let go live.
_NOT_OF_LEAD = {"sizing.make", "package.make", "value.decide"}
ROLES: dict[str, frozenset[str]] = {
    "proposer": frozenset(EVERYONE),
    "work owner": frozenset(EVERYONE | {"idea.see"}),
    "expert": frozenset(EVERYONE | {"idea.see", "sizing.make", "system.see"}),
    "reviewer": frozenset(EVERYONE | {"idea.see", "idea.change", "idea.decide", "entry.make"}),
    "analyst": frozenset(
        EVERYONE
        | {"idea.see", "sizing.make", "sizing.decide", "value.see", "rate.see", "rate.make", "token.make"}
        | {"entry.make", "system.see", "system.change"}
    ),
    "builder": frozenset(
        EVERYONE
        | _WORKS
        | _OPERATES
        | {
            "idea.see",
            "build.make",
            "system.see",
            "package.make",
            "package.decide",
            "routine.make",
            "routine.change",
            "routine.decide",
            "routine.retire",
            "package.retire",
            "token.make",
        }
    ),
    "operator": frozenset(
        EVERYONE
        | _WORKS
        | _OPERATES
        | {
            "idea.see",
            "system.see",
            "robot.make",
            "robot.change",
            "robot.retire",
            "area.make",
            "area.change",
            "value.see",
            "rate.see",
        }
        | {"routine.make", "routine.change", "routine.decide", "routine.retire", "value.change", "token.make"}
        | {"package.decide"}
        | {"secret.see", "secret.make", "secret.change", "health.see", "health.change"}
    ),
    "lead": frozenset(PERMISSIONS) - _NOT_OF_LEAD,
    "backer": frozenset(EVERYONE | {"idea.see", "value.see", "value.decide", "rate.see"}),
}
ABOUT: dict[str, str] = {
    "proposer": "Any colleague: hands in ideas and follows what becomes of them",
    "work owner": "Confirms facts of the work they own",
    "expert": "Gives people, volumes and times",
    "reviewer": "Sorts new ideas",
    "analyst": "Sizes ideas and writes the cases",
    "builder": "Takes up backed ideas, releases packages, sets up routines",
    "operator": "Looks after robots, routines and runs",
    "lead": "Decides what is backed, looks after people, rates and rules",
    "backer": "Sees promised against delivered, signs months off",
}


@dataclass(frozen=True)
class Duty:
    """Two permissions that one person should not hold together, and why."""

    one: str
    other: str
    words: str


DUTIES = (
    Duty("sizing.make", "case.decide", "who sizes an idea should not alone back it"),
    Duty("rate.make", "value.decide", "who sets rates should not close the month"),
    Duty("rate.decide", "value.decide", "who approves rates should not close the month"),
    Duty("package.make", "person.retire", "who writes packages should not look after people's access"),
)


@dataclass(frozen=True)
class Held:
    """A role as somebody holds it: for an area (None: the whole company), in person or by a group."""

    role: str
    permissions: frozenset[str]
    area_id: int | None = None
    area: str = ""
    group: str | None = None
    second_factor: bool = False

    @property
    def where(self) -> str:
        """For what it is held, in words."""
        return "the whole company" if self.area_id is None else f"the area {self.area} and those below it"


Reach = Mapping[str, frozenset[int] | None]


# Releases are made for the company; a release that one area sees is seen by whoever works there.
ALSO_BY_AREA = frozenset({"package.see"})


def by_area(permission: str) -> bool:
    """Whether the objects a permission is about live in areas. Raises KeyError if it is unknown."""
    return SUBJECTS[permission.partition(".")[0]].by_area or permission in ALSO_BY_AREA


def reach(held: Iterable[Held], below: Mapping[int, frozenset[int]]) -> dict[str, frozenset[int] | None]:
    """Where each permission holds: None is everywhere, else the areas (each with all `below` it)."""
    found: dict[str, frozenset[int] | None] = {one: None for one in EVERYONE}
    for one in held:
        for permission in one.permissions & PERMISSIONS.keys():
            if one.area_id is None:
                found[permission] = None
            elif by_area(permission) and found.get(permission, frozenset()) is not None:
                known = found.get(permission) or frozenset()
                found[permission] = known | below.get(one.area_id, frozenset({one.area_id}))
    return found


def granted_by(held: Sequence[Held], permission: str, path: Iterable[int] | None) -> list[Held]:
    """The held roles that give a permission at an object whose area lies on `path` (itself and above).

    `path` None asks for the whole company.
    """
    above = frozenset(path or ())
    return [
        one
        for one in held
        if permission in one.permissions
        and (one.area_id is None or (by_area(permission) and one.area_id in above))
    ]


def roles_with(permission: str) -> list[str]:
    """The built-in roles that hold a permission."""
    return [role for role, held in ROLES.items() if permission in held]


def permissions_of(roles: Iterable[str]) -> frozenset[str]:
    """Everything that somebody with these built-in roles may do. Raises KeyError for an unknown role."""
    return frozenset().union(*(ROLES[role] for role in roles)) | EVERYONE


def in_words(permissions: Iterable[str]) -> list[str]:
    """What a set of permissions allows, one sentence a subject, in the order of the work."""
    wanted = frozenset(permissions)
    lines = []
    for name, subject in SUBJECTS.items():
        parts = [subject.acts[act] for act in ACTS if f"{name}.{act}" in wanted]
        if parts:
            lines.append(f"{subject.title}: {'; '.join(parts)}")
    return lines


def breaches(permissions: Iterable[str]) -> list[Duty]:
    """The separations of duty that a set of permissions defeats."""
    held = frozenset(permissions)
    return [duty for duty in DUTIES if duty.one in held and duty.other in held]
