"""The quick line: one line of shorthand understood as readings, tastes, looks, a time and a note.

Grammar, in any order, spelling forgiven:

    line  = { vessel | ph | warmth | range | gravity | acidity | tool | taste | look | smell | depth | time | word }
    vessel = words of a vessel's name, or of the line that lives in it       "crock", "jar 2", "bora"
    ph     = ["ph"] number from 2 to 5.5                                     "3.42", "ph 4"
    warmth = number ("c" | "f" | "°" | "deg")                                "24c", "77 f"
    range  = warmth "-" warmth | "low" number "high" number                  "18-24c"
    gravity = number ("brix" | "bx") | ["sg"] number from 0.99 to 1.1        "5.2 brix", "1.021"
    acidity = "ta" number | number "g/l"                                     "ta 4.6"
    tool   = "strip" | "meter" | "uncalibrated" | "hydrometer" | "refractometer"
    taste  = [taster] how sweet or sour                                      "odile a bit sweet"
    took, put = as `quick_amounts.py` has them                               "drank a glass", "added 0.5 l water"
    look, smell, depth = as `data/quick_words.toml` has them
    time   = "yesterday" | weekday | date | clock | "this morning" | number unit "ago"
    word   = anything else: kept as a note, never dropped

What may mean two things is taken one way, and asked about.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from .observations import CARRY_ON, OBSERVATIONS, ORDER
from .quick_amounts import amount_at, past_verb, volume_at
from .quick_said import Context, Doubt, Named, Quick
from .quick_time import When, read_time
from .quick_words import FILLERS, Meaning, Token, phrase_at, same_word, tokens
from .taste import score_word

LONGEST = 300  #: A line is cut here. [characters]
PH_SURE = (2.0, 5.5)  #: A bare number between is a pH. [pH]
C_SURE = (10.0, 45.0)  #: A bare number between is degC where that is used. [degC]
F_SURE = (50.0, 113.0)  #: The same for degF. [degF]
SG = (0.98, 1.1)  #: [-]


class _Reader:
    """Reads one line from left to right; each rule takes what it understands."""

    def __init__(self, line: str, context: Context) -> None:
        self.line, self.context, self.out = line[:LONGEST], context, Quick()
        self.tokens: list[Token] = tokens(self.line)
        self.words = [token.word for token in self.tokens]
        self.taken = [False] * len(self.tokens)
        self.when, self.taster = When(), None
        self.waiting: Named | None = None
        self.kept: set[int] = set()  #: Words that stay a note, whatever else they might mean.

    def word(self, at: int) -> str:
        """Give a word, or nothing past the end."""
        return self.words[at] if 0 <= at < len(self.words) else ""

    def number(self, at: int) -> float | None:
        """Read a number that stands alone; a sign is part of it."""
        return float(self.word(at)) if re.fullmatch(r"[+-]?\d{1,5}(\.\d+)?", self.word(at)) else None

    def said(self, at: int, count: int) -> str:
        """Give a piece of the line as typed."""
        return self.line[self.tokens[at].start : self.tokens[at + count - 1].end]

    def ask(self, at: int, count: int, question: str) -> None:
        """Note a doubt."""
        self.out.doubts.append(Doubt(self.said(at, count), question))

    def once(self, name: str, value: float | str, at: int, count: int) -> int:
        """Set a field that may be said once; a second one is kept as a note, and asked about."""
        if getattr(self.out, name) not in (None, ""):
            self.ask(at, count, "Said twice. The first one counts; this one is kept as a note.")
            return 0
        setattr(self.out, name, value)
        return count

    def run(self) -> Quick:
        """Read all of it."""
        at = 0
        while at < len(self.words):
            found = next((count for rule in RULES if at not in self.kept and (count := rule(self, at))), 0)
            for place in range(at, at + found):
                self.taken[place] = True
            at += found or 1
        self.finish()
        return self.out

    def finish(self) -> None:
        """Settle the time, what measured, and the note."""
        out = self.out
        out.at = self.when.settle(self.context.now)
        if self.when.doubt:
            out.doubts.append(Doubt("the time", self.when.doubt))
        if out.at is not None and out.at > self.context.now:
            out.doubts.append(Doubt("the time", "That lies in the future; kept as now."))
            out.at = None
        self.tasters()
        self.out.read = [(t.start, t.end) for t, taken in zip(self.tokens, self.taken, strict=True) if taken]
        out.note = (out.note + self.rest()).strip()

    def tasters(self) -> None:
        """Give each taste its taster: named before it, named last, or the only one there is."""
        out, known = self.out, self.context.tasters
        if self.waiting is not None:
            if out.tastes and out.tastes[-1][0] is None:
                out.tastes[-1] = (self.waiting, out.tastes[-1][1])
            else:
                out.note = f"{self.waiting.name} "
        nameless = [score for taster, score in out.tastes if taster is None]
        named: list[tuple[Named | None, int]] = [pair for pair in out.tastes if pair[0] is not None]
        spare = nameless if named else nameless[1:]
        if spare:
            out.doubts.append(Doubt("two tastes", "One taster says one thing: the first counts, the other is a note."))
            out.note += "".join(f"{score_word(score)} " for score in spare)
        first = [(known[0] if len(known) == 1 else None, nameless[0])] if nameless and not named else []
        out.tastes = list({(t.key if t else 0): (t, score) for t, score in reversed(first + named)}.values())[::-1]
        if first and first[0][0] is None:
            out.doubts.append(Doubt("the taste", "Who tasted?"))

    def rest(self) -> str:
        """Give what was not understood, word for word; fillers only between two such words."""
        left = [i for i, taken in enumerate(self.taken) if not taken]
        real = [i for i in left if self.words[i] not in FILLERS and not re.fullmatch(r"[.,;:!?/°–-]", self.words[i])]
        if not real:
            return ""
        kept = set(real) | {
            i for i in left if any(i - 1 == r or i + 1 == r for r in real) and real[0] < i <= real[-1] + 1
        }
        pieces, last = [], None
        for i in sorted(kept):
            token = self.tokens[i]
            glue = "" if last is None or (last == i - 1 and self.tokens[last].end == token.start) else " "
            pieces.append(glue + token.text)
            last = i
        return "".join(pieces).strip()


def _amount(r: _Reader, at: int) -> int:
    found, named, length = amount_at(r.words, at), past_verb(r.words, at), 0
    if found is None and named is not None and (length := _vessel(r, named)):
        found = amount_at(
            [*r.words[: at + 1], *r.words[named + length :]], at
        )  # "topped up the crock with 1 l of water"
    if found is not None:
        r.out.amounts.append(found[1])
        return found[0] + ((named or 0) + length - at - 1 if length else 0)
    if length:
        r.out.vessels = ()
    volume = volume_at(r.words, at)
    if volume is None:
        return 0
    r.ask(at, volume[0], "Taken out, or put in? Kept as a note: write “drank” or “added” before it.")
    for place in range(at, at + volume[0]):
        r.kept.add(place)
    return 0


def _time(r: _Reader, at: int) -> int:
    before = r.words[at]
    if before in {"noon", "night", "morning", "evening"} and r.when.clock is not None:
        return 0
    return read_time(r.words, at, r.when, r.context.now, r.context.us)


def _names(named: Named) -> list[list[str]]:
    return [re.findall(r"[^\W_]+", name.lower()) for name in (named.name, *named.also)]


def _fitting(run: Sequence[str], among: Sequence[Named]) -> list[Named]:
    """List what a run of words may name: each word stands for one of its name's; an exact name wins."""
    exact = [n for n in among if any(len(words) == len(run) and all(map(same_word, run, words)) for words in _names(n))]
    if exact:
        return exact
    return [
        n
        for n in among
        if any(words and all(any(same_word(w, part) for part in words) for w in run) for words in _names(n))
    ]


