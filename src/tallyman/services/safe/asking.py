"""Which routines ask for a secret, and find it from the area that they lie in."""

from __future__ import annotations

from tallyman.services.holding import paths
from tallyman.services.safe.contents import OF_PEOPLE
from tallyman.store.db import Tx
from tallyman.store.records.safe import SafeRoutinesUsing, Secret


def routines_asking(tx: Tx, secret_id: int) -> list[int]:
    """The numbers of the routines that are given a secret of people, by name; none for another secret."""
    row = tx.one(Secret, "safe.one", id=secret_id)
    if row is None or row.kind not in OF_PEOPLE:
        return []
    using = tx.all(SafeRoutinesUsing, "safe.routines_using", name=row.name)
    way = paths(tx, (one.area_id for one in using))
    return [one.id for one in using if row.area_id is None or row.area_id in way[one.area_id]]
