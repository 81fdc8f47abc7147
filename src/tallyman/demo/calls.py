"""Other programs that start a routine of the demo by its address."""

from __future__ import annotations

from datetime import timedelta

from tallyman.core.faults import InputFaults
from tallyman.demo.past import Past
from tallyman.services.context import Actor, Ctx
from tallyman.services.starts import addresses, called

# The meter store calls for each of its lists; once it sent words for a number. What it started waits until
# the demo runs.
NETWORKS = ["10.20.4.0/24"]
CALLER = "10.20.4.11"
CALLS: tuple[tuple[int, str, dict[str, object]], ...] = (
    (30, "list-1", {"most_times": 4}),
    (29, "list-1", {"most_times": 4}),
    (20, "list-2", {"most_times": "four"}),
    (12, "list-2", {"most_times": 5}),
)


def calls(past: Past, routine: int) -> None:
    """The address of a routine, and the calls of the last half hour; the second one repeats the first."""
    token = addresses.give(past.ctx("Sol Marín", 30), routine, addresses.Given(NETWORKS, 20)).token
    for minutes_ago, key, inputs in CALLS:
        at = past.now - timedelta(minutes=minutes_ago)
        ctx = Ctx(past.db, at, Actor(None, "nobody", address=CALLER))
        given = called.Call(token, inputs, key)
        try:
            called.call(ctx, routine, given)
        except InputFaults:
            # That stands in its log.
            continue
