"""Tables of pictures as files."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal

from fastapi import Response
from pydantic import Field

from tallyman.api.common import In, SignedIn
from tallyman.api.routing import Routes
from tallyman.services.house import pictures

router = Routes(prefix="/pictures", tags=["house"])
Words = Annotated[str, Field(max_length=400)]
Cell = Annotated[Decimal, Field(allow_inf_nan=False)] | Words | None
MEDIA = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}


class TableIn(In):
    """What a picture is drawn from: its title, the heads of its columns, and its rows."""

    title: Words
    columns: Annotated[list[Words], Field(min_length=1, max_length=80)]
    rows: Annotated[list[list[Cell]], Field(max_length=20_000)]


@router.post("/{ending}", response_class=Response)
def as_file(ending: Literal["csv", "xlsx"], given: TableIn, ctx: SignedIn) -> Response:
    """The table of a picture as CSV or as a workbook."""
    data = pictures.table_file(ctx, ending, given.title, given.columns, given.rows)
    heads = {"Content-Disposition": f'attachment; filename="picture.{ending}"'}
    return Response(data, media_type=MEDIA[ending], headers=heads)
