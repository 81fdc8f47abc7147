"""A builder's folder as the zip that is released: the same files always give the same bytes."""

from __future__ import annotations

from pathlib import Path

from tallyman.core.faults import Fault, InputFaults
from tallyman.formats.package_zip import (
    MANIFEST,
    Manifest,
    faults_of_code,
    faults_of_name,
    pack,
    read_package,
)

# Left in the folder, as it is for the one who builds; so is whatever begins with a dot.
LEFT_OUT = ("__pycache__",)
LEFT_OUT_FILES = ("inputs.json", "secrets.json", "saved.json")
MOST_FOUND = 5_000


def _belongs(path: Path, folder: Path) -> bool:
    parts = path.relative_to(folder).parts
    hidden = any(part in LEFT_OUT or part.startswith(".") for part in parts)
    return not hidden and path.name not in LEFT_OUT_FILES


def packed(path: Path) -> bytes:
    """A folder as a zip, or a zip as it is. Raises InputFaults for what is neither."""
    if path.is_file():
        return path.read_bytes()
    if not path.is_dir():
        raise InputFaults(
            [Fault("path", str(path), "is not there; name a folder with package.toml, or a zip")]
        )
    found: dict[str, bytes] = {}
    links = []
    for one in sorted(path.rglob("*")):
        if not _belongs(one, path):
            continue
        if len(found) > MOST_FOUND:
            message = f"holds more than {MOST_FOUND:,} files; name the folder of the package itself"
            raise InputFaults([Fault("path", str(path), message)])
        if one.is_symlink():
            links.append(Fault("file", str(one.relative_to(path)), "is a link; put the file itself there"))
        elif one.is_file():
            found[one.relative_to(path).as_posix()] = one.read_bytes()
    if links:
        raise InputFaults(links)
    if MANIFEST not in found:
        raise InputFaults([Fault("path", str(path), f"has no {MANIFEST}; `package new` begins one")])
    return pack(found)


def checked(data: bytes) -> Manifest:
    """What a package declares, once all that the server looks at was looked at. Raises InputFaults."""
    manifest = read_package(data)
    if wrong := faults_of_name(manifest) or faults_of_code(data):
        raise InputFaults(wrong)
    return manifest
