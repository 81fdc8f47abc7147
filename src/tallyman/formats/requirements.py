"""What a package requires: a requirements.txt in which every line is pinned and hashed."""

from __future__ import annotations

import re
from dataclasses import dataclass

from tallyman.core.faults import Fault, InputFaults

FILE = "requirements.txt"
LONGEST = 200_000
PINNED = re.compile(
    r"^([A-Za-z0-9][A-Za-z0-9._-]*)(?:\[[A-Za-z0-9,._-]+\])?==([A-Za-z0-9.!+_-]+)(?:\s*;[^#]*?)?$"
)
HASH = re.compile(r"\s--hash=sha256:([0-9a-f]{64})")
WHEEL = re.compile(
    r"^[A-Za-z0-9._]+-[A-Za-z0-9._!+]+(-\d[A-Za-z0-9._]*)?-[A-Za-z0-9._]+-[A-Za-z0-9._]+-[A-Za-z0-9._]+\.whl$"
)


@dataclass(frozen=True)
class Requirement:
    """One pinned requirement, and the digests of the wheels that may serve it."""

    name: str
    version: str
    digests: tuple[str, ...]


def read_requirements(text: str) -> list[Requirement]:
    """Every requirement of a file; InputFaults names each line that is not pinned by version and hash."""
    if len(text) > LONGEST:
        raise InputFaults([Fault(FILE, len(text), f"at most {LONGEST} characters")])
    found, faults = [], []
    for line in text.replace("\\\n", " ").splitlines():
        clean = re.sub(r"(^|\s)#.*$", "", line).strip()
        if not clean:
            continue
        digests = tuple(HASH.findall(f" {clean}"))
        pinned = PINNED.match(HASH.sub("", f" {clean}").strip())
        if pinned is None or not digests:
            message = "pin it by version and hash: name==1.2.3 --hash=sha256:…; nothing else is allowed"
            faults.append(Fault(FILE, clean[:80], message))
            continue
        found.append(Requirement(pinned[1], pinned[2], digests))
    if faults:
        raise InputFaults(faults)
    return found
