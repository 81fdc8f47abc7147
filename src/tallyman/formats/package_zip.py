"""Packages: a zip with package.toml and Python code, checked before anything of it is kept."""

from __future__ import annotations

import hashlib
import io
import re
import stat
import tomllib
import zipfile
import zlib
from dataclasses import dataclass, replace
from pathlib import PurePosixPath
from typing import Any

from tallyman.core.faults import Fault, InputFaults
from tallyman.formats.requirements import FILE as REQUIREMENTS
from tallyman.formats.requirements import Requirement, read_requirements
from tallyman.formats.schemas import faults_of

LARGEST = 20_000_000
LARGEST_UNPACKED = 100_000_000
LARGEST_MANIFEST = 100_000
LARGEST_LIST = 400_000
MOST_FILES = 500
MOST_TIMES_SMALLER = 200
# The record at the end of a zip, how far from the end it may begin, and one entry of its list at most.
END_RECORD = b"PK\x05\x06"
LARGE_LOCATOR = b"PK\x06\x07"
LONGEST_END = 65_557
LONGEST_ENTRY = 800
LONGEST_NAME = 180
MOST_SECRETS = 20
MANIFEST = "package.toml"
NAME = re.compile(r"^[a-z][a-z0-9-]{1,60}$")
VERSION = re.compile(r"^(0|[1-9]\d{0,5})\.(0|[1-9]\d{0,5})\.(0|[1-9]\d{0,5})$")
TAG = re.compile(r"^[a-z0-9][a-z0-9 .-]{0,38}$")
COUNT = re.compile(r"^[a-z][a-z0-9_]{0,60}$")
MOST_COUNTS = 20
KNOWN_KEYS = (
    *("name", "version", "about", "entry", "tags", "checkpoints", "secrets", "counts", "inputs", "outputs"),
)


@dataclass(frozen=True)
class Manifest:
    """What package.toml declares; `version` is empty where the number is left to be given on its release."""

    name: str
    version: str
    about: str
    entry: str
    tags: tuple[str, ...]
    inputs: dict[str, Any]
    outputs: dict[str, Any]
    files: tuple[tuple[str, int], ...]
    checkpoints: bool = False
    requirements: tuple[Requirement, ...] = ()
    secrets: tuple[str, ...] = ()
    counts: tuple[str, ...] = ()


def _refuse(field: str, value: Any, message: str) -> InputFaults:
    return InputFaults([Fault(field, value, message)])


def _check_member(info: zipfile.ZipInfo) -> list[Fault]:
    name = info.filename
    path = PurePosixPath(name)
    faults = []
    if "\\" in name or name.startswith("/") or ".." in path.parts or re.match(r"^[A-Za-z]:", name):
        faults.append(Fault("file", name, "leads out of the package; pack plain relative names"))
    if len(name) > LONGEST_NAME or re.search(r"[\x00-\x1f\x7f]", name):
        faults.append(Fault("file", name[:60], f"up to {LONGEST_NAME} plain characters in a name"))
    if stat.S_ISLNK(info.external_attr >> 16):
        faults.append(Fault("file", name, "is a link; pack the file itself"))
    if info.flag_bits & 0x1:
        faults.append(Fault("file", name, "is encrypted; pack it without a password"))
    return faults


