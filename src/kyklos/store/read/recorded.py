"""What was recorded of a brew, as the core reads it: recipe, readings, temperatures, looks, the brewer's own word."""

from __future__ import annotations

from collections.abc import Iterable

from ...core import teas
from ...core.batch import MOST_DRAWN, Draw, Event, Pour
from ...core.brew_plan import vessel_surface
from ...core.ferment import STARTER_LIVELINESS, Recipe
from ...core.forecast import Observation
from ...core.instruments import Calibrated, gravity_sd, ph_sd, standing
from ...core.kinds import MeasuredBy
from ...core.liquid import Liquid, mature_from_ph
from ...core.overrule import Own
from ...core.pouring import Way
from ...core.safety import Look
from ...core.taste import Point, usual_point
from ..models import Brew, Reading, TemperatureLog, Transfer, Vessel
from .moments import days_between, since_start

HAPPENS = {Way.ADDED, Way.RESERVED, Way.BOTTLED, Way.FED, Way.GIVEN, Way.LOST, Way.DRUNK}  #: To a brew while it stands.


def surface_per_volume(vessel: Vessel, litres: float) -> float:
    """Return the liquid surface over the volume of a filling. [1/cm]"""
    return vessel_surface(vessel.diameter_cm, litres)


def recipe_of(brew: Brew) -> Recipe:
    """Return the recipe a brew was started with."""
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
        starter_ta_g_per_l=brew.starter_ta_g_per_l,
        alkalinity_meq_per_l=brew.alkalinity_meq_per_l,
        surface_per_volume_per_cm=surface_per_volume(brew.vessel, brew.started_l),
    )


def starter_share(brew: Brew) -> float:
    """Return the share of starter in all that went into a brew, what was added later too. [-]"""
    added = sum(t.litres for t in brew.liquid.starters if t.how == Way.ADDED)
    return (brew.starter_fraction * brew.started_l + added) / (brew.started_l + added)


def events_of(brew: Brew) -> tuple[Event, ...]:
    """List what happened to a brew after it was started, in order of time: starter added, liquid taken out."""
    since = brew.liquid.began_at
    flows = [*brew.liquid.inflows, *brew.liquid.outflows]
    later = sorted((t for t in flows if t.how in HAPPENS), key=lambda t: (t.at, t.id))
    out: list[Event] = []
    stands = brew.started_l
    for t in later:
        day = since_start(since, t.at)
        if t.target_id == brew.liquid_id:
            out.append(Pour(day, _poured(brew, t)))
            stands += t.litres
            continue
        litres = min(t.litres, MOST_DRAWN * stands)
        out.append(Draw(day, litres))
        stands -= litres
    return tuple(out)


def _poured(brew: Brew, transfer: Transfer) -> Liquid:
    """Describe starter that was added to a brew; its tea and water are taken to be the brew's."""
    return mature_from_ph(
        transfer.ph if transfer.ph is not None else brew.starter_ph,
        transfer.litres,
        tea=teas.from_text(brew.tea),
        leaf_g_per_l=brew.leaf_g_per_l,
        alkalinity_meq_per_l=brew.alkalinity_meq_per_l,
        lively=STARTER_LIVELINESS.get(transfer.lively, STARTER_LIVELINESS["fresh"]),
    )


def standing_readings(brew: Brew) -> list[Reading]:
    """List the readings that are not struck out."""
    return [reading for reading in brew.readings if not reading.struck]


def logged(brew: Brew, logs: Iterable[TemperatureLog]) -> list[tuple[float, float]]:
    """List a logger's points while a brew stood. [d since pitch, degC]"""
    start = brew.pitched_at.timestamp()
    end = brew.ended_at.timestamp() if brew.ended_at is not None else float("inf")
    return [(round((t - start) / 86400, 3), float(c)) for log in logs for t, c in log.points if start <= t <= end]


def by_hand(brew: Brew) -> list[tuple[float, float]]:
    """List the temperatures that someone wrote down; a daily low and high stand for the day before. [d since pitch, degC]"""
    out = []
    for r in standing_readings(brew):
        day = since_start(brew.pitched_at, r.at)
        if r.low_c is not None and r.high_c is not None:
            mean = (r.low_c + r.high_c) / 2
            shape = ((1.0, mean), (0.75, r.low_c), (0.25, r.high_c), (0.0, mean if r.celsius is None else r.celsius))
            out += [(round(day - before, 3), celsius) for before, celsius in shape if day >= before]
        elif r.celsius is not None:
            out.append((day, r.celsius))
    return out


def read_by(reading: Reading) -> str:
    """Name what read a pH as it stood then: a meter past its interval counts as uncalibrated."""
    if reading.instrument != MeasuredBy.METER or reading.tool is None:
        return reading.instrument
    done = [Calibrated(days_between(c.at, reading.at), c.at_seven, c.at_four) for c in reading.tool.calibrations]
    return standing(done, reading.tool.interval_days).key


def measured(brew: Brew) -> list[Observation]:
    """List what was measured of a brew, as the forecast reads it."""
    out = []
    for r in standing_readings(brew):
        day = since_start(brew.pitched_at, r.at)
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
    """List what was measured and tasted of a brew, in order of time, in whichever order it was written down."""
    own = {point.taster: point for point in points}
    usual = Point("", usual_point(brew.honey_share))
    seen = measured(brew)
    for t in brew.tastings:
        if not t.struck:
            point = own.get(t.taster.name, usual)
            day = since_start(brew.pitched_at, t.at)
            seen.append(Observation(day, "taste", t.score, "", t.taster.name, point.ta_g_per_l, point.sd))
    return tuple(sorted(seen, key=lambda o: (o.day, o.kind, o.value, o.taster)))


def looks_of(brew: Brew) -> tuple[Look, ...]:
    """List the looks that stand; one at signs or smell alone leaves the surface as it was seen before."""
    out: list[Look] = []
    for look in brew.looks:
        if not look.struck:
            surface = look.surface or (out[-1].surface if out else "")
            out.append(Look(max(0.0, days_between(brew.pitched_at, look.at)), surface, tuple(look.signs), look.smell))
    return tuple(out)


def own_word(brew: Brew) -> Own | None:
    """Return the brewer's own verdict, if one stands."""
    standing_ones = [row for row in brew.overrules if not row.struck]
    if not standing_ones:
        return None
    last = standing_ones[-1]
    return Own(last.word, last.reason, tuple(last.against))
