"""A routine started by its address: once for each key, refused with reasons that stand in its log, and told of."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import timedelta
from threading import Thread

import pytest

from tallyman import config
from tallyman.core.free import FreeObject
from tallyman.errors import (
    Conflict,
    Forbidden,
    InputFaults,
    NotFound,
    NotSignedIn,
    Refused,
    SlowDown,
)
from tallyman.services.context import Actor, Ctx
from tallyman.services.starts import addresses, called
from tallyman.services.starts.addresses import Given
from tallyman.services.starts.called import Call
from tallyman.services.upkeep import health
from tests.world import World

SOL = "Sol Marin"
MINUTE = timedelta(minutes=1)
HERE = "10.0.4.17"


class Addressed:
    """A routine with an address, its token, and calls to it."""

    def __init__(self, world: World) -> None:
        self.world = world
        self.host = world.machine()
        self.routine = world.routine(inputs={"rows": 4})
        self.token = addresses.give(world.ctx(SOL), self.routine, Given()).token

    def ctx(self, later: timedelta = timedelta(), address: str = HERE) -> Ctx:
        return Ctx(self.world.db, self.world.now + later, Actor(None, "nobody", address=address))

    def call(self, key: str = "one", later: timedelta = timedelta(), **more: object) -> called.Called:
        given = replace(Call(self.token, {}, key), **more)
        return called.call(self.ctx(later), self.routine, given)

    def runs(self) -> list[str]:
        return [row["inputs_json"] for row in self.world.rows("SELECT inputs_json FROM run ORDER BY id")]

    def log(self) -> list[tuple[str, str]]:
        page = addresses.calls(self.world.ctx(SOL), self.routine, None)
        return [(row.outcome, row.why) for row in page.rows]


@pytest.fixture
def there(world: World) -> Addressed:
    return Addressed(world)


@pytest.fixture
def listed() -> Iterator[None]:
    before = config.settings().outgoing
    config.settings().outgoing = ["desk.merrowdale.example:443"]
    yield
    config.settings().outgoing = before


# ---- called


def test_a_call_starts_once_however_often_it_comes(there: Addressed) -> None:
    first = there.call(inputs={"rows": 9})
    assert not first.repeated and first.told.state == "waiting"
    for _ in range(3):
        again = there.call(inputs={"rows": 9})
        assert again.repeated and again.run == first.run
    assert there.runs() == ['{"rows": 9}']
    assert [what for what, _ in there.log()] == ["repeated"] * 3 + ["started"]


def test_calls_of_one_moment_start_once(there: Addressed) -> None:
    found: list[int] = []
    threads = [Thread(target=lambda: found.append(there.call().run)) for _ in range(4)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert len(found) == 4 and len(set(found)) == 1
    assert len(there.runs()) == 1


def test_what_is_left_out_is_what_the_set_up_says(there: Addressed) -> None:
    there.call()
    assert there.runs() == ['{"rows": 4}']
    words = there.world.row("SELECT started_words, started_by FROM run")
    assert words == {"started_words": f"a call to its address from {HERE}", "started_by": None}


def test_all_faults_are_said_at_once_and_stand_in_the_log(there: Addressed) -> None:
    with pytest.raises(InputFaults) as refused:
        there.call("", inputs={"rows": "many", "place": "Quay"}, call_back="ftp://desk")
    fields = [one.field for one in refused.value.faults]
    assert set(fields) >= {"Idempotency-Key", "call_back", "inputs.rows"} and len(fields) == 4
    ((what, why),) = there.log()
    assert what == "refused" and "inputs.rows “many”: is to be a whole number" in why
    assert there.runs() == []


def test_one_key_for_other_inputs_is_refused(there: Addressed) -> None:
    there.call(inputs={"rows": 1})
    with pytest.raises(InputFaults, match="was sent with something else before"):
        there.call(inputs={"rows": 2})


@pytest.mark.parametrize("token", ["", "tally_start_wrong", "tally_other", "x" * 290])
def test_another_token_starts_nothing_and_learns_nothing(there: Addressed, token: str) -> None:
    for routine in (there.routine, there.routine + 7):
        with pytest.raises(NotSignedIn) as refused:
            called.call(there.ctx(), routine, Call(token, {}, "one"))
        assert str(refused.value) == str(called.NOBODY)
    assert not called.knows(there.ctx(), there.routine, token)
    assert there.log() == []


def test_from_elsewhere_it_is_not_let_in(there: Addressed) -> None:
    addresses.change(there.world.ctx(SOL), there.routine, Given(["10.0.4.0/24"]), 1)
    run = there.call().run
    with pytest.raises(Forbidden, match=r"Calls from 192\.0\.2\.1 are not let in"):
        called.call(there.ctx(address="192.0.2.1"), there.routine, Call(there.token, {}, "two"))
    with pytest.raises(Forbidden):
        called.run(there.ctx(address="192.0.2.1"), there.routine, run, there.token)
    assert there.log()[0][0] == "refused"


def test_more_often_than_its_pace_is_refused_and_the_log_says_so_once(there: Addressed) -> None:
    addresses.change(there.world.ctx(SOL), there.routine, Given(a_minute=2), 1)
    there.call("one")
    there.call("two")
    for n in range(called.MOST_REFUSED_A_MINUTE + 5):
        with pytest.raises(SlowDown):
            there.call(f"more {n}")
    log = there.log()
    assert len(log) == 2 + called.MOST_REFUSED_A_MINUTE + 1
    assert log[0][1] == "more calls were refused in this minute than stand here"
    there.call("later", 2 * MINUTE)


def test_a_retired_or_withdrawn_one_says_why(there: Addressed) -> None:
    there.world.db.transact(lambda tx: tx.execute("UPDATE routine SET retired_at = made_at"))
    with pytest.raises(Refused, match="is retired"):
        there.call()
    assert there.log() == [("refused", "Count rows is retired.")]


def test_how_its_run_stands_is_told_to_who_started_it_alone(there: Addressed) -> None:
    run = there.call().run
    other = there.world.start(there.routine)
    told = called.run(there.ctx(), there.routine, run, there.token)
    assert (told.run, told.state, told.outputs) == (run, "waiting", {})
    there.world.finish(there.host, there.world.take(there.host), outputs={"rows": 4})
    told = called.run(there.ctx(), there.routine, run, there.token)
    assert (told.state, told.outputs) == ("done", {"rows": 4})
    with pytest.raises(NotFound):
        called.run(there.ctx(), there.routine, other, there.token)


# ---- looked after


def test_a_renewed_token_lets_the_old_one_work_for_a_day(there: Addressed) -> None:
    old = there.token
    there.token = addresses.renew(there.world.ctx(SOL), there.routine, False).token
    assert there.token != old
    there.call("new")
    called.call(there.ctx(23 * 60 * MINUTE), there.routine, Call(old, {}, "old"))
    with pytest.raises(NotSignedIn):
        called.call(there.ctx(25 * 60 * MINUTE), there.routine, Call(old, {}, "older"))
    shown = addresses.shown(there.world.ctx(SOL), there.routine)
    assert shown is not None and shown.token_end == there.token[-4:] and shown.old_until is not None


def test_a_token_that_was_lost_ends_at_once(there: Addressed) -> None:
    old = there.token
    addresses.renew(there.world.ctx(SOL), there.routine, True)
    with pytest.raises(NotSignedIn):
        called.call(there.ctx(), there.routine, Call(old, {}, "old"))


def test_it_is_given_once_and_taken_with_its_calls_kept(there: Addressed) -> None:
    with pytest.raises(Refused, match="has an address already"):
        addresses.give(there.world.ctx(SOL), there.routine, Given())
    there.call()
    addresses.take(there.world.ctx(SOL), there.routine)
    assert addresses.shown(there.world.ctx(SOL), there.routine) is None
    with pytest.raises(NotSignedIn):
        there.call("two")
    with pytest.raises(NotFound):
        addresses.take(there.world.ctx(SOL), there.routine)
    assert len(there.log()) == 1


def test_what_is_wrong_with_it_is_named_and_two_do_not_overwrite_each_other(there: Addressed) -> None:
    with pytest.raises(InputFaults) as refused:
        addresses.change(there.world.ctx(SOL), there.routine, Given(["desk", "10.0.0.1"], 0), 1)
    assert [one.field for one in refused.value.faults] == ["networks", "a_minute"]
    addresses.change(there.world.ctx(SOL), there.routine, Given(["10.0.0.1"]), 1)
    with pytest.raises(Conflict):
        addresses.change(there.world.ctx(SOL), there.routine, Given(["10.0.0.2"]), 1)


@pytest.mark.parametrize("who", ["Ada Pell", "Ruth Abernathy"])
def test_who_may_not_change_a_routine_gives_it_no_address(there: Addressed, who: str) -> None:
    acts = (
        lambda ctx: addresses.give(ctx, there.routine, Given()),
        lambda ctx: addresses.change(ctx, there.routine, Given(), 1),
        lambda ctx: addresses.renew(ctx, there.routine, True),
        lambda ctx: addresses.take(ctx, there.routine),
    )
    for act in acts:
        with pytest.raises(Forbidden):
            act(there.world.ctx(who))


# ---- told of the end


def end(there: Addressed, key: str) -> int:
    run = there.call(key, call_back="https://desk.merrowdale.example/ended").run
    there.world.finish(there.host, there.world.take(there.host), outputs={"rows": 4})
    return run


def test_the_end_is_told_once_by_one_of_two_engines(there: Addressed, listed: None) -> None:
    told: list[tuple[str, FreeObject]] = []

    def tell(address: str, body: FreeObject) -> str:
        told.append((address, body))
        return "it answered 200"

    waiting = there.call("waits", call_back="https://desk.merrowdale.example/ended").run
    assert called.tell_callers(there.world.program(), tell) == 0
    there.world.finish(there.host, there.world.take(there.host), outputs={"rows": 4})
    assert called.tell_callers(there.world.program(3 * MINUTE), tell) == 1
    assert called.tell_callers(there.world.program(3 * MINUTE), tell) == 0
    ((address, body),) = told
    assert address == "https://desk.merrowdale.example/ended"
    assert (body["run"], body["state"], body["outputs"]) == (waiting, "done", {"rows": 4})
    kept = there.world.row("SELECT state, words FROM run_call_back")
    assert kept == {"state": "sent", "words": "it answered 200"}


def test_an_answer_that_is_no_yes_is_tried_again_later_and_stands_on_health(
    there: Addressed, listed: None
) -> None:
    run = end(there, "one")

    def refuses(address: str, body: FreeObject) -> str:
        raise Refused("It answered 500.")

    assert called.tell_callers(there.world.program(3 * MINUTE), refuses) == 0
    assert called.tell_callers(there.world.program(3 * MINUTE), lambda *_: "yes") == 0
    kept = there.world.row("SELECT state, words FROM run_call_back")
    assert kept == {"state": "waits", "words": "It answered 500."}
    hitch = there.world.row("SELECT id, row_key, fault FROM hitch")
    assert hitch["row_key"] == str(run)
    assert called.tell_callers(there.world.program(60 * MINUTE), lambda *_: "yes") == 1
    end(there, "two")
    assert called.tell_callers(there.world.program(90 * MINUTE), refuses) == 0
    number = there.world.row("SELECT id FROM hitch")["id"]
    health.set_aside(there.world.ctx("Ines Varga", 90 * MINUTE), number, "the desk is gone")
    assert called.tell_callers(there.world.program(900 * MINUTE), lambda *_: "yes") == 0


def test_only_hosts_of_the_installation_are_told(there: Addressed, listed: None) -> None:
    for address in (
        "https://elsewhere.example/x",
        "https://a:b@desk.merrowdale.example/x",
        "desk",
        "x" * 600,
    ):
        with pytest.raises(InputFaults):
            there.call(address, call_back=address)
    assert there.runs() == []
