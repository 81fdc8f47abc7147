"""What the API takes and gives about sizings, cases and what is chosen."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tallyman.api.common import In, Text
from tallyman.core.free import Free


class FactsIn(In):
    """Facts by field, the version of each that was seen, and where they come from."""

    values: dict[Annotated[str, Field(max_length=40)], Free]
    versions: dict[Annotated[str, Field(max_length=40)], int] = {}
    source: Annotated[str, Field(max_length=200)] = ""


class PointIn(In):
    """A fact that should be looked at again, and what about it."""

    field: Annotated[str, Field(max_length=40)]
    words: Text


class SettleSizing(In):
    """Agrees to a sizing or sends it back, with a reason or point by point."""

    agreed: bool
    note: Text = ""
    points: Annotated[list[PointIn], Field(max_length=100)] = []


class PreviewIn(In):
    """Facts as they stand in the fields."""

    values: dict[Annotated[str, Field(max_length=40)], Free]


class Back(In):
    """What is said when an idea is backed: why, at which day's rows and the worth that was shown."""

    words: Text = ""
    todays_rows: bool = False
    worth: Annotated[str, Field(max_length=40)] | None = None
