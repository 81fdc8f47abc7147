"""A business case on paper: one PDF page of figures, years, inputs with their sources, and a picture.

The page is laid out in a process of its own, without network; the only files it may read are our fonts.
"""

from __future__ import annotations

import base64
import io
import json
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from pathlib import Path
from typing import Any

from tallyman.core.exact import rounded

PAGE = Path(__file__).with_suffix(".html")
FACES = {"Text": "source-sans-3-latin-wght-normal", "Title": "source-serif-4-latin-wght-normal"}
SYMBOLS = {"EUR": "€", "GBP": "£", "USD": "$"}


@dataclass(frozen=True)
class CasePage:
    """What the page shows. Rows are texts; `money_by_month` are months from the start and the sum then."""

    title: str
    about: Sequence[tuple[str, str]]
    currency: str
    figures: Sequence[tuple[str, str | None, str]]
    years: Sequence[tuple[str, Sequence[str | None]]]
    inputs: Sequence[tuple[str, str, str, str]]
    phases: Sequence[tuple[str, str, str]]
    lines: Sequence[tuple[str, str, str]]
    benefits: Sequence[tuple[str, str, str]]
    notes: Sequence[tuple[str, str]]
    money_by_month: Sequence[tuple[float, float]]
    go_live_month: float | None
    payback_month: float | None


def money(value: str | None, currency: str) -> str:
    """An amount as it is printed; a dash where it is missing."""
    if value in (None, ""):
        return "–"
    number = Decimal(str(value))
    symbol = SYMBOLS.get(currency, f"{currency} ")
    sign = "−" if number < 0 else ""
    return f"{sign}{symbol} {rounded(abs(number), 0):,f}"


def _figure(value: str | None, unit: str, currency: str) -> str:
    if value is None:
        return "–"
    if unit == "money":
        return money(value, currency)
    if unit == "months":
        return f"{rounded(Decimal(value), 1):f} months"
    return f"{rounded(Decimal(value) * 100, 0):f} %"


def lay_out(data: bytes, fonts: dict[str, str]) -> dict[str, Any]:
    """The page as PDF in base64. `fonts`: faces as base64. Runs in a process of its own."""
    from jinja2.sandbox import SandboxedEnvironment
    from weasyprint import HTML
    from weasyprint.urls import URLFetcher

    given = json.loads(data)
    currency = given["currency"]
    environment = SandboxedEnvironment(autoescape=True)
    text = environment.from_string(PAGE.read_text(encoding="utf-8")).render(
        page=given,
        faces=fonts,
        picture=_picture(given),
        amount=lambda value: money(value, currency),
        figure=lambda value, unit: _figure(value, unit, currency),
    )
    # Nothing is fetched but what the page carries itself.
    pdf = HTML(string=text, url_fetcher=URLFetcher(allowed_protocols=["data"])).write_pdf()
    return {"pdf": base64.b64encode(pdf).decode()}


def _picture(given: dict[str, Any]) -> str:
    """The running sum as SVG in base64; empty while there is none."""
    points = given["money_by_month"]
    if not points:
        return ""
    import matplotlib

    matplotlib.use("svg")
    from matplotlib.figure import Figure
    from matplotlib.ticker import FuncFormatter

    matplotlib.rcParams["svg.fonttype"] = "path"
    figure = Figure(figsize=(3.6, 2.1), layout="constrained")
    axes = figure.add_subplot()
    axes.plot([one[0] for one in points], [one[1] for one in points], color="#1d3f72", linewidth=1.4)
    axes.axhline(0, color="#8a94a8", linewidth=0.6)
    for month, words in ((given["go_live_month"], "go-live"), (given["payback_month"], "paid back")):
        if month is not None and month <= points[-1][0]:
            axes.axvline(month, color="#8a94a8", linewidth=0.6, linestyle=":")
            axes.annotate(words, (month, 1), xycoords=("data", "axes fraction"), fontsize=6, va="top")
    axes.set_xlabel("months from the start of the plan", fontsize=6)
    axes.set_ylabel(given["currency"], fontsize=6)
    axes.tick_params(labelsize=6, width=0.5)
    axes.yaxis.set_major_formatter(FuncFormatter(lambda value, _: f"{value:,.0f}"))
    for side in ("top", "right"):
        axes.spines[side].set_visible(False)
    out = io.BytesIO()
    figure.savefig(out, format="svg", metadata={"Date": None})
    return base64.b64encode(out.getvalue()).decode()


def prepare(folder: str) -> dict[str, str]:
    """Our fonts as base64, those that are there; the libraries are loaded, which asks for other programs.

    Done before the process is shut in.
    """
    import matplotlib.figure
    import weasyprint

    # Sets up the list of fonts and the layout's own libraries.
    weasyprint.HTML(string="<p>.</p>").write_pdf()
    matplotlib.use("svg")
    found = {}
    for face, name in FACES.items():
        path = next(Path(folder).glob(f"{name}*.woff2"), None)
        if path is not None:
            found[face] = base64.b64encode(path.read_bytes()).decode()
    return found
