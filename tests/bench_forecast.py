"""Benchmark of the forecast: is it honest, is it near, is it quick? Run by `make bench`; fails outside the limits.

Each synthetic brew hides its vigour, starter activity, true starter pH and meter offset, wanders in temperature and
makes acid with yields that the fit does not know. The forecast sees the recipe, rounded daily temperatures and 0 to 3
noisy calibrated readings in the first half. Ready is the day when acidity reaches 4.0 g/L. Other households make it
harder: tea that buffers otherwise, a room that nobody measures, one reading in fifteen that is wild, and titrations of
liquid with its gas still in it.
"""

from __future__ import annotations

import sys
import time
from dataclasses import dataclass, replace

import numpy as np

from kyklos.core.forecast.answer import AT_ODDS, forecast
from kyklos.core.forecast.ask import MEASURED_SD_K, ForecastAsk, Observation, Prior
from kyklos.core.forecast.hindsight import surprise
from kyklos.core.forecast.prior import culture_prior
from kyklos.core.judging.diagnosis import pace_of
from kyklos.core.liquid import acids
from kyklos.core.liquid.batch import Batch, run
from kyklos.core.liquid.ferment import BACTERIA, ETHANOL_YIELD, YEAST, Kinetics, Recipe, start_state
from kyklos.core.liquid.standing import Stood, course_through
from kyklos.core.liquid.taste import Point
from kyklos.core.liquid.temperature import Course, step_ratios

HORIZON = 40
TARGET_TA = 4.0
STEP = 0.125
LIMITS = {"coverage": (0.75, 0.88), "milliseconds": 60.0}
BUFFER_SD, ROOM_SD_K, WILD_SHARE, GAS_G_PER_L = 0.35, 1.5, 1 / 15, 1.6
LINE_SD = 0.18  #: Of ln vigour, between brews of a line. [-]
WILD_PH = (0.5, 2.0)  #: So far off is a wild reading. [pH]


@dataclass(frozen=True)
class House:
    """How a household makes a forecast hard, and the error in days that is still allowed after three readings."""

    name: str
    error: float | None = 0.8
    brews: int = 300
    buffers: bool = False
    unmeasured: bool = False
    wild: bool = False
    one_wild: bool = False  #: One of three readings is.
    titrates: bool = False


HOUSES = (
    House("plain"),
    House("true buffers", buffers=True),
    House("unmeasured rooms", error=0.95, buffers=True, unmeasured=True),
    House("wild readings", error=0.95, buffers=True, wild=True),
    House("unmeasured and wild", error=0.95, buffers=True, unmeasured=True, wild=True),
    House("one wild of three", error=1.2, brews=200, buffers=True, one_wild=True),
    House("undegassed titrations", error=None, buffers=True, titrates=True),
)


@dataclass
class Brew:
    """One synthetic brew: what is known, what is true, what was read."""

    recipe: Recipe
    logged: list[tuple[float, float]]
    usual_c: float
    true_day: float
    true_ph: np.ndarray
    offset: float
    true_ta: np.ndarray | None = None
    measured: bool = True


def make_brew(
    rng: np.random.Generator, house: House, line: tuple[float, float] | None = None, buffer: float | None = None
) -> Brew | None:
    """Draw a brew; None when it is no ferment of 6 to 16 days. A line's brews differ less, and share a tea's buffer."""
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
        *np.exp(rng.normal(line or (0.0, 0.0), 0.25 if line is None else LINE_SD)),
        gluconic=np.exp(rng.normal(0, 0.25)),
        oxidation=np.exp(rng.normal(0, 0.08)),
        ethanol_yield=ETHANOL_YIELD * np.exp(rng.normal(0, 0.06)),
    )
    out = run(Batch(recipe=real, course=course), HORIZON, start=state, kinetics=k, step_days=STEP)
    leaf = rng.normal(0, BUFFER_SD) if house.buffers else 0.0
    out = replace(out, buffer=np.exp([leaf if buffer is None else buffer]))
    over = out.ta_g_per_l[:, 0] >= TARGET_TA
    true_day = float(out.day[over.argmax()]) if over.any() else np.inf
    if not 6 <= true_day <= 16:
        return None
    logged = [(float(d), float(np.round(c + rng.normal(0, 0.4), 1))) for d, c in enumerate(daily)]
    told_c = float(np.mean(daily[: int(true_day)]) + rng.normal(0, ROOM_SD_K)) if house.unmeasured else usual
    grid = np.arange(HORIZON * 8 + 1) / 8
    return Brew(
        told,
        logged,
        told_c,
        true_day,
        np.interp(grid, out.day, out.ph[:, 0]),
        float(rng.normal(0, 0.03)),
        np.interp(grid, out.day, out.ta_g_per_l[:, 0]),
        not house.unmeasured,
    )


