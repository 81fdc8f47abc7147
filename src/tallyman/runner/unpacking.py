"""What a run is given on its host: its package as it was released, inputs, secrets, saved state, wheels."""

from __future__ import annotations

import hashlib
import io
import json
import shutil
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from tallyman.kit.given_files import named, with_files
from tallyman.runner.client import Client
from tallyman.runner.environments import environment
from tallyman.runner.surroundings import Surroundings
from tallyman.signed import fits

KIT = Path(__file__).resolve().parent.parent / "kit" / "tallyman_kit.py"


class Unpacking:
    """Fills the folder of one run. All that a file is named by is its digest, which is checked on arrival."""

    def __init__(
        self, client: Client, work: dict[str, Any], folder: Path, surroundings: Surroundings
    ) -> None:
        self._client = client
        self._work = work
        self._folder = folder
        self._surroundings = surroundings
        self._files = 0

    def go(self, environments: Path, secret: Callable[[list[str]], None]) -> Path | None:
        """Package, inputs and saved state in a fresh folder; gives the place of its wheels, if it has any.

        The folder itself stays the runner's, so that the package can replace nothing that the runner
        reaches by its name. `secret` is told each value that is to leave the host nowhere.
        """
        data = self._package()
        shutil.rmtree(self._folder, ignore_errors=True)
        self._folder.mkdir(parents=True, mode=0o711)
        self._folder.chmod(0o711)
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            archive.extractall(self._folder / "package")
        inputs = with_files(self._work["input_schema"], self._work["inputs"], self._put_down)
        self._write("inputs.json", json.dumps(inputs).encode())
        if self._work.get("secrets"):
            values, named = self._client.secrets(self._work["run"], self._work["fence"])
            secret([value for name, value in values.items() if name not in named])
            self._write("secrets.json", json.dumps(values).encode())
        if self._work.get("saved"):
            self._write("saved.json", self._fetch(self._work["saved"]))
        for name in ("home", "control", "kit", "out"):
            (self._folder / name).mkdir(mode=0o700)
        # A copy, as the runner's own folders may be closed to the account.
        shutil.copy(KIT, self._folder / "kit" / KIT.name)
        return environment(environments, self._folder / "package", self._work.get("wheels", []), self._fetch)

    def _package(self) -> bytes:
        """The package, to the byte as it was released and signed. Raises ValueError for another one."""
        data, released = self._client.file(self._work["digest"]), self._work["digest"]
        found = hashlib.sha256(data).hexdigest()
        if found != released:
            words = f"its SHA-256 is {found[:16]}…, and {released[:16]}… was released"
            raise ValueError(f"the package was changed after its release, so it was not started: {words}")
        told = self._work.get("signed")
        if told and not fits(told["public"], released, told["signature"]):
            raise ValueError("the package does not fit its builder's signature, so it was not started")
        return data

    def _write(self, name: str, data: bytes) -> None:
        self._surroundings.write(self._folder / name, data, private=True)

    def _fetch(self, digest: str) -> bytes:
        data = self._client.file(digest)
        if hashlib.sha256(data).hexdigest() != digest:
            raise ValueError("a file of the package arrived damaged")
        return data

    def _put_down(self, _place: str, value: str) -> str:
        """Fetches a file that was given; gives its path, which no name that others chose leads out of."""
        digest, shown = named(value)
        self._files += 1
        path = self._folder / "files" / str(self._files) / (Path(shown).name or "file")
        path.parent.mkdir(parents=True, exist_ok=True)
        self._surroundings.write(path, self._fetch(digest))
        return str(path)
