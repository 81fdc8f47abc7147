"""What the API takes and gives about ideas."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tallyman.api.common import In, Number, Text
from tallyman.core.free import Free


class HelperIn(In):
    """Who is asked to help, and with what."""

    person: Number
    task: Annotated[str, Field(max_length=1000)] = ""


class PlaceIn(In):
    """The area where an idea belongs; none is the whole company."""

    area: Number | None = None


class AnswerIn(In):
    """An answer (null: not known) with a remark."""

    value: Free = None
    remark: Text | None = None


class SettleMatch(In):
    """Whether a close match is the same work or other work."""

    verdict: Literal["same", "other"]


class JudgeAnswer(In):
    """Accepts an answer or sends it back with a question."""

    accepted: bool
    note: Text = ""


class Screen(In):
    """Screens an idea; an expert who sizes it may be named. `others`: what is like it is all other work."""

    expert_id: Number | None = None
    others: bool = False


class Decline(In):
    """A reason from the list, and an explanation."""

    reason: Annotated[str, Field(max_length=100)]
    words: Text
