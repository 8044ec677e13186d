"""What was recorded of a brew, as the core reads it: recipe, readings, temperatures, looks, the brewer's own word."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from datetime import datetime
from typing import TypeVar

from ...core.base.kinds import BrewStatus, Diet
from ...core.brewing import KINDS
from ...core.brewing.planner import vessel_surface
from ...core.brewing.portions import LEAST_SD, instrument_sd
from ...core.brewing.starters import VINEGAR_ACETIC_G_PER_L
from ...core.forecast import Observation
from ...core.judging.instruments import gravity_sd
from ...core.judging.observations import SeenLook
from ...core.judging.overrule import Own
from ...core.judging.watched import Measured, Watched
from ...core.liquid import Draw, Liquid, Point, Pour, Recipe, Way, teas
from ...core.liquid.acids import TeaAndWater
from ...core.liquid.batch import MOST_DRAWN
from ...core.liquid.events import Event, Move
from ...core.liquid.ferment import STARTER_LIVELINESS
from ...core.liquid.liquid import fermented, mature_from_ph, sweet_tea, water
from ...core.liquid.pouring import Added
from ...core.liquid.taste import is_jun, usual_point
from ..records import Addition, Brew, BrewStay, Reading, Tasting, TemperatureLog, Transfer, Vessel
from ..records import Look as LookRow
from .meters import ph_told
from .moments import days_between, since_start

R = TypeVar("R", Reading, Tasting, LookRow)

#: To a brew while it stands.
HAPPENS = {
    Way.ADDED, Way.RESERVED, Way.BOTTLED, Way.FED, Way.GIVEN, Way.LOST, Way.DRUNK, Way.VINEGAR, Way.SPLIT, Way.JOINED
}  # fmt: skip


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
        starter_ph_sd=max(instrument_sd(brew.starter_instrument), LEAST_SD),
        starter_in=TeaAndWater(
            teas.from_text(brew.starter_tea), brew.starter_leaf_g_per_l, brew.starter_alkalinity_meq_per_l
        ),
        starter_ta_g_per_l=brew.starter_ta_g_per_l,
        alkalinity_meq_per_l=brew.alkalinity_meq_per_l,
        surface_per_volume_per_cm=surface_per_volume(first_vessel(brew), brew.started_l),
    )


def brewed_with(brew: Brew) -> TeaAndWater:
    """Return the tea and water of a brew."""
    return TeaAndWater(teas.from_text(brew.tea), brew.leaf_g_per_l, brew.alkalinity_meq_per_l)


def first_vessel(brew: Brew) -> Vessel:
    """Return the vessel in which a brew was started."""
    return brew.earlier[0].vessel if brew.earlier else brew.vessel


def parent_of(brew: Brew) -> Brew | None:
    """Return the brew that a brew was split from; None: it was not."""
    split = brew.split_by
    return split.source.brew if split is not None and split.source is not None else None


def starter_share(brew: Brew) -> float:
    """Return the share of starter in all that went into a brew, what was added later too. [-]"""
    added = sum(t.litres for t in brew.liquid.starters if t.how == Way.ADDED)
    return (brew.starter_fraction * brew.started_l + added) / (brew.started_l + added)


Happening = Transfer | Addition | BrewStay


def events_of(brew: Brew, until: datetime | None = None) -> tuple[Event, ...]:
    """List what happened to a brew after it was started, in order of time: poured in, taken out, poured over.

    A brew that was split from another has that one's past: all but its own part was drawn when it was split.

    Args:
        brew: The brew.
        until: Only what happened before.
    """
    parent, split = parent_of(brew), brew.split_by if brew.known_since is None else None
    out = list(events_of(parent, split.at)) if parent is not None and split is not None else []
    stands = stood_l(brew)
    for event in out:
        stands += event.liquid.litres if isinstance(event, Pour) else -event.litres if isinstance(event, Draw) else 0.0
    if split is not None:
        day, rest = since_start(brew.pitched_at, split.at), max(0.0, min(stands - split.litres, MOST_DRAWN * stands))
        stands = max(stands - rest, 1e-3)
        out.append(Draw(day, rest))
        out.append(Move(day, surface_per_volume(_vessel_at(brew, split.at), stands)))
    for happening in _happenings(brew):
        at = happening.until if isinstance(happening, BrewStay) else happening.at
        if until is not None and at >= until:
            break
        event = _event(brew, happening, since_start(brew.pitched_at, at), stands)
        stands += event.liquid.litres if isinstance(event, Pour) else -event.litres if isinstance(event, Draw) else 0.0
        out.append(event)
    return tuple(out)


def stood_l(brew: Brew) -> float:
    """Return what stood there before the first event that is read: at its start, or since when it is known. [L]"""
    if brew.known_since is None:
        return brew.started_l
    added = sum(a.litres for a in brew.liquid.additions if a.at >= brew.known_since)
    poured = sum(t.litres for t in brew.liquid.inflows if t.at >= brew.known_since)
    return max(0.0, brew.left_l - added - poured + sum(t.litres for t in brew.liquid.outflows if t.at >= brew.known_since))


def _happenings(brew: Brew) -> list[Happening]:
    """List the records of what happened to a brew since it began, or was split from another, in order of time."""
    since = brew.liquid.began_at
    flows = [t for t in (*brew.liquid.inflows, *brew.liquid.outflows) if t.how in HAPPENS]
    flows = [t for t in flows if not (t.how == Way.SPLIT and t.target_id == brew.liquid_id)]
    # Of one moment: into a batch first what is put in; from a tapped vessel first what is drawn, which makes the room.
    poured: list[tuple[datetime, int, Happening]] = [(t.at, 1, t) for t in flows]
    second = 2 if brew.runs else 0
    poured += [(a.at, second, a) for a in brew.liquid.additions if a.at > since]
    poured += [(stay.until, 3, stay) for stay in brew.earlier if stay.until > since]
    return [one for _, _, one in sorted(poured, key=lambda row: (row[0], row[1], row[2].id))]


def _event(brew: Brew, happening: Happening, day: float, stands: float) -> Event:
    """Put a record as the batch reads it. [d since the start, L]"""
    if isinstance(happening, BrewStay):
        return Move(day, surface_per_volume(_vessel_at(brew, happening.until), max(stands, 1e-3)))
    if isinstance(happening, Addition):
        return Pour(day, _added(brew, happening))
    if happening.target_id == brew.liquid_id:
        return Pour(day, _poured(brew, happening))
    return Draw(day, min(happening.litres, MOST_DRAWN * stands), happening.stirred)


def topped_up(brew: Brew) -> list[Addition]:
    """List the sweet tea that was poured into a brew after it began, in order of time."""
    since = brew.liquid.began_at
    return [a for a in brew.liquid.additions if a.what == Added.SWEET_TEA and a.at > since]


def soured_since_read(brew: Brew) -> bool:
    """Return whether starter or vinegar went into a brew since its pH was last read."""
    read = [r.at for r in standing_readings(brew) if r.ph is not None]
    since = max(read, default=brew.liquid.began_at)
    sour = [a.at for a in brew.liquid.additions if a.what == Added.VINEGAR] + [t.at for t in brew.liquid.inflows if t.how == Way.ADDED]
    return any(at > since for at in sour)


def drawn(brew: Brew) -> list[Transfer]:
    """List what was taken out of a brew in any way, in order of time."""
    return [t for t in brew.liquid.outflows if t.how in HAPPENS]


def _vessel_at(brew: Brew, moment: datetime) -> Vessel:
    """Return the vessel in which a brew stood from a moment on."""
    return next((stay.vessel for stay in brew.earlier if stay.since <= moment < stay.until), brew.vessel)


def _added(brew: Brew, addition: Addition) -> Liquid:
    """Describe water, vinegar or sweet tea that was put into a brew; its tea and water are taken to be the brew's."""
    if addition.what == Added.VINEGAR:
        return Liquid(litres=addition.litres, acetic_g_per_l=VINEGAR_ACETIC_G_PER_L)
    if addition.what != Added.SWEET_TEA:
        return water(brew.alkalinity_meq_per_l, addition.litres)
    strength = addition.grams / addition.litres if addition.grams and addition.litres else brew.sugar_g_per_l
    honey = brew.honey_share if addition.honey_share is None else addition.honey_share
    return sweet_tea(
        teas.from_text(brew.tea),
        brew.leaf_g_per_l,
        strength,
        honey_share=honey,
        invert_share=brew.invert_share,
        alkalinity_meq_per_l=brew.alkalinity_meq_per_l,
        litres=addition.litres,
    )


