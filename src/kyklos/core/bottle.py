"""The bottle: yeast goes on without air, gas gathers, pressure rises against what the glass can hold."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .batch import integrate
from .errors import UnknownNameError, require_between
from .facts import FLAVOURINGS, limit
from .ferment import CO2, CO2_PER_ETHANOL, ETHANOL, ETHANOL_YIELD, MONO, SUCROSE, Kinetics, abv_percent, food
from .temperature import Course, bacteria_ratio, step_ratios, yeast_ratio

Array = NDArray[np.float64]

ATMOSPHERE_BAR = 1.01325
CO2_G_PER_VOLUME = 1.9635  #: Of CO2 per litre of liquid. [g/L]
CO2_MOLAR_MASS = 44.01  #: [g/mol]
GAS_CONSTANT = 0.082057  #: [L atm/(mol K)]
VOLUMES_AT_FILLING, VOLUMES_SD = 0.6, 0.25  #: (assumed) [volumes]
ADDED_SUCROSE_SHARE = 0.4  #: Of added sugar, by mass. [-]
FORM_ACTIVITY = {"none": 1.0, "juice": 1.1, "pieces": 1.25, "ginger": 1.35, "herbs": 1.0}  #: (assumed) [-]
ALCOHOL_ACTIVITY = 0.8  #: Above 1 % ABV (assumed). [-]
MOST_ACTIVITY = 2.2  #: (assumed) [-]
VIGOUR_SD = 0.25  #: ln vigour of the yeast in bottle (assumed). [-]
SOLUBILITY_SD = 0.05 / 1.28  #: Widens the 10 to 90 % band by 5 % for solubility in sugared, acid liquid. [-]
STEP_DAYS = 0.25
MEMBERS = 100
TARGETS = {"soft": 1.5, "lively": 2.2, "sparkling": 2.8}  #: [volumes]


def henry(celsius: Any) -> Any:
    """Solubility of CO2 in water. [mol/(L atm)]

    Args:
        celsius: Temperature. [degC]

    Source: Sander 2015.
    """
    return 0.034 * np.exp(2400 * (1 / (np.asarray(celsius, float) + 273.15) - 1 / 298.15))


def gauge_bar(co2_volumes: Any, celsius: Any, headspace_fraction: float) -> Any:
    """Pressure in a bottle never opened.

    Args:
        co2_volumes: Gas in liquid and headspace together, per litre of liquid. [volumes]
        celsius: Temperature. [degC]
        headspace_fraction: Share of the bottle that is gas. [-]

    Returns: Gauge pressure. [bar]

    Source: Henry's law, Sander 2015, and the ideal gas in the headspace.

    >>> round(float(gauge_bar(1, 4, 0.03)), 3)
    0.707
    """
    require_between(0.001, 0.9, "", headspace_fraction=headspace_fraction)
    h, kelvin = headspace_fraction, np.asarray(celsius, float) + 273.15
    amount = np.asarray(co2_volumes, float) * CO2_G_PER_VOLUME / CO2_MOLAR_MASS * (1 - h)
    return ATMOSPHERE_BAR * amount / (henry(celsius) * (1 - h) + h / (GAS_CONSTANT * kelvin))


@dataclass(frozen=True, slots=True)
class Gas:
    """Gas in a bottle."""

    co2_volumes: float  #: Liquid and headspace together. [volumes]
    air_atm: float = 1.0  #: Air left in the headspace, at the temperature of filling. [atm]


def gauge_of(gas: Gas, celsius: float, filled_at_c: float, headspace_fraction: float) -> float:
    """Pressure in a bottle that may have been burped: gas plus what air is left. [bar]"""
    air = gas.air_atm * (celsius + 273.15) / (filled_at_c + 273.15)
    return float(gauge_bar(gas.co2_volumes, celsius, headspace_fraction)) + ATMOSPHERE_BAR * (air - 1)


def burp(gas: Gas, celsius: float, filled_at_c: float, headspace_fraction: float) -> Gas:
    """Let the headspace, gas and air in proportion, down to one atmosphere.

    Returns: What is left; a bottle without overpressure stays as it is. It buys a day or two: only cold stops it.
    """
    over = gauge_of(gas, celsius, filled_at_c, headspace_fraction) / ATMOSPHERE_BAR
    if over <= 0:
        return gas
    left = 1 / (1 + over)
    partial = float(gauge_bar(gas.co2_volumes, celsius, headspace_fraction)) / ATMOSPHERE_BAR
    moles = partial * (1 - left) * headspace_fraction / (GAS_CONSTANT * (celsius + 273.15))
    lost = moles * CO2_MOLAR_MASS / CO2_G_PER_VOLUME / (1 - headspace_fraction)
    return Gas(gas.co2_volumes - lost, gas.air_atm * left)


def activity(added_sugar_g_per_l: float, flavour: str = "plain", abv: float = 0.0) -> float:
    """Say how much faster yeast works for what was added (all assumed, to be learned from the hiss).

    Args:
        added_sugar_g_per_l: Sugar of priming and flavour, in the bottle. [g/L]
        flavour: Name in the flavourings.
        abv: Alcohol at filling. [% ABV]

    Returns: Factor on the yeast's vigour. [-]

    Raises:
        UnknownNameError: If the flavour is not known.

    >>> activity(8)
    1.2
    """
    if flavour not in FLAVOURINGS:
        raise UnknownNameError("flavour", flavour, list(FLAVOURINGS))
    fresh = min(1.8, 1 + added_sugar_g_per_l / 40)
    weak = ALCOHOL_ACTIVITY if abv > 1 else 1.0
    return min(MOST_ACTIVITY, fresh * FORM_ACTIVITY[FLAVOURINGS[flavour].form] * weak)


@dataclass(frozen=True, slots=True, kw_only=True)
class BottleAsk:
    """All that a bottle's forecast depends on."""

    start: tuple[float, ...]  #: State of the first ferment at filling, 8 parts as in `ferment`.
    added_sugar_g_per_l: float  #: In the filled bottle. [g/L]
    course: Course
    headspace_fraction: float = 0.05  #: [-]
    flavour: str = "plain"
    limit_bar: float | None = None  #: Gauge. [bar]
    vigour: float = 1.0  #: Of the yeast. [-]
    days: int = 30
    leaf_g_per_l: float = 6.0  #: Of the brew, before anything was added: it feeds the yeast. [g/L]
    doubt_k: tuple[tuple[float, float], ...] = ()  #: From each day on, how unsure the course is; empty: not. [d, K]

    def __post_init__(self) -> None:
        require_between(0, 200, "g/L", added_sugar_g_per_l=self.added_sugar_g_per_l)
        require_between(0.001, 0.9, "", headspace_fraction=self.headspace_fraction)
        require_between(0.05, 5, "", vigour=self.vigour)
        require_between(1, 400, "d", days=self.days)
        if self.limit_bar is not None:
            require_between(0.1, 20, "bar", limit_bar=self.limit_bar)


