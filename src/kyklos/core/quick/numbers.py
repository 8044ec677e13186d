"""Numbers in a quick line: pH, temperature, gravity, acidity, and what a number without a unit may be."""

from __future__ import annotations

import re

from ..liquid.sweet_tea import density
from . import names
from .amounts import volume_at
from .beside import MARKED
from .reader import Reader
from .said import DeedKind
from .time import UNITS as TIMES
from .time import month_named
from .words import FILLERS, NUMBERED, NUMBERS, phrase_at, spelt

PH_SURE = (2.0, 5.5)  #: A bare number between is a pH. [pH]
C_SURE = (10.0, 45.0)  #: A bare number between is degC where that is used. [degC]
F_SURE = (50.0, 113.0)  #: The same for degF. [degF]
PH_LIKELY = (2.4, 4.6)  #: Where most brews are. [pH]
PH_WITHOUT_POINT = (31.0, 45.0)  #: A bare number between may be a pH without its point as well as very warm.
SG = (0.98, 1.1)  #: [-]
WIDEST_PH = 1.5  #: Two numbers further apart are no range of pH. [pH]
ABOUT = {"=", ":", "is", "was", "of", "about", "around", "roughly", "approx", "approximately", "ca", "~", "at", "now",
         "reads", "read", "still", "says", "shows", "only", "down", "to", "maybe", "near", "nearly"}  # fmt: skip
OTHER_UNITS = {"g", "gram", "grams", "kg", "lb", "lbs", "bag", "bags", "spoon", "spoons", "%", "cm", "mm", "inch", "inches", "x", "drops",
               "sugar", "people", "guests", "nd", "rd", "th", "st"}  # fmt: skip
ROOMS = {"room", "kitchen", "pantry", "cellar", "cupboard", "shelf", "temp", "temperature", "warmth", "thermometer", "heat", "degrees", "night", "day",
         "outside", "inside", "mat", "brix", "meter", "strip", "strips"}  # fmt: skip
#: A whole number behind these is how warm it is there, or what they show.
WENT = {"dropped", "fell", "went", "down", "came", "rose", "moved"}  #: Before "from 3.8 to 3.5".
LOWEST, HIGHEST = {"low", "min", "lowest", "minimum"}, {"high", "max", "highest", "maximum"}
BRIX = {"brix", "bx", "brx"}
JOINED = {"-", "–", "to", "and", "or"}
ARROWS = {"→", "->", ">"}  #: "3.8 → 3.5": what it was, and what it is.
BOUNDS = {"<", ">", "≤", "≥", "under", "below", "over", "above", "least", "most", "than", "minus", "plus"}  #: Behind these a number is a bound, and was not read.
AIMS = {"goal", "target", "aim", "aiming", "until", "till", "waiting", "hoping"}  #: Shortly before a number: it is still to come.
AIM_NEAR = 3  #: "goal for jar 3.2": so many words back an aim still counts.


def _after_about(r: Reader, at: int) -> int:
    """Step over little words before a number."""
    while r.word(at) in ABOUT:
        at += 1
    return at


def _labelled(r: Reader, at: int) -> int:
    """Return where the number stands that a label tells of: behind little words, and the vessel's name: ta of jar two 5.4."""
    place = _after_about(r, at + 1)
    if r.number(place) is None and not r.out.vessels and (length := names.vessel(r, place + (r.word(place) in {"in", "for", "from"}))):
        behind = _after_about(r, place + (r.word(place) in {"in", "for", "from"}) + length)
        if r.number(behind) is not None:
            return behind
        r.out.vessels = ()
    return place


def ph(r: Reader, at: int) -> int:
    """Read "ph 3.4", "pH is about 3,4"; a value that cannot be is asked about."""
    if r.out.deed is not None and r.out.deed.kind is DeedKind.FED and "." in r.word(at) and r.number(at) is not None:
        alone = float(r.word(at))  # "hotel 2.9"
        return r.once("ph", alone, at, 1) if PH_SURE[0] <= alone <= PH_SURE[1] else 0
    if r.words[at] != "ph":
        return 0
    place = _labelled(r, at)
    value = r.number(place)
    if value is None:
        return 0
    count = place + 1 - at
    if not 0 <= value <= 14:
        digits = r.word(place).replace(".", "").lstrip("+-")
        meant = f"{digits[0]}.{digits[1:]}" if len(digits) in (2, 3) and digits[0] in "2345" else ""
        more = f" Did you mean {meant}?" if meant else ""
        r.ask(at, count, f"pH runs from 0 to 14.{more} Kept as a note.")
        return r.keep(at, count)
    return r.once("ph", value, at, count)


