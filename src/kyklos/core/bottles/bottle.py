"""The bottle: yeast goes on without air, gas gathers, pressure rises against what the glass can hold."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..base import limit, require_between
from ..base.errors import UnknownNameError
from ..liquid import Course, Kinetics
from ..liquid.ferment import CO2, ETHANOL, ETHANOL_YIELD, MONO, SUCROSE, YEAST, abv_percent, food
from ..liquid.rates import CO2_PER_ETHANOL
from ..liquid.temperature import bacteria_ratio, ratios_over, yeast_ratio
from .contents import Contents, run_on
from .gas import ATMOSPHERE_BAR, CO2_G_PER_VOLUME, CO2_MOLAR_MASS, GAS_CONSTANT, gauge_bar
from .ingredients import ADDED_SUCROSE_SHARE, FORMS

Array = NDArray[np.float64]

VOLUMES_AT_FILLING, VOLUMES_SD = 0.6, 0.25  #: (assumed) [volumes]
STIRRED_HARD_VOLUMES, STRAINED_VOLUMES = 0.4, 0.85  #: Gas knocked out first; the most that open liquid keeps (assumed). [volumes]
POURS = {"stirred": 1.0, "top": 0.4, "last": 2.0}  #: Yeast that comes along: as poured (assumed). [-]
ALCOHOL_BRAKE, BRAKES_FROM_ABV = 0.25, 1.0  #: Each % ABV above it slows the yeast so much (assumed). [1/% ABV], [% ABV]
MOST_ACTIVITY = 2.2  #: Before the brake (assumed). [-]
VIGOUR_SD = 0.5  #: ln vigour of the yeast in bottle, until a hiss has been heard (assumed). [-]
VIGOUR_LOW, VIGOUR_HIGH = 0.05, 5.0  #: Of the yeast in bottle, whatever was heard. [-]
WARM_C = 25.0  #: A cold bottle is judged at this too: it will be carried out. [degC]
HEADSPACE_SD = 0.25  #: Of a headspace that nobody weighed, against its own (assumed). [-]
SOLUBILITY_SD = 0.05 / 1.28  #: Widens the 10 to 90 % band by 5 % for solubility in sugared, acid liquid. [-]
STEPS_DAYS = (0.25, 0.5, 1.0, 2.0)  #: Of the integration; the longest that the fastest member allows. [d]
MOST_RATE = 1.6  #: Step times the fastest rate; beyond it gas is less exact than 0.01 volumes. [-]
FINE_DAYS, CHUNK_DAYS = 40.0, 40.0  #: Until then no step is longer than a day; so far is looked at a time. [d]
ANY_HEADSPACE = 0.05  #: Stands where the headspace makes no difference. [-]
MEMBERS = 100
JUST_BEFORE = 1e-3  #: A burp is over in so long. [d]
TARGETS = {"soft": 1.5, "lively": 2.2, "sparkling": 2.8}  #: [volumes]


def activity(added_sugar_g_per_l: float, form: str = "none", abv: float = 0.0) -> float:
    """Return how much faster yeast works for what was added (all assumed, to be learned from the hiss).

    Args:
        added_sugar_g_per_l: Sugar of priming and flavour, in the bottle. [g/L]
        form: Of what was added, a key of FORMS; of several the one that drives most.
        abv: Alcohol at filling. [% ABV]

    Returns: Factor on the yeast's vigour. [-]

    Raises:
        UnknownNameError: If the form is not known.

    >>> activity(8), round(activity(8, abv=2.0), 2)
    (1.2, 0.96)
    """
    if form not in FORMS:
        raise UnknownNameError("form", form, list(FORMS))
    fresh = min(1.8, 1 + added_sugar_g_per_l / 40)
    brake = 1 / (1 + ALCOHOL_BRAKE * max(0.0, abv - BRAKES_FROM_ABV))
    return min(MOST_ACTIVITY, fresh * FORMS[form][2]) * brake


@dataclass(frozen=True, slots=True, kw_only=True)
class BottleAsk:
    """All that a bottle's forecast depends on."""

    start: tuple[float, ...]  #: State of the first ferment at filling, 8 parts as in `ferment`.
    added_sugar_g_per_l: float  #: In the filled bottle. [g/L]
    course: Course
    headspace_fraction: float = 0.05  #: [-]
    form: str = "none"  #: Of what was added, a key of FORMS; of several the one that drives most.
    limit_bar: float | None = None  #: Gauge. [bar]
    vigour: float = 1.0  #: Of the yeast. [-]
    vigour_sd: float = VIGOUR_SD  #: Of its logarithm. [-]
    brew_share: float = 1.0  #: Of the liquid in it; the rest is what was added, which dilutes. [-]
    days: int = 30
    leaf_g_per_l: float = 6.0  #: Of the brew, before anything was added: it feeds the yeast. [g/L]
    doubt_k: tuple[tuple[float, float], ...] = ()  #: From each day on, how unsure the course is; empty: not. [d, K]
    warmer_k: tuple[tuple[float, float], ...] = ()  #: From each day on, by how much it is rather warmer than its recorded warmth. [d, K]
    added_ethanol_g_per_l: float = 0.0  #: Of wine, cider or another drink that was added. [g/L]
    pour_yeast: float = 1.0  #: Yeast that came along: 1 stirred, 0.4 from the top, 2 in the last litre. [-]
    volumes: float = VOLUMES_AT_FILLING  #: Gas of the brew at filling, likely. [volumes]
    burps: tuple[float, ...] = ()  #: Days on which it was burped, in order. [d since filling]

    def __post_init__(self) -> None:
        require_between(0, 200, "g/L", added_sugar_g_per_l=self.added_sugar_g_per_l)
        require_between(0.001, 0.9, "", headspace_fraction=self.headspace_fraction)
        require_between(VIGOUR_LOW, VIGOUR_HIGH, "", vigour=self.vigour)
        require_between(0, 2, "", vigour_sd=self.vigour_sd)
        require_between(0, 1, "", brew_share=self.brew_share)
        require_between(1, 400, "d", days=self.days)
        require_between(0, 200, "g/L", added_ethanol_g_per_l=self.added_ethanol_g_per_l)
        require_between(0, 4, "", pour_yeast=self.pour_yeast)
        require_between(0, 2, "volumes", volumes=self.volumes)
        if self.limit_bar is not None:
            require_between(0.1, 20, "bar", limit_bar=self.limit_bar)


