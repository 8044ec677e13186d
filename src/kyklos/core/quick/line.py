"""The quick line: one line of shorthand understood as readings, tastes, looks, deeds, a time and a note.

Grammar, in any order, spelling forgiven:

    line  = { vessel | ph | warmth | range | gravity | acidity | tool | taste | look | smell | depth | deed | time | word }
    vessel = words of a vessel's name, or of the line that lives in it       "crock", "jar 2", "bora"
    ph     = ["ph"] number from 2 to 5.5 | "between" number "and" number      "3.42", "ph 4", "between 3 and 3.5"
    warmth = number ("c" | "f" | "°" | "deg")                                "24c", "77 f"
    range  = warmth "-" warmth | "low" number "high" number                  "18-24c"
    gravity = number ("brix" | "bx") | ["sg"] number from 0.99 to 1.1        "5.2 brix", "1.021"
    acidity = "ta" number | number "g/l"                                     "ta 4.6"
    tool   = "strip" | "meter" | "uncalibrated" | "hydrometer" | "refractometer"
    taste  = [taster {"and" taster} | "both"] how sweet or sour              "odile a bit sweet"
    took, put = as `amounts.py` has them                                     "drank a glass", "added 0.5 l water"
    deed   = as `deeds.py` has them                                          "opened one damson, flat", "bottled 6"
    look, smell, depth = as `data/quick_words.toml` has them
    time   = "yesterday" | weekday | date | clock | "this morning" | number unit "ago"
    word   = anything else: kept as a note, never dropped

What is denied ("no mould", "not ready yet") is a note. What may mean two things is taken one way, and asked about.
"""

from __future__ import annotations

import re

from . import beside, names, numbers, seen, tastes
from .amounts import PUT, SERVED, TOOK, QuickAmount, amount_at, past_verb, source_at, volume_at
from .openings import ASKING, turns_a_heater
from .reader import LONGEST, Reader, Rule
from .said import Context, Quick
from .time import UNITS as TIMES
from .time import read_time
from .words import phrase_at

__all__ = ["LONGEST", "understand"]

SEEN = {"surface", "sign", "smell"}
DRUNK_AT_ONCE_L = 1.0  #: More than this without a verb may as well be what stands in a jar (assumed). [L]
VERB_NEAR = 3  #: "gave maria a jug": so many words back a verb still counts.


def _amount(r: Reader, at: int) -> int:
    found, named, length = amount_at(r.words, at), past_verb(r.words, at), 0
    if found is None and named is not None and (length := names.vessel(r, named)):
        found = amount_at(
            [*r.words[: at + 1], *r.words[named + length :]], at
        )  # "topped up the crock with 1 l of water"
    if found is not None:
        r.out.amounts.append(found[1])
        if found[2]:
            r.ask(at, min(found[0], len(r.words) - at), found[2])
        return found[0] + ((named or 0) + length - at - 1 if length else 0)
    if length:
        r.out.vessels = ()
    return _bare_volume(r, at)


