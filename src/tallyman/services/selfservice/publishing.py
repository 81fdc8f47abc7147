"""Publishing a routine to colleagues: its page, for whom, who looks after it; pausing it, taking it back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound, Refused
from tallyman.formats.schemas import called, misfits
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.selfservice.answers import ManagedPage, PageGroup, PageInput, PageSetup
from tallyman.services.selfservice.reading import PUBLISH, sums_of, words_of
from tallyman.services.workshop import find_for, in_use, withdrawn
from tallyman.store.db import Tx
from tallyman.store.records.people import Person
from tallyman.store.records.selfservice import ServicePage, ServicePageLocked
from tallyman.store.records.workshop import Routine

LONGEST_TITLE, LONGEST_DOES, LONGEST_NEEDS, LONGEST_WHY = 120, 2000, 1000, 500


@dataclass(frozen=True)
class Given:
    """A page as somebody writes it: `asks` names the inputs that it asks for; `groups` count where it is not
    for all."""

    title: str
    does: str
    needs: str = ""
    asks: list[str] = field(default_factory=list)
    keeper_id: int | None = None
    for_all: bool = True
    groups: list[int] = field(default_factory=list)


def _routine(tx: Tx, ctx: Ctx, routine_id: int, permission: str = PUBLISH) -> Routine:
    return find_for(tx, ctx, routine_id, permission)


def _against(tx: Tx, routine: Routine) -> list[str]:
    """What stands against publishing a routine, each with what mends it; nothing where it can be."""
    found = []
    release = f"{routine.package} {routine.release_version}"
    if routine.retired_at is not None:
        found.append("It is retired: publish one that is in use")
    if gone := withdrawn(routine):
        found.append(f"{gone}: give it another release")
    if tx.value(int, "service.passed", release=routine.release_id) is None:
        found.append(f"No run of {release} has ended well yet: let one pass first")
    return found


def _faults_of_text(given: Given) -> list[Fault]:
    faults = []
    for name, text, least, most in (
        ("title", given.title, 1, LONGEST_TITLE),
        ("does", given.does, 1, LONGEST_DOES),
        ("needs", given.needs, 0, LONGEST_NEEDS),
    ):
        if not least <= len(text.strip()) <= most:
            said = f"up to {most:,} characters" if least == 0 else f"write 1 to {most:,} characters"
            faults.append(Fault(name, text[:40], said))
    return faults


def _faults_of_inputs(routine: Routine, asks: Sequence[str]) -> list[Fault]:
    """Inputs that the release does not have, and those that would be given by nobody."""
    declared = routine.schema.get("properties") or {}
    faults = [
        Fault("asks", name, f"{routine.package} {routine.release_version} takes no such input")
        for name in asks
        if name not in declared
    ]
    lacking = [
        one
        for one in misfits(routine.schema, routine.inputs)
        if not any(one.field.removeprefix("inputs.").split(".")[0] == name for name in asks)
    ]
    faults += [
        Fault("asks", None, f"{called(routine.schema, one)}: ask for it here, or give it in the set-up")
        for one in lacking
    ]
    return faults


def _faults_of_readers(tx: Tx, given: Given) -> list[Fault]:
    faults = []
    known = {one.id for one in tx.all(PageGroup, "service.groups")}
    if not given.for_all and not given.groups:
        faults.append(Fault("groups", None, "choose a group, or publish it for all"))
    if given.for_all and given.groups:
        faults.append(Fault("groups", given.groups, "it is for all, so choose no group"))
    faults += [
        Fault("groups", one, "there is no such group in use") for one in given.groups if one not in known
    ]
    keeper = None if given.keeper_id is None else tx.one(Person, "people.by_id", id=given.keeper_id)
    if keeper is None or keeper.state != "active" or not keeper.active:
        message = "choose somebody who is here and looks after it; colleagues ask them"
        faults.append(Fault("keeper_id", given.keeper_id, message))
    return faults


def _checked(tx: Tx, routine: Routine, given: Given) -> dict[str, object]:
    """The page's own values. Raises InputFaults naming whatever does not fit, all at once."""
    faults = _faults_of_text(given) + _faults_of_inputs(routine, given.asks) + _faults_of_readers(tx, given)
    if faults:
        raise InputFaults(faults)
    return {
        "title": given.title.strip(),
        "does": given.does.strip(),
        "needs": given.needs.strip(),
        "asks": [name for name in routine.schema.get("properties") or {} if name in given.asks],
        "keeper": given.keeper_id,
        "for_all": given.for_all,
    }


def _set_groups(tx: Tx, page_id: int, given: Given) -> None:
    tx.write("service.drop_groups", page=page_id)
    for one in dict.fromkeys(given.groups):
        tx.write("service.add_group", page=page_id, grp=one)


def _whom(tx: Tx, given: Given) -> str:
    if given.for_all:
        return "all"
    names = {one.id: one.name for one in tx.all(PageGroup, "service.groups")}
    return ", ".join(names[one] for one in dict.fromkeys(given.groups))


