"""Who may start a routine by its address."""

from __future__ import annotations

import pytest

from tallyman.core.starts.callers import lets_in, wrong_networks


def test_what_is_no_address_and_no_network_is_named() -> None:
    given = ["10.0.4.17", "10.0.4.0/24", "fd00::/8", "10.0.4.17/24", "desk", "10.0.4.300"]
    assert wrong_networks(given) == ["10.0.4.17/24", "desk", "10.0.4.300"]


@pytest.mark.parametrize(
    ("networks", "address", "let"),
    [
        ([], "203.0.113.9", True),
        (["10.0.4.0/24"], "10.0.4.200", True),
        (["10.0.4.0/24"], "10.0.5.1", False),
        (["10.0.4.17"], "10.0.4.17", True),
        (["10.0.4.17", "fd00::/8"], "fd12::1", True),
        (["fd00::/8"], "10.0.4.17", False),
        (["10.0.4.17"], "-", False),
    ],
)
def test_a_call_is_let_in_from_the_networks_that_are_named(
    networks: list[str], address: str, let: bool
) -> None:
    assert lets_in(networks, address) is let
