"""The house in words."""

from __future__ import annotations

from typing import Literal

# How a robot gets at a system.
SystemAccess = Literal["API", "web", "desktop", "remote screen", "paper or image"]
# Whether there is a system to try on.
TestSystem = Literal["yes", "no", "not known"]
# Whether anybody looked at a system.
SystemState = Literal["new", "known", "retired"]
