"""What roles reach, in whole companies and in areas."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core import access
from tallyman.core.access.permissions import ACTS, PERMISSIONS, ROLES, SUBJECTS, Held

# 1 holds 2 and 3; 3 holds 4; 5 stands apart.
BELOW = {
    1: frozenset({1, 2, 3, 4}),
    2: frozenset({2}),
    3: frozenset({3, 4}),
    4: frozenset({4}),
    5: frozenset({5}),
}
PATHS = {1: (1,), 2: (2, 1), 3: (3, 1), 4: (4, 3, 1), 5: (5,)}


def test_every_act_of_a_subject_is_known_and_every_role_holds_known_permissions() -> None:
    for subject in SUBJECTS.values():
        assert set(subject.acts) <= set(ACTS)
    for role, held in ROLES.items():
        assert held <= PERMISSIONS.keys(), role
        assert "idea.make" in held
    assert access.ABOUT.keys() == ROLES.keys()


def test_every_permission_is_held_by_some_built_in_role() -> None:
    assert frozenset().union(*ROLES.values()) == PERMISSIONS.keys()


def test_nobody_without_roles_may_do_more_than_hand_in_ideas() -> None:
    assert access.reach([], BELOW) == {"idea.make": None}


def test_a_role_for_an_area_reaches_it_and_all_below() -> None:
    found = access.reach([Held("operator", ROLES["operator"], 3, "Billing")], BELOW)
    assert found["routine.see"] == {3, 4}
    assert found["run.make"] == {3, 4}


def test_a_role_for_an_area_gives_nothing_that_belongs_to_the_whole_company() -> None:
    found = access.reach([Held("lead", ROLES["lead"], 1, "All")], BELOW)
    assert "health.see" not in found
    assert "person.make" not in found
    # Of releases whoever works in an area sees those of the company, and those that this area sees.
    assert found["package.see"] == {1, 2, 3, 4}
    assert "package.make" not in found


def test_roles_for_two_areas_add_up_and_the_company_outdoes_both() -> None:
    two = [Held("operator", ROLES["operator"], 2, "B"), Held("operator", ROLES["operator"], 5, "E")]
    assert access.reach(two, BELOW)["run.see"] == {2, 5}
    everywhere = [*two, Held("builder", ROLES["builder"])]
    assert access.reach(everywhere, BELOW)["run.see"] is None
    assert access.reach(everywhere, BELOW)["robot.change"] == {2, 5}


def test_the_roles_that_grant_are_named() -> None:
    mine = Held("operator", ROLES["operator"], 3, "Billing", "Night shift")
    other = Held("reviewer", ROLES["reviewer"])
    assert access.granted_by([mine, other], "run.see", PATHS[4]) == [mine]
    assert access.granted_by([mine, other], "run.see", PATHS[2]) == []
    assert access.granted_by([mine, other], "run.see", None) == []
    assert access.granted_by([mine, other], "idea.decide", PATHS[2]) == [other]
    assert mine.where == "the area Billing and those below it"


@given(
    st.lists(st.tuples(st.sampled_from(sorted(ROLES)), st.sampled_from([None, 1, 2, 3, 4, 5])), max_size=5),
    st.sampled_from(sorted(PERMISSIONS)),
    st.sampled_from([1, 2, 3, 4, 5]),
)
def test_reach_and_explanation_never_disagree(
    pairs: list[tuple[str, int | None]], permission: str, area: int
) -> None:
    held = [Held(role, ROLES[role], where, str(where)) for role, where in pairs]
    found = access.reach(held, BELOW)
    there = permission in found and (found[permission] is None or area in (found[permission] or ()))
    explained = bool(access.granted_by(held, permission, PATHS[area]))
    if permission in ("idea.make", "package.see"):
        assert there or not explained
    else:
        assert there == explained


def test_what_a_role_allows_is_said_in_words() -> None:
    assert access.in_words(["run.make", "run.see"]) == ["Runs: see runs; start runs"]
    assert access.in_words([]) == []


@pytest.mark.parametrize("role", sorted(ROLES))
def test_no_built_in_role_defeats_a_separation_of_duties(role: str) -> None:
    assert access.breaches(ROLES[role]) == []


def test_a_role_that_sizes_and_backs_is_warned_of() -> None:
    found = access.breaches({"sizing.make", "case.decide"})
    assert [duty.words for duty in found] == ["who sizes an idea should not alone back it"]
