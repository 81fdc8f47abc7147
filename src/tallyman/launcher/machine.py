"""What the machine must have: Debian packages, Node, room on the disk; and building the front end."""

from __future__ import annotations

import ctypes.util
import hashlib
import os
import re
import shutil
import socket
import subprocess
from pathlib import Path

from tallyman.config import HOME

LEAST_NODE = 20
LEAST_FREE = 500_000_000
WEB = HOME / "web"
DIST = WEB / "dist"
NEXT = WEB / "dist.next"


class Trouble(Exception):
    """One clear sentence about what is in the way, and what mends it."""


def check_disk() -> None:
    """Raises Trouble when there is too little room for the database and the build."""
    free = shutil.disk_usage(HOME).free
    if free < LEAST_FREE:
        raise Trouble(
            f"The disk is nearly full: {free // 1_000_000} MB are free at {HOME}, at least "
            f"{LEAST_FREE // 1_000_000} MB are needed; make room and start again."
        )


def check_port(port: int, what: str) -> None:
    """Raises Trouble when somebody listens on the port already."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            raise Trouble(
                f"Port {port} for {what} is taken by another program; end it, or start with "
                "--port N for another set of ports."
            ) from None


def ensure_debian(programs: dict[str, str]) -> None:
    """Installs the Debian packages whose programs or libraries are missing; Trouble without root."""
    missing = sorted({package for program, package in programs.items() if not _has(program)})
    if not missing:
        return
    names = " ".join(missing)
    if os.geteuid() != 0 or not shutil.which("apt-get"):
        raise Trouble(
            f"The Debian packages {names} are missing and only root can install them; run "
            f"`apt-get install {names}` as root, then start again."
        )
    print(f"Installing {names} …", flush=True)
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    steps = (["apt-get", "update"], ["apt-get", "install", "-y", "--no-install-recommends", *missing])
    for step in steps:
        done = subprocess.run(step, env=environment, capture_output=True, text=True, check=False)
        if done.returncode:
            last = (done.stderr.strip().splitlines() or ["no reason given"])[-1]
            raise Trouble(f"`{' '.join(step)}` failed: {last}")


def _has(program: str) -> bool:
    if program.startswith("lib"):
        return ctypes.util.find_library(program.removeprefix("lib")) is not None
    return shutil.which(program, path=f"{os.environ.get('PATH', '')}:/usr/sbin:/sbin") is not None


DATABASE = {"mariadbd": "mariadb-server", "mariadb-install-db": "mariadb-server"}
# What lays out pages on paper.
PAPER = {
    "libpango-1.0": "libpango-1.0-0",
    "libpangoft2-1.0": "libpangoft2-1.0-0",
    "libharfbuzz-subset": "libharfbuzz-subset0",
}
# A spreadsheet program, with which tests reckon workbooks anew.
OFFICE = {"soffice": "libreoffice-calc-nogui"}
# A screen that nobody sits at, for packages that work with windows.
SCREEN = {"Xvfb": "xvfb", "xauth": "xauth"}
BROWSER = {"chromium": "chromium", "chromedriver": "chromium-driver"}


def check_node() -> None:
    """Raises Trouble when Node is missing or too old to build the front end."""
    if not _has("node") or not _has("npm"):
        raise Trouble(f"Node is missing; install Node {LEAST_NODE} or newer with npm, then start again.")
    text = subprocess.run(["node", "--version"], capture_output=True, text=True, check=False).stdout
    found = re.match(r"v(\d+)\.", text.strip())
    if not found or int(found.group(1)) < LEAST_NODE:
        raise Trouble(
            f"Node {text.strip() or 'of unknown version'} is too old; install Node {LEAST_NODE} or newer."
        )


def _digest(paths: list[Path]) -> str:
    digest = hashlib.sha256()
    for path in sorted(paths):
        digest.update(str(path.relative_to(HOME)).encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()


def _stamped(name: str, digest: str) -> bool:
    path = HOME / "var" / "stamps" / name
    return path.exists() and path.read_text() == digest


def _stamp(name: str, digest: str) -> None:
    path = HOME / "var" / "stamps" / name
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(digest)


def _npm(*words: str) -> None:
    done = subprocess.run(["npm", *words], cwd=WEB, capture_output=True, text=True, check=False)
    if done.returncode:
        tail = "\n".join((done.stdout + done.stderr).strip().splitlines()[-12:])
        raise Trouble(f"`npm {' '.join(words)}` failed:\n{tail}")


def _build() -> None:
    """Builds beside what is served, then puts it in its place: whoever reads a page gets a whole one."""
    _npm("run", "--silent", "build", "--", "--outDir", NEXT.name, "--emptyOutDir")
    former = DIST.with_name("dist.former")
    shutil.rmtree(former, ignore_errors=True)
    if DIST.exists():
        DIST.rename(former)
    NEXT.rename(DIST)
    shutil.rmtree(former, ignore_errors=True)


def ensure_front_end() -> None:
    """Installs the front end's libraries and builds it, when anything of it changed."""
    lock = _digest([WEB / "package-lock.json", WEB / "package.json"])
    if not _stamped("npm", lock) or not (WEB / "node_modules").exists():
        check_node()
        print("Installing the front end's libraries …", flush=True)
        _npm("ci", "--no-audit", "--no-fund")
        _stamp("npm", lock)
    # Types and words of the API are written out anew at every check; what they are written from counts.
    written = {WEB / "src" / "api" / name for name in ("schema.d.ts", "words.ts")}
    sources = [path for path in (WEB / "src").rglob("*") if path.is_file() and path not in written]
    sources += [WEB / name for name in ("index.html", "vite.config.ts", "tsconfig.json", "words.mjs")]
    sources.append(HOME / "docs" / "openapi.json")
    built = _digest([*sources, WEB / "package-lock.json"])
    if not _stamped("build", built) or not (DIST / "index.html").exists():
        check_node()
        print("Building the front end …", flush=True)
        _build()
        _stamp("build", built)
