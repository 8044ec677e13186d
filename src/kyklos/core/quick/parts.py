"""Several things told in one line: each is read by itself, where each says by itself what was done and to what.

    line = clause { ("," | ";" | " / " | "and" | "then") clause }

"Drank 2 damson, chilled 3 quince" is two deeds; "opened one damson, flat" and "bottled 4 damson and 2 plain" are one.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator
from dataclasses import dataclass

from .line import LONGEST, understand
from .said import ON_BOTTLES, Context, DeedKind, Quick
from .words import FILLERS, NO_NAME, near_name, tokens

_BETWEEN = re.compile(r"(?:\s+/\s+|\s*[,;]\s*)(?:(?:and|then)\s+)*|\s+(?:and\s+then|and|then)\s+", re.IGNORECASE)
_ALONE = (ON_BOTTLES - {DeedKind.SAID}) | {DeedKind.FED}  #: Deeds that are about no jar that brews.


@dataclass(frozen=True, slots=True)
class _Clause:
    """A piece of a line, and what it tells by itself."""

    start: int
    end: int
    own: bool  #: A deed on bottles or a hotel.
    jar: int | None  #: The brew it tells something of.

    def is_apart_from(self, before: _Clause) -> bool:
        """Return whether it tells another thing than what stands before it."""
        if self.own:
            return before.own or before.jar is not None
        return self.jar is not None and (before.own or before.jar not in {None, self.jar})


def _of_its_own(quick: Quick) -> bool:
    """Return whether a clause tells a deed on bottles or a hotel, and on which."""
    deed = quick.deed
    return deed is not None and deed.kind in _ALONE and bool(deed.things or deed.whole)


def _of_a_jar(quick: Quick) -> bool:
    """Return whether a clause names one jar and tells something of it."""
    told = quick.measured or quick.looked or quick.tastes or quick.amounts or quick.deed is not None
    return len(quick.vessels) == 1 and bool(told) and (quick.deed is None or quick.deed.kind not in _ALONE)


def _clauses(line: str, context: Context) -> Iterator[tuple[int, int]]:
    """Give where each clause begins and ends."""
    start = 0
    for found in _BETWEEN.finditer(line):
        yield from _jar_by_jar(line, start, found.start(), context)
        start = found.end()
    yield from _jar_by_jar(line, start, len(line), context)


def _jar_by_jar(line: str, start: int, end: int, context: Context) -> Iterator[tuple[int, int]]:
    """Give a clause, or its parts where it names one jar after another, each before its number: "jar one 3.5 jar two 3.3"."""
    parts = tokens(line[start:end])
    words = [part.word for part in parts]
    begins = dict[int, int]()  # where a name stands, and where it ends
    named = set[int]()
    for at, word in enumerate(words):
        length, found = next(((n, one) for n in (3, 2, 1) if len(one := near_name(words[at : at + n], context.vessels)) == 1), (0, []))
        if found and found[0].key not in named and word.isalpha() and word not in NO_NAME | FILLERS:
            begins[at], named = at + length, named | {found[0].key}
    reaches = zip(begins.values(), [*list(begins)[1:], len(words)], strict=True)
    if len(begins) < 2 or not all(any(word[0].isdigit() for word in words[after:until]) for after, until in reaches):
        yield start, end
        return
    cuts = [start, *(start + parts[at].start for at in list(begins)[1:]), end]
    yield from itertools.pairwise(cuts)


def parts_of(line: str, context: Context) -> tuple[str, ...]:
    """Cut a line into what it tells by itself; a line that tells one thing is one part.

    Args:
        line: As typed.
        context: As `line.py: understand` takes it.
    """
    clauses, out = list(_clauses(line[:LONGEST], context)), list[_Clause]()
    if len(clauses) == 1:
        return (line,)
    for start, end in clauses:
        quick = understand(line[start:end], context)
        one = _Clause(start, end, _of_its_own(quick), quick.vessels[0].key if _of_a_jar(quick) else None)
        if out and not one.is_apart_from(out[-1]):
            before = out[-1]
            out[-1] = _Clause(before.start, end, before.own or one.own, one.jar if before.jar is None else before.jar)
        else:
            out.append(one)
    return tuple(line[one.start : one.end] for one in out)
