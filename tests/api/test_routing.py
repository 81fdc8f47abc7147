"""Routes that are worked out when they are first asked for."""

from __future__ import annotations

import asyncio
import threading

import httpx
import pytest
from fastapi import FastAPI
from fastapi.exceptions import FastAPIError
from fastapi.routing import APIRoute

from tallyman.api.app import create_app
from tallyman.api.routing import LateRoute, Routes


class Room:
    """A room with one list and one thing."""

    def __init__(self, name: str) -> None:
        self.router = Routes(prefix=f"/{name}", tags=[name])

        @self.router.get("/{number}")
        def one(number: int) -> dict[str, int]:
            return {name: number}

        @self.router.post("/{number}", status_code=201)
        def kept(number: int, more: int = 0) -> dict[str, int]:
            return {name: number + more}


def app_of(*rooms: Room) -> FastAPI:
    app = FastAPI()
    app.router.routes.extend(Routes().join(*rooms).routes)
    return app


def ask(app: FastAPI, method: str, path: str) -> httpx.Response:
    async def asked() -> httpx.Response:
        transport = httpx.ASGITransport(app)
        async with httpx.AsyncClient(transport=transport, base_url="http://desk.example") as client:
            return await client.request(method, path)

    return asyncio.run(asked())


def whole(route: LateRoute) -> bool:
    return "dependant" in vars(route)


def late(app: FastAPI) -> list[LateRoute]:
    return [one for one in app.router.routes if isinstance(one, LateRoute)]


def test_only_the_route_that_is_asked_becomes_whole() -> None:
    app = app_of(Room("pumps"), Room("mains"))
    assert ask(app, "GET", "/api/v1/mains/7").json() == {"mains": 7}
    assert [(one.path, sorted(one.methods)) for one in late(app) if whole(one)] == [
        ("/api/v1/mains/{number}", ["GET"])
    ]


def test_method_address_and_input_are_refused_as_by_any_route() -> None:
    app = app_of(Room("pumps"))
    assert ask(app, "DELETE", "/api/v1/pumps/7").status_code == 405
    assert ask(app, "GET", "/api/v1/pipes/7").status_code == 404
    assert ask(app, "GET", "/api/v1/pumps/seven").status_code == 422
    answer = ask(app, "POST", "/api/v1/pumps/7?more=2")
    assert (answer.status_code, answer.json()) == (201, {"pumps": 9})


def test_what_a_route_does_not_have_is_missing_and_not_asked_for_ever() -> None:
    route = late(app_of(Room("pumps")))[0]
    with pytest.raises(AttributeError, match="nothing_of_the_kind"):
        _ = route.nothing_of_the_kind


def test_many_who_ask_first_at_once_get_one_whole_route() -> None:
    route = late(app_of(Room("pumps")))[0]
    start = threading.Barrier(8)
    seen: list[object] = []

    def first() -> None:
        start.wait()
        seen.append(route.dependant)

    threads = [threading.Thread(target=first) for _ in range(8)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert len(seen) == 8
    assert len({id(one) for one in seen}) == 1


def test_every_address_of_the_program_is_late_and_can_become_whole() -> None:
    app = create_app(None)
    routes = [one for one in app.router.routes if isinstance(one, APIRoute) and one.path.startswith("/api/")]
    assert len(routes) > 200
    for route in routes:
        assert isinstance(route, LateRoute), route.path
        assert route.dependant.call is route.endpoint


def test_a_route_that_cannot_be_worked_out_says_why_each_time_it_is_asked() -> None:
    routes = Routes(tags=["pumps"])

    @routes.get("/pumps")
    def pumps(where: Room) -> None:
        """A parameter that no address can carry."""

    route = routes.routes[0]
    for _ in range(2):
        with pytest.raises(FastAPIError, match="Room"):
            _ = route.app
