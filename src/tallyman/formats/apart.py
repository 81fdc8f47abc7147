"""Foreign content is read in a process of its own: little memory, little time, no network, no writing."""

from __future__ import annotations

import base64
import json
import os
import resource
import subprocess
import sys
from pathlib import Path
from typing import Any

from tallyman.core.faults import Fault, InputFaults

SOURCES = str(Path(__file__).parents[2])
CACHE = str(Path(__file__).parents[3] / "var" / "cache")
LARGEST_FONT = 5_000_000
MEMORY = 1_500_000_000
SECONDS = 20
LARGEST_ANSWER = 80_000_000
# No socket is so much as made, and nothing is started in any of the ways there are.
FORBIDDEN = (
    "socket.__new__",
    "socket.connect",
    "socket.bind",
    "socket.sendto",
    "socket.sendmsg",
    "socket.getaddrinfo",
    "subprocess.Popen",
    "os.system",
    "os.exec",
    "os.fork",
    "os.forkpty",
    "os.posix_spawn",
    "os.spawn",
)


def run(job: str, data: bytes, *words: str) -> dict[str, Any]:
    """The answer of a job about some bytes: `sheet`, `code`, `closed days`, `case page` or `view`.

    Raises InputFaults when they cannot be read.
    """
    command = [sys.executable, "-m", "tallyman.formats.apart", job, *words]
    # Only what Python needs to find its modules; no secret of this process goes along.
    surroundings = {"PYTHONPATH": SOURCES, "PATH": os.environ.get("PATH", ""), "LANG": "C.UTF-8"}
    # Where the libraries that draw keep what they found out about fonts.
    surroundings |= {"MPLCONFIGDIR": CACHE, "XDG_CACHE_HOME": CACHE}
    try:
        done = subprocess.run(
            command, input=data, capture_output=True, timeout=SECONDS + 5, check=False, env=surroundings
        )
    except subprocess.TimeoutExpired:
        raise InputFaults([Fault("file", None, f"takes longer than {SECONDS} s to read")]) from None
    if done.returncode != 0 or len(done.stdout) > LARGEST_ANSWER:
        raise InputFaults([Fault("file", None, "cannot be read; it is broken, or asks for too much")])
    answer: dict[str, Any] = json.loads(done.stdout)
    if "fault" in answer:
        raise InputFaults([Fault("file", None, answer["fault"])])
    return answer


def _shut_in(largest_file: int) -> None:
    """Bounds this process before it looks at anything foreign. `largest_file`: bytes it may write."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_FSIZE, (largest_file, largest_file))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))

    def refuse(event: str, args: tuple[Any, ...]) -> None:
        if event in FORBIDDEN:
            raise PermissionError(event)

    sys.addaudithook(refuse)


def main() -> None:
    """Reads bytes from standard input and writes one JSON object."""
    from tallyman.formats import case_page, closed_days, file_view, package_zip, sheet_file

    job, *words = sys.argv[1:]
    data = sys.stdin.buffer.read()
    fonts = case_page.prepare(words[0]) if job == "case page" else {}
    # Laying out a page puts its fonts into a folder of its own for a while; reading writes nothing.
    _shut_in(LARGEST_FONT if fonts else 0)
    try:
        if job == "sheet":
            answer: dict[str, Any] = sheet_file.read(data, words[0])
        elif job == "case page":
            answer = case_page.lay_out(data, fonts)
        elif job == "code":
            answer = {"faults": [one.as_dict() for one in package_zip.faults_of_code(data)]}
        elif job == "closed days":
            answer = {"days": closed_days.read_calendar(data)}
        else:
            picture, text = file_view.view(data, words[0])
            answer = {"picture": base64.b64encode(picture).decode() if picture else None, "text": text}
    except (sheet_file.NotReadable, closed_days.NotReadable) as error:
        answer = {"fault": str(error)}
    sys.stdout.write(json.dumps(answer))


if __name__ == "__main__":
    main()
