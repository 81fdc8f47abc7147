"""Checks meter readings: a reading below the last one, or far above it, goes to a person."""

import csv
import time
from pathlib import Path

import tallyman_kit as job

path = Path(job.inputs.get("readings") or Path(__file__).parent / "sample.csv")
most = float(job.inputs.get("most_times", 4))
pace = float(job.inputs.get("pace_seconds", 15))

with job.step("Read the readings", file=path.name) as step:
    with path.open(newline="", encoding="utf-8-sig") as file:
        reader = csv.DictReader(file)
        lacking = {"meter", "last", "now"} - set(reader.fieldnames or [])
        if lacking:
            raise SystemExit(f"{path.name} has no column {', '.join(sorted(lacking))}")
        rows = list(reader)
    step.out(rows=len(rows))
    job.log(f"{len(rows)} readings in {path.name}")

if not rows:
    job.nothing_to_do("the file holds no readings")
    raise SystemExit

bad = []
to_look_at = []
with job.step("Compare with the last ones", most_times=most) as step:
    for number, row in enumerate(rows, start=1):
        job.progress(number, len(rows), f"meter {row['meter']}")
        last, now = float(row["last"]), float(row["now"])
        if now < last or (last > 0 and now > last * most):
            bad.append(row["meter"])
            to_look_at.append(row)
            job.log(f"meter {row['meter']}: {last:g} then {now:g}", "caution")
        if number % 10 == 0:
            time.sleep(pace / 10)
    step.out(implausible=len(bad))

with job.step("Hand over") as step:
    job.output(checked=len(rows), implausible=bad)
    # Every reading that was looked at counts; those handed back are among them.
    job.count("readings", len(rows))
    if bad:
        job.count("handed_back", len(bad))
        with Path("to-look-at.csv").open("w", newline="", encoding="utf-8") as file:
            table = csv.DictWriter(file, fieldnames=list(rows[0]))
            table.writeheader()
            table.writerows(to_look_at)
        job.file("to-look-at.csv")
    step.out(to_people=len(bad))
job.log(f"{len(rows) - len(bad)} readings are plausible, {len(bad)} go to a person")
