"""The packages of the demo: as they are, and as they were in their first release; who signed them."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from tallyman.demo.past import Past
from tallyman.formats.package_zip import pack
from tallyman.services.people import signing_keys
from tallyman.services.workshop import packages
from tallyman.signed import make_key, sign

PACKAGES = Path(__file__).parent / "packages"
FIRST, NOW = "1.0.0", "1.1.0"
# What is being worked on gets its number when it is released.
NUMBERLESS = ""
# What the newer release of each says it changed.
NOTES = {
    "check-readings": "How far above last year's use a reading may be is set on its start",
    "hydrant-letters": "Reads the new inspection list, and can be paused; rows without a finding go back",
    "lab-sheets": "Takes a sheet of any length",
}
# File by file, what stands in a package now and what stood there in its first release.
SINCE: dict[str, list[tuple[str, str, str]]] = {
    "check-readings": [
        ("main.py", 'float(job.inputs.get("most_times", 4))', "4.0"),
        ("main.py", 'encoding="utf-8-sig"', 'encoding="utf-8"'),
        (
            "package.toml",
            '[inputs.most_times]\ntype = "number"\ntitle = "Most times last year\'s use"\n'
            "minimum = 1\ndefault = 4\n\n",
            "",
        ),
        ("package.toml", 'counts = ["readings", "handed_back"]\n', ""),
    ],
    "hydrant-letters": [
        ("main.py", "        job.checkpoint(done=done, written=written, handed_back=handed_back)\n", ""),
        ("main.py", 'encoding="utf-8-sig"', 'encoding="utf-8"'),
        ("package.toml", "checkpoints = true\n", ""),
        ("package.toml", 'counts = ["letters", "handed_back"]\n', ""),
    ],
    "lab-sheets": [
        ("main.py", "for row in reader:", "for row in list(reader)[:500]:"),
        ("package.toml", 'counts = ["certificates", "handed_back"]\n', ""),
    ],
}
# What is being worked on: file by file, what stands there now and what takes its place.
NEXT: dict[str, list[tuple[str, str, str]]] = {
    "check-readings": [
        (
            "main.py",
            'pace = float(job.inputs.get("pace_seconds", 15))\n',
            'pace = float(job.inputs.get("pace_seconds", 15))\nslack = float(job.inputs.get("slack", 0))\n',
        ),
        ("main.py", "if now < last or", "if now < last - slack or"),
        (
            "package.toml",
            "[outputs.checked]",
            '[inputs.slack]\ntype = "number"\ntitle = "Units below the last one that are let pass"\n'
            "minimum = 0\ndefault = 0\n\n[outputs.checked]",
        ),
    ],
    "hydrant-letters": [
        ("main.py", "Merrowdale Water, Networks\n", "{signed}\n"),
        (
            "main.py",
            "LETTER.format(**row, next=follow)",
            'LETTER.format(**row, next=follow, signed=job.inputs.get("signed", "Merrowdale Water"))',
        ),
        (
            "package.toml",
            "[outputs.letters]",
            '[inputs.signed]\ntype = "string"\ntitle = "Who signs the letters"\n'
            'default = "Merrowdale Water, Street works"\n\n[outputs.letters]',
        ),
    ],
}
# What came after the newer release of one: the same way.
LATER: dict[str, list[tuple[str, str, str]]] = {
    "check-readings": [
        (
            "main.py",
            "    job.output(checked=len(rows), implausible=bad)\n",
            '    highest = max(rows, key=lambda row: float(row["now"]) - float(row["last"]))["meter"]\n'
            "    job.output(checked=len(rows), implausible=bad, highest=highest)\n",
        ),
        (
            "package.toml",
            "[outputs.implausible]",
            '[outputs.highest]\ntype = "string"\ntitle = "Meter with the highest use"\n\n'
            "[outputs.implausible]",
        ),
    ]
}
LATER_NUMBER = "1.2.0"
LATER_NOTE = "Says which meter used the most"
NEXT_NOTES = {
    "check-readings": "Lets a reading pass that lies a little below the last one",
    "hydrant-letters": "Who signs the letters is said at the start",
}


def zipped(package: str, version: str = NOW) -> bytes:
    """A package of the demo as a zip under a number; the first one as it was then, without a number what
    is being worked on."""
    folder = PACKAGES / package
    files = {
        str(path.relative_to(folder)): path.read_bytes()
        for path in folder.rglob("*")
        if path.is_file() and "__pycache__" not in path.parts
    }
    edits = {FIRST: SINCE, NUMBERLESS: NEXT, LATER_NUMBER: LATER}.get(version, {}).get(package, [])
    for name, now, other in edits:
        files[name] = files[name].replace(now.encode(), other.encode())
    number = f'version = "{NOW}"'.encode()
    wanted = f'version = "{version}"'.encode() if version else b""
    files["package.toml"] = files["package.toml"].replace(number, wanted)
    return pack(files)


class Releases:
    """Releases packages day by day: the first by page, the newer ones by command, signed."""

    def __init__(self, past: Past) -> None:
        self._past = past
        self._private = ""

    def first(self, package: str, days_ago: float) -> int:
        """The first release of a package, by Jonas Lindqvist; its number."""
        given = packages.Given("First release")
        return packages.release(self._past.ctx("Jonas Lindqvist", days_ago), zipped(package, FIRST), given)

    def newer(self, package: str, days_ago: float) -> int:
        """The newer release of a package, by Priya Raman, signed by her key; its number."""
        return self._signed(zipped(package), NOTES[package], days_ago)

    def later(self, package: str, days_ago: float) -> int:
        """The one after that, the same way."""
        return self._signed(zipped(package, LATER_NUMBER), LATER_NOTE, days_ago)

    def _signed(self, data: bytes, note: str, days_ago: float) -> int:
        ctx = self._past.ctx("Priya Raman", days_ago)
        if not self._private:
            self._private, public = make_key()
            signing_keys.add(ctx, "Desk by the window", public)
        given = packages.Given(note, origin="command", signature=sign(self._private, data))
        return packages.release(ctx, data, given)

    def worked_on(self, areas: Mapping[str, int]) -> None:
        """What is not the company's yet: Priya Raman tries one out, and Street works has another alone."""
        tried = packages.Given(NEXT_NOTES["check-readings"], seen_by="maker")
        packages.release(self._past.ctx("Priya Raman", 2), zipped("check-readings", NUMBERLESS), tried)
        given = packages.Given(
            NEXT_NOTES["hydrant-letters"], says="addition", seen_by="area", area_id=areas["Street works"]
        )
        packages.release(self._past.ctx("Priya Raman", 6), zipped("hydrant-letters", NUMBERLESS), given)
