"""Single sign-on against the identity stand-in: who comes, as whom, with which groups, and what is refused."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from typing import Any
from urllib.parse import parse_qs, urlsplit

import httpx
import pytest

from tallyman.config import read_clock
from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, NotSignedIn, Unavailable
from tallyman.services import access, people
from tallyman.services.context import Actor, Ctx
from tallyman.services.people import provider, single_sign_on
from tallyman.standins.identity import Provider, server
from tallyman.store.records.access import Member
from tests.conftest import free_port
from tests.world import World

PEOPLE: list[dict[str, Any]] = [
    {
        "sub": "1",
        "name": "Vera Holm",
        "email": "vera.holm@merrowdale.example",
        "email_verified": True,
        "groups": ["lab"],
    },
    {
        "sub": "2",
        "name": "Ada P.",
        "email": "ada.pell@merrowdale.example",
        "email_verified": True,
        "groups": [],
    },
    {"sub": "3", "name": "Mal Lory", "email": "ines.varga@merrowdale.example", "email_verified": False},
]


@pytest.fixture
def idp() -> Iterator[Provider]:
    port = free_port()
    made = Provider(f"http://127.0.0.1:{port}", "tallyman", "hush", PEOPLE)
    pages = server(made, port)
    thread = threading.Thread(target=pages.serve_forever, daemon=True)
    thread.start()
    yield made
    pages.shutdown()
    pages.server_close()
    thread.join()


def nobody(world: World) -> Ctx:
    return Ctx(world.db, read_clock(), Actor(None, "nobody", address="10.0.0.9"))


def given(idp: Provider, **more: Any) -> single_sign_on.Given:
    return single_sign_on.Given(
        **{
            "on": True,
            "name": "Merrowdale",
            "issuer": idp.issuer,
            "client_id": "tallyman",
            "groups_claim": "groups",
            "role_id": None,
            "secret": "hush",
            **more,
        }
    )


def turn_on(world: World, idp: Provider, **more: Any) -> None:
    lead = world.ctx("Ines Varga")
    single_sign_on.keep(lead, given(idp, **more), single_sign_on.shown(lead).version)


def choose(url: str, sub: str) -> dict[str, str]:
    """What the browser does at the provider; gives what it brings back."""
    asked = {key: values[0] for key, values in parse_qs(urlsplit(url).query).items()}
    issuer = url.partition("/ask")[0]
    answer = httpx.post(f"{issuer}/chosen", data={**asked, "sub": sub})
    brought = parse_qs(urlsplit(answer.headers["location"]).query)
    return {key: values[0] for key, values in brought.items()}


def come(world: World, sub: str) -> single_sign_on.Entered:
    url, state = single_sign_on.start(nobody(world), "/ideas")
    brought = choose(url, sub)
    return single_sign_on.come_back(nobody(world), brought["state"], state, brought["code"], "a browser")


def members(world: World, group: int) -> list[str]:
    rows = world.db.transact(lambda tx: tx.all(Member, "access.members", group=group))
    return [row.name for row in rows]


def test_a_newcomer_is_made_with_the_chosen_role_and_the_groups_of_the_claims(
    world: World, idp: Provider
) -> None:
    lead = world.ctx("Ines Varga")
    group = access.add_group(lead, "Laboratory desk", "", "lab", [])
    roles = {row.name: row.id for row in access.listed(lead)}
    turn_on(world, idp, role_id=roles["reviewer"])
    entered = come(world, "1")
    assert entered.back == "/ideas"
    actor = people.who_is(nobody(world), entered.token)
    assert (actor.name, actor.email) == ("Vera Holm", "vera.holm@merrowdale.example")
    assert actor.may("idea.decide")
    assert members(world, group) == ["Vera Holm"]
    again = people.who_is(nobody(world), come(world, "1").token)
    assert again.person_id == actor.person_id
    world.settle(read_clock() - world.now)
    texts = [row["text"] for row in world.rows("SELECT text FROM notification")]
    assert texts == ["Vera Holm came in by single sign-on for the first time"]


def test_a_claim_that_is_gone_takes_the_group_but_not_who_was_put_in_by_hand(
    world: World, idp: Provider
) -> None:
    lead = world.ctx("Ines Varga")
    ada = world.actors["Ada Pell"].person_id
    assert ada is not None
    desk = access.add_group(lead, "Laboratory desk", "", "lab", [ada])
    turn_on(world, idp)
    come(world, "1")
    come(world, "2")
    idp.people["1"] = {**PEOPLE[0], "groups": []}
    come(world, "1")
    assert members(world, desk) == ["Ada Pell"]


def test_a_known_person_is_found_by_their_proved_address_and_bound(world: World, idp: Provider) -> None:
    turn_on(world, idp)
    actor = people.who_is(nobody(world), come(world, "2").token)
    assert actor.person_id == world.actors["Ada Pell"].person_id
    idp.people["2"] = {**PEOPLE[1], "email": "another@merrowdale.example"}
    assert people.who_is(nobody(world), come(world, "2").token).person_id == actor.person_id


def test_an_address_that_is_not_proved_gets_nobody_in(world: World, idp: Provider) -> None:
    turn_on(world, idp)
    with pytest.raises(Forbidden, match="no proved mail address"):
        come(world, "3")
    assert world.rows("SELECT token_hash FROM session") == []


def test_who_left_does_not_come_back_this_way(world: World, idp: Provider) -> None:
    turn_on(world, idp)
    come(world, "2")
    ada = world.actors["Ada Pell"].person_id
    assert ada is not None
    people.deactivate(world.ctx("Ines Varga"), ada, None)
    with pytest.raises(Forbidden, match="not active any more"):
        come(world, "2")


def test_a_state_works_once_and_in_the_browser_that_began(world: World, idp: Provider) -> None:
    turn_on(world, idp)
    url, state = single_sign_on.start(nobody(world), "/")
    brought = choose(url, "1")
    with pytest.raises(NotSignedIn):
        single_sign_on.come_back(nobody(world), state, "another browser's", brought["code"], "")
    single_sign_on.come_back(nobody(world), state, state, brought["code"], "")
    with pytest.raises(NotSignedIn):
        single_sign_on.come_back(nobody(world), state, state, brought["code"], "")


@pytest.mark.parametrize("change", ["code", "key", "client", "nonce", "over"])
def test_what_the_provider_did_not_confirm_gets_nobody_in(world: World, idp: Provider, change: str) -> None:
    turn_on(world, idp)
    url, state = single_sign_on.start(nobody(world), "/")
    brought = choose(url, "1")
    if change == "code":
        brought["code"] = "made-up"
    elif change == "key":
        other = Provider(idp.issuer, "tallyman", "hush", PEOPLE)
        keys = idp.keys()
        idp.key = other.key
        idp.keys = lambda: keys  # type: ignore[method-assign]
    elif change == "client":
        idp.codes[brought["code"]]["code_challenge"] = "of another browser"
    elif change == "nonce":
        idp.codes[brought["code"]]["nonce"] = "of another sign-in"
    else:
        idp.codes[brought["code"]]["until"] = 0
    with pytest.raises(NotSignedIn, match="did not confirm"):
        single_sign_on.come_back(nobody(world), state, state, brought["code"], "")


@pytest.mark.parametrize("back", ["//elsewhere.example", "https://elsewhere.example", "/\\elsewhere.example"])
def test_nobody_is_led_elsewhere_afterwards(world: World, idp: Provider, back: str) -> None:
    turn_on(world, idp)
    url, state = single_sign_on.start(nobody(world), back)
    brought = choose(url, "1")
    assert single_sign_on.come_back(nobody(world), state, state, brought["code"], "").back == "/"


def test_it_is_turned_on_only_when_the_provider_answers_under_its_name(world: World, idp: Provider) -> None:
    lead = world.ctx("Ines Varga")
    away = f"http://127.0.0.1:{free_port()}"
    with pytest.raises(Unavailable):
        single_sign_on.keep(lead, given(idp, issuer=away), 0)
    named = given(idp)
    idp.issuer = "http://127.0.0.1:1"
    with pytest.raises(Unavailable, match="it calls itself"):
        single_sign_on.keep(lead, named, 0)
    assert single_sign_on.shown(lead).on is False


@pytest.mark.parametrize(
    "issuer", ["http://login.merrowdale.example", "ftp://x", "login", "https://x.example?a=b"]
)
def test_an_issuer_is_spoken_to_by_https_alone(issuer: str) -> None:
    with pytest.raises(InputFaults):
        provider.check_issuer(issuer)


def test_another_issuer_wants_its_own_secret_and_two_windows_are_told(world: World, idp: Provider) -> None:
    turn_on(world, idp)
    lead = world.ctx("Ines Varga")
    elsewhere = given(idp, on=False, issuer="https://login.merrowdale.example", secret="")
    with pytest.raises(InputFaults):
        single_sign_on.keep(lead, elsewhere, 1)
    with pytest.raises(Conflict):
        single_sign_on.keep(lead, given(idp), 0)
    assert "hush" not in str(world.rows("SELECT * FROM setting")) + str(world.rows("SELECT * FROM audit"))


def test_while_it_is_off_nobody_comes_this_way(world: World, idp: Provider) -> None:
    with pytest.raises(NotFound):
        single_sign_on.start(nobody(world), "/")
    with pytest.raises(Forbidden):
        single_sign_on.keep(world.ctx("Mei Tanaka"), given(idp), 0)


def test_signing_out_leads_to_the_provider_too(world: World, idp: Provider) -> None:
    turn_on(world, idp)
    token = come(world, "1").token
    url = single_sign_on.sign_out_address(nobody(world), token)
    assert url is not None
    assert url.startswith(f"{idp.issuer}/leave?id_token_hint=ey")
    httpx.get(url)
    assert len(idp.left) == 1
    by_password, _ = people.sign_in(nobody(world), "ada.pell@merrowdale.example", "meadow-and-weir-9")
    assert single_sign_on.sign_out_address(nobody(world), by_password) is None
