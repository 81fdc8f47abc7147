"""Ideas in words: the stages and other marks an idea or a part of it can have."""

from __future__ import annotations

from typing import Literal

# Where an idea stands; off the way: parked, declined, merged, withdrawn.
Stage = Literal[
    "draft",
    "noted",
    "screened",
    "sized",
    "backed",
    "building",
    "in service",
    "retired",
    "parked",
    "declined",
    "merged",
    "withdrawn",
]
# Where an idea in building stands.
Building = Literal["open", "taken up", "stuck", "on trial"]
# Which remedy an idea takes.
Route = Literal["robot", "changed procedure", "training", "change in a system", "something else"]
# How an idea came in.
Source = Literal["interview", "the team", "spreadsheet", "a program", "runs already", "a study"]
# What the reviewer said of an answer.
AnswerState = Literal["given", "accepted", "sent back"]
# What a close match turned out to be.
Verdict = Literal["same", "other"]
# What became of a line of a list.
LineState = Literal["open", "in", "here", "fault", "repeat", "conflict"]
# What somebody said of a line that looks like an idea that is here, or like a line before it.
LineChoice = Literal["same", "another"]
# What became of looking into a file.
ViewState = Literal["ready", "none", "failed"]
# What an attached file is.
FileKind = Literal["how-to", "drawing", "example in", "example out", "something else"]
