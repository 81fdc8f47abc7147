"""The package that `package new` begins with: it runs as it is, and brings its test."""

from __future__ import annotations

from pathlib import Path

from tallyman.core.faults import Fault, InputFaults
from tallyman.formats.package_zip import NAME

MANIFEST = """\
name = "{name}"
about = "Counts the lines of a text"
entry = "main.py"
# What a robot that takes it must be able to do.
tags = []
# What it counts: the units that the tally reckons with.
counts = ["lines"]
# Without a version here, the number is given on its release.

[inputs.text]
type = "string"
title = "Text"
description = "Each line of it is one unit"
default = "one\\ntwo"

[outputs.lines]
type = "integer"
title = "Lines"
required = true
"""
MAIN = '''\
"""Counts the lines of a text."""

import tallyman_kit as job

lines = [line for line in job.inputs["text"].splitlines() if line.strip()]
if not lines:
    job.nothing_to_do("the text is empty")
    raise SystemExit

with job.step("Count the lines", lines=len(lines)):
    for line in lines:
        job.log(line)
        job.count("lines")
job.output(lines=len(lines))
'''
TEST = '''\
"""Tries the package here, without a server: `./tallyman package try . --tests`."""

import unittest

from tallyman_kit_tests import tried


class CountsLines(unittest.TestCase):
    def test_each_line_is_counted(self):
        run = tried(text="a\\nb\\nc")
        self.assertEqual((run.state, run.counts, run.outputs), ("done", {"lines": 3}, {"lines": 3}))

    def test_an_empty_text_is_nothing_to_do(self):
        self.assertEqual(tried(text="").outcome, "nothing")
'''
README = """\
# {name}

What it does, for whom, and whom to ask.

    ./tallyman package try .            runs it here, with its defaults or with --inputs inputs.json
    ./tallyman package try . --tests    runs its tests
    ./tallyman package check .          says all that the server would refuse
    ./tallyman package release . --server URL --note "What changed"
"""


def begin(name: str, folder: Path) -> list[Path]:
    """Writes a new package into a folder that is not there yet; gives its files. Raises InputFaults."""
    if not NAME.match(name):
        message = "small letters, digits and -, such as check-readings"
        raise InputFaults([Fault("name", name, message)])
    if folder.exists() and any(folder.iterdir()):
        raise InputFaults([Fault("folder", str(folder), "is there already, and not empty; name another")])
    folder.mkdir(parents=True, exist_ok=True)
    texts = {
        "package.toml": MANIFEST.replace("{name}", name),
        "main.py": MAIN,
        "test_main.py": TEST,
        "README.md": README.replace("{name}", name),
    }
    for file, text in texts.items():
        (folder / file).write_text(text, encoding="utf-8")
    return [folder / file for file in texts]