def _poured(brew: Brew, transfer: Transfer) -> Liquid:
    """Describe what was poured into a brew: another brew as it was then, or starter, in the tea and water it came in."""
    if transfer.start:
        source = transfer.source.brew if transfer.source is not None else None
        return fermented(transfer.start, recipe_of(source or brew), transfer.litres)
    lot = transfer.source.lot if transfer.source is not None else None
    known = lot.source_brew if lot is not None else None
    own = brewed_with(known) if known is not None else TeaAndWater(teas.from_text(brew.tea), brew.leaf_g_per_l)
    return mature_from_ph(
        transfer.ph if transfer.ph is not None else brew.starter_ph,
        transfer.litres,
        tea=own.tea,
        leaf_g_per_l=own.leaf_g_per_l,
        alkalinity_meq_per_l=own.alkalinity_meq_per_l,
        lively=STARTER_LIVELINESS.get(transfer.lively, STARTER_LIVELINESS["fresh"]),
    )


def standing_readings(brew: Brew) -> list[Reading]:
    """List the readings that are not struck out; of a brew that was split from another, those before as well."""
    return [*_before(brew, standing_readings), *(reading for reading in brew.readings if not reading.struck)]


def standing_tastings(brew: Brew) -> list[Tasting]:
    """List the tastings that are not struck out; of a brew that was split from another, those before as well."""
    return [*_before(brew, standing_tastings), *(tasting for tasting in brew.tastings if not tasting.struck)]


def _before(brew: Brew, read: Callable[[Brew], list[R]]) -> list[R]:
    """List what was recorded of the brew that another was split from, until it was."""
    parent, split = parent_of(brew), brew.split_by
    return [row for row in read(parent) if row.at <= split.at] if parent is not None and split is not None else []


