"""Names in a quick line: the vessel it is about, and whom or what it may mean."""

from __future__ import annotations

from .reader import Reader
from .said import Named
from .words import FILLERS, NO_NAME, exact_name, near_name, owner


def longest(r: Reader, at: int, among: tuple[Named, ...]) -> tuple[int, list[Named]]:
    """Find the longest name that begins at a word: how many words, and whom or what it may mean."""
    best: tuple[int, list[Named]] = (0, [])
    for length in range(1, min(4, len(r.words) - at) + 1):
        run = r.words[at : at + length]
        if length > 1 and run[-1] == "the":
            break
        if length == 1 and (run[0].replace(".", "").isdigit() or run[0] in NO_NAME):
            break
        if not all(owner(word).isalnum() for word in run) or (found := near_name(run, among)) == []:
            break
        best = length, found
    return best


def bare_vessel(r: Reader, at: int) -> int:
    """Read the whole name of a vessel in which nothing brews."""
    for length in range(min(4, len(r.words) - at), 0, -1):
        found = exact_name(r.words[at : at + length], r.context.empties)
        if found and not exact_name(r.words[at : at + length], r.context.vessels):
            r.out.bare = found[0]
            return length
    return 0


def vessel(r: Reader, at: int) -> int:
    """Read which vessel a line is about."""
    if len(r.out.vessels) > 1:
        return _which_of_them(r, at)
    if r.out.vessels or r.out.bare is not None:
        return 0
    start = at + 1 if r.word(at) == "the" and at + 1 < len(r.words) else at
    length, found = longest(r, start, r.context.vessels)
    if not length or (r.words[start] in FILLERS and length == 1):
        return 0
    r.out.vessels = tuple(found)
    if len(found) > 1:
        r.ask(start, length, f"Which one: {' or '.join(n.name for n in found)}?")
    return length + start - at


def any_vessel(r: Reader) -> bool:
    """Return whether a line names a vessel anywhere."""
    return any(word not in FILLERS and longest(r, at, r.context.vessels)[0] for at, word in enumerate(r.words))


def _which_of_them(r: Reader, at: int) -> int:
    """Read a second name that says which of several vessels is meant: "bora crock"."""
    length, found = longest(r, at, r.out.vessels)
    if not length or len(found) == len(r.out.vessels) or r.words[at] in FILLERS:
        return 0
    r.out.vessels = tuple(found)
    r.out.doubts = [doubt for doubt in r.out.doubts if not doubt.question.startswith("Which one")]
    if len(found) > 1:
        r.ask(at, length, f"Which one: {' or '.join(n.name for n in found)}?")
    return length


def another_jar(r: Reader, at: int) -> int:
    """Ask about a second vessel: what is told is written to the first alone."""
    if len(r.out.vessels) != 1 or r.word(at - 1) not in {"and", "&", "+", ","}:
        return 0
    for length in range(min(4, len(r.words) - at), 0, -1):
        said = r.words[at : at + length]
        named = exact_name(said, r.context.vessels) or (exact_name([r.words[at - 3], *said], r.context.vessels) if length == 1 and at > 2 else [])  # "jar one and two"
        if len(named) == 1 and named[0].key != r.out.vessels[0].key:
            r.ask(at, length, f"Two jars at once: this is kept for {r.out.vessels[0].name} alone. Write a line for each.")
            return r.keep(at, length)
    return 0
