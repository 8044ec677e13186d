"""What can be done in the practice kitchen, letter by letter; what the rules of the house forbid is refused there, too."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from threading import Lock
from types import MappingProxyType

import numpy as np

from ..base import limit
from ..base.errors import KyklosError
from ..base.facts import BOTTLES
from ..bottles.bottle import BottleAsk, BottleForecast, bottle_forecast
from ..bottles.gas import Gas, burp
from ..bottles.ingredients import ADDED_SUCROSE_SHARE
from ..judging.observations import DISCARD, HOLD
from ..judging.safety import PhReading, may_bottle
from ..liquid import Course
from ..liquid.ferment import CO2, MONO, SUCROSE
from ..liquid.taste import TASTE_SD, score, score_word
from .knowing import plain_ask
from .season import (
    BOTTLE,
    BOTTLE_L,
    FRIDGE_C,
    HEADSPACE,
    JAR_L,
    PRIMING_G_PER_L,
    RESERVE_L,
    RETURN_CHANCE,
    Jar,
    PlayedSeason,
    Rack,
    begin,
    brewed,
    facts_of,
    next_day,
    ph_of,
    surface_of,
    ta_of,
    verdict_of,
)

WAIT = "."
MOST_MOVES = 1_500
METER_SD = 0.05  #: [pH]
MOST_PAST = 4  #: So many brews before teach.
SQUEEZE_SD = 0.1  #: What a thumb cannot tell. [volumes]


class RefusedMoveError(KyklosError):
    """The house refuses a move, with the reason."""


@dataclass(frozen=True, slots=True)
class KitchenMove:
    """One thing to do."""

    letter: str
    name: str
    play: Callable[[PlayedSeason], PlayedSeason]
    makes_sense: Callable[[PlayedSeason], bool]


def _jar(season: PlayedSeason) -> Jar:
    if season.jar is None:
        raise RefusedMoveError("The jar is empty.")
    return season.jar


def _jar_stands(season: PlayedSeason) -> bool:
    return season.jar is not None


def _taste(season: PlayedSeason) -> PlayedSeason:
    jar = _jar(season)
    felt = score(ta_of(jar), season.world.point_g_per_l) + season.chance("taste").gauss(0, TASTE_SD)
    value = int(np.clip(round(felt), -3, 3))
    kept = replace(jar, tastes=(*jar.tastes, (float(jar.day(season.day)), value)))
    return replace(season, jar=kept).tell(f"Tasted: {score_word(value)}.")


def _measure(season: PlayedSeason) -> PlayedSeason:
    jar = _jar(season)
    value = round(ph_of(jar) + season.chance("meter").gauss(0, METER_SD), 2)
    kept = replace(jar, readings=(*jar.readings, PhReading(max(0.2, float(jar.day(season.day))), value)))
    return replace(season, jar=kept).tell(f"pH {value:.2f}.")


def _look(season: PlayedSeason) -> PlayedSeason:
    jar = _jar(season)
    seen = surface_of(jar, season.day)
    words = {
        "bare": "Nothing on it yet.", "skin": "A clear film begins.", "disc": "A disc, cream and even.",
        "film-yeast": "A dull film in fine ripples.", "fuzzy": "Fuzzy spots that stand up.",
    }  # fmt: skip
    smell = {"bad": " It smells bad.", "rotten": " It smells of rot."}.get(seen.smell, "")
    return replace(season, jar=replace(jar, looks=(*jar.looks, seen))).tell(words[seen.surface] + smell)


def _skim(season: PlayedSeason) -> PlayedSeason:
    jar = _jar(season)
    back = season.chance("film").random() < RETURN_CHANCE
    kept = replace(jar, film_from=jar.day(season.day) + 3 if back else None)
    return replace(season, jar=kept).tell("Film skimmed off, the cover looked at.")


def _seen_film(season: PlayedSeason) -> bool:
    return season.jar is not None and _looked_today(season) and season.jar.looks[-1].surface == "film-yeast" and "k" not in season.done


def _mat(season: PlayedSeason) -> PlayedSeason:
    return replace(season, mat=not season.mat).tell("The heating mat is off." if season.mat else "The heating mat is on.")


def _harvest(season: PlayedSeason, fizz: bool) -> PlayedSeason:
    season = _look(season) if not _looked_today(season) else season
    verdict, facts, jar = verdict_of(season), facts_of(season), _jar(season)
    if verdict is None or facts is None or not may_bottle(facts, verdict):
        why = verdict.reasons[0].sentence if verdict is not None and verdict.word in {HOLD, DISCARD} else "Its pH is not known to be at or below 4.2."
        raise RefusedMoveError(f"Not to be bottled: {why}")
    count = int((JAR_L - RESERVE_L) / BOTTLE_L)
    rack = _filled(season, count, PRIMING_G_PER_L if fizz else 0.0)
    measured = round(ph_of(jar) + season.chance("starter").gauss(0, METER_SD), 2)
    season = replace(
        _remembered(season), jar=None, racks=(*season.racks, rack), starter_l=RESERVE_L, starter_ph=min(4.0, max(2.4, measured)),
    ).tell(f"{count} bottles filled, {'to stand for fizz' if fizz else 'straight into the fridge'}; the rest kept as starter.")  # fmt: skip
    return brewed(season)


def _looked_today(season: PlayedSeason) -> bool:
    return season.jar is not None and bool(season.jar.looks) and season.jar.looks[-1].day == season.jar.day(season.day)


def _filled(season: PlayedSeason, count: int, sugar: float) -> Rack:
    jar = _jar(season)
    state = np.array(jar.state)
    state[SUCROSE] += ADDED_SUCROSE_SHARE * sugar
    state[MONO] += (1 - ADDED_SUCROSE_SHARE) * sugar
    state[CO2] = 0.0
    return Rack(
        filled=season.day, count=count, state=tuple(float(part) for part in state), start=jar.state, sugar_g_per_l=sugar,
        taste=score(ta_of(jar), season.world.point_g_per_l), above_gate=ph_of(jar) > limit("safe_ph"),
        cold_since=None if sugar else season.day,
    )  # fmt: skip


def _remembered(season: PlayedSeason) -> PlayedSeason:
    """Keep what was read and tasted of a brew: it teaches the next ones."""
    ask = plain_ask(season)
    return season if ask is None else replace(season, past=(*season.past, ask)[-MOST_PAST:])


def _discard(season: PlayedSeason) -> PlayedSeason:
    jar = _jar(season)
    why = {"fuzzy": "mould", "film-yeast": "film"}.get(jar.looks[-1].surface if jar.looks else "", "thrown out")
    counted = season.counted.with_lost(why, JAR_L)
    return replace(_remembered(season), jar=None, counted=counted, starter_l=RESERVE_L, starter_ph=3.2).tell(
        "Brew and disc thrown out, the jar scalded. A fresh starter comes from the hotel."
    )


def _brew(season: PlayedSeason) -> PlayedSeason:
    return brewed(season).tell("A new brew stands.")


def warm_racks(season: PlayedSeason) -> list[Rack]:
    """List bottles that stand in the room, the oldest first."""
    return sorted((rack for rack in season.racks if rack.cold_since is None), key=lambda rack: rack.filled)


def foretold(season: PlayedSeason, rack: Rack) -> BottleForecast:
    """Foretell bottles by what is known of them, as the house does: the warmth they have had, then as it is today."""
    points = tuple((float(day), celsius) for day, celsius in enumerate(rack.temps))
    course = Course(points, FRIDGE_C if rack.cold_since is not None else season.room_c)
    limit_bar = BOTTLES[BOTTLE].limit_bar
    return bottle_forecast(
        BottleAsk(
            start=rack.start, added_sugar_g_per_l=rack.sugar_g_per_l, course=course, headspace_fraction=HEADSPACE, limit_bar=limit_bar,
            days=60, burps=tuple(float(day) for day in rack.burps),
        )
    )  # fmt: skip


def may_be_past(season: PlayedSeason, rack: Rack) -> bool:
    """Return whether bottles in the room may press more than they hold, by what is foretold of them."""
    return foretold(season, rack).at(season.day - rack.filled)[2] >= BOTTLES[BOTTLE].limit_bar


def _with_rack(season: PlayedSeason, old: Rack, new: Rack | None) -> PlayedSeason:
    racks = tuple(one for one in season.racks if one is not old) + ((new,) if new is not None else ())
    return replace(season, racks=tuple(sorted(racks, key=lambda rack: rack.filled)))


def _chill(season: PlayedSeason) -> PlayedSeason:
    rack = warm_racks(season)[0]
    if may_be_past(season, rack):
        counted = season.counted.with_lost("past its limit", rack.litres, unsafe=rack.count if rack.passed else 0)
        return replace(_with_rack(season, rack, None), counted=counted).tell(
            f"{rack.count} bottles may be past their limit: left standing under towels, not carried, not opened."
        )
    carried = replace(season, counted=replace(season.counted, unsafe=season.counted.unsafe + (rack.count if rack.passed else 0)))
    return _with_rack(carried, rack, replace(rack, cold_since=season.day)).tell(f"{rack.count} bottles into the fridge.")


def _squeeze(season: PlayedSeason) -> PlayedSeason:
    rack = warm_racks(season)[0]
    gas = rack.gas + season.chance("squeeze").gauss(0, SQUEEZE_SD)
    word = "soft" if gas < 1.3 else "firm" if gas < 2.0 else "hard" if gas < 2.7 else "like stone"
    return season.tell(f"The tester is {word}.")


def _burp(season: PlayedSeason) -> PlayedSeason:
    rack = warm_racks(season)[0]
    if may_be_past(season, rack):
        raise RefusedMoveError("May be past its limit: not to be opened warm. Towel over it; it stays where it stands.")
    left, day = burp(Gas(rack.gas, rack.air_atm), season.room_c, season.room_c, HEADSPACE), season.day - rack.filled
    burped = replace(
        rack, lost_volumes=rack.lost_volumes + rack.gas - left.co2_volumes, air_atm=left.air_atm, burps=tuple(sorted({*rack.burps, day}))
    )
    return _with_rack(season, rack, burped).tell("Burped: a hiss.")


def _give(season: PlayedSeason) -> PlayedSeason:
    verdict = verdict_of(season)
    if verdict is not None and verdict.word in {HOLD, DISCARD}:
        raise RefusedMoveError(f"Nothing is given away now: {verdict.reasons[0].sentence}")
    return replace(season, gave_disc=True).tell("A disc with its liquid, given to the friend.")


_MOVES = (
    KitchenMove("t", "Taste", _taste, lambda s: _jar_stands(s) and "t" not in s.done),
    KitchenMove("m", "Measure", _measure, lambda s: _jar_stands(s) and "m" not in s.done),
    KitchenMove("l", "Look", _look, lambda s: _jar_stands(s) and not _looked_today(s)),
    KitchenMove("k", "Skim the film", _skim, _seen_film),
    KitchenMove("h", "Bottle for fizz", lambda s: _harvest(s, True), lambda s: s.jar is not None and s.jar.day(s.day) > 0),
    KitchenMove("H", "Bottle it, no fizz", lambda s: _harvest(s, False), lambda s: s.jar is not None and s.jar.day(s.day) > 0),
    KitchenMove("x", "Throw it out", _discard, lambda s: s.jar is not None and s.jar.day(s.day) > 0),
    KitchenMove("b", "Brew", _brew, lambda s: s.jar is None and s.starter_l > 0),
    KitchenMove("w", "Heating mat", _mat, lambda s: True),
    KitchenMove("c", "Chill the bottles", _chill, lambda s: bool(warm_racks(s))),
    KitchenMove("q", "Squeeze the tester", _squeeze, lambda s: bool(warm_racks(s)) and "q" not in s.done),
    KitchenMove("u", "Burp", _burp, lambda s: bool(warm_racks(s)) and "u" not in s.done),
    KitchenMove("g", "Give a disc", _give, lambda s: s.friend_waits and s.jar is not None and s.jar.day(s.day) > 5),
)
MOVES: Mapping[str, KitchenMove] = MappingProxyType({move.letter: move for move in _MOVES})


def offered(season: PlayedSeason) -> list[KitchenMove]:
    """List what makes sense to do now, besides waiting."""
    return [] if season.over else [move for move in _MOVES if move.makes_sense(season)]


def play(season: PlayedSeason, letter: str) -> PlayedSeason:
    """Do one thing, or let a day pass.

    Args:
        season: Where it stands.
        letter: A letter of MOVES, or "." for a day.

    Raises:
        RefusedMoveError: If the rules of the house forbid it, or it makes no sense now.
    """
    if season.over:
        raise RefusedMoveError("The season is over.")
    if letter == WAIT:
        return next_day(season)
    move = MOVES.get(letter)
    if move is None or not move.makes_sense(season):
        raise RefusedMoveError("That is not to be done now.")
    out = move.play(season)
    return replace(out, done=(*season.done, letter))


class SeasonMemory:
    """Where seasons stood after each day, so that the next day goes on from there; the one asked longest ago makes room."""

    def __init__(self, most: int) -> None:
        """Remember so many at most."""
        self._kept: OrderedDict[tuple[int, str], PlayedSeason] = OrderedDict()
        self._lock, self._most = Lock(), most

    def keep(self, seed: int, moves: str, season: PlayedSeason) -> None:
        """Remember where a season stands after what was done."""
        with self._lock:
            self._kept[seed, moves] = season
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)

    def latest(self, seed: int, moves: str) -> tuple[int, PlayedSeason] | None:
        """Return how many of the moves lead to the last place remembered, and where it stood; None: to none."""
        with self._lock:
            known = next((number for number in range(len(moves), -1, -1) if (seed, moves[:number]) in self._kept), None)
            return None if known is None else (known, self._kept[seed, moves[:known]])


_MEMORY = SeasonMemory(most=400)


def after(seed: int, moves: str) -> PlayedSeason:
    """Return where a season stands after what was done; asked again it goes on from where it was.

    Args:
        seed: Of its world.
        moves: Letters of MOVES and "." for each day, in order.

    Raises:
        RefusedMoveError: If one of them was refused.
    """
    known, season = _MEMORY.latest(seed, moves) or (0, begin(seed))
    for number in range(known, len(moves)):
        season = play(season, moves[number])
        if moves[number] == WAIT:
            _MEMORY.keep(seed, moves[: number + 1], season)
    _MEMORY.keep(seed, moves, season)
    return season


def until(moves: str, day: int) -> str:
    """Return what was done before a day began: from there it goes on anew.

    >>> until("t..lh.", 2)
    't..'
    """
    seen = 0
    for number, letter in enumerate(moves):
        if seen == day:
            return moves[:number]
        seen += letter == WAIT
    return moves
