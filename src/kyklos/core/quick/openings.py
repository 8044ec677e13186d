"""What a quick line only leads to: a page on which the rest is said. Nothing of it is written by the line itself."""

from __future__ import annotations

import re
from calendar import monthrange
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from enum import StrEnum

from .time import month_named
from .words import WEEKDAYS


class Opening(StrEnum):
    """A page that a line may lead to."""

    BREW_DAY = "brew day"
    AWAY = "away"
    CALIBRATE = "calibrate"
    LABEL = "label"
    LOOK = "look"
    MOVE = "move"
    JAR = "jar"  #: What is asked about a jar stands on its page.
    CARE = "care"
    HEATER = "heater"
    SHOPPING = "shopping"


@dataclass(frozen=True, slots=True)
class Leads:
    """Where a line leads, and for which days."""

    to: Opening
    days: tuple[date, ...] = ()  #: Of an absence: the first one away, and the day back.


ODD = frozenset({"gross", "yuck", "yucky", "disgusting", "nasty", "weird", "strange", "odd", "suspicious", "funky"})
DRY = (("dry", "on", "top"), ("dry", "top"), ("top", "is", "dry"), ("disc", "is", "dry"), ("dried", "out"))
BREWED = {"brewed", "brew", "brewing"}
NEW_BREW = {"batch", "brew"}
BUFFER_7, BUFFER_4 = {"7", "7.0", "7.00", "7.01"}, {"4", "4.0", "4.00", "4.01"}  #: As they stand on their bottles.
COLOURS = {"black", "pink", "orange", "green", "blue", "red", "grey", "gray", "purple", "brown"}  #: Beside a disc: nobody calls it as it should be.
COLOURED = {"stringy", "yeast", "tea", "teas", "jar", "crock", "leaf", "strings", "bits", "flakes", "stuff", "sediment", "strands", "blobs"}  #: After a colour: it is theirs.
GONE = {"away", "holiday", "holidays", "vacation", "travelling", "traveling"}
GROWTHS = {"patch", "patches", "spot", "spots", "dots", "dot", "fuzz", "stuff", "growth", "specks", "bloom", "fur", "something"}  #: Behind a colour the guided look settles what it is.
DENYING = {"no", "not", "without", "never", "isn't"}
TOWN = {"town", "country"}
GOING = {"are", "going", "go", "leaving", "off", "on", "we're", "i'm", "be"}
MOVED = {"moved", "move"}
LEAVES = {"leave", "gone", "going", "leaving", "flying", "back"}
ASKING = {"is", "are", "when", "what", "what's", "whats", "why", "how", "who", "which", "where", "can", "could", "does", "will", "shall"}
CLEANED = {"cleaned", "washed", "changed", "replaced", "scrubbed", "descaled", "sanitised", "sanitized", "new"}
CLEANED_THINGS = {"tap", "spigot", "cloth", "cloths", "bottles", "gasket", "gaskets", "seal", "seals", "strainer", "siphon"}
HEATERS = {"heater", "mat", "thermostat"}
POWERED = {"power", "electricity", "alarm", "light", "lights", "fridge", "timer", "bottle", "bottles"}  #: These go off without being spoilt.
TURNED = {"turned", "turn", "set", "put", "raised", "lowered"}
OUT_OF = {"", "we", "are", "we're", "i'm", "am", "ran", "run", "nearly", "almost", "all"}  #: Before "out of honey": nothing was taken out of a jar.


def _in(words: Sequence[str], phrase: Sequence[str]) -> bool:
    return any(tuple(words[at : at + len(phrase)]) == tuple(phrase) for at in range(len(words)))


def _coming(words: Sequence[str], now: datetime) -> tuple[date, ...]:
    """Return the coming days that are named, each after the one before: friday to monday."""
    out: list[date] = []
    for word in words:
        day = next((i for i, name in enumerate(WEEKDAYS) if word in {name, name[:3], f"{name}s"}), None)
        if word == "today":
            out.append(now.date())
        elif word == "tomorrow":
            out.append(now.date() + timedelta(days=1))
        elif day is not None:
            after = out[-1] if out else now.date()
            out.append(after + timedelta(days=(day - after.weekday() - 1) % 7 + 1))
    return tuple(out[:2]) or _coming_dates(words, now.date())


