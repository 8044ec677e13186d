"""Rows turned into core values: a brew's recipe, course and forecast, a bottle's future."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session, object_session

from ..core import teas
from ..core.bottle import BottleAsk, BottleForecast, bottle_forecast, vigour_after_hiss
from ..core.brew_plan import prior_on, vessel_surface
from ..core.ferment import Recipe
from ..core.forecast import Forecast, ForecastAsk, Observation, Posterior, Prior, culture_prior, forecast
from ..core.instruments import Calibrated, gravity_sd, ph_sd, standing
from ..core.overrule import Own, applied
from ..core.palate import Palate, Tasted, learn
from ..core.places import seasonal
from ..core.safety import BrewFacts, Look, PhReading, Verdict, judge
from ..core.taste import JUN_HONEY_SHARE, Point, usual_point
from ..core.temperature import Course
from . import queries
from .memory import once, remembered
from .models import Bottle, Bottling, Brew, Culture, Household, Place, Reading, Taster, TemperatureLog, Vessel

PAST_BREWS = 5  #: How many earlier brews of a culture shape what is expected of it.
FORECAST_DAYS = 40
TITRATED_NEAR, TITRATED_SD = 0.5, 0.05  #: A titration so near to a taste tells its acidity. [d, ln]
LATEST = datetime(9000, 1, 1, tzinfo=UTC)
STANDARD_TASTER = "the usual point"
_HOUSEHOLD, _TASTERS = select(Household), select(Taster).order_by(Taster.position, Taster.id)
_LOGS = select(TemperatureLog).where(TemperatureLog.struck.is_(False))


def days_between(start: datetime, end: datetime) -> float:
    """Count days from one moment to another. [d]"""
    return (end - start) / timedelta(days=1)


def household_of(session: Session) -> Household:
    """Find the household's settings; a new one has the defaults."""
    return session.scalars(_HOUSEHOLD).first() or Household(
        name="Our kitchen", units="metric", zone="UTC", theme="auto", sample=False
    )


@once
def tasters_of(session: Session) -> list[Taster]:
    """List the tasters in their order."""
    return list(session.scalars(_TASTERS))


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
        starter_yeast=brew.starter_yeast,
        starter_bacteria=brew.starter_bacteria,
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


@once
def logs_of(session: Session) -> list[TemperatureLog]:
    """List what loggers told and was not struck out."""
    return list(session.scalars(_LOGS))


def _logged(brew: Brew) -> list[tuple[float, float]]:
    """Read a logger's points of a brew: in its liquid, or else in the air of its place. [d since pitch, degC]"""
    session = object_session(brew)
    logs = logs_of(session) if session is not None else []
    own = [log for log in logs if log.brew_id == brew.id]
    found = own or [log for log in logs if log.place_id is not None and log.place_id == brew.vessel.place_id]
    start, end = brew.pitched_at.timestamp(), (brew.ended_at or LATEST).timestamp()
    return [(round((t - start) / 86400, 3), float(c)) for log in found for t, c in log.points if start <= t <= end]


def _by_hand(brew: Brew) -> list[tuple[float, float]]:
    """Read temperatures that someone wrote down; a daily low and high stand for the day before. [d since pitch, degC]"""
    out = []
    for r in standing_readings(brew):
        day = round(max(0.0, days_between(brew.pitched_at, r.at)), 3)
        if r.low_c is not None and r.high_c is not None:
            mean = (r.low_c + r.high_c) / 2
            shape = ((1.0, mean), (0.75, r.low_c), (0.25, r.high_c), (0.0, mean if r.celsius is None else r.celsius))
            out += [(round(day - before, 3), celsius) for before, celsius in shape if day >= before]
        elif r.celsius is not None:
            out.append((day, r.celsius))
    return out


