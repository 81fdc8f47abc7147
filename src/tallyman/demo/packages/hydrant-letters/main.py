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

# What was written before a pause is not written again.
done = job.saved.get("done", 0)
written = job.saved.get("written", 0)
handed_back = job.saved.get("handed_back", 0)
folder = Path("letters")
folder.mkdir(exist_ok=True)
with job.step("Write the letters", already_done=done) as step:
    for row in rows[done:]:
        time.sleep(1.2)
        if not row["found"]:
            job.log(f"{row['hydrant']}: nothing was noted as found, so a person looks at it", "caution")
            handed_back += 1
        else:
            follow = "Nothing needs to be done." if row["found"] == "in order" else "We mend it this month."
            text = LETTER.format(**row, next=follow)
            (folder / f"{row['hydrant']}.txt").write_text(text, encoding="utf-8")
            written += 1
            job.log(f"{row['hydrant']} {row['street']}: {row['found']}")
        done += 1
        job.checkpoint(done=done, written=written, handed_back=handed_back)
    step.out(letters=written)
# Every hydrant that was taken up counts; those handed back are among them.
job.count("letters", done)
job.count("handed_back", handed_back)
job.output(letters=written)