def _bare_volume(r: Reader, at: int) -> int:
    """Read a volume without a verb beside it: before what may be put in it is put in, else taken out."""
    if r.word(at - 1) == "into":
        return r.keep(at, 2)  # "into a jug": where it went, not how much
    sign = r.word(at)[:1] if r.word(at)[:1] in {"+", "-"} else ""
    volume = volume_at([*r.words[:at], r.words[at].lstrip("+-"), *r.words[at + 1 :]], at)
    if volume is None:
        return 0
    if (beside.NEW | beside.TITRATED | beside.FILLING) & set(r.words) or r.word(at + volume[0]) in beside.DRY:
        return r.keep(at, volume[0])
    if r.word(at + volume[0]) in beside.VESSELS or (r.word(at - 3) == "between" and r.word(at - 1) == "and"):  # "a 4 gallon jar": how large it is
        first = at - 2 if r.word(at - 1) in {"and", "to", "or"} and r.number(at - 2) is not None else at
        if first < at and r.out.ph == r.number(first):
            r.out.ph, r.out.doubts = None, [doubt for doubt in r.out.doubts if doubt.text != r.word(first)]
        return r.keep(first, at + volume[0] + 1 - first)
    if {"has", "holds", "contains", "left"} & set(r.words[:at]) or r.words[at + volume[0] : at + volume[0] + 2] in (["in", "it"], ["left"], ["left", "in"]):
        return r.keep(at, volume[0])  # "jar one has 5 l in it"
    source = source_at(r.words, at + volume[0])
    if source is not None and r.word(at + volume[0] + source[0]) in {"from", "for"} and not sign:
        r.ask(at, volume[0] + source[0], "Set aside from it? Kept as a note: write “set aside” before it.")
        return r.keep(at, volume[0] + source[0])
    if source is not None and sign != "-":
        if not sign:
            r.ask(at, volume[0] + source[0], "Put in? Taken so.")
        r.out.amounts.append(QuickAmount(source[1], volume[1], put=True))
        return volume[0] + source[0]
    if sign == "+" or "fed" in r.words[:at]:
        r.ask(at, volume[0], "With sweet tea? Taken so; say “water” or “starter” otherwise.")
        r.out.amounts.append(QuickAmount("sweet tea", volume[1], put=True))
        return volume[0]
    if sign == "-":
        r.out.amounts.append(QuickAmount("drunk", volume[1], put=False))
        return volume[0]
    goes_in = r.word(at - 1) == "in" or (r.word(at + volume[0]) == "in" and volume_at(r.words, at + volume[0] + 1) is None)
    if goes_in and "out" in r.words[:at]:  # "out 2 litres, in 2 litres"
        r.out.amounts.append(QuickAmount("sweet tea", volume[1], put=True))
        return volume[0]
    found = next((word for word in reversed(r.words[max(0, at - VERB_NEAR) : at]) if word in TOOK), None)
    if found is None and "starter" in r.words:
        r.ask(at, volume[0], "Starter that you saved? Kept as a note: write “set aside” before it.")
        return r.keep(at, volume[0])
    if found is None and PUT & set(r.words[max(0, at - VERB_NEAR) : at]):
        r.ask(at, volume[0], "Of what? Kept as a note: write “sweet tea”, “water” or “starter” behind it.")
        return r.keep(at, volume[0])
    if found is None and "to" in r.words[at + volume[0] :]:
        r.ask(at, volume[0], "Given away? Kept as a note: write “gave” before it.")
        return r.keep(at, volume[0])
    served = SERVED & set(r.words[at : at + volume[0]])
    if found is None and not served and not {"out", "off"} & {r.word(at - 1), r.word(at + volume[0])} and (volume[1] > DRUNK_AT_ONCE_L or r.word(at + volume[0]) in {"in", "of"}):
        r.ask(at, volume[0], "Taken out of it, or what it holds? Kept as a note: write “took” or “added” before it.")
        return r.keep(at, volume[0])
    if found is None:
        r.ask(at, volume[0], "Taken out of it to drink? Taken so: write “added” or “spilt” before it for something else.")
        if not served:
            r.poured = range(at, at + volume[0])
    elif any(word in PUT for word in r.words[max(0, at - VERB_NEAR) : at]):
        return r.keep(at, volume[0])
    lost = {"drain", "sink"} & set(r.words) and {"down", "in"} & set(r.words)
    r.out.amounts.append(QuickAmount("spilt" if lost else TOOK[found] if found else "drunk", volume[1], put=False))
    return volume[0]


def _reminder(r: Reader, at: int) -> int:
    """Keep what is still to be done, or is asked, as a note: it is no reading, and its day is to come."""
    if at or r.word(0) not in beside.TO_DO:
        return 0
    if r.word(0) in ASKING and any((found := phrase_at(r.words, place)) is not None and found[1].group in SEEN for place in range(len(r.words))):
        return 0  # "is this mould?": the guided look answers
    next((place for place in range(len(r.words)) if names.vessel(r, place)), None)
    return r.keep(0, len(r.words))