def course_of(brew: Brew) -> Course:
    """Read a brew's temperatures: measured where it was, its heater's set point or the place's typical else.

    A judgement and a forecast both ask; a reading session, which lives for one page, works it out once.
    """
    session = object_session(brew)
    if session is None or session.info.get("writing"):
        return _course_of(brew)
    known: dict[int, Course] = session.info.setdefault("courses", {})
    if brew.id not in known:
        known[brew.id] = _course_of(brew)
    return known[brew.id]


def _course_of(brew: Brew) -> Course:
    usual = usual_celsius(brew.vessel.place, brew.pitched_at)
    if brew.vessel.heater_c is not None:
        usual = max(usual, brew.vessel.heater_c)
    points = {day: celsius for day, celsius in (*_logged(brew), *_by_hand(brew)) if day >= 0}
    return Course(tuple(sorted((d, float(c)) for d, c in points.items())), usual)


def read_by(reading: Reading) -> str:
    """Say what read a pH as it stood then: a meter past its interval counts as uncalibrated."""
    if reading.instrument != "meter" or reading.tool is None:
        return reading.instrument
    done = [Calibrated(days_between(c.at, reading.at), c.at_seven, c.at_four) for c in reading.tool.calibrations]
    return standing(done, reading.tool.interval_days).key


def _readings(brew: Brew) -> list[Observation]:
    out = []
    for r in standing_readings(brew):
        day = round(max(0.0, days_between(brew.pitched_at, r.at)), 3)
        if r.ph is not None:
            own = r.tool.error if r.tool is not None else None
            key = read_by(r)
            out.append(Observation(day, "ph", r.ph, key, sd=ph_sd(key, own) if own else None))
        if r.ta_g_per_l is not None:
            out.append(Observation(day, "ta", r.ta_g_per_l))
        if r.gravity is not None:
            out.append(Observation(day, "gravity", r.gravity, sd=gravity_sd(r.gravity_by)))
    return out


def observations_of(brew: Brew, points: tuple[Point, ...]) -> tuple[Observation, ...]:
    """Read what was measured and tasted of a brew, in order of time, in whichever order it was written down."""
    own = {point.taster: point for point in points}
    usual = Point("", usual_point(brew.honey_share))
    seen = _readings(brew)
    for t in brew.tastings:
        if not t.struck:
            point = own.get(t.taster.name, usual)
            day = round(max(0.0, days_between(brew.pitched_at, t.at)), 3)
            seen.append(Observation(day, "taste", t.score, "", t.taster.name, point.ta_g_per_l, point.sd))
    return tuple(sorted(seen, key=lambda o: (o.day, o.kind, o.value, o.taster)))


def points_of(session: Session, honey_share: float) -> tuple[Point, ...]:
    """Give each taster's point for a style, as their tastings have taught it."""
    jun = honey_share >= JUN_HONEY_SHARE
    names = [taster.name for taster in tasters_of(session)] or [STANDARD_TASTER]
    learned = [(name, palate_of(session, name, jun)) for name in names]
    return tuple(Point(name, round(palate.ta_g_per_l, 3), round(palate.sd, 3)) for name, palate in learned)


def palate_of(session: Session, taster: str, jun: bool) -> Palate:
    """Say where a taster likes a style, as learned until now."""
    day = (session.info.get("now") or LATEST).date()
    return remembered(
        session, ("palate", taster, jun, day), lambda: learn(tasted_by(session).get((taster, jun), ()), jun)
    )


