"""House rules gathered: what is set where; the first steps of an installation, what its entrance offers."""

from __future__ import annotations

from tallyman.core.search import RULES, open_to
from tallyman.services.access import requests
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.people import first_run, single_sign_on
from tallyman.services.rates import OF_CASES
from tallyman.services.robots import readings
from tallyman.services.today.answers import EntranceOut, FirstStep, RuleOut
from tallyman.store.db import Tx
from tallyman.store.records.house import HouseCounts, HouseFirstSteps
from tallyman.store.records.safe import SafeSetting


def _facts(counts: dict[str, int]) -> dict[str, str]:
    """How each house rule stands, by its page."""

    def number(count: int, one: str, many: str) -> str:
        return f"{count:,} {one if count == 1 else many}"

    persons = number(counts["people"], "person", "people")
    groups = number(counts["groups_there"], "group", "groups")
    changes = number(counts["rule_versions"], "change made", "changes made")
    return {
        "/house/company": number(counts["divisions"], "division", "divisions"),
        "/value/rates": f"{counts['rates']} of {len(OF_CASES)} needed kinds, {counts['rows']:,} rows",
        "/house/ideas": changes if counts["rule_versions"] else "as Tallyman comes",
        "/house/robots": number(counts["applications"], "application", "applications"),
        "/house/calendar": number(counts["closed_days"], "closed day", "closed days"),
        "/house/systems": number(counts["systems"], "system", "systems"),
        "/house/areas": number(counts["areas"], "area", "areas"),
        "/house/people": f"{persons}, {groups}",
        "/house/roles": f"{counts['roles'] - counts['own_roles']} built in, {counts['own_roles']} own",
        "/house/access": f"{counts['requests']} open",
        "/house/sign-in": "on" if counts["outside"] else "off: people sign in with a password",
        "/house/secrets": number(counts["secrets"], "secret", "secrets"),
        "/house/tokens": number(counts["tokens"], "open token", "open tokens"),
        "/house/mail": number(counts["mails_waiting"], "mail waits", "mails wait"),
        "/house/trail": "sealed in a chain",
    }


@in_transaction
def gathered(tx: Tx, ctx: Ctx) -> list[RuleOut]:
    """The house rules that the actor may see, each with how it stands."""
    areas, secrets = ctx.scope("area.see"), ctx.scope("secret.see")
    found = tx.one(
        HouseCounts,
        "house.counts",
        now=ctx.now,
        kinds=OF_CASES,
        all_areas=areas["everywhere"],
        areas=areas["areas"],
        all_secrets=secrets["everywhere"],
        secret_areas=secrets["areas"],
    )
    assert found is not None
    outside = tx.one(SafeSetting, "safe.setting", name="identity")
    counts = found.as_dict(
        requests=len(requests.rows_waiting(tx, ctx)) if ctx.actor.may("role.decide") else 0,
        outside=bool(outside and outside.value["on"]),
        applications=len(readings.looked_for(tx)),
    )
    facts = _facts(counts)
    return [
        RuleOut(title=one.name, words=one.words, fact=facts[one.link], link=one.link)
        for one in open_to(RULES, ctx.actor.may)
    ]


def _robot_steps(row: HouseFirstSteps) -> list[FirstStep]:
    """From no host to a routine that ran, each step on the page where it is done next."""
    to_host = f"/robots/hosts/{row.host}" if row.host else "/robots?add=host"
    add_robot = f"/robots?add=robot&on={row.heard or row.host}" if row.host else "/robots?add=robot"
    no_trial = "added, no trial run yet" if row.robot else "none yet"
    return [
        FirstStep(
            title="Connect a first host",
            words="a computer for robots: name it here, then type there the one line that you are shown",
            fact="connected" if row.heard else "added, not heard from yet" if row.host else "none yet",
            done=row.heard is not None,
            link=to_host,
        ),
        FirstStep(
            title="Bring a first robot to work",
            words="its page says what is missing and checks itself off, down to a trial run there and back",
            # Whoever's robots do their work already needs no trial of one.
            fact="its trial run worked" if row.trial else f"R-{row.run} worked" if row.run else no_trial,
            done=row.trial is not None or row.run is not None,
            link=f"/robots/{row.robot}" if row.robot else add_robot,
        ),
        FirstStep(
            title="See a first routine run",
            words="release a package, set it up as a routine, start it",
            fact=f"R-{row.run} worked" if row.run else "none yet",
            done=row.run is not None,
            link=f"/runs/{row.run}" if row.run else "/workshop",
        ),
    ]


def first_steps(tx: Tx, ctx: Ctx) -> list[FirstStep]:
    """The six steps of a new installation, each done or not; none once all are done, or for others."""
    if not ctx.actor.may("house.change"):
        return []
    row = tx.one(HouseFirstSteps, "house.first_steps", kinds=OF_CASES)
    assert row is not None
    others = (row.people or 1) - 1
    steps = [
        FirstStep(
            title="Invite people",
            words="somebody who sizes ideas and proposes rates, somebody who builds; or send a list",
            fact=f"{others} beside you" if others else "nobody beside you yet",
            done=others > 0,
            link="/house/people",
        ),
        FirstStep(
            title="Say what work costs",
            words="an hour, a robot hour, a builder's day; one proposes, another approves",
            fact=f"{row.rates} of {len(OF_CASES)} rates approved",
            done=row.rates == len(OF_CASES),
            link="/value/rates",
        ),
        FirstStep(
            title="Hand in a first idea",
            words="it takes five minutes and ends on the hours in reach",
            fact=f"I-{row.idea}" if row.idea else "none yet",
            done=row.idea is not None,
            link=f"/ideas/{row.idea}" if row.idea else "/ideas/new",
        ),
        *_robot_steps(row),
    ]
    return [] if all(step.done for step in steps) else steps


@in_transaction
def entrance(tx: Tx, ctx: Ctx) -> EntranceOut:
    """What the sign-in page offers: the first run, or single sign-on beside the password."""
    return EntranceOut(first_run=first_run.needed(tx), outside=single_sign_on.offered(tx))
