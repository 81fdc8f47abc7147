"""Writes the notice for one street, and hands it over as a file."""

from datetime import date
from pathlib import Path

import tallyman_kit as job

NOTICE = """To the residents of {street}

On {day}, from {hours}, {what} while we work on the main in your street.

Please draw the water you need before, and let the tap run for a minute afterwards. Homes on the
priority-care register are called on by us.

Merrowdale Water, Networks
"""

day = date.fromisoformat(job.inputs["day"])
with job.step("Write the notice", street=job.inputs["street"]) as step:
    text = NOTICE.format(
        street=job.inputs["street"],
        day=f"{day.day} {day:%B %Y}",
        hours=job.inputs["hours"],
        what=job.inputs["what"],
    )
    name = f"notice-{day.isoformat()}.txt"
    Path(name).write_text(text, encoding="utf-8")
    job.file(name)
    step.out(words=len(text.split()))
job.output(words=len(text.split()))
