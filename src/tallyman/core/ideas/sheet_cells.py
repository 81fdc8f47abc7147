"""What a cell of a spreadsheet means: numbers, volumes, minutes, shares, days and words as typed."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from fractions import Fraction

from rapidfuzz import fuzz, process

from tallyman.core.exact import exact, text_of
from tallyman.core.ideas.factors import ANNOUNCED, CHANGED, READINESS

EMPTY = frozenset(
    {"", "-", "–", "—", "?", "n/a", "na", "none given", "unknown", "tbd", "tbc", "#n/a", "null"}
)
SPACES = re.compile(r"[\s\u00a0\u202f\u2009']+")
LIKE_ENOUGH = 82
# Days as spreadsheets count them, from here.
DAY_ZERO = date(1899, 12, 30)
MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")

RHYTHM_WORDS = {
    "working day": ("working day", "workday", "business day", "work day"),
    "day": ("day", "daily", "a day", "per day", "d"),
    "week": ("week", "weekly", "wk", "w"),
    "month": ("month", "monthly", "mth", "mo"),
    "quarter": ("quarter", "quarterly", "qtr"),
    "year": ("year", "yearly", "annual", "annually", "annum", "yr", "pa", "y"),
}
KIND_WORDS: dict[str, tuple[str, ...]] = {
    "data feed": ("data feed", "feed", "interface", "api", "file transfer"),
    "database": ("database", "db", "query"),
    "spreadsheet": ("spreadsheet", "sheet", "table", "list", "csv"),
    "fixed form": ("fixed form", "form", "web form"),
    "screen": ("screen", "system", "application", "portal"),
    "fixed-layout PDF": ("fixed-layout pdf", "pdf"),
    "mail": ("mail", "e-mail", "email", "mails"),
    "free text": ("free text", "text", "note", "letter"),
    "scan": ("scan", "scanned", "paper", "fax"),
    "image": ("image", "photo", "picture"),
    "handwriting": ("handwriting", "handwritten", "by hand"),
    "talk": ("talk", "phone", "call", "telephone", "meeting"),
}
CHANGE_WORDS: dict[str, tuple[str, ...]] = {
    "nothing": ("nothing", "no", "none", "not at all", "never", "0"),
    "small": ("small", "a little", "little", "some", "slightly", "minor"),
    "large": ("large", "a lot", "lot", "much", "major", "big"),
}
ANNOUNCED_WORDS: dict[str, tuple[str, ...]] = {
    "nothing": ("nothing", "no", "none", "not known", "0"),
    "small": ("small", "a small one", "minor", "little", "some"),
    "replacement": ("replacement", "replaced", "will be replaced", "new system", "ends"),
}
STATE_WORDS: dict[str, tuple[str, ...]] = {
    "noted": ("noted", "new", "open", "idea", "submitted", "received", "to do", "backlog", "in review"),
    "screened": ("screened", "approved", "accepted", "reviewed", "qualified"),
    "in service": ("in service", "live", "running", "in use", "in production", "productive", "automated"),
    "parked": ("parked", "on hold", "later", "waiting", "paused", "postponed"),
    "declined": ("declined", "rejected", "refused", "dropped", "closed", "cancelled"),
}


class Unreadable(ValueError):
    """A cell that says nothing that its field can hold; the message says what would do."""


def plain(cell: str) -> str:
    """A cell's text in one line, without the apostrophe that keeps spreadsheets from reading a formula."""
    text = " ".join(cell.replace("\u00a0", " ").replace("\u202f", " ").split())
    return text[1:] if text.startswith("'") and text[1:2] in tuple("=+-@") else text


def is_empty(cell: str) -> bool:
    """Whether a cell says that nothing is known."""
    return plain(cell).lower() in EMPTY


@dataclass(frozen=True)
class Habits:
    """How a column is written: its decimal mark, and whether days come before months."""

    decimal: str = "."
    day_first: bool = True


def decimal_mark(cells: Iterable[str], usual: str = ".") -> str:
    """The decimal mark of a column, by the cells that leave no doubt; the usual one where none does."""
    points, commas = decimal_votes(cells)
    if points == commas:
        return usual
    return "," if commas > points else "."


