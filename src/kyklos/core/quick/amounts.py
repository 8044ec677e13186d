"""The quick line's amounts: what was taken out of a brew or put into it, and how much.

    took  = ("drank" | "drew" | "spilt" | "gave away" | ...) [amount] ["out"]
    put   = ("added" | "topped up with" | ...) amount ["of"] ("water" | "sweet tea" | "starter")
    amount = [number | "a" | "half a"] ("glass" | "cup" | "l" | "ml" | "qt" | ...)

A volume is never a pH: a number before a unit of volume is one wherever it stands.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .words import NUMBERS

GLASS_L, JUG_L = 0.25, 1.0  #: Of a household that named none (assumed). [L]
UNITS = {
    "l": 1.0, "litre": 1.0, "litres": 1.0, "liter": 1.0, "liters": 1.0,
    "dl": 0.1, "cl": 0.01, "ml": 0.001, "millilitres": 0.001, "milliliters": 0.001,
    "glass": GLASS_L, "glasses": GLASS_L, "jug": JUG_L, "jugs": JUG_L,
    "cup": 0.236588, "cups": 0.236588, "pint": 0.473176, "pints": 0.473176,
    "oz": 0.0295735, "ounce": 0.0295735, "ounces": 0.0295735, "floz": 0.0295735,
    "tbsp": 0.014787, "tablespoon": 0.014787, "tablespoons": 0.014787, "tsp": 0.004929, "teaspoon": 0.004929, "teaspoons": 0.004929,
    "qt": 0.946353, "quart": 0.946353, "quarts": 0.946353, "gal": 3.785412, "gallon": 3.785412, "gallons": 3.785412,
}  # fmt: skip  #: [L]
TOOK = {
    "drank": "drunk", "drunk": "drunk", "drew": "drunk", "drawn": "drunk", "took": "drunk", "had": "drunk", "tapped": "drunk",
    "poured": "drunk", "removed": "drunk", "sampled": "drunk", "ladled": "drunk", "taken": "drunk", "draw": "drunk",
    "threw": "spilt", "tossed": "spilt", "tipped": "spilt", "dumped": "spilt", "binned": "spilt", "chucked": "spilt", "wasted": "spilt",
    "spilt": "spilt", "spilled": "spilt", "lost": "spilt", "spill": "spilt",
    "gave": "given", "given": "given",
}  # fmt: skip
PUT = {"added", "topped", "put", "refilled", "add", "top", "poured"}
FILLED = {"topped", "refilled", "top"}  #: Without a word more this is sweet tea.
SOURCES = {
    ("sweet", "tea"): "sweet tea", ("fresh", "tea"): "sweet tea", ("sweetened", "tea"): "sweet tea", ("sugar", "tea"): "sweet tea",
    ("sweet", "black", "tea"): "sweet tea", ("sweet", "green", "tea"): "sweet tea", ("black", "tea"): "sweet tea",
    ("green", "tea"): "sweet tea", ("fresh", "sweet", "tea"): "sweet tea", ("tea",): "sweet tea", ("water",): "water", ("starter",): "starter",
    ("strong", "starter"): "starter", ("distilled", "vinegar"): "vinegar", ("white", "vinegar"): "vinegar", ("vinegar",): "vinegar",
}  # fmt: skip
BETWEEN = {"up", "in", "of", "with", "off", "out", "away", "about", "some", "by", "more", "the", "another", "just", "down", "around", "roughly", "it",
           "me", "myself", "us", "ourselves", "him", "her"}  # fmt: skip
SERVED = {"glass", "glasses", "jug", "jugs"}  #: What is poured out by these is poured to be drunk.
HALVES = {"half": 0.5, "quarter": 0.25, "1/2": 0.5, "1/4": 0.25, "3/4": 0.75, "1/3": 1 / 3, "2/3": 2 / 3, "½": 0.5, "¼": 0.25, "¾": 0.75}


@dataclass(frozen=True, slots=True)
class QuickAmount:
    """An amount that was taken out or put in."""

    what: str  #: drunk, given, spilt; water, sweet tea, starter.
    litres: float  #: [L]
    put: bool  #: In, not out.


def _number(word: str) -> float | None:
    word = NUMBERS.get(word, word)
    try:
        value = float(word)
    except ValueError:
        return None
    return value if 0 < value < 1000 else None


def volume_at(words: Sequence[str], at: int) -> tuple[int, float] | None:
    """Read a volume that begins at a word: how many words, and litres; None where there is none.

    >>> volume_at("half a glass".split(), 0), volume_at(["250", "ml"], 0), volume_at(["3.4", "and"], 0)
    ((3, 0.125), (2, 0.25), None)
    """
    count, value = 0, 1.0
    word = words[at] if at < len(words) else ""
    if list(words[at + 1 : at + 2]) == ["/"] and (share := HALVES.get("/".join([word, *words[at + 2 : at + 3]]))):
        count, value = 3, share
    elif word in HALVES:
        count, value = 1, HALVES[word]
    elif (number := _number(word)) is not None:
        count, value = 1, number
    if at + count < len(words) and words[at + count] in {"a", "an"}:
        count += 1
    place = at + count
    if count == 0 or place >= len(words):
        return None
    if words[place : place + 2] == ["fl", "oz"]:
        return count + 2, value * 0.0295735
    return (count + 1, value * UNITS[words[place]]) if words[place] in UNITS else None


def amount_at(words: Sequence[str], at: int) -> tuple[int, QuickAmount, str] | None:
    """Read what was taken out or put in, beginning at its verb: how many words, what, and what is to be asked about it."""
    verb = words[at]
    if verb not in TOOK and verb not in PUT:
        return None
    place = _past(words, at + 1)
    found = volume_at(words, place)
    if found is None:
        return None
    count, litres = found
    end = place + count
    source = source_at(words, end)
    if verb in PUT and source is not None:
        return end + source[0] - at, QuickAmount(source[1], litres, put=True), ""
    if verb in FILLED:
        return end - at, QuickAmount("sweet tea", litres, put=True), "With sweet tea? Taken so; say “water” or “starter” otherwise."
    if verb not in TOOK:
        return None
    away = "away" in words[at + 1 :] and verb != "gave"
    served = words[end - 1] in SERVED or words[end : end + 2] == ["out", "of"]
    lost = bool({"drain", "sink"} & set(words[end:])) or (verb == "poured" and (away or ("out" in words[at + 1 : end + 1] and not served))) or words[end : end + 2] == ["down", "the"]
    return end - at, QuickAmount("spilt" if lost else TOOK[verb], litres, put=False), ""


def source_at(words: Sequence[str], at: int) -> tuple[int, str] | None:
    """Read what may be put in, at a word: how many words, and what."""
    start = _past(words, at)
    key = next((key for key in SOURCES if tuple(words[start : start + len(key)]) == key), None)
    return None if key is None else (start + len(key) - at, SOURCES[key])


def past_verb(words: Sequence[str], at: int) -> int | None:
    """Return where a verb's own words end that begins here; None where there is no verb."""
    return _past(words, at + 1) if words[at] in TOOK or words[at] in PUT else None


def _past(words: Sequence[str], at: int) -> int:
    """Step over little words."""
    while at < len(words) and words[at] in BETWEEN:
        at += 1
    return at
