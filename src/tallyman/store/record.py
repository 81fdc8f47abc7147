"""Rows as records: frozen, every field typed; one class per shape, written out from the database itself."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass, fields
from typing import Any, ClassVar, Self


@dataclass(frozen=True, slots=True)
class Record:
    """A row of a named statement. Its class says by position what is JSON and what means yes or no."""

    JSON: ClassVar[tuple[int, ...]] = ()
    BOOLS: ClassVar[tuple[int, ...]] = ()

    @classmethod
    def read(cls, row: Sequence[Any]) -> Self:
        """The record of a row as the driver gives it, its columns in order."""
        if cls.JSON or cls.BOOLS:
            row = list(row)
            for at in cls.JSON:
                row[at] = None if row[at] is None else json.loads(row[at])
            for at in cls.BOOLS:
                row[at] = None if row[at] is None else bool(row[at])
        return cls(*row)

    def as_dict(self, **more: Any) -> dict[str, Any]:
        """The fields by name, and more beside them."""
        return {one.name: getattr(self, one.name) for one in fields(self)} | more
