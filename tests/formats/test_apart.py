"""What a process that reads foreign content may not do, whichever way it is tried."""

from __future__ import annotations

import subprocess
import sys

import pytest

from tallyman.config import HOME
from tests.patience import patience

ACTS = {
    "a socket": "import socket; socket.socket(socket.AF_INET, socket.SOCK_DGRAM)",
    "a name": "import socket; socket.getaddrinfo('merrowdale.example', 80)",
    "a datagram": "made.sendto(b'x', ('127.0.0.1', 9))",
    "a message": "made.sendmsg([b'x'], [], 0, ('127.0.0.1', 9))",
    "a connection": "made.connect(('127.0.0.1', 9))",
    "a process": "import subprocess; subprocess.run(['true'])",
    "a shell": "import os; os.system('true')",
    "another self": "import os; os.fork()",
    "another self with a terminal": "import os; os.forkpty()",
    "another program": "import os; os.execv('/bin/true', ['true'])",
    "a spawned program": "import os; os.posix_spawn('/bin/true', ['true'], {})",
    "a program by its path": "import os; os.spawnv(os.P_WAIT, '/bin/true', ['true'])",
    "a file": "import os; os.write(os.open('/tmp/tallyman-apart', os.O_CREAT | os.O_WRONLY), b'x')",
}
TRY = """
import signal, socket, sys
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
from tallyman.formats import apart
made = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
apart._shut_in(0)
try:
    {act}
except (PermissionError, OSError) as error:
    print("refused", type(error).__name__)
else:
    print("done")
"""


@pytest.mark.parametrize("act", ACTS.values(), ids=ACTS.keys())
def test_whatever_reads_foreign_content_reaches_nothing(act: str) -> None:
    done = subprocess.run(
        [sys.executable, "-c", TRY.format(act=act)],
        env={"PYTHONPATH": str(HOME / "src")},
        capture_output=True,
        text=True,
        timeout=patience(60),
        check=False,
    )
    assert done.stdout.startswith("refused"), done.stdout + done.stderr