@dataclass(frozen=True, slots=True)
class BottleForecast:
    """A bottle's future; arrays over day, of shape (t,)."""

    day: Array  #: Quarter days. [d since filling]
    co2_volumes: Array  #: Likely. [volumes]
    gauge_bar: Array  #: Likely. [bar]
    low_bar: Array  #: 10 %. [bar]
    high_bar: Array  #: 90 %. [bar]
    abv_percent: Array  #: [% ABV]
    ceiling_bar: float  #: If all fermentable sugar went. [bar]
    chill_by_day: float | None  #: When the 90 % band reaches 70 % of the limit. [d]
    passes_limit_day: float | None  #: When the 90 % band reaches the limit. [d]
    target_days: dict[str, float | None]  #: When each target is reached; only those the bottle may hold. [d]

    def at(self, day: float) -> tuple[float, float, float]:
        """Read the pressure at a day: low, likely, high. [bar]"""
        return (
            float(np.interp(day, self.day, self.low_bar)),
            float(np.interp(day, self.day, self.gauge_bar)),
            float(np.interp(day, self.day, self.high_bar)),
        )


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
def _warmer() -> Array:
    """Fixed spread of the room's doubt in mirrored pairs, shape (1 + members,); the first member is the likely one. [-]"""
    half = np.random.default_rng(78).standard_normal(MEMBERS // 2)
    half /= np.sqrt(np.mean(half**2))
    return np.concatenate([np.zeros(1), half, -half])


def _warmth(ask: BottleAsk, day: Array) -> Array:
    """Return each member's temperature, of shape (t, 1) where nothing is in doubt, else (t, 1 + members). [degC]"""
    celsius = ask.course.at(day)[:, None]
    if not ask.doubt_k:
        return celsius
    since = np.array([start for start, _ in ask.doubt_k])
    sd = np.array([sd for _, sd in ask.doubt_k])[np.maximum(np.searchsorted(since, day, side="right") - 1, 0)]
    return np.asarray(celsius + sd[:, None] * _warmer())


def brew_in_bottle_l(volume_ml: float, headspace_fraction: float, flavour_g_per_l: float) -> float:
    """Return the brew in a bottle, without its flavouring (taken as 1 g/mL).

    Args:
        volume_ml: Brimful. [mL]
        headspace_fraction: Share of the bottle that is gas. [-]
        flavour_g_per_l: Flavouring to a litre of brew. [g/L]

    Returns: Brew. [L]

    >>> brew_in_bottle_l(500, 0.04, 0)
    0.48
    """
    return filled_l(volume_ml, headspace_fraction) / (1 + flavour_g_per_l / 1000)


def with_flavour(priming_g_per_l: float, flavour: str, flavour_g_per_l: float) -> float:
    """Sum the sugar of priming and flavour. [g/L]

    >>> with_flavour(5, "plain", 0)
    5.0
    """
    return priming_g_per_l + FLAVOURINGS[flavour].sugar / 100 * flavour_g_per_l


def filled_l(volume_ml: float, headspace_fraction: float) -> float:
    """Return the liquid in a bottle, flavouring included. [mL, - -> L]"""
    return volume_ml / 1000 * (1 - headspace_fraction)


def _members() -> tuple[Array, Array, Array]:
    """Fixed spreads in mirrored pairs: volumes at filling, ln vigour, solubility; the first member is the likely one."""
    half = np.random.default_rng(77).standard_normal((3, MEMBERS // 2))
    drawn = np.concatenate([np.zeros((3, 1)), half, -half], axis=1)
    volumes = np.clip(VOLUMES_AT_FILLING + VOLUMES_SD * drawn[0], 0.1, 1.4)
    return volumes, np.exp(VIGOUR_SD * drawn[1]), np.exp(SOLUBILITY_SD * drawn[2])


def ceiling_bar(state: Array, celsius: float, headspace_fraction: float) -> float:
    """Pressure if all fermentable sugar of a filled bottle went to alcohol and gas. [bar]

    Args:
        state: In the bottle, additions included, shape (8,).
        celsius: Temperature. [degC]
        headspace_fraction: [-]
    """
    gas = CO2_PER_ETHANOL * ETHANOL_YIELD * (1.053 * state[SUCROSE] + state[MONO])
    return float(gauge_bar(VOLUMES_AT_FILLING + gas / CO2_G_PER_VOLUME, celsius, headspace_fraction))


@lru_cache(maxsize=256)
def _run(ask: BottleAsk) -> tuple[Array, Array, Array, Array, Array]:
    """Run the members: day and temperature (t,), volumes and pressure (t, n), likely states (t, 8)."""
    volumes, vigour, solubility = _members()
    state = np.repeat(np.array(ask.start, float)[:, None], len(volumes), axis=1)
    state[SUCROSE] += ADDED_SUCROSE_SHARE * ask.added_sugar_g_per_l
    state[MONO] += (1 - ADDED_SUCROSE_SHARE) * ask.added_sugar_g_per_l
    state[CO2] = 0.0
    working = activity(ask.added_sugar_g_per_l, ask.flavour, float(abv_percent(state[ETHANOL, 0])))
    steps = int(ask.days / STEP_DAYS)
    day = np.linspace(0, steps * STEP_DAYS, steps + 1)
    celsius = _warmth(ask, day)
    if ask.doubt_k:
        middle = _warmth(ask, (day[:-1] + day[1:]) / 2)
        yeast, bacteria = yeast_ratio(middle), bacteria_ratio(middle)
    else:
        yeast, bacteria = step_ratios(ask.course, steps, STEP_DAYS)
    states = integrate(
        state,
        Kinetics(ask.vigour * working * vigour, 0.0, air=0.0, food=food(ask.leaf_g_per_l)),
        yeast,
        bacteria,
        np.diff(day),
    )
    gas = volumes + states[:, CO2] / CO2_G_PER_VOLUME
    bar = gauge_bar(gas, celsius, ask.headspace_fraction) * solubility
    return day, celsius[:, 0], gas, bar, states[:, :, 0]


@lru_cache(maxsize=1024)
def bottle_forecast(ask: BottleAsk) -> BottleForecast:
    """Foretell pressure, gas and alcohol of a closed bottle.

    Args:
        ask: All it depends on; an equal ask is answered from memory.

    Source: the first ferment's kinetics without air; Henry's law, Sander 2015; activities assumed.
    """
    day, _, gas, bar, states = _run(ask)
    low, high = np.quantile(bar[:, 1:], (0.1, 0.9), axis=1)
    return _bottle_summary(ask, day, gas[:, 0], bar[:, 0], low, high, states)


def _bottle_summary(
    ask: BottleAsk, day: Array, gas: Array, bar: Array, low: Array, high: Array, states: Array
) -> BottleForecast:
    warmest = float(ask.course.at(day).max())
    targets = {
        name: _first(day, gas, volumes)
        for name, volumes in TARGETS.items()
        if ask.limit_bar is not None
        and gauge_bar(volumes, warmest, ask.headspace_fraction) < limit("chill_share") * ask.limit_bar
    }
    return BottleForecast(
        day=day,
        co2_volumes=gas,
        gauge_bar=bar,
        low_bar=low,
        high_bar=high,
        abv_percent=np.asarray(abv_percent(states[:, ETHANOL])),
        ceiling_bar=ceiling_bar(states[0], warmest, ask.headspace_fraction),
        chill_by_day=None if ask.limit_bar is None else _first(day, high, limit("chill_share") * ask.limit_bar),
        passes_limit_day=None if ask.limit_bar is None else _first(day, high, ask.limit_bar),
        target_days=targets,
    )


HISS_BAR = (
    (0.0, 0.3),
    (0.3, 1.0),
    (1.0, 2.0),
    (2.0, 3.2),
    (3.2, 6.0),
)  #: Pressure a hiss of 0 to 4 tells (assumed). [bar]
HISS_WORDS = ("silent, flat", "a whisper", "a clear hiss", "a loud hiss", "it gushed")
HISS_SD_BAR = 0.4  #: How sharply a hiss tells pressure at the ends of its range (assumed). [bar]


def vigour_after_hiss(ask: BottleAsk, day: float, hiss: int) -> float:
    """Learn from an opened bottle how lively the yeast of its brothers is.

    Args:
        ask: The opened bottle's own.
        day: When it was opened. [d since filling]
        hiss: 0 (silent) to 4 (gushed).

    Returns: Vigour to use for its brothers, in place of `ask.vigour`. [-]
    """
    require_between(0, 4, "", hiss=hiss)
    low, high = HISS_BAR[hiss]
    days, _, _, bar, _ = _run(ask)
    now = bar[int(np.argmin(np.abs(days - day)))]
    outside = np.maximum(low - now, 0) + np.maximum(now - high, 0)
    weight = np.exp(-0.5 * (outside / HISS_SD_BAR) ** 2) + 1e-9
    return float(ask.vigour * np.exp(np.average(np.log(_members()[1]), weights=weight)))


def burp_buys_days(ask: BottleAsk, day: float) -> float | None:
    """Say how long a burp at a day takes to climb back: it buys a day or two, only cold stops a bottle.

    Args:
        ask: The bottle.
        day: When it is burped, for the first time. [d since filling]

    Returns: Days until the pressure is as high again; None when not within the days looked ahead. [d]
    """
    out = bottle_forecast(ask)
    i = int(np.argmin(np.abs(out.day - day)))
    celsius = ask.course.at(out.day)
    before = Gas(float(out.co2_volumes[i]))
    after = burp(before, float(celsius[i]), float(celsius[0]), ask.headspace_fraction)
    for j in range(i, len(out.day)):
        gas = Gas(after.co2_volumes + float(out.co2_volumes[j] - out.co2_volumes[i]), after.air_atm)
        if gauge_of(gas, float(celsius[j]), float(celsius[0]), ask.headspace_fraction) >= float(out.gauge_bar[i]):
            return float(out.day[j] - out.day[i])
    return None
