"""What a wise brewer with the same knowledge would do now in the practice kitchen, and why; and what a season teaches at its end."""

from __future__ import annotations

from dataclasses import dataclass
from types import MappingProxyType

from ..base import limit
from ..base.facts import BOTTLES
from ..bottles.bottle import TARGETS
from ..forecast.answer import carried, forecast
from ..judging.observations import DISCARD, HOLD
from . import harvest
from .knowing import TASTER, ask_of
from .moves import WAIT, foretold, warm_racks
from .season import BOTTLE, PlayedSeason, verdict_of
from .world import COLD_DAYS

LOOK = "l"  #: As `moves.py` has it.
LOOKS_EVERY = 2  #: [d]
MEASURES_ON = (4, 7)  #: Days of a brew.
TASTES_FROM, TASTES_EVERY = 1.0, 2  #: So long before it may be right; not more often than every other day. [d]
COOL_C, WARM_C = 20.5, 27.0  #: Below, the mat helps; from here on it goes off. [degC]
FIZZ = "lively"
MANY_DRY = 45  #: Days with nothing to drink, beyond what one jar cannot help (assumed). [d]


@dataclass(frozen=True, slots=True)
class Counsel:
    """What to do, and why."""

    letter: str
    why: str


def pauses(season: PlayedSeason) -> bool:
    """Return whether there is something to decide today: something came, or a wise brewer would do something."""
    return season.over or (bool(season.happened) and season.happened[-1][0] == season.day) or counsel(season).letter not in {WAIT, LOOK}


def counsel(season: PlayedSeason) -> Counsel:
    """Return what a wise brewer would do now: safety first, then what is known too little, then the glass."""
    for ask in (_jar_empty, _seen, _bottles, _friend, _warmth, _unseen, _unmeasured, _ripe):
        found = ask(season)
        if found is not None:
            return found
    return Counsel(WAIT, "Nothing is to be done today.")


def _jar_empty(season: PlayedSeason) -> Counsel | None:
    return Counsel("b", "The jar is empty, and starter is there.") if season.jar is None else None


def _seen(season: PlayedSeason) -> Counsel | None:
    verdict, jar = verdict_of(season), season.jar
    if verdict is None or jar is None:
        return None
    if verdict.word == DISCARD:
        return Counsel("x", verdict.reasons[0].sentence)
    if jar.looks and jar.looks[-1].surface == "film-yeast" and jar.looks[-1].day == jar.day(season.day) and "k" not in season.done:
        return Counsel("k", "Film yeast: skimmed off early it does no harm.")
    return None


def _bottles(season: PlayedSeason) -> Counsel | None:
    for rack in warm_racks(season)[:1]:
        future, day = foretold(season, rack), season.day - rack.filled
        if future.chill_by_day is not None and day + 1 > future.chill_by_day:
            return Counsel("c", f"By tomorrow the band comes near what the bottles hold ({BOTTLES[BOTTLE].limit_bar:g} bar).")
        if future.volumes_at(day) >= TARGETS[FIZZ]:
            return Counsel("c", "They are lively by now: the cold keeps them so.")
    return None


def _friend(season: PlayedSeason) -> Counsel | None:
    verdict, jar = verdict_of(season), season.jar
    held = verdict is not None and verdict.word in {HOLD, DISCARD}
    if season.friend_waits and jar is not None and jar.day(season.day) > 5 and not held and _fresh_look(season):
        return Counsel("g", "The disc is sound: one to give away.")
    return None


def _warmth(season: PlayedSeason) -> Counsel | None:
    cold_ahead = season.world.cold_from - 1 <= season.day < season.world.cold_from + COLD_DAYS  # it was said the day before
    if "w" in season.done:
        return None
    if not season.mat and (season.room_c < COOL_C or cold_ahead):
        return Counsel("w", "Cool: below 20 degrees it hardly works, and mould has time.")
    if season.mat and season.jar_c >= WARM_C:
        return Counsel("w", "Warm enough without the mat.")
    return None


def _fresh_look(season: PlayedSeason) -> bool:
    jar = season.jar
    return jar is not None and bool(jar.looks) and jar.day(season.day) - jar.looks[-1].day < LOOKS_EVERY


