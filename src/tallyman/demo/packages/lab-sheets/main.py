"""Takes laboratory sheets over: each sample within its limits becomes a sealed certificate."""

import csv
import hashlib
import hmac
import time
from datetime import UTC, datetime
from pathlib import Path

import tallyman_kit as job

given = job.inputs.get("sheet")
path = Path(given) if given else Path(__file__).parent / "week.csv"
with job.step("Look for a sheet") as step:
    # The sample sheet counts as new in the first half of each hour.
    new = bool(given) or datetime.now(UTC).minute < 30
    step.out(found=path.name if new else None)
if not new:
    job.nothing_to_do("no new sheet since the last run")
    raise SystemExit

key = job.secret("certificate-seal").encode()
laboratory = job.secret("laboratory-name")
taken = 0
with job.step("Check the samples", file=path.name) as step:
    with path.open(newline="", encoding="utf-8-sig") as file:
        reader = csv.DictReader(file)
        if "pH" not in (reader.fieldnames or []):
            raise SystemExit(f"sheet {path.name} has no column pH")
        for row in reader:
            time.sleep(0.2)
            # Every sample that was taken up counts; those handed back are among them.
            job.count("certificates")
            if 6.5 <= float(row["pH"]) <= 9.5:
                taken += 1
                words = f"{row['sample']}: pH {row['pH']}, chlorine {row['chlorine']} mg/l"
                seal = hmac.new(key, words.encode(), hashlib.sha256).hexdigest()[:12]
                job.log(f"{words}, {laboratory}, seal {seal}")
            else:
                job.count("handed_back")
                job.log(f"{row['sample']}: pH {row['pH']} is out of its limits", "caution")
    step.out(taken=taken)
job.output(certificates=taken)
