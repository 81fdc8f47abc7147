"""The runner's life: connect once, then heartbeats and work until it is told to stop."""

from __future__ import annotations

import contextlib
import fcntl
import getpass
import json
import os
import random
import shutil
import signal
import sys
import threading
import time
from pathlib import Path
from typing import IO, Any

import httpx
import psutil

from tallyman.formats.redact import Redactor
from tallyman.runner import environments, machine, remains
from tallyman.runner.accounts import AS_RUNNER, Accounts
from tallyman.runner.client import Client, Rejected, Stopped
from tallyman.runner.deliver import Delivery
from tallyman.runner.execute import STOPPED, Host, Job
from tallyman.runner.groups import Groups
from tallyman.runner.places import Places
from tallyman.runner.proving import Prover
from tallyman.runner.screen import Screens
from tallyman.runner.sitting import Seen
from tallyman.runner.spool import Spool
from tallyman.runner.status import Status, Trouble, of_refusal, of_transport, read_status
from tallyman.runner.status_page import PORT, StatusPage
from tallyman.runner.surroundings import Surroundings

HEARTBEAT_SECONDS = 3.0
# While there is nothing that a beat could keep or end, every third one is enough.
IDLE_BEATS = 3
# What the server asks to be read is told soon, but not on the heels of the question.
READING_SECONDS = 0.5
LONGEST_PAUSE = 15.0
LEAVING_SECONDS = 12.0
STAYS_SECONDS = 2.0
# Another runner works in the same folder.
IN_USE = 409


def say(text: str) -> None:
    """A line for whoever watches the runner."""
    print(text, flush=True)