def _longest(r: _Reader, at: int, among: Sequence[Named]) -> tuple[int, list[Named]]:
    best: tuple[int, list[Named]] = (0, [])
    for length in range(1, min(4, len(r.words) - at) + 1):
        run = r.words[at : at + length]
        if length > 1 and run[-1] == "the":
            break
        if length == 1 and run[0].replace(".", "").isdigit():
            break
        if not all(word.isalnum() for word in run) or (found := _fitting(run, among)) == []:
            break
        best = length, found
    return best


def _vessel(r: _Reader, at: int) -> int:
    if r.out.vessels:
        return 0
    start = at + 1 if r.word(at) == "the" and at + 1 < len(r.words) else at
    length, found = _longest(r, start, r.context.vessels)
    if not length or (r.words[start] in FILLERS and length == 1):
        return 0
    r.out.vessels = tuple(found)
    if len(found) > 1:
        r.ask(start, length, f"Which one: {' or '.join(n.name for n in found)}?")
    return length + start - at


def _taster(r: _Reader, at: int) -> int:
    length, found = _longest(r, at, r.context.tasters)
    if length == 0:
        return 0
    if len(found) > 1:
        r.ask(at, length, f"Who: {' or '.join(n.name for n in found)}? Kept as a note.")
        return 0
    r.waiting = found[0]
    follow = at + length + (r.word(at + length) in {":", "says", "finds", "thinks"})
    return follow - at


