"""Rows turned into core values: a brew's recipe, course and forecast, a bottle's future."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session, object_session

from ..core import teas
from ..core.bottle import BottleAsk, BottleForecast, bottle_forecast, vigour_after_hiss
from ..core.brew_plan import prior_on, vessel_surface
from ..core.ferment import Recipe
from ..core.forecast import Forecast, ForecastAsk, Observation, Posterior, Prior, culture_prior, forecast
from ..core.places import seasonal
from ..core.safety import BrewFacts, Look, PhReading, Verdict, judge
from ..core.taste import Point, usual_point
from ..core.temperature import Course
from .models import Bottle, Bottling, Brew, Culture, Household, Place, Reading, Taster, Vessel
from .models import Look as SeenLook

PAST_BREWS = 5  #: How many earlier brews of a culture shape what is expected of it.
FORECAST_DAYS = 40
STANDARD_TASTER = "the usual point"


def days_between(start: datetime, end: datetime) -> float:
    """Count days from one moment to another. [d]"""
    return (end - start) / timedelta(days=1)


def household_of(session: Session) -> Household:
    """Find the household's settings; a new one has the defaults."""
    return session.scalars(select(Household)).first() or Household(
        name="Our kitchen", units="metric", zone="UTC", theme="auto", sample=False
    )


def tasters_of(session: Session) -> list[Taster]:
    """List the tasters in their order; asked once a session, which lives for one page or action."""
    if "tasters" not in session.info:
        session.info["tasters"] = list(session.scalars(select(Taster).order_by(Taster.position, Taster.id)))
    return list(session.info["tasters"])


def points_of(session: Session, honey_share: float) -> tuple[Point, ...]:
    """Give each taster's point for a style: fixed until learned."""
    names = [taster.name for taster in tasters_of(session)] or [STANDARD_TASTER]
    return tuple(Point(name, usual_point(honey_share)) for name in names)


def surface_per_volume(vessel: Vessel, litres: float) -> float:
    """Liquid surface over volume. [1/cm]"""
    return vessel_surface(vessel.diameter_cm, litres)


def recipe_of(brew: Brew) -> Recipe:
    """Read a brew's recipe."""
    return Recipe(
        tea=teas.from_text(brew.tea),
        leaf_g_per_l=brew.leaf_g_per_l,
        sugar_g_per_l=brew.sugar_g_per_l,
        honey_share=brew.honey_share,
        invert_share=brew.invert_share,
        starter_kind=brew.starter_kind,
        starter_fraction=brew.starter_fraction,
        starter_ph=brew.starter_ph,
        alkalinity_meq_per_l=brew.alkalinity_meq_per_l,
        surface_per_volume_per_cm=surface_per_volume(brew.vessel, brew.final_l),
    )


def standing_readings(brew: Brew) -> list[Reading]:
    """List the readings that are not struck out."""
    return [reading for reading in brew.readings if not reading.struck]


def usual_celsius(place: Place, at: datetime) -> float:
    """Say how warm a place usually is at that time of the year. [degC]"""
    if place.winter_c is None or place.summer_c is None:
        return place.celsius
    session, southern = object_session(place), False
    if session is not None:
        if "southern" not in session.info:
            session.info["southern"] = household_of(session).southern
        southern = session.info["southern"]
    return seasonal(place.winter_c, place.summer_c, at.timetuple().tm_yday, southern)


RECENT_DAYS, RECENT_READINGS = 14.0, 2  #: A place is as warm as its brews lately were, if measured so often. [d, -]


def place_now(session: Session, place: Place, now: datetime) -> tuple[float, bool]:
    """Say how warm a place is now: as measured in its brews lately, or as usual. [degC, whether measured]"""
    query = (
        select(Reading.celsius, Reading.at, Brew.pitched_at)
        .join(Brew)
        .join(Vessel)
        .where(
            Vessel.place_id == place.id,
            Reading.struck.is_(False),
            Reading.celsius.is_not(None),
            Reading.at > now - timedelta(days=RECENT_DAYS),
        )
    )
    settled = timedelta(days=0.5)  # a brew takes some hours to its place's warmth
    found = [c for c, at, pitched in session.execute(query) if c is not None and at > pitched + settled]
    if len(found) >= RECENT_READINGS:
        return float(np.mean(found)), True
    return usual_celsius(place, now), False


def course_of(brew: Brew) -> Course:
    """Read a brew's temperatures: measured where it was, the place's typical else."""
    usual = usual_celsius(brew.vessel.place, brew.pitched_at)
    points = {
        round(max(0.0, days_between(brew.pitched_at, r.at)), 3): r.celsius
        for r in standing_readings(brew)
        if r.celsius is not None
    }
    return Course(tuple(sorted((d, float(c)) for d, c in points.items())), usual)


def observations_of(brew: Brew, points: tuple[Point, ...]) -> tuple[Observation, ...]:
    """Read what was measured and tasted of a brew, in order of time."""
    own = {point.taster: point.ta_g_per_l for point in points}
    seen = [
        Observation(round(max(0.0, days_between(brew.pitched_at, r.at)), 3), "ph", r.ph, r.instrument)
        for r in standing_readings(brew)
        if r.ph is not None
    ]
    seen += [
        Observation(
            round(max(0.0, days_between(brew.pitched_at, t.at)), 3),
            "taste",
            t.score,
            taster=t.taster.name,
            point_g_per_l=own.get(t.taster.name, usual_point(brew.honey_share)),
        )
        for t in brew.tastings
        if not t.struck
    ]
    return tuple(sorted(seen, key=lambda o: (o.day, o.kind)))