class Runner:
    """Keeps one host connected; takes runs as long as its places allow."""

    def __init__(
        self,
        server: str,
        state: Path,
        surroundings: Surroundings | None = None,
        *,
        as_runner: bool = False,
    ) -> None:
        self.server = server
        # Packages work in folders of their own: where things are is said from the root on.
        state = state.resolve()
        self.state = state
        self.places = Places(state)
        self.surroundings = surroundings or Surroundings.from_environment()
        self.stop = threading.Event()
        # It is to stop: it says so first, and takes nothing more.
        self.leaving = threading.Event()
        # The server heard that it started.
        self.greeted = threading.Event()
        self.machine = machine.identity()
        self.groups = Groups() if os.geteuid() == 0 else None
        self.jobs: dict[int, Job] = {}
        self.threads: list[threading.Thread] = []
        self.deliveries: list[Delivery] = []
        self.accounts = Accounts(state, as_runner)
        self.host = Host(self.accounts, self.groups)
        self.asked_accounts: list[str] = []
        self.redactor = Redactor([])
        # The applications of a reading that the server asked for.
        self.to_read: dict[str, list[str]] | None = None
        self._lock = threading.Lock()
        self._only: IO[str] | None = None
        # The server knows this runner no more: it works no more, and says so until a new code is given.
        self.refused = False
        self.status = Status(server, state, account=getpass.getuser(), release=machine.RELEASE)
        self.client = Client(server, "", self.stop, self.machine)
        self.client.heard = self.status.answered
        self.prover = Prover(self.client, self._hide, say)
        self.screens = Screens(self.client, say)
        self.sitting = Seen()

    def _hide(self, secret: str) -> None:
        self.redactor = self.redactor.and_also([secret])

    @property
    def facts(self) -> dict[str, str]:
        """What this host is."""
        return machine.facts(*self.how, self.accounts.as_runner)

    @property
    def how(self) -> tuple[str, str]:
        """Under which accounts packages work, and how they are bounded, for the pre-check."""
        bounds = self.groups.words if self.groups is not None else "memory and disk watched"
        if self.accounts.as_runner:
            return "as the runner itself where no account is named: they can read its token", bounds
        if os.geteuid() == 0:
            return "each under an account of its robot's own", bounds
        return "only where the runner may work as the account named", bounds

    def leave(self) -> None:
        """Begins to stop: the server hears of it first."""
        self.status.stopping = True
        self.leaving.set()
        self.greeted.set()

    def connect(self, code: str | None) -> str:
        """Uses the code, or the token kept from an earlier start. Gives the host's name."""
        self._hold_state()
        kept = self.state / "runner.json"
        if code is not None:
            found = self.client.connect(code, getpass.getuser(), self.facts)
            self._keep({"server": self.server, **found})
        elif not kept.exists():
            raise Rejected(401, "This host is not connected yet; give the one-time --code.")
        found = json.loads(kept.read_text(encoding="utf-8"))
        self.client.use(found["token"])
        self.redactor = Redactor([found["token"]])
        self.status.host = str(found["host"])
        return self.status.host

    def _keep(self, found: dict[str, str]) -> None:
        """Keeps the token for the next start, for this account only."""
        self.surroundings.write(self.state / "runner.json", json.dumps(found).encode(), private=True)

    def _change_token(self, token: str) -> None:
        """The server gave a new token: kept first, used then; until it is used, the former works too."""
        kept = json.loads((self.state / "runner.json").read_text(encoding="utf-8"))
        self._keep({**kept, "token": token})
        self.redactor = self.redactor.and_also([token])
        self.client.use(token)

    def _hold_state(self) -> None:
        """Makes sure that no other runner works in the same folder."""
        self.state.mkdir(parents=True, exist_ok=True)
        self._only = (self.state / "lock").open("w")
        try:
            fcntl.flock(self._only, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise Rejected(IN_USE, f"Another runner works in {self.state}") from None

    def let_go(self) -> None:
        """Another runner may begin in its folder."""
        if self._only is not None:
            self._only.close()

    def run(self) -> None:
        """Heartbeats and work, until told to stop; running packages are ended then."""
        remains.begin()
        self._clean_up()
        beats = threading.Thread(target=self._beats, name="heartbeats")
        beats.start()
        # What it is handed before the server knows that it started anew would be taken back.
        self.greeted.wait()
        pause = 0.5
        while not self.leaving.is_set() and not self.stop.is_set():
            try:
                work = self.client.work()
                pause = 0.5
            except httpx.TransportError as error:
                self.status.troubled(of_transport(error, self.server))
                self.leaving.wait(pause * random.uniform(0.7, 1.3))
                pause = min(pause * 2, LONGEST_PAUSE)
                continue
            except Rejected as error:
                self._refused(error)
                continue
            if work is not None:
                self._start(work)
        self.leaving.set()
        self._end_work()
        self.stop.set()
        beats.join()
        for thread in self.threads:
            thread.join(timeout=10)
        for delivery in self.deliveries:
            delivery.thread.join(timeout=10)
        self.client.close()

    def _end_work(self) -> None:
        """Ends what works here, and tells its end while the server still listens."""
        for job in list(self.jobs.values()):
            job.stopped.set()
        ends = time.monotonic() + LEAVING_SECONDS
        for thread in [*self.threads, *(one.thread for one in self.deliveries)]:
            thread.join(timeout=max(0.0, ends - time.monotonic()))

    def _clean_up(self) -> None:
        """Delivers what an earlier runner left, ends runs it was killed in, and clears the disk."""
        remains.end_former(self.places.work)
        self.accounts.end_all()
        shutil.rmtree(self.places.work, ignore_errors=True)
        self.places.make()
        environments.tidy(self.places.environments)
        for folder in sorted(self.places.spool.iterdir()):
            spool = Spool(folder, self.surroundings)
            work = spool.work
            if work is None:
                spool.drop()
                continue
            if not spool.has_outcome:
                spool.end({"state": "failed", "reason": STOPPED})
            say(f"R-{work['run']}: what an earlier runner left is delivered")
            self._deliver(work, spool, lambda: None)

    def _deliver(self, work: dict[str, Any], spool: Spool, not_ours: Any) -> None:
        delivery = Delivery(self.client, work["run"], work["fence"], spool, not_ours, self.stop)
        self.deliveries = [one for one in self.deliveries if one.thread.is_alive()] + [delivery]
        delivery.start()

    def _refused(self, error: Rejected) -> None:
        trouble = of_refusal(error.status, str(error), self.status.host)
        say(f"The server refused: {trouble.what}. {trouble.mend}.")
        self.status.troubled(trouble)
        if error.status == 401:
            self.refused = True
            self.stop.set()
            self.leave()
            # Nobody stops it: it stays, and says why it works no more.
            self.status.stopping = False
        else:
            self.leaving.wait(2)

    def _start(self, work: dict[str, Any]) -> None:
        if self.leaving.is_set():
            with contextlib.suppress(httpx.TransportError, Rejected):
                self.client.give_back(work["run"], work["fence"])
            return
        spool = Spool(self.places.spool / f"{work['run']}-{work['fence']}", self.surroundings)
        with contextlib.suppress(OSError):
            # With a full disk it is told from memory; only a killed runner would lose it then.
            spool.begin(work)
        job = Job(self.client, work, self.places, spool, self.surroundings, self.host, self.redactor)
        if not job.begin():
            say(f"R-{job.run}: was taken back before it began")
            spool.drop()
            return
        with self._lock:
            self.jobs[job.run] = job
        what = f"{work['package']} {work['version']}"
        say(f"R-{job.run}: {what} as {work['robot']}")
        self.status.begun(job.run, what, str(work["robot"]))
        thread = threading.Thread(target=self._work, args=(job,), name=f"run-{job.run}")
        self.threads = [one for one in self.threads if one.is_alive()] + [thread]
        thread.start()
        self._deliver(work, spool, job.dropped.set)

    def _work(self, job: Job) -> None:
        try:
            job.go()
            if job.failed:
                self.status.erred(f"R-{job.run} failed; its page in Tallyman says why")
        finally:
            with self._lock:
                if self.jobs.get(job.run) is job:
                    self.jobs.pop(job.run)
            self.status.ended(job.run)
            say(f"R-{job.run}: ended")

    def _held(self) -> list[tuple[int, int]]:
        """What the runner works on, or has not told the end of yet: both keep their lease."""
        with self._lock:
            held = {job.run: job.fence for job in self.jobs.values()}
        for delivery in self.deliveries:
            if delivery.thread.is_alive():
                held.setdefault(delivery.run, delivery.fence)
        return list(held.items())

    def _quiet(self) -> dict[int, int]:
        """For how many seconds each package that works here gave no sign."""
        with self._lock:
            return {job.run: job.quiet.seconds for job in self.jobs.values()}

    def _beats(self) -> None:
        fresh, told = True, False
        while not self.stop.is_set():
            asked_at = time.monotonic()
            leaving = self.leaving.is_set()
            looked_at = {name: self.accounts.fault(name) for name in ["", *self.asked_accounts]}
            reading = self._read()
            now = self.surroundings.now()
            try:
                answer = self.client.heartbeat(
                    self._held(),
                    now,
                    looked_at,
                    fresh=fresh,
                    leaving=leaving,
                    reading=reading,
                    in_use=self.sitting.now() == "in use",
                    quiet=self._quiet(),
                )
            except httpx.TransportError as error:
                self.status.troubled(of_transport(error, self.server))
                self.stop.wait(random.uniform(0.7, 1.3))
                continue
            except Rejected as error:
                self._refused(error)
                continue
            fresh, told = False, told or leaving
            self.greeted.set()
            self._answered(answer, asked_at)
            for job in list(self.jobs.values()) if told else []:
                job.stopped.set()
            self._pause(told)

    def _read(self) -> dict[str, Any] | None:
        """A reading of the host, if the server asked for one; its facts alone where it cannot be read."""
        if self.to_read is None:
            return None
        try:
            return machine.reading(self.state, self.to_read, self.facts, self.sitting.now())
        except (OSError, psutil.Error):
            return {"facts": self.facts}

    def _pause(self, told: bool) -> None:
        """Until the next heartbeat is due; leaving is told at once, and a begun run with the next due one."""
        if self.to_read is not None and not told:
            self.leaving.wait(READING_SECONDS)
            return
        for _ in range(IDLE_BEATS):
            if (self.stop if told else self.leaving).wait(HEARTBEAT_SECONDS) or self._held():
                return

    def _answered(self, answer: dict[str, Any], asked_at: float) -> None:
        self.asked_accounts = answer.get("accounts", [])
        self.to_read = answer.get("read")
        self.prover.asked(answer.get("prove", []))
        self.screens.asked(answer.get("screens", []), dict(self.jobs))
        if answer.get("token"):
            self._change_token(str(answer["token"]))
        with self._lock:
            for kept in answer["kept"]:
                if kept["run"] in self.jobs:
                    self.jobs[kept["run"]].renewed(asked_at)
            for name, sign in (("cancel", "cancelled"), ("pause", "paused"), ("stop", "dropped")):
                for run in answer.get(name, []):
                    if run in self.jobs:
                        getattr(self.jobs[run], sign).set()


def _not_connected(runner: Runner, error: Exception) -> int:
    """Says why it is not connected, on the command line and in the file that `--status` reads."""
    if isinstance(error, Rejected) and error.status == IN_USE:
        trouble = Trouble("in use", str(error), "Give another --state, or end that runner")
    elif isinstance(error, Rejected):
        trouble = of_refusal(error.status, str(error))
    elif isinstance(error, httpx.TransportError):
        trouble = of_transport(error, runner.server)
    else:
        trouble = Trouble("stopped", str(error) or "it was stopped before it was connected", "Start it again")
    runner.status.troubled(trouble)
    print(f"Not connected: {trouble.what}.\n{trouble.mend}.", file=sys.stderr)
    # Another runner works in that folder: what is known of it there stays.
    if getattr(error, "status", 0) != IN_USE:
        runner.status.keep()
    return 1


def _stay(runner: Runner, over: threading.Event) -> None:
    """Works no more and says why, until it is ended or another runner begins in the same folder."""
    runner.let_go()
    while not over.wait(STAYS_SECONDS):
        if read_status(runner.state).get("process") != os.getpid():
            return


def connect_only(server: str, code: str, state: Path, as_runner: bool = False) -> int:
    """Uses a code and keeps the token, for a service to begin with; gives the exit code."""
    runner = Runner(server, state, as_runner=as_runner)
    try:
        print(f"Connected as host {runner.connect(code)}.")
    except (Rejected, Stopped, httpx.TransportError) as error:
        return _not_connected(runner, error)
    finally:
        runner.client.close()
        runner.let_go()
    return 0


def main(server: str, code: str | None, state: Path, as_runner: bool = False, port: int = PORT) -> int:
    """Runs a runner until a signal; gives the exit code."""
    runner = Runner(server, state, as_runner=as_runner)
    over = threading.Event()

    def end(*_: object) -> None:
        over.set()
        runner.leave()

    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, end)
    try:
        name = runner.connect(code)
    except (Rejected, Stopped, httpx.TransportError) as error:
        return _not_connected(runner, error)
    page = StatusPage(runner.status, port)
    runner.status.keep(page.address)
    say(f"Connected as host {name}; waiting for work. Ctrl-C ends it.")
    if page.address:
        say(f"How it is, on this computer: {page.address}")
    fault = runner.accounts.fault("")
    if fault:
        say(f"Robots without an account of their own will not work here: {fault}.")
    elif as_runner:
        say(f"{AS_RUNNER}: packages work as the runner itself, and can read whatever it can.")
    runner.run()
    runner.status.keep(page.address)
    if runner.refused and not over.is_set():
        _stay(runner, over)
    page.close()
    return 1 if runner.refused else 0