@dataclass(frozen=True, slots=True)
class BottleForecast:
    """A bottle's future; arrays over day, of shape (t,)."""

    day: Array  #: Every whole day until day 40, parts of days where it goes fast, then every other. [d since filling]
    co2_volumes: Array  #: Likely. [volumes]
    gauge_bar: Array  #: Likely. [bar]
    low_bar: Array  #: 10 %. [bar]
    high_bar: Array  #: 90 %. [bar]
    abv_percent: Array  #: [% ABV]
    ceiling_bar: float  #: If all fermentable sugar went. [bar]
    chill_by_day: float | None  #: When the 90 % band reaches 70 % of the limit. [d]
    passes_limit_day: float | None  #: When the 90 % band reaches the limit. [d]
    target_days: dict[str, float | None]  #: When each target is reached; only those the bottle may hold. [d]
    warm_high_bar: Array  #: 90 % of what the same gas would press at 25 degC. [bar]
    passes_warm_day: float | None  #: When that reaches the limit: from then on it is opened cold. [d]
    drink_by_day: float | None  #: When 80 % of it reaches the limit: four in five hold so long. [d]

    def at(self, day: float) -> tuple[float, float, float]:
        """Read the pressure at a day: low, likely, high. [bar]"""
        return (
            float(np.interp(day, self.day, self.low_bar)),
            float(np.interp(day, self.day, self.gauge_bar)),
            float(np.interp(day, self.day, self.high_bar)),
        )

    def likely_on(self, days: Array) -> Array:
        """Return the likely pressure on some days, of their shape. [bar, d since filling]"""
        return np.interp(days, self.day, self.gauge_bar)

    def volumes_at(self, day: float) -> float:
        """Return the likely gas at a day. [volumes]"""
        return float(np.interp(day, self.day, self.co2_volumes))

    def warm_bar_at(self, day: float) -> float:
        """Return the upper end of what its gas at a day would press at 25 degC. [bar]"""
        return float(np.interp(day, self.day, self.warm_high_bar))

    def abv_at(self, day: float) -> float:
        """Return the likely alcohol at a day. [% ABV]"""
        return float(np.interp(day, self.day, self.abv_percent))