def _instead(r: Reader, at: int) -> int:
    """Keep a number as a note that is no brew's: the degrees of a heater, a meter in its buffer."""
    if r.number(at) is None:
        return 0
    in_buffer = bool(beside.BUFFERS & set(r.words)) or ((bool({"recalibrated", "recalibrate"} & set(r.words)) or {"calibrated", "meter"} <= set(r.words)) and not r.out.vessels and not names.any_vessel(r))
    return r.keep(at, 1) if turns_a_heater(r.words) or in_buffer else 0


def _time(r: Reader, at: int) -> int:
    before = r.words[at]
    if before == "at" and r.word(at - 1) in beside.STOOD | {"fridge", "freezer"}:
        return 0  # "sat at 17": how warm
    if before == "at" and not r.context.us and (hour := r.number(at + 1)) is not None and _may_be_warm(r, at, hour):
        r.ask(at, 2, f"A time or how warm? Kept as a note: write “{hour:.0f}:00” or “{hour:g}c”.")
        return r.keep(at, 2)
    return read_time(r.words, at, r.when, r.context.now, r.context.us)


def _may_be_warm(r: Reader, at: int, hour: float) -> bool:
    """Return whether "at 22" may be how warm it is as well as a time: no day is named, and nothing behind it settles it."""
    if not 12 < hour < 24 or r.when.day is not None or beside.DAYS & set(r.words):
        return False
    return r.word(at + 2) not in TIMES and not r.word(at + 2).startswith("-") and r.word(at + 2) not in beside.AFTER_HOUR


def _denied(r: Reader, at: int) -> int:
    """Keep what is denied as a note: "no mould", "not ready yet"."""
    if r.word(at) not in beside.NOT or ((found := phrase_at(r.words, at)) is not None and found[1].group != "note"):
        return 0
    end = at + 1
    little = beside.SOFTENED | beside.SAYING | {"was", "were", "be", "been"} if r.word(at) in beside.DENIED_VERBS else beside.SOFTENED
    while r.word(end) in little:
        end += 1
    if (meant := phrase_at(r.words, end)) is not None:
        end += meant[0]
    return r.keep(at, end - at)


ON_BOTTLES: tuple[Rule, ...] = (_time,)
BESIDE: tuple[Rule, ...] = (names.vessel, _time, numbers.warmth, numbers.ph)
RULES: tuple[Rule, ...] = (
    names.bare_vessel,
    _reminder,
    _instead,
    _denied,
    names.another_jar,
    names.vessel,
    _amount,
    numbers.bound,
    numbers.aim,
    numbers.ph_then_and_now,
    numbers.ph_range,
    numbers.warmth_range,
    numbers.warmth,
    numbers.gravity,
    numbers.acidity,
    numbers.ph,
    _time,
    tastes.taste_number,
    tastes.score,
    seen.smell,
    seen.phrase,
    tastes.taster,
    numbers.bare,
)


def understand(line: str, context: Context) -> Quick:
    """Understand a line. Any text is understood somehow; what is not, is its note.

    Args:
        line: As typed.
        context: Vessels, bottles, tasters, places, the time, the units.
    """
    return Reader(corrected(line), context).run(RULES, BESIDE, ON_BOTTLES)


_CORRECTED = re.compile(r"\d+(?:[.,]\d+)?\s*[,.;-]?\s*\b(?:no,? wait|wait,? no|no,? sorry|sorry|i mean|i meant|make that|correction|scratch that|no)\b[ ,:;.-]*(?=\d)", re.I)


def corrected(line: str) -> str:
    """Leave out a number that its writer takes back, so that what is said after it counts; places in the line stay.

    >>> corrected("jar one 3.4 no wait 3.3")
    'jar one             3.3'
    """
    return _CORRECTED.sub(lambda found: " " * len(found[0]), line)
