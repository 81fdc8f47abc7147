"""The commands: demo, setup, test, migrate, serve, engine, runner, calc, shots, bench, verify."""

from __future__ import annotations

import gc
import json
import signal
import sys
from pathlib import Path
from typing import Annotated, Any

import typer

from tallyman.builder import commands
from tallyman.core.cases.calc import business_case
from tallyman.core.cases.sizing_calc import sizing_of
from tallyman.core.faults import InputFaults
from tallyman.core.house.workdays import workdays
from tallyman.core.ideas.first_look import first_look
from tallyman.core.starts import clock

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)
app.add_typer(commands.app, name="package")
SWITCH_SECONDS = 0.0005
MOST_CONNECTIONS = 5_000
KINDS = {
    "first-look": first_look,
    "sizing": sizing_of,
    "business-case": business_case,
    "workdays": workdays,
    "clock": clock,
}
Port = Annotated[int, typer.Option(min=1024, max=65000, help="The port of the web pages.")]


@app.callback()
def begin() -> None:
    """Tallyman, the desk of an automation team."""
    from tallyman.config import configure_logs

    configure_logs()


def stop_with(words: str) -> None:
    """Ends with one sentence and exit code 1."""
    print(words, file=sys.stderr)
    raise typer.Exit(1)


@app.command()
def calc(kind: str, file: str) -> None:
    """Computes a rule set on JSON from FILE (- for standard input) and prints JSON."""
    if kind not in KINDS:
        print(f"kind: {kind!r}: allowed: {', '.join(KINDS)}", file=sys.stderr)
        raise typer.Exit(2)
    try:
        text = sys.stdin.read() if file == "-" else Path(file).read_text(encoding="utf-8")
        given = json.loads(text)
    except (OSError, ValueError) as error:
        print(f"input: {file!r}: cannot be read as JSON: {error}", file=sys.stderr)
        raise typer.Exit(2) from None
    wrong = False
    results: list[Any] = []
    for one in given if isinstance(given, list) else [given]:
        try:
            results.append(KINDS[kind](one))
        except InputFaults as error:
            wrong = True
            results.append({"errors": [fault.as_dict() for fault in error.faults]})
            for fault in error.faults:
                print(fault, file=sys.stderr)
    print(json.dumps(results if isinstance(given, list) else results[0], indent=1))
    raise typer.Exit(2 if wrong else 0)


@app.command()
def demo(port: Port = 8420, fresh: bool = False) -> None:
    """Sets everything up, loads the demo data, and runs until Ctrl-C."""
    from tallyman.launcher.demo import demo as run
    from tallyman.launcher.machine import Trouble

    try:
        code = run(port, fresh)
    except Trouble as trouble:
        stop_with(str(trouble))
    raise typer.Exit(code)


@app.command()
def start(port: Port = 8420) -> None:
    """Sets up and runs an installation of your own, without demo data, until Ctrl-C."""
    from tallyman.launcher.installation import start as run
    from tallyman.launcher.machine import Trouble

    try:
        code = run(port)
    except Trouble as trouble:
        stop_with(str(trouble))
    raise typer.Exit(code)


@app.command()
def setup(browser: bool = False) -> None:
    """Installs what is missing and builds the front end."""
    from tallyman.launcher import machine

    try:
        machine.check_disk()
        tests = {**machine.BROWSER, **machine.OFFICE, **machine.SCREEN} if browser else {}
        machine.ensure_debian({**machine.DATABASE, **machine.PAPER, **tests})
        machine.ensure_front_end()
    except machine.Trouble as trouble:
        stop_with(str(trouble))


@app.command()
def migrate() -> None:
    """Brings the database's schema up to date, under the account that owns it."""
    from tallyman.config import read_clock, settings
    from tallyman.errors import TallymanError
    from tallyman.launcher.databases import owner
    from tallyman.store.migrate import migrate as run

    try:
        names = run(owner(), settings().db_user, read_clock())
    except TallymanError as error:
        stop_with(f"Nothing was migrated: {error.message}.")
    print(f"Applied: {', '.join(names)}" if names else "Nothing to apply.")