def decimal_votes(cells: Iterable[str]) -> tuple[int, int]:
    """How many cells leave no doubt that their decimal mark is a point, or a comma.

    A mark that stands twice, or before groups of three that a second mark closes, parts thousands; one
    that is followed by other than three digits marks decimals.
    """
    points = commas = 0
    for cell in cells:
        text = SPACES.sub("", plain(cell))
        found = re.search(r"\d[\d.,]*", text)
        if not found:
            continue
        digits = found.group().rstrip(".,")
        comma, point = digits.rfind(","), digits.rfind(".")
        if comma >= 0 and point >= 0:
            commas += comma > point
            points += point > comma
        elif digits.count(",") > 1:
            points += 1
        elif digits.count(".") > 1 or (comma >= 0 and len(digits) - comma - 1 != 3):
            commas += 1
        elif point >= 0 and len(digits) - point - 1 != 3:
            points += 1
    return points, commas


def read_number(cell: str, decimal: str = ".") -> Fraction:
    """A number with thousands parted by spaces, points, commas or apostrophes. Raises Unreadable."""
    text = SPACES.sub("", plain(cell)).lstrip("~≈")
    if re.fullmatch(r"\d[\d.,]*[-–]\d[\d.,]*", text):
        raise Unreadable("is a range; give one number")
    if "," in text and "." in text:
        # Where both stand, the last one can only be the decimal mark.
        decimal = max(",.", key=text.rfind)
    thousands = "," if decimal == "." else "."
    if thousands in text and not re.fullmatch(rf"[-+]?\d{{1,3}}(\{thousands}\d{{3}})+(\{decimal}\d+)?", text):
        # The other mark once, not before three digits, can only be a decimal mark.
        one = re.fullmatch(rf"[-+]?\d+\{thousands}\d{{1,2}}|[-+]?\d+\{thousands}\d{{4,}}", text)
        if not one:
            raise Unreadable("is not a number such as 1200 or 12.5")
        text = text.replace(thousands, decimal)
    try:
        return exact(text.replace(thousands, "").replace(decimal, "."))
    except ValueError:
        raise Unreadable("is not a number such as 1200 or 12.5") from None


def as_text(number: Fraction) -> str:
    """A number as it is kept: at most six decimals, none that say nothing."""
    text = text_of(number, 6) or "0"
    return text.rstrip("0").rstrip(".") if "." in text else text


NUMBER_HEAD = re.compile(r"^[~≈]?\s*([-+]?\d[\d.,' ]*)\s*(.*)$")


NUMBER_TAIL = re.compile(r"^([^\d~≈]*[^\d~≈\s:,.-][.:]?)\s*:?\s+([-+]?\d[\d.,' ]*)$")


def _parts(cell: str) -> tuple[str, str]:
    """A number and the words behind or before it."""
    text = plain(cell)
    if found := NUMBER_HEAD.match(text):
        return found.group(1).strip(), found.group(2).strip().lower()
    if found := NUMBER_TAIL.match(text):
        return found.group(2).strip(), found.group(1).strip().lower()
    return "", text.lower()


def rhythm_in(text: str) -> str | None:
    """The rhythm that some words name, None if none."""
    words = re.sub(
        r"\b(per|a|an|each|every|times|items|cases|x|about|of|the|no|number|volume)\b|[/()×]",
        " ",
        text.lower().replace(".", ""),
    )
    words = " ".join(words.split()).strip(" ,:")
    if not words:
        return None
    for rhythm, known in RHYTHM_WORDS.items():
        if words in known or words.rstrip("s") in known:
            return rhythm
    tokens = words.split()
    for rhythm, known in RHYTHM_WORDS.items():
        if any(len(one) > 2 and one in tokens for one in known) or any(
            " " in one and one in words for one in known
        ):
            return rhythm
    return None


def rhythm_words(cell: str) -> str:
    """The words of a volume beside its number, as they are written."""
    words = _parts(cell)[1]
    at = plain(cell).lower().find(words)
    return plain(cell)[at : at + len(words)] if at >= 0 else words


