"""Writes a letter for each inspected hydrant; one without a finding goes back to a person."""

import csv
import time
from pathlib import Path

import tallyman_kit as job

LETTER = """To the residents of {street},

hydrant {hydrant} in your street was inspected. It is {found}.
{next}

Merrowdale Water, Networks
"""

path = Path(job.inputs.get("inspections") or Path(__file__).parent / "inspections.csv")
with job.step("Read the list", file=path.name) as step:
    with path.open(newline="", encoding="utf-8-sig") as file:
        rows = list(csv.DictReader(file))
    step.out(rows=len(rows))

written = 0
folder = Path("letters")
folder.mkdir()
with job.step("Write the letters") as step:
    for row in rows:
        time.sleep(0.15)
        if not row["found"]:
            job.log(f"{row['hydrant']}: nothing was noted as found, so a person looks at it", "caution")
            job.count("handed_back")
            continue
        follow = "Nothing needs to be done." if row["found"] == "in order" else "We mend it this month."
        text = LETTER.format(**row, next=follow)
        (folder / f"{row['hydrant']}.txt").write_text(text, encoding="utf-8")
        written += 1
        job.count("letters")
        job.log(f"{row['hydrant']} {row['street']}: {row['found']}")
    step.out(letters=written)
job.output(letters=written)
