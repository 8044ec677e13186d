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

from ..judging import OBSERVATIONS
from ..judging.observations import CARRY_ON, ORDER
from ..liquid.taste import score_word
from . import beside, numbers
from .amounts import PUT, TOOK, QuickAmount, amount_at, past_verb, source_at, volume_at
from .openings import ASKING, Leads, Opening, has_a_colour, turns_a_heater
from .reader import LONGEST, Reader, Rule
from .said import Context, Named, Quick, QuickDoubt
from .time import UNITS as TIMES
from .time import read_time
from .words import FILLERS, NO_NAME, Meaning, exact_name, near_name, phrase_at

__all__ = ["LONGEST", "understand"]

SEEN = {"surface", "sign", "smell"}
VERB_NEAR = 3  #: "gave maria a jug": so many words back a verb still counts.


def _amount(r: Reader, at: int) -> int:
    found, named, length = amount_at(r.words, at), past_verb(r.words, at), 0
    if found is None and named is not None and (length := _vessel(r, named)):
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
    sign = r.word(at)[:1] if r.word(at)[:1] in {"+", "-"} else ""
    volume = volume_at([*r.words[:at], r.words[at].lstrip("+-"), *r.words[at + 1 :]], at)
    if volume is None:
        return 0
    if (beside.NEW | beside.TITRATED) & set(r.words) or r.word(at + volume[0]) in beside.DRY:
        return r.keep(at, volume[0])
    if r.word(at + volume[0]) in beside.VESSELS or (r.word(at - 3) == "between" and r.word(at - 1) == "and"):  # "a 4 gallon jar": how large it is
        first = at - 2 if r.word(at - 1) in {"and", "to", "or"} and r.number(at - 2) is not None else at
        if first < at and r.out.ph == r.number(first):
            r.out.ph, r.out.doubts = None, [doubt for doubt in r.out.doubts if doubt.text != r.word(first)]
        return r.keep(first, at + volume[0] + 1 - first)
    source = source_at(r.words, at + volume[0])
    if source is not None and sign != "-":
        if not sign:
            r.ask(at, volume[0] + source[0], "Put in? Taken so.")
        r.out.amounts.append(QuickAmount(source[1], volume[1], put=True))
        return volume[0] + source[0]
    if sign == "-":
        r.out.amounts.append(QuickAmount("drunk", volume[1], put=False))
        return volume[0]
    if r.word(at - 1) == "in" and "out" in r.words[:at]:  # "out 2 litres, in 2 litres"
        r.out.amounts.append(QuickAmount("sweet tea", volume[1], put=True))
        return volume[0]
    found = next((word for word in reversed(r.words[max(0, at - VERB_NEAR) : at]) if word in TOOK), None)
    if found is None and "starter" in r.words:
        r.ask(at, volume[0], "Starter that you saved? Kept as a note: write “set aside” before it.")
        return r.keep(at, volume[0])
    if found is None:
        r.ask(at, volume[0], "Taken out of it to drink? Taken so: write “added” or “spilt” before it for something else.")
    elif any(word in PUT for word in r.words[max(0, at - VERB_NEAR) : at]):
        return r.keep(at, volume[0])
    r.out.amounts.append(QuickAmount(TOOK[found] if found else "drunk", volume[1], put=False))
    return volume[0]


def _reminder(r: Reader, at: int) -> int:
    """Keep what is still to be done, or is asked, as a note: it is no reading, and its day is to come."""
    if at or r.word(0) not in beside.TO_DO:
        return 0
    if r.word(0) in ASKING and any((found := phrase_at(r.words, place)) is not None and found[1].group in SEEN for place in range(len(r.words))):
        return 0  # "is this mould?": the guided look answers
    next((place for place in range(len(r.words)) if _vessel(r, place)), None)
    return r.keep(0, len(r.words))


def _heater(r: Reader, at: int) -> int:
    """Keep the degrees to which a heater is set as a note."""
    return r.keep(at, 1) if r.number(at) is not None and turns_a_heater(r.words) else 0


def _time(r: Reader, at: int) -> int:
    before = r.words[at]
    if before == "at" and r.word(at - 1) in beside.STOOD:
        return 0  # "sat at 17": how warm
    if before in {"noon", "night", "morning", "evening"} and r.when.clock is not None:
        return 0
    return read_time(r.words, at, r.when, r.context.now, r.context.us)


def _longest(r: Reader, at: int, among: tuple[Named, ...]) -> tuple[int, list[Named]]:
    best: tuple[int, list[Named]] = (0, [])
    for length in range(1, min(4, len(r.words) - at) + 1):
        run = r.words[at : at + length]
        if length > 1 and run[-1] == "the":
            break
        if length == 1 and (run[0].replace(".", "").isdigit() or run[0] in NO_NAME):
            break
        if not all(word.isalnum() for word in run) or (found := near_name(run, among)) == []:
            break
        best = length, found
    return best


