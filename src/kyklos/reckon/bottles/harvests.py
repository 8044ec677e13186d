"""What the records say of a harvest: how much to reserve, what to offer for bottles, what they would do."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base.facts import BOTTLES
from ...core.base.kinds import MeasuredBy
from ...core.bottles import BottleAsk, Part
from ...core.bottles.bottle import POURS, STIRRED_HARD_VOLUMES, VOLUMES_AT_FILLING
from ...core.bottles.flavouring import (
    added_ethanol,
    added_sugar,
    at_ph,
    driving_form,
    flavoured,
    may_close,
    part,
    room,
)
from ...core.bottles.ingredients import known
from ...core.bottles.room import HEADSPACE_CM
from ...core.brewing.portions import LEAST_SD, UNSURE, instrument_sd
from ...core.liquid import Liquid
from ...core.liquid.liquid import fermented
from ...core.liquid.standing import FRIDGE_C, PlaceKind
from ...core.why import Why, why_starter
from ...store.read import culture_queries, moments, planning_queries, queries, recorded
from ...store.read.meters import ph_told
from ...store.records import Brew, Place, Vessel
from ..forecast import forecasting
from .pressure import Filled, ask_if_filled, state_at_filling

AS_COLD_AS_MOST = Place(name="Fridge", kind=PlaceKind.FRIDGE, celsius=FRIDGE_C, position=0)  # where the household has none yet
USUAL_BOTTLE = "swing-top"
FRESH_DAYS = 1.0  #: A pH so old still speaks for the liquid. [d]
PLANNED_SOON_DAYS = 21  #: A brew planned within three weeks gets its starter from this harvest (assumed). [d]
ROUNDED_UP_L = 0.01  #: What is asked for is rounded up to so much, so that a brew day finds enough. [L]


@dataclass(frozen=True, slots=True)
class Offered:
    """Bottles as last time, or the usual."""

    kind: str
    volume_ml: float  #: Brimful. [mL]
    count: int


def measured_ph(brew: Brew, now: datetime) -> tuple[float, str] | None:
    """Return the last pH that still speaks for a brew's liquid, and what read it; None: there is none."""
    rows = [(r.at, (told := ph_told(r)).ph, told.by) for r in recorded.standing_readings(brew) if r.ph is not None]
    if not rows or moments.days_between(rows[-1][0], now) >= FRESH_DAYS:
        return None
    return rows[-1][1], rows[-1][2]


def estimated_ph(session: Session, brew: Brew, now: datetime) -> float:
    """Return a brew's likely pH now, as foretold. [pH]"""
    out = forecasting.forecast_of(session, brew)
    return round(out.at(out.ph, moments.days_between(brew.pitched_at, now))[1], 2)


def why_reserve(session: Session, brew: Brew, now: datetime) -> Why:
    """Reasons for how much starter to reserve for filling this vessel again: as a brew day will read that starter."""
    measured = measured_ph(brew, now)
    ph, instrument = measured if measured is not None else (estimated_ph(session, brew, now), "estimate")
    recipe = replace(recorded.recipe_of(brew), starter_ph=ph, starter_in=recorded.brewed_with(brew))
    sd = max(instrument_sd(instrument), LEAST_SD)
    return why_starter(recipe, sd, brew.vessel.usable_l, "Reserve", measured=instrument not in UNSURE)


def reserve_l(reasons: Why) -> float | None:
    """Return how much to reserve, rounded up; None where it cannot be said. [L]"""
    value = reasons.value()
    return None if value is None else math.ceil(value / 1000 / ROUNDED_UP_L - 1e-6) * ROUNDED_UP_L


def to_set_aside_l(session: Session, brew: Brew, now: datetime) -> float:
    """Return how much of what stands in a vessel is still to be kept as starter; 0 where that is settled. [L]"""
    if brew.runs or brew.reserved or brew.no_next_brew:
        return 0.0
    own = reserve_l(why_reserve(session, brew, now)) or 0.0
    return min(brew.left_l, own + sum(litres for _, litres in planned_starter(session, brew, now)))


def planned_starter(session: Session, brew: Brew, now: datetime) -> list[tuple[Vessel, float]]:
    """List the empty vessels for which a brew of the same line is planned soon, and what each takes that no starter at hand covers. [L]"""
    first = {row.vessel_id: row for row in reversed(planning_queries.planned_days(session)) if row.kind == "brew" and row.vessel_id != brew.vessel_id}
    soon = [row for row in first.values() if (row.day - now.date()).days <= PLANNED_SOON_DAYS and queries.brew_in(session, row.vessel_id) is None]
    kept = sum(lot.left_l for lot in culture_queries.starter_lots(session) if lot.culture_id == brew.culture_id) if soon else 0.0
    out = []
    for row in sorted(soon, key=lambda one: (one.day, one.id)):
        last = queries.last_brew(session, Brew.vessel_id == row.vessel_id)
        if last is None or last.culture_id != brew.culture_id:
            continue
        needs = (row.litres or row.vessel.usable_l) * last.starter_fraction
        missing = math.ceil(max(0.0, needs - kept) / ROUNDED_UP_L - 1e-6) * ROUNDED_UP_L
        kept = max(0.0, kept - needs)
        if missing > 0:
            out.append((row.vessel, missing))
    return out