@app.command()
def serve(port: Port = 8420, host: str = "127.0.0.1") -> None:
    """Serves pages and API."""
    # What is loaded now stays for good: looking through it for waste again and again only takes time.
    gc.disable()
    import uvicorn

    from tallyman.api.app import create_app
    from tallyman.api.edge.connections import Patient, allow_many
    from tallyman.config import settings
    from tallyman.launcher.databases import application
    from tallyman.launcher.installation import greet_first
    from tallyman.launcher.machine import Trouble, check_port

    try:
        check_port(port, "the web pages")
    except Trouble as trouble:
        stop_with(str(trouble))
    greet_first(application(), port)
    # Each answer of the database needs the interpreter back; waiting 5 ms for it every time is the
    # longest part of a call once the event loop is busy with many runners.
    sys.setswitchinterval(SWITCH_SECONDS)
    allow_many()
    proxies = settings().proxies
    made = create_app(application(24))
    gc.freeze()
    gc.enable()
    uvicorn.run(
        made,
        host=host,
        port=port,
        http=Patient,
        log_level="warning",
        timeout_graceful_shutdown=2,
        timeout_keep_alive=30,
        limit_concurrency=MOST_CONNECTIONS,
        proxy_headers=bool(proxies),
        forwarded_allow_ips=list(proxies),
        server_header=False,
        ws="none",
    )


@app.command()
def engine() -> None:
    """Runs the engine's loops until a signal."""
    import threading

    from tallyman.engine.supervisor import Supervisor
    from tallyman.launcher.databases import application

    supervisor = Supervisor(application())
    ended = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: ended.set())
    supervisor.start()
    ended.wait()
    supervisor.stop()


@app.command()
def runner(
    server: Annotated[str, typer.Option(help="Where Tallyman is.")] = "",
    code: Annotated[str | None, typer.Option(help="The one-time code of the host.")] = None,
    state: Annotated[Path, typer.Option(help="Where the runner keeps its token.")] = Path("var/runner"),
    as_myself: Annotated[
        bool,
        typer.Option(
            "--as-myself",
            help="Packages may work as the runner itself, and then read whatever it can, its token included.",
        ),
    ] = False,
    status: Annotated[
        bool, typer.Option("--status", help="Says how the runner of this folder is, and ends.")
    ] = False,
    install: Annotated[
        bool, typer.Option("--install", help="Makes it a service that starts with the computer, and ends.")
    ] = False,
    unit: Annotated[Path | None, typer.Option(help="Where --install writes the unit.")] = None,
    status_port: Annotated[
        int | None, typer.Option(help="The first port tried for its own page.", min=1024, max=65000)
    ] = None,
) -> None:
    """Connects this computer as a host and executes runs until Ctrl-C."""
    if status:
        from tallyman.runner.status import say_status

        raise typer.Exit(say_status(state))
    if not server:
        raise typer.BadParameter(
            "say where Tallyman is, such as https://tally.example", param_hint="--server"
        )
    if install:
        from tallyman.config import HOME
        from tallyman.runner.service import install_runner

        raise typer.Exit(install_runner(HOME, server, code, state, as_myself, unit))
    from tallyman.runner.main import main as run
    from tallyman.runner.status_page import PORT

    raise typer.Exit(run(server, code, state, as_myself, status_port or PORT))


@app.command("try-runner", context_settings={"ignore_unknown_options": True})
def try_runner(command: list[str]) -> None:
    """Tries a runner against the protocol: -- COMMAND with {server}, {code} and {state} in it."""
    import tempfile

    from tallyman.standins.trial import Trial

    with tempfile.TemporaryDirectory(prefix="tallyman-trial-") as folder:
        Path(folder).chmod(0o755)
        verdicts = Trial(command, Path(folder)).judge()
    for verdict in verdicts:
        print(f"{'kept    ' if verdict.kept else 'NOT KEPT'}  {verdict.point}: {verdict.fact}")
    wrong = sum(not verdict.kept for verdict in verdicts)
    print("The runner keeps to the protocol." if not wrong else f"{wrong} points are not kept.")
    raise typer.Exit(1 if wrong else 0)


