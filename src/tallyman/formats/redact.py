"""Takes secrets out of whatever leaves the host.

A secret is found as it is, and in the plain encodings that programs write without thinking: in an
address, in JSON, in hexadecimal, in base 64. What a package disguises on purpose cannot be found.
"""

from __future__ import annotations

import base64
import json
import re
from collections.abc import Iterable
from typing import Any
from urllib.parse import quote, quote_plus

SHOWN = "•••"
# Shorter ones are taken out where they stand alone only: within other words they would be everywhere.
SHORTEST = 4
# Encodings of shorter ones would be too like other texts.
SHORTEST_ENCODED = 6
# Of a secret of several lines each line goes by itself, but not those that say nothing.
SHORTEST_LINE = 8


class Redactor:
    """Replaces secret values in texts and in JSON of any depth."""

    def __init__(self, secrets: Iterable[str]) -> None:
        self._given = [one for one in secrets if one]
        forms = {form for one in self._given for form in _forms(one) if len(form) >= SHORTEST}
        # The longest first, so that a secret which holds another goes whole.
        self._forms = sorted(forms, key=len, reverse=True)
        short = sorted({one for one in self._given if len(one) < SHORTEST}, key=len, reverse=True)
        self._short = (
            re.compile("|".join(rf"(?<!\w){re.escape(one)}(?!\w)" for one in short)) if short else None
        )

    def and_also(self, secrets: Iterable[str]) -> Redactor:
        """One that knows some secrets more."""
        return Redactor([*self._given, *secrets])

    def text(self, text: str) -> str:
        """A text without its secrets."""
        for secret in self._forms:
            text = text.replace(secret, SHOWN)
        return text if self._short is None else self._short.sub(SHOWN, text)

    def value(self, value: Any) -> Any:
        """JSON without its secrets, keys included, and numbers that are one."""
        if isinstance(value, str):
            return self.text(value)
        if isinstance(value, list):
            return [self.value(one) for one in value]
        if isinstance(value, dict):
            return {self.text(str(key)): self.value(one) for key, one in value.items()}
        if isinstance(value, int | float) and not isinstance(value, bool):
            shown = self.text(str(value))
            return value if shown == str(value) else shown
        return value


def _forms(secret: str) -> set[str]:
    """A secret as it is and as programs write it, without the last signs that depend on what follows."""
    found = {secret, secret.strip()}
    found |= {line.strip() for line in secret.splitlines() if len(line.strip()) >= SHORTEST_LINE}
    if len(secret) < SHORTEST_ENCODED:
        return found
    data = secret.encode("utf-8", "replace")
    found |= {
        quote(secret, safe=""),
        quote_plus(secret),
        json.dumps(secret)[1:-1],
        data.hex(),
        data.hex().upper(),
    }
    for encode in (base64.b64encode, base64.urlsafe_b64encode):
        # At any of the three places that it may begin at in a longer text.
        for before in range(3):
            text = encode(b"\x00" * before + data).decode().rstrip("=")
            first = -(-before * 8 // 6)
            last = (before + len(data)) * 8 // 6
            found.add(text[first:last])
    return found
