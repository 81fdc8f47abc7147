"""A release says how much it changes: set against the one before, numbered, refused if it says too little."""

from __future__ import annotations

from dataclasses import dataclass

from tallyman.core.workshop.changes import (
    HEAVIER,
    Change,
    Declared,
    Number,
    changes,
    next_number,
    promised,
    promises_less,
    weight_of,
)
from tallyman.core.workshop.words import Said, Weight
from tallyman.errors import Fault, InputFaults
from tallyman.formats.package_zip import VERSION, Manifest, digests_of, read_package
from tallyman.services.workshop.answers import ChangeLine, NextNumber, ReleaseLook
from tallyman.store import files
from tallyman.store.db import Tx
from tallyman.store.records.workshop import PackagesNumbers

FIRST = Number(1, 0, 0)
CANNOT_COMPARE = Change(
    "breaking", "package", "", "cannot be set against the one before: one of both can no longer be read"
)
MOST_NOTE = 1000


@dataclass(frozen=True)
class Before:
    """The release that another is set against, and how the two differ."""

    row: PackagesNumbers
    number: Number
    changes: list[Change]

    @property
    def found(self) -> Weight:
        """How much changed."""
        return weight_of(self.changes)


def declared(data: bytes, manifest: Manifest) -> Declared:
    """What a checked package declares."""
    return Declared(
        inputs=manifest.inputs,
        outputs=manifest.outputs,
        entry=manifest.entry,
        about=manifest.about,
        tags=frozenset(manifest.tags),
        secrets=frozenset(manifest.secrets),
        counts=frozenset(manifest.counts),
        checkpoints=manifest.checkpoints,
        requirements={one.name: one.version for one in manifest.requirements},
        files=digests_of(data),
    )


def declared_by(tx: Tx, digest: str) -> Declared | None:
    """What a kept package declares; None where it is not kept, or can no longer be read."""
    data = files.get(tx, digest)
    try:
        return None if data is None else declared(data, read_package(data))
    except InputFaults:
        return None


def differences(tx: Tx, digest: str, after: Declared | None) -> list[Change]:
    """How a package differs from a kept one, by its digest."""
    before = declared_by(tx, digest)
    return [CANNOT_COMPARE] if before is None or after is None else changes(before, after)


def before(tx: Tx, package: str, number: Number | None, after: Declared) -> Before | None:
    """The release with the highest number below one (None: of all), and how it differs; None for a first one.

    So the third 1.4 is set against the second, also where 2.0 was released meanwhile.
    """
    rows = [
        (Number.read(row.version), row) for row in tx.all(PackagesNumbers, "packages.numbers", name=package)
    ]
    lower = [(one, row) for one, row in rows if number is None or one < number]
    if not lower:
        first = min(rows, default=None, key=lambda one: one[0])
        if first is not None and number is not None and number < first[0]:
            message = f"is lower than {first[0]}, the first release; take a higher number"
            raise InputFaults([Fault("version", str(number), message)])
        return None
    highest, row = max(lower, key=lambda one: one[0])
    return Before(row, highest, differences(tx, row.digest, after))


def _said(change: Change) -> str:
    return f"{change.kind} {change.name} {change.words}" if change.name else f"it {change.words}"


def _too_little(number: Number, said: Weight, last: Before) -> list[Fault]:
    """Why a number is refused, a line for each change that is heavier than it says."""
    fits = next_number(last.number, last.found)
    return [
        Fault("version", str(number), f"says {said}, but {_said(one)}, which is {one.weight}; make it {fits}")
        for one in last.changes
        if promises_less(said, one.weight)
    ]


def numbered(manifest: Manifest, says: Said, asked: str, last: Before | None) -> tuple[str, list[Fault]]:
    """The number of a release by its manifest, as asked for, or by what is said to change; and its faults."""
    wanted = asked or manifest.version
    if asked and manifest.version not in ("", asked):
        message = f"package.toml says {manifest.version}; say the same, or leave the number out there"
        return wanted, [Fault("number", asked, message)]
    if not VERSION.match(wanted or str(FIRST)):
        return wanted, [Fault("number", wanted, "three numbers, such as 1.0.0")]
    if last is None:
        return wanted or str(FIRST), []
    if not wanted and not says:
        fits = f"{last.found}: {next_number(last.number, last.found)}"
        return "", [Fault("says", "", f"say how much changed since {last.number}; found is {fits}")]
    number = Number.read(wanted) if wanted else next_number(last.number, _weight(says))
    said = promised(last.number, number)
    assert said is not None
    if says and says != said:
        meant = next_number(last.number, _weight(says))
        message = f"{number} is the number of a release that says {said}; the one that says {says} is {meant}"
        return str(number), [Fault("says", says, message)]
    return str(number), _too_little(number, said, last)


def _weight(said: Said) -> Weight:
    assert said
    return said


def checked_note(note: str) -> list[Fault]:
    """What is wrong with a note."""
    if not note.strip():
        return [Fault("note", "", "say in a sentence what changed")]
    return [Fault("note", note[:40] + "…", "up to 1,000 characters")] if len(note) > MOST_NOTE else []


def look(tx: Tx, data: bytes, manifest: Manifest) -> ReleaseLook:
    """What a package would be as a release: what changed since the one before, and which number says so."""
    wanted = Number.read(manifest.version) if manifest.version else None
    last = before(tx, manifest.name, wanted, declared(data, manifest))
    said = promised(last.number, wanted) if last and wanted else None
    return ReleaseLook(
        package=manifest.name,
        about=manifest.about,
        before=last.row.version if last else None,
        before_id=last.row.id if last else None,
        found=last.found if last else None,
        changes=[ChangeLine(one.weight, one.kind, one.name, one.words) for one in last.changes]
        if last
        else [],
        numbers=[
            NextNumber(one, str(next_number(last.number, one)), not promises_less(one, last.found))
            for one in HEAVIER
        ]
        if last and not wanted
        else [],
        number=str(wanted or FIRST) if wanted or last is None else None,
        said=said,
        against=[fault.message for fault in _too_little(wanted, said, last)]
        if last and wanted and said
        else [],
    )