def read_volume(
    cell: str, rhythm: str | None, decimal: str, words_said: Mapping[str, str] | None = None
) -> dict[str, str]:
    """A volume with its rhythm, which the cell, its column or another column gives; `words_said`: what
    words of theirs stand for. Raises Unreadable."""
    number, words = _parts(cell)
    said = ((words_said or {}).get(words) or rhythm_in(words)) if words else None
    found = said or rhythm
    if not number:
        raise Unreadable("is not a number such as 1200, or 300 a month")
    if words and said is None and not re.fullmatch(r"(items?|cases?|pieces?|x|times|times a)?", words):
        raise Unreadable("says no rhythm we know; write 300 a month, or give the rhythm in a column")
    if found is None:
        raise Unreadable(
            "says how many but not per what; write 300 a month, or match the column that says it"
        )
    amount = read_number(number, decimal)
    if amount < 0:
        raise Unreadable("is below nothing; a volume is 0 or more")
    return {"amount": as_text(amount), "rhythm": found}


def read_minutes(cell: str, hours: bool, decimal: str) -> str:
    """Minutes from “12”, “12 min”, “1.5 h” or “1:30” (hours and minutes). Raises Unreadable."""
    clock = re.fullmatch(r"(\d{1,3}):([0-5]\d)(?::[0-5]\d)?", plain(cell))
    if clock:
        return str(int(clock.group(1)) * 60 + int(clock.group(2)))
    number, words = _parts(cell)
    if not number:
        raise Unreadable("is not minutes such as 12, 12 min, 1.5 h or 1:30")
    amount = read_number(number, decimal)
    unit = words.strip(" .")
    if unit in ("h", "hr", "hrs", "hour", "hours", "std") or (not unit and hours):
        amount *= 60
    elif unit in ("s", "sec", "secs", "second", "seconds"):
        amount /= 60
    elif unit not in ("", "m", "min", "mins", "minute", "minutes", "'"):
        raise Unreadable("names a unit we do not know; write minutes, or 1.5 h")
    if not 0 <= amount <= 100_000:
        raise Unreadable("is out of range; give 0 to 100,000 minutes")
    return as_text(amount)


def read_of_ten(cell: str, decimal: str) -> str:
    """How many of ten, also from a share such as 30 % or 0.3. Raises Unreadable."""
    text = plain(cell).lower().removesuffix("of ten").removesuffix("of 10").removesuffix("/10").strip()
    percent = text.endswith("%")
    number = read_number(text.rstrip("% "), decimal)
    if percent:
        number /= 10
    elif 0 < number < 1:
        number *= 10
    if not 0 <= number <= 10:
        raise Unreadable("is out of range; give 0 to 10, or a share such as 30 %")
    return as_text(number)


def _word(cell: str, known: Mapping[str, tuple[str, ...]], what: str) -> str:
    text = plain(cell).lower().strip(" .!")
    by_word = {word: name for name, words in known.items() for word in (*words, name.lower())}
    if text in by_word:
        return by_word[text]
    near = process.extractOne(text, list(by_word), scorer=fuzz.ratio, score_cutoff=LIKE_ENOUGH)
    if near is None:
        raise Unreadable(f"is no {what} we know; write one of: {', '.join(known)}")
    return by_word[near[0]]


def read_changed(cell: str) -> str:
    """How much the work changed. Raises Unreadable."""
    return _word(cell, {name: CHANGE_WORDS[name] for name in CHANGED}, "answer")


def read_announced(cell: str) -> str:
    """What change is announced. Raises Unreadable."""
    return _word(cell, {name: ANNOUNCED_WORDS[name] for name in ANNOUNCED}, "answer")


def kinds_in(cell: str) -> list[tuple[str, str]]:
    """The words for kinds of input in a cell, each with its part, "" where none is said."""
    found = []
    for piece in re.split(r"[,;/+&|]|\band\b", plain(cell)):
        text = piece.strip()
        part = re.search(r"(?:^|\s)(\d+(?:[.,]\d+)?)\s*%?$", text)
        words = text[: part.start()].strip(" :=x×") if part else text
        if text:
            found.append((words, part.group(1).replace(",", ".") if part else ""))
    return found


def kind_of(words: str) -> str:
    """The kind of input that some words name. Raises Unreadable."""
    return _word(words, {name: KIND_WORDS[name] for name in READINESS}, "kind of input")


