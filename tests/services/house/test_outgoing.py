"""Where the server may connect to: what was listed, resolved once, and nowhere else."""

from __future__ import annotations

import socket
from collections.abc import Iterator

import pytest
import requests

from tallyman.config import settings
from tallyman.errors import InputFaults, Refused, SlowDown, Unavailable
from tallyman.services.house import mail_server, outgoing
from tallyman.services.house.pinned import Pinned
from tallyman.services.people import provider, single_sign_on
from tests.world import World


@pytest.fixture
def only_listed() -> Iterator[None]:
    before = settings().outgoing
    settings().outgoing = ("mail.merrowdale.example:25", "login.merrowdale.example")
    yield
    settings().outgoing = before


@pytest.fixture
def contacted(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """Every connection that is tried, none of which is made."""
    found: list[str] = []

    def connect(address: tuple[str, int], *_: object, **__: object) -> socket.socket:
        found.append(f"{address[0]}:{address[1]}")
        raise OSError("no network in a test")

    monkeypatch.setattr(socket, "create_connection", connect)
    return found


def names(monkeypatch: pytest.MonkeyPatch, address: str) -> None:
    family = socket.AF_INET6 if ":" in address else socket.AF_INET
    answer = [(family, socket.SOCK_STREAM, 6, "", (address, 0))]
    monkeypatch.setattr(socket, "getaddrinfo", lambda *_, **__: answer)


def server(host: str, port: int = 25) -> mail_server.Server:
    return mail_server.Server(host, port, "none", "", "tallyman@merrowdale.example")


@pytest.mark.parametrize(
    "host", ["127.0.0.1", "localhost", "::1", "10.0.0.7", "elsewhere.example", "169.254.169.254"]
)
def test_the_test_of_a_mail_server_reaches_nothing_that_is_not_listed(
    world: World, only_listed: None, contacted: list[str], host: str
) -> None:
    for port in (22, 25, 3306):
        with pytest.raises(InputFaults, match="TALLYMAN_OUTGOING"):
            mail_server.test(world.ctx("Ines Varga"), server(host, port))
    assert contacted == []


def test_a_listed_host_is_asked_by_its_resolved_address(
    world: World, only_listed: None, contacted: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    names(monkeypatch, "192.0.2.9")
    with pytest.raises(Refused, match="did not take it"):
        mail_server.test(world.ctx("Ines Varga"), server("mail.merrowdale.example"))
    assert contacted == ["192.0.2.9:25"]
    # Another port of the same host is not listed.
    with pytest.raises(InputFaults):
        mail_server.test(world.ctx("Ines Varga"), server("mail.merrowdale.example", 26))


@pytest.mark.parametrize("address", ["127.0.0.1", "::1", "169.254.169.254", "0.0.0.0"])
def test_a_listed_name_that_leads_to_this_machine_is_refused(
    world: World, only_listed: None, contacted: list[str], monkeypatch: pytest.MonkeyPatch, address: str
) -> None:
    names(monkeypatch, address)
    with pytest.raises(Refused, match="no other machine"):
        mail_server.test(world.ctx("Ines Varga"), server("mail.merrowdale.example"))
    with pytest.raises(Unavailable, match="no other machine"):
        outgoing.resolved("login.merrowdale.example", 443)
    assert contacted == []


@pytest.mark.parametrize(
    "issuer",
    [
        "http://127.0.0.1:9",
        "https://elsewhere.example",
        "https://[",
        "https://x:y",
        "https://login.merrowdale.example@127.0.0.1",
    ],
)
def test_an_identity_provider_is_probed_only_where_it_is_listed(
    world: World, only_listed: None, contacted: list[str], issuer: str
) -> None:
    given = single_sign_on.Given(True, "One", issuer, "tallyman", "groups", None, "")
    with pytest.raises(InputFaults) as refused:
        single_sign_on.keep(world.ctx("Ines Varga"), given, 0)
    assert refused.value.faults[0].field == "issuer"
    assert contacted == []


def test_probing_is_slowed(
    world: World, only_listed: None, contacted: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    names(monkeypatch, "192.0.2.9")
    monkeypatch.setattr(provider, "_json", lambda url: (_ for _ in ()).throw(Unavailable("away", "later")))
    given = single_sign_on.Given(
        True, "One", "https://login.merrowdale.example", "tallyman", "groups", None, ""
    )
    for _ in range(10):
        with pytest.raises(Unavailable):
            single_sign_on.keep(world.ctx("Ines Varga"), given, 0)
    with pytest.raises(SlowDown):
        single_sign_on.keep(world.ctx("Ines Varga"), given, 0)


def test_a_request_goes_to_the_pinned_address_under_the_hosts_own_name(
    only_listed: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    names(monkeypatch, "192.0.2.9")
    session = requests.Session()
    outgoing.pin(session)
    adapter = session.get_adapter("https://login.merrowdale.example/keys")
    assert isinstance(adapter, Pinned)
    request = requests.Request("GET", "https://login.merrowdale.example/keys").prepare()
    where, pool = adapter.build_connection_pool_key_attributes(request, True)
    assert where["host"] == "192.0.2.9"
    assert (pool["server_hostname"], pool["assert_hostname"]) == ("login.merrowdale.example",) * 2
    with pytest.raises((InputFaults, requests.RequestException), match="TALLYMAN_OUTGOING"):
        session.get("https://elsewhere.example/")
    session.close()
