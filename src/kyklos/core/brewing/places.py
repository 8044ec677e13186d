"""Where to put a brew: places ranked by warmth, season, light, reach and rival ferments, and planning back from a day."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..base import limit, require_between
from ..forecast import Prior, Window
from ..liquid import Point
from ..liquid.standing import FAR_OFF_K
from ..liquid.taste import is_jun
from .planner import BrewPlan, foretell

LIGHTS = {"dark": "Dark", "shade": "Shade", "sun": "Sun"}
REACHES = {"easy": "Easy to reach", "high": "High or far"}
WARMEST_DAY = 205  #: Of the northern year (assumed). [d]
SPAN_DAYS, LEAST_SPANS = 3.0, 2  #: Readings so near count once; fewer spans teach nothing (assumed). [d, -]
SPAN_SD_K, OFFSET_SD_K = 1.2, 1.5  #: How a span differs from a place's own warmth, and a place from its recorded warmth (assumed). [K]
LEAST_C, MOST_C = 16.0, 33.0  #: Where a first ferment works. [degC]
SAME_DAY = 0.5  #: So near to now is today. [d]
LIKED = {"sugar": (21.0, 26.0), "jun": (18.0, 24.0)}  #: [degC]


def seasonal(winter_c: float, summer_c: float, day_of_year: int, southern: bool = False) -> float:
    """Return how warm a place is at a time of the year, from its coldest and warmest month. [degC]

    >>> round(seasonal(15, 25, 205)), round(seasonal(15, 25, 205, southern=True))
    (25, 15)
    """
    require_between(-20, 50, "degC", winter_c=winter_c, summer_c=summer_c)
    turn = math.cos(2 * math.pi * (day_of_year - WARMEST_DAY) / 365.25) * (-1 if southern else 1)
    return (winter_c + summer_c) / 2 + (summer_c - winter_c) / 2 * turn


def learned_offset(looks: Sequence[tuple[float, float]]) -> float:
    """Learn by how much a place is warmer than its recorded warmth.

    Args:
        looks: Day, and measured less usual, in any order; readings within some days of each other count once. [d, K]

    Returns: 0 until two such spans were measured; drawn towards 0 while they are few. [K]

    >>> learned_offset([(0, 2.0), (0.5, 2.0)]), round(learned_offset([(3.0 * i, 2.0) for i in range(10)]), 1)
    (0.0, 1.9)
    """
    spans: dict[int, list[float]] = {}
    for day, kelvin in looks:
        if abs(kelvin) <= FAR_OFF_K:  # else it was another room for a while
            spans.setdefault(int(day // SPAN_DAYS), []).append(kelvin)
    if len(spans) < LEAST_SPANS:
        return 0.0
    doubt = (SPAN_SD_K / OFFSET_SD_K) ** 2
    return sum(sum(some) / len(some) for some in spans.values()) / (len(spans) + doubt)


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceTold:
    """A place as it is now."""

    key: int
    name: str
    celsius: float  #: Now. [degC]
    measured: bool = False  #: From readings of the last weeks rather than the recorded warmth.
    light: str = "shade"
    reach: str = "easy"
    rivals: bool = False


@dataclass(frozen=True, slots=True)
class PlaceAdvice:
    """A place for this brew."""

    place: PlaceTold
    rank: float  #: Smaller is better.
    window: Window  #: Of the first taster. [d]
    says: tuple[str, ...]

    @property
    def fits(self) -> bool:
        """Whether a brew should stand there at all."""
        return LEAST_C <= self.place.celsius <= MOST_C


def _faults(place: PlaceTold, jun: bool) -> list[tuple[float, str]]:
    low, high = LIKED["jun" if jun else "sugar"]
    out = []
    if place.celsius < LEAST_C or place.celsius > MOST_C:
        out.append((50.0, "too cold to work" if place.celsius < LEAST_C else "too warm for a culture"))
    elif place.celsius < low:
        out.append((low - place.celsius, "cool: slow, and slower to protect itself"))
    elif place.celsius > high:
        out.append(
            (
                1.5 * (place.celsius - high),
                "warm: fast, yeasty"
                if place.celsius < limit("pitch_high")
                else "⟦temperature:30⟧ and more favours yeast and off-flavours",
            )
        )
    if place.light == "sun":
        out.append((6.0, "in the sun: it heats by day and cools by night"))
    if place.rivals:
        out.append((5.0, "other ferments stand near: keep covers and tools apart"))
    if place.reach == "high":
        out.append((3.0, "hard to reach: it gets tasted too rarely"))
    return out


def advise(plan: BrewPlan, places: tuple[PlaceTold, ...], prior: Prior, points: tuple[Point, ...]) -> list[PlaceAdvice]:
    """Rank places for a brew, best first.

    Args:
        plan: The brew.
        places: As they are now.
        prior, points: As the forecast of the plan has them.
    """
    jun = is_jun(plan.recipe.honey_share)
    out = []
    for place in places:
        faults = _faults(place, jun)
        window = next(iter(foretell(plan, prior, points, place.celsius).ready.values()))
        says = tuple(text for _, text in faults) or ("warm enough, steady, in reach",)
        out.append(PlaceAdvice(place, sum(weight for weight, _ in faults), window, says))
    return sorted(out, key=lambda advice: (advice.rank, advice.place.name))


@dataclass(frozen=True, slots=True)
class Backwards:
    """How a place could have it ready on a day."""

    place: PlaceTold
    pitch_in_days: float  #: From now; negative: too late. [d]

    @property
    def too_late(self) -> bool:
        """Whether it would have had to be started before today."""
        return self.pitch_in_days < -SAME_DAY

    @property
    def today(self) -> bool:
        """Whether it is to be started today."""
        return abs(self.pitch_in_days) <= SAME_DAY


def plan_back(advice: list[PlaceAdvice], wanted_in_days: float) -> list[Backwards]:
    """Return for each fitting place when to pitch so that it is likely right on a day; soonest pitch last.

    Args:
        advice: Places with their windows.
        wanted_in_days: The day wanted, from now. [d]
    """
    out = [Backwards(a.place, wanted_in_days - a.window.p50) for a in advice if a.fits and a.window.p50 is not None]
    return sorted(
        out, key=lambda b: (b.pitch_in_days < 0, -b.pitch_in_days if b.pitch_in_days < 0 else b.pitch_in_days)
    )
