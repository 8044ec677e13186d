"""Phrases of deeds: what was done, and how a bottle hissed, as `base/data/quick_deeds.toml` has them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cache
from types import MappingProxyType

from ..base.facts import entries_of

FRIDGE = {"fridge", "refrigerator", "icebox", "cold"}
OUT_OF = {"out", "from", "off"}
OUTSIDE = {"behind", "beside", "under", "on", "near"}  #: Before a fridge: not in it.
ALL = {"all", "every", "everything", "both", "rest", "bottles"}
ASIDE = {"set aside", "put aside", "put by", "reserved"}  #: So starter is kept, named or not.
BOTTLE_WORDS = {"bottle", "bottles", "bottled"}
ONE = {"a", "an", "another", "last", "first"}
STAYED = {"leave", "left", "leaving", "except"}  #: Some stayed where they were.
WHEN = {"them", "it", "these", "those", "pet", "pets", "plastic", "tester", "testers", "today", "yesterday", "tonight", "now", "again", "last", "this", "with", "at", "for", "from", "and", "after", "before", "in", "on"}  #: After "opened" these name no other thing.
TO_PLACE = {"to", "on", "onto", "in", "into", "at", "beside", "by", "next", "near", "nearer", "under", "the"}
NO_COUNT = {"days", "day", "weeks", "week", "h", "hours", "hour", "am", "pm", "min", "minutes", "months", "month", "ago"}


@cache
def _phrases(group: str) -> Mapping[tuple[str, ...], tuple[str, ...]]:
    """Phrases of a table, each with all that it may mean."""
    out: dict[tuple[str, ...], tuple[str, ...]] = {}
    for key, texts in entries_of("quick_deeds")[group].items():
        for text in texts:
            words = tuple(text.split())
            out[words] = (*out.get(words, ()), key)
    return MappingProxyType(out)


def phrase_of(group: str, words: Sequence[str], at: int) -> tuple[int, tuple[str, ...]]:
    """Find the longest phrase of a table that begins at a word: its length and meanings."""
    table = _phrases(group)
    for length in range(min(5, len(words) - at), 0, -1):
        if (found := table.get(tuple(words[at : at + length]))) is not None:
            return length, found
    return 0, ()