def offered(session: Session, brew: Brew, now: datetime) -> Offered:
    """Offer the kind of bottle of last time, or as many of the usual as the brew fills after its reserve."""
    last = brew.bottlings[-1].bottles[0] if brew.bottlings and brew.bottlings[-1].bottles else None
    if last is not None:
        return Offered(last.kind, last.volume_ml, 1)
    usual = BOTTLES[USUAL_BOTTLE]
    aside = to_set_aside_l(session, brew, now)
    filled = usual.volume_ml / 1000 * (1 - usual.headspace_fraction(HEADSPACE_CM, usual.volume_ml))
    return Offered(USUAL_BOTTLE, usual.volume_ml, max(1, int((brew.left_l - aside) / filled)))


@dataclass(frozen=True, slots=True, kw_only=True)
class Filling:
    """Bottles that may be filled."""

    kind: str
    headspace_fraction: float  #: [-]
    flavour: str = "plain"  #: The ingredient that tells most.
    flavour_g_per_l: float = 0.0  #: Flavouring in the filled bottle. [g/L]
    made_of: tuple[Part, ...] = ()  #: All that goes in, where it is more than the one.
    pour: str = "stirred"  #: How it is poured, a key of core/bottles/bottle.py: POURS.
    knocked: bool = False  #: Its gas was stirred out first.
    ph_after: float | None = None  #: Of the flavoured brew, if measured. [pH]
    overruled: str = ""  #: Why it is closed though its pH is held too high.
    sugar_g_per_l: float = 0.0  #: Priming. [g/L]
    limit_bar: float | None = None  #: The maker's figure, if known. [bar]
    place_id: int | None = None  #: Beside their vessel, unless given.
    cold: bool = False  #: Straight into the fridge.
    spot_c: float | None = None  #: How warm it is there now; None: nobody looked. [degC]

    @property
    def parts(self) -> tuple[Part, ...]:
        """All that goes in."""
        if self.made_of or self.flavour_g_per_l <= 0 or not known(self.flavour):
            return self.made_of
        return (part(self.flavour, self.flavour_g_per_l),)

    @property
    def added_sugar_g_per_l(self) -> float:
        """Sugar of flavour and priming. [g/L]"""
        return added_sugar(self.parts, self.sugar_g_per_l)

    @property
    def volumes(self) -> float:
        """Gas of the brew at filling, likely. [volumes]"""
        return STIRRED_HARD_VOLUMES if self.knocked else VOLUMES_AT_FILLING

    @property
    def closes(self) -> bool:
        """Whether the bottles are closed for fizz."""
        return not self.cold and BOTTLES[self.kind].limit_bar > 0


def plain_liquid(session: Session, brew: Brew, now: datetime, *, upper: bool = False) -> Liquid:
    """Return a brew as it is now: from a meter's reading, else as foretold, or from the upper end of that."""
    out, day = forecasting.forecast_of(session, brew), moments.days_between(brew.pitched_at, now)
    measured = measured_ph(brew, now)
    meter = measured is not None and measured[1] == MeasuredBy.METER
    found = measured[0] if measured is not None and meter else out.at(out.ph, day)[2 if upper else 1]
    return at_ph(fermented(out.state_at(day).tolist(), recorded.recipe_of(brew)), float(found))


def too_high_to_close(session: Session, brew: Brew, filling: Filling, now: datetime) -> float | None:
    """Return the pH for which a filling is not to be closed for fizz; None where it may be. [pH]"""
    if not filling.closes or room(filling.parts) <= 0:
        return None
    plain = plain_liquid(session, brew, now, upper=True)
    foretold = flavoured(plain, filling.parts).ph
    if may_close(plain.ph, foretold, filling.parts, filling.ph_after):
        return None
    return foretold if filling.ph_after is None else filling.ph_after


def ask_of(session: Session, brew: Brew, filling: Filling, now: datetime) -> BottleAsk:
    """Ask what bottles would do that were filled now."""
    out = forecasting.forecast_of(session, brew)
    start, vigour = state_at_filling(out, moments.age_of(brew.pitched_at, now))
    filled = Filled(
        at=moments.quarter_of(now),
        start=start,
        vigour=vigour,
        added_sugar_g_per_l=filling.added_sugar_g_per_l,
        added_ethanol_g_per_l=added_ethanol(filling.parts),
        form=driving_form(filling.parts),
        pour_yeast=POURS[filling.pour],
        volumes=filling.volumes,
        headspace_fraction=filling.headspace_fraction,
        limit_bar=filling.limit_bar or BOTTLES[filling.kind].limit_bar,
        leaf_g_per_l=brew.leaf_g_per_l,
        brew_share=1 - room(filling.parts),
    )
    return ask_if_filled(session, filled, *spot_of(session, filling, brew.vessel.place))


def spot_of(session: Session, filling: Filling, beside: Place) -> tuple[Place, float | None]:
    """Return where filled bottles go, by default beside their vessel, and how warm it is there, if somebody looked. [degC]"""
    place = queries.find(session, Place, filling.place_id) or beside
    if filling.cold and place.kind != PlaceKind.FRIDGE:
        place = fridge_or_usual(session)
    return place, filling.spot_c if place.kind != PlaceKind.FRIDGE else None


def fridge_or_usual(session: Session) -> Place:
    """Return the household's fridge, or one as cold as most."""
    return queries.fridge(session) or AS_COLD_AS_MOST
