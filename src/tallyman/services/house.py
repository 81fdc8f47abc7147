"""House rules gathered: what is set where, whose installation this is, and the first steps of a new one."""

from __future__ import annotations

from typing import Any

from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound
from tallyman.services.access import asking
from tallyman.services.context import Ctx, audit, changed, company_of
from tallyman.services.people import first, outside
from tallyman.services.rates import OF_CASES
from tallyman.store.db import Row, Tx


def _rules(ctx: Ctx, counts: dict[str, Any]) -> list[dict[str, Any]]:
    """Every house rule: where it is, what it is for, how it stands, and what seeing it asks for."""

    def rule(title: str, words: str, fact: str, link: str, permission: str) -> dict[str, Any]:
        shown = {"title": title, "words": words, "fact": fact, "link": link}
        return {**shown, "may": ctx.actor.may(permission), "permission": permission}

    def number(count: int, one: str, many: str) -> str:
        return f"{count:,} {one if count == 1 else many}"

    areas = number(counts["areas"], "area", "areas")
    closed = number(counts["closed_days"], "closed day", "closed days")
    persons = number(counts["people"], "person", "people")
    groups = number(counts["groups_there"], "group", "groups")
    return [
        rule(
            "Company",
            "Name, zone, currency, divisions",
            number(counts["divisions"], "division", "divisions"),
            "/house/company",
            "house.change",
        ),
        rule(
            "Cost tables",
            "What an hour, a seat, software and a day of building cost, for whom, from when",
            f"{counts['rates']} of {len(OF_CASES)} needed kinds, {counts['rows']:,} rows",
            "/value/rates",
            "rate.see",
        ),
        rule(
            "How ideas come in and move",
            "Interviews, factors of the first look, limits and needs of stages, thanks",
            number(counts["rule_versions"], "change made", "changes made")
            if counts["rule_versions"]
            else "as Tallyman comes",
            "/house/ideas",
            "house.change",
        ),
        rule(
            "Calendar",
            "On which days nobody works: plans, rhythms and a robot's year rest on it",
            closed,
            "/house/calendar",
            "area.see",
        ),
        rule(
            "Systems",
            "What the work touches, how a robot gets at it, what breaks if it changes",
            number(counts["systems"], "system", "systems"),
            "/house/systems",
            "system.see",
        ),
        rule(
            "Areas", "What is worked in common, and their own closed days", areas, "/house/areas", "area.see"
        ),
        rule(
            "People and groups",
            "Who is here, invitations, lists in and out",
            f"{persons}, {groups}",
            "/house/people",
            "person.see",
        ),
        rule(
            "Roles",
            "What each role allows, and who holds it for what",
            f"{counts['roles'] - counts['own_roles']} built in, {counts['own_roles']} own",
            "/house/roles",
            "role.see",
        ),
        rule(
            "Access asked for",
            "Requests that wait for an answer",
            f"{counts['requests']} open",
            "/house/access",
            "role.decide",
        ),
        rule(
            "Sign-in",
            "Single sign-on by the company's identity provider",
            "on" if counts["outside"] else "off: people sign in with a password",
            "/house/sign-in",
            "house.change",
        ),
        rule(
            "Secrets",
            "Passwords and values that robots and settings use, shown to nobody",
            number(counts["secrets"], "secret", "secrets"),
            "/house/secrets",
            "secret.see",
        ),
        rule(
            "Tokens for programs",
            "What programs of people may do, until when",
            number(counts["tokens"], "open token", "open tokens"),
            "/house/tokens",
            "token.see",
        ),
        rule(
            "Mail",
            "The mail server, and what was sent to whom",
            number(counts["mails_waiting"], "mail waits", "mails wait"),
            "/house/mail",
            "mail.see",
        ),
        rule(
            "Audit trail",
            "Who changed what, from what to what",
            "sealed in a chain",
            "/house/trail",
            "audit.see",
        ),
    ]


