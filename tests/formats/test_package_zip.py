from __future__ import annotations

import io
import stat
import zipfile
from typing import Any

import pytest

from tallyman.core.faults import InputFaults
from tallyman.formats import package_zip, schemas
from tallyman.formats.uploads import check_upload, clean_name
from tests.world import CODE, MANIFEST, package


def zipped(**files: str | bytes) -> bytes:
    named = {name.replace("__", "."): text for name, text in files.items()}
    return package_zip.pack({k: v if isinstance(v, bytes) else v.encode() for k, v in named.items()})


def faults(data: bytes) -> dict[str, str]:
    with pytest.raises(InputFaults) as refused:
        package_zip.read_package(data)
    return {one.field: one.message for one in refused.value.faults}


def with_member(name: str, text: bytes = b"x", mode: int = 0o644) -> bytes:
    out = io.BytesIO(package())
    with zipfile.ZipFile(out, "a") as archive:
        info = zipfile.ZipInfo(name)
        info.external_attr = mode << 16
        archive.writestr(info, text)
    return out.getvalue()


def test_a_whole_package_is_read() -> None:
    found = package_zip.read_package(package("2.3.4", tags='"letters"'))
    assert (found.name, found.version, found.entry, found.tags) == (
        "count-rows",
        "2.3.4",
        "main.py",
        ("letters",),
    )
    assert found.inputs["properties"]["rows"]["type"] == "integer"
    assert [name for name, _ in found.files] == ["main.py", "package.toml"]


def test_the_same_files_give_the_same_zip() -> None:
    assert package() == package()


@pytest.mark.parametrize("name", ["../evil.py", "/etc/passwd", "a/../../b", "C:\\x.py", "..\\x.py"])
def test_paths_out_of_the_package_are_refused(name: str) -> None:
    assert "leads out" in faults(with_member(name))["file"]


def test_links_are_refused() -> None:
    assert "link" in faults(with_member("link", b"/etc/passwd", stat.S_IFLNK | 0o777))["file"]


def test_a_doubled_name_is_refused() -> None:
    with pytest.warns(UserWarning, match="Duplicate"):
        data = with_member("main.py")
    assert "twice" in faults(data)["file"]


def test_a_bomb_is_refused() -> None:
    out = io.BytesIO(package())
    with zipfile.ZipFile(out, "a", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("zeros.bin", bytes(30_000_000))
    assert "suspiciously" in faults(out.getvalue())["file"]


def test_too_much_unpacked_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(package_zip, "LARGEST_UNPACKED", 100)
    assert "unpacks to too much" in faults(package())["file"]


def test_too_many_files_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(package_zip, "MOST_FILES", 1)
    assert "too many files" in faults(package())["file"]


def test_too_large_a_zip_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(package_zip, "LARGEST", 10)
    assert "too large" in faults(package())["file"]


def test_what_is_no_zip_is_refused() -> None:
    assert "not a zip" in faults(b"hello")["file"]


def test_a_damaged_zip_is_refused() -> None:
    data = bytearray(package(code=CODE * 50))
    data[60:90] = bytes(30)
    assert "file" in faults(bytes(data)) or "package.toml" in faults(bytes(data))


def test_a_packed_folder_is_told_apart_from_no_manifest() -> None:
    inside = package_zip.pack({"count/package.toml": b"", "count/main.py": b""})
    assert "pack the folder's content" in faults(inside)["package.toml"]
    assert "none at the top" in faults(zipped(main__py="x = 1"))["package.toml"]
    two = package_zip.pack({"count/package.toml": b"", "check/package.toml": b"", "main.py": b""})
    assert "check/package.toml and count/package.toml" in faults(two)["package.toml"]


def test_every_fault_of_the_manifest_is_named_at_once() -> None:
    manifest = 'name = "Big Name"\nversion = "one"\nentry = "start.py"\ntags = ["UP"]\ncolour = "red"\n[inputs.a]\ntype = "text"\n'
    found = faults(package_zip.pack({"package.toml": manifest.encode(), "main.py": b""}))
    assert set(found) == {"name", "version", "entry", "tags", "colour", "inputs.a.type"}


def test_a_manifest_that_is_no_toml_is_refused() -> None:
    assert "cannot be read" in faults(zipped(package__toml="name = ", main__py=""))["package.toml"]


def schema(text: str) -> dict[str, Any]:
    files = {"package.toml": (MANIFEST.format(version="1.0.0", tags="") + text).encode(), "main.py": b""}
    return package_zip.read_package(package_zip.pack(files)).inputs


def test_inputs_are_checked_against_the_schema() -> None:
    wanted = schema('\n[inputs.list]\ntype = "string"\nrequired = true\n')
    schemas.check_inputs(wanted, {"list": "x", "rows": 2})
    with pytest.raises(InputFaults) as refused:
        schemas.check_inputs(wanted, {"rows": -1, "colour": 1})
    assert {one.field for one in refused.value.faults} == {"inputs.list", "inputs.rows", "inputs.colour"}


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.pdf", b"", "empty"),
        ("a.exe", b"MZ", "cannot be attached"),
        ("a", b"text", "cannot be attached"),
        ("a.pdf", b"hello", "not that of a .pdf"),
        ("a.png", b"GIF89a", "not that of a .png"),
        ("a.csv", b"a\x00b", "plain text"),
        ("a.html", b"<script>", "cannot be attached"),
    ],
)
def test_wrong_uploads_are_refused_with_the_reason(name: str, data: bytes, words: str) -> None:
    with pytest.raises(InputFaults, match=words):
        check_upload("file", name, data)


def test_too_large_an_upload_is_refused() -> None:
    with pytest.raises(InputFaults, match=r"20\.0 MB is too large"):
        check_upload("file", "a.txt", b"x" * 20_000_001)


@pytest.mark.parametrize(
    ("given", "clean"),
    [
        ("C:\\docs\\how to.pdf", "how to.pdf"),
        ("../../x.csv", "x.csv"),
        ('a"<b>.txt', "ab.txt"),
        ("..", "file"),
    ],
)
def test_names_lose_what_could_do_harm(given: str, clean: str) -> None:
    assert clean_name(given) == clean


def test_every_file_that_does_not_compile_is_named_with_its_line() -> None:
    files = {
        "main.py": b"x = 1\ny = (\n",
        "help/other.py": b"def f(:\n",
        "fine.py": b"z = 2\n",
        "notes.txt": b"x = (",
    }
    found = package_zip.faults_of_code(package_zip.pack(files))
    assert [(fault.field, fault.value) for fault in found] == [
        ("file", "help/other.py, line 1"),
        ("file", "main.py, line 2"),
    ]
    assert all("does not compile" in fault.message for fault in found)
    deep = b"x = " + b"(" * 5000 + b")" * 5000
    assert len(package_zip.faults_of_code(package_zip.pack({"main.py": deep}))) == 1