def tasted_by(session: Session) -> dict[tuple[str, bool], list[Tasted]]:
    """List all tastings by taster and style, with the acidity that the brew had then, as measured or foretold without taste."""
    if "tasted" in session.info:
        known: dict[tuple[str, bool], list[Tasted]] = session.info["tasted"]
        return known
    told: datetime | None = session.info.get("now")
    tastings = queries.standing_tastings(session, told or LATEST)
    now = told or max((t.at for t in tastings), default=LATEST)
    out: dict[tuple[str, bool], list[Tasted]] = {}
    for tasting in tastings:
        brew = tasting.brew
        ask = _untasted(brew)
        day = max(0.0, days_between(brew.pitched_at, tasting.at))
        near = [o.value for o in ask.observations if o.kind == "ta" and abs(o.day - day) <= TITRATED_NEAR]
        if near:
            acidity, sd = near[-1], TITRATED_SD
        else:
            seen = forecast(ask)
            low, acidity, high = seen.at(seen.ta_g_per_l, day)
            sd = float(np.log(max(high, 0.03) / max(low, 0.02))) / 2.563
        age = round(max(0.0, days_between(tasting.at, now)))
        one = Tasted(tasting.score, round(max(0.02, acidity), 3), round(sd, 3), age)
        out.setdefault((tasting.taster.name, brew.honey_share >= JUN_HONEY_SHARE), []).append(one)
    session.info["tasted"] = out
    return out


def _untasted(brew: Brew) -> ForecastAsk:
    """Ask of a brew what its measurements alone tell: a taste must not teach the taster twice."""
    ask = _ask(brew, prior_of(brew.culture, brew.pitched_at), (Point(STANDARD_TASTER, usual_point(brew.honey_share)),))
    return replace(ask, observations=tuple(o for o in ask.observations if o.kind != "taste"))


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
    """Say what is expected of a culture from its own last brews that were measured or tasted."""
    session = object_session(culture)
    if session is None:
        return _prior_of(culture.diet, culture.brews, before)
    key = ("prior", culture.id, before)
    return remembered(session, key, lambda: _prior_of(culture.diet, queries.with_past(session, culture), before))


def _prior_of(diet: str, brews: Sequence[Brew], before: datetime | None) -> Prior:
    told = [brew for brew in brews if (before is None or brew.pitched_at < before) and _teaches(brew)]
    return culture_prior(diet, tuple(posterior_of(brew) for brew in told[: -PAST_BREWS - 1 : -1]))


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


def looks_of(brew: Brew) -> tuple[Look, ...]:
    """Read the looks that stand; one at signs or smell alone leaves the surface as it was seen before."""
    out: list[Look] = []
    for look in brew.looks:
        if not look.struck:
            surface = look.surface or (out[-1].surface if out else "")
            out.append(Look(max(0.0, days_between(brew.pitched_at, look.at)), surface, tuple(look.signs), look.smell))
    return tuple(out)


def facts_of(brew: Brew, now: datetime) -> BrewFacts:
    """Put together what a judgement reads."""
    day = max(0.0, days_between(brew.pitched_at, now))
    course = course_of(brew)
    warmth = [c for r in standing_readings(brew) for c in (r.celsius, r.high_c) if c is not None]
    past = course.at(np.linspace(0, max(day, 0.01), 60))
    return BrewFacts(
        day=day,
        mean_c=float(past.mean()),
        now_c=float(past[-1]),
        measured_c=max(warmth) if warmth else None,
        ph=tuple(
            PhReading(max(0.0, days_between(brew.pitched_at, r.at)), r.ph, read_by(r))
            for r in standing_readings(brew)
            if r.ph is not None
        ),
        looks=looks_of(brew),
    )


def with_look(facts: BrewFacts, look: Look) -> BrewFacts:
    """Give the facts as they would be with one look more."""
    return replace(facts, looks=(*facts.looks, look))


def own_word(brew: Brew) -> Own | None:
    """Read the brewer's own verdict, if one stands."""
    standing_ones = [row for row in brew.overrules if not row.struck]
    if not standing_ones:
        return None
    last = standing_ones[-1]
    return Own(last.word, last.reason, tuple(last.against))


def verdict_of(brew: Brew, now: datetime, facts: BrewFacts | None = None) -> Verdict:
    """Judge a brew; the brewer's own word counts as far as it may."""
    return applied(judge(facts or facts_of(brew, now)), own_word(brew))


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