def ph_then_and_now(r: Reader, at: int) -> int:
    """Read "was 3.8 now 3.5": the second is the reading."""
    first = r.number(at + 1)
    place = at + 2 + (r.word(at + 2) in {",", "and"})
    second = r.number(place + 1)
    if r.word(at) != "was" or r.word(place) != "now" or first is None or second is None or not PH_SURE[0] <= second <= PH_SURE[1]:
        return 0
    r.out.note += f"was {first:g} "
    return r.once("ph", second, at, place + 2 - at)


def _is_sugar(r: Reader, at: int) -> bool:
    """Return whether the number before a word is a sugar or an acid by the unit that follows; "3.5 brix is 5.2" labels what stands behind."""
    unit = at + (r.word(at) == "°")
    return r.word(unit) == "g" or (r.word(unit) in BRIX and r.number(_after_about(r, unit + 1)) is None)


def _spelt_number(r: Reader, at: int) -> float | None:
    """Read a number in figures or, between two, in a word: between three and 3.5."""
    word = NUMBERS.get(r.word(at), "") if "between" in r.words[max(0, at - 3) : at] else ""
    return float(word) if word else r.number(at)


def ph_range(r: Reader, at: int) -> int:
    """Read "between 3 and 3.5", "ph 3 to 3.5": what a strip shows; the middle counts."""
    place = at + (r.word(at) == "ph")
    place = _after_about(r, place)
    between = r.word(place) in {"between", "from", "btw", "betw"}
    place += between
    if between and r.word(place) in {"strip", "strips"}:
        r.out.instrument, place = "strip", place + 1  # "between strip 3 and 3.5"
    first, joint = _spelt_number(r, place), r.word(place + 1)
    if first is None:
        return 0
    if re.fullmatch(r"-\d+(\.\d+)?", joint):
        second, end = abs(float(joint)), place + 2
    elif joint in (JOINED if between else JOINED - {"and"}) | ARROWS and (found := _spelt_number(r, place + 2)) is not None:
        second, end = abs(found), place + 3
    else:
        return 0
    low, high = sorted((first, second))
    if not (PH_SURE[0] <= low < high <= PH_SURE[1]) or high - low > WIDEST_PH:
        return 0
    if r.word(end) in TIMES or volume_at(r.words, end - 1) is not None or _unit(r, end)[1] or _is_sugar(r, end):
        return 0
    if joint in ARROWS or (r.word(place - 1) == "from" and (second < first or set(r.words[:place]) & WENT)):
        r.out.note += f"from {first:g} "
        return r.once("ph", second, at, end - at)  # "dropped from 3.8 to 3.5": what it is now
    if r.out.ph is None:
        r.out.instrument = r.out.instrument or "strip"
        r.out.note += f"between {low:g} and {high:g} "
    return r.once("ph", round((low + high) / 2, 3), at, end + (r.word(end) == "ph") - at)


def _in_c(value: float, unit: str) -> float:
    return (value - 32) / 1.8 if unit == "f" else value


def _unit(r: Reader, at: int) -> tuple[str, int]:
    """Read a unit of temperature: which, and how many words it took."""
    count = 0
    if r.word(at) in {"°", "deg", "degs", "degrees", "degree"} and r.word(at + 1) not in BRIX:
        count += 1
    named = {"c": "c", "f": "f", "celsius": "c", "centigrade": "c", "fahrenheit": "f"}.get(r.word(at + count), "")
    if named:
        return named, count + 1
    return ("f" if r.context.us else "c", count) if count else ("", 0)


def warmth(r: Reader, at: int) -> int:
    """Read "24c", "77 °F"."""
    value = r.number(at)
    if value is None:
        return 0
    unit, count = _unit(r, at + 1)
    if not count:
        return 0
    if r.word(at - 1) in WENT | {"by", "up", "another"} or r.word(at + count + 1) in {"warmer", "colder", "cooler", "less", "more", "up", "down", "lower", "higher"}:
        return r.keep(at, count + 1)  # "dropped 2 degrees": by how much
    celsius = _in_c(value, unit)
    if not 0 <= celsius <= 60:
        r.ask(at, count + 1, "No brew is so warm or so cold. Kept as a note.")
        return r.keep(at, count + 1)
    return r.once("celsius", celsius, at, count + 1)


def _are_two_things(first: float, second: float) -> bool:
    """Return whether of two numbers one can only be a pH or a gravity, and the other a warmth."""
    ph, other = sorted((first, second))
    if SG[0] <= ph <= SG[1]:
        return True
    return PH_SURE[0] <= ph <= PH_SURE[1] < other and ph != int(ph)


