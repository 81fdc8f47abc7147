"""Other programs that start a routine of the demo by its address."""

from __future__ import annotations

from datetime import timedelta

from tallyman.core.faults import InputFaults
from tallyman.demo.past import Past
from tallyman.services.context import Actor, Ctx
from tallyman.services.starts import addresses, called

# The meter store calls when its week is whole; once it sent words for a number.
NETWORKS = ["10.20.4.0/24"]
CALLER = "10.20.4.11"
CALLS: tuple[tuple[float, dict[str, object]], ...] = (
    (3, {"most_times": 4}),
    (3, {"most_times": 4}),
    (2, {"most_times": "four"}),
    (1, {"most_times": 5}),
)


def calls(past: Past, routine: int) -> None:
    """The address of a routine, and the calls of the last days; a day's second one repeats its first."""
    token = addresses.give(past.ctx("Sol Marín", 30), routine, addresses.Given(NETWORKS, 20)).token
    for days_ago, inputs in CALLS:
        at = past.now - timedelta(days=days_ago)
        ctx = Ctx(past.db, at, Actor(None, "nobody", address=CALLER))
        given = called.Call(token, inputs, f"week-{days_ago:g}")
        try:
            called.call(ctx, routine, given)
        except InputFaults:
            # That stands in its log.
            continue
