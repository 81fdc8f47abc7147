"""Addresses under one prefix, each worked out when it is first asked for.

What FastAPI makes of a route (its parameters, body and answer as schemas) takes about two milliseconds, with
three hundred routes a good part of a start; and a router that is included makes all of it a second time, with
the first request. So a route here knows its address and methods at once and the rest when it is needed, and
routers are joined, not included.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any, Protocol

from fastapi import APIRouter
from fastapi.routing import APIRoute
from starlette.routing import compile_path

from tallyman.api.common import PREFIX, Problem
from tallyman.core.free import FreeObject

_LOCK = threading.RLock()


class LateRoute(APIRoute):
    """A route that is matched by address and method alone, and becomes a whole one at first use."""

    def __init__(self, path: str, endpoint: Callable[..., Any], **known: Any) -> None:
        self._rest: FreeObject | None = known
        self.path, self.endpoint, self.methods = path, endpoint, set(known["methods"])
        self.path_regex, self.path_format, self.param_convertors = compile_path(path)

    def __getattr__(self, name: str) -> Any:
        """Asked for what is not there yet: the rest is worked out, once."""
        with _LOCK:
            rest, self._rest = self.__dict__.get("_rest"), None
            if rest is not None:
                try:
                    super().__init__(self.path, self.endpoint, **rest)
                except BaseException:
                    # Asked again, it says again what is wrong with it.
                    self._rest = rest
                    raise
        if name not in self.__dict__:
            raise AttributeError(name)
        return self.__dict__[name]


class _Room(Protocol):
    @property
    def router(self) -> APIRouter: ...


class Routes(APIRouter):
    """The routes of a room; `prefix` follows the one of all addresses."""

    def __init__(self, prefix: str = "", tags: list[str] | None = None) -> None:
        super().__init__(
            prefix=PREFIX + prefix,
            tags=list(tags or []),
            # Whatever goes wrong is answered in one shape, everywhere.
            responses={"4XX": {"model": Problem, "description": "What is wrong, and what mends it"}},
            route_class=LateRoute,
        )

    def join(self, *rooms: _Room) -> Routes:
        """These routes and those of others behind them, in their order."""
        for room in rooms:
            self.routes.extend(room.router.routes)
        return self
