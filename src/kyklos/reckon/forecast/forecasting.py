"""What is foretold of a brew: from its records, its line's own past and its tasters' points."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from functools import lru_cache

import numpy as np
from sqlalchemy.orm import Session, object_session

from ...core.base.kinds import SeenKind
from ...core.brewing.planner import prior_on
from ...core.forecast import Forecast, ForecastAsk, Posterior, Prior, carry_together, forecast
from ...core.forecast.ask import MEASURED_SD_K, UNMEASURED_SD_K
from ...core.forecast.hindsight import without_last
from ...core.forecast.prior import culture_prior
from ...core.liquid import Batch, Draw, Kinetics, Point, Pour, run, teas
from ...core.liquid.batch import fill_at
from ...core.liquid.events import Begun
from ...core.liquid.pouring import LEAST_L
from ...core.liquid.taste import usual_point
from ...core.tapped import CycleAsk
from ...core.tapped.cycle import MOST_SHARE, settle
from ...store.file.session import context_of
from ...store.read import lessons
from ...store.read.memory import remembered
from ...store.read.moments import days_between, since_start
from ...store.read.recorded import events_of, observations_of, recipe_of, stood_l
from ...store.records import Brew, Culture, Lesson
from .palates import STANDARD_TASTER, points_of
from .warmth import course_of, measured_of

PAST_BREWS = 5  #: How many earlier brews of a culture shape what is expected of it.
FORECAST_DAYS = 40
LATELY_DAYS, RUN_IN_DAYS = 21.0, 21.0  #: A tapped vessel is computed from so long ago, its state then from so long before. [d]
RUNS_ON_DAYS = 25  #: A tapped vessel is foretold so far after what last happened to it. [d]
IDLE_STEP_DAYS = 20  #: A forgotten one is looked at further in such steps, so that its forecast is asked anew seldom. [d]
MOST_DAYS = 200  #: No forecast is longer. [d]
NEARLY_SETTLED = 1e-3  #: Enough for a state that fades.
PRIOR_OF = (Lesson, Brew)  #: What a culture's ended brews taught is read from these alone.
DOUBT_SDS = 1.2816  #: Four starts in five lie within what is remembered as give or take. [sd]


def _ask(brew: Brew, prior: Prior, points: tuple[Point, ...], until: datetime | None = None) -> ForecastAsk:
    batch, expected = batch_of(brew, until), prior_on(prior, teas.vigour_of(teas.from_text(brew.tea)))
    ripe_from, days, found = 0.0, FORECAST_DAYS, math.inf if until is None else since_start(brew.pitched_at, until)
    if brew.runs:
        topped = [event.day for event in batch.events if isinstance(event, Pour)]
        batch = lately(batch, expected)
        ripe_from = max(topped, default=0.0)
        last = math.ceil(max([batch.from_day, *(event.day for event in batch.events)]))
        days = last + RUNS_ON_DAYS + (_idle(brew, last) if until is None else 0)
        days = min(days, int(batch.from_day) + MOST_DAYS)
    return ForecastAsk(
        batch=batch,
        observations=tuple(o for o in observations_of(brew, points) if batch.from_day <= o.day <= found),
        prior=expected,
        points=points,
        days=days,
        ripe_from=ripe_from,
        warmth_sd_k=MEASURED_SD_K if measured_of(brew) else UNMEASURED_SD_K,
        start_sd_days=0.0 if batch.begun is not None else round(brew.start_doubt_days / DOUBT_SDS, 3),
    )


def _idle(brew: Brew, last: float) -> int:
    """Return how much further a vessel is foretold because nobody touched it for long, in whole steps. [d]"""
    session = object_session(brew)
    now = context_of(session).now if session is not None else None
    idle = days_between(brew.pitched_at, now) - last if now is not None else 0.0
    return max(0, math.ceil((idle - RUNS_ON_DAYS / 2) / IDLE_STEP_DAYS)) * IDLE_STEP_DAYS


@lru_cache(maxsize=64)
def lately(batch: Batch, prior: Prior) -> Batch:
    """Compute a vessel that runs for long from a topping up some weeks ago only: what was before it has faded by then.

    Its state at that moment comes from the likeliest course of the weeks before, which begins in the cycle that it had settled to.

    Args:
        batch: With all its events.
        prior: What is expected of its culture.
    """
    topped = [event.day for event in batch.events if isinstance(event, Pour)]
    if not topped or topped[-1] < LATELY_DAYS + RUN_IN_DAYS:
        return batch
    first = max((day for day in topped if day <= topped[-1] - LATELY_DAYS), default=None)
    if first is None:
        return batch
    whole = topped[0] < LATELY_DAYS + RUN_IN_DAYS  # else its history is read from the middle
    run_in = max((day for day in topped if day <= first - RUN_IN_DAYS), default=0.0 if whole else topped[0])
    earlier = replace(batch, events=tuple(e for e in batch.events if run_in < e.day <= first), begun=_settled(batch, run_in, prior))
    speed = Kinetics(prior.yeast_vigour, prior.bacteria_vigour)
    state = run(earlier, first, kinetics=speed).state[-1, :, 0]
    fill = fill_at(earlier, first)
    begun = Begun(first, tuple(round(float(v), 4) for v in state), fill.litres, fill.surface_per_volume_per_cm, fill.inert)
    return replace(batch, events=tuple(e for e in batch.events if e.day > first), begun=begun)


def _settled(batch: Batch, day: float, prior: Prior) -> Begun | None:
    """Return what stood in a vessel at a topping up by the cycle that it had settled to; None: it is computed from its start."""
    before = [e for e in batch.events if e.day <= day]
    draws = [e for e in before if isinstance(e, Draw)]
    if day <= 0 or not draws:
        return None
    fill = fill_at(replace(batch, events=tuple(before)), day)
    every = min(max(day / len({round(e.day, 1) for e in draws}), 0.5), 30.0)
    share = min(sum(e.litres for e in draws) / len({round(e.day, 1) for e in draws}) / fill.litres, MOST_SHARE)
    cycle = settle(
        CycleAsk(
            recipe=batch.recipe,
            celsius=float(batch.course.at(np.array([day]))[0]),
            every_days=every,
            yeast_vigour=prior.yeast_vigour,
            bacteria_vigour=prior.bacteria_vigour,
        ),
        np.array([share]),
        settled=NEARLY_SETTLED,
    )
    state = tuple(round(float(v), 4) for v in cycle.after[:, 0])
    return Begun(day, state, fill.litres, fill.surface_per_volume_per_cm, cycle.inert)


def batch_of(brew: Brew, until: datetime | None = None) -> Batch:
    """Put together what a brew was started with, what happened to it, or had before a moment, and how warm it stood."""
    return Batch(
        recipe=recipe_of(brew),
        course=course_of(brew),
        litres=max(stood_l(brew), LEAST_L),
        events=events_of(brew, until),
    )


def untasted(brew: Brew, until: datetime | None = None) -> ForecastAsk:
    """Ask of a brew what its measurements alone tell: a taste must not teach the taster twice.

    Args:
        brew: The brew.
        until: As it was known then; nothing that happened or was measured later.
    """
    points = (Point(STANDARD_TASTER, usual_point(brew.honey_share)),)
    ask = _ask(brew, prior_of(brew.culture, brew.pitched_at, brew.tea), points, until)
    return replace(ask, observations=tuple(o for o in ask.observations if o.kind != SeenKind.TASTE))


def unspoilt(brew: Brew) -> ForecastAsk:
    """Ask of a brew as of a new culture's: what it teaches its line must not be taken from the line."""
    points = (Point(STANDARD_TASTER, usual_point(brew.honey_share)),)
    return _ask(brew, culture_prior(brew.culture.diet, ()), points)


