"""Lessons that come back where they apply: proposed from what happened more than once, kept or dismissed by a person.

What happened is told as facts; each rule gives a sentence, where it applies, and the things it rests on. A proposal has a key by which it
is known again: what was dismissed does not come back.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, field, fields
from datetime import date
from enum import StrEnum

LEAST_TIMES = 2  #: Once is chance.
HALF = 0.5  #: At least this share of the last times. [-]
LATELY = 4  #: Of a thing's last times, so many are looked at.
SLOW_PH = 0.1  #: So far above what was foretold, on the mean, a brew was slow (assumed). [pH]
LIKED, NOT_LIKED = 4.5, 2.0  #: Mean of 1 to 5.
MOST_SHOWN = 2  #: More than two are not read.
MOST_PROPOSED = 4  #: At most a few a month.
SEASONS = ("winter", "spring", "summer", "autumn")
GUSHED, FLAT = 4, 0  #: As a bottle sounded when it was opened.


class LessonStands(StrEnum):
    """What became of a lesson."""

    KEPT = "kept"
    DISMISSED = "dismissed"
    OVER = "over"


def season_of(day: date, *, southern: bool = False) -> str:
    """Return the season of a day.

    >>> season_of(date(2027, 2, 18)), season_of(date(2027, 2, 18), southern=True)
    ('winter', 'summer')
    """
    return SEASONS[((day.month % 12) // 3 + 2 * southern) % 4]


@dataclass(frozen=True, slots=True, kw_only=True)
class Applies:
    """Where a lesson comes back: all that is given must be so. Empty: anywhere."""

    flavour: str = ""  #: A flavour's name.
    vessel: str = ""
    culture: str = ""
    place: str = ""
    season: str = ""
    tea: str = ""
    sweetener: str = ""
    bottle: str = ""  #: A kind of bottle.
    good: str = ""  #: What is bought.

    @property
    def given(self) -> dict[str, str]:
        """What it asks for."""
        return {name: value for name, value in asdict(self).items() if value}

    @property
    def says(self) -> str:
        """Where it comes back, in words."""
        return ", ".join(self.given.values())


def applies_from(packed: Mapping[str, object]) -> Applies:
    """Read where a lesson applies, as it is kept; what is not known is left out."""
    names = {one.name for one in fields(Applies)}
    return Applies(**{name: str(value) for name, value in packed.items() if name in names})


@dataclass(frozen=True, slots=True, kw_only=True)
class Here:
    """What stands before somebody now: of each, all that it may be."""

    flavour: frozenset[str] = frozenset()
    vessel: frozenset[str] = frozenset()
    culture: frozenset[str] = frozenset()
    place: frozenset[str] = frozenset()
    season: frozenset[str] = frozenset()
    tea: frozenset[str] = frozenset()
    sweetener: frozenset[str] = frozenset()
    bottle: frozenset[str] = frozenset()
    good: frozenset[str] = frozenset()


def telling(applies: Applies, here: Here) -> int | None:
    """Return how much a lesson tells here: of how many things it is about; None: it does not apply.

    >>> telling(Applies(flavour="Damson"), Here(flavour=frozenset({"Damson", "Plain"}))), telling(Applies(vessel="Crock"), Here())
    (1, None)
    """
    wanted = applies.given
    if not wanted or any(value not in getattr(here, name) for name, value in wanted.items()):
        return None
    only_season = set(wanted) == {"season"}
    return 0 if only_season else len(wanted)


@dataclass(frozen=True, slots=True)
class FilledTold:
    """One filling, as it turned out."""

    number: int
    flavour: str
    sounded: tuple[int, ...]  #: Each opened bottle, 0 flat to 4 gushed.
    burst: int = 0


@dataclass(frozen=True, slots=True)
class BrewedTold:
    """One ended brew, as it turned out."""

    number: int
    vessel: str
    place: str
    season: str
    spoiled: bool = False
    above_ph: float | None = None  #: How far its readings lay above what was foretold, on the mean; None: not known. [pH]


@dataclass(frozen=True, slots=True)
class LikedTold:
    """What was said of a flavour."""

    flavour: str
    number: int  #: Of the filling.
    taster: str
    liked: int  #: 1 to 5.


@dataclass(frozen=True, slots=True)
class RanOutTold:
    """A good that was used up."""

    number: int  #: Of the count.
    good: str
    day: date


@dataclass(frozen=True, slots=True, kw_only=True)
class Happenings:
    """What happened, the oldest first."""

    fillings: Sequence[FilledTold] = ()
    brews: Sequence[BrewedTold] = ()
    liked: Sequence[LikedTold] = ()
    ran_out: Sequence[RanOutTold] = ()


LOOKED_AT = 3  #: At most this many pieces of evidence for a lesson are linked.


@dataclass(frozen=True, slots=True)
class LessonProposal:
    """A lesson that happened, to be kept or not."""

    key: str
    text: str
    because: str
    applies: Applies
    evidence: tuple[tuple[str, int], ...] = field(default=())

    @property
    def to_look_at(self) -> tuple[tuple[str, int], ...]:
        """The latest of its evidence that has a page: however often it happened, a few are enough to look at."""
        return tuple(one for one in self.evidence if one[0] != "cupboard_count")[-LOOKED_AT:]


def proposals(happened: Happenings, known: Iterable[str] = ()) -> list[LessonProposal]:
    """Propose lessons from what happened, the gravest first.

    Args:
        happened: What happened.
        known: Keys of what was kept or dismissed.
    """
    found = [*_spoiled(happened.brews), *_gushed(happened.fillings), *_slow(happened.brews), *_ran_out(happened.ran_out), *_flat(happened.fillings), *_liked(happened.liked)]
    left = set(known)
    return [one for one in found if one.key not in left][:MOST_PROPOSED]


def _by_flavour(fillings: Sequence[FilledTold]) -> dict[str, list[FilledTold]]:
    out: dict[str, list[FilledTold]] = defaultdict(list)
    for one in fillings:
        if one.sounded or one.burst:
            out[one.flavour].append(one)
    return {name: rows[-LATELY:] for name, rows in out.items()}


def _times(count: int, of: int) -> str:
    return f"{('once', 'twice')[count - 1] if count <= 2 else f'{count} times'} of the last {of}" if of > 1 else "the only time"


def _gushed(fillings: Sequence[FilledTold]) -> list[LessonProposal]:
    out = []
    for name, rows in _by_flavour(fillings).items():
        wild = [one for one in rows if one.burst or (one.sounded and max(one.sounded) >= GUSHED)]
        if wild and (len(wild) >= LEAST_TIMES or len(rows) == 1) and len(wild) >= HALF * len(rows):
            burst = any(one.burst for one in wild)
            because = f"It {'burst or gushed' if burst else 'gushed'}, {_times(len(wild), len(rows))}."
            out.append(LessonProposal(f"gushed:{name}", f"Chill {name.lower()} sooner, with less sugar.", because, Applies(flavour=name), tuple(("bottling", one.number) for one in wild)))
    return out


def _flat(fillings: Sequence[FilledTold]) -> list[LessonProposal]:
    out = []
    for name, rows in _by_flavour(fillings).items():
        flat = [one for one in rows if one.sounded and max(one.sounded) == FLAT]
        if len(flat) >= LEAST_TIMES and len(flat) >= HALF * len(rows):
            out.append(LessonProposal(f"flat:{name}", f"Leave {name.lower()} warm a day longer, or prime it.", f"It was flat {_times(len(flat), len(rows))}.", Applies(flavour=name), tuple(("bottling", one.number) for one in flat)))
    return out


def _spoiled(brews: Sequence[BrewedTold]) -> list[LessonProposal]:
    out, places = [], defaultdict(list)
    for one in brews:
        if one.spoiled:
            places[one.place].append(one)
    for place, rows in places.items():
        if len(rows) >= LEAST_TIMES and place:
            text = f"{place}: more starter and a warmer start, or another shelf."
            out.append(LessonProposal(f"spoiled:{place}", text, f"{len(rows)} brews spoiled there.", Applies(place=place), tuple(("brew", one.number) for one in rows)))
    return out


def _slow(brews: Sequence[BrewedTold]) -> list[LessonProposal]:
    out, spots = [], defaultdict(list)
    for one in brews:
        if one.above_ph is not None and one.place:
            spots[one.place, one.season].append(one)
    for (place, season), every in spots.items():
        rows = every[-LATELY:]
        slow = [one for one in rows if (one.above_ph or 0.0) > SLOW_PH]
        if len(slow) >= LEAST_TIMES and len(slow) > HALF * len(rows):
            text = f"{place} in {season}: it sours slower than foretold. Taste a day later."
            out.append(LessonProposal(f"slow:{place}:{season}", text, f"Slower {_times(len(slow), len(rows))}.", Applies(place=place, season=season), tuple(("brew", one.number) for one in slow)))
    return out


def _ran_out(rows: Sequence[RanOutTold]) -> list[LessonProposal]:
    last = {one.good: one for one in rows}
    return [
        LessonProposal(f"ran-out:{good}:{one.day:%Y-%m}", f"Keep a spare pack of {good.lower()}.", f"It was used up in {one.day:%B}.", Applies(good=good), (("cupboard_count", one.number),))
        for good, one in last.items()
    ]


def _liked(rows: Sequence[LikedTold]) -> list[LessonProposal]:
    out, flavours = [], defaultdict(list)
    for one in rows:
        flavours[one.flavour].append(one)
    for name, said in flavours.items():
        mean, tasters = sum(one.liked for one in said) / len(said), {one.taster for one in said}
        evidence = tuple(dict.fromkeys(("bottling", one.number) for one in said))
        scores = ", ".join(str(one.liked) for one in said[-LATELY:])
        if len(said) >= LEAST_TIMES and len(tasters) >= LEAST_TIMES and mean >= LIKED:
            out.append(LessonProposal(f"liked:{name}", f"{name}: make it again, just so.", f"Scores {scores} of 5.", Applies(flavour=name), evidence))
        elif len(said) >= LEAST_TIMES and mean <= NOT_LIKED:
            out.append(LessonProposal(f"not-liked:{name}", f"{name}: change it, or leave it.", f"Scores {scores} of 5.", Applies(flavour=name), evidence))
    return out
