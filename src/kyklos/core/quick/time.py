"""Times in the quick line: yesterday 8pm, 20:00, this morning, last tuesday, 2h ago, 12 feb."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta

from .words import MONTH_NAMES, MONTHS, NUMBERS, WEEKDAYS

PARTS_OF_DAY = {"morning": 8, "noon": 12, "midday": 12, "lunchtime": 12, "afternoon": 15, "evening": 19, "night": 21, "tonight": 21, "midnight": 0}  # fmt: skip
UNITS = {"h": "hours", "hr": "hours", "hrs": "hours", "hour": "hours", "hours": "hours", "min": "minutes", "mins": "minutes", "minutes": "minutes", "d": "days", "day": "days", "days": "days", "w": "weeks", "wk": "weeks", "wks": "weeks", "week": "weeks", "weeks": "weeks", "month": "months", "months": "months"}  # fmt: skip
TO_COME = {"till", "until", "by", "for", "next", "before", "coming"}  #: A weekday behind these is still to come.
MARKS = {5, 10}  #: A mark is given out of so many.
SLASHED = timedelta(days=60)  #: "7/10" that lies further back is a mark rather than a day (assumed).
DATE_ORDER = "Day or month first? Taken as {}."


@dataclass(slots=True)
class When:
    """What of a time was said so far; local, without a zone."""

    day: date | None = None
    days: set[date] = field(default_factory=set)  #: All that were said.
    clock: time | None = None
    moment: datetime | None = None  #: Said from now backwards.
    doubt: str = ""

    @property
    def said(self) -> bool:
        """Whether anything was."""
        return self.day is not None or self.clock is not None or self.moment is not None

    def settle(self, now: datetime) -> datetime | None:
        """Put day and clock together: the latest such moment that is not in the future."""
        if self.moment is not None:
            return self.moment
        if not self.said:
            return None
        if self.day is None and self.clock is not None:
            found = datetime.combine(now.date(), self.clock)
            if found > now:
                self.doubt = self.doubt or f"{self.clock:%H:%M} today is still to come. Taken as yesterday."
                found -= timedelta(days=1)
            return found
        day = self.day or now.date()
        return datetime.combine(
            day, self.clock if self.clock is not None else now.time().replace(second=0, microsecond=0)
        )


def _number(word: str) -> int | None:
    return int(word) if re.fullmatch(r"[0-9]{1,4}", word) else None


def _clock(words: list[str], at: int, when: When) -> int:
    """Read 20:00, 8pm, 8 pm, at 8."""
    word, after = words[at], words[at + 1] if at + 1 < len(words) else ""
    if re.fullmatch(r"[0-9]{1,2}:[0-9]{2}", word):
        hour, minute = (int(part) for part in word.split(":"))
        half = after in {"am", "pm"}
        if half and 1 <= hour <= 12:
            hour = hour % 12 + (12 if after == "pm" else 0)
        if hour < 24 and minute < 60:
            when.clock = time(hour, minute)
            return 1 + half
        return 0
    dotted = re.fullmatch(r"([0-9]{1,2})\.([0-5][0-9])", word)
    if dotted and after in {"am", "pm"} and 1 <= int(dotted[1]) <= 12:
        when.clock = time(int(dotted[1]) % 12 + (12 if after == "pm" else 0), int(dotted[2]))
        return 2
    number = _number(word)
    if number is not None and after in {"am", "pm"} and 1 <= number <= 12:
        when.clock = time(number % 12 + (12 if after == "pm" else 0))
        return 2
    if number is not None and after in {"o'clock", "oclock"} and number < 24:
        when.clock = time(number)
        return 2
    if word == "at" and (hour_told := _number(after)) is not None and 0 <= hour_told < 24:
        following = words[at + 2] if at + 2 < len(words) else ""
        if following in {"am", "pm", "c", "f", "°", "deg", "degrees", "to", "brix", "ph", *UNITS} or re.fullmatch(r"-\d+", following) or month_named(following) is not None:
            return 0
        late = when.clock is not None and when.clock.hour >= 12 and hour_told < 12  # "yesterday evening at 7"
        known = when.clock is not None or hour_told > 12
        when.clock = time(hour_told + 12 * late)
        when.doubt = "" if known else f"At {hour_told} by the clock, morning or evening? Taken as {hour_told:02d}:00."
        return 2
    return 0


def _ago(words: list[str], at: int, when: When, now: datetime) -> int:
    """Read 2h ago, three weeks ago, half an hour ago, a couple of days ago."""
    count, length = _how_many(words, at)
    place = at + length
    if not length or words[place : place + 1] == [] or words[place] not in UNITS:
        return 0
    ago = words[place + 1 : place + 2] == ["ago"] or words[place + 1 : place + 3] in (["or", "so"], ["back"])
    if not ago or count > 4000:
        return 0
    unit = UNITS[words[place]]
    if unit == "months":
        when.moment = now - timedelta(days=round(30.4 * count))
        when.doubt = f"Taken as {when.moment:%A} {when.moment.day} {when.moment:%B}."
    else:
        when.moment = now - timedelta(**{unit: count})
        if "few" in words[at:place]:
            when.doubt = "A few is taken as three."
    return length + (3 if words[place + 1 : place + 4] == ["or", "so", "ago"] else 2)


FEW = 3.0


def _how_many(words: list[str], at: int) -> tuple[float, int]:
    """Read a count of hours, days or weeks, in figures or words: how many, and how many words it took."""
    for entry, count in (
        (["half", "an"], 0.5), (["half", "a"], 0.5), (["a", "couple", "of"], 2.0), (["couple", "of"], 2.0), (["a", "couple"], 2.0),
        (["a", "few"], FEW), (["a"], 1.0), (["an"], 1.0), (["about", "a"], 1.0),
    ):  # fmt: skip
        if words[at : at + len(entry)] == entry:
            return count, len(entry)
    number = _number(NUMBERS.get(words[at], words[at]))
    return (float(number), 1) if number is not None else (0.0, 0)


def _part_of_day(words: list[str], at: int, when: When, now: datetime) -> int:
    word, after = words[at], words[at + 1] if at + 1 < len(words) else ""
    if at and words[at - 1] == "all":
        return 0  # "all afternoon": how long, not when
    if when.clock is not None and (word in PARTS_OF_DAY or (word == "this" and after in PARTS_OF_DAY)):
        part = after if word == "this" else word  # "at 7 this evening"
        when.day = now.date() if word == "this" else when.day
        if PARTS_OF_DAY[part] >= 12 and when.clock.hour < 12:
            when.clock = when.clock.replace(hour=when.clock.hour + 12)
        when.doubt = ""
        return 1 + (word == "this")
    if word == "this" and after in PARTS_OF_DAY:
        when.day, when.clock = now.date(), time(PARTS_OF_DAY[after])
        if datetime.combine(when.day, when.clock) > now:
            when.clock = now.time().replace(second=0, microsecond=0)
        return 2
    if word == "last" and after == "night":
        when.day, when.clock = now.date() - timedelta(days=1), time(21)
        return 2
    if word == "tonight" and now.time() < time(PARTS_OF_DAY[word]):
        return 0  # it is still to come: what is meant for it is no moment gone by
    if word in PARTS_OF_DAY:
        when.clock = time(PARTS_OF_DAY[word])
        return 1
    return 0


def _weekday(words: list[str], at: int, when: When, now: datetime) -> int:
    last = words[at] == "last"
    word = words[at + 1] if last and at + 1 < len(words) else words[at]
    short = [
        i
        for i, name in enumerate(WEEKDAYS)
        if word == name or (len(word) >= 3 and word != "sun" and name.startswith(word) and len(word) <= 5)
    ]
    if words[max(0, at - 1)] in TO_COME or words[max(0, at - 2) : at] == ["this", "coming"]:
        return 0
    if not short or (at and word == "sat" and words[at + 1 : at + 2] in (["at"], ["in"], ["on"], ["for"], ["by"])):
        return 0
    back = (now.weekday() - short[0]) % 7
    if back == 0:
        back = 7
        when.doubt = f"{WEEKDAYS[short[0]].capitalize()} is today. Taken as a week ago; “today” for today."
    when.day = now.date() - timedelta(days=back)
    return 1 + last


def month_named(word: str) -> int | None:
    """Return the number of a month by its name or its first letters; None: it is none, like Maria.

    >>> month_named("mar"), month_named("sept"), month_named("march"), month_named("maria")
    (3, 9, 3, None)
    """
    named = (i for i, name in enumerate(MONTH_NAMES, 1) if len(word) >= 3 and name.startswith(word))
    return next(named, None)


def _date(words: list[str], at: int, when: When, now: datetime, month_first: bool) -> int:
    word = words[at]
    if len(word) == 10 and word[4] == "-":
        try:
            when.day = date.fromisoformat(word)
        except ValueError:
            return 0
        return 1
    number, named = _number(word), at + 1
    while number is not None and named < len(words) and words[named] in {"st", "nd", "rd", "th", "of"}:
        named += 1  # "12th of February"
    if number is not None and named < len(words) and words[named] != "jun" and (month := month_named(words[named])) is not None:
        return named + 1 - at if _set_date(when, number, month, now) else 0
    after = _number(words[at + 1]) if at + 1 < len(words) else None
    if (month := month_named(word)) is not None and word != "jun" and after:  # jun is what stands in the jar
        return 2 if _set_date(when, after, month, now) else 0
    if (
        number is not None
        and words[at + 1 : at + 2] == ["/"]
        and (second := _number(words[at + 2] if at + 2 < len(words) else ""))
    ):
        if words[at + 3 : at + 4] and words[at + 3] in {"full", "empty", "gone", "left"}:
            return 0  # "2/3 full"
        day, month = (second, number) if month_first else (number, second)
        if month > 12 >= day:
            day, month = month, day
        before = when.day
        if not _set_date(when, day, month, now):
            return 0
        if second in MARKS and when.day is not None and now.date() - when.day > SLASHED:
            when.day = before
            return 0
        if day <= 12 and day != month and when.day is not None:
            when.doubt = DATE_ORDER.format(f"{when.day.day} {when.day:%B}")
        return 3
    return 0


def _set_date(when: When, day: int, month: int, now: datetime) -> bool:
    for year in (now.year, now.year - 1):
        try:
            found = date(year, month, day)
        except ValueError:
            continue
        if found <= now.date():
            when.day = found
            return True
    return False


def read_time(words: list[str], at: int, when: When, now: datetime, month_first: bool = False) -> int:
    """Read a piece of a time at a word.

    Args:
        words: Of the line, lower case.
        at: Where to begin.
        when: What was said so far; changed when something is read.
        now: Local, without a zone.
        month_first: Whether 2/3 is the third of February.

    Returns: How many words were read; 0 when it is no time.
    """
    count = _read(words, at, when, now, month_first)
    when.days |= {when.day} if count and when.day is not None else set()
    return count


def _read(words: list[str], at: int, when: When, now: datetime, month_first: bool) -> int:
    word = words[at]
    if words[at : at + 4] == ["the", "day", "before", "yesterday"] or words[at : at + 3] == ["day", "before", "yesterday"]:
        when.day = now.date() - timedelta(days=2)
        return 4 if word == "the" else 3
    if words[at : at + 2] == ["last", "week"]:
        when.day = now.date() - timedelta(days=7)
        when.doubt = f"Which day? Taken as {when.day:%A} {when.day.day} {when.day:%B}."
        return 2
    if word in {"today", "yesterday", "now"}:
        when.day = now.date() - timedelta(days=word == "yesterday")
        return 1
    return (
        _ago(words, at, when, now)
        or _date(words, at, when, now, month_first)
        or (0 if word in MONTHS else _weekday(words, at, when, now))
        or _part_of_day(words, at, when, now)
        or _clock(words, at, when)
    )
