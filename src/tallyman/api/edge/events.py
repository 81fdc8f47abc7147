"""The event stream: hints that a subject changed; readers ask again."""

from __future__ import annotations

import json
from collections.abc import AsyncIterator

from fastapi import Request
from sse_starlette import EventSourceResponse

from tallyman.api.common import SignedIn
from tallyman.api.edge.hub import Hint, Hub
from tallyman.api.routing import Routes
from tallyman.services.context import Actor

router = Routes(tags=["events"])
NEEDED = {
    "runs": "run.see",
    "robots": "robot.see",
    "routines": "routine.see",
    "packages": "package.see",
    "tally": "value.see",
    "rates": "rate.see",
    "access": "role.see",
    "people": "person.see",
    "safe": "secret.see",
    "tokens": "token.see",
    "house": "house.change",
}


def shown(actor: Actor, hint: Hint) -> dict[str, object] | None:
    """The hint as this person may see it, or None."""
    if hint.subject == "notifications":
        mine = hint.number == actor.person_id
        return {"subject": hint.subject, "id": None} if mine else None
    if hint.subject in NEEDED and not actor.may(NEEDED[hint.subject]):
        return None
    wide = NEEDED.get(hint.subject, "idea.see" if hint.subject == "ideas" else "")
    # Who sees only some areas hears that something changed, not which number it has.
    number = hint.number if not wide or actor.areas(wide) is None else None
    return {"subject": hint.subject, "id": number}


@router.get("/events", response_class=EventSourceResponse)
async def events(request: Request, ctx: SignedIn) -> EventSourceResponse:
    """Server-sent events `change` with {"subject", "id"}."""
    hub: Hub = request.app.state.hub
    actor = ctx.actor

    async def stream() -> AsyncIterator[dict[str, str]]:
        yield {"event": "open", "data": "{}"}
        async for hint in hub.hints():
            data = shown(actor, hint)
            if data is not None:
                yield {"event": "change", "data": json.dumps(data)}

    return EventSourceResponse(stream(), ping=15)
