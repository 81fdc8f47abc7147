"""Takes secrets out of whatever leaves the host."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

SHOWN = "•••"
SHORTEST = 4


class Redactor:
    """Replaces secret values in texts and in JSON of any depth."""

    def __init__(self, secrets: Iterable[str]) -> None:
        # The longest first, so that a secret which holds another goes whole.
        self._secrets = sorted({one for one in secrets if len(one) >= SHORTEST}, key=len, reverse=True)

    def and_also(self, secrets: Iterable[str]) -> Redactor:
        """One that knows some secrets more."""
        return Redactor([*self._secrets, *secrets])

    def text(self, text: str) -> str:
        """A text without its secrets."""
        for secret in self._secrets:
            text = text.replace(secret, SHOWN)
        return text

    def value(self, value: Any) -> Any:
        """JSON without its secrets, keys included."""
        if isinstance(value, str):
            return self.text(value)
        if isinstance(value, list):
            return [self.value(one) for one in value]
        if isinstance(value, dict):
            return {self.text(str(key)): self.value(one) for key, one in value.items()}
        return value
