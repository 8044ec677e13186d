"""Benchmark of the forecast: is it honest, is it near, is it quick? Run by `make bench`; fails outside the limits.

Each synthetic brew hides its vigour, starter activity, true starter pH and meter offset, wanders in temperature and
makes acid with yields that the fit does not know. The forecast sees the recipe, rounded daily temperatures and 0 to 3
noisy calibrated readings in the first half. Ready is the day when acidity reaches 4.0 g/L.
"""

from __future__ import annotations

import sys
import time
from dataclasses import dataclass, replace

import numpy as np

from kyklos.core import acids
from kyklos.core.batch import Batch, run
from kyklos.core.diagnosis import pace_of
from kyklos.core.ferment import (
    BACTERIA,
    ETHANOL_YIELD,
    YEAST,
    Kinetics,
    Recipe,
    start_state,
)
from kyklos.core.forecast import AT_ODDS, ForecastAsk, Observation, Prior, forecast
from kyklos.core.taste import Point
from kyklos.core.temperature import Course, step_ratios

BREWS = 300
HORIZON = 40
TARGET_TA = 4.0
STEP = 0.125
LIMITS = {"coverage": (0.75, 0.88), "error": 0.8, "milliseconds": 60.0}


@dataclass
class Brew:
    """One synthetic brew: what is known, what is true, what was read."""

    recipe: Recipe
    logged: list[tuple[float, float]]
    usual_c: float
    true_day: float
    true_ph: np.ndarray
    offset: float


def make_brew(rng: np.random.Generator) -> Brew | None:
    """Draw a brew; None when it is no ferment of 6 to 16 days."""
    usual = rng.uniform(20, 27)
    wander = np.cumsum(rng.normal(0, 0.55, HORIZON + 1))
    daily = np.clip(usual + wander - np.linspace(0, 1, HORIZON + 1) * wander[-1] * 0.7, 16, 31)
    course = Course(tuple((float(d), float(c)) for d, c in enumerate(daily)))
    true_ph = rng.uniform(2.9, 3.4)
    told = Recipe(
        starter_fraction=float(rng.uniform(0.08, 0.2)),
        starter_ph=round(true_ph + rng.normal(0, 0.07), 2),
        sugar_g_per_l=float(rng.uniform(45, 80)),
        leaf_g_per_l=float(rng.uniform(4, 8)),
    )
    real = Recipe(
        starter_fraction=told.starter_fraction,
        starter_ph=true_ph,
        sugar_g_per_l=told.sugar_g_per_l,
        leaf_g_per_l=told.leaf_g_per_l,
    )
    state = start_state(real)
    activity = np.exp(rng.normal(0, 0.3))
    state[YEAST], state[BACTERIA] = np.minimum(1, state[YEAST] * activity), state[BACTERIA] * activity
    k = Kinetics(
        np.exp(rng.normal(0, 0.25)),
        np.exp(rng.normal(0, 0.25)),
        gluconic=np.exp(rng.normal(0, 0.25)),
        oxidation=np.exp(rng.normal(0, 0.08)),
        ethanol_yield=ETHANOL_YIELD * np.exp(rng.normal(0, 0.06)),
    )
    out = run(Batch(recipe=real, course=course), HORIZON, start=state, kinetics=k, step_days=STEP)
    over = out.ta_g_per_l[:, 0] >= TARGET_TA
    true_day = float(out.day[over.argmax()]) if over.any() else np.inf
    if not 6 <= true_day <= 16:
        return None
    logged = [(float(d), float(np.round(c + rng.normal(0, 0.4), 1))) for d, c in enumerate(daily)]
    return Brew(
        told,
        logged,
        usual,
        true_day,
        np.interp(np.arange(HORIZON * 8 + 1) / 8, out.day, out.ph[:, 0]),
        float(rng.normal(0, 0.03)),
    )