def _ask(brew: Brew, prior: Prior, points: tuple[Point, ...]) -> ForecastAsk:
    return ForecastAsk(
        recipe=recipe_of(brew),
        course=course_of(brew),
        observations=observations_of(brew, points),
        prior=prior_on(prior, teas.vigour_of(teas.from_text(brew.tea))),
        points=points,
        days=FORECAST_DAYS,
    )


def posterior_of(brew: Brew) -> Posterior:
    """Say what an earlier brew taught, seen with a new culture's eyes."""
    points = (Point(STANDARD_TASTER, usual_point(brew.honey_share)),)
    learned = forecast(_ask(brew, culture_prior(brew.culture.diet, ()), points)).posterior
    slow = teas.vigour_of(teas.from_text(brew.tea))
    return replace(learned, yeast_vigour=learned.yeast_vigour / slow, bacteria_vigour=learned.bacteria_vigour / slow)


def prior_of(culture: Culture, before: datetime | None = None) -> Prior:
    """Say what is expected of a culture from its own last brews that were measured or tasted; asked once a session."""
    session = object_session(culture)
    known: dict[tuple[int, datetime | None], Prior] = session.info.setdefault("priors", {}) if session else {}
    key = (culture.id, before)
    if key not in known:
        told = [brew for brew in culture.brews if (before is None or brew.pitched_at < before) and _teaches(brew)]
        known[key] = culture_prior(culture.diet, tuple(posterior_of(brew) for brew in told[: -PAST_BREWS - 1 : -1]))
    return known[key]


def _teaches(brew: Brew) -> bool:
    """Say whether a brew was harvested, and measured or tasted before."""
    measured = any(reading.ph is not None for reading in standing_readings(brew))
    return brew.status == "harvested" and (measured or any(not tasting.struck for tasting in brew.tastings))


def forecast_ask_of(session: Session, brew: Brew) -> ForecastAsk:
    """Put together all that a brew's forecast depends on."""
    return _ask(brew, prior_of(brew.culture, brew.pitched_at), points_of(session, brew.honey_share))


def forecast_of(session: Session, brew: Brew) -> Forecast:
    """Foretell a brew; an unchanged one is answered from memory."""
    return forecast(forecast_ask_of(session, brew))


def look_of(brew: Brew, look: SeenLook) -> Look:
    """Read a look."""
    return Look(max(0.0, days_between(brew.pitched_at, look.at)), look.surface, tuple(look.signs), look.smell)


def facts_of(brew: Brew, now: datetime) -> BrewFacts:
    """Put together what a judgement reads."""
    day = max(0.0, days_between(brew.pitched_at, now))
    course, warmth = course_of(brew), [r.celsius for r in standing_readings(brew) if r.celsius is not None]
    past = course.at(np.linspace(0, max(day, 0.01), 60))
    return BrewFacts(
        day=day,
        mean_c=float(past.mean()),
        now_c=float(past[-1]),
        measured_c=max(warmth) if warmth else None,
        ph=tuple(
            PhReading(max(0.0, days_between(brew.pitched_at, r.at)), r.ph, r.instrument)
            for r in standing_readings(brew)
            if r.ph is not None
        ),
        looks=tuple(look_of(brew, look) for look in brew.looks),
    )


def with_look(facts: BrewFacts, look: Look) -> BrewFacts:
    """Give the facts as they would be with one look more."""
    return replace(facts, looks=(*facts.looks, look))


def verdict_of(brew: Brew, now: datetime) -> Verdict:
    """Judge a brew."""
    return judge(facts_of(brew, now))


def bottle_ask_of(bottle: Bottle) -> BottleAsk:
    """Put together all that a bottle's forecast depends on; brothers that were opened have taught their vigour."""
    ask = _own_ask(bottle)
    taught = [
        vigour_after_hiss(_own_ask(brother), days_between(bottle.bottling.at, brother.gone_at), brother.hiss)
        for brother in bottle.bottling.bottles
        if brother.hiss is not None and brother.gone_at is not None and brother.id != bottle.id and brother.limit_bar
    ]
    return replace(ask, vigour=round(float(np.exp(np.mean(np.log(taught)))), 4)) if taught else ask


def _own_ask(bottle: Bottle) -> BottleAsk:
    group: Bottling = bottle.bottling
    points = [(0.0, group.celsius)]
    for move in bottle.moves:
        day = max(points[-1][0], round(days_between(group.at, move.at), 3))
        points += [(day, points[-1][1]), (day + 0.001, move.celsius)]
    return BottleAsk(
        start=tuple(group.start),
        added_sugar_g_per_l=group.added_sugar_g_per_l,
        course=Course(tuple(points)),
        headspace_fraction=bottle.headspace_fraction,
        flavour=group.flavour,
        limit_bar=bottle.limit_bar or None,
        vigour=group.vigour,
        days=120 if bottle.moves else 45,
    )


def bottle_future(bottle: Bottle) -> BottleForecast:
    """Foretell a bottle as it stands."""
    return bottle_forecast(bottle_ask_of(bottle))


def volume_left_l(brew: Brew) -> float:
    """Say how much of a brew is neither reserved nor bottled. [L]"""
    gone = sum(lot.volume_l for lot in brew.reserved)
    for group in brew.bottlings:
        gone += sum(liquid_l(bottle) for bottle in group.bottles)
    return brew.final_l - gone


def liquid_l(bottle: Bottle) -> float:
    """Say how much brew a bottle holds, without its flavouring (taken as 1 g/mL). [L]"""
    filled = bottle.volume_ml / 1000 * (1 - bottle.headspace_fraction)
    return filled / (1 + bottle.bottling.flavour_g_per_l / 1000)
