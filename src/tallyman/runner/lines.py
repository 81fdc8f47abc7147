"""Lines out of a package's pipes, however it writes them: bounded, whatever its bytes are."""

from __future__ import annotations

from collections.abc import Iterator
from typing import IO

PIECE = 65_536
CUT = " … (the rest of the line is not kept)"


def lines_of(stream: IO[bytes], longest: int) -> Iterator[tuple[str, bool]]:
    """Each line as text without its end, and whether it is whole; never more than `longest` bytes are held.

    Of a longer line the beginning is given, and the rest is read and thrown away.
    """
    held = bytearray()
    over = False
    while piece := stream.read1(PIECE):  # type: ignore[attr-defined]
        parts = piece.split(b"\n")
        for part in parts[:-1]:
            if not over:
                held += part[: longest + 1 - len(held)]
                yield _text(held, longest), len(held) <= longest
            held.clear()
            over = False
        if not over:
            held += parts[-1][: longest + 1 - len(held)]
            if len(held) > longest:
                yield _text(held, longest), False
                held.clear()
                over = True
    if held:
        yield _text(held, longest), True


def _text(held: bytearray, longest: int) -> str:
    return bytes(held[:longest]).decode("utf-8", errors="replace").removesuffix("\r")
