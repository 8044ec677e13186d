"""What is foretold of a brew: from its records, its line's own past and its tasters' points."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import Session, object_session

from ..core import teas
from ..core.batch import Batch
from ..core.brew_plan import prior_on
from ..core.forecast import Forecast, ForecastAsk, Posterior, Prior, culture_prior, forecast
from ..core.kinds import BrewStatus, SeenKind
from ..core.pouring import LEAST_L
from ..core.taste import Point, usual_point
from ..store import queries
from ..store.memory import remembered
from ..store.models import Brew, Culture
from ..store.read.recorded import events_of, observations_of, recipe_of, standing_readings
from .palates import STANDARD_TASTER, points_of
from .warmth import course_of

PAST_BREWS = 5  #: How many earlier brews of a culture shape what is expected of it.
FORECAST_DAYS = 40


def _ask(brew: Brew, prior: Prior, points: tuple[Point, ...]) -> ForecastAsk:
    return ForecastAsk(
        batch=batch_of(brew),
        observations=observations_of(brew, points),
        prior=prior_on(prior, teas.vigour_of(teas.from_text(brew.tea))),
        points=points,
        days=FORECAST_DAYS,
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


def posterior_of(brew: Brew) -> Posterior:
    """Return what an earlier brew taught, seen with a new culture's eyes."""
    points = (Point(STANDARD_TASTER, usual_point(brew.honey_share)),)
    learned = forecast(_ask(brew, culture_prior(brew.culture.diet, ()), points)).posterior
    slow = teas.vigour_of(teas.from_text(brew.tea))
    return replace(learned, yeast_vigour=learned.yeast_vigour / slow, bacteria_vigour=learned.bacteria_vigour / slow)


def prior_of(culture: Culture, before: datetime | None = None) -> Prior:
    """Return what is expected of a culture from its own last brews that were measured or tasted."""
    session = object_session(culture)
    if session is None:
        return _prior_of(culture.diet, culture.brews, before)
    key = ("prior", culture.id, before)
    return remembered(session, key, lambda: _prior_of(culture.diet, queries.with_past(session, culture), before))


def _prior_of(diet: str, brews: Sequence[Brew], before: datetime | None) -> Prior:
    told = [brew for brew in brews if (before is None or brew.pitched_at < before) and _teaches(brew)]
    return culture_prior(diet, tuple(posterior_of(brew) for brew in told[: -PAST_BREWS - 1 : -1]))


def _teaches(brew: Brew) -> bool:
    """Return whether a brew was harvested, and measured or tasted before."""
    measured = any(reading.ph is not None for reading in standing_readings(brew))
    return brew.status == BrewStatus.HARVESTED and (measured or any(not tasting.struck for tasting in brew.tastings))


def forecast_ask_of(session: Session, brew: Brew) -> ForecastAsk:
    """Put together all that a brew's forecast depends on."""
    return _ask(brew, prior_of(brew.culture, brew.pitched_at), points_of(session, brew.honey_share))


def forecast_of(session: Session, brew: Brew) -> Forecast:
    """Foretell a brew; an unchanged one is answered from memory."""
    return forecast(forecast_ask_of(session, brew))
