"""Rows as records: frozen, every field typed; one class per shape, written out from the database itself."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass, fields
from typing import Any, ClassVar, Self


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Record:
    """A row of a named statement. Its class says by position what is JSON and what means yes or no.

    Equality, hash and look stand here once: made for each of three hundred classes they are half of what
    loading them takes.
    """

    JSON: ClassVar[tuple[int, ...]] = ()
    BOOLS: ClassVar[tuple[int, ...]] = ()

    def _values(self) -> tuple[Any, ...]:
        return tuple(getattr(self, one.name) for one in fields(self))

    def __eq__(self, other: object) -> bool:
        return type(other) is type(self) and self._values() == other._values()

    def __hash__(self) -> int:
        return hash(self._values())

    def __repr__(self) -> str:
        named = (f"{one.name}={getattr(self, one.name)!r}" for one in fields(self))
        return f"{type(self).__qualname__}({', '.join(named)})"

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
