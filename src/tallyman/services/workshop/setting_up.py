"""A routine as somebody sets it up, and whether every field of it fits."""

from __future__ import annotations

from dataclasses import dataclass

from tallyman.core.runs import NOTHING_ASKED, Asked, Attended
from tallyman.errors import Fault, InputFaults
from tallyman.formats.schemas import check_inputs
from tallyman.formats.sound import one_line
from tallyman.services.context import Ctx
from tallyman.services.workshop import sight
from tallyman.services.workshop.wants import withdrawn
from tallyman.store.db import Tx
from tallyman.store.records.house import Area
from tallyman.store.records.workshop import ReleaseWhole

MOST_LOCKS = 10
MOST_SYSTEM = 60
MOST_APPLICATIONS = 20
MOST_ASKED = {"processors": 1000, "memory_gb": 100_000, "disk_gb": 1_000_000}
BOUNDS = {
    "priority": (1, 5),
    "run_limit": (1, 100),
    "lease_minutes": (1, 1440),
    "limit_minutes": (1, 10080),
    "memory_mb": (32, 65536),
    "most_attempts": (1, 20),
}


@dataclass(frozen=True)
class Given:
    """A routine as somebody sets it up."""

    name: str
    area_id: int
    release_id: int
    inputs: dict[str, object]
    tags: list[str]
    priority: int = 3
    run_limit: int = 1
    lease_minutes: int = 15
    limit_minutes: int = 60
    again_after_lost: bool = False
    most_attempts: int = 3
    memory_mb: int = 1024
    locks: tuple[str, ...] = ()
    idea_id: int | None = None
    basis: str = "run"
    count_name: str = ""
    # Of one in service that takes another release: tried first, or at once for a reason.
    trial_again: bool = False
    release_why: str = ""
    # What it asks of the host beside tags.
    asked: Asked = NOTHING_ASKED
    # Whether it works on a person's own computer, and whose; without one, of whoever starts it.
    attended: Attended = ""
    attended_for: int | None = None


def checked(tx: Tx, ctx: Ctx, given: Given, had: int | None = None) -> ReleaseWhole:
    """The release of a set-up whose every field fits; one that is withdrawn only where it was used (`had`)
    before. Raises InputFaults."""
    faults = []
    if not given.name.strip() or len(given.name) > 120 or one_line(given.name) != given.name:
        faults.append(Fault("name", given.name[:60], "give a name of 1 to 120 characters, in one line"))
    for field, (low, high) in BOUNDS.items():
        if not low <= getattr(given, field) <= high:
            faults.append(Fault(field, getattr(given, field), f"allowed: {low} to {high}"))
    faults += _asked_faults(given.asked)
    for name in given.locks:
        if not 1 <= len(name.strip()) <= 80 or len(given.locks) > MOST_LOCKS:
            message = f"give up to {MOST_LOCKS} names of 1 to 80 characters"
            faults.append(Fault("locks", name[:60], message))
    if given.basis not in ("run", "count"):
        faults.append(Fault("basis", given.basis, "allowed: run, count"))
    if given.idea_id and given.basis == "count" and not given.count_name.strip():
        faults.append(Fault("count_name", "", "name the count that the package reports"))
    if given.attended and given.attended_for and tx.value(str, "seats.person", id=given.attended_for) is None:
        message = "there is nobody of this number who can sign in; choose a person"
        faults.append(Fault("attended_for", given.attended_for, message))
    if tx.one(Area, "areas.area", id=given.area_id) is None:
        faults.append(Fault("area", given.area_id, "there is no such area; choose one"))
    release = tx.one(ReleaseWhole, "packages.release", id=given.release_id)
    if release is None:
        faults.append(Fault("release", given.release_id, "there is no such release; choose one"))
    elif release.withdrawn_at is not None and release.id != had:
        message = f"{withdrawn(release)}; choose another, or bring it back"
        faults.append(Fault("release", f"{release.package} {release.version}", message))
    else:
        if release.id != had:
            # What one does not see is not there.
            faults += sight.faults_of_use(tx, ctx, release, given.area_id)
        try:
            check_inputs(release.inputs, given.inputs)
        except InputFaults as error:
            faults += error.faults
    if faults or release is None:
        raise InputFaults(faults)
    return release


def _asked_faults(asked: Asked) -> list[Fault]:
    faults = []
    if len(asked.system) > MOST_SYSTEM or one_line(asked.system) != asked.system:
        message = f"a system's name, such as Debian or Debian 12, up to {MOST_SYSTEM} characters"
        faults.append(Fault("asked.system", asked.system[:60], message))
    for field, most in MOST_ASKED.items():
        if not 0 <= getattr(asked, field) <= most:
            faults.append(Fault(f"asked.{field}", getattr(asked, field), f"allowed: 0 to {most:,}"))
    if len(asked.applications) > MOST_APPLICATIONS:
        message = f"up to {MOST_APPLICATIONS} applications"
        faults.append(Fault("asked.applications", len(asked.applications), message))
    return faults
