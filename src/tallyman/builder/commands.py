"""`package new`, `try`, `check`, `key` and `release`."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Annotated, Any

import typer

from tallyman.core.faults import InputFaults

app = typer.Typer(no_args_is_help=True, help="Begins, tries, checks and releases a package.")
TOKEN = "TALLYMAN_TOKEN"
HERE = Path(__file__).parent
Folder = Annotated[Path, typer.Argument(help="The folder with package.toml, or its zip.")]
SIGNS = {"breaking": "!", "addition": "+", "fix": "·"}


def _refused(error: InputFaults) -> typer.Exit:
    for fault in error.faults:
        print(fault, file=sys.stderr)
    return typer.Exit(2)


@app.command()
def new(name: str) -> None:
    """Begins a package that runs, with its test, in a folder of its name."""
    from tallyman.builder.template import begin

    try:
        files = begin(name, Path(name))
    except InputFaults as error:
        raise _refused(error) from None
    print(f"Begun, in {name}: {', '.join(file.name for file in files)}.")
    print(f"Try it:  ./tallyman package try {name}")


@app.command()
def check(path: Folder) -> None:
    """Says all that the server would refuse, a line each with place and mend; ends with 2 if there is any."""
    from tallyman.builder.packing import checked, packed

    try:
        data = packed(path)
        manifest = checked(data)
    except InputFaults as error:
        raise _refused(error) from None
    number = f" {manifest.version}" if manifest.version else ""
    print(
        f"{manifest.name}{number}: nothing is wrong; {len(manifest.files)} files, {len(data):,} bytes packed."
    )


def _json(path: Path | None, otherwise: Path) -> dict[str, Any]:
    """Named values out of a file; of the one beside the package where none is named."""
    found = path or otherwise
    if path is None and not otherwise.exists():
        return {}
    try:
        read = json.loads(found.read_text(encoding="utf-8"))
    except (OSError, ValueError) as error:
        print(f"{found}: cannot be read as JSON: {error}", file=sys.stderr)
        raise typer.Exit(2) from None
    if not isinstance(read, dict):
        print(f'{found}: write names and values, such as {{"text": "one"}}', file=sys.stderr)
        raise typer.Exit(2)
    return read


@app.command("try")
def try_it(
    path: Folder,
    inputs: Annotated[Path | None, typer.Option(help="Inputs as JSON; else inputs.json.")] = None,
    secrets: Annotated[Path | None, typer.Option(help="Secrets as JSON; else secrets.json.")] = None,
    seconds: Annotated[float, typer.Option(min=1, help="After how long it is ended.")] = 600,
    tests: Annotated[bool, typer.Option("--tests", help="Runs its tests instead.")] = False,
) -> None:
    """Runs a package here, with no server; ends with 1 if it failed, with 2 if it could not begin."""
    from tallyman.builder import trying
    from tallyman.builder.packing import checked, packed

    if tests:
        raise typer.Exit(_tests(path))
    beside = path if path.is_dir() else path.parent
    given, kept = _json(inputs, beside / "inputs.json"), _json(secrets, beside / "secrets.json")
    try:
        data = packed(path)
        manifest = checked(data)
        if missing := trying.lacking(manifest, kept):
            print(f"secrets: not given, and asked for: {', '.join(missing)}", file=sys.stderr)
        found = trying.tried(data, given, kept, seconds=seconds)
    except InputFaults as error:
        raise _refused(error) from None
    _tell(found, trying.undeclared(manifest, found))
    raise typer.Exit(0 if found.state == "done" else 1)


def _tests(path: Path) -> int:
    """Runs the tests that a package brings, with the kit at hand; gives their exit code."""
    if not path.is_dir():
        print(f"path: {str(path)!r}: name the folder; tests are no part of a zip", file=sys.stderr)
        return 2
    kit = str(HERE.parent / "kit")
    paths = [str(HERE / "for_tests"), kit, str(HERE.parents[1])]
    surroundings = {**os.environ, "PYTHONPATH": os.pathsep.join(paths), "PYTHONDONTWRITEBYTECODE": "1"}
    command = [sys.executable, "-m", "unittest", "discover", "-p", "test*.py"]
    return subprocess.run(command, cwd=path, env=surroundings, check=False).returncode


def _tell(found: Any, undeclared: list[str]) -> None:
    print(f"{found.state}{': nothing to do' if found.outcome == 'nothing' else ''} {found.reason}".rstrip())
    for words, values in (("outputs", found.outputs), ("counts", found.counts)):
        if values:
            print(f"{words}: {', '.join(f'{name} {value}' for name, value in values.items())}")
    if undeclared:
        names = ", ".join(undeclared)
        print(f"counts: {names}: not declared; list it in package.toml, so that it can be chosen")


@app.command()
def key() -> None:
    """Makes the key by which this computer signs releases, once; prints its public half for My profile."""
    from tallyman.builder import keys
    from tallyman.signed import public_half, shown

    try:
        public = public_half(keys.private() or keys.make())
    except InputFaults as error:
        raise _refused(error) from None
    print(f"Signs as {shown(public)}; its private half stays in {keys.place()}.")
    print(f"Add this under My profile, Programs:  {public}")


@app.command()
def release(
    path: Folder,
    server: Annotated[str, typer.Option(help="Where Tallyman is.")],
    note: Annotated[str, typer.Option(help="What changed, in a sentence.")],
    says: Annotated[str, typer.Option(help="fix, addition or breaking; needed without a number.")] = "",
    number: Annotated[str, typer.Option(help="Its number, where package.toml has none.")] = "",
    unsigned: Annotated[bool, typer.Option("--unsigned", help="Not signed, though there is a key.")] = False,
    pipeline: Annotated[bool, typer.Option("--pipeline", help="It is a pipeline that releases it.")] = False,
) -> None:
    """Releases a package under the token in TALLYMAN_TOKEN; ends with 2 if it is refused."""
    from tallyman.builder import keys
    from tallyman.builder.packing import checked, packed
    from tallyman.builder.sending import Server

    token = os.environ.get(TOKEN, "")
    if not token:
        print(f"{TOKEN}: not set; make a token under My profile, and set it", file=sys.stderr)
        raise typer.Exit(2)
    try:
        data = packed(path)
        checked(data)
        to = Server(server, token)
        _changed(to.ask("/releases/look", data))
        more = {"note": note, "says": says, "number": number, "origin": "pipeline" if pipeline else "command"}
        more["signature"] = "" if unsigned else keys.signature(data)
        made = to.ask("/releases", data, more)
    except InputFaults as error:
        raise _refused(error) from None
    print(f"Released: {server.rstrip('/')}/workshop/releases/{made['id']}")


def _changed(look: dict[str, Any]) -> None:
    if look["before"] is None:
        print(f"{look['package']}: its first release.")
        return
    print(f"{look['package']}: since {look['before']} found as {look['found']}:")
    for one in look["changes"]:
        parts = (SIGNS[one["weight"]], one["kind"], one["name"], one["words"])
        print(f"  {' '.join(part for part in parts if part)}")
