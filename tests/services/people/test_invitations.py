"""Invitations, passwords, profiles, leaving."""

from __future__ import annotations

import re
from datetime import date, timedelta
from pathlib import Path

import pytest

from tallyman import config
from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, NotSignedIn, Refused
from tallyman.services import access, people
from tallyman.services.context import Actor, Ctx
from tallyman.services.house import areas, mails
from tallyman.services.ideas import owners
from tests.conftest import NOW
from tests.world import PASSWORD, World

NEW = "six-otters-swim-9"
BELA = people.Invited("Bela.Kiss@merrowdale.example", "Bela  Kiss")


@pytest.fixture(autouse=True)
def keys(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(config.settings(), "keys_file", str(tmp_path / "keys.json"))


def nobody(world: World, later: timedelta = timedelta()) -> Ctx:
    return Ctx(world.db, NOW + later, Actor(None, "nobody", address="10.0.0.9"))


def sent(world: World, later: timedelta = timedelta()) -> list[tuple[str, str, str]]:
    """Everything in the outbox, as the mail server gets it."""
    got: list[tuple[str, str, str]] = []

    def send(to: str, subject: str, body: str, message_id: str) -> str:
        got.append((to, subject, body))
        return "250 taken"

    mails.send_mails(world.program(later), send)
    return got


def token_in(mails: list[tuple[str, str, str]]) -> str:
    found = re.search(r"/(?:welcome|new-password)/(\S+)", mails[-1][2])
    assert found
    return found.group(1)


def test_an_invited_person_can_be_picked_accepts_and_signs_in(world: World) -> None:
    ada = world.ctx("Ada Pell")
    number = people.invite(ada, BELA)
    picked = next(row for row in people.directory(ada).people if row.id == number)
    assert (picked.name, picked.state) == ("Bela Kiss", "invited")
    mails = sent(world)
    assert mails[0][0] == "bela.kiss@merrowdale.example"
    token = token_in(mails)
    assert people.look(nobody(world), "invitation", token).company == "Merrowdale Water"
    with pytest.raises(NotSignedIn):
        people.sign_in(nobody(world), "bela.kiss@merrowdale.example", "")
    email = people.accept(nobody(world), token, "Béla Kiss", NEW, "Europe/Budapest")
    session, _ = people.sign_in(nobody(world), email, NEW)
    actor = people.who_is(nobody(world), session)
    assert (actor.name, actor.zone, actor.permissions) == ("Béla Kiss", "Europe/Budapest", {"idea.make"})
    with pytest.raises(NotFound):
        people.accept(nobody(world), token, "Again", NEW, "UTC")


def test_the_token_of_a_link_stands_in_no_table(world: World) -> None:
    people.invite(world.ctx("Ada Pell"), BELA)
    token = token_in(sent(world))
    rows = world.rows("SELECT body FROM mail") + world.rows("SELECT * FROM link")
    assert token not in str(rows)
    assert token.partition("-")[2] not in str(rows)


@pytest.mark.parametrize("change", ["later", "forged", "other", "resent"])
def test_a_link_ends_with_time_forgery_and_a_newer_one(world: World, change: str) -> None:
    number = people.invite(world.ctx("Ada Pell"), BELA)
    token, later, kind = token_in(sent(world)), timedelta(), "invitation"
    if change == "later":
        later = timedelta(days=8)
    elif change == "forged":
        token = token[:-1] + ("0" if token[-1] != "0" else "1")
    elif change == "other":
        kind = "password"
    else:
        people.invite_again(world.ctx("Ada Pell"), number)
    with pytest.raises(NotFound):
        people.look(nobody(world, later), kind, token)


@pytest.mark.parametrize(
    ("given", "field"),
    [
        (people.Invited("no address", "Bela"), "email"),
        (people.Invited("a@b", "Bela"), "email"),
        (people.Invited("bela@merrowdale.example\nBcc: x@y.example", "Bela"), "email"),
        (people.Invited("bela@merrowdale.example", "  "), "name"),
        (people.Invited("ada.pell@merrowdale.example", "Ada"), "email"),
        (people.Invited("bela@merrowdale.example", "Bela", 999), "division"),
    ],
)
def test_an_invitation_that_does_not_fit_is_refused(world: World, given: people.Invited, field: str) -> None:
    with pytest.raises(InputFaults) as refused:
        people.invite(world.ctx("Ada Pell"), given)
    assert refused.value.faults[0].field == field
    assert world.rows("SELECT 1 FROM link") == []


def test_only_who_gives_roles_invites_with_one(world: World) -> None:
    roles = {row.name: row.id for row in access.listed(world.ctx("Ines Varga"))}
    area = areas.add_area(world.ctx("Sol Marin"), "Metering", None)
    wanted = people.Invited("bela@merrowdale.example", "Bela", None, roles["operator"], area)
    with pytest.raises(Forbidden):
        people.invite(world.ctx("Ada Pell"), wanted)
    number = people.invite(world.ctx("Ines Varga"), wanted)
    held = [row for row in access.holders(world.ctx("Ines Varga")) if row.person_id == number]
    assert [(row.role, row.where) for row in held] == [("operator", "the area Metering")]


@pytest.mark.parametrize("password", ["short", "aaaaaaaaaaaaaaa", "bela-kiss-2026!", "x" * 201])
def test_weak_passwords_are_refused_without_being_repeated(world: World, password: str) -> None:
    people.invite(world.ctx("Ada Pell"), BELA)
    token = token_in(sent(world))
    with pytest.raises(InputFaults) as refused:
        people.accept(nobody(world), token, "Bela Kiss", password, "UTC")
    assert password not in str(refused.value.faults)
    assert people.look(nobody(world), "invitation", token)


def test_a_forgotten_password_is_set_by_mail_and_ends_every_session(world: World) -> None:
    email = "ada.pell@merrowdale.example"
    session, _ = people.sign_in(nobody(world), email, PASSWORD)
    people.forgot(nobody(world), email)
    people.forgot(nobody(world), email)
    people.forgot(nobody(world), "nobody@merrowdale.example")
    world.settle()
    mails = sent(world)
    assert [mail[0] for mail in mails] == [email]
    people.reset(nobody(world), token_in(mails), NEW)
    with pytest.raises(NotSignedIn):
        people.who_is(nobody(world), session)
    with pytest.raises(NotSignedIn):
        people.sign_in(nobody(world), email, PASSWORD)
    assert people.sign_in(nobody(world, timedelta(minutes=1)), email, NEW)


def test_a_password_is_changed_by_who_knows_it_and_others_are_signed_out(world: World) -> None:
    ada, email = world.ctx("Ada Pell"), "ada.pell@merrowdale.example"
    here, _ = people.sign_in(nobody(world), email, PASSWORD)
    there, _ = people.sign_in(nobody(world), email, PASSWORD)
    with pytest.raises(InputFaults, match="not your password"):
        people.change_password(ada, "wrong", NEW, here)
    people.change_password(ada, PASSWORD, NEW, here)
    assert people.who_is(nobody(world), here)
    with pytest.raises(NotSignedIn):
        people.who_is(nobody(world), there)


def test_sign_ins_are_listed_and_ended_one_by_one(world: World) -> None:
    ada, email = world.ctx("Ada Pell"), "ada.pell@merrowdale.example"
    here, _ = people.sign_in(nobody(world), email, PASSWORD, "a browser")
    there, _ = people.sign_in(nobody(world), email, PASSWORD, "another")
    rows = people.profile(ada, here).sessions
    assert {(row.agent, row.this) for row in rows} == {("a browser", True), ("another", False)}
    people.end_session(ada, next(row.handle for row in rows if not row.this))
    with pytest.raises(NotSignedIn):
        people.who_is(nobody(world), there)
    with pytest.raises(NotFound):
        people.end_session(world.ctx("Tom Okafor"), rows[0].handle)
    assert people.end_other_sessions(ada, here) == 0


def test_a_profile_keeps_what_another_window_saved(world: World) -> None:
    ada = world.ctx("Ada Pell")
    version = people.profile(ada, "").version
    people.change_profile(ada, "Ada P.", "Europe/Oslo", "de-DE", {"news": "none"}, version)
    with pytest.raises(Conflict):
        people.change_profile(ada, "Ada Q.", "UTC", "en-GB", {}, version)
    kept = people.profile(ada, "")
    assert (kept.name, kept.zone, kept.locale) == ("Ada P.", "Europe/Oslo", "de-DE")
    with pytest.raises(InputFaults) as refused:
        people.change_profile(ada, "Ada", "Moon/Base", "xx", {"news": "shout"}, kept.version)
    assert {fault.field for fault in refused.value.faults} == {"zone", "locale", "mail"}


def test_a_stand_in_sees_and_confirms_what_waits_for_who_is_away(world: World) -> None:
    idea = world.noted()
    corin, priya = world.ctx("Corin Dahl"), world.stranger("Priya Raman")
    people.set_away(corin, None, date(2026, 3, 20), priya.actor.person_id)
    stand_in = world.again("Priya Raman")
    assert stand_in.actor.stands_in_for == (corin.actor.person_id,)
    owners.confirm(stand_in, idea)
    assert world.row("SELECT owner_confirmed_at FROM idea WHERE id = %(i)s", i=idea)["owner_confirmed_at"]
    people.set_away(corin, None, None, None)
    assert world.again("Priya Raman").actor.stands_in_for == ()


@pytest.mark.parametrize(
    ("start", "end", "other", "field"),
    [
        (date(2026, 3, 12), None, None, "away_until"),
        (date(2026, 3, 12), date(2026, 3, 11), None, "away_until"),
        (None, date(2026, 3, 1), None, "away_until"),
        (None, date(2026, 3, 20), "Corin Dahl", "stand_in"),
    ],
)
def test_an_absence_that_does_not_fit_is_refused(
    world: World, start: date | None, end: date | None, other: str | None, field: str
) -> None:
    corin = world.ctx("Corin Dahl")
    with pytest.raises(InputFaults) as refused:
        people.set_away(corin, start, end, world.actors[other].person_id if other else None)
    assert refused.value.faults[0].field == field


def test_who_leaves_is_signed_out_and_hands_over_open_work(world: World) -> None:
    idea, lead = world.noted(), world.ctx("Ines Varga")
    corin, lena = world.actors["Corin Dahl"].person_id, world.stranger("Lena Brook").actor.person_id
    assert corin is not None
    session, _ = people.sign_in(nobody(world), "corin.dahl@merrowdale.example", PASSWORD)
    before = people.before_leaving(lead, corin)
    assert [(row.words, row.id) for row in before.work] == [("work owner of", idea)]
    assert (before.roles, before.sessions) == (["work owner"], 1)
    with pytest.raises(InputFaults, match="takes them over"):
        people.deactivate(lead, corin, None)
    assert people.deactivate(lead, corin, lena) == 1
    assert world.row("SELECT owner_id FROM idea WHERE id = %(i)s", i=idea)["owner_id"] == lena
    with pytest.raises(NotSignedIn):
        people.who_is(nobody(world), session)
    with pytest.raises(NotSignedIn):
        people.sign_in(nobody(world), "corin.dahl@merrowdale.example", PASSWORD)
    assert corin not in {row.id for row in people.directory(lead).people}
    people.reactivate(lead, corin)
    assert people.sign_in(nobody(world, timedelta(minutes=1)), "corin.dahl@merrowdale.example", PASSWORD)
    assert world.again("Corin Dahl").actor.roles == ()


def test_nobody_deactivates_themselves_or_the_last_who_gives_roles(world: World) -> None:
    lead, own = world.ctx("Ines Varga"), world.actors["Ines Varga"].person_id
    assert own is not None
    with pytest.raises(Refused, match="yourself"):
        people.deactivate(lead, own, None)
    keeper = access.add_role(lead, access.RoleGiven("Keeper", "", frozenset({"person.see", "person.retire"})))
    access.give(lead, keeper, world.actors["Tom Okafor"].person_id, None, None)
    with pytest.raises(Refused, match="nobody could give roles"):
        people.deactivate(world.again("Tom Okafor"), own, None)


def test_people_are_exported_with_roles_and_state(world: World) -> None:
    people.invite(world.ctx("Ada Pell"), BELA)
    lines = people.as_csv(world.ctx("Ines Varga")).decode("utf-8-sig").splitlines()
    assert lines[0] == "name,mail address,division,state,roles,groups,time zone"
    assert "Ada Pell,ada.pell@merrowdale.example,Networks,active,proposer,,Europe/Lisbon" in lines
    assert any("bela.kiss@merrowdale.example,,invited" in line for line in lines)
    with pytest.raises(Forbidden):
        people.as_csv(world.ctx("Ada Pell"))