def _ph(r: _Reader, at: int) -> int:
    if r.words[at] != "ph":
        return 0
    skip = 1 + (r.word(at + 1) in {"=", ":", "is", "was", "of"})
    value = r.number(at + skip)
    if value is None:
        return 0
    if not 0 <= value <= 14:
        r.ask(at, skip + 1, "pH runs from 0 to 14. Kept as a note.")
        return 0
    return r.once("ph", value, at, skip + 1)


def _in_c(value: float, unit: str) -> float:
    return (value - 32) / 1.8 if unit == "f" else value


def _unit(r: _Reader, at: int) -> tuple[str, int]:
    """Read a unit of temperature: which, and how many words it took."""
    count = 0
    if r.word(at) in {"°", "deg", "degs", "degrees", "degree"}:
        count += 1
    named = {"c": "c", "f": "f", "celsius": "c", "centigrade": "c", "fahrenheit": "f"}.get(r.word(at + count), "")
    if named:
        return named, count + 1
    return ("f" if r.context.us else "c", count) if count else ("", 0)


def _warmth(r: _Reader, at: int) -> int:
    value = r.number(at)
    if value is None:
        return 0
    unit, count = _unit(r, at + 1)
    if not count:
        return 0
    celsius = _in_c(value, unit)
    if not 0 <= celsius <= 60:
        r.ask(at, count + 1, "No brew is so warm or so cold. Kept as a note.")
        return 0
    return r.once("celsius", celsius, at, count + 1)


def _range(r: _Reader, at: int) -> int:
    """Read 18-24c, 18 to 24 c, low 18 high 24c."""
    low_word = r.word(at) in {"low", "min", "lowest"}
    first = r.number(at + low_word)
    if first is None:
        return 0
    place = at + low_word + 1
    unit_one, used = _unit(r, place)
    place += used
    joined = r.word(place)
    if (low_word and joined in {"high", "max", "highest"}) or (not low_word and joined in {"-", "–", "to"}):
        place += 1
    elif low_word or not re.fullmatch(r"-\d+(\.\d+)?", joined):
        return 0
    second = r.number(place)
    if second is None:
        return 0
    unit_two, used = _unit(r, place + 1)
    if not unit_one and not used and not low_word:
        return 0
    unit = unit_two or unit_one or ("f" if r.context.us else "c")
    ends = sorted(_in_c(abs(value), unit) for value in (first, second))
    if not 0 <= ends[0] <= ends[1] <= 60:
        return 0
    count = place + 1 + used - at
    if r.out.low_c is not None:
        return r.once("low_c", ends[0], at, count)
    r.out.low_c, r.out.high_c = ends
    return count


def _gravity(r: _Reader, at: int) -> int:
    skip = r.word(at) in {"sg", "og", "fg", "gravity"}
    value = r.number(at + skip)
    if value is None:
        return 0
    if r.word(at + 1 + skip) in {"brix", "bx", "brx"} or (r.word(at + 1) == "°" and r.word(at + 2) in {"brix", "bx"}):
        if not 0 <= value <= 35:
            return 0
        count = 2 + skip + (r.word(at + 1) == "°")
        from .sweet_tea import density

        if not r.out.gravity_by:
            r.out.gravity_by = "refractometer"
        return r.once("gravity", round(float(density(value) / density(0)), 4), at, count)
    if SG[0] <= value <= SG[1] and (skip or len(r.word(at)) >= 4):
        return r.once("gravity", value, at, 1 + skip)
    if skip and 980 <= value <= 1100:
        return r.once("gravity", value / 1000, at, 2)
    return 0


