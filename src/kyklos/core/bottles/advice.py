"""What to do with closed bottles: by how they press, where they stand, and what is foretold of them."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ..base import limit
from ..base.facts import BOTTLES
from ..base.kinds import BottleState
from .bottle import TARGETS, BottleForecast
from .gas import gauge_bar

FIZZ_WORDS = ((2.8, "sparkling"), (2.2, "lively"), (1.5, "soft"), (0.9, "a little gas"), (0.0, "still"))  #: [volumes]
ALCOHOL_LOW, ALCOHOL_HIGH = 0.85, 1.8  #: Range of alcohol against what is likely (assumed). [-]
LEAST_ABV = 0.1  #: Less is not mentioned. [% ABV]
TODAY_DAYS = 0.75  #: Due so soon is due today. [d]
CREEP_DAYS = 30.0  #: A cold bottle that would pass its limit so soon is mentioned. [d]
WEEK_DAYS = 7.0  #: [d]
HOPELESS = 2.0  #: From so many times the limit on, what a burp buys is not worth telling. [-]

#: What can be told of a filling: least and most. Outside, nothing is foretold and nothing filled.
FILLS: dict[str, tuple[float, float]] = {
    "count": (1, 60),
    "volume_ml": (50, 5000),
    "headspace_fraction": (0.005, 0.5),
    "spot_c": (2, 45),  # [degC]
    "headspace_cm": (0.01, 30),
    "sugar_g_per_l": (0, 25),
    "flavour_g_per_l": (0, 500),
    "limit_bar": (0.5, 15),
}


class BottleStep(StrEnum):
    """What to do with a bottle."""

    LOOSE = "Not closed for fizz: keep cold, drink within days."
    CREEPS = "Cold slows it, not stops it: drink it soon."
    COLD = "Cold. Open it over a bowl, lid held down."
    PAST = "May be past its limit. Do not carry or open it warm: towel over it, goggles, gloves; let it cool where it stands."
    PAST_COLD = (
        "May be past its limit even cold. Towel over it, goggles, gloves; open it cold, lid held down over a bowl."
    )
    FAR = "Far from its limit. Taste one in a few days."
    OPEN_COLD = "Open it cold, lid held down over a bowl: carried out and warmed, its gas could press past its limit."
    NOW = "Chill now."
    TODAY = "Chill today."
    BY = "Chill by"  #: The day is said behind it.
    SPOILED = "Do not drink or give it:"  #: What was seen in its brew is said behind it.


PRESSING = {BottleStep.SPOILED, BottleStep.CREEPS, BottleStep.PAST, BottleStep.PAST_COLD, BottleStep.NOW, BottleStep.TODAY}  #: These come first.

READY = {BottleStep.COLD, BottleStep.OPEN_COLD, BottleStep.CREEPS, BottleStep.LOOSE}  #: To be drunk as they stand.
TO_CHILL = {BottleStep.NOW, BottleStep.TODAY, BottleStep.BY}
CHILLED_TODAY = {BottleStep.NOW, BottleStep.TODAY}
GIVEN = {BottleStep.COLD, BottleStep.OPEN_COLD}  #: These may leave the house.
#: The same in a few words, for a line under a bottle.
SHORT = {
    BottleStep.LOOSE: "drink within days",
    BottleStep.CREEPS: "drink it soon",
    BottleStep.COLD: "good",
    BottleStep.PAST: "leave it standing",
    BottleStep.PAST_COLD: "only with towel and goggles",
    BottleStep.FAR: "still going",
    BottleStep.OPEN_COLD: "open it cold",
    BottleStep.NOW: "into the fridge now",
    BottleStep.TODAY: "fridge today",
    BottleStep.BY: "fridge by",  #: The day is said behind it.
    BottleStep.SPOILED: "do not drink it",
}


@dataclass(frozen=True, slots=True)
class BottleAdvice:
    """What to do, and by when."""

    step: BottleStep
    chill_by_day: float | None = None  #: [d since filling]
    passes_day: float | None = None  #: When a cold one could pass its limit all the same. [d since filling]

    @property
    def pressing(self) -> bool:
        """Whether this advice comes before what can wait."""
        return self.step in PRESSING


def advise(future: BottleForecast, state: str, limit_bar: float, day: float) -> BottleAdvice:
    """Return what to do with a bottle.

    Args:
        future: What is foretold of it.
        state: A BottleState.
        limit_bar: What it may hold; 0: not made for pressure. [bar]
        day: Now. [d since filling]
    """
    if limit_bar == 0:
        return BottleAdvice(BottleStep.LOOSE)
    if state == BottleState.COLD:
        passes = future.passes_limit_day
        if future.at(day)[2] >= limit_bar:
            return BottleAdvice(BottleStep.PAST_COLD)
        if passes is not None and passes - day < CREEP_DAYS:
            return BottleAdvice(BottleStep.CREEPS, passes_day=passes)
        warm = future.passes_warm_day
        return BottleAdvice(BottleStep.OPEN_COLD if warm is not None and warm <= day else BottleStep.COLD, passes_day=passes)
    if may_be_past(future, state, limit_bar, day):
        return BottleAdvice(BottleStep.PAST)
    by = future.chill_by_day
    if by is None:
        return BottleAdvice(BottleStep.FAR)
    left = by - day
    return BottleAdvice(BottleStep.NOW if left <= 0 else BottleStep.TODAY if left <= TODAY_DAYS else BottleStep.BY, by)


def may_be_past(future: BottleForecast, state: str, limit_bar: float, day: float) -> bool:
    """Return whether a bottle at room temperature may press more than it can hold. [bar, d since filling]"""
    return limit_bar > 0 and state == BottleState.WARM and future.at(day)[2] >= limit_bar


def in_a_week(future: BottleForecast, limit_bar: float, day: float) -> tuple[float, float, bool]:
    """Return the likely and the high pressure a week on, and whether that is over the limit. [bar]"""
    _, likely, high = future.at(day + WEEK_DAYS)
    return likely, high, high >= limit_bar


def burp_is_worth_telling(future: BottleForecast, state: str, limit_bar: float, day: float) -> bool:
    """Return whether it helps to say what a burp buys. [bar, d since filling]"""
    return state == BottleState.WARM and future.at(day + WEEK_DAYS)[2] < HOPELESS * limit_bar


class PressureRange(StrEnum):
    """Whether a bottle gets to a wished fizz while it may still be warm."""

    FITS = "fits"  #: Before it must be cold.
    TESTER = "tester"  #: Only after that: one of the filling has to tell first.
    SLOW = "slow"  #: Not within the days looked ahead.
    TOO_MUCH = "too much"  #: Too near what this bottle can hold.


@dataclass(frozen=True, slots=True)
class Offer:
    """A fizz, and whether it is to be had."""

    name: str
    reach: PressureRange
    day: float | None  #: When it is likely there. [d since filling]
    instead: tuple[str, ...] = ()  #: Kinds of bottle that would hold it without a tester.


def offers(future: BottleForecast, celsius: float, headspace_fraction: float) -> list[Offer]:
    """Return, for each fizz, whether it is reached before a bottle must be cold.

    Args:
        future: What is foretold.
        celsius: Where it stands. [degC]
        headspace_fraction: Share of the bottle that is gas. [-]
    """
    out = []
    for name in TARGETS:
        if name not in future.target_days:
            out.append(Offer(name, PressureRange.TOO_MUCH, None, tuple(would_hold(name, celsius, headspace_fraction))))
            continue
        day, by = future.target_days[name], future.chill_by_day
        if day is None:
            out.append(Offer(name, PressureRange.SLOW, None))
        elif by is None or day <= by:
            out.append(Offer(name, PressureRange.FITS, day))
        else:
            high = future.at(day)[2]
            holds = [kind.name for kind in BOTTLES.values() if limit("chill_share") * kind.limit_bar > high]
            out.append(Offer(name, PressureRange.TESTER, day, tuple(holds)))
    return out


def fizz_word(volumes: float) -> str:
    """Return a word for gas. [volumes]

    >>> fizz_word(2.3), fizz_word(0.2)
    ('lively', 'still')
    """
    return next(word for least, word in FIZZ_WORDS if volumes >= least)


def alcohol_range(abv_percent: float) -> tuple[float, float]:
    """Return the range of alcohol to tell. [% ABV]

    >>> alcohol_range(1.0)
    (0.85, 1.8)
    """
    return max(LEAST_ABV, abv_percent * ALCOHOL_LOW), max(LEAST_ABV, abv_percent * ALCOHOL_HIGH)


def would_hold(target: str, celsius: float, headspace_fraction: float) -> list[str]:
    """Name the kinds of bottle that would hold so much gas.

    Args:
        target: still, soft, lively or sparkling: a key of TARGETS.
        celsius: Where it stands. [degC]
        headspace_fraction: Share of the bottle that is gas. [-]
    """
    needed = float(gauge_bar(TARGETS[target], celsius, headspace_fraction)) / limit("chill_share")
    return [kind.name for kind in BOTTLES.values() if kind.limit_bar > needed]


def nearness(pressing: bool, high_bar: float, limit_bar: float) -> tuple[bool, float]:
    """Order bottles by how near they are to their limit, the pressing first. [bar]"""
    return not pressing, -(high_bar / limit_bar if limit_bar else 0.0)
