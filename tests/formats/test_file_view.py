"""What is shown of an attached file: a picture made anew, and the text that stands in it."""

from __future__ import annotations

import io
import zipfile

import openpyxl
import pytest
from defusedxml import EntitiesForbidden
from PIL import Image

from tallyman.core.faults import InputFaults
from tallyman.formats.file_view import MOST_TEXT, WIDEST, view
from tallyman.formats.uploads import LARGEST, check_upload, clean_name
from tests.services.pdf import pdf_with


def png(width: int = 40, height: int = 20, **more: object) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), "teal").save(out, "PNG", **more)
    return out.getvalue()


def office(parts: dict[str, str]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as box:
        for name, body in parts.items():
            box.writestr(name, body)
    return out.getvalue()


def size(picture: bytes | None) -> tuple[int, int]:
    assert picture is not None
    return Image.open(io.BytesIO(picture)).size


def test_a_picture_is_made_anew_no_wider_than_a_page_and_without_what_a_camera_noted() -> None:
    out = io.BytesIO()
    taken = Image.new("RGB", (3000, 1500), "teal")
    noted = taken.getexif()
    noted[0x010E] = "the meter at Weir Lane 4"
    noted[0x0112] = 6  # held upright
    taken.save(out, "JPEG", exif=noted)
    picture, text = view(out.getvalue(), "jpg")
    assert size(picture) == (WIDEST, 2 * WIDEST)
    assert b"Weir Lane" not in (picture or b"")
    assert text == ""


def test_a_picture_with_more_points_than_any_screen_is_not_opened() -> None:
    with pytest.raises((ValueError, Image.DecompressionBombWarning)):
        view(png(20_000, 6_000), "png")


def test_the_first_page_of_a_pdf_is_shown_and_its_words_are_found() -> None:
    picture, text = view(pdf_with("Check the claim"), "pdf")
    assert size(picture)[0] <= WIDEST
    assert "Check the claim" in text


def test_words_of_tables_letters_and_slides_are_found() -> None:
    book, out = openpyxl.Workbook(), io.BytesIO()
    book.active.append(["claim", None, "letter"])
    book.save(out)
    assert view(out.getvalue(), "xlsx") == (None, "Sheet\nclaim\tletter")
    letter = office(
        {
            "word/document.xml": '<w:d xmlns:w="w"><w:p><w:t>Leak </w:t><w:t>claim</w:t></w:p><w:p/></w:d>',
            "word/media/x.xml": "<broken",
        }
    )
    assert view(letter, "docx") == (None, "Leak claim")
    slides = office(
        {f"ppt/slides/slide{n}.xml": f'<a:d xmlns:a="a"><a:p><a:t>{n}</a:t></a:p></a:d>' for n in (1, 2)}
    )
    assert view(slides, "pptx") == (None, "1\n2")


def test_a_letter_that_swells_inside_is_refused() -> None:
    bomb = '<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa">]><w:d xmlns:w="w"><w:p><w:t>&a;</w:t></w:p></w:d>'
    with pytest.raises(EntitiesForbidden):
        view(office({"word/document.xml": bomb}), "docx")


@pytest.mark.parametrize("ending", ["txt", "csv", "md"])
def test_plain_text_is_bounded_and_never_fails(ending: str) -> None:
    assert view(b"caf\xe9", ending) == (None, "caf\ufffd")
    assert len(view(b"x" * (MOST_TEXT + 5), ending)[1]) == MOST_TEXT


def test_what_is_not_known_shows_nothing() -> None:
    assert view(b"\0\1\2", "bin") == (None, "")


@pytest.mark.parametrize(
    ("name", "clean"),
    [
        ("../../etc/claims.csv", "claims.csv"),
        ("C:\\\\files\\claims.csv", "claims.csv"),
        ("a\x00b\n.txt", "ab.txt"),
    ],
)
def test_a_name_keeps_no_folders_and_nothing_that_could_do_harm(name: str, clean: str) -> None:
    assert clean_name(name) == clean


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("a.exe", b"MZ"),
        ("a.png", b"no picture"),
        ("a.pdf", png()),
        ("a.csv", b""),
        ("a.txt", b"x" * (LARGEST + 1)),
    ],
)
def test_a_file_that_is_not_what_it_is_called_or_too_large_is_refused(name: str, data: bytes) -> None:
    with pytest.raises(InputFaults) as refused:
        check_upload("file", name, data)
    assert [fault.field for fault in refused.value.faults] == ["file"]


def test_what_is_what_it_is_called_is_taken() -> None:
    assert check_upload("file", "x/meter.png", png()) == "meter.png"
    assert check_upload("file", "how.pdf", pdf_with("steps")) == "how.pdf"