def _acidity(r: _Reader, at: int) -> int:
    if r.word(at) in {"ta", "acidity"} and (value := r.number(at + 1)) is not None:
        count = 2 + (3 if r.words[at + 2 : at + 5] == ["g", "/", "l"] else 0)
    elif (value := r.number(at)) is not None and r.words[at + 1 : at + 4] == ["g", "/", "l"]:
        count = 4
    else:
        return 0
    if not 0 < value <= 60:
        return 0
    return r.once("ta_g_per_l", value, at, count)


def _bare(r: _Reader, at: int) -> int:
    """Read a number without a unit by where it lies."""
    value = r.number(at)
    if value is None or r.words[at][0] in "+-":
        return 0
    if PH_SURE[0] <= value <= PH_SURE[1]:
        after = r.word(at + 1)
        if r.out.ph is None and value == int(value) and "." not in r.words[at] and after != "ph":
            r.ask(at, 1, f"Taken as pH {value:g}.")
        return r.once("ph", value, at, 1 + (after == "ph"))
    if r.word(at + 1) == "ph" and 0 <= value <= 14:
        return r.once("ph", value, at, 2)
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


def _taste_number(r: _Reader, at: int) -> int:
    if r.word(at) not in {"taste", "score"} or (value := r.number(at + 1)) is None or value not in range(-3, 4):
        return 0
    _add_taste(r, int(value))
    return 2


def _add_taste(r: _Reader, score: int) -> None:
    r.out.tastes.append((r.waiting, score))
    r.waiting = None


def _graver(key: str, before: str) -> bool:
    return not before or ORDER.index(OBSERVATIONS[key].verdict) > ORDER.index(OBSERVATIONS[before].verdict)


def _seen(r: _Reader, meaning: Meaning) -> None:
    """Keep what was seen or smelled; of two surfaces or smells the graver one counts."""
    out, key = r.out, meaning.key
    if meaning.group == "sign":
        out.signs += [key] if key not in out.signs else []
    elif _graver(key, before := getattr(out, meaning.group)):
        setattr(out, meaning.group, key)
        if before and _graver(key, before) and OBSERVATIONS[before].verdict != CARRY_ON:
            out.doubts.append(Doubt(OBSERVATIONS[before].name, "Two things at once: the graver one counts."))


def _tool(r: _Reader, key: str) -> None:
    if key in {"hydrometer", "refractometer"}:
        r.out.gravity_by = key
    elif not r.out.instrument or key == "uncalibrated":
        r.out.instrument = key


def _phrase(r: _Reader, at: int) -> int:
    found = phrase_at(r.words, at)
    if found is None:
        return 0
    count, meaning, mended = found
    if meaning.group == "note":
        return 0
    if meaning.group == "taste":
        _add_taste(r, int(meaning.key))
    elif meaning.group == "instrument":
        _tool(r, meaning.key)
    elif meaning.group == "depth":
        if not r.once("depth", meaning.key, at, count):
            return 0
    else:
        _seen(r, meaning)
    if meaning.doubt:
        r.ask(at, count, meaning.doubt)
    elif mended and meaning.group in {"surface", "smell"}:
        r.ask(at, count, f"Read as “{OBSERVATIONS[meaning.key].name.lower()}”.")
    return count


RULES: tuple[Callable[[_Reader, int], int], ...] = (
    _vessel,
    _amount,
    _range,
    _warmth,
    _gravity,
    _acidity,
    _ph,
    _time,
    _taste_number,
    _phrase,
    _taster,
    _bare,
)


def understand(line: str, context: Context) -> Quick:
    """Understand a line. Any text is understood somehow; what is not, is its note.

    Args:
        line: As typed.
        context: Vessels, tasters, the time, the units.
    """
    return _Reader(line, context).run()
