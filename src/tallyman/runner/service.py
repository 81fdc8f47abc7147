"""The runner as a service of the computer: a unit for systemd, which starts it with the computer."""

from __future__ import annotations

import getpass
import os
import shlex
import sys
from pathlib import Path

from tallyman.runner.main import connect_only

NAME = "tallyman-runner"
SYSTEM_FOLDER = Path("/etc/systemd/system")


def unit_path(name: str = NAME) -> Path:
    """Where the unit belongs: the computer's if the runner works as root, else the account's own."""
    if os.geteuid() == 0:
        return SYSTEM_FOLDER / f"{name}.service"
    own = os.environ.get("XDG_CONFIG_HOME") or str(Path.home() / ".config")
    return Path(own) / "systemd" / "user" / f"{name}.service"


def command(home: Path, server: str, state: Path, as_runner: bool) -> list[str]:
    """What the service starts; no code: the token is kept in the state folder."""
    found = [str(home / "tallyman"), "runner", "--server", server, "--state", str(state.resolve())]
    return [*found, "--as-myself"] if as_runner else found


def unit(home: Path, server: str, state: Path, as_runner: bool = False) -> str:
    """The text of the unit."""
    start = " ".join(_quoted(word) for word in command(home, server, state, as_runner))
    wanted_by = "multi-user.target" if os.geteuid() == 0 else "default.target"
    return f"""[Unit]
Description=Tallyman runner of this computer
Wants=network-online.target
After=network-online.target

[Service]
Type=exec
WorkingDirectory={_escaped(str(home))}
ExecStart={start}
Environment=PATH={_escaped(os.environ.get("PATH", os.defpath))}
Restart=always
RestartSec=5
# It ends what works and tells so before it goes; the packages are ended with it.
KillSignal=SIGTERM
KillMode=mixed
TimeoutStopSec=40
# It bounds memory, processes and CPU of packages by the kernel.
Delegate=yes

[Install]
WantedBy={wanted_by}
"""


def _escaped(text: str) -> str:
    # A percent sign begins a specifier in a unit.
    return text.replace("%", "%%")


def _quoted(word: str) -> str:
    word = _escaped(word).replace("$", "$$")
    return word if shlex.quote(word) == word else '"' + word.replace("\\", "\\\\").replace('"', '\\"') + '"'


def install_runner(
    home: Path, server: str, code: str | None, state: Path, as_runner: bool, path: Path | None
) -> int:
    """Connects with the code, if there is one, and makes the runner a service; gives the exit code."""
    if code is not None:
        connected = connect_only(server, code, state, as_runner)
        if connected:
            return connected
    if not (state / "runner.json").exists():
        print("This host is not connected yet; give the one-time --code.", file=sys.stderr)
        return 1
    try:
        print("\n".join(install(home, server, state, as_runner, path)))
    except OSError as error:
        print(f"The unit could not be written: {error}. Give another place by --unit.", file=sys.stderr)
        return 1
    return 0


def install(home: Path, server: str, state: Path, as_runner: bool, path: Path | None = None) -> list[str]:
    """Writes the unit; gives what to say: where it stands and what starts it."""
    where = path or unit_path()
    where.parent.mkdir(parents=True, exist_ok=True)
    where.write_text(unit(home, server, state, as_runner), encoding="utf-8")
    control = "systemctl" if os.geteuid() == 0 else "systemctl --user"
    said = [
        f"Written: {where}",
        f"It starts the runner as {getpass.getuser()} with the computer, and again should it ever end.",
        f"Start it now: {control} daemon-reload && {control} enable --now {where.stem}",
        f"Look at it:   {control} status {where.stem}, or {sys.argv[0]} runner --status",
    ]
    if os.geteuid() != 0:
        said.append("It works while you are signed in; for always: loginctl enable-linger")
    return said
