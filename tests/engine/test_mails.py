"""Mails leave once, and what is not known of one is said."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from tallyman.errors import Away
from tallyman.services.house import mail_server, mails
from tests.conftest import NOW
from tests.world import World

MINUTE = timedelta(minutes=1)


def test_a_subject_of_several_lines_goes_out_in_one() -> None:
    mail = mail_server.written(
        "t@merrowdale.example", "a@merrowdale.example", "Asked back:\r\nWhich\nform?", "b", "7"
    )
    assert mail["Subject"] == "Asked back: Which form?"
    assert mail["Message-ID"] == "<7@merrowdale.example>"


def one_mail(world: World) -> None:
    given = {"effect": None, "to": "a@merrowdale.example", "subject": "s", "body": "b"}
    world.db.transact(lambda tx: tx.insert("mails.add", **given, now=NOW, kind="news", person=None))


def test_a_mail_handed_over_by_an_engine_that_died_goes_again_as_the_same_mail(world: World) -> None:
    one_mail(world)
    ids: list[str] = []

    class Killed(BaseException):
        pass

    def hand_over(to: str, subject: str, body: str, message_id: str) -> str:
        ids.append(message_id)
        if len(ids) == 1:
            raise Killed
        return "250 taken"

    def die(*_: Any, **__: Any) -> int:
        raise Killed

    with pytest.MonkeyPatch.context() as patch, pytest.raises(Killed):
        real = mails._note
        patch.setattr(
            mails, "_note", lambda ctx, name, **more: real(ctx, name, **more) if "claim" in name else die()
        )
        mails.send_mails(world.program(), hand_over)
    # Another engine leaves it alone as long as the first may still be at it.
    assert mails.send_mails(world.program(MINUTE), hand_over) == 0
    assert mails.send_mails(world.program(6 * MINUTE), hand_over) == 1
    assert ids[0] == ids[1]
    answer = world.row("SELECT answer FROM mail")["answer"]
    assert (
        answer
        == "250 taken; also handed over at 10 Mar, 09:00 UTC, when no answer was heard: it may come twice"
    )


def test_a_mail_that_nobody_answered_for_says_so_when_it_goes_again(world: World) -> None:
    one_mail(world)

    def unheard(*_: str) -> str:
        raise mail_server.Unheard("the connection ended")

    assert mails.send_mails(world.program(), unheard) == 0
    assert mails.send_mails(world.program(MINUTE), lambda *_: "taken") == 1
    assert "it may come twice" in world.row("SELECT answer FROM mail")["answer"]


def test_a_mail_server_that_is_away_is_no_mails_fault(world: World, monkeypatch: pytest.MonkeyPatch) -> None:
    one_mail(world)

    def away(*_: str) -> str:
        raise Away("The mail server weir takes no mails")

    for _ in range(mails.MAILS.most_tries + 1):
        with pytest.raises(Away):
            mails.send_mails(world.program(), away)
    assert world.rows("SELECT id FROM hitch") == []
    assert mails.send_mails(world.program(), lambda *_: "taken") == 1
    assert world.row("SELECT answer FROM mail")["answer"] == "taken"
