"""People in words."""

from __future__ import annotations

from typing import Literal

# Whether a person is here.
PersonState = Literal["invited", "active", "left", "erased"]
# What a link in a mail is for.
LinkKind = Literal["invitation", "password", "sizing"]
