"""Names for what JSON holds and nobody has looked at yet: an answer to a question, what a package declares,
a settings row, the input of a rule before it is checked. Everything else has a type of its own."""

from __future__ import annotations

from typing import Any

# Any value of JSON.
Free = Any
# Any object of JSON.
FreeObject = dict[str, Any]