def readings(brew: Brew, count: int, rng: np.random.Generator) -> list[Observation]:
    """Read pH with a calibrated meter, spread over the first half of the ferment."""
    days = [float(np.round(brew.true_day * share * 8) / 8) for share in (0.2, 0.35, 0.5)][:count]
    return [
        Observation(d, "ph", round(float(brew.true_ph[int(d * 8)] + brew.offset + rng.normal(0, 0.05)), 2))
        for d in days
    ]


def ask_for(brew: Brew, seen: list[Observation]) -> ForecastAsk:
    """Put together what the household would know on the day of the last reading."""
    last = seen[-1].day if seen else 0.0
    known = tuple(point for point in brew.logged if point[0] <= last)
    return ForecastAsk(
        batch=Batch(recipe=brew.recipe, course=Course(known, brew.usual_c)),
        observations=tuple(seen),
        prior=Prior(spread=0.25),
        points=(Point("", TARGET_TA),),
    )


def straight_line(brew: Brew, seen: list[Observation]) -> float:
    """Draw a line through starting pH and readings to the pH that the target acidity has."""
    where = brew.recipe.medium
    starter = acids.starter_from_titration(TARGET_TA, where)
    target = float(acids.ph(starter.acetic_g_per_l, starter.gluconic_g_per_l, where))
    start = acids.start_ph(brew.recipe.starter, brew.recipe.starter_fraction, where)
    days, values = [0.0, *(s.day for s in seen)], [start, *(s.value for s in seen)]
    if not seen:
        return 9.0
    slope, level = np.polyfit(days, values, 1)
    return float(np.clip((target - level) / slope, 0, HORIZON)) if slope < -1e-3 else float(HORIZON)


WRONG = ("rates at half", "rates half again", "a heater that failed", "a stuck ferment")
WRONG_BREWS, WRONG_LIMIT = 120, 0.70
COLD_C, STALLED = 18.0, 0.02


def make_wrong(kind: str, rng: np.random.Generator) -> Brew:
    """Draw a brew that the household has the wrong idea of: ready may be never (inf)."""
    usual = float(rng.uniform(23, 27))
    told = Recipe(
        starter_fraction=float(rng.uniform(0.08, 0.2)),
        starter_ph=round(float(rng.uniform(2.9, 3.4)), 2),
        sugar_g_per_l=float(rng.uniform(45, 80)),
    )
    factor = {"rates at half": 0.5, "rates half again": 1.5}.get(kind, 1.0)
    steps = int(HORIZON / STEP)
    day = np.arange(steps + 1) * STEP
    yeast, bacteria = step_ratios(Course((), usual), steps, STEP)
    turn = int(rng.uniform(2, 4) / STEP)
    if kind == "a heater that failed":
        cold = step_ratios(Course((), COLD_C), steps, STEP)
        yeast, bacteria = (
            np.where(np.arange(steps) < turn, warm, c) for warm, c in zip((yeast, bacteria), cold, strict=True)
        )
    if kind == "a stuck ferment":
        yeast, bacteria = (np.where(np.arange(steps) < turn, ratio, ratio * STALLED) for ratio in (yeast, bacteria))
    k = Kinetics(factor * np.exp(rng.normal(0, 0.2)), factor * np.exp(rng.normal(0, 0.2)))
    out = run(
        Batch(recipe=told, course=Course((), usual)),
        HORIZON,
        kinetics=k,
        step_days=STEP,
        ratios=lambda _: (yeast, bacteria),
    )
    over = out.ta_g_per_l[:, 0] >= TARGET_TA
    true_ph = np.interp(np.arange(HORIZON * 8 + 1) / 8, day, out.ph[:, 0])
    ready = float(day[over.argmax()]) if over.any() else np.inf
    return Brew(told, [(0.0, usual)], usual, ready, true_ph, float(rng.normal(0, 0.03)))