def warmth_range(r: Reader, at: int) -> int:
    """Read 18-24c, 18 to 24 c, between 18 and 24, low 18 high 24c."""
    low_word = r.word(at) in LOWEST | HIGHEST
    other = HIGHEST if r.word(at) in LOWEST else LOWEST
    between = r.word(at) == "between"
    first = r.number(at + (low_word or between))
    if first is None:
        return 0
    place = at + (low_word or between) + 1
    unit_one, used = _unit(r, place)
    place += used
    joined = r.word(place)
    if low_word and joined in {"and", ","}:
        place += 1
        joined = r.word(place)
    if (low_word and joined in other) or (not low_word and joined in JOINED - {"or"}):
        place += 1
    elif low_word or not re.fullmatch(r"-\d+(\.\d+)?", joined):
        return 0
    second = r.number(place)
    if second is None or r.word(place + 1) in {*TIMES, "am", "pm"} or (month_named(r.word(place + 1)) is not None and r.word(place + 1) != "jun"):
        return 0  # "22 c and 12 feb"
    if not between and not low_word and min(first, abs(second)) < C_SURE[0] and (unit_one or joined == "and"):
        return 0  # "22 c - 3 on the meter"
    if not low_word and not between and _are_two_things(first, abs(second)):
        return 0  # "3.2 and 23c", "22.5 c and 3.6"
    unit_two, used = _unit(r, place + 1)
    unit = unit_two or unit_one or ("f" if r.context.us else "c")
    ends = sorted(_in_c(abs(value), unit) for value in (first, second))
    if not unit_one and not used and not low_word:
        sure = F_SURE if unit == "f" else C_SURE
        if not all(sure[0] <= abs(value) <= sure[1] for value in (first, second)):
            return 0
    if not 0 <= ends[0] <= ends[1] <= 60:
        return 0
    count = place + 1 + used - at
    if r.out.low_c is not None:
        return r.once("low_c", ends[0], at, count)
    r.out.low_c, r.out.high_c = ends
    return count


def _brix(r: Reader, value: float, at: int, count: int) -> int:
    """Take a gravity in °Brix, by a refractometer unless told otherwise."""
    if not 0 <= value <= 35:
        return 0
    r.out.gravity_by = r.out.gravity_by or "refractometer"
    return r.once("gravity", round(float(density(value) / density(0)), 4), at, count)


def gravity(r: Reader, at: int) -> int:
    """Read "5.2 brix", "sg 1.021"."""
    after = _labelled(r, at) if r.word(at) in {*BRIX, "sg", "og", "fg", "gravity"} else at
    if r.word(at) in BRIX and (value := r.number(after)) is not None:  # "brix 5.2"
        return _brix(r, value, at, after + 1 - at)
    skip = after - at if r.word(at) in {"sg", "og", "fg", "gravity"} else 0
    value = r.number(at + skip)
    if value is None:
        return 0
    if not skip and r.word(at + 1) in BRIX and (behind := r.number(_after_about(r, at + 2))) is not None and behind < C_SURE[0] and r.word(_after_about(r, at + 2) + 1) not in TIMES:
        may_be_ph = PH_LIKELY[0] <= value <= PH_LIKELY[1]
        if value > C_SURE[0] or (may_be_ph and not PH_LIKELY[0] <= behind <= PH_LIKELY[1]):
            return 0  # "3.35 brix 5.2": the sugar stands behind
        if may_be_ph:
            r.ask(at, 3, "Which one is the sugar? Kept as a note: write “brix” before it, and “ph” before the other.")
            return r.keep(at, 3)
    if r.word(at + 1 + skip) in BRIX or (r.word(at + 1) == "°" and r.word(at + 2) in BRIX):
        return _brix(r, value, at, 2 + skip + (r.word(at + 1) == "°"))
    if SG[0] <= value <= SG[1] and (skip or len(r.word(at)) >= 4):
        return r.once("gravity", value, at, 1 + skip)
    if skip and 980 <= value <= 1100:
        return r.once("gravity", value / 1000, at, 1 + skip)
    return 0


def acidity(r: Reader, at: int) -> int:
    """Read "ta 4.6", "4.6 g/l"."""
    after = _labelled(r, at) if r.word(at) in {"ta", "acidity"} else at
    if r.word(at) in {"ta", "acidity"} and (value := r.number(after)) is not None:
        count = after + 1 - at + (3 if r.words[after + 1 : after + 4] == ["g", "/", "l"] else 0)
    elif (value := r.number(at)) is not None and r.words[at + 1 : at + 4] == ["g", "/", "l"]:
        count = 4
    else:
        return 0
    if not 0 < value <= 60:
        return 0
    return r.once("ta_g_per_l", value, at, count)


def _not_measured(r: Reader, at: int, count: int, value: float) -> int:
    r.ask(at, count, f"Not measured? Kept as a note: write “ph {value:g}” or “{value:g}c” for a reading.")
    return r.keep(at, count)