def _bare_vessel(r: Reader, at: int) -> int:
    """Read the whole name of a vessel in which nothing brews."""
    for length in range(min(4, len(r.words) - at), 0, -1):
        found = exact_name(r.words[at : at + length], r.context.empties)
        if found and not exact_name(r.words[at : at + length], r.context.vessels):
            r.out.bare = found[0]
            return length
    return 0


def _vessel(r: Reader, at: int) -> int:
    if len(r.out.vessels) > 1:
        return _which_of_them(r, at)
    if r.out.vessels or r.out.bare is not None:
        return 0
    start = at + 1 if r.word(at) == "the" and at + 1 < len(r.words) else at
    length, found = _longest(r, start, r.context.vessels)
    if not length or (r.words[start] in FILLERS and length == 1):
        return 0
    r.out.vessels = tuple(found)
    if len(found) > 1:
        r.ask(start, length, f"Which one: {' or '.join(n.name for n in found)}?")
    return length + start - at


def _which_of_them(r: Reader, at: int) -> int:
    """Read a second name that says which of several vessels is meant: "bora crock"."""
    length, found = _longest(r, at, r.out.vessels)
    if not length or len(found) == len(r.out.vessels) or r.words[at] in FILLERS:
        return 0
    r.out.vessels = tuple(found)
    r.out.doubts = [doubt for doubt in r.out.doubts if not doubt.question.startswith("Which one")]
    if len(found) > 1:
        r.ask(at, length, f"Which one: {' or '.join(n.name for n in found)}?")
    return length


def _taster(r: Reader, at: int) -> int:
    """Read who tasted: named before a taste or after it, alone or with others."""
    if r.word(at) in {"both", "everyone", "everybody", "we"} and len(r.context.tasters) > 1:
        length, found = 1, list(r.context.tasters)
        said = phrase_at(r.words, _past_saying(r, at + 1))
        if (said is None and r.word(at) != "both") or (said is not None and said[1].group != "taste") or r.word(at + 1) in beside.SMELLING:
            return 0
        r.waiting = tuple(found)
        return _past_saying(r, at + 1) - at
    length, found = _longest(r, at, r.context.tasters)
    if length == 0:
        return 0
    if len(found) > 1:
        r.ask(at, length, f"Who: {' or '.join(n.name for n in found)}? Kept as a note.")
        return 0
    last = r.out.tastes[-1] if r.out.tastes else None
    if last is not None and last[0] is None and r.word(at - 1) in {"for", "says", "said", "to", "by"}:
        r.out.tastes[-1] = (found[0], last[1])
        r.taken[at - 1] = True
        return length
    if r.waiting and r.word(at - 1) in {"and", "&", "+"}:
        r.waiting = (*r.waiting, found[0])
    else:
        r.out.note += "".join(f"{who.name} " for who in r.waiting)
        r.waiting = (found[0],)
    if r.word(at + length) in {"both", "all"}:
        return length + 1
    return _past_saying(r, at + length) - at


def _past_saying(r: Reader, at: int) -> int:
    """Step over "says it's", if a taste follows."""
    end = at
    while r.word(end) in beside.SAYING | {"both", "all"}:
        end += 1
    return end if end == at or phrase_at(r.words, end) is not None else at + (r.word(at) in {":", "says"})


def _score(r: Reader, at: int) -> int:
    """Read a taste from -3 to 3 behind a taster's name."""
    value = r.number(at)
    if not r.waiting or value is None or value not in range(-3, 4) or "." in r.word(at) or r.word(at + 1) in TIMES:
        return 0
    if volume_at(r.words, at) is not None or phrase_at(r.words, at + 1) is not None:
        return 0
    r.ask(at, 1, f"Taken as a taste: {score_word(int(value))}, from -3 (much too sweet) to 3 (much too sour).")
    _add_taste(r, int(value))
    return 1


def _taste_number(r: Reader, at: int) -> int:
    if r.word(at) not in {"taste", "score"} or (value := r.number(at + 1)) is None or value not in range(-3, 4):
        return 0
    _add_taste(r, int(value))
    return 2


def _add_taste(r: Reader, score: int) -> None:
    r.out.tastes += [(who, score) for who in r.waiting] or [(None, score)]
    r.waiting = ()


def _graver(key: str, before: str) -> bool:
    return not before or ORDER.index(OBSERVATIONS[key].verdict) > ORDER.index(OBSERVATIONS[before].verdict)


def _seen(r: Reader, meaning: Meaning) -> None:
    """Keep what was seen or smelled; of two surfaces or smells the graver one counts."""
    out, key = r.out, meaning.key
    if meaning.group == "sign":
        out.signs += [key] if key not in out.signs else []
    elif _graver(key, before := getattr(out, meaning.group)):
        setattr(out, meaning.group, key)
        if before and _graver(key, before) and OBSERVATIONS[before].verdict != CARRY_ON:
            out.doubts.append(QuickDoubt(OBSERVATIONS[before].name, "Two things at once: the graver one counts."))


def _tool(r: Reader, key: str) -> None:
    if key in {"hydrometer", "refractometer"}:
        r.out.gravity_by = key
    elif not r.out.instrument or key == "uncalibrated":
        r.out.instrument = key


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


