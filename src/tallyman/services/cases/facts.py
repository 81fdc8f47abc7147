"""The facts given on an idea, each with its source and its day."""

from __future__ import annotations

from collections.abc import Mapping

from tallyman.core.known import Known, Sheet
from tallyman.services.cases.answers import FactRow
from tallyman.store.db import Tx
from tallyman.store.records.ideas import IdeasFacts


def known_facts(tx: Tx, idea_id: int) -> dict[str, Known]:
    """The facts given on an idea by field."""
    return {
        row.field: Known(
            row.value,
            f"{row.source}, {row.person}" if row.source else row.person,
            row.at.date().isoformat(),
            True,
            row.version,
        )
        for row in tx.kept(IdeasFacts, "ideas.facts", idea=idea_id)
    }


def as_rows(sheet: Sheet, fields: Mapping[str, str]) -> list[FactRow]:
    """A sheet's fields as a page shows them."""
    rows = []
    for field, label in fields.items():
        known = sheet.get(field)
        rows.append(
            FactRow(
                field=field,
                label=label,
                value=known.value if known else None,
                source=known.source if known else "",
                date=known.date if known else "",
                own=bool(known and known.own),
                version=known.version if known else 0,
            )
        )
    return rows