@in_transaction
def setup(tx: Tx, ctx: Ctx, routine_id: int) -> PageSetup:
    """The page of a routine as whoever sees the routine reads it, or what it would begin with."""
    routine = _routine(tx, ctx, routine_id, "routine.see")
    number = tx.value(int, "service.of_routine", routine=routine_id)
    page = None
    if number is not None:
        page = tx.one(ServicePage, "service.one", id=number, person=ctx.actor.person_id or 0)
    declared = routine.schema.get("properties") or {}
    needed = set(routine.schema.get("required") or [])
    me = ctx.actor
    return PageSetup(
        routine_id=routine_id,
        routine=routine.name,
        id=None if page is None else page.id,
        title=page.title if page else routine.name[:LONGEST_TITLE],
        does=page.does if page else "",
        needs=page.needs if page else "",
        # At first what it must be given and has not.
        asks=page.asks if page else [name for name in declared if name not in routine.inputs],
        keeper_id=page.keeper_id if page else me.person_id,
        keeper=page.keeper if page else me.name,
        for_all=page.for_all if page else True,
        groups=[one.id for one in tx.all(PageGroup, "service.groups_of", page=page.id)] if page else [],
        state=page.state if page else None,
        why=page.why if page else "",
        version=page.version if page else 0,
        inputs=[
            PageInput(name, str(declared[name].get("title") or name), name in needed, name in routine.inputs)
            for name in declared
        ],
        all_groups=tx.all(PageGroup, "service.groups"),
        against=_against(tx, routine),
        on_trial=routine.on_trial,
        may=me.may_at(PUBLISH, routine.area_id),
        sums=sums_of(tx, page.id) if page else None,
        said=words_of(tx, page.id) if page else [],
    )


@in_transaction
def publish(tx: Tx, ctx: Ctx, routine_id: int, given: Given) -> int:
    """Makes the page of a routine; gives its number. Raises Refused naming what stands against it."""
    ctx.require(PUBLISH)
    routine = in_use(_routine(tx, ctx, routine_id))
    if against := _against(tx, routine):
        raise Refused(f"{routine.name} cannot be published yet.", f"{'; '.join(against)}.")
    kept = _checked(tx, routine, given)
    try:
        page = tx.insert("service.add", routine=routine_id, person=ctx.actor.person_id, now=ctx.now, **kept)
    except Clash:
        raise Refused(f"{routine.name} has a page already.", "Load the page again.") from None
    _set_groups(tx, page, given)
    words = f"Published {routine.name} to colleagues as {kept['title']}, for {_whom(tx, given)}"
    audit(tx, ctx, "self-service page published", f"routine:{routine_id}", words, None, kept)
    changed(tx, ctx, "routines", routine_id)
    return page


def _locked(tx: Tx, ctx: Ctx, page_id: int) -> tuple[ServicePage, Routine]:
    ctx.require(PUBLISH)
    tx.one(ServicePageLocked, "service.lock", id=page_id)
    page = tx.one(ServicePage, "service.one", id=page_id, person=ctx.actor.person_id or 0)
    if page is None or not ctx.actor.may_at("routine.see", page.area_id):
        raise NotFound("There is no such page.", "Choose one in the Workshop.")
    return page, _routine(tx, ctx, page.routine_id)


@in_transaction
def change(tx: Tx, ctx: Ctx, page_id: int, given: Given, version: int) -> None:
    """Changes a page; one that was taken back is open again by that. Raises Conflict when somebody did
    meanwhile."""
    page, routine = _locked(tx, ctx, page_id)
    if page.state == "taken back" and (against := _against(tx, routine)):
        raise Refused(f"{routine.name} cannot be published again yet.", f"{'; '.join(against)}.")
    kept = _checked(tx, routine, given)
    if not tx.write("service.set", id=page_id, version=version, **kept):
        raise _conflict(page, {"title": kept["title"], "does": kept["does"], "needs": kept["needs"]})
    _set_groups(tx, page_id, given)
    again = " again" if page.state == "taken back" else ""
    words = f"Changed the self-service page {kept['title']}, for {_whom(tx, given)}"
    if again:
        words = f"Published {kept['title']} again, for {_whom(tx, given)}"
    before = {"title": page.title, "does": page.does, "needs": page.needs, "asks": page.asks}
    audit(tx, ctx, "self-service page changed", f"routine:{routine.id}", words, before, kept)
    changed(tx, ctx, "routines", routine.id)


def _conflict(page: ServicePage, yours: dict[str, object]) -> Conflict:
    return Conflict(
        f"Somebody changed the page {page.title} meanwhile.",
        "Look at both, then save yours again.",
        theirs={"title": page.title, "does": page.does, "needs": page.needs},
        yours=yours,
        version=page.version,
    )


STATES = {"open": "Opened", "paused": "Paused", "taken back": "Took back"}


@in_transaction
def set_state(tx: Tx, ctx: Ctx, page_id: int, state: str, why: str, version: int) -> None:
    """Pauses a page or takes it back with a sentence for colleagues, or opens it again."""
    page, routine = _locked(tx, ctx, page_id)
    faults = []
    if state not in STATES:
        faults.append(Fault("state", state, f"allowed: {', '.join(STATES)}"))
    if state != "open" and not 1 <= len(why.strip()) <= LONGEST_WHY:
        message = f"say why, in 1 to {LONGEST_WHY} characters; colleagues read it"
        faults.append(Fault("why", why[:40], message))
    if faults:
        raise InputFaults(faults)
    if page.state == "taken back" and state != "open":
        raise Refused(f"{page.title} was taken back.", "Publish it again first.")
    if state == "open" and page.state == "taken back" and (against := _against(tx, routine)):
        raise Refused(f"{routine.name} cannot be published again yet.", f"{'; '.join(against)}.")
    said = "" if state == "open" else why.strip()
    if not tx.write("service.set_state", id=page_id, state=state, why=said, version=version, now=ctx.now):
        raise _conflict(page, {"state": state, "why": said})
    words = f"{STATES[state]} the self-service page {page.title}" + (f": {said}" if said else "")
    audit(tx, ctx, "self-service page " + state, f"routine:{routine.id}", words)
    changed(tx, ctx, "routines", routine.id)


@in_transaction
def managed(tx: Tx, ctx: Ctx) -> list[ManagedPage]:
    """The pages of the routines that the actor sees, with how they are used."""
    ctx.require("routine.see")
    return tx.all(ManagedPage, "service.managed", **ctx.scope("routine.see"))
