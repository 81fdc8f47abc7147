"""What the lead sets as data: rule sets, each edit a version of its own that stays readable."""

from __future__ import annotations

from collections.abc import Mapping

from tallyman.core.free import FreeObject
from tallyman.errors import Clash, Conflict, Fault, InputFaults
from tallyman.services.context import Ctx, audit, changed
from tallyman.services.house.answers import VersionRow
from tallyman.store.db import Tx
from tallyman.store.records.house import RuleSetsNewest, RuleSetsVersions

LONGEST_NOTE = 500


def newest(tx: Tx, kind: str) -> tuple[FreeObject | None, int]:
    """Content and version in force; None and 0 while nobody changed what Tallyman comes with."""
    rows = tx.kept(RuleSetsNewest, "rule_sets.newest", kind=kind)
    return (rows[0].content, rows[0].version) if rows else (None, 0)


def at(tx: Tx, kind: str, version: int) -> dict[str, object] | None:
    """The content of one version; None for version 0 and for what is not there."""
    row = tx.one(RuleSetsNewest, "rule_sets.at", kind=kind, version=version) if version else None
    return row.content if row else None


def versions(tx: Tx, kind: str) -> list[RuleSetsVersions]:
    """All versions made here, the newest first."""
    return tx.all(RuleSetsVersions, "rule_sets.versions", kind=kind)


def shown(tx: Tx, kind: str) -> list[VersionRow]:
    """The versions of a rule set as pages show them: when, by whom, and why."""
    return [
        VersionRow(version=row.version, note=row.note, made_at=row.made_at, person=row.person)
        for row in versions(tx, kind)
    ]


def kinds(tx: Tx, begins: str) -> list[str]:
    """The kinds of rule sets that begin so."""
    return tx.values(str, "rule_sets.kinds", begins=f"{begins}%")


def keep(tx: Tx, ctx: Ctx, kind: str, content: Mapping[str, object], note: str, seen: int) -> int:
    """A new version of a rule set, by whoever may change the house rules.

    Gives its number. Raises InputFaults without a note, Conflict when somebody else changed it meanwhile.
    """
    ctx.require_at("house.change", None)
    words = note.strip()
    if not words or len(words) > LONGEST_NOTE:
        message = f"say what changes and why, up to {LONGEST_NOTE} characters"
        raise InputFaults([Fault("note", words[:40], message)])
    before, version = newest(tx, kind)
    clash = version != seen
    if not clash:
        try:
            tx.write(
                "rule_sets.add",
                kind=kind,
                version=seen + 1,
                content=dict(content),
                note=words,
                by=ctx.actor.person_id,
                now=ctx.now,
            )
        except Clash:
            clash = True
    if clash:
        raise Conflict(
            "Somebody changed this meanwhile.",
            "Look at theirs, then keep yours again.",
            theirs=before or {},
            yours=dict(content),
            version=version,
        )
    audit(tx, ctx, "rules changed", f"rules:{kind}", f"{kind}, version {seen + 2}: {words}", before, content)
    changed(tx, ctx, "rules")
    return seen + 1