def readings(brew: Brew, count: int, rng: np.random.Generator, house: House) -> list[Observation]:
    """Read pH with a calibrated meter, or titrate, spread over the first half of the ferment."""
    days = [float(np.round(brew.true_day * share * 8) / 8) for share in (0.2, 0.35, 0.5)][:count]
    if house.titrates:
        return [_titrated(brew, d, rng) for d in days]
    share = WILD_SHARE if house.wild else 0.0
    chosen = int(rng.integers(3)) if house.one_wild else -1
    return [_read(brew, d, rng, 1.0 if number == chosen else share) for number, d in enumerate(days)]


def _read(brew: Brew, day: float, rng: np.random.Generator, wild_share: float) -> Observation:
    """Read pH; a wild one is another jar's, by a probe not rinsed, a slip of the pen."""
    true = float(brew.true_ph[int(day * 8)])
    if wild_share and rng.uniform() < wild_share:
        return Observation(
            day, "ph", round(float(np.clip(true + rng.choice([-1, 1]) * rng.uniform(*WILD_PH), 1.5, 8)), 2)
        )
    return Observation(day, "ph", round(true + brew.offset + float(rng.normal(0, 0.05)), 2))


def _titrated(brew: Brew, day: float, rng: np.random.Generator) -> Observation:
    """Titrate a sample with some of its gas still in it."""
    assert brew.true_ta is not None
    found = float(brew.true_ta[int(day * 8)]) * float(np.exp(rng.normal(0, 0.05))) + float(rng.uniform(0, GAS_G_PER_L))
    return Observation(day, "ta", round(found, 2), degassed=False)


def ask_for(brew: Brew, seen: list[Observation]) -> ForecastAsk:
    """Put together what the household would know on the day of the last reading."""
    last = seen[-1].day if seen else 0.0
    known = tuple(point for point in brew.logged if point[0] <= last) if brew.measured else ()
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
        or any(surprise(replace(ask, observations=ask.observations[: n + 1])) for n in range(len(ask.observations)))
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
                warmth_sd_k=MEASURED_SD_K,
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


def fare(house: House, rng: np.random.Generator) -> list[str]:
    """Print how a household's forecasts fare; gives what is outside the limits."""
    brews: list[Brew] = []
    while len(brews) < house.brews:
        if (brew := make_brew(rng, house)) is not None:
            brews.append(brew)
    failed = []
    forecast(ask_for(brews[0], []))
    for count in range(4):
        error, line, inside, spent = [], [], [], []
        for brew in brews:
            seen = readings(brew, count, rng, house)
            started = time.process_time()
            window = forecast(ask_for(brew, seen)).ready[""]
            spent.append((time.process_time() - started) * 1000)
            low, middle, high = (d if d is not None else np.inf for d in (window.p10, window.p50, window.p90))
            error.append(abs(min(middle, HORIZON) - brew.true_day))
            line.append(abs(straight_line(brew, seen) - brew.true_day))
            inside.append(low <= brew.true_day <= high)
        coverage, milliseconds = float(np.mean(inside)), float(np.median(spent))
        nine = np.median([abs(9 - brew.true_day) for brew in brews])
        drawn = "" if house.titrates else f"{np.median(line):.2f} d"
        print(
            f"| {house.name} | {count} | {np.median(error):.2f} d | {drawn} | {nine:.2f} d | {coverage:.0%} "
            f"| {milliseconds:.0f} |"
        )
        if not LIMITS["coverage"][0] <= coverage <= LIMITS["coverage"][1]:
            failed.append(f"{house.name}: coverage after {count} readings is {coverage:.1%}")
        if house.name == "plain" and milliseconds > LIMITS["milliseconds"]:
            failed.append(f"a forecast takes {milliseconds:.0f} ms")
        if count == 3 and house.error is not None and np.median(error) > house.error:
            failed.append(f"{house.name}: the median error after three readings is {np.median(error):.2f} d")
    return failed


STEP_K, STEPPED = 8.0, 150


def make_stepped(rng: np.random.Generator) -> tuple[Brew, float, float]:
    """Draw a brew whose room changes by 8 K some day, unlogged: the brew, when, and how warm it is from then on. [d, degC]"""
    while True:
        usual = float(rng.uniform(21, 27))
        other = usual + (STEP_K if usual < 24 else -STEP_K)
        told = Recipe(
            starter_fraction=float(rng.uniform(0.08, 0.2)),
            starter_ph=round(float(rng.uniform(2.9, 3.4)), 2),
            sugar_g_per_l=float(rng.uniform(45, 80)),
        )
        steps = int(HORIZON / STEP)
        turn = int(rng.uniform(1.5, 5) / STEP)
        both = zip(*(step_ratios(Course((), celsius), steps, STEP) for celsius in (usual, other)), strict=True)
        yeast, bacteria = (np.where(np.arange(steps) < turn, here, then) for here, then in both)
        out = run(
            Batch(recipe=told, course=Course((), usual)),
            HORIZON,
            kinetics=Kinetics(*np.exp(rng.normal(0, 0.2, 2))),
            step_days=STEP,
            ratios=lambda _, told=(yeast, bacteria): told,
        )
        over = out.ta_g_per_l[:, 0] >= TARGET_TA
        ready = float(out.day[over.argmax()]) if over.any() else np.inf
        if 5 <= ready <= 30:
            true_ph = np.interp(np.arange(HORIZON * 8 + 1) / 8, out.day, out.ph[:, 0])
            return Brew(told, [(0.0, usual)], usual, ready, true_ph, float(rng.normal(0, 0.03))), turn * STEP, other