def bound(r: Reader, at: int) -> int:
    """Keep a number as a note that is only a bound: "under 3.5", "below 20c", "less than 4 brix"."""
    value = r.number(at)
    if value is None or r.word(at - 1) not in BOUNDS or r.word(at + 1) in {*TIMES, "/"}:
        return 0
    return _not_measured(r, at, 1, value)


def aim(r: Reader, at: int) -> int:
    """Keep a number as a note that is still to come: "goal 3.2", "target ph of 3.2"."""
    place = _after_about(r, at + 1) if r.word(at) == "ph" else at
    value = r.number(place)
    if value is None or not AIMS & set(r.words[max(0, at - AIM_NEAR) : at]) or r.word(place + 1) in TIMES:
        return 0
    return _not_measured(r, at, place + 1 - at, value)


def _numbers_a_thing(r: Reader, at: int) -> bool:
    """Return whether a whole number only numbers the thing named before it: batch 12, photo 4."""
    before = r.word(at - 1)
    if at == 0 or r.taken[at - 1] or not before.isalpha() or before in ROOMS | ABOUT | FILLERS or r.word(at + 1) in {"ph", "by", "on"}:
        return False
    return phrase_at(r.words, at - 1) is None and spelt(before) == before


def bare(r: Reader, at: int) -> int:
    """Read a number without a unit by where it lies."""
    value = r.number(at)
    if value is None or r.words[at][0] in "+-":
        return 0
    if (r.word(at + 1) in TIMES and r.number(at + 2) is None) or r.word(at - 1) in {"day", "d"}:
        return r.keep(at, 2 if r.word(at + 1) in TIMES else 1)  # "3 weeks old", "day 8" are no pH
    if r.word(at + 1) in OTHER_UNITS:
        return r.keep(at, 2)
    if {"fridge", "freezer", "heater", "thermostat"} & {r.word(at - 1), r.word(at - 2), r.word(at - 3)}:
        return r.keep(at, 1)  # "heater is at 25"
    if r.word(at - 1) in MARKED and "." not in r.words[at]:
        return r.keep(at, 1)  # "sweet 2, sour 8"
    if r.word(at - 1) in NUMBERED and "." not in r.words[at] and r.word(at + 1) != "ph" and len(r.out.vessels) != 1:
        r.ask(at - 1, 2, f"No brew stands in one of that name: kept as a note. Write “ph {value:g}” for a pH.")
        return r.keep(at - 1, 2)
    if r.word(at + 1) == "/":
        return r.keep(at, 3)  # "2/3 full"
    if "." not in r.words[at] and _numbers_a_thing(r, at):
        r.ask(at, 1, f"{value:g} of what? Kept as a note: write “ph {value:g}” or “{value:g}c”.")
        return r.keep(at, 1)
    if any(r.word(place) == "day" and r.number(place + 1) is not None for place in (at + 2, at - 2, at - 3)):
        r.ask(at, 1, "Taken as today’s: write the date of an earlier one.")  # "3.6 on day 5", "day 5 3.6"
    if PH_SURE[0] <= value <= PH_SURE[1]:
        after = r.word(at + 1)
        if r.out.ph is None and value == int(value) and "." not in r.words[at] and after != "ph":
            if after.endswith("s") and after.isalpha() and after not in {"strips", "is", "was", "smells", "tastes", "looks"}:
                r.ask(at, 1, f"{value:g} of what? Kept as a note: write “ph {value:g}” for a pH.")
                return r.keep(at, 1)
            r.ask(at, 1, f"Taken as pH {value:g}.")
        return r.once("ph", value, at, 1 + (after == "ph"))
    if r.word(at + 1) == "ph" and 0 <= value <= 14 and r.number(at + 2) is None:
        return r.once("ph", value, at, 2)
    if PH_WITHOUT_POINT[0] <= value <= PH_WITHOUT_POINT[1] and not (r.context.us and value >= F_SURE[0]):
        r.ask(at, 1, f"pH {value / 10:g} or {value:g} °C? Kept as a note: write “ph {value / 10:g}” or “{value:g}c”.")
        return r.keep(at, 1)
    low, high = F_SURE if r.context.us else C_SURE
    if low <= value <= high:
        return r.once("celsius", _in_c(value, "f" if r.context.us else "c"), at, 1)
    if r.context.us and C_SURE[0] <= value < F_SURE[0]:
        r.ask(at, 1, f"Too cold for °F: taken as {value:g} °C.")
        return r.once("celsius", value, at, 1)
    if not r.context.us and C_SURE[1] < value <= F_SURE[1]:
        r.ask(at, 1, f"Too warm for °C: taken as {value:g} °F.")
        return r.once("celsius", _in_c(value, "f"), at, 1)
    r.ask(at, 1, f"{value:g} of what? Kept as a note: write “ph {value:g}”, “{value:g} brix” or “{value:g}c”.")
    return 0