def _check_directory(data: bytes) -> None:
    """Refuses a zip whose list of files is too long, before that list is read into memory.

    Goes by the record at the end (its number of files, the length of the list); the form for zips of
    more than 4 GB, which may say otherwise, is not needed at this size.
    """
    end = data.rfind(END_RECORD, max(0, len(data) - LONGEST_END))
    if end < 0:
        return
    number = int.from_bytes(data[end + 10 : end + 12], "little")
    length = int.from_bytes(data[end + 12 : end + 16], "little")
    if data[max(0, end - 20) : end - 16] == LARGE_LOCATOR:
        raise _refuse("file", None, "is a zip of the large form; pack it as an ordinary one")
    if number > MOST_FILES or length > MOST_FILES * LONGEST_ENTRY:
        raise _refuse("file", max(number, length // LONGEST_ENTRY), f"too many files; at most {MOST_FILES}")


def _members(archive: zipfile.ZipFile) -> list[zipfile.ZipInfo]:
    infos = archive.infolist()
    if len(infos) > MOST_FILES:
        raise _refuse("file", len(infos), f"too many files; at most {MOST_FILES}")
    faults = [fault for info in infos for fault in _check_member(info)]
    names = [info.filename for info in infos]
    doubled = {name for name in names if names.count(name) > 1}
    faults += [Fault("file", name, "stands twice in the zip") for name in sorted(doubled)]
    total = sum(info.file_size for info in infos)
    packed = sum(info.compress_size for info in infos) or 1
    if total > LARGEST_UNPACKED:
        size = f"{total / 1_000_000:.0f} MB"
        message = f"unpacks to too much; at most {LARGEST_UNPACKED // 1_000_000} MB"
        faults.append(Fault("file", size, message))
    elif total > 1_000_000 and total / packed > MOST_TIMES_SMALLER:
        message = "is packed suspiciously small; pack it without padding"
        faults.append(Fault("file", f"{total / packed:.0f} times", message))
    if faults:
        raise InputFaults(faults)
    return [info for info in infos if not info.is_dir()]


def _read_all(archive: zipfile.ZipFile, infos: list[zipfile.ZipInfo]) -> None:
    """Unpacks every file once, never more than it declared, so that a lying size is found."""
    for info in infos:
        with archive.open(info) as stream:
            left = info.file_size
            while chunk := stream.read(65536):
                left -= len(chunk)
                if left < 0:
                    raise _refuse("file", info.filename, "is larger than the zip says")


def _schema(table: dict[str, Any], name: str, faults: list[Fault]) -> dict[str, Any]:
    """A table of named values as one JSON Schema object; each value is a schema with `required`."""
    given = table.get(name, {})
    if not isinstance(given, dict):
        faults.append(Fault(name, given, f"write [{name}.NAME] with type and title"))
        return {"type": "object", "properties": {}}
    properties: dict[str, Any] = {}
    required = []
    for key, value in given.items():
        if isinstance(value, dict):
            properties[key] = {word: said for word, said in value.items() if word != "required"}
            if value.get("required") is True:
                required.append(key)
        else:
            properties[key] = value
    schema: dict[str, Any] = {"type": "object", "properties": properties, "required": required}
    if name == "inputs":
        schema["additionalProperties"] = False
    faults += faults_of(schema, name)
    return schema


def _each_once(given: Any, form: re.Pattern[str], most: int) -> bool:
    """Whether this is a list of names of a form, each once, and not too many."""
    if not isinstance(given, list) or len(given) > most:
        return False
    named = [name for name in given if isinstance(name, str) and form.match(name)]
    return len(set(named)) == len(given)


def _manifest(text: bytes, files: list[tuple[str, int]]) -> Manifest:
    try:
        table = tomllib.loads(text.decode("utf-8"))
    except RecursionError:
        raise _refuse(MANIFEST, None, "cannot be read: too many brackets within each other") from None
    except ValueError as error:
        raise _refuse(MANIFEST, None, f"cannot be read: {str(error)[:200]}") from None
    faults: list[Fault] = []
    for key in table:
        if key not in KNOWN_KEYS:
            faults.append(Fault(key, None, f"not known; allowed: {', '.join(KNOWN_KEYS)}"))
    name, version = table.get("name"), table.get("version")
    if not isinstance(name, str) or not NAME.match(name):
        faults.append(Fault("name", name, "small letters, digits and -, such as check-readings"))
    if version is not None and (not isinstance(version, str) or not VERSION.match(version)):
        message = "three numbers, such as 1.0.0; or none, and it is given on its release"
        faults.append(Fault("version", version, message))
    entry = table.get("entry")
    names = {file for file, _ in files}
    if not isinstance(entry, str) or not entry.endswith(".py") or entry not in names:
        there = ", ".join(sorted(name for name in names if name.endswith(".py"))[:5]) or "none"
        message = f"name a .py file of the package; it holds: {there}"
        faults.append(Fault("entry", entry, message))
    tags = table.get("tags", [])
    if not isinstance(tags, list) or not all(isinstance(t, str) and TAG.match(t) for t in tags):
        faults.append(Fault("tags", tags, "a list of short words in small letters"))
        tags = []
    about = table.get("about", "")
    if not isinstance(about, str) or len(about) > 500:
        faults.append(Fault("about", str(about)[:40], "a text of up to 500 characters"))
    checkpoints = table.get("checkpoints", False)
    if not isinstance(checkpoints, bool):
        faults.append(Fault("checkpoints", checkpoints, "true or false"))
    asked = table.get("secrets", [])
    if not _each_once(asked, NAME, MOST_SECRETS):
        message = f"a list of up to {MOST_SECRETS} names in small letters, digits and -"
        faults.append(Fault("secrets", asked, message))
        asked = []
    counts = table.get("counts", [])
    if not _each_once(counts, COUNT, MOST_COUNTS):
        message = f"a list of up to {MOST_COUNTS} names in small letters, digits and _, such as letters"
        faults.append(Fault("counts", counts, message))
        counts = []
    inputs, outputs = _schema(table, "inputs", faults), _schema(table, "outputs", faults)
    if faults:
        raise InputFaults(faults)
    return Manifest(
        str(name),
        version or "",
        about,
        str(entry),
        tuple(tags),
        inputs,
        outputs,
        tuple(files),
        checkpoints,
        secrets=tuple(asked),
        counts=tuple(counts),
    )


def _misplaced(found: list[str]) -> InputFaults:
    """There is no manifest at the top of the zip; every one that lies deeper is named."""
    if not found:
        return _refuse(MANIFEST, None, "there is none at the top of the zip")
    if len(found) == 1:
        return _refuse(MANIFEST, found[0], f"found {found[0]}; pack the folder's content, not the folder")
    message = f"found {' and '.join(found)}; pack the content of one of these folders, each by itself"
    return _refuse(MANIFEST, found[0], message)


def digests_of(data: bytes) -> dict[str, str]:
    """The SHA-256 of each file of a checked package, by its name."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        names = [info.filename for info in archive.infolist() if not info.is_dir()]
        return {name: hashlib.sha256(archive.read(name)).hexdigest() for name in names}


# Packages whose names begin so are shipped with the program.
OWN = "tallyman-"


def faults_of_name(manifest: Manifest) -> list[Fault]:
    """What is wrong with the name of a package that somebody releases."""
    if not manifest.name.startswith(OWN):
        return []
    return [
        Fault("name", manifest.name, f"names that begin with {OWN} are the program's own; choose another")
    ]


def faults_of_code(data: bytes) -> list[Fault]:
    """Every Python file of a checked package that does not compile, with its line and what is wrong there.

    Compiles and runs nothing; to be called in a process of its own, as the code is foreign.
    """
    faults = []
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        for name in (one for one in archive.namelist() if one.endswith(".py")):
            try:
                compile(archive.read(name), name, "exec", dont_inherit=True)
            except SyntaxError as error:
                where = f", line {error.lineno}" if error.lineno else ""
                faults.append(Fault("file", f"{name}{where}", f"does not compile: {error.msg}"))
            except (ValueError, RecursionError, MemoryError) as error:
                faults.append(Fault("file", name, f"does not compile: {str(error) or 'too deep'}"))
    return faults


def read_package(data: bytes) -> Manifest:
    """Checks size, names, number, traversal, links, bombs and manifest; InputFaults with all faults."""
    if len(data) > LARGEST:
        size = f"{len(data) / 1_000_000:.1f} MB"
        raise _refuse("file", size, f"too large; at most {LARGEST // 1_000_000} MB")
    _check_directory(data)
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except zipfile.BadZipFile:
        raise _refuse("file", None, "is not a zip; pack package.toml and the code as one") from None
    with archive:
        infos = _members(archive)
        files = [(info.filename, info.file_size) for info in infos]
        if MANIFEST not in {name for name, _ in files}:
            raise _misplaced([n for n, _ in files if n.endswith("/" + MANIFEST)])
        try:
            sizes = dict(files)
            for name, most in ((MANIFEST, LARGEST_MANIFEST), (REQUIREMENTS, LARGEST_LIST)):
                if sizes.get(name, 0) > most:
                    raise _refuse(name, sizes[name], f"too large; at most {most // 1000} kB")
            _read_all(archive, infos)
            text = archive.read(MANIFEST)
            required = archive.read(REQUIREMENTS) if REQUIREMENTS in {name for name, _ in files} else b""
        except (zipfile.BadZipFile, zlib.error, NotImplementedError, RuntimeError, EOFError) as error:
            raise _refuse("file", None, f"is damaged: {error}") from None
    needed = tuple(read_requirements(required.decode("utf-8", errors="replace")))
    return replace(_manifest(text, files), requirements=needed)


def pack(files: dict[str, bytes]) -> bytes:
    """The same files always give the same zip."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in sorted(files):
            info = zipfile.ZipInfo(name, (2020, 1, 1, 0, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED
            info.external_attr = 0o644 << 16
            archive.writestr(info, files[name])
    return out.getvalue()
