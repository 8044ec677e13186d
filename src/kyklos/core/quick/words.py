"""The quick line's vocabulary: phrases, numbers in words, and forgiveness for spelling."""

from __future__ import annotations

import difflib
import itertools
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache
from types import MappingProxyType
from typing import Protocol, TypeVar

from ..base.facts import entries_of
from ..bottles.ingredients import INGREDIENTS

LEAST_FORGIVEN = 4  #: Shorter words must be spelt as they are. [letters]
NEARNESS = 0.8  #: Of a misspelt word to the one meant. [-]
NUMBERS = MappingProxyType(
    {
        "one": "1", "two": "2", "three": "3", "four": "4", "five": "5", "six": "6", "seven": "7", "eight": "8",
        "nine": "9", "ten": "10", "eleven": "11", "twelve": "12",
    }
)
SOFT = ("bit", "a bit", "touch", "a touch", "tad", "a tad", "little", "a little", "shade", "a shade", "slightly", "somewhat", "kind of", "kinda", "just a bit", "just a touch")
TASTED = MappingProxyType({"-1": ("sweet", "sugary"), "1": ("sour", "tart", "sharp", "acidic", "tangy")})  #: Each as a score when softened.
NO_NAME = frozenset({*NUMBERS, "rock", "rocks"})  #: "one" alone is a count, not the jar of that name; hard as a rock is no crock.
WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
MONTH_NAMES = ("january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november", "december")
MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
FILLERS = frozenset((
    "is", "was", "are", "at", "and", "the", "of", "a", "an", "with", "it", "its", "by", "in", "on", "to", "from",
    "now", "about", "measured", "reads", "read", "tastes", "taste", "ph", "around", "roughly", "approx",
    "approximately", "still", "it's", "this", "that", "so", "just", "maybe", "ca",
))  # fmt: skip


@dataclass(frozen=True, slots=True)
class Token:
    """A word or number with where it stands in the line."""

    text: str  #: As typed.
    word: str  #: Lower case, comma as point.
    start: int
    end: int


HALF_WORDS = MappingProxyType({"half": 0.5, "quarter": 0.25})
FRACTIONS = MappingProxyType({"½": 0.5, "¼": 0.25, "¾": 0.75, "⅓": 1 / 3, "⅔": 2 / 3})
NUMBERED = frozenset({"jar", "jars", "no"})  #: Before a half cup the number behind these is part of a name.
_TOKEN = re.compile(
    r"\d{4}-\d{2}-\d{2}|\d{1,2}:\d{2}|[+-]?\d+(?:[.,·]{1,2}\d+)?|(?<![^\s+-])[.]\d+|->|[^\W\d_]+(?:['’][^\W\d_]+)*|°|[^\s]", re.UNICODE
)


def tokens(line: str) -> list[Token]:
    """Cut a line into words, numbers and signs; nothing but blanks is left out."""
    out = []
    for found in _TOKEN.finditer(line):
        word = found.group().lower()
        if re.fullmatch(r"[+-]?\d*[.,·]{1,2}\d+", word):
            word = re.sub(r"^[.]", "0.", re.sub(r"[.,·]+", ".", word))
        out.append(Token(found.group(), word, found.start(), found.end()))
    return list(_joined(line, out))


def _joined(line: str, parts: Sequence[Token]) -> Iterator[Token]:
    """Make one number of its parts: 3 1/2, 3½, three and a half, three point two five."""
    at = 0
    while at < len(parts):
        found = _of_parts([part.word for part in parts[at : at + 5]])
        length, value = found if found is not None else (1, 0.0)
        after = parts[at + length].word if at + length < len(parts) else ""
        if at and parts[at - 1].word in NUMBERED and after.isalpha() and after not in FILLERS:
            found, length = None, 1  # "jar 2 1/2 cup of tea"
        first, last = parts[at], parts[at + length - 1]
        yield Token(line[first.start : last.end], f"{value:.4g}", first.start, last.end) if found is not None else first
        at += length


def _of_parts(words: Sequence[str]) -> tuple[int, float] | None:
    """Return how many words a number of several parts takes, and its value; None: no such number begins here."""
    whole = NUMBERS.get(words[0], words[0])
    if not re.fullmatch(r"\d|1[0-2]", whole):
        return None
    if words[1:2] and (share := FRACTIONS.get(words[1])) is not None:
        return 2, float(whole) + share
    if len(words) >= 4 and words[2] == "/" and (words[1], words[3]) in {("1", "2"), ("1", "4"), ("3", "4"), ("1", "3"), ("2", "3")}:
        return 4, float(whole) + float(words[1]) / float(words[3])
    if list(words[1:3]) == ["and", "a"] and words[3:4] and (share := HALF_WORDS.get(words[3])) is not None:
        return 4, float(whole) + share
    if words[1:2] != ["point"]:
        return None
    digits = ""
    for word in words[2:4]:
        digit = NUMBERS.get(word, word)
        if not digit.isdigit() or len(digits + digit) > 2:
            break
        digits += digit
    return (2 + (len(digits) if words[2] in NUMBERS else 1), float(f"{whole}.{digits}")) if digits else None


@dataclass(frozen=True, slots=True)
class Meaning:
    """What a phrase stands for."""

    group: str  #: surface, sign, smell, taste, instrument, depth or note
    key: str
    doubt: str = ""


