"""The packages of the demo: as they are, and as they were in their first release; who signed them."""

from __future__ import annotations

from pathlib import Path

from tallyman.demo.past import Past
from tallyman.formats.package_zip import pack
from tallyman.services.people import signing_keys
from tallyman.services.workshop import packages
from tallyman.signed import make_key, sign

PACKAGES = Path(__file__).parent / "packages"
FIRST, NOW = "1.0.0", "1.1.0"
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


def zipped(package: str, version: str = NOW) -> bytes:
    """A package of the demo as a zip under a number; the first one as it was then."""
    folder = PACKAGES / package
    files = {
        str(path.relative_to(folder)): path.read_bytes()
        for path in folder.rglob("*")
        if path.is_file() and "__pycache__" not in path.parts
    }
    for name, now, before in SINCE[package] if version == FIRST else []:
        files[name] = files[name].replace(now.encode(), before.encode())
    number = f'version = "{NOW}"'.encode()
    files["package.toml"] = files["package.toml"].replace(
        number, number.replace(NOW.encode(), version.encode())
    )
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
        ctx = self._past.ctx("Priya Raman", days_ago)
        if not self._private:
            self._private, public = make_key()
            signing_keys.add(ctx, "Desk by the window", public)
        data = zipped(package)
        given = packages.Given(NOTES[package], origin="command", signature=sign(self._private, data))
        return packages.release(ctx, data, given)