def posterior_of(brew: Brew) -> Posterior:
    """Return what a brew teaches its line, its tea's own pace taken out."""
    learned = forecast(unspoilt(brew)).posterior
    slow = teas.vigour_of(teas.from_text(brew.tea))
    return replace(learned, yeast_vigour=learned.yeast_vigour / slow, bacteria_vigour=learned.bacteria_vigour / slow)


def taught_by(lesson: Lesson) -> Posterior | None:
    """Return what an ended brew taught, as it is kept; None where nobody measured or tasted it."""
    yeast, bacteria, yeast_sd, bacteria_sd = (
        lesson.yeast_vigour, lesson.bacteria_vigour, lesson.yeast_sd, lesson.bacteria_sd
    )  # fmt: skip
    if yeast is None or bacteria is None or yeast_sd is None or bacteria_sd is None:
        return None
    return Posterior(yeast, bacteria, yeast_sd, bacteria_sd, lesson.buffer or 0.0, tuple(lesson.covariance))


def _of_tea(taught: Posterior, same_tea: bool) -> Posterior:
    """Leave out how another tea buffered: it tells of the line's vigour alone."""
    return taught if same_tea else replace(taught, buffer=0.0, covariance=())


def prior_of(culture: Culture, before: datetime | None = None, tea: str = "") -> Prior:
    """Return what is expected of a culture from its own last brews that were measured or tasted; of a tea, how that buffers too."""
    session = object_session(culture)
    if session is None:
        return culture_prior(culture.diet, ())

    def make() -> Prior:
        past = [(taught_by(row), row.brew.tea == tea) for row in lessons.of_line(session, culture, before, PAST_BREWS)]
        return culture_prior(culture.diet, tuple(_of_tea(step, same) for step, same in past if step is not None))

    return remembered(session, ("prior", culture.id, culture.diet, before, tea), make, PRIOR_OF)


def forecast_ask_of(session: Session, brew: Brew) -> ForecastAsk:
    """Put together all that a brew's forecast depends on; once an hour, until something is written."""
    now = context_of(session).now
    hour = None if now is None else now.replace(minute=0, second=0, microsecond=0)

    def make() -> ForecastAsk:
        return _ask(brew, prior_of(brew.culture, brew.pitched_at, brew.tea), points_of(session, brew.honey_share))

    return remembered(session, ("forecast ask", brew.id, hour), make)


def foretell_together(session: Session, brews: Sequence[Brew]) -> None:
    """Foretell several brews side by side, so that each is then answered from memory."""
    carry_together([forecast_ask_of(session, brew) for brew in brews])


def foretell_with_before(session: Session, brew: Brew) -> None:
    """Foretell a brew beside what was foretold before its last reading or taste: its page tells what that changed."""
    ask = forecast_ask_of(session, brew)
    before = without_last(ask)
    carry_together([ask] if before is None else [ask, before[0]])


def forecast_of(session: Session, brew: Brew) -> Forecast:
    """Foretell a brew; an unchanged one is answered from memory."""
    return forecast(forecast_ask_of(session, brew))