def _coming_dates(words: Sequence[str], today: date) -> tuple[date, ...]:
    """Return the coming dates that are named, each after the one before: from 5 to 9 february, 3 april to 10 april."""
    days, out = list[int](), list[date]()
    for word in words:
        if re.fullmatch(r"[12]?\d|3[01]", word) and word != "0":
            days.append(int(word))
        elif (month := month_named(word)) is not None and word != "jun":
            for day in days:
                after = out[-1] if out else today - timedelta(days=1)
                found = [date(year, month, day) for year in (after.year, after.year + 1) if day <= monthrange(year, month)[1]]
                out += [one for one in found if one > after][:1]
            days = []
    return tuple(out[:2])


def has_a_colour(words: Sequence[str], denying: Collection[str]) -> bool:
    """Return whether a colour is said that is no tea's and no yeast's, and is not denied.

    >>> has_a_colour("disc is black on top".split(), {"no"}), has_a_colour("no black spots on the black tea disc".split(), {"no"})
    (True, False)
    """
    padded = ["", "", *words, ""]
    return any(
        word in COLOURS and padded[number + 1] not in COLOURED and not set(padded[number - 2 : number]) & set(denying)
        for number, word in enumerate(padded)
        if number > 1
    )


def turns_a_heater(words: Sequence[str]) -> bool:
    """Return whether a line sets a heater: its degrees are where that stands, and no brew is as warm yet.

    >>> turns_a_heater("turned the heater to 26".split()), turns_a_heater("jar one 26c on the mat".split())
    (True, False)
    """
    return any(word in HEATERS and (TURNED & set(words) or "to" in words[at + 1 : at + 2]) for at, word in enumerate(words))


def _leads_elsewhere(words: Sequence[str], said: set[str], measured: bool) -> Opening | None:
    """Return which page of the house a line is about that measures nothing; None: no such page."""
    if measured:
        return None
    if words[0] in ASKING or words[-1] == "?":
        return Opening.JAR
    if turns_a_heater(words):
        return Opening.HEATER
    if said & CLEANED and said & CLEANED_THINGS:
        return Opening.CARE
    bare = _in(words, ("out", "of")) and words[max(0, words.index("out") - 1)] in OUT_OF | {"out"}
    low = "low" in said and ("running" in said or "getting" in said)
    return Opening.SHOPPING if bare or low or words[0] in {"buy", "bought", "ordered"} or tuple(words[:2]) == ("we", "need") or (words[0] == "need" and words[1:2] != ["to"]) else None


def opening_of(words: Sequence[str], now: datetime, measured: bool) -> Leads | None:
    """Return where a line leads; None: nowhere.

    Args:
        words: Of the line, lower case.
        now: Local, without a zone.
        measured: It says more: a reading or a taste of a brew that stands.

    >>> opening_of("going away friday to monday".split(), datetime(2027, 2, 18), False).days
    (datetime.date(2027, 2, 19), datetime.date(2027, 2, 22))
    """
    if not words:
        return None
    said = set(words)
    if said & GONE and (said & GOING or words[0] in GONE or {"from", "to"} <= said):
        return Leads(Opening.AWAY, _coming(words, now))
    if _in(words, ("out", "of")) and said & TOWN:
        return Leads(Opening.AWAY, _coming(words, now))
    if not measured and set(words[:2]) & LEAVES and (days := _coming(words, now)):
        return Leads(Opening.AWAY, days)
    if (after := _leads_elsewhere(words, said, measured)) is not None:
        return Leads(after)
    if not measured and said & {"buffer", "buffers"}:
        return Leads(Opening.CALIBRATE)
    if said & {"calibrated", "calibrate", "recalibrated", "recalibrate", "calibration"} and (not measured or (said & BUFFER_7 and said & BUFFER_4)):
        return Leads(Opening.CALIBRATE)
    if words[0] == "label" and not measured:
        return Leads(Opening.LABEL)
    if not measured and (words[0] in BREWED or (words[0] in {"start", "started"} and said & NEW_BREW)):
        return Leads(Opening.BREW_DAY)
    gone_off = any(_in(words, (word, "off")) for word in ("gone", "went")) and not said & (HEATERS | POWERED)
    if said & ODD or gone_off or (said & GROWTHS and has_a_colour(words, DENYING)) or any(_in(words, phrase) for phrase in DRY):
        return Leads(Opening.LOOK)
    if words[0] in MOVED:
        return Leads(Opening.MOVE)
    return None
