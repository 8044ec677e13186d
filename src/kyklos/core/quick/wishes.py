"""Guests, gifts and wishes told in a line: "guests Saturday 6 people 2 glasses", "10 bottles as a gift on 4 March", "2 L a week more in July".

    wish = { day | month | people | glasses | volume | bottles | "guests" | "gift" | "more" | word }
"""

from __future__ import annotations

import calendar
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from .amounts import UNITS as AMOUNTS
from .time import month_named
from .words import NUMBERS, WEEKDAYS, tokens

GUESTS, GIFT, MORE = "guests", "gift", "more"
WISHES = {GUESTS: "Guests", GIFT: "A gift", MORE: "More than usual"}
_PEOPLE = {"people", "guests", "guest", "persons", "person", "friends", "adults"}
_PARTY = {"party", "parties", "dinner", "visitors", "birthday"}
_GLASSES = {"glasses", "glass"}
_BOTTLES = {"bottles", "bottle"}
_GIFT = {"gift", "present", "give", "giving"}
_MORE = {"more", "extra"}
VOLUMES = {word: litres for word, litres in AMOUNTS.items() if not word.startswith(("glass", "jug"))}  #: [L]
_AS_USUAL_GLASSES = 2.0  #: A guest drinks so many (assumed).
BOTTLE_L = 0.5  #: What a bottle counts where nobody said (assumed). [L]
LONGEST_DAYS = 400  #: Farther ahead nobody plans. [d]


@dataclass(frozen=True, slots=True)
class WishSaid:
    """What a line wishes for."""

    kind: str  #: A key of WISHES.
    day: date
    litres: float  #: That day, or each day of the span. [L]
    until: date | None = None  #: Last day of a span.
    people: int | None = None
    glasses: float | None = None  #: Of each.
    doubt: str = ""


def _number(word: str) -> float | None:
    found = NUMBERS.get(word, word)
    return float(found) if re.fullmatch(r"\d{1,4}(\.\d+)?", found) else None


def _day(words: Sequence[str], today: date) -> tuple[date, date | None] | None:
    """Read the coming day that is named, or a month as a span."""
    for at, word in enumerate(words):
        after = words[at + 1] if at + 1 < len(words) else ""
        if re.fullmatch(r"\d{4}-\d{2}-\d{2}", word):
            try:
                return date.fromisoformat(word), None
            except ValueError:
                return None
        if word in {"today", "tonight", "tomorrow"}:
            return today + timedelta(days=word == "tomorrow"), None
        number, month = _number(word), month_named(after)
        if number is not None and month is not None and number == int(number):
            return _coming(int(number), month, today)
        weekday = next((i for i, name in enumerate(WEEKDAYS) if word in {name, name[:3], f"{name}s"}), None)
        if weekday is not None:
            return today + timedelta(days=(weekday - today.weekday() - 1) % 7 + 1), None
    for at, word in enumerate(words):
        month = month_named(word)
        if month is None:
            continue
        number = _number(words[at + 1]) if at + 1 < len(words) else None
        if number is not None and number == int(number) and 1 <= number <= 31 and (words[at + 2] if at + 2 < len(words) else "") not in _UNITS_AFTER:
            return _coming(int(number), month, today)
        year = today.year + (month < today.month)
        return max(today, date(year, month, 1)), date(year, month, calendar.monthrange(year, month)[1])
    return None


_UNITS_AFTER = _PEOPLE | _GLASSES | _BOTTLES | set(VOLUMES)


def _coming(day: int, month: int, today: date) -> tuple[date, None] | None:
    for year in (today.year, today.year + 1):
        try:
            found = date(year, month, day)
        except ValueError:
            continue
        if found >= today:
            return found, None
    return None


def _before(words: Sequence[str], names: set[str]) -> float | None:
    """Return the number that stands before one of some words."""
    return next((n for at, word in enumerate(words[1:], 1) if word in names and (n := _number(words[at - 1])) is not None), None)


def _volume(words: Sequence[str]) -> float | None:
    found = ((n, VOLUMES[word]) for at, word in enumerate(words[1:], 1) if word in VOLUMES and (n := _number(words[at - 1])) is not None)
    return next((number * litres for number, litres in found), None)


def _counts_people(words: Sequence[str], at: int) -> bool:
    """Return whether a bare number beside a party is who comes: no clock, no day of the month, nothing measured."""
    after = words[at + 1] if at + 1 < len(words) else ""
    clock = after in {"am", "pm", "h", ":", "o'clock", "oclock"} or (at > 0 and words[at - 1] in {"at", ":"})
    return words[at].isalnum() and not clock and after not in _UNITS_AFTER and month_named(after) is None


def _people(words: Sequence[str]) -> float | None:
    """Read how many come: "6 people", or "guests ..., 6 of them"."""
    counted = _before(words, _PEOPLE)
    of_them = next((at for at in range(1, len(words) - 1) if words[at] == "of" and words[at + 1] in {"them", "us"}), None)
    if counted is None and words and (words[0] in _PARTY or (words[1:2] == ["for"] and words[2:3] and words[2] in _PARTY)):
        counted = next((n for at, word in enumerate(words) if (n := _number(word)) is not None and _counts_people(words, at)), None)
    return counted if counted is not None or of_them is None or not set(words) & _PEOPLE else _number(words[of_them - 1])


def wish_said(line: str, today: date, glass_l: float, *, always: bool = False) -> WishSaid | None:
    """Read a line that tells of guests, a gift or more to drink; None: it tells of none.

    Args:
        line: As typed.
        today: The household's day.
        glass_l: What a glass holds. [L]
        always: It stands in a field for wishes.

    >>> found = wish_said("Saturday, 6 people, 2 glasses", date(2027, 2, 18), 0.25, always=True)
    >>> found.day, found.litres
    (datetime.date(2027, 2, 20), 3.0)
    """
    words = [token.word for token in tokens(line[:120])]
    said = set(words)
    people, glasses, bottles, litres = _people(words), _before(words, _GLASSES), _before(words, _BOTTLES), _volume(words)
    kind = GIFT if said & _GIFT else MORE if said & _MORE else GUESTS if people is not None or said & _PEOPLE or always else ""
    names_it = (kind == GUESTS and bool(said & (_PEOPLE | _PARTY))) or (kind == GIFT and bool(said & {"gift", "present"})) or (kind == MORE and "more" in said)
    when = _day(words, today)
    if not kind or when is None or (not always and not names_it):
        return None
    day, until = when
    doubt = "" if people is None or glasses is not None or litres is not None or bottles is not None else "How much each? Taken as two glasses."
    if litres is None and people is not None:
        litres = people * (glasses or _AS_USUAL_GLASSES) * glass_l
    elif litres is None and bottles is not None:
        litres = bottles * BOTTLE_L
    elif litres is None and glasses is not None:
        litres = glasses * glass_l
    if litres is None or litres <= 0 or (day - today).days > LONGEST_DAYS:
        return None
    if until is not None:
        weekly = "week" in said
        days = (until - day).days + 1
        litres = litres / 7 if weekly else litres if {"day", "daily"} & said else litres / days
    return WishSaid(kind, day, round(litres, 3), until, None if people is None else int(people), glasses, doubt)
