"""Writes a picture of a display to its output as PNG: DISPLAY [UID GID GROUP …]; a program of its own.

It gives up the runner's rights before it opens the display, so that what answers there meets only the
account of the package that drew it.
"""

from __future__ import annotations

import os
import sys
from importlib import import_module
from io import BytesIO

LARGEST = 5_000_000


def main(display: str, *ids: str) -> None:
    """Reads the display under an account, and writes it no larger than the server takes."""
    # All that reading and writing takes is loaded first: afterwards the account may not even reach it.
    for name in ("shutil", "subprocess", "tempfile"):
        import_module(name)
    from PIL import Image, ImageGrab

    Image.init()
    if ids:
        user, group, *groups = (int(one) for one in ids)
        os.setgroups(groups)
        os.setgid(group)
        os.setuid(user)
    picture = ImageGrab.grab(xdisplay=display)
    while True:
        kept = BytesIO()
        picture.save(kept, "PNG")
        if kept.tell() <= LARGEST:
            break
        picture = picture.reduce(2)
    sys.stdout.buffer.write(kept.getvalue())


if __name__ == "__main__":
    main(*sys.argv[1:])
