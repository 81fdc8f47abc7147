"""Who may start a routine by its address: from where, and how often."""

from __future__ import annotations

from collections.abc import Sequence
from ipaddress import ip_address, ip_network

MOST_NETWORKS = 20
MOST_A_MINUTE = 600


def wrong_networks(texts: Sequence[str]) -> list[str]:
    """Those of some texts that are no address and no network, such as 10.0.4.0/24."""
    wrong = []
    for text in texts:
        try:
            ip_network(text)
        except ValueError:
            wrong.append(text)
    return wrong


def lets_in(networks: Sequence[str], address: str) -> bool:
    """Whether a call from an address is let in; with no networks any is. What is no address is not."""
    if not networks:
        return True
    try:
        number = ip_address(address)
    except ValueError:
        return False
    return any(number in ip_network(one) for one in networks)
