"""The business case on plain JSON: what is given, the figures, and the working of each."""

from __future__ import annotations

from typing import Any

from tallyman.core.cases.business_case import RULES_VERSION, as_texts, compute, read_case
from tallyman.core.cases.workings import workings


def business_case(given: dict[str, Any]) -> dict[str, Any]:
    """`calc business-case`: all figures, what is missing, and the working of each."""
    case = read_case(given)
    figures = compute(case)
    result = as_texts(figures)
    result["missing"] = list(case.missing)
    result["rules_version"] = RULES_VERSION
    tree = workings(case, figures, {})
    result["working"] = {name: one.as_dict() for name, one in tree.items()}
    return result