def _first(day: Array, values: Array, target: float) -> float | None:
    over = values >= target
    if not over.any():
        return None
    i = int(over.argmax())
    if i == 0:
        return float(day[0])
    share = (target - values[i - 1]) / (values[i] - values[i - 1])
    return float(day[i - 1] + share * (day[i] - day[i - 1]))


@lru_cache(maxsize=1)
def _spread_of_warmth() -> Array:
    """Fixed spread of the room's doubt in mirrored pairs, shape (1 + members,); the first member is the likely one. [-]"""
    half = np.random.default_rng(78).standard_normal(MEMBERS // 2)
    half /= np.sqrt(np.mean(half**2))
    return np.concatenate([np.zeros(1), half, -half])


def _warmth(ask: BottleAsk, day: Array) -> Array:
    """Return each member's temperature, of shape (t, 1) where nothing is in doubt, else (t, 1 + members). [degC]"""
    celsius = ask.course.at(day)[:, None]
    if not ask.doubt_k:
        return celsius
    out = celsius + _steps(ask.doubt_k, day)[:, None] * _spread_of_warmth()
    if ask.warmer_k:
        out[:, 1:] += _steps(ask.warmer_k, day)[:, None]
    return np.asarray(out)


def _steps(rows: tuple[tuple[float, float], ...], day: Array) -> Array:
    """Read what holds from each day on, shape (t,)."""
    since, values = np.array(rows).T
    return np.asarray(values[np.maximum(np.searchsorted(since, day, side="right") - 1, 0)])


@dataclass(frozen=True, slots=True)
class Members:
    """Bottles as one may be, each of shape (1 + members,); the first is the likely one."""

    volumes: Array  #: Gas at filling. [volumes]
    vigour: Array  #: Of its yeast, against the likely one. [-]
    solubility: Array  #: Factor on the pressure. [-]
    headspace: Array  #: Share of the bottle that is gas. [-]


@lru_cache(maxsize=1)
def _draws() -> Array:
    """Draw the fixed spreads once, shape (4, 1 + members); the first member is the likely one."""
    half = np.random.default_rng(77).standard_normal((4, MEMBERS // 2))
    half[1] /= np.sqrt(np.mean(half[1] ** 2))
    return np.concatenate([np.zeros((4, 1)), half, -half], axis=1)


def members_of(ask: BottleAsk) -> Members:
    """Draw the members of a bottle: fixed spreads in mirrored pairs."""
    drawn = _draws()
    return Members(
        np.clip(ask.volumes + VOLUMES_SD * drawn[0], 0.1, 1.4) * ask.brew_share,
        np.exp(ask.vigour_sd * drawn[1]),
        np.exp(SOLUBILITY_SD * drawn[2]),
        np.clip(ask.headspace_fraction * (1 + HEADSPACE_SD * drawn[3]), 0.001, 0.9),
    )


def ceiling_bar(state: Array, celsius: float, headspace_fraction: float, volumes: float = VOLUMES_AT_FILLING) -> float:
    """Pressure if all fermentable sugar of a filled bottle went to alcohol and gas. [bar]

    Args:
        state: In the bottle, additions included, shape (8,).
        celsius: Temperature. [degC]
        headspace_fraction: [-]
        volumes: Gas at filling. [volumes]
    """
    gas = CO2_PER_ETHANOL * ETHANOL_YIELD * (1.053 * state[SUCROSE] + state[MONO])
    return float(gauge_bar(volumes + gas / CO2_G_PER_VOLUME, celsius, headspace_fraction))


@dataclass(frozen=True, slots=True)
class MembersRun:
    """The members of a bottle over time; the first is the likely one."""

    day: Array  #: Shape (t,). [d since filling]
    gas: Array  #: Shape (t, 1 + members). [volumes]
    bar: Array  #: Shape (t, 1 + members). [bar]
    warm_bar: Array  #: The same gas at 25 degC. [bar]
    states: Array  #: Likely, shape (t, 8).


def _filled_state(ask: BottleAsk, members: int) -> Array:
    """Return what is in the bottle: brew diluted by what was added, and its sugar and alcohol, shape (8, members)."""
    state: Array = np.repeat(np.array(ask.start, float)[:, None], members, axis=1) * ask.brew_share
    state[YEAST] = np.minimum(1.0, state[YEAST] * ask.pour_yeast)
    state[ETHANOL] += ask.added_ethanol_g_per_l
    state[SUCROSE] += ADDED_SUCROSE_SHARE * ask.added_sugar_g_per_l
    state[MONO] += (1 - ADDED_SUCROSE_SHARE) * ask.added_sugar_g_per_l
    state[CO2] = 0.0
    return state


@lru_cache(maxsize=256)
def _contents(ask: BottleAsk) -> Contents:
    """Begin to run what is in bottles; `ask` without its headspace and its limit, which change nothing of it."""
    members = members_of(ask)
    state = _filled_state(ask, len(members.volumes))
    working = activity(ask.added_sugar_g_per_l, ask.form, float(abv_percent(state[ETHANOL, 0])))
    kinetics = Kinetics(ask.vigour * working * members.vigour, 0.0, air=0.0, food=food(ask.leaf_g_per_l))
    fastest = float(kinetics.food * np.max(kinetics.yeast))
    ends = [*np.arange(0.0, ask.days - 1e-9, CHUNK_DAYS), float(ask.days)]
    return Contents(kinetics, state, lambda number: _stretch(ask, ends[number], ends[number + 1], fastest))


def _contents_of(ask: BottleAsk) -> Contents:
    return _contents(replace(ask, headspace_fraction=ANY_HEADSPACE, limit_bar=None))


@lru_cache(maxsize=256)
def run_of(ask: BottleAsk) -> MembersRun:
    """Run the members, some weeks at a time: each stretch takes the longest step that is exact enough there."""
    members, contents = members_of(ask), _contents_of(ask)
    volumes, start = members.volumes, _filled_state(ask, 1)[:, 0]
    number = 0
    while True:
        run_on([contents], number)
        number += 1
        if not _goes_on(ask, contents, number):
            break
    day = np.concatenate([np.zeros(1), *contents.days[:number]])
    formed = np.concatenate([np.zeros((1, len(volumes))), *contents.co2[:number]])
    gas = volumes + formed / CO2_G_PER_VOLUME
    warmth = _warmth(ask, day)
    gas, lost_bar = _burped(ask, day, gas, warmth, members.headspace) if ask.burps else (gas, 0.0)
    bar = gauge_bar(gas, warmth, members.headspace) * members.solubility + lost_bar
    warm = gauge_bar(gas, WARM_C, members.headspace) * members.solubility + lost_bar
    return MembersRun(day, gas, bar, warm, np.concatenate([start[None], *contents.likely[:number]]))


def _goes_on(ask: BottleAsk, contents: Contents, stretches: int) -> bool:
    """Return whether more is to be told of a bottle after so many stretches: it is looked ahead further, and not past its limit."""
    here = float(contents.days[stretches - 1][-1])
    if here >= ask.days - 1e-9:
        return False
    volumes = members_of(ask).volumes
    return ask.limit_bar is None or not _passes(ask, here, volumes + contents.co2[stretches - 1][-1] / CO2_G_PER_VOLUME)


def run_together(asks: Iterable[BottleAsk]) -> None:
    """Run many bottles at once, so that each of them is then answered from memory."""
    left, number = [ask for ask in dict.fromkeys(asks) if ask not in _foretold], 0
    while left:
        many = [_contents_of(ask) for ask in left]
        run_on(many, number)
        number += 1
        left = [ask for ask, contents in zip(left, many, strict=True) if _goes_on(ask, contents, number)]


def _burped(ask: BottleAsk, day: Array, gas: Array, warmth: Array, h: Array) -> tuple[Array, Array]:
    """Take off what each burp let out, of gas and of air.

    Args:
        ask: The bottle, with its burps.
        day: Shape (t,). [d]
        gas: Had nobody burped it, shape (t, 1 + members). [volumes]
        warmth: Shape (t, 1) or (t, 1 + members). [degC]
        h: Headspace of each member. [-]

    Returns: Gas that is left, and what its pressure lacks for the air that went, both of shape (t, 1 + members). [volumes, bar]
    """
    gas, air, lost_bar = gas.copy(), np.ones(gas.shape[1]), np.zeros_like(gas)
    for at in ask.burps:
        i = int(np.searchsorted(day, at))
        if i >= len(day):
            break
        celsius = warmth[i]
        partial = gauge_bar(at_day(day, gas, at), celsius, h) / ATMOSPHERE_BAR
        left = 1 / np.maximum(1.0, partial + air)
        moles = partial * (1 - left) * h / (GAS_CONSTANT * (celsius + 273.15))
        gas[i:] -= moles * CO2_MOLAR_MASS / CO2_G_PER_VOLUME / (1 - h)
        air = air * left
        lost_bar[i:] = ATMOSPHERE_BAR * (air - 1)
    return gas, lost_bar


def at_day(day: Array, values: Array, at: float) -> Array:
    """Read members between two days, shape (1 + members,). [d]"""
    i = min(max(1, int(np.searchsorted(day, at))), len(day) - 1)
    share = (at - day[i - 1]) / (day[i] - day[i - 1])
    return np.asarray(values[i - 1] + min(1.0, max(0.0, share)) * (values[i] - values[i - 1]))


def _passes(ask: BottleAsk, day: float, gas: Array) -> bool:
    """Return whether bottles of so much gas are past their limit by then: further on nothing more is to be told."""
    bar = gauge_bar(gas, float(ask.course.at(np.array([day]))[0]), ask.headspace_fraction)
    return ask.limit_bar is not None and bool(np.quantile(bar, 0.9) >= ask.limit_bar)


def _stretch(ask: BottleAsk, start: float, end: float, fastest: float) -> tuple[Array, Array, Array]:
    """Return the edges of steps over a stretch of days, and both ratios in each: shape (steps,) or (steps, members)."""
    most = 1.0 if start < FINE_DAYS else STEPS_DAYS[-1]
    there = np.arange(start, end + 1e-9, 1.0)
    rate = 1.2 * fastest * float(yeast_ratio(_warmth(ask, there)).max())
    fits = [step for step in STEPS_DAYS if step <= most and step * rate <= MOST_RATE]
    step = max(fits, default=STEPS_DAYS[0])
    edges = np.append(np.arange(start, end - 1e-9, step), end)
    burps = [day for at in ask.burps for day in (at - JUST_BEFORE, at) if start < day < end]
    if burps:
        edges = np.unique(np.append(edges, burps))
    if not ask.doubt_k:
        return edges, *ratios_over(ask.course, edges)
    middle = _warmth(ask, (edges[:-1] + edges[1:]) / 2)
    return edges, yeast_ratio(middle), bacteria_ratio(middle)


MOST_FORETOLD = 1024  #: So many bottles are answered from memory.
_foretold: dict[BottleAsk, None] = {}  #: Those that were foretold lately: they need no run beside others.


@lru_cache(maxsize=MOST_FORETOLD)
def bottle_forecast(ask: BottleAsk) -> BottleForecast:
    """Foretell pressure, gas and alcohol of a closed bottle.

    Args:
        ask: All it depends on; an equal ask is answered from memory.

    Source: the first ferment's kinetics without air; Henry's law, Sander 2015; activities assumed.
    """
    out = run_of(ask)
    if len(_foretold) >= MOST_FORETOLD:
        _foretold.clear()  # whatever was in it is run once more
    _foretold[ask] = None
    low, high = np.quantile(out.bar[:, 1:], (0.1, 0.9), axis=1)
    warm_most, warm_high = np.quantile(out.warm_bar[:, 1:], (0.8, 0.9), axis=1)
    warmest = float(ask.course.at(out.day).max())
    targets = {
        name: _first(out.day, out.gas[:, 0], volumes)
        for name, volumes in TARGETS.items()
        if ask.limit_bar is not None
        and gauge_bar(volumes, warmest, ask.headspace_fraction) < limit("chill_share") * ask.limit_bar
    }
    return BottleForecast(
        day=out.day,
        co2_volumes=out.gas[:, 0],
        gauge_bar=out.bar[:, 0],
        low_bar=low,
        high_bar=high,
        abv_percent=np.asarray(abv_percent(out.states[:, ETHANOL])),
        ceiling_bar=ceiling_bar(out.states[0], warmest, ask.headspace_fraction, ask.volumes * ask.brew_share),
        chill_by_day=None if ask.limit_bar is None else _first(out.day, high, limit("chill_share") * ask.limit_bar),
        passes_limit_day=None if ask.limit_bar is None else _first(out.day, high, ask.limit_bar),
        target_days=targets,
        warm_high_bar=warm_high,
        passes_warm_day=None if ask.limit_bar is None else _first(out.day, warm_high, ask.limit_bar),
        drink_by_day=None if ask.limit_bar is None else _first(out.day, warm_most, ask.limit_bar),
    )


