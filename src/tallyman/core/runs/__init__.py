"""Starting and running: the rules others ask for."""

from __future__ import annotations

from tallyman.core.runs import seats, stalling
from tallyman.core.runs.abilities import NOTHING_ASKED, Abilities, Asked, lacking, read_abilities, read_asked
from tallyman.core.runs.attended import ANSWERED, SOON, Answer, MeantFor, put_off
from tallyman.core.runs.facts import (
    LEAST_DISK_MB,
    SILENT_AFTER,
    BuilderSeats,
    LockFacts,
    Maintenance,
    Need,
    RobotFacts,
    Unapproved,
    Wanted,
    Withdrawn,
    is_silent,
    read_hours,
    said_at,
)
from tallyman.core.runs.leaving import Asking, can_take, stranded
from tallyman.core.runs.provisioning import (
    NO_PASSWORD,
    HostFacts,
    PasswordFacts,
    Setup,
    TrialFacts,
    points,
)
from tallyman.core.runs.starting import needs
from tallyman.core.runs.taking import takers, working
from tallyman.core.runs.words import Attended, Outcome, RunState, SeatKind, SeatOfPeople, SlotKind

__all__ = [
    "ANSWERED",
    "LEAST_DISK_MB",
    "NOTHING_ASKED",
    "NO_PASSWORD",
    "SILENT_AFTER",
    "SOON",
    "Abilities",
    "Answer",
    "Asked",
    "Asking",
    "Attended",
    "BuilderSeats",
    "HostFacts",
    "LockFacts",
    "Maintenance",
    "MeantFor",
    "Need",
    "Outcome",
    "PasswordFacts",
    "RobotFacts",
    "RunState",
    "SeatKind",
    "SeatOfPeople",
    "Setup",
    "SlotKind",
    "TrialFacts",
    "Unapproved",
    "Wanted",
    "Withdrawn",
    "can_take",
    "is_silent",
    "lacking",
    "needs",
    "points",
    "put_off",
    "read_abilities",
    "read_asked",
    "read_hours",
    "said_at",
    "seats",
    "stalling",
    "stranded",
    "takers",
    "working",
]
