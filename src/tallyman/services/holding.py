"""Who holds which roles where, read for each request: the one way in which permissions come to be."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol

from tallyman.core.access.permissions import ROLES, Held, by_area, reach
from tallyman.store.db import Tx
from tallyman.store.records.access import AccessBelow, AccessHeldBy, AccessPeopleWith, AccessRoles
from tallyman.store.records.robots import RobotsPaths


class Allowing(Protocol):
    """A row that says what a role allows."""

    @property
    def built_in(self) -> bool:
        """Whether the role comes with Tallyman."""

    @property
    def permissions(self) -> Iterable[str]:
        """What a role of the house's own allows."""


def permissions_of_role(name: str, row: Allowing) -> frozenset[str]:
    """What a role of a name allows: built-in ones say so in the code, others in their row."""
    return ROLES[name] if row.built_in else frozenset(row.permissions)


def held_of(tx: Tx, person_id: int) -> list[Held]:
    """The roles a person holds, in person and by groups."""
    return [
        Held(
            row.role,
            permissions_of_role(row.role, row),
            row.area_id,
            row.area or "",
            row.grp,
            bool(row.second_factor),
        )
        for row in tx.all(AccessHeldBy, "access.held_by", person=person_id)
    ]


def below(tx: Tx, area_ids: Iterable[int]) -> dict[int, frozenset[int]]:
    """Some areas, each with itself and all below it."""
    wanted = tuple(set(area_ids))
    found: dict[int, set[int]] = {}
    for row in tx.all(AccessBelow, "access.below", areas=wanted) if wanted else []:
        found.setdefault(row.above_id, set()).add(row.area_id)
    return {area: frozenset(all_below) for area, all_below in found.items()}


def path(tx: Tx, area_id: int | None) -> tuple[int, ...]:
    """An area and all above it; nothing for the whole company."""
    if area_id is None:
        return ()
    return tuple(tx.values(int, "robots.path", id=area_id))


def paths(tx: Tx, area_ids: Iterable[int]) -> dict[int, set[int]]:
    """Some areas, each with itself and all above it."""
    found: dict[int, set[int]] = {}
    for step in tx.all(RobotsPaths, "robots.paths", ids=tuple(set(area_ids)) or (0,)):
        found.setdefault(step.area_id, set()).add(step.above_id)
    return found


def reach_of(tx: Tx, held: list[Held]) -> dict[str, frozenset[int] | None]:
    """Where each permission of somebody's roles holds."""
    areas = [one.area_id for one in held if one.area_id is not None]
    return reach(held, below(tx, areas))


def roles_holding(tx: Tx, permission: str) -> list[AccessRoles]:
    """Every role in use that holds a permission."""
    rows = tx.all(AccessRoles, "access.roles")
    return [
        row for row in rows if row.retired_at is None and permission in permissions_of_role(row.name, row)
    ]


def people_with(tx: Tx, permission: str, area_id: int | None = None) -> list[AccessPeopleWith]:
    """Active people who hold a permission at an area, or (None) for the whole company."""
    return people_within(tx, permission, path(tx, area_id) if by_area(permission) else ())


def people_within(tx: Tx, permission: str, areas: Iterable[int] | None) -> list[AccessPeopleWith]:
    """Active people who hold a permission at any of some areas or for the whole company; None: anywhere."""
    roles = tuple(row.id for row in roles_holding(tx, permission)) or (0,)
    if areas is None:
        return tx.all(AccessPeopleWith, "access.people_with_anywhere", roles=roles)
    return tx.all(AccessPeopleWith, "access.people_with", roles=roles, areas=tuple(areas) or (0,))


def scope(areas: frozenset[int] | None) -> dict[str, object]:
    """How far a permission reaches, as the parameters `everywhere` and `areas` of a statement."""
    return {"everywhere": areas is None, "areas": tuple(sorted(areas or ())) or (0,)}
