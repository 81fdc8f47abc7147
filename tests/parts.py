"""What each part of the tests took, printed at the end of a run."""

from __future__ import annotations

from collections import defaultdict

import pytest
from _pytest.terminal import TerminalReporter


def pytest_terminal_summary(terminalreporter: TerminalReporter) -> None:
    """Seconds of work by folder; several workers do them at once."""
    spent: dict[str, float] = defaultdict(float)
    tests: dict[str, set[str]] = defaultdict(set)
    for reports in terminalreporter.stats.values():
        for report in reports:
            if isinstance(report, pytest.TestReport):
                path = report.nodeid.partition("::")[0].removeprefix("tests/")
                part = path.partition("/")[0] if "/" in path else "the house"
                spent[part] += report.duration
                tests[part].add(report.nodeid)
    if len(spent) > 1:
        terminalreporter.section("time by part")
        for part, seconds in sorted(spent.items(), key=lambda one: -one[1]):
            terminalreporter.write_line(f"{part:<12} {seconds:7.1f} s  {len(tests[part]):5,} tests")
