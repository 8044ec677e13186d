"""What a harvest is told by the records: how much to reserve, what to offer for bottles, what they would do."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.bottle import BottleAsk, with_flavour
from ..core.facts import BOTTLES, INSTRUMENTS
from ..core.standing import FRIDGE_C, PlaceKind
from ..core.why import Why, why_starter
from ..store import queries
from ..store.models import Brew, Place
from ..store.read import moments, recorded
from . import forecasting
from .pressure import Filled, ask_if_filled, state_at_filling

AS_COLD_AS_MOST = Place(name="Fridge", kind=PlaceKind.FRIDGE, celsius=FRIDGE_C, position=0)  # none is told yet
USUAL_BOTTLE = "swing-top"
HEADSPACE_CM = 2.5  #: [cm]
FRESH_DAYS = 1.0  #: A pH so old still speaks for the liquid. [d]
ESTIMATE_SD = 0.15  #: Of an acidity foretold rather than measured, at least (assumed). [pH]
BAND_SDS = 2.56  #: From the 10th to the 90th percentile of a normal, in sd. [-]


@dataclass(frozen=True, slots=True)
class Offered:
    """Bottles as last time, or the usual."""

    kind: str
    volume_ml: float  #: Brimful. [mL]
    count: int


def why_reserve(session: Session, brew: Brew, now: datetime) -> Why:
    """Reasons for how much starter to reserve for filling this vessel again."""
    measured = [
        r for r in recorded.standing_readings(brew) if r.ph is not None and moments.days_between(r.at, now) < FRESH_DAYS
    ]
    if measured and measured[-1].ph is not None:
        ph, sd = measured[-1].ph, INSTRUMENTS[measured[-1].instrument].sd_ph
    else:
        out = forecasting.forecast_of(session, brew)
        low, ph, high = out.at(out.ph, moments.days_between(brew.pitched_at, now))
        sd = max((high - low) / BAND_SDS, ESTIMATE_SD)
    recipe = replace(recorded.recipe_of(brew), starter_ph=round(float(ph), 2))
    return why_starter(recipe, round(float(sd), 3), brew.vessel.usable_l, "Reserve")


def reserve_l(reasons: Why) -> float | None:
    """Return how much to reserve; None where it cannot be said. [L]"""
    value = reasons.value()
    return None if value is None else value / 1000


def offered(session: Session, brew: Brew, now: datetime) -> Offered:
    """Offer the kind of bottle of last time, or as many of the usual as the brew fills after its reserve."""
    last = brew.bottlings[-1].bottles[0] if brew.bottlings and brew.bottlings[-1].bottles else None
    if last is not None:
        return Offered(last.kind, last.volume_ml, 1)
    usual = BOTTLES[USUAL_BOTTLE]
    aside = 0.0 if brew.reserved or brew.no_next_brew else reserve_l(why_reserve(session, brew, now)) or 0.0
    filled = usual.volume_ml / 1000 * (1 - usual.headspace_fraction(HEADSPACE_CM, usual.volume_ml))
    return Offered(USUAL_BOTTLE, usual.volume_ml, max(1, int((brew.left_l - aside) / filled)))


@dataclass(frozen=True, slots=True, kw_only=True)
class Filling:
    """Bottles that may be filled."""

    kind: str
    headspace_fraction: float  #: [-]
    flavour: str = "plain"
    flavour_g_per_l: float = 0.0  #: Flavouring in the filled bottle. [g/L]
    sugar_g_per_l: float = 0.0  #: Priming. [g/L]
    limit_bar: float | None = None  #: The maker's figure, if known. [bar]
    place_id: int | None = None  #: Beside their vessel unless told.
    cold: bool = False  #: Straight into the fridge.


def ask_of(session: Session, brew: Brew, filling: Filling, now: datetime) -> BottleAsk:
    """Ask what bottles would do that were filled now."""
    out = forecasting.forecast_of(session, brew)
    start, vigour = state_at_filling(out, moments.days_between(brew.pitched_at, now))
    filled = Filled(
        at=now,
        start=start,
        vigour=vigour,
        added_sugar_g_per_l=with_flavour(filling.sugar_g_per_l, filling.flavour, filling.flavour_g_per_l),
        flavour=filling.flavour,
        headspace_fraction=filling.headspace_fraction,
        limit_bar=filling.limit_bar or BOTTLES[filling.kind].limit_bar,
        leaf_g_per_l=brew.leaf_g_per_l,
    )
    place = queries.find(session, Place, filling.place_id) or brew.vessel.place
    if filling.cold and place.kind != PlaceKind.FRIDGE:
        place = queries.fridge(session) or AS_COLD_AS_MOST
    return ask_if_filled(session, filled, place)
