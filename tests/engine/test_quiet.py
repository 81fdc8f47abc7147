"""For how long a package gives no sign, and what counts as one."""

from __future__ import annotations

import subprocess
import sys

import pytest

from tallyman.runner import quiet
from tests.serving import wait_for


class Clock:
    def __init__(self) -> None:
        self.now = 100.0

    def monotonic(self) -> float:
        return self.now


@pytest.fixture
def clock(monkeypatch: pytest.MonkeyPatch) -> Clock:
    found = Clock()
    monkeypatch.setattr(quiet, "time", found)
    return found


def test_the_longest_silence_is_kept_and_each_sign_begins_it_anew(clock: Clock) -> None:
    one = quiet.Quiet()
    clock.now += 40
    assert (one.seconds, one.longest) == (40, 40)
    one.sign()
    clock.now += 7
    assert (one.seconds, one.longest) == (7, 40)
    clock.now += 60
    assert (one.seconds, one.longest) == (67, 67)


def test_work_of_its_processes_is_a_sign_and_idling_is_none(clock: Clock) -> None:
    one = quiet.Quiet()
    clock.now += 30
    one.look(2.0)
    assert one.seconds == 0
    for _ in range(20):
        clock.now += 5
        one.look(2.0)
    assert one.seconds == 100
    # What waits costs a little; it is no work.
    clock.now += 5
    one.look(2.04)
    assert one.seconds == 105
    # One of its processes ended, and with it what it had used.
    clock.now += 5
    one.look(0.3)
    assert one.seconds == 0


BUSY = "import subprocess, sys; subprocess.run([sys.executable, '-c', 'while True: pass'])"


def test_what_the_processes_below_one_have_used_is_seen() -> None:
    process = subprocess.Popen([sys.executable, "-c", BUSY])
    try:
        wait_for(lambda: quiet.cpu_seconds(process.pid) > 0.2)
    finally:
        for child in quiet.psutil.Process(process.pid).children(recursive=True):
            child.kill()
        process.wait()
    assert quiet.cpu_seconds(process.pid) == 0.0