def gathered(ctx: Ctx) -> list[dict[str, Any]]:
    """The house rules that the actor may see, each with how it stands."""

    def work(tx: Tx) -> list[dict[str, Any]]:
        areas, secrets = ctx.scope("area.see"), ctx.scope("secret.see")
        counts = (
            tx.one(
                "house.counts",
                now=ctx.now,
                kinds=OF_CASES,
                all_areas=areas["everywhere"],
                areas=areas["areas"],
                all_secrets=secrets["everywhere"],
                secret_areas=secrets["areas"],
            )
            or {}
        )
        counts["requests"] = len(asking.rows_waiting(tx, ctx)) if ctx.actor.may("role.decide") else 0
        outside = tx.one("safe.setting", name="identity")
        counts["outside"] = bool(outside and outside["value"]["on"])
        return [row for row in _rules(ctx, counts) if row["may"]]

    return ctx.db.transact(work)


def company(ctx: Ctx) -> dict[str, Any]:
    """Whose installation this is, and its divisions with how much belongs to each."""
    ctx.require("house.change")

    def work(tx: Tx) -> dict[str, Any]:
        counts = {row["id"]: row for row in tx.all("house.division_counts")}
        rows = [{**counts[row["id"]], **row} for row in tx.all("people.divisions") if row["id"] in counts]
        return {**company_of(tx), "divisions": rows}

    return ctx.db.transact(work)


def set_company(ctx: Ctx, name: str, zone: str, currency: str, seen: str) -> None:
    """Names the company, its zone and its currency; `seen` is the name that was shown.

    The currency stays once something was posted in it: sums of two currencies are no sum.
    """
    ctx.require("house.change")
    first.check_company(name, zone, currency)

    def work(tx: Tx) -> None:
        before = dict(company_of(tx))
        if seen != before["name"]:
            raise Conflict(
                "Somebody changed the company meanwhile.",
                "Look at it now, then keep yours again.",
                theirs=before,
                yours={"name": name, "zone": zone, "currency": currency},
                version=0,
            )
        posted = tx.value("tally.anything_posted")
        if currency != before["currency"] and posted is not None:
            message = f"entries are posted in {before['currency']} already, so it stays"
            raise InputFaults([Fault("currency", currency, message)])
        tx.write("common.set_company", name=name.strip(), zone=zone, currency=currency)
        after = {"name": name.strip(), "zone": zone, "currency": currency}
        audit(tx, ctx, "company changed", "setting:company", f"The company is {name.strip()}", before, after)
        changed(tx, ctx, "notifications")

    ctx.db.transact(work)


def _division_name(name: str) -> str:
    clean = " ".join(name.split())
    if not 1 <= len(clean) <= 80:
        raise InputFaults([Fault("division", name[:80], "give a name of 1 to 80 characters")])
    return clean


TAKEN = "there is one of this name in the same place already"


def _division(tx: Tx, number: int, field: str = "") -> Row:
    """A division in use. Raises NotFound, or InputFaults where it is what a field names."""
    row = tx.one("house.division", id=number)
    if row is None and field:
        raise InputFaults([Fault(field, number, "there is no such division; choose one")])
    if row is None:
        raise NotFound("There is no such division.", "Load the page again.")
    return row


def _note(
    tx: Tx, ctx: Ctx, action: str, number: int, words: str, before: Any = None, after: Any = None
) -> None:
    audit(tx, ctx, action, f"division:{number}", words, before, after)
    changed(tx, ctx, "people")
    changed(tx, ctx, "ideas")


def add_division(ctx: Ctx, name: str, parent_id: int | None = None) -> int:
    """A division more, at the top or below another; gives its number."""
    ctx.require("house.change")
    clean = _division_name(name)

    def work(tx: Tx) -> int:
        above = _division(tx, parent_id, "parent") if parent_id is not None else None
        try:
            number = tx.insert("people.add_division", name=clean, parent=parent_id)
        except Clash:
            raise InputFaults([Fault("division", clean, TAKEN)]) from None
        where = f" below {above['name']}" if above else ""
        _note(tx, ctx, "division added", number, f"Added the division {clean}{where}")
        return number

    return ctx.db.transact(work)


def rename_division(ctx: Ctx, number: int, name: str) -> None:
    """Another name for a division; what belongs to it stays with it."""
    ctx.require("house.change")
    clean = _division_name(name)

    def work(tx: Tx) -> None:
        row = _division(tx, number)
        try:
            tx.write("house.rename_division", id=number, name=clean)
        except Clash:
            raise InputFaults([Fault("division", clean, TAKEN)]) from None
        words = f"The division {row['name']} is called {clean} now"
        _note(tx, ctx, "division renamed", number, words, {"name": row["name"]}, {"name": clean})

    ctx.db.transact(work)