def read_arrives(cell: str, said: Mapping[str, str] | None = None) -> list[dict[str, str]]:
    """Kinds of input with their parts, “mail 3, screen 1” or “mail; pdf”; `said`: what words of theirs
    stand for, "" for one that is left out. Raises Unreadable."""
    found: dict[str, Fraction] = {}
    for words, part in kinds_in(cell):
        kind = (said or {}).get(words.lower())
        if kind == "":
            continue
        kind = kind or kind_of(words)
        found[kind] = found.get(kind, Fraction(0)) + (exact(part) if part else 1)
    if not found or not sum(found.values()):
        raise Unreadable("names no kind of input")
    return [{"kind": kind, "part": as_text(part)} for kind, part in found.items()]


def read_state(cell: str) -> str:
    """Where an idea stands here, by the usual words for it over there. Raises Unreadable."""
    return _word(cell, STATE_WORDS, "state")


SIGNS = {"€": "EUR", "$": "USD", "£": "GBP", "¥": "JPY"}
MONEY = re.compile(r"[€$£¥]|\b(?:eur|euros?|usd|dollars?|gbp|pounds?|chf|jpy)\b", re.IGNORECASE)
NAMED_MONEY = {
    "EURO": "EUR",
    "EUROS": "EUR",
    "DOLLAR": "USD",
    "DOLLARS": "USD",
    "POUND": "GBP",
    "POUNDS": "GBP",
}


def read_money(cell: str, decimal: str, currency: str) -> str:
    """An amount in the company's currency, “€ 1.200”, “12 k” or “3500 EUR”. Raises Unreadable."""
    text = plain(cell)
    for mark in MONEY.findall(text):
        code = SIGNS.get(mark) or NAMED_MONEY.get(mark.upper()) or mark.upper()
        if code != currency:
            raise Unreadable(f"is in {code}; give the amount in {currency}")
    number, words = _parts(MONEY.sub(" ", text).strip())
    if not number or words not in ("", "k", "thousand", ".-", "-"):
        raise Unreadable("is not an amount such as 1200 or 12.50")
    amount = read_number(number.rstrip("-"), decimal) * (1000 if words in ("k", "thousand") else 1)
    if amount < 0:
        raise Unreadable("is below nothing; an amount is 0 or more")
    return as_text(amount)


def day_first(cells: Iterable[str]) -> bool:
    """Whether a column writes the day before the month; yes where no cell tells."""
    days = months = 0
    for cell in cells:
        found = re.fullmatch(r"(\d{1,2})[./-](\d{1,2})[./-]\d{2,4}", plain(cell))
        if found:
            days += int(found.group(1)) > 12
            months += int(found.group(2)) > 12
    return months <= days


NAMED_MONTH = re.compile(
    r"(?:(\d{1,2})(?:st|nd|rd|th)?[. -]+)?([a-z]{3})[a-z]*[. -]*"
    r"(?:(\d{1,2})(?:st|nd|rd|th)?,? )?(\d{4})"
)


def read_day(cell: str, first: bool = True) -> date:
    """A day as typed in many ways, or counted as spreadsheets do. Raises Unreadable."""
    text = plain(cell).lower().rstrip(".")
    try:
        if found := re.match(r"(\d{4})-(\d{1,2})-(\d{1,2})(?:[t ].*)?$", text):
            return date(*(int(part) for part in found.groups()))
        if found := re.fullmatch(r"(\d{1,2})[./-](\d{1,2})[./-](\d{2,4})", text):
            one, two, year = (int(part) for part in found.groups())
            day, month = (one, two) if first else (two, one)
            return date(year + 2000 if year < 100 else year, month, day)
        if found := NAMED_MONTH.fullmatch(text):
            day_text = found.group(1) or found.group(3) or "1"
            return date(int(found.group(4)), MONTHS.index(found.group(2)) + 1, int(day_text))
        if re.fullmatch(r"\d{5}(\.\d+)?", text):
            return DAY_ZERO + timedelta(days=int(float(text)))
    except ValueError:
        pass
    raise Unreadable("is not a day; write one such as 2026-03-14")