def logged(brew: Brew, logs: Iterable[TemperatureLog]) -> list[tuple[float, float]]:
    """List a logger's points while a brew stood. [d since pitch, degC]"""
    start = brew.pitched_at.timestamp()
    end = brew.ended_at.timestamp() if brew.ended_at is not None else float("inf")
    return sorted((round((t - start) / 86400, 3), float(c)) for log in logs for t, c in sound_points(log) if start <= t <= end)


def sound_points(log: TemperatureLog) -> list[tuple[float, float]]:
    """List the points of a log but those that a person set aside. [s since 1970, degC]"""
    doubts = [] if log.device_id is None or log.device is None else log.device.doubts
    spans = [(doubt.since.timestamp(), doubt.until.timestamp()) for doubt in doubts]
    return [(t, c) for t, c in log.points if not any(since <= t < until for since, until in spans)]


def doubted_points(log: TemperatureLog) -> list[tuple[float, float, str]]:
    """List the points of a device from which nothing is reckoned, with why. [s since 1970, degC]"""
    out = [(float(t), float(c), str(why)) for t, c, why in log.doubtful]
    for doubt in [] if log.device_id is None or log.device is None else log.device.doubts:
        since, until = doubt.since.timestamp(), doubt.until.timestamp()
        out += [(float(t), float(c), doubt.why) for t, c in log.points if since <= t < until]
    return sorted(out)


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


def measured(brew: Brew) -> list[Observation]:
    """List what was measured of a brew, as the forecast reads it."""
    out = []
    for r in standing_readings(brew):
        day = since_start(brew.pitched_at, r.at)
        if r.ph is not None:
            told = ph_told(r)
            out.append(Observation(day, "ph", told.ph, told.by, sd=told.sd))
        if r.ta_g_per_l is not None:
            out.append(Observation(day, "ta", r.ta_g_per_l, degassed=r.degassed))
        if r.gravity is not None:
            out.append(Observation(day, "gravity", r.gravity, sd=gravity_sd(r.gravity_by)))
    return out


def observations_of(brew: Brew, points: tuple[Point, ...]) -> tuple[Observation, ...]:
    """List what was measured and tasted of a brew, in order of time, in whichever order it was written down."""
    own = {point.taster: point for point in points}
    usual = Point("", usual_point(brew.honey_share))
    seen = measured(brew)
    for t in standing_tastings(brew):
        point = own.get(t.taster.name, usual)
        day = since_start(brew.pitched_at, t.at)
        seen.append(Observation(day, "taste", t.score, "", t.taster.name, point.ta_g_per_l, point.sd))
    return tuple(sorted(seen, key=lambda o: (o.day, o.kind, o.value, o.taster)))


def looks_of(brew: Brew) -> tuple[SeenLook, ...]:
    """List the looks that stand; one at signs or smell alone leaves the surface as it was seen before."""
    out: list[SeenLook] = []
    for look in _standing_looks(brew):
        surface = look.surface or (out[-1].surface if out else "")
        out.append(SeenLook(max(0.0, days_between(brew.pitched_at, look.at)), surface, tuple(look.signs), look.smell))
    return tuple(out)


def _standing_looks(brew: Brew) -> list[LookRow]:
    return [*_before(brew, _standing_looks), *(look for look in brew.looks if not look.struck)]


def own_word(brew: Brew) -> Own | None:
    """Return the brewer's own verdict, if one stands."""
    standing_ones = [row for row in brew.overrules if not row.struck]
    if not standing_ones:
        return None
    last = standing_ones[-1]
    return Own(last.word, last.reason, tuple(last.against))


def diet_of(brew: Brew) -> Diet:
    """Return what a brew was made of, by its honey."""
    return Diet.JUN if is_jun(brew.honey_share) else Diet.SUGAR


def _ph_of(reading: Reading) -> tuple[float | None, str]:
    """Return a reading's pH, and what read it."""
    if reading.ph is None:
        return None, reading.instrument
    told = ph_told(reading)
    return told.ph, told.by


def watched(brew: Brew) -> Watched:
    """Return all that was seen, measured and tasted of a brew, and what it was."""

    def day(moment: datetime) -> float:
        return max(0.0, days_between(brew.pitched_at, moment))

    return Watched(
        measured=tuple(
            Measured(day(r.at), *_ph_of(r), r.celsius, r.high_c, r.ta_g_per_l, r.degassed) for r in standing_readings(brew)
        ),
        looks=looks_of(brew),
        tastes=tuple((day(t.at), t.score) for t in standing_tastings(brew)),
        top_ups=tuple(days_between(brew.pitched_at, a.at) for a in topped_up(brew)) if brew.runs else (),
        kind=brew.kind,
        status=brew.status,
        soured=brew.status == BrewStatus.HELD and soured_since_read(brew),
        diet=diet_of(brew),
        runs=brew.runs,
        labelled=brew.labelled_at is not None,
        reach=brew.vessel.place.reach,
        watch=KINDS[brew.kind].watch,
    )
