"""Benchmark of a tapped vessel: does a household like what it draws, with pH read before and after each draw and without?

Each vessel hides its vigour, its tea's buffer, its meter's offset and how warm it really stands. Every three days, or as
soon as it is said to be right, as much is drawn as is advised, and topped up. A draw is liked when a taster whose point
is 4.0 g/L would call it right. Run by `make bench`; fails outside the limits.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass, field, replace

import numpy as np
from bench_forecast import BUFFER_SD, ROOM_SD_K, STEP, TARGET_TA

from kyklos.core.forecast import ForecastAsk, Observation, forecast
from kyklos.core.forecast.prior import culture_prior
from kyklos.core.liquid import Batch, Course, Draw, Kinetics, Point, Pour, Recipe, run
from kyklos.core.liquid.batch import Fill, fill_at
from kyklos.core.liquid.liquid import sweet_tea_of
from kyklos.core.liquid.taste import TASTE_STEEPNESS
from kyklos.core.tapped import Tapped, today

HOUSES, DAYS, EVERY, LINE_L = 14, 24.0, 3.0, 8.0
RIGHT = 0.7  #: A score so near to 0 is called right. [step]
LEAST_LIKED = 0.6  #: Of draws with pH before and after; and more often than without any.


@dataclass
class Vessel:
    """One made-up vessel: what is true of it, what its household believes, and what was drawn."""

    real: Batch
    believed: Batch
    kinetics: Kinetics
    buffer: float
    offset: float
    seen: tuple[Observation, ...] = ()
    drawn_g_per_l: list[float] = field(default_factory=list)

    def truth(self, day: float) -> tuple[float, float]:
        """Return pH and acidity as they are. [pH, g/L]"""
        out = replace(run(self.real, day + 0.01, kinetics=self.kinetics, step_days=STEP), buffer=np.exp([self.buffer]))
        return float(out.ph[-1, 0]), float(out.ta_g_per_l[-1, 0])

    def read(self, day: float, rng: np.random.Generator) -> None:
        """Read pH with a calibrated meter."""
        value = self.truth(day)[0] + self.offset + float(rng.normal(0, 0.05))
        self.seen = (*self.seen, Observation(day, "ph", round(value, 2)))

    def draw(self, day: float, litres: float) -> None:
        """Draw so much and top up with sweet tea."""
        self.drawn_g_per_l.append(self.truth(day)[1])
        happened = (Draw(day, litres), Pour(day, replace(sweet_tea_of(self.real.recipe), litres=litres)))
        self.real, self.believed = self.real.with_events(*happened), self.believed.with_events(*happened)


def make(rng: np.random.Generator) -> Vessel:
    """Make up a vessel whose room nobody measured."""
    usual_c = float(rng.uniform(21, 26))
    recipe = Recipe(starter_fraction=0.15, starter_ph=3.1, sugar_g_per_l=float(rng.uniform(50, 75)), leaf_g_per_l=float(rng.uniform(5, 8)))
    really_c = usual_c + float(rng.normal(0, ROOM_SD_K))
    real, believed = (Batch(recipe=recipe, course=Course((), c), litres=LINE_L) for c in (really_c, usual_c))
    vigours = np.exp(rng.normal(0, 0.25, 2))
    return Vessel(real, believed, Kinetics(*vigours), float(rng.normal(0, BUFFER_SD)), float(rng.normal(0, 0.03)))


def advised(vessel: Vessel, day: float, reads: bool) -> tuple[float, float | None]:
    """Ask what may be drawn now, and when it is right. [L, d from now]"""
    points = (Point("", TARGET_TA),)
    ask = ForecastAsk(
        batch=vessel.believed, observations=vessel.seen, prior=culture_prior("sugar", ()), points=points, days=max(3, int(day) + 2)
    )
    out, fill = forecast(ask), fill_at(vessel.believed, day)
    now = today(
        Tapped(
            recipe=ask.recipe,
            course=ask.course,
            now=day,
            state=tuple(round(float(v), 4) for v in out.state_at(day)),
            fill=Fill(LINE_L, fill.surface_per_volume_per_cm, fill.inert),
            line_l=LINE_L,
            yeast_vigour=out.posterior.yeast_vigour,
            bacteria_vigour=out.posterior.bacteria_vigour,
            points=points,
            every_days=EVERY,
            measures_after=reads,
        )
    )
    return now.litres, now.ready_in


def lived(seed: int, reads: bool) -> list[float]:
    """Let a household draw from a vessel as it is advised; gives the acidity of each draw but the first. [g/L]"""
    rng = np.random.default_rng(seed)
    vessel, day = make(rng), 3.0
    while day < DAYS:
        if reads:
            vessel.read(day, rng)
        litres, wait = advised(vessel, day, reads)
        if wait is None or wait > 0.25 or litres <= 0:
            day += min(round((wait or 1.0) * 4) / 4, EVERY) or 0.25
            continue
        vessel.draw(day, round(litres, 2))
        if reads:
            vessel.read(day, rng)
        day += EVERY
    return vessel.drawn_g_per_l[1:]


def main() -> int:
    """Print how often draws were liked; 1 when a limit is broken."""
    print("| draws from a tapped vessel | draws | liked | acidity, 10 to 90 % |\n|---|--:|--:|--:|")
    liked = {}
    for reads, name in ((False, "no pH"), (True, "pH before and after each draw")):
        all_drawn = np.array([ta for seed in range(HOUSES) for ta in lived(100 + seed, reads)])
        liked[reads] = float(np.mean(np.abs(TASTE_STEEPNESS * np.log(all_drawn / TARGET_TA)) <= RIGHT))
        low, high = np.quantile(all_drawn, (0.1, 0.9))
        print(f"| {name} | {len(all_drawn)} | {liked[reads]:.0%} | {low:.1f} to {high:.1f} g/L |")
    ok = liked[True] > liked[False] and liked[True] >= LEAST_LIKED
    print("\n" + ("Within the limits." if ok else "Outside the limits: reading pH does not help."))
    return 0 if ok else 1


if __name__ == "__main__":
    sys.exit(main())
