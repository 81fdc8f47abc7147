"""What people are told, and how it comes by mail as each chose."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest

from tallyman.core.alerts.kinds import Kind
from tallyman.errors import Forbidden
from tallyman.services import alerts, people
from tallyman.services.alerts import tell, telling
from tallyman.services.house import mails, outbox
from tests.world import World


def told(world: World, how: str, kind: str = "idea") -> list[str]:
    """The subjects in the outbox after Ada Pell was told something of a kind."""
    ada = world.ctx("Ada Pell")
    version = people.profile(ada, "").version
    people.change_profile(ada, "Ada Pell", "Europe/Lisbon", "en-GB", {kind: how}, version)
    tom = world.ctx("Tom Okafor")
    person = ada.actor.person_id
    assert person is not None
    of = Kind("news", kind, "News {n}", "/", "idea")  # type: ignore[arg-type]
    for n in (1, 2):
        world.db.transact(lambda tx, n=n: tell(tx, tom, of, {"id": 1}, [person], n=n))
    world.settle()
    return subjects(world)


def subjects(world: World) -> list[str]:
    return [row["subject"] for row in world.rows("SELECT subject FROM mail ORDER BY id")]


def test_at_once_each_comes_by_itself(world: World) -> None:
    assert told(world, "at once") == ["News 1", "News 2"]


def test_never_means_in_the_application_only(world: World) -> None:
    assert told(world, "none") == []
    assert [row.text for row in alerts.notifications(world.ctx("Ada Pell"))] == ["News 2", "News 1"]
    assert alerts.digests(world.program(timedelta(days=2))) == 0


def test_daily_comes_once_in_the_morning_where_one_lives(world: World) -> None:
    assert told(world, "daily") == []
    # It is 9:00 UTC on 10 March; the next seven o'clock in Lisbon is 7:00 UTC the day after.
    assert alerts.digests(world.program(timedelta(hours=21, minutes=59))) == 0
    assert alerts.digests(world.program(timedelta(hours=22))) == 1
    assert alerts.digests(world.program(timedelta(hours=22))) == 0
    assert subjects(world) == ["Tallyman, the day's 2 messages"]
    body = world.row("SELECT body FROM mail")["body"]
    assert "News 1" in body
    assert "News 2" in body


@pytest.mark.parametrize(
    ("zone", "morning"),
    [("Europe/Lisbon", "2026-03-29 06:00"), ("Asia/Tokyo", "2026-03-28 22:00"), ("UTC", "2026-03-29 07:00")],
)
def test_the_morning_is_that_of_the_zone_also_when_clocks_change(zone: str, morning: str) -> None:
    at = datetime.fromisoformat("2026-03-28T20:00:00+00:00")
    found = telling._next_digest(at, zone)
    assert f"{found:%Y-%m-%d %H:%M}" == morning


def test_the_outbox_shows_to_whom_and_with_what_answer_but_no_bodies(world: World) -> None:
    told(world, "at once")
    lead = world.ctx("Ines Varga")
    assert [row.subject for row in outbox.page(lead, None, True, None, 50).rows] == ["News 2", "News 1"]
    mails.send_mails(world.program(), lambda *_: "250 taken")
    assert outbox.page(lead, None, True, None, 50).rows == []
    row = outbox.page(lead, "ada.pell", False, None, 50).rows[0]
    assert (row.person, row.answer) == ("Ada Pell", "250 taken")
    assert not hasattr(row, "body")
    with pytest.raises(Forbidden):
        outbox.page(world.ctx("Sol Marin"), None, False, None, 50)