def _unseen(season: PlayedSeason) -> Counsel | None:
    jar = season.jar
    if jar is not None and jar.day(season.day) >= 2 and not _fresh_look(season):
        return Counsel(LOOK, "Nobody has looked for two days.")
    return None


def _unmeasured(season: PlayedSeason) -> Counsel | None:
    jar = season.jar
    if jar is None:
        return None
    day, last = jar.day(season.day), max((reading.day for reading in jar.readings), default=-1.0)
    due = [on for on in MEASURES_ON if on <= day and last < on]
    low = bool(jar.readings) and jar.readings[-1].ph <= limit("safe_ph") and jar.readings[-1].day > 1
    if due and not (low and due[-1] != MEASURES_ON[0]):
        return Counsel("m", f"By day 7 it is to be at or below pH {limit('safe_ph'):g}: measure.")
    return None


def _ripe(season: PlayedSeason) -> Counsel | None:
    ask, jar = ask_of(season), season.jar
    if ask is None or jar is None:
        return None
    day, window = jar.day(season.day), forecast(ask).ready[TASTER]
    if day < 3 or window.p10 is None or day < window.p10 - TASTES_FROM:
        return None
    weighed, _, _ = harvest.weigh(carried(ask), day, ask.points[0].ta_g_per_l)
    last = max((at for at, _ in jar.tastes), default=-9.0)
    if day - last >= TASTES_EVERY:
        return Counsel("t", "It may be right about now: a sip tells more than the model knows.")
    verdict = verdict_of(season)
    if verdict is not None and verdict.word == HOLD:
        return None
    if _tastes_right(season) or weighed.wise == harvest.HARVEST:
        if jar.looks[-1:] == () or jar.looks[-1].day < day:
            return Counsel(LOOK, "It is looked at before it is bottled.")
        return Counsel("h", "As near to right as it comes: each day more takes it past.")
    return None


def _tastes_right(season: PlayedSeason) -> bool:
    jar = season.jar
    return jar is not None and bool(jar.tastes) and jar.tastes[-1][0] >= jar.day(season.day) - 1 and jar.tastes[-1][1] >= 0


#: For each way of losing a brew the deck that teaches it, and what there is to learn.
TEACHES = MappingProxyType(
    {
        "too sweet": ("palate", "Bottled too early: it was poured away for its sweetness."),
        "too sour": ("palate", "Waited too long: it was poured away for its sourness."),
        "burst": ("clock", "Bottles were left in the warm until one gave way."),
        "past its limit": ("clock", "Bottles stood too long in the warm to be carried."),
        "mould": ("eye", "Mould comes whoever brews; seen early it costs one jar, not two."),
        "film": ("eye", "Film yeast skimmed on its first day does no harm."),
        "thrown out": ("eye", "A brew was thrown out that the rules would have kept, or that came too late."),
        "unsafe": ("strip", "Something was drunk before it was known to be sour enough."),
        "flat": ("clock", "Bottles went cold before they had their fizz."),
        "dry": ("palate", "There were days with nothing to drink: the brews stood longer than they had to."),
        "guests": ("clock", "Guests went thirsty: bottles take days to get their fizz, and a night to get cold."),
    }
)


@dataclass(frozen=True, slots=True)
class Taught:
    """One thing to learn, and the deck that leads to it."""

    deck: str
    sentence: str
    weight: float


def things_to_learn(season: PlayedSeason, most: int = 3) -> list[Taught]:
    """List what a season teaches, what cost most first.

    Args:
        season: At its end, or before.
        most: So many at most.
    """
    counted, here = season.counted, season.world
    found = dict(counted.lost)
    if counted.above_gate:
        found["unsafe"] = 2.0 * counted.above_gate
    if counted.flat:
        found["flat"] = 0.25 * counted.flat
    if counted.dry_days > MANY_DRY:
        found["dry"] = counted.dry_days / 8
    if season.day > here.guests_day and counted.served < here.guests_l:
        found["guests"] = here.guests_l - counted.served
    out = [Taught(*TEACHES[why], weight) for why, weight in found.items() if why in TEACHES]
    return sorted(out, key=lambda one: -one.weight)[:most]
