"""What colleagues say about a page: thanks, marks with a remark, and what would help them; all of it goes to
the idea that the routine serves, and to whoever looks after the page."""

from __future__ import annotations

from tallyman.core.alerts import kinds
from tallyman.core.selfservice.words import WordKind
from tallyman.errors import Fault, InputFaults
from tallyman.services import ideas
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.selfservice import reading
from tallyman.services.selfservice.answers import Wished
from tallyman.services.upkeep import Once
from tallyman.services.workshop import find as find_routine
from tallyman.store.db import Tx
from tallyman.store.records.selfservice import ServicePage

LONGEST = 1000
MOST_MARKS = 5


def _kept(
    tx: Tx, ctx: Ctx, page: ServicePage, kind: WordKind, marks: int | None, remark: str, idea: int | None
) -> None:
    once = None if kind == "wish" else kind
    said = {"kind": kind, "marks": marks, "remark": remark, "idea": idea, "once": once}
    tx.write("service_runs.say", page=page.id, person=ctx.actor.person_id, now=ctx.now, **said)
    how = {"thanks": "says thanks for", "wish": "would like more of"}.get(kind, f"gave {marks} of 5 marks to")
    text = f": {remark}" if remark else ""
    row = {"id": page.id, "area_id": page.area_id}
    values = {"how": how, "title": page.title, "text": text}
    tell(tx, ctx, kinds.SERVICE_SAID, row, [page.keeper_id], **values)
    audit(
        tx, ctx, "said of a page", f"routine:{page.routine_id}", f"{ctx.actor.name} {how} {page.title}{text}"
    )
    changed(tx, ctx, "routines", page.routine_id)


def _voice(tx: Tx, ctx: Ctx, page: ServicePage, note: str) -> int | None:
    """A voice for the idea that a page's routine serves; gives the idea, or None where there is none."""
    routine = find_routine(tx, page.routine_id)
    return None if routine.idea_id is None else ideas.voice_from_use(tx, ctx, routine.idea_id, note)


@in_transaction
def thank(tx: Tx, ctx: Ctx, page_id: int) -> None:
    """Says thanks; said again it changes nothing."""
    page = reading.find_to_use(tx, ctx, page_id)
    if "thanks" in reading.said_by(tx, ctx, page_id):
        return
    idea = _voice(tx, ctx, page, f"Thanks for {page.title}")
    _kept(tx, ctx, page, "thanks", None, "", idea)


@in_transaction
def rate(tx: Tx, ctx: Ctx, page_id: int, marks: int, remark: str) -> None:
    """Gives a page marks, 1 to 5, with a remark; given again they take the place of the former."""
    page = reading.find_to_use(tx, ctx, page_id)
    text = remark.strip()
    faults = []
    if not 1 <= marks <= MOST_MARKS:
        faults.append(Fault("marks", marks, f"allowed: 1 to {MOST_MARKS}"))
    if len(text) > LONGEST:
        faults.append(Fault("remark", text[:40] + "…", f"up to {LONGEST:,} characters"))
    if faults:
        raise InputFaults(faults)
    note = f"{marks} of {MOST_MARKS} marks for {page.title}" + (f": {text}" if text else "")
    idea = _voice(tx, ctx, page, note)
    _kept(tx, ctx, page, "rating", marks, text, idea)


@in_transaction
def wish(tx: Tx, ctx: Ctx, page_id: int, text: str, key: str) -> Wished:
    """Says what would help: an amendment of the idea that the routine serves, handed in where that is in
    service and nothing more is needed for it; else it is kept for whoever looks after the page.

    The same key gives the same again.
    """
    clean = text.strip()
    if not 1 <= len(clean) <= LONGEST:
        message = f"say what would help you, in 1 to {LONGEST:,} characters"
        raise InputFaults([Fault("text", text[:40], message)])
    page = reading.find_to_use(tx, ctx, page_id)
    once = Once("wish", key, [page_id, clean])
    known = once.known(tx, ctx)
    if known is not None:
        return Wished(known or None, ideas.stage_of(tx, known) if known else "")
    routine = find_routine(tx, page.routine_id)
    idea = None
    if routine.idea_id is not None:
        idea = ideas.wish_from_use(tx, ctx, routine.idea_id, page.title, clean, key)
    _kept(tx, ctx, page, "wish", None, clean, idea)
    once.made(tx, ctx, idea or 0)
    return Wished(idea, ideas.stage_of(tx, idea) if idea else "")
