"""What is known in the practice kitchen: the brew as a question to the forecast, the palate and the culture as learned from brews before."""

from __future__ import annotations

from functools import lru_cache

from ..forecast.answer import Forecast, forecast
from ..forecast.ask import ForecastAsk, Observation, Prior
from ..forecast.palate import Palate, Tasted, learn
from ..liquid import Batch, Course, Point
from .season import Jar, PlayedSeason

AHEAD_DAYS = 22  #: A brew is foretold so far. [d]
TASTER = "you"
SHARED_SPREAD = 0.15  #: Of ln vigour, from one brew of a culture to the next (assumed). [-]
WARMTH_EVERY = 3  #: Warmth is taken anew so often when nothing else was: equal questions come again. [d]


@lru_cache(maxsize=256)
def palate_of(past: tuple[ForecastAsk, ...]) -> Palate:
    """Learn where the one who drinks likes it, from all that was tasted of brews before."""
    tasted = []
    for ask in past:
        scores = [seen for seen in ask.observations if seen.kind == "taste"]
        out = forecast(ask) if scores else None
        tasted += [Tasted(seen.value, out.at(out.ta_g_per_l, seen.day)[1]) for seen in scores if out is not None]
    return learn(tasted)


@lru_cache(maxsize=256)
def prior_of(past: tuple[ForecastAsk, ...]) -> Prior:
    """Return what the last brew that was measured taught of the culture."""
    measured = [ask for ask in past if any(seen.kind == "ph" and seen.day > 1 for seen in ask.observations)]
    if not measured:
        return Prior()
    learned = forecast(measured[-1]).posterior
    return Prior(learned.yeast_vigour, learned.bacteria_vigour, SHARED_SPREAD, learned.buffer)


def ask_of(season: PlayedSeason) -> ForecastAsk | None:
    """Return what is known of the brew as a question to the forecast; None: the jar is empty."""
    jar = season.jar
    if jar is None:
        return None
    palate = palate_of(season.past)
    point = Point(TASTER, palate.ta_g_per_l, palate.sd)
    return ForecastAsk(
        batch=Batch(recipe=jar.batch.recipe, course=_course_known(season, jar), litres=jar.batch.litres),
        observations=_seen(jar, point),
        prior=prior_of(season.past),
        points=(point,),
        days=max(AHEAD_DAYS, jar.day(season.day) + 15),
    )


def plain_ask(season: PlayedSeason) -> ForecastAsk | None:
    """Return the same without what brews before taught: what is kept of a brew at its end."""
    jar = season.jar
    if jar is None:
        return None
    point = Point(TASTER, 4.0)
    batch = Batch(recipe=jar.batch.recipe, course=_course_known(season, jar), litres=jar.batch.litres)
    return ForecastAsk(batch=batch, observations=_seen(jar, point), points=(point,), days=max(AHEAD_DAYS, jar.day(season.day) + 15))


def _seen(jar: Jar, point: Point) -> tuple[Observation, ...]:
    seen = [Observation(reading.day, "ph", reading.ph) for reading in jar.readings]
    for at, value in jar.tastes:
        seen.append(Observation(max(0.2, at), "taste", float(value), taster=TASTER, point_g_per_l=point.ta_g_per_l, point_sd=point.sd))
    return tuple(sorted(seen, key=lambda one: one.day))


def _course_known(season: PlayedSeason, jar: Jar) -> Course:
    known = [reading.day for reading in jar.readings] + [at for at, _ in jar.tastes]
    days = min(len(jar.temps), max(int(max(known, default=0.0)) + 1, WARMTH_EVERY * (len(jar.temps) // WARMTH_EVERY)))
    points = tuple((float(number), celsius) for number, celsius in enumerate(jar.temps[:days]))
    return Course(points, None if points else season.jar_c)


def foretell(season: PlayedSeason) -> Forecast | None:
    """Foretell the brew by what is known of it; None: the jar is empty."""
    ask = ask_of(season)
    return None if ask is None else forecast(ask)
