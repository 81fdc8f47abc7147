"""What stands in an attached file: a picture of it made anew, and its text for finding it."""

from __future__ import annotations

import io
import re
import zipfile

MOST_TEXT = 200_000
MOST_PAGES = 30
WIDEST = 1000
MOST_PIXELS = 60_000_000
PLAIN = ("txt", "csv", "md")
PICTURES = ("png", "jpg", "jpeg")


def view(data: bytes, ending: str) -> tuple[bytes | None, str]:
    """A PNG of at most `WIDEST` pixels (None where there is none to make), and the text that was found.

    Raises whatever the library raises for a broken file; only call it apart from everything else.
    """
    if ending in PICTURES:
        return _picture(data), ""
    if ending == "pdf":
        return _pdf(data)
    if ending in PLAIN:
        return None, data.decode("utf-8", "replace")[:MOST_TEXT]
    if ending == "xlsx":
        return None, _sheets(data)
    if ending in ("docx", "pptx"):
        return None, _office(data)
    return None, ""


def _small(image: object) -> bytes:
    from PIL import Image

    assert isinstance(image, Image.Image)
    out = io.BytesIO()
    kept = image.convert("RGB")
    kept.thumbnail((WIDEST, WIDEST * 2))
    kept.save(out, "PNG", optimize=True)
    return out.getvalue()


def _picture(data: bytes) -> bytes:
    from PIL import Image, ImageOps

    Image.MAX_IMAGE_PIXELS = MOST_PIXELS
    with Image.open(io.BytesIO(data), formats=("PNG", "JPEG")) as image:
        if image.width * image.height > MOST_PIXELS:
            raise ValueError("too many pixels")
        # Turned as it was taken; everything else that a camera noted is left behind.
        return _small(ImageOps.exif_transpose(image))


def _pdf(data: bytes) -> tuple[bytes, str]:
    import pypdfium2

    book = pypdfium2.PdfDocument(data)
    first = book[0]
    scale = min(2.0, WIDEST / max(first.get_width(), 1))
    picture = _small(first.render(scale=scale).to_pil())
    parts = [book[n].get_textpage().get_text_bounded() for n in range(min(len(book), MOST_PAGES))]
    return picture, "\n".join(parts)[:MOST_TEXT]


def _sheets(data: bytes) -> str:
    from tallyman.formats.sheet_file import read

    lines = []
    for page in read(data, "xlsx")["pages"]:
        lines.append(page["name"])
        lines += ["\t".join(cell for cell in row if cell) for row in page["rows"]]
    return "\n".join(lines)[:MOST_TEXT]


def _office(data: bytes) -> str:
    from defusedxml import ElementTree

    found = []
    size = 0
    with zipfile.ZipFile(io.BytesIO(data)) as box:
        for part in sorted(box.namelist()):
            if not re.fullmatch(r"word/document\.xml|ppt/slides/slide\d+\.xml", part):
                continue
            size += box.getinfo(part).file_size
            if size > MOST_PIXELS:
                break
            tree = ElementTree.fromstring(box.read(part))
            for paragraph in tree.iter():
                if paragraph.tag.endswith("}p"):
                    words = [one.text or "" for one in paragraph.iter() if one.tag.endswith("}t")]
                    found.append("".join(words))
    return "\n".join(line for line in found if line)[:MOST_TEXT]
