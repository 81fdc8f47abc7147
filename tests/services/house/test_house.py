"""House rules: the first run, the company, mail settings, lists of people, erasing somebody who left."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest
from aiosmtpd.controller import Controller

from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, Refused, SlowDown
from tallyman.formats.people_file import read_people
from tallyman.services import people
from tallyman.services.context import Actor, Ctx
from tallyman.services.house import company, mail_server, mails, trail
from tallyman.services.house.answers import DivisionOut
from tallyman.services.ideas import page as ideas_page
from tallyman.services.people import erasure, first_run, lists
from tallyman.services.people.answers import Imported
from tallyman.services.today import house_rules
from tallyman.services.today.answers import EntranceOut
from tallyman.standins.mail_catcher import Caught
from tallyman.store.db import Database
from tests.conftest import NOW, Databases, free_port
from tests.world import World


def nobody(db: Database) -> Ctx:
    return Ctx(db, NOW, Actor(None, "nobody", address="10.0.0.9"))


def come(db: Database, **more: Any) -> None:
    wanted = {
        "code": first_run.code(nobody(db)) or "",
        "name": "Ines Varga",
        "email": "ines.varga@merrowdale.example",
        "password": "six-otters-swim-9",
        "zone": "Europe/Lisbon",
        "company": "Merrowdale Water",
        "currency": "EUR",
        **more,
    }
    first_run.come(nobody(db), first_run.Given(**wanted))


# ---- the first run -----------------------------------------------------------------------------------


def test_the_first_person_becomes_lead_by_the_code_and_sees_six_steps(db: Database) -> None:
    assert house_rules.entrance(nobody(db)) == EntranceOut(first_run=True, outside="")
    code = first_run.code(nobody(db))
    assert code is not None
    assert code == first_run.code(nobody(db))
    come(db, code=code.lower().replace("-", " "))
    token, _ = people.sign_in(nobody(db), "ines.varga@merrowdale.example", "six-otters-swim-9")
    actor = people.who_is(nobody(db), token)
    assert actor.roles == ("lead",)
    ctx = Ctx(db, NOW, actor)
    steps = db.transact(lambda tx: house_rules.first_steps(tx, ctx))
    assert [step.done for step in steps] == [False] * 6
    people.invite(ctx, people.Invited("mei.tanaka@merrowdale.example", "Mei Tanaka"))
    steps = db.transact(lambda tx: house_rules.first_steps(tx, ctx))
    assert [step.done for step in steps] == [True, *[False] * 5]
    assert steps[0].fact == "1 beside you"
    assert first_run.code(nobody(db)) is None
    with pytest.raises(Refused):
        come(db, code=code)


def test_of_two_who_come_first_at_once_one_is(db: Database) -> None:
    code = first_run.code(nobody(db)) or ""

    def one(n: int) -> str:
        try:
            come(db, code=code, email=f"lead{n}@merrowdale.example")
        except Refused:
            return "refused"
        return "first"

    with ThreadPoolExecutor(4) as pool:
        found = sorted(pool.map(one, range(4)))
    assert found == ["first", "refused", "refused", "refused"]


@pytest.mark.parametrize(
    ("field", "given"),
    [
        ("code", {"code": "AAAA-BBBB"}),
        ("email", {"email": "nobody"}),
        ("password", {"password": "short"}),
        ("zone", {"zone": "Mars/Base"}),
        ("currency", {"currency": "euro"}),
        ("company", {"company": " "}),
    ],
)
def test_what_does_not_fit_at_the_first_run_is_named(db: Database, field: str, given: dict[str, str]) -> None:
    with pytest.raises(InputFaults) as caught:
        come(db, **given)
    assert [fault.field for fault in caught.value.faults] == [field]
    assert first_run.code(nobody(db)) is not None


def test_codes_are_not_guessed(db: Database) -> None:
    with pytest.raises(SlowDown):
        for _ in range(12):
            with pytest.raises(InputFaults):
                come(db, code="AAAA")


# ---- the company -------------------------------------------------------------------------------------


def test_the_company_is_renamed_by_whoever_saw_its_newest_name(world: World) -> None:
    lead = world.ctx("Ines Varga")
    company.set_company(lead, "Merrowdale Waters", "Europe/Lisbon", "EUR", "Merrowdale Water")
    assert company.company(lead).name == "Merrowdale Waters"
    with pytest.raises(Conflict):
        company.set_company(lead, "Other", "Europe/Lisbon", "EUR", "Merrowdale Water")
    with pytest.raises(Forbidden):
        company.set_company(world.ctx("Mei Tanaka"), "Other", "UTC", "EUR", "Merrowdale Waters")


def test_the_currency_stays_once_something_is_posted(world: World) -> None:
    lead = world.ctx("Ines Varga")
    company.set_company(lead, "Merrowdale Water", "Europe/Lisbon", "CHF", "Merrowdale Water")
    host, _, routine = world.live()
    world.start(routine)
    world.finish(host, world.take(host), counts={"rows": "5"})
    world.settle(timedelta(minutes=5))
    with pytest.raises(InputFaults, match="posted in CHF"):
        company.set_company(lead, "Merrowdale Water", "Europe/Lisbon", "EUR", "Merrowdale Water")


def places(world: World) -> dict[str, DivisionOut]:
    return {row.name: row for row in company.company(world.ctx("Ines Varga")).divisions}


def test_divisions_are_added_and_renamed_once(world: World) -> None:
    lead = world.ctx("Ines Varga")
    number = company.add_division(lead, "  Fleet &  Stores ")
    company.rename_division(lead, number, "Fleet, Stores")
    assert "Fleet, Stores" in places(world)
    with pytest.raises(InputFaults):
        company.add_division(lead, "networks")
    below = company.add_division(lead, "Networks", number)
    assert places(world)["Fleet, Stores › Networks"].id == below
    with pytest.raises(NotFound):
        company.rename_division(lead, 999_999, "Any")
    with pytest.raises(InputFaults, match="parent"):
        company.add_division(lead, "Leaks", 999_999)


def test_a_division_moves_with_all_below_it_and_never_below_itself(world: World) -> None:
    lead, top = world.ctx("Ines Varga"), world.divisions["Networks"]
    leaks = company.add_division(lead, "Leaks", top)
    repair = company.add_division(lead, "Repair", leaks)
    company.move_division(lead, leaks, world.divisions["Customers & Metering"])
    assert places(world)["Customers & Metering › Leaks › Repair"].depth == 2
    for parent in (leaks, repair):
        with pytest.raises(InputFaults, match="below itself"):
            company.move_division(lead, leaks, parent)
    company.move_division(lead, leaks, None)
    assert "Leaks › Repair" in places(world)
    with pytest.raises(Forbidden):
        company.move_division(world.ctx("Mei Tanaka"), leaks, None)


def test_a_merged_division_takes_its_ideas_people_and_places_along(world: World) -> None:
    lead, top = world.ctx("Ines Varga"), world.divisions["Networks"]
    idea = world.noted()
    company.add_division(lead, "Leaks", top)
    into = company.add_division(lead, "Mains")
    company.merge_division(lead, top, into)
    found = places(world)
    assert "Networks" not in found
    assert (found["Mains"].ideas, found["Mains"].people) == (1, 8)
    assert "Mains › Leaks" in found
    seen = ideas_page.one(world.ctx("Ada Pell"), idea)
    assert seen.division == "Mains"
    assert next(one.value for one in seen.answers if one.key == "division") == into
    rows = ideas_page.page_of_ideas(lead, ideas_page.Wanted(division=into)).rows
    assert [row.id for row in rows] == [idea]
    with pytest.raises(InputFaults, match="into"):
        company.merge_division(lead, into, found["Mains › Leaks"].id)
    company.add_division(lead, "Networks")


def test_the_rules_gathered_are_those_one_may_see(world: World) -> None:
    assert "Audit trail" in [row.title for row in house_rules.gathered(world.ctx("Ines Varga"))]
    assert house_rules.gathered(world.ctx("Ada Pell")) == []


# ---- mail --------------------------------------------------------------------------------------------


class Guarded(Caught):
    """A mail server that wants a password."""

    def __init__(self) -> None:
        super().__init__()
        self.asked: list[tuple[str, str]] = []

    def authenticate(self, server: Any, session: Any, envelope: Any, mechanism: str, data: Any) -> Any:
        from aiosmtpd.smtp import AuthResult

        self.asked.append((data.login.decode(), data.password.decode()))
        return AuthResult(success=data.password == b"hush-mail")


@pytest.fixture
def post() -> Any:
    caught, port = Guarded(), free_port()
    controller = Controller(
        caught, hostname="127.0.0.1", port=port, authenticator=caught.authenticate, auth_require_tls=False
    )
    controller.start()
    yield caught, port
    controller.stop()


def server_at(at: int, **more: Any) -> mail_server.Server:
    one = mail_server.Server("127.0.0.1", at, "none", "tallyman", "desk@merrowdale.example", "hush-mail")
    return replace(one, **more)


def test_mails_leave_by_the_server_that_was_set_with_the_password_from_the_safe(
    world: World, post: Any
) -> None:
    caught, port = post
    lead = world.ctx("Ines Varga")
    mail_server.keep(lead, server_at(port), 0)
    assert "hush-mail" not in str(world.rows("SELECT * FROM setting")) + str(mail_server.shown(lead))
    people.invite(world.ctx("Ada Pell"), people.Invited("bela.kiss@merrowdale.example", "Bela Kiss"))
    assert mails.send_mails(world.program()) == 1
    assert caught.asked == [("tallyman", "hush-mail")]
    assert caught.mails[0]["to"] == ["bela.kiss@merrowdale.example"]


def test_the_test_speaks_by_what_was_typed_and_says_what_the_server_said(world: World, post: Any) -> None:
    caught, port = post
    lead = world.ctx("Ines Varga")
    assert mail_server.test(lead, server_at(port)) == "taken"
    assert caught.mails[0]["to"] == [lead.actor.email]
    with pytest.raises(Refused, match="did not take it"):
        mail_server.test(lead, server_at(port, password="wrong"))
    with pytest.raises(Refused, match="did not take it"):
        mail_server.test(lead, server_at(free_port()))
    assert world.rows("SELECT * FROM setting") == []
    with pytest.raises(SlowDown):
        for _ in range(12):
            mail_server.test(lead, server_at(port))


def test_a_kept_password_goes_to_no_other_server(world: World, post: Any) -> None:
    _, port = post
    lead = world.ctx("Ines Varga")
    mail_server.keep(lead, server_at(port), 0)
    mail_server.keep(lead, server_at(port, password="", sender="other@merrowdale.example"), 1)
    with pytest.raises(InputFaults, match="password"):
        mail_server.test(lead, server_at(port, host="localhost", password=""))


@pytest.mark.parametrize(
    ("field", "given"),
    [
        ("host", {"host": "a b", "security": "tls"}),
        ("port", {"port": 0}),
        ("security", {"security": "ssl3"}),
        ("security", {"host": "mail.merrowdale.example"}),
        ("sender", {"sender": "nobody"}),
    ],
)
def test_mail_settings_that_do_not_fit_are_named(world: World, field: str, given: dict[str, Any]) -> None:
    with pytest.raises(InputFaults) as caught:
        mail_server.keep(world.ctx("Ines Varga"), server_at(25, **given), 0)
    assert [fault.field for fault in caught.value.faults] == [field]


# ---- lists of people ---------------------------------------------------------------------------------

LIST = """name;mail address;division;roles;groups
Vera Holm;Vera.Holm@merrowdale.example;Networks;operator for Metering, expert;
Ada Pell;ada.pell@merrowdale.example;;;
Bad Line;nobody;Nowhere;king;
Vera Again;vera.holm@merrowdale.example;;;
"""


def test_a_list_is_looked_at_line_by_line_and_changes_nothing(world: World) -> None:
    world.machine()
    found = lists.look(world.ctx("Ines Varga"), LIST.encode())
    assert (found.new, found.here, found.faults) == (1, 1, 2)
    bad = found.rows[2]
    assert bad.line == 4
    assert [fault.partition(":")[0] for fault in bad.faults] == [
        "email 'nobody'",
        "there is no division Nowhere",
        "there is no role king",
    ]
    assert "line 2" in found.rows[3].faults[0]
    assert world.rows("SELECT id FROM person WHERE state = 'invited'") == []


def brought_in(world: World, data: bytes) -> Imported:
    """What became of a list once the engine was through with it."""
    lead = world.ctx("Ines Varga")
    number = lists.begin(lead, data)
    world.work_off()
    return lists.outcome(lead, number)


def test_a_long_list_goes_on_piece_by_piece_and_knows_who_stood_in_it_before(world: World) -> None:
    people_ = [f"Person {n},p{n}@merrowdale.example" for n in range(45)]
    lines = ["name,mail address", *people_, people_[0]]
    found = brought_in(world, "\n".join(lines).encode())
    assert (found.invited, found.here, found.done) == (45, 0, 46)
    assert "stands in line 2" in found.left_out[0].faults[0]
    assert found.words == "45 invited, 0 were here already, 1 left out"


def test_a_line_that_always_fails_is_left_out_and_the_others_come_in(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    real = lists.invite_in

    def fail(tx: Any, ctx: Any, wanted: Any, email: str, name: str) -> int:
        if name == "Person 1":
            raise TypeError("anything")
        return real(tx, ctx, wanted, email, name)

    monkeypatch.setattr(lists, "invite_in", fail)
    lines = ["name,mail address", *(f"Person {n},p{n}@merrowdale.example" for n in range(3))]
    found = brought_in(world, "\n".join(lines).encode())
    assert (found.state, found.invited) == ("done", 2)
    assert "TypeError: anything" in found.left_out[0].faults[0]


def test_whose_permission_ended_meanwhile_brings_nobody_in(world: World) -> None:
    lead = world.ctx("Ines Varga")
    number = lists.begin(lead, LIST.encode())
    world.db.transact(
        lambda tx: tx.execute("DELETE FROM held_role WHERE person_id = %(p)s", {"p": lead.actor.person_id})
    )
    world.work_off()
    found = lists.outcome(lead, number)
    assert (found.state, found.invited) == ("failed", 0)
    assert "person.make" in found.words


def test_a_list_brings_in_who_is_new_and_again_nobody(world: World) -> None:
    world.machine()
    lead = world.ctx("Ines Varga")
    found = brought_in(world, LIST.encode())
    assert (found.state, found.done, found.total) == ("done", 4, 4)
    assert (found.invited, found.here) == (1, 1)
    assert [row.line for row in found.left_out] == [4, 5]
    row = next(row for row in people.listed(lead, "invited").rows)
    assert (row.name, row.division) == ("Vera Holm", "Networks")
    assert set(row.roles.split(", ")) == {"operator for Metering", "expert"}
    again = brought_in(world, LIST.encode())
    assert (again.invited, again.here) == (0, 2)


def test_what_was_exported_can_be_brought_in_elsewhere(world: World) -> None:
    lead = world.ctx("Ines Varga")
    lines = read_people(people.as_csv(lead))
    assert len(lines) == 8
    assert {line.roles for line in lines} >= {("lead",), ("work owner",)}
    assert lists.look(lead, people.as_csv(lead)).here == 8


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "is empty"),
        (b"name\nVera", "no such column"),
        (b"\x00\x01name,mail", "is no CSV"),
        (b"name,mail address\n" + b"A,a@b.example\n" * 501, "too many lines"),
        (b"x" * 1_100_000, "too large"),
    ],
)
def test_what_is_no_list_of_people_is_refused_with_reason(data: bytes, words: str) -> None:
    with pytest.raises(InputFaults, match=words):
        read_people(data)


def test_lists_ask_for_making_and_changing_people(world: World) -> None:
    with pytest.raises(Forbidden):
        lists.look(world.ctx("Mei Tanaka"), LIST.encode())


# ---- erasing -----------------------------------------------------------------------------------------


@pytest.fixture
def owner(databases: Databases) -> Any:
    found = databases.connect(owner=True)
    yield found
    found.close()


def test_who_left_is_erased_and_the_chain_and_the_thread_stay_whole(world: World, owner: Database) -> None:
    idea = world.screened()
    lead = world.ctx("Ines Varga")
    ada = world.actors["Ada Pell"].person_id
    assert ada is not None
    world.settle()
    sealed = trail.seal_next(Ctx(world.db, NOW.replace(hour=20), lead.actor), "one")
    assert sealed > 2
    by_owner = Ctx(owner, NOW)
    with pytest.raises(Refused, match="still active"):
        erasure.erase(by_owner, "ada.pell@merrowdale.example")
    people.deactivate(lead, ada, None)
    world.settle()
    shown = erasure.erase(by_owner, "Ada.Pell@merrowdale.example")
    assert shown == f"erased person {ada}"
    for table in ("person", "audit", "mail", "notification", "link", "session", "effect"):
        text = str(world.rows(f"SELECT * FROM {table}"))
        assert "Ada Pell" not in text, table
        assert "ada.pell@" not in text, table
    assert trail.faults(world.program()) == []
    assert world.row("SELECT proposer_id FROM idea WHERE id = %(i)s", i=idea)["proposer_id"] == ada
    with pytest.raises(NotFound):
        erasure.erase(by_owner, "ada.pell@merrowdale.example")


def test_the_application_itself_cannot_erase(world: World) -> None:
    ada = world.actors["Ada Pell"].person_id
    assert ada is not None
    people.deactivate(world.ctx("Ines Varga"), ada, None)
    world.settle()
    with pytest.raises(Exception, match="denied"):
        erasure.erase(world.program(), "ada.pell@merrowdale.example")
