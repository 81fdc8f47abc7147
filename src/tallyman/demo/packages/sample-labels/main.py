"""Writes the labels of a sample round: one for each bottle, in the order of the route."""

from pathlib import Path

import tallyman_kit as job

ROUTES = {
    "North": ["Mill Reach tap", "School lane", "Upper reservoir", "Market hall"],
    "Hill side": ["Chapel steps", "Quarry road", "Hill tank outlet"],
    "River side": ["Old wharf", "Ferry house", "Lock cottage", "Reed meadow", "Boat yard"],
}
places = ROUTES[job.inputs["round"]]
lines = []
with job.step("Write the labels", round=job.inputs["round"]) as step:
    for number, place in enumerate(places, start=1):
        job.progress(number, len(places), place)
        for bottle in range(1, job.inputs["bottles"] + 1):
            lines.append(f"{job.inputs['round']} {number:02} | {place} | bottle {bottle}")
    Path("labels.txt").write_text("\n".join(lines) + "\n", encoding="utf-8")
    job.file("labels.txt")
    step.out(labels=len(lines))
job.output(labels=len(lines))
