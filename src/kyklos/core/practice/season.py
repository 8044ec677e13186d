"""A season of the practice kitchen: one jar, one shelf of bottles, one who drinks, and a day that passes, by the very core.

All that is hidden follows from the seed; what the player knows are readings, tastes and looks. `moves.py` says what can be done.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from ..base.facts import BOTTLES
from ..bottles.bottle import VOLUMES_AT_FILLING, activity
from ..bottles.gas import CO2_G_PER_VOLUME, Gas, gauge_of
from ..forecast.ask import ForecastAsk
from ..judging.observations import SeenLook
from ..judging.safety import BrewFacts, PhReading, Verdict, judge
from ..liquid import Batch, Kinetics, Recipe
from ..liquid.batch import BatchCourse, carry_on
from ..liquid.ferment import CO2, MONO, STEP_DAYS, SUCROSE, food
from ..liquid.integrator import integrate
from ..liquid.temperature import steady, step_ratios
from .world import DAYS, World, world

Array = NDArray[np.float64]

JAR_L, RESERVE_L = 5.0, 0.6  #: [L]
BOTTLE, BOTTLE_L = "swing-top", 0.5  #: What is filled, and how much goes in. [L]
HEADSPACE = 0.05  #: [-]
PRIMING_G_PER_L = 5.0  #: Added for fizz. [g/L]
FRIDGE_C, CUT_C, MAT_K = 5.0, 14.0, 4.0  #: The fridge; without power; what the heating mat adds. [degC, degC, K]
DRINKS_L = 0.5  #: A day. [L]
SAVES_DAYS = 4  #: So long before guests come, bottles are kept for them; then they are told of. [d]
BURSTS = 1.5  #: Of its limit: then a bottle gives way (assumed). [-]
FLAT_VOLUMES = 1.2  #: Less than this is flat (assumed). [volumes]
LIKED = 2.0  #: A score so far from right is still drunk; beyond, it is poured away (assumed). [steps]
FILM_SMELLS, FILM_ROTS = 3, 6  #: After so many days film yeast that nobody skims smells bad; then of rot, and the brew is lost (assumed). [d]
RETURN_CHANCE = 0.3  #: That film yeast comes back once it was skimmed. [-]


@dataclass(frozen=True, slots=True, kw_only=True)
class Jar:
    """A brew in the jar."""

    number: int
    began: int  #: [d of the season]
    batch: Batch
    state: tuple[float, ...]  #: Hidden. 8 parts, as in `ferment.py`.
    temps: tuple[float, ...] = ()  #: Of each day so far. [degC]
    readings: tuple[PhReading, ...] = ()
    tastes: tuple[tuple[float, int], ...] = ()  #: Day since the pitch, and score.
    looks: tuple[SeenLook, ...] = ()
    film_from: int | None = None  #: Hidden: film yeast shows from this day of the brew on.
    mould_from: int | None = None  #: Hidden, likewise.

    def day(self, today: int) -> int:
        """Return how old it is. [d]"""
        return today - self.began


@dataclass(frozen=True, slots=True, kw_only=True)
class Rack:
    """Bottles filled together."""

    filled: int  #: [d of the season]
    count: int
    state: tuple[float, ...]  #: Hidden: in the bottle.
    start: tuple[float, ...]  #: What was filled, before anything was added.
    sugar_g_per_l: float
    taste: float  #: Hidden: the score of the one who drinks, at filling. [steps]
    above_gate: bool  #: Hidden: it was above pH 4.2 when it was filled.
    cold_since: int | None = None  #: [d of the season]
    temps: tuple[float, ...] = ()
    burps: tuple[int, ...] = ()  #: Days since filling.
    lost_volumes: float = 0.0  #: What burps let out. [volumes]
    air_atm: float = 1.0  #: Air left in the headspace. [atm]
    passed: bool = False  #: Hidden: it was past its limit once.

    @property
    def gas(self) -> float:
        """Gas now. [volumes]"""
        return max(0.0, VOLUMES_AT_FILLING + self.state[CO2] / CO2_G_PER_VOLUME - self.lost_volumes)

    def bar(self, celsius: float) -> float:
        """Return its pressure at a temperature. [degC -> bar]"""
        return gauge_of(Gas(self.gas, self.air_atm), celsius, celsius, HEADSPACE)

    @property
    def litres(self) -> float:
        """All of them. [L]"""
        return self.count * BOTTLE_L


@dataclass(frozen=True, slots=True)
class SeasonCount:
    """What a season came to so far, in litres but for `unsafe`."""

    drunk: float = 0.0
    served: float = 0.0  #: To guests; part of what was drunk.
    wasted: float = 0.0
    unsafe: int = 0  #: Bottles drunk above the gate, past their limit when they were carried or set aside, or burst.
    above_gate: int = 0  #: Of these, drunk above the gate.
    lost: tuple[tuple[str, float], ...] = ()  #: By what it was lost. [L]
    dry_days: int = 0  #: Nothing to drink.
    flat: int = 0  #: Bottles that were to be lively, and were not.

    def with_lost(self, why: str, litres: float, unsafe: int = 0) -> SeasonCount:
        """Return the same with so much more wasted."""
        lost = dict(self.lost)
        lost[why] = lost.get(why, 0.0) + litres
        return replace(self, wasted=self.wasted + litres, unsafe=self.unsafe + unsafe, lost=tuple(sorted(lost.items())))


@dataclass(frozen=True, slots=True, kw_only=True)
class PlayedSeason:
    """Where a season stands."""

    seed: int
    day: int = 0
    jar: Jar | None = None
    brews: int = 0
    starter_l: float = RESERVE_L
    starter_ph: float = 3.1  #: As measured.
    mat: bool = False  #: The heating mat is on.
    racks: tuple[Rack, ...] = ()
    counted: SeasonCount = SeasonCount()
    happened: tuple[tuple[int, str], ...] = ()  #: What happened, day by day.
    gave_disc: bool = False
    past: tuple[ForecastAsk, ...] = ()  #: What was known of brews before, at their end.
    done: tuple[str, ...] = field(default=())  #: What was done today.

    @property
    def over(self) -> bool:
        """Whether the season is at its end."""
        return self.day >= DAYS

    @property
    def world(self) -> World:
        """What it brings."""
        return world(self.seed)

    def tell(self, sentence: str) -> PlayedSeason:
        """Return the same with one more sentence of today."""
        return replace(self, happened=(*self.happened, (self.day, sentence)))

    @property
    def room_c(self) -> float:
        """How warm the kitchen is today. [degC]"""
        return self.world.room_c[min(self.day, DAYS)]

    @property
    def cut(self) -> bool:
        """Whether the power is off today."""
        return self.day == self.world.cut_day

    @property
    def jar_c(self) -> float:
        """How warm the jar stands today. [degC]"""
        return self.room_c + (MAT_K if self.mat and not self.cut else 0.0)

    @property
    def friend_waits(self) -> bool:
        """Whether a friend has asked for a disc and waits."""
        return self.day >= self.world.friend_day and not self.gave_disc

    def chance(self, what: str) -> random.Random:
        """Return chance of its own for one thing on one day, the same whenever it is asked."""
        return random.Random(f"{self.seed} {self.day} {what} {len(self.done)}")


def begin(seed: int) -> PlayedSeason:
    """Begin a season: a jar is started on its first day."""
    season = PlayedSeason(seed=seed).tell("A jar of sweet tea stands ready, and starter beside it.")
    return brewed(season)


def brewed(season: PlayedSeason) -> PlayedSeason:
    """Start a jar with the starter in hand."""
    fraction = season.starter_l / JAR_L
    recipe = Recipe(starter_fraction=fraction, starter_ph=season.starter_ph)
    number, here = season.brews + 1, season.world
    batch = Batch(recipe=recipe, course=steady(season.jar_c), litres=JAR_L)
    jar = Jar(
        number=number, began=season.day, batch=batch, state=tuple(float(part) for part in batch.first_state()[:, 0]),
        film_from=here.film[1] if here.film[0] == number else None,
        mould_from=here.mould[1] if here.mould is not None and here.mould[0] == number else None,
    )  # fmt: skip
    return replace(season, jar=jar, brews=number, starter_l=0.0)


def surface_of(jar: Jar, today: int) -> SeenLook:
    """Return what lies on a brew and how it smells today, whoever looks."""
    day = jar.day(today)
    if jar.mould_from is not None and day >= jar.mould_from:
        return SeenLook(float(day), "fuzzy", (), "bread")
    if jar.film_from is not None and day >= jar.film_from:
        since = day - jar.film_from
        return SeenLook(float(day), "film-yeast", (), "rotten" if since >= FILM_ROTS else "bad" if since >= FILM_SMELLS else "bread")
    return SeenLook(float(day), "bare" if day < 3 else "skin" if day < 6 else "disc", (), "bread")


def ph_of(jar: Jar) -> float:
    """Return the pH of a brew now. [pH]"""
    return float(_course_now(jar).ph[0, 0])


def ta_of(jar: Jar) -> float:
    """Return its acidity now. [g/L]"""
    return float(_course_now(jar).ta_g_per_l[0, 0])


def _course_now(jar: Jar) -> BatchCourse:
    return carry_on(jar.batch, _column(jar.state), jar.batch.first_fill(), 0.0, 0.0, Kinetics())


def _column(state: Sequence[float]) -> Array:
    return np.array(state, float)[:, None]


def facts_of(season: PlayedSeason) -> BrewFacts | None:
    """Return what is known of the brew; None: the jar is empty."""
    jar = season.jar
    if jar is None:
        return None
    temps = jar.temps or (season.jar_c,)
    return BrewFacts(
        day=jar.day(season.day),
        mean_c=sum(temps) / len(temps),
        now_c=season.jar_c,
        ph=jar.readings,
        looks=jar.looks,
        tastes=[(day, float(value)) for day, value in jar.tastes],
    )


def verdict_of(season: PlayedSeason) -> Verdict | None:
    """Judge the brew by what is known of it, as the house does; None: the jar is empty."""
    facts = facts_of(season)
    return None if facts is None else judge(facts)


def next_day(season: PlayedSeason) -> PlayedSeason:
    """Let a day pass: jar and bottles go on, somebody drinks, and what the season brings comes."""
    season = replace(season, jar=_jar_goes_on(season), racks=tuple(_rack_goes_on(season, rack) for rack in season.racks))
    season = _burst(season)
    season = replace(season, day=season.day + 1, done=())
    return _news(_drunk(season))


def _jar_goes_on(season: PlayedSeason) -> Jar | None:
    jar, here = season.jar, season.world
    if jar is None:
        return None
    batch = replace(jar.batch, course=steady(season.jar_c))
    out = carry_on(batch, _column(jar.state), batch.first_fill(), 0.0, 1.0, Kinetics(here.yeast, here.bacteria), STEP_DAYS)
    return replace(jar, state=tuple(float(part) for part in out.state[-1, :, 0]), temps=(*jar.temps, season.jar_c))


def _rack_goes_on(season: PlayedSeason, rack: Rack) -> Rack:
    celsius = (CUT_C if season.cut else FRIDGE_C) if rack.cold_since is not None else season.room_c
    sugar = rack.state[SUCROSE] + rack.state[MONO]
    if sugar > 0.01:
        working = season.world.in_bottle * activity(rack.sugar_g_per_l)
        yeast, bacteria = step_ratios(steady(celsius), 4, STEP_DAYS)
        kinetics = Kinetics(working, 0.0, air=0.0, food=food(6.0))
        state = integrate(_column(rack.state), kinetics, yeast, bacteria, np.full(4, STEP_DAYS))[-1, :, 0]
        rack = replace(rack, state=tuple(float(part) for part in state))
    return replace(rack, temps=(*rack.temps, celsius), passed=rack.passed or rack.bar(celsius) > BOTTLES[BOTTLE].limit_bar)


def _burst(season: PlayedSeason) -> PlayedSeason:
    left, counted = [], season.counted
    for rack in season.racks:
        if rack.bar(rack.temps[-1]) > BURSTS * BOTTLES[BOTTLE].limit_bar:
            counted = counted.with_lost("burst", BOTTLE_L, unsafe=1)
            season = season.tell("A bottle burst in the night, behind the cupboard door. Nobody was near.")
            rack = replace(rack, count=rack.count - 1)
        if rack.count:
            left.append(rack)
    return replace(season, racks=tuple(left), counted=counted)


def _drunk(season: PlayedSeason) -> PlayedSeason:
    """Let somebody drink, and guests on their day: cold bottles, the oldest first."""
    here, wanted = season.world, DRINKS_L
    if season.day == here.guests_day:
        wanted += here.guests_l
    elif here.guests_day - SAVES_DAYS <= season.day < here.guests_day:
        wanted = min(wanted, max(0.0, sum(rack.litres for rack in season.racks) - here.guests_l))
    season, got = _poured(season, wanted)
    if season.day == here.guests_day:
        served = max(0.0, got - DRINKS_L)
        season = replace(season, counted=replace(season.counted, served=served)).tell(
            f"Guests: {served:g} of {here.guests_l:g} L were there for them."
        )
    if got == 0 and wanted > 0:
        season = replace(season, counted=replace(season.counted, dry_days=season.counted.dry_days + 1))
    return season


def _poured(season: PlayedSeason, wanted: float) -> tuple[PlayedSeason, float]:
    got, left, counted = 0.0, [], season.counted
    for rack in sorted(season.racks, key=lambda one: one.filled):
        ready = rack.cold_since is not None and rack.cold_since < season.day
        while ready and rack.count and got < wanted:
            rack = replace(rack, count=rack.count - 1)
            if abs(rack.taste) > LIKED:
                counted = counted.with_lost("too sweet" if rack.taste < 0 else "too sour", BOTTLE_L)
                continue
            got += BOTTLE_L
            if rack.sugar_g_per_l and rack.gas < FLAT_VOLUMES:
                season = season if counted.flat else season.tell("A bottle is flat: cold too soon.")
                counted = replace(counted, flat=counted.flat + 1)
            high = int(rack.above_gate)
            counted = replace(counted, drunk=counted.drunk + BOTTLE_L, unsafe=counted.unsafe + high, above_gate=counted.above_gate + high)
        if rack.count:
            left.append(rack)
    return replace(season, racks=tuple(left), counted=counted), got


def _news(season: PlayedSeason) -> PlayedSeason:
    here = season.world
    news = {
        here.cold_from - 1: "A cold week is coming.",
        here.cold_from + 6: "The cold is going.",
        here.cut_day: "The power is off today: the fridge warms, the mat is cold.",
        here.guests_day - SAVES_DAYS: f"Guests in {SAVES_DAYS} days: they will want {here.guests_l:g} L.",
        here.friend_day: "A friend asks for a disc.",
    }
    sentence = news.get(season.day)
    return season.tell(sentence) if sentence else season

