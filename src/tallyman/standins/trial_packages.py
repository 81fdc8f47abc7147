"""The packages of the trial: those that work, wait or fail, and those that report what no server takes."""

from __future__ import annotations

import io
import zipfile

RAW = "import os, json\nout = os.fdopen(int(os.environ['TALLYMAN_REPORT']), 'wb')\n"
# What packages did that made finished work be lost.
POISON = {
    "bytes that are no text": "import sys\nsys.stdout.buffer.write(bytes(range(256)) + b'\\n')\n",
    "half characters": "import tallyman_kit as job\njob.log('half \\ud800')\njob.output(a='\\udfff')\n",
    "numbers that are none": "import tallyman_kit as job\njob.output(a=float('nan'), b=float('inf'))\n",
    "numbers without end": RAW
    + 'out.write(b\'{"kind": "output", "values": {"a": \' + b\'9\' * 5000 + b\'}}\\n\')\n',
    "a count that is none": "import tallyman_kit as job\njob.count('rows', float('nan'))\n",
    "a count below nothing": "import tallyman_kit as job\njob.count('rows', -1)\n",
    "sixty counts": "import tallyman_kit as job\nfor n in range(60):\n    job.count(f'rows {n}')\n",
    "a step with a long name": "import tallyman_kit as job\nwith job.step('x' * 900):\n    pass\n",
    "a reason of six thousand": "import tallyman_kit as job\njob.nothing_to_do('x' * 6000)\n",
    "brackets without end": RAW
    + 'out.write(b\'{"kind": "output", "values": {"a": \' + b\'[\' * 90000 + b\'\\n\')\n',
    "a line without end": "import sys\nfor n in range(60):\n    sys.stdout.write('x' * 1_000_000)\n",
    "times that are none": RAW
    + 'out.write(b\'{"kind": "step", "n": 1, "name": "a", "started_at": "soon"}\\n\')\n',
}
WORKS = """
import tallyman_kit as job
with job.step("Count"):
    job.log("one line")
job.count("rows", 3)
job.output(rows=job.inputs.get("rows", 0))
"""
WAITS = """
import os, time
import tallyman_kit as job
job.log("begun as process %d" % os.getpid())
while True:
    job.checkpoint(next=5)
    time.sleep(0.1)
"""
GOES_ON = "import tallyman_kit as job\njob.output(next=job.saved.get('next', 0))\n"
FAILS = "raise SystemExit('the list has no column pH')\n"
READS = "import tallyman_kit as job\njob.output(text=open(job.inputs['list']).read())\n"


def pack(code: str) -> bytes:
    """A package of one file."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("main.py", code)
        archive.writestr("package.toml", 'name = "trial"\nversion = "1.0.0"\nentry = "main.py"\n')
    return out.getvalue()