def move_division(ctx: Ctx, number: int, parent_id: int | None) -> None:
    """A division lies below another, or at the top, with all below it."""
    ctx.require("house.change")

    def work(tx: Tx) -> None:
        tx.all("house.lock_divisions")
        row = _division(tx, number)
        above = _division(tx, parent_id, "parent") if parent_id is not None else None
        if parent_id in {one["id"] for one in tx.all("house.divisions_below", id=number)}:
            raise InputFaults(
                [Fault("parent", above and above["name"], "a division cannot lie below itself")]
            )
        try:
            tx.write("house.move_division", id=number, parent=parent_id)
        except Clash:
            raise InputFaults([Fault("parent", row["name"], TAKEN)]) from None
        words = f"{row['name']} lies {'below ' + above['name'] if above else 'at the top'} now"
        before, after = {"parent": row["parent_id"]}, {"parent": parent_id}
        _note(tx, ctx, "division moved", number, words, before, after)

    ctx.db.transact(work)


def merge_division(ctx: Ctx, number: int, into_id: int) -> None:
    """A division goes into another: its ideas, its people and what lay below it belong there from now on."""
    ctx.require("house.change")

    def work(tx: Tx) -> None:
        tx.all("house.lock_divisions")
        row, into = _division(tx, number), _division(tx, into_id, "into")
        if into_id in {one["id"] for one in tx.all("house.divisions_below", id=number)}:
            message = "it is this division or lies below it; choose another"
            raise InputFaults([Fault("into", into["name"], message)])
        ends = {"id": number, "into": into_id}
        ideas = tx.write("house.merge_ideas", **ends)
        tx.write("house.merge_answers", into=into_id, id_json=str(number), into_json=str(into_id))
        people = tx.write("house.merge_people", **ends)
        try:
            tx.write("house.merge_children", **ends)
        except Clash:
            message = "both have a division of the same name below them; rename one first"
            raise InputFaults([Fault("into", into["name"], message)]) from None
        tx.write("house.merge_division", **ends)
        words = f"{row['name']} went into {into['name']}, with {ideas} ideas and {people} people"
        _note(tx, ctx, "division merged", number, words, {"name": row["name"]}, {"into": into["name"]})

    ctx.db.transact(work)


def first_steps(tx: Tx, ctx: Ctx) -> list[dict[str, Any]]:
    """The five steps of a new installation, each done or not; none once all are done, or for others."""
    if not ctx.actor.may("house.change"):
        return []
    row = tx.one("house.first_steps", kinds=OF_CASES) or {}
    others = row["people"] - 1
    steps = [
        {
            "title": "Invite people",
            "words": "somebody who sizes ideas and proposes rates, somebody who builds; or send a list",
            "fact": f"{others} beside you" if others else "nobody beside you yet",
            "done": others > 0,
            "link": "/house/people",
        },
        {
            "title": "Say what work costs",
            "words": "an hour, a robot hour, a builder's day; one proposes, another approves",
            "fact": f"{row['rates']} of {len(OF_CASES)} rates approved",
            "done": row["rates"] == len(OF_CASES),
            "link": "/value/rates",
        },
        {
            "title": "Hand in a first idea",
            "words": "it takes five minutes and ends on the hours in reach",
            "fact": f"I-{row['idea']}" if row["idea"] else "none yet",
            "done": row["idea"] is not None,
            "link": f"/ideas/{row['idea']}" if row["idea"] else "/ideas/new",
        },
        {
            "title": "Connect a first robot",
            "words": "add an area, a host and a robot, and start the runner with the host's code",
            "fact": "connected" if row["robot"] else "none heard from yet",
            "done": row["robot"] is not None,
            "link": "/robots",
        },
        {
            "title": "See a first trial run work",
            "words": "release a package, set it up as a routine, start it",
            "fact": f"R-{row['run']} worked" if row["run"] else "none yet",
            "done": row["run"] is not None,
            "link": f"/runs/{row['run']}" if row["run"] else "/workshop",
        },
    ]
    return [] if all(step["done"] for step in steps) else steps


def entrance(ctx: Ctx) -> dict[str, Any]:
    """What the sign-in page offers: the first run, or single sign-on beside the password."""

    def work(tx: Tx) -> dict[str, Any]:
        return {"first_run": first.needed(tx), "outside": outside.offered(tx)}

    return ctx.db.transact(work)