@app.command("mail-catcher")
def mail_catcher(smtp_port: int = 8425, port: int = 8426) -> None:
    """Catches mails and shows them on a page."""
    from tallyman.standins.mail_catcher import serve as run

    raise typer.Exit(run(smtp_port, port))


@app.command()
def identity(port: int = 8427) -> None:
    """Signs in whoever is chosen on its page: the identity provider of the demo."""
    from tallyman.demo.load import outsiders
    from tallyman.launcher.demo import IDENTITY_CLIENT, IDENTITY_SECRET
    from tallyman.standins.identity import serve as run

    raise typer.Exit(run(port, IDENTITY_CLIENT, IDENTITY_SECRET, outsiders()))


@app.command("erase-person")
def erase_person(address: str) -> None:
    """Erases what is personal of somebody who left, by mail address; numbers and sums stay whole."""
    from tallyman.config import read_clock
    from tallyman.errors import TallymanError
    from tallyman.launcher.databases import owner
    from tallyman.services.context import Ctx
    from tallyman.services.people import erasure

    try:
        shown = erasure.erase(Ctx(owner(), read_clock()), address)
    except TallymanError as error:
        stop_with(f"Nothing was erased: {error.message}. {error.mend}.")
    print(f"Erased; what they did is now by {shown}.")


@app.command()
def verify() -> None:
    """Proves sums, postings, places, states, that figures agree wherever they stand, and the sealed trail."""
    from tallyman.config import read_clock
    from tallyman.errors import TallymanError
    from tallyman.launcher.databases import application
    from tallyman.services import portfolio, tally
    from tallyman.services.context import Ctx
    from tallyman.services.house import trail

    try:
        ctx = Ctx(application(), read_clock())
        wrong = [*tally.verify(ctx), *portfolio.verify(ctx), *trail.faults(ctx)]
    except TallymanError as error:
        stop_with(f"Nothing was verified: {error.message}.")
    for line in wrong:
        print(line)
    print("Nothing is wrong." if not wrong else f"{len(wrong)} things are wrong.")
    raise typer.Exit(1 if wrong else 0)


@app.command("rotate-key")
def rotate_key(
    forget_former: Annotated[
        bool, typer.Option(help="Only take keys off the ring that wrap nothing any more.")
    ] = False,
) -> None:
    """Adds a key that wraps secrets, makes it the current one, and wraps every secret by it; all goes on."""
    from tallyman.config import read_clock
    from tallyman.errors import TallymanError
    from tallyman.launcher.databases import application
    from tallyman.services import safe
    from tallyman.services.context import Ctx

    try:
        ctx = Ctx(application(), read_clock())
        if forget_former:
            gone = safe.forget_former_keys(ctx)
            print(f"Taken off the ring: {', '.join(gone) or 'none'}.")
            return
        done = safe.rotate(ctx)
    except TallymanError as error:
        stop_with(f"The keys were left as they are: {error.message}.")
    print(f"{done['key']} is the current key; {done['wrapped']} secrets were wrapped by it.")
    print("Once every process has run on for an hour: ./tallyman rotate-key --forget-former")


@app.command()
def shots(port: Port = 8420, folder: Path = Path("docs/screenshots")) -> None:
    """Takes a picture of each main view of the running demo."""
    from tallyman.launcher import machine
    from tallyman.launcher.shots import take_all

    try:
        machine.ensure_debian(machine.BROWSER)
        take_all(port, folder)
    except machine.Trouble as trouble:
        stop_with(str(trouble))


@app.command()
def bench(port: Port = 8420) -> None:
    """Measures the running demo: medians of pages and calls, ratios of ways to sum."""
    from tallyman.launcher.bench import run
    from tallyman.launcher.machine import Trouble

    try:
        run(port)
    except Trouble as trouble:
        stop_with(str(trouble))


@app.command()
def openapi() -> None:
    """Prints the description of the API."""
    from tallyman.api.app import create_app

    print(json.dumps(create_app().openapi(), indent=1, sort_keys=True))