def _smell(r: Reader, at: int) -> int:
    """Read a smell: what follows is no taste, and a smell that is not known stays a note."""
    if r.word(at + 1) == "smell" and (found := phrase_at(["smells", "of", r.word(at)], 0)) is not None and found[0] == 3 and found[1].group == "smell":
        _seen(r, found[1])
        return 2
    if r.word(at) not in beside.SMELLING or phrase_at(r.words, at) is not None:
        return 0
    end = at + 1
    while r.word(end) in beside.SMELL_LIKE:
        end += 1
    for before in (["smells", "of"], ["smells"]):
        found = phrase_at([*before, *r.words[end : end + 4]], 0)
        if found is not None and found[0] > len(before) and found[1].group == "smell":
            _seen(r, found[1])
            return end + found[0] - len(before) - at
    meant = phrase_at(r.words, end)
    return r.keep(at, end - at + (meant[0] if meant is not None else 1))


def _is_a_thing(r: Reader, meaning: Meaning, at: int, count: int) -> bool:
    """Return whether words that may say a taste or a look name a thing here: the old disc that left, vinegar poured out, good bubbles."""
    words = set(r.words)
    if meaning.group == "surface" and meaning.key == "disc":
        taken = r.word(at + count) in {"moved", "went", "put"} or bool(beside.TAKEN_OUT & set(r.words[max(0, at - VERB_NEAR) : at]))
        return taken or bool(words & beside.LEFT) or (r.word(0) in {"got", "received"} and "from" in words)
    if meaning.group == "taste" and r.word(at) == "vinegar":
        return bool(words & (beside.USED | beside.SPLASH))
    if meaning.group == "taste" and count == 1 and r.word(at) in beside.GOOD | {"nicely"}:
        if r.word(at) == "nicely" or r.word(at - 1).startswith(("bubbl", "fizz", "ferment")):
            return True
        if beside.SMELLING & set(r.words[:at]) and not words & {"taste", "tastes", "tasted"}:
            return True  # a lovely smell
        after = phrase_at(r.words, at + 1)
        return r.word(at + 1).startswith(("bubbl", "fizz", "film", "disc", "scoby")) or (after is not None and after[1].group in {"sign", "surface"})
    return False


def _phrase(r: Reader, at: int) -> int:
    found = phrase_at(r.words, at)
    if found is None:
        return 0
    count, meaning, mended = found
    if meaning.group == "surface" and meaning.key == "disc" and not r.out.surface and has_a_colour(r.words, beside.NOT):
        r.out.leads = Leads(Opening.LOOK)
        return r.keep(at, count)
    if meaning.group == "note" or _is_a_thing(r, meaning, at, count):
        return r.keep(at, count)
    if mended and meaning.key in OBSERVATIONS and OBSERVATIONS[meaning.key].verdict != CARRY_ON:
        r.ask(at, count, f"“{OBSERVATIONS[meaning.key].name}”? Kept as a note: what only resembles it is not taken for it.")
        if meaning.group == "surface":
            r.out.leads = Leads(Opening.LOOK)
        return r.keep(at, count)
    if meaning.group == "taste":
        _add_taste(r, int(meaning.key))
    elif meaning.group == "instrument":
        _tool(r, meaning.key)
    elif meaning.group == "depth":
        if not r.once("depth", meaning.key, at, count):
            return 0
        r.depth_at = range(at, at + count)
    else:
        _seen(r, meaning)
    if meaning.doubt:
        r.ask(at, count, meaning.doubt)
    elif mended and meaning.group in {"surface", "smell"}:
        r.ask(at, count, f"Read as “{OBSERVATIONS[meaning.key].name.lower()}”.")
    elif r.word(at + count) == "?" and meaning.group in {"surface", "sign", "smell"}:
        r.ask(at, count, "Not sure? The guided look helps: compare the drawings.")
    return count


def _another_jar(r: Reader, at: int) -> int:
    """Ask about a second vessel: what is told is written to the first alone."""
    if len(r.out.vessels) != 1 or r.word(at - 1) not in {"and", "&", "+", ","}:
        return 0
    for length in range(min(4, len(r.words) - at), 0, -1):
        named = exact_name(r.words[at : at + length], r.context.vessels)
        if len(named) == 1 and named[0].key != r.out.vessels[0].key:
            r.ask(at, length, f"Two jars at once: this is kept for {r.out.vessels[0].name} alone. Write a line for each.")
            return r.keep(at, length)
    return 0


ON_BOTTLES: tuple[Rule, ...] = (_time,)
BESIDE: tuple[Rule, ...] = (_vessel, _time, numbers.warmth, numbers.ph)
RULES: tuple[Rule, ...] = (
    _bare_vessel,
    _reminder,
    _heater,
    _denied,
    _another_jar,
    _vessel,
    _amount,
    numbers.spoken_ph,
    numbers.ph_then_and_now,
    numbers.ph_range,
    numbers.warmth_range,
    numbers.warmth,
    numbers.gravity,
    numbers.acidity,
    numbers.ph,
    _time,
    _taste_number,
    _score,
    _smell,
    _phrase,
    _taster,
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
