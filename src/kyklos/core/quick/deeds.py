"""What a quick line tells that was done: bottles opened, burped, chilled, a harvest, starter kept, a hotel fed, a move.

    deed   = verb [count | "all" | "the last"] bottles [hiss] | bottles "in the fridge" | bottles words
           | "bottled" [count] [flavour] { count flavour } [vessel]
           | "saved" amount "starter" [vessel] | "fed" hotel amount | "moved" vessel "to" place
    hiss, verb = as `data/quick_deeds.toml` has them

One clause tells one deed (`parts.py`). Where a line is about bottles, nothing in it is a reading, taste or look of a jar.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..bottles.heard import LOUDEST
from .amounts import volume_at
from .beside import BUFFERS
from .deed_words import (
    ALL,
    ASIDE,
    BOTTLE_WORDS,
    FRIDGE,
    NO_COUNT,
    ONE,
    OUT_OF,
    OUTSIDE,
    STAYED,
    TO_PLACE,
    WHEN,
    phrase_of,
)
from .openings import CLEANED
from .said import Context, Deed, DeedKind, Named, NamedShelf
from .words import FILLERS, NO_NAME, NUMBERED, NUMBERS, flavour_at, is_room_again, near_name, phrase_at

MANY = 200  #: More bottles than that are a slip. [bottles]


@dataclass(slots=True)
class FoundDeed:
    """A deed, and the words it was read from."""

    deed: Deed
    taken: set[int]


class _Line:
    """The words of a line, and what in them is named."""

    def __init__(self, words: Sequence[str], context: Context) -> None:
        self.words, self.context = words, context
        self.verbs = self._verbs()
        self.vessel = self._named(context.vessels)
        self.hotel = self._named(context.hotels) or self._hotel_word()
        self.shelf = self._named(context.shelves, within=self._of_a_phrase())
        if self.vessel is not None and self.shelf is not None and self.vessel.places < self.shelf.places:
            self.vessel = None  # "plain jun" are bottles, though jun stands in a jar

    def _verbs(self) -> list[tuple[int, int, tuple[str, ...]]]:
        """List verbs: where, how many words, what they may mean."""
        out, at = [], 0
        if "tomorrow" in self.words:
            return []  # what is still to come is not done
        while at < len(self.words):
            length, meanings = phrase_of("verb", self.words, at)
            if length and not (at and self.words[at - 1] in {"not", "never", "no", "to", "should", "will"}):
                out.append((at, length, meanings))
            at += length or 1
        return out

    def verb(self, *kinds: str) -> tuple[int, int] | None:
        """Find where one of some verbs stands, and its length."""
        return next(((at, length) for at, length, meanings in self.verbs if set(meanings) & set(kinds)), None)

    def _named(self, among: Sequence[Named | NamedShelf], within: frozenset[int] = frozenset()) -> _Name | None:
        """Find the first name in a line: where, how many words, and what it may stand for."""
        for at in range(len(self.words)):
            if at in within or self.words[at] in TO_PLACE:
                continue
            best: _Name | None = None
            for length in range(1, min(4, len(self.words) - at) + 1):
                run = self.words[at : at + length]
                if not all(word.isalnum() for word in run) or (length == 1 and run[0] in NO_NAME):
                    break
                if length == 1 and (run[0].isdigit() or run[0] in FILLERS):
                    break
                fits = near_name(run, among)
                if not fits:
                    break
                best = _Name(at, length, tuple(fits))
            if best is not None:
                return best
        return None

    def _of_a_phrase(self) -> frozenset[int]:
        """Words that say how a brew looks, smells or tastes: "smells of apple" names no bottle."""
        out: set[int] = set()
        for at in range(len(self.words)):
            found = phrase_at(self.words, at)
            if found is not None and found[0] > 1:
                out |= set(range(at, at + found[0]))
        return frozenset(out)

    def _hotel_word(self) -> _Name | None:
        at = next((i for i, word in enumerate(self.words) if word == "hotel"), None)
        return None if at is None else _Name(at, 1, tuple(self.context.hotels))

    def number(self, at: int) -> int | None:
        """Read a count of bottles."""
        word = NUMBERS.get(self.words[at], self.words[at]) if 0 <= at < len(self.words) else ""
        if not re.fullmatch(r"\d{1,3}", word) or volume_at(self.words, at) is not None:
            return None
        following = self.words[at + 1] if at + 1 < len(self.words) else ""
        return int(word) if 0 < int(word) <= MANY and following not in NO_COUNT else None


@dataclass(frozen=True, slots=True)
class _Name:
    """A name that stands in a line."""

    at: int
    length: int
    things: tuple[Named | NamedShelf, ...]

    @property
    def places(self) -> set[int]:
        """The words that tell it."""
        return set(range(self.at, self.at + self.length))


def _harvest(line: _Line) -> FoundDeed | None:
    """Read "bottled 6", "filled 3 damson 2 plain", "harvested jar one"."""
    verb = line.verb("bottled") or ((0, 1) if line.words[0] == "bottle" and line.vessel is not None else None)  # "bottle jar one: 6 damson"
    if verb is None:
        return None
    at, length = verb
    if line.words[at] == "filled" and line.vessel is not None and line.vessel.at == _after_little(line, at + length):
        return None  # "filled the crock"
    taken, groups, place = set(range(at, at + length)), [], 0
    while place < len(line.words):
        count = line.number(place)
        if count is None or (place and line.words[place - 1] in NUMBERED) or (line.vessel is not None and place in line.vessel.places):
            place += 1
            continue
        taken.add(place)
        place += 1
        if place < len(line.words) and line.words[place] in BOTTLE_WORDS:
            taken.add(place)
            place += 1
        if place < len(line.words) and line.words[place] in {"of", "with"}:
            place += 1
        flavour = flavour_at(line.words, place)
        if flavour is not None:
            taken |= set(range(place, place + flavour[0]))
            place += flavour[0]
        groups.append((count, flavour[1] if flavour else ""))
    groups = _of_all(groups)
    if not groups and (line.words[at] in {"filled", "bottling"} or line.vessel is None):
        return None
    if line.words[at] in {"harvest", "bottling"} and at and not groups:
        return None
    return FoundDeed(Deed(DeedKind.BOTTLED, groups=tuple(groups)), taken)


def _of_all(groups: list[tuple[int, str]]) -> list[tuple[int, str]]:
    """Take a count of all bottles for what it is: of seven, three with damson, four are plain."""
    rest = groups[0][0] - sum(count for count, _ in groups[1:]) if len(groups) > 1 else -1
    if rest < 0 or groups[0][1] or not all(flavour for _, flavour in groups[1:]):
        return groups
    return [*groups[1:], *([(rest, "")] if rest else [])]


def _after_little(line: _Line, at: int) -> int:
    """Step over little words."""
    while at < len(line.words) and line.words[at] in {"the", "a", "up", "my", "in"}:
        at += 1
    return at


def _reserve(line: _Line) -> FoundDeed | None:
    """Read "saved 500 ml starter from jar one"."""
    verb = line.verb("reserved")
    aside = verb is not None and (" ".join(line.words[verb[0] : verb[0] + verb[1]]) in ASIDE or (line.vessel is not None and {"from", "of"} & set(line.words)))
    if verb is None and "took" in line.words:
        verb = (line.words.index("took"), 1)  # "took 1 cup of starter from jar one"
    if verb is None or ("starter" not in line.words and not aside):
        return None
    for at in range(len(line.words)):
        volume = volume_at(line.words, at)
        if volume is not None:
            taken = set(range(verb[0], verb[0] + verb[1])) | set(range(at, at + volume[0]))
            taken |= {line.words.index("starter")} if "starter" in line.words else set()
            return FoundDeed(Deed(DeedKind.RESERVED, litres=volume[1]), taken)
    return None


def _feed(line: _Line) -> FoundDeed | None:
    """Read "fed the hotel 1 cup", "hotel ph 2.8"; whatever else is said of a hotel has its page."""
    verb = line.verb("fed")
    if line.hotel is None or line.vessel is not None:
        return None
    taken = set(range(verb[0], verb[0] + verb[1])) if verb is not None else set()
    taken |= line.hotel.places
    litres = None
    for at in range(len(line.words)):
        volume = volume_at(line.words, at)
        if volume is not None:
            litres, taken = volume[1], taken | set(range(at, at + volume[0]))
            break
    for at in range(len(line.words) - 1):
        if list(line.words[at : at + 2]) == ["sweet", "tea"]:
            taken |= {at, at + 1}
    taken |= {at for at, word in enumerate(line.words) if word in {"tea", "of", "with", "the"} and at not in taken}
    return FoundDeed(Deed(DeedKind.FED, things=line.hotel.things, litres=litres), taken)


def _any_volume(line: _Line) -> bool:
    return any(volume_at(line.words, at) is not None for at in range(len(line.words)))


def _move(line: _Line) -> FoundDeed | None:
    """Read "moved jar two to the cupboard"."""
    if line.vessel is None or _any_volume(line):
        return None  # "put 1 l of the crock in the fridge"
    behind = line.vessel.at + line.vessel.length
    rest = [word if at >= behind else "" for at, word in enumerate(line.words)]
    for at in range(behind, len(line.words)):
        if rest[at] in TO_PLACE:
            continue
        for length in range(min(4, len(line.words) - at), 0, -1):
            fits = near_name(rest[at : at + length], line.context.places)
            between = set(line.words[behind:at])
            if len(fits) == 1 and between & {"to", "on", "onto", "in", "into"} and (verb := line.verb("moved")):
                taken = set(range(verb[0], verb[0] + verb[1])) | set(range(behind, at + length))
                return FoundDeed(Deed(DeedKind.MOVED, things=tuple(fits)), taken)
    return None


def _count(line: _Line, before: int, after: int) -> tuple[int | None, set[int]]:
    """Read how many bottles, given just before their name, just after it, or after the verb; None: all of them."""
    for at in range(before - 1, max(-1, before - 4), -1):
        if at < 0:
            break
        if (count := line.number(at)) is not None:
            return count, {at}
        if line.words[at] in ONE:
            return 1, {at}
        if line.words[at] in ALL - {"bottles"}:
            return None, {at}
        if line.words[at] not in {"the", "of", "my", "our", "bottle", "bottles", "last"}:
            break
    return (None, set()) if (count := line.number(after)) is None else (count, {after})


def _hiss(line: _Line, taken: set[int]) -> tuple[int | None, set[int]]:
    """Read how it hissed: the longest phrase that is not taken otherwise."""
    best: tuple[int, int, int] | None = None
    for at in range(len(line.words)):
        length, meanings = phrase_of("hiss", line.words, at)
        if length and not taken & set(range(at, at + length)) and (best is None or length > best[1]):
            if at and line.words[at - 1] in {"not", "never", "isn't"}:
                continue
            best = (at, length, int(meanings[0]))
    if best is None:
        return None, set()
    return best[2], set(range(best[0], best[0] + best[1]))


def _kind_on_bottles(line: _Line) -> tuple[DeedKind, set[int]] | None:
    """Return what was done with bottles, and the words that tell it."""
    words = line.words
    cold = next((at for at, word in enumerate(words) if word in FRIDGE and not OUTSIDE & set(words[max(0, at - 2) : at])), None)
    room = next((at for at in range(len(words)) if is_room_again(words, at)), None)
    places = {at + i for at, length, _ in line.verbs for i in range(length)}
    if room is not None and not STAYED & set(words):
        little = {at for at in range(max(0, room - 3), room) if words[at] in {"back", "to", "at", "the", "out", "on"}}
        return DeedKind.WARMED, places | {room, *([room + 1] if words[room] == "room" else ())} | little
    lost = line.verb("lost")
    if cold is not None and lost is None:
        before = set(words[max(0, cold - 3) : cold])
        kind = DeedKind.WARMED if before & OUT_OF else DeedKind.CHILLED
        if STAYED & set(words):
            return None  # "put the damson in the fridge, left one out": how many, is not said
        return kind, places | {cold} | {at for at in range(max(0, cold - 3), cold) if words[at] in TO_PLACE | OUT_OF | {"of"}}
    order = ("lost", "opened", "burped", "squeezed", "chilled", "warmed", "drunk", "given")
    for name in order:
        verb = line.verb(name)
        if verb is not None and words[verb[0]] == "had" and line.shelf is not None and line.shelf.at < verb[0]:
            continue  # "the damson had a nice pop"
        if verb is not None and not (words[verb[0]] == "took" and not ((line.shelf or {"bottle", "bottles"} & set(words)) and "to" in words)):
            return DeedKind(name), set(range(verb[0], verb[0] + verb[1]))
    return None


def _bottles(line: _Line) -> FoundDeed | None:
    """Read what was done with bottles, or is said of them."""
    named = line.shelf
    about = {at for at, word in enumerate(line.words) if word in BOTTLE_WORDS - {"bottled"}}
    found = _kind_on_bottles(line)
    if line.vessel is not None and (found is None or (named is None and not about) or (named and line.vessel.at < named.at)):
        return None
    if line.vessel is not None and named is None and found is not None and found[0] is DeedKind.DRUNK and not _counted(line):
        return None  # "jar one finished, bottle it tomorrow"
    alone = found is not None and found[0] in {DeedKind.OPENED, DeedKind.BURPED, DeedKind.SQUEEZED}
    if named is None and not about and not (alone and _stands_alone(line)):
        return None
    if named is None and set(line.words) & BUFFERS:
        return None  # "buffer 7 opened"
    if found is None and named is None and set(line.words) & (CLEANED | {"bought", "ordered", "need"}):
        return None  # "washed the bottles"
    kind, taken = found if found is not None else (DeedKind.SAID, set())
    if kind in {DeedKind.DRUNK, DeedKind.GIVEN} and (_any_volume(line) or "half" in line.words):
        kind = DeedKind.SAID  # a glass of it, or half: the bottle is not gone
        taken = set()
    at = named.at if named is not None else min(about, default=_after_verb(line))
    count, counted = _count(line, at, max(named.places) + 1 if named is not None else -1)
    spoken = taken | counted | about | (named.places if named is not None else set())
    hiss, hissed = _hiss(line, spoken) if kind in _HEARD else (None, set())
    if count is not None and count > 1 and any(line.words[place - 1] == "one" for place in hissed if place):
        hiss, hissed = None, set()  # "opened 2 damson, one flat"
    if count is None and not counted and kind in _SINGLY:
        count = 1
    things = named.things if named is not None else tuple(line.context.shelves)
    if count is None and named is None and "both" in line.words:
        count = 2
    whole = bool(set(line.words) & ALL) and named is None
    deed = Deed(kind, things=_fitting_state(kind, things), count=count, hiss=hiss, whole=whole and count is None)
    gushed = _gushed(line) if kind is DeedKind.SAID and named is not None else set[int]()
    if gushed:
        opened = replace(deed, kind=DeedKind.OPENED, count=count or 1, hiss=LOUDEST, things=_fitting_state(DeedKind.OPENED, things))
        return FoundDeed(opened, spoken | gushed)
    if kind is DeedKind.SAID:
        return FoundDeed(replace(deed, count=None), about | (named.places if named is not None else set()))
    return FoundDeed(deed, spoken | hissed)


def _stands_alone(line: _Line) -> bool:
    """Return whether "opened one, flat" speaks of bottles though it names none: "opened the window" does not."""
    at = _after_verb(line)
    return at >= len(line.words) or not line.words[at].isalpha() or bool(phrase_of("hiss", line.words, at)[0]) or line.words[at] in WHEN


def _counted(line: _Line) -> bool:
    """Return whether bottles are counted: two bottles, a bottle."""
    return any(line.words[at] in BOTTLE_WORDS and (line.words[at - 1] in ONE or line.number(at - 1) is not None) for at in range(1, len(line.words)))


def _gushed(line: _Line) -> set[int]:
    """Return the words that tell that a bottle gushed, unless they are denied."""
    for at in range(len(line.words)):
        length, meanings = phrase_of("hiss", line.words, at)
        if length and int(meanings[0]) == LOUDEST:
            return set() if at and line.words[at - 1] in {"not", "never", "no", "hasn't", "didn't"} else set(range(at, at + length))
    return set()


_HEARD = {DeedKind.OPENED, DeedKind.BURPED, DeedKind.SQUEEZED}
_SINGLY = {DeedKind.OPENED, DeedKind.DRUNK, DeedKind.GIVEN, DeedKind.LOST}


def _after_verb(line: _Line) -> int:
    verb = line.verb("opened", "burped", "squeezed")
    at = 0 if verb is None else verb[0] + verb[1]
    while at < len(line.words) and (line.number(at) is not None or line.words[at] in ONE | ALL | {"the"}):
        at += 1
    return at


def _fitting_state(kind: DeedKind, things: Sequence[Named | NamedShelf]) -> tuple[Named | NamedShelf, ...]:
    """Leave out fillings of which no bottle can be meant: what is cold already is not chilled."""
    shelves = [thing for thing in things if isinstance(thing, NamedShelf)]
    if kind in {DeedKind.CHILLED, DeedKind.BURPED, DeedKind.SQUEEZED}:
        fitting = [shelf for shelf in shelves if shelf.warm]
    elif kind is DeedKind.WARMED:
        fitting = [shelf for shelf in shelves if shelf.cold]
    else:
        fitting = [shelf for shelf in shelves if shelf.warm or shelf.cold]
    return tuple(fitting or shelves)


def find_deed(words: Sequence[str], context: Context) -> FoundDeed | None:
    """Find what a line tells that was done; None where it tells nothing of the kind.

    Args:
        words: Of the line, lower case.
        context: Vessels, bottles, hotels and places of the household.

    Returns: The deed, and the places of the words it was read from.
    """
    if not words:
        return None
    line = _Line(words, context)
    for read in (_reserve, _feed, _harvest, _move, _bottles):
        found = read(line)
        if found is not None:
            return found
    return None