def stepped(rng: np.random.Generator) -> list[str]:
    """Print how brews fare whose room changed unlogged, asked for its warmth where a reading surprises; gives what is outside the limit."""
    inside, answered = [], 0
    for _ in range(STEPPED):
        brew, turn, other = make_stepped(rng)
        here, course, seen = Stood(since=0.0, until=None, usual_c=brew.usual_c), ((0.0, brew.usual_c),), ()
        for share in (0.25, 0.45, 0.65):
            day = float(np.round(brew.true_day * share * 8) / 8)
            seen = (*seen, _read(brew, day, rng, 0.0))
            ask = ForecastAsk(
                batch=Batch(recipe=brew.recipe, course=course_through([here], course)),
                observations=seen,
                prior=Prior(spread=0.25),
                points=(Point("", TARGET_TA),),
                warmth_sd_k=MEASURED_SD_K,
            )
            if surprise(ask):
                course = (*course, (day, round(float((other if day > turn else brew.usual_c) + rng.normal(0, 0.4)), 1)))
                ask, answered = ask.on(course_through([here], course)), answered + 1
        window = forecast(ask).ready[""]
        low, high = (d if d is not None else np.inf for d in (window.p10, window.p90))
        inside.append(low <= brew.true_day <= high)
    print(f"\nA room that changes by 8 K, unlogged: truth inside {np.mean(inside):.0%}, its warmth asked for {answered / STEPPED:.1f} times a brew.")
    ok = LIMITS["coverage"][0] <= np.mean(inside) <= LIMITS["coverage"][1] + 0.04  # answered they are sure of more than is needed
    return [] if ok else [f"an unlogged step: coverage is {np.mean(inside):.0%}"]


LINES, EARLIER, LINE_ERROR = 450, 5, 0.7  #: So many that the median is known to 0.03 d. [-, -, d]


def of_a_line(rng: np.random.Generator) -> list[str]:
    """Print how the sixth brew of a line fares, its tea in one water; gives what is outside the limits."""
    house = House("", buffers=True)
    print("\n| the sixth brew of a line, three readings | median error | truth inside |\n|---|--:|--:|")
    fared: dict[str, tuple[list[float], list[bool]]] = {"nothing carried over": ([], []), "vigour and buffer carried over": ([], [])}
    for _ in range(LINES):
        line, buffer = tuple(rng.normal(0, 0.25, 2)), float(rng.normal(0, BUFFER_SD))
        brews: list[Brew] = []
        while len(brews) <= EARLIER:
            if (brew := make_brew(rng, house, line, buffer)) is not None:
                brews.append(brew)
        seen = [readings(brew, 3, rng, house) for brew in brews]
        asks = [replace(ask_for(brew, some), prior=culture_prior("sugar", ())) for brew, some in zip(brews, seen, strict=True)]
        past = tuple(forecast(ask).posterior for ask in reversed(asks[:-1]))
        for name, told in zip(fared, (asks[-1], replace(asks[-1], prior=culture_prior("sugar", past))), strict=True):
            window = forecast(told).ready[""]
            low, middle, high = (d if d is not None else np.inf for d in (window.p10, window.p50, window.p90))
            fared[name][0].append(abs(min(middle, HORIZON) - brews[-1].true_day))
            fared[name][1].append(low <= brews[-1].true_day <= high)
    for name, (error, inside) in fared.items():
        print(f"| {name} | {np.median(error):.2f} d | {np.mean(inside):.0%} |")
    (before, _), (after, inside) = fared.values()
    failed = [] if np.median(after) < min(LINE_ERROR, np.median(before)) else ["a line's past does not help"]
    return failed if LIMITS["coverage"][0] <= np.mean(inside) <= LIMITS["coverage"][1] else [*failed, "a line's sixth brew: coverage"]


def main() -> int:
    """Print the tables; 1 when a limit is broken."""
    print(
        "| household | readings | median error | straight line | always nine days | truth inside 10-90 % | ms of a core |"
    )
    print("|---|--:|--:|--:|--:|--:|--:|")
    failed = [line for house in HOUSES for line in fare(house, np.random.default_rng(11))]
    failed += wrong_models(np.random.default_rng(7))
    failed += stepped(np.random.default_rng(4))
    failed += of_a_line(np.random.default_rng(21))
    print("\n" + ("Outside the limits: " + "; ".join(failed) if failed else "Within the limits."))
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
