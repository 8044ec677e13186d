"""What is foretold of a brew: from its records, its line's own past and its tasters' points."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import Session, object_session

from ..core import teas
from ..core.batch import Batch
from ..core.brew_plan import prior_on
from ..core.forecast import MEASURED_SD_K, UNMEASURED_SD_K, Forecast, ForecastAsk, Posterior, Prior, forecast
from ..core.kinds import SeenKind
from ..core.pouring import LEAST_L
from ..core.prior import culture_prior
from ..core.taste import Point, usual_point
from ..store import lessons
from ..store.memory import remembered
from ..store.models import Brew, Culture, Lesson
from ..store.read.recorded import events_of, observations_of, recipe_of
from .palates import STANDARD_TASTER, points_of
from .warmth import course_of, measured_of

PAST_BREWS = 5  #: How many earlier brews of a culture shape what is expected of it.
FORECAST_DAYS = 40
DOUBT_SDS = 1.2816  #: Four starts in five lie within what is remembered as give or take. [sd]


def _ask(brew: Brew, prior: Prior, points: tuple[Point, ...]) -> ForecastAsk:
    return ForecastAsk(
        batch=batch_of(brew),
        observations=observations_of(brew, points),
        prior=prior_on(prior, teas.vigour_of(teas.from_text(brew.tea))),
        points=points,
        days=FORECAST_DAYS,
        warmth_sd_k=MEASURED_SD_K if measured_of(brew) else UNMEASURED_SD_K,
        start_sd_days=round(brew.start_doubt_days / DOUBT_SDS, 3),
    )


def batch_of(brew: Brew) -> Batch:
    """Put together what a brew was started with, what happened to it, and how warm it stood."""
    return Batch(
        recipe=recipe_of(brew), course=course_of(brew), litres=max(brew.started_l, LEAST_L), events=events_of(brew)
    )


def untasted(brew: Brew) -> ForecastAsk:
    """Ask of a brew what its measurements alone tell: a taste must not teach the taster twice."""
    ask = _ask(brew, prior_of(brew.culture, brew.pitched_at), (Point(STANDARD_TASTER, usual_point(brew.honey_share)),))
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
    return Posterior(yeast, bacteria, yeast_sd, bacteria_sd)


def prior_of(culture: Culture, before: datetime | None = None) -> Prior:
    """Return what is expected of a culture from its own last brews that were measured or tasted."""
    session = object_session(culture)
    if session is None:
        return culture_prior(culture.diet, ())

    def make() -> Prior:
        told = (taught_by(lesson) for lesson in lessons.of_line(session, culture, before, PAST_BREWS))
        return culture_prior(culture.diet, tuple(one for one in told if one is not None))

    return remembered(session, ("prior", culture.id, culture.diet, before), make)


def forecast_ask_of(session: Session, brew: Brew) -> ForecastAsk:
    """Put together all that a brew's forecast depends on."""
    return _ask(brew, prior_of(brew.culture, brew.pitched_at), points_of(session, brew.honey_share))


def forecast_of(session: Session, brew: Brew) -> Forecast:
    """Foretell a brew; an unchanged one is answered from memory."""
    return forecast(forecast_ask_of(session, brew))