@cache
def phrases() -> Mapping[tuple[str, ...], Meaning]:
    """All phrases by their words."""
    table = entries_of("quick_words")
    doubts = table["doubt"]
    out: dict[tuple[str, ...], Meaning] = {}
    for group, keys in table.items():
        if group == "doubt":
            continue
        for key, texts in keys.items():
            for text in texts:
                out[tuple(text.split())] = Meaning(group, key, str(doubts.get(text, "")))
    for soft, too, (score, adjectives) in itertools.product(SOFT, ("", " too"), TASTED.items()):
        for adjective in adjectives:
            out.setdefault((*soft.split(), *too.split(), adjective), Meaning("taste", score))
    return MappingProxyType(out)


@cache
def _by_length() -> Mapping[int, Mapping[tuple[str, ...], Meaning]]:
    out: dict[int, dict[tuple[str, ...], Meaning]] = {}
    for words, meaning in phrases().items():
        out.setdefault(len(words), {})[words] = meaning
    return MappingProxyType(out)


@cache
def _words() -> tuple[str, ...]:
    return tuple(sorted({word for words in phrases() for word in words if len(word) >= LEAST_FORGIVEN}))


@cache
def _plain() -> frozenset[str]:
    """Everyday words that are what they say, and no other word misspelt."""
    return frozenset(entries_of("quick_plain")["plain"]["words"].split())


@cache
def spelt(word: str) -> str:
    """Return the word of the vocabulary that was meant, or the word itself.

    >>> spelt("srtip"), spelt("bubles"), spelt("feels")
    ('strip', 'bubbles', 'feels')
    """
    known = _words()
    if len(word) < LEAST_FORGIVEN or word in known or word in FILLERS or word in _plain() or not word.isalpha():
        return word
    near = difflib.get_close_matches(word, known, 1, NEARNESS)
    return near[0] if near else word


def phrase_at(words: Sequence[str], at: int) -> tuple[int, Meaning, bool] | None:
    """Find the longest phrase that begins at a word: its length, meaning, and whether the spelling was forgiven."""
    lengths = _by_length()
    for length in sorted(lengths, reverse=True):
        piece = tuple(words[at : at + length])
        if len(piece) < length:
            continue
        if (meaning := lengths[length].get(piece)) is not None:
            return length, meaning, False
        mended = tuple(spelt(word) for word in piece)
        if mended != piece and (meaning := lengths[length].get(mended)) is not None:
            return length, meaning, True
    return None


def _single(word: str) -> str:
    """Return one of many: plums, cherries."""
    return f"{word[:-3]}y" if word.endswith("ies") else word.removesuffix("s")


def owner(word: str) -> str:
    """Return whose something is: jar one's is of jar one."""
    return word.removesuffix("'s").removesuffix("’s")


@lru_cache(maxsize=8192)
def same_word(typed: str, meant: str) -> bool:
    """Return whether a typed word stands for a word of a name, misspelt or as a number.

    >>> same_word("2", "two"), same_word("crok", "crock"), same_word("jar", "tall")
    (True, True, False)
    """
    typed = owner(typed)
    a, b = NUMBERS.get(typed, typed), NUMBERS.get(meant, meant)
    if a == b or _single(a) == _single(b):
        return True
    if min(len(a), len(b)) < LEAST_FORGIVEN or a in _plain():
        return False
    return difflib.SequenceMatcher(None, a, b).ratio() >= NEARNESS


def _names(name: str, also: Sequence[str]) -> list[list[str]]:
    return [re.findall(r"[^\W_]+", text.lower()) for text in (name, *also)]


class HasName(Protocol):
    """Something that can be named."""

    @property
    def name(self) -> str:
        """Its name."""

    @property
    def also(self) -> tuple[str, ...]:
        """Other names."""


T = TypeVar("T", bound=HasName)


def exact_name(run: Sequence[str], among: Sequence[T]) -> list[T]:
    """List what a run of words names wholly."""

    def exact(one: T) -> bool:
        return any(len(words) == len(run) and all(map(same_word, run, words)) for words in _names(one.name, one.also))

    return [one for one in among if exact(one)]


def near_name(run: Sequence[str], among: Sequence[T]) -> list[T]:
    """List what a run of words may name: each word stands for one of its name's; an exact name wins."""

    def fits(one: T) -> bool:
        every = _names(one.name, one.also)
        return any(words and all(any(same_word(w, part) for part in words) for w in run) for words in every)

    if len({NUMBERS.get(word, word) for word in run}) < len(run):
        return []  # "jar two 2 days ago"
    return exact_name(run, among) or [one for one in among if fits(one)]


def is_room_again(words: Sequence[str], at: int) -> bool:
    """Return whether a word says that something stands warm again: room temperature, back out on the counter."""
    if words[at] == "counter":
        return bool({"back", "out"} & set(words[max(0, at - 4) : at]))
    return words[at] == "room" and at + 1 < len(words) and words[at + 1].startswith("temp")


def flavour_at(words: Sequence[str], at: int) -> tuple[int, str] | None:
    """Find a flavour of the data that begins at a word: its length and key."""
    for length in (2, 1):
        run = list(words[at : at + length])
        if len(run) < length:
            continue
        for key, entry in INGREDIENTS.items():
            name = re.findall(r"[^\W_]+", entry.name.lower())
            if run in (key.split("-"), name) or run == [f"{key}s"]:
                return length, key
        for key, entry in INGREDIENTS.items():
            name = re.findall(r"[^\W_]+", entry.name.lower())
            if run in (name[:1], name[1:]) or (length == 1 and run[0] in entry.was):
                return length, key
    return None
