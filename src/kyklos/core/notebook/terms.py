"""What is searched for: words with the others that mean the same, one wrong letter forgiven, and a span of days in plain words."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache
from types import MappingProxyType

from ..base.facts import entries_of
from .days import DaySpan, span_said

LONGEST = 120  #: Letters that are searched for.
MOST_WORDS = 8
LEAST_FORGIVEN = 4  #: Shorter words must be spelt as they are. [letters]
SMALL = frozenset(("a", "an", "the", "of", "in", "on", "at", "to", "it", "is", "was", "were", "that", "which", "we", "i", "my", "our", "and", "with", "for", "from", "did", "do", "what", "when", "where", "who", "ago"))


def plain(text: str) -> str:
    """Return text in small letters without accents.

    >>> plain("Crème Brûlée")
    'creme brulee'
    """
    return "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))


@cache
def _same() -> Mapping[str, tuple[str, ...]]:
    rows: Sequence[Sequence[str]] = entries_of("search_words")["same"]  # type: ignore[assignment]
    return MappingProxyType({word: tuple(other for other in row if other != word) for row in rows for word in row})


def alike(word: str) -> tuple[str, ...]:
    """List the field's other words for one thing, whatever its ending.

    >>> "gusher" in alike("volcano"), alike("table")
    (True, ())
    """
    return _same().get(word) or _same().get(word.removesuffix("s")) or _same().get(f"{word}s") or ()


@dataclass(frozen=True, slots=True)
class Sought:
    """What somebody searches for."""

    words: tuple[tuple[str, ...], ...]  #: Each word typed, with the others that mean the same; the typed one first.
    span: DaySpan | None = None  #: Days it lies in.
    open_end: bool = False  #: The last word may go on.

    @property
    def also(self) -> tuple[str, ...]:
        """Words that are looked for besides those typed."""
        return tuple(dict.fromkeys(other for group in self.words for other in group[1:]))


def sought(typed: str, today: date) -> Sought:
    """Read what is searched for.

    Args:
        typed: As typed; a question mark before it is no word.
        today: The household's day.

    >>> sought("damson gushed last winter", date(2027, 2, 18)).words[0]
    ('damson', 'plum')
    """
    text = plain(typed[:LONGEST].lstrip("? "))
    span, text = span_said(text, today)
    found = re.findall(r"[^\W_]+", text)
    words = [word for word in found if word not in SMALL][:MOST_WORDS] or found[:MOST_WORDS]
    return Sought(tuple((word, *alike(word)) for word in words), span, bool(words) and not typed.endswith(" "))


def near(word: str, known: Collection[str]) -> list[str]:
    """List known words that are one wrong, missing, doubled or swapped letter away.

    >>> near("damsom", ["damson", "dams", "samson"])
    ['damson']
    """
    if len(word) < LEAST_FORGIVEN:
        return []
    return sorted(other for other in known if abs(len(other) - len(word)) <= 1 and other != word and _one_off(word, other))


def _one_off(a: str, b: str) -> bool:
    """Return whether one letter was put in, left out, changed, or two were swapped."""
    if len(a) > len(b):
        a, b = b, a
    start = next((i for i, (x, y) in enumerate(zip(a, b, strict=False)) if x != y), len(a))
    rest_a, rest_b = a[start:], b[start:]
    if len(a) < len(b):
        return rest_a == rest_b[1:]
    swapped = len(rest_a) >= 2 and rest_a[0] == rest_b[1] and rest_a[1] == rest_b[0] and rest_a[2:] == rest_b[2:]
    return rest_a[1:] == rest_b[1:] or swapped
