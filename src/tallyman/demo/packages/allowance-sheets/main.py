"""Works out a leak allowance: of what was used above a usual year, all at the first claim and half later."""

import csv
from decimal import ROUND_HALF_UP, Decimal
from pathlib import Path

import tallyman_kit as job

given = {name: Decimal(str(job.inputs[name])) for name in ("used", "usual", "price")}
share = Decimal(1) if job.inputs["first_claim"] else Decimal("0.5")
with job.step("Work it out", **{name: str(value) for name, value in given.items()}) as step:
    above = max(given["used"] - given["usual"], Decimal(0))
    allowance = (above * share * given["price"]).quantize(Decimal("0.01"), ROUND_HALF_UP)
    step.out(above=str(above), allowance=str(allowance))
if above == 0:
    job.nothing_to_do("no more was used than in a usual year")
else:
    with Path("allowance.csv").open("w", newline="", encoding="utf-8") as file:
        rows = csv.writer(file)
        rows.writerow(["what", "value"])
        rows.writerow(["used in the year of the leak, m³", given["used"]])
        rows.writerow(["used in a usual year, m³", given["usual"]])
        rows.writerow(["above it, m³", above])
        rows.writerow(["share that is allowed", share])
        rows.writerow(["price of a cubic metre", given["price"]])
        rows.writerow(["allowance", allowance])
    job.file("allowance.csv")
job.output(allowance=str(allowance))