def flagged(ask: ForecastAsk) -> bool:
    """Say whether the readings are told apart from what was expected: slow, stuck or fast."""
    last = ask.observations[-1]
    alone = forecast(replace(ask, observations=()))
    low, _, high = alone.at(alone.ph, last.day)
    values = [seen.value for seen in ask.observations]
    still = max((last.day - s.day for s in ask.observations if s.value - last.value < 0.05), default=0.0)
    return (
        pace_of(last.value, 0.05, low, high, still, values[0] - values[-1]) != "usual"
        or forecast(ask).contradicted >= AT_ODDS
    )


def wrong_models(rng: np.random.Generator) -> list[str]:
    """Print how brews fare whose model is wrong; gives what is outside the limit."""
    print("\n| wrong model, readings on days 2, 4, 7, 9 | truth inside | flagged | either |\n|---|--:|--:|--:|")
    failed = []
    for kind in WRONG:
        inside, flags = [], []
        for _ in range(WRONG_BREWS):
            brew = make_wrong(kind, rng)
            seen = tuple(
                Observation(d, "ph", round(float(brew.true_ph[int(d * 8)] + brew.offset + rng.normal(0, 0.05)), 2))
                for d in (2.0, 4.0, 7.0, 9.0)
                if d < brew.true_day
            )
            if not seen:
                continue
            ask = ForecastAsk(
                batch=Batch(recipe=brew.recipe, course=Course((), brew.usual_c)),
                observations=seen,
                points=(Point("", TARGET_TA),),
            )
            window = forecast(ask).ready[""]
            low, high = (d if d is not None else np.inf for d in (window.p10, window.p90))
            inside.append(low <= brew.true_day <= high)
            flags.append(flagged(ask))
        either = float(np.mean([a or b for a, b in zip(inside, flags, strict=True)]))
        print(f"| {kind} | {np.mean(inside):.0%} | {np.mean(flags):.0%} | {either:.0%} |")
        if either < WRONG_LIMIT:
            failed.append(f"{kind}: only {either:.0%} kept the truth or were flagged")
    return failed


def main() -> int:
    """Print the table; 1 when a limit is broken."""
    rng = np.random.default_rng(11)
    brews: list[Brew] = []
    while len(brews) < BREWS:
        if (brew := make_brew(rng)) is not None:
            brews.append(brew)
    print(f"{BREWS} synthetic brews, ready on day {np.median([b.true_day for b in brews]):.1f} at the median\n")
    print(
        "| readings | median error, forecast | straight line | always nine days | truth inside 10-90 % | ms of one core a forecast |"
    )
    print("|--:|--:|--:|--:|--:|--:|")
    failed = []
    forecast(ask_for(brews[0], []))
    for count in range(4):
        error, line, nine, inside, spent = [], [], [], [], []
        for brew in brews:
            seen = readings(brew, count, rng)
            started = time.process_time()
            window = forecast(ask_for(brew, seen)).ready[""]
            spent.append((time.process_time() - started) * 1000)
            low, middle, high = (d if d is not None else np.inf for d in (window.p10, window.p50, window.p90))
            error.append(abs(min(middle, HORIZON) - brew.true_day))
            line.append(abs(straight_line(brew, seen) - brew.true_day))
            nine.append(abs(9 - brew.true_day))
            inside.append(low <= brew.true_day <= high)
        coverage, milliseconds = float(np.mean(inside)), float(np.median(spent))
        print(
            f"| {count} | {np.median(error):.2f} d | {np.median(line):.2f} d | {np.median(nine):.2f} d | "
            f"{coverage:.0%} | {milliseconds:.0f} |"
        )
        if not LIMITS["coverage"][0] <= coverage <= LIMITS["coverage"][1]:
            failed.append(f"coverage after {count} readings is {coverage:.1%}")
        if milliseconds > LIMITS["milliseconds"]:
            failed.append(f"a forecast takes {milliseconds:.0f} ms")
        if count == 3 and np.median(error) > LIMITS["error"]:
            failed.append(f"the median error after three readings is {np.median(error):.2f} d")
    failed += wrong_models(np.random.default_rng(7))
    print("\n" + ("Outside the limits: " + "; ".join(failed) if failed else "Within the limits."))
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
