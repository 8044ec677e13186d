"""Tastes in a quick line: who tasted, and how sweet or sour it was."""

from __future__ import annotations

from ..liquid.taste import score_word
from . import beside
from .amounts import volume_at
from .names import longest
from .reader import Reader
from .time import UNITS as TIMES
from .words import phrase_at


def taster(r: Reader, at: int) -> int:
    """Read who tasted: named before a taste or after it, alone or with others."""
    if r.word(at) in {"both", "everyone", "everybody", "we"} and len(r.context.tasters) > 1:
        if "." in r.word(at + 1):
            return 0  # "both 3.4": two jars
        length, found = 1, list(r.context.tasters)
        if r.word(at - 1) == "for" and r.out.tastes and r.out.tastes[-1][0] is None:  # "perfect for both"
            score = r.out.tastes.pop()[1]
            r.out.tastes += [(who, score) for who in found]
            r.taken[at - 1] = True
            return length
        said = phrase_at(r.words, _past_saying(r, at + 1))
        if (said is None and r.word(at) != "both") or (said is not None and said[1].group != "taste") or r.word(at + 1) in beside.SMELLING:
            return 0
        r.waiting = tuple(found)
        return _past_saying(r, at + 1) - at
    length, found = longest(r, at, r.context.tasters)
    if length == 0:
        return 0
    if len(found) > 1:
        r.ask(at, length, f"Who: {' or '.join(n.name for n in found)}? Kept as a note.")
        return 0
    last = r.out.tastes[-1] if r.out.tastes else None
    if last is not None and last[0] is None and r.word(at - 1) in {"for", "says", "said", "to", "by"}:
        r.out.tastes[-1] = (found[0], last[1])
        r.taken[at - 1] = True
        r.given_to = at + length
        return length
    said = phrase_at(r.words, _past_saying(r, at + length))
    if last is not None and r.given_to and r.given_to == at - 1 and r.word(at - 1) in {"and", "&"} and (said is None or said[1].group != "taste"):
        r.out.tastes.append((found[0], last[1]))  # "perfect for odile and bram"
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


def score(r: Reader, at: int) -> int:
    """Read a taste from -3 to 3 behind a taster's name."""
    value = r.number(at)
    if not r.waiting or value is None or value not in range(-3, 4) or "." in r.word(at) or r.word(at + 1) in TIMES:
        return 0
    if volume_at(r.words, at) is not None or phrase_at(r.words, at + 1) is not None:
        return 0
    r.ask(at, 1, f"Taken as a taste: {score_word(int(value))}, from -3 (much too sweet) to 3 (much too sour).")
    add_taste(r, int(value))
    return 1


def taste_number(r: Reader, at: int) -> int:
    """Read "taste 1"."""
    if r.word(at) not in {"taste", "score"} or (value := r.number(at + 1)) is None or value not in range(-3, 4):
        return 0
    add_taste(r, int(value))
    return 2


def add_taste(r: Reader, score: int) -> None:
    """Keep a taste for those who were named before it, or for one still to be named."""
    r.out.tastes += [(who, score) for who in r.waiting] or [(None, score)]
    r.waiting = ()


def is_for_a_taster(r: Reader, at: int) -> bool:
    """Return whether a word is what a taster said: one named before it, or after "for"."""
    return bool(r.waiting) or (r.word(at + 1) == "for" and (r.word(at + 2) == "both" or bool(longest(r, at + 2, r.context.tasters)[0])))
