"""The pitch: a brew begins, with its starters, or is refused, or is held."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from ...core.base import limit, marked
from ...core.base.kinds import BrewStatus, KindOfBrew, StarterKind, VesselKind
from ...core.brewing import KINDS
from ...core.brewing.kinds import base_refused
from ...core.liquid import Recipe, Way, sweet_tea, teas
from ...core.liquid.acids import TeaAndWater
from ...core.liquid.pouring import Added, LiquidKind
from ...core.liquid.sweet_tea import Shares
from ...store.read import queries
from ...store.records import Brew, Culture, Disc, KeptLiquid, Reading, StarterLot, Vessel
from ..base import Checks, Done, action, flushed
from ..planned import served
from ..pouring import begin, left_l, pour, put_in
from ..trying import BrewedFor, joined

NOTHING = BrewedFor()
ROUNDING_L = 0.005  #: Less than a kitchen measures. [L]


@dataclass(frozen=True, slots=True, kw_only=True)
class Poured:
    """One liquid that goes in as starter."""

    litres: float  #: [L]
    lot_id: int | None = None
    name: str = "starter"
    kind: str = "fresh"
    ph: float | None = None  #: [pH]


@dataclass(frozen=True, slots=True, kw_only=True)
class PitchBrew:
    """A brew as planned, and what was measured as it was pitched."""

    vessel_id: int
    culture_id: int
    starter_lot_id: int | None
    disc_id: int | None
    recipe: Recipe
    starter_instrument: str
    final_l: float  #: [L]
    plan: dict[str, Any]
    above_line_l: float = 0.0  #: Of it, put in last because it was not sour enough: it may stand above the fill line. [L]
    kind: str = "batch"
    base: str = ""
    poured: tuple[Poured, ...] = ()  #: All of it from the one lot, unless given.
    other_line: bool = False  #: A starter of another line is meant.
    facts: dict[str, Any] = field(default_factory=dict)  #: What was done, step by step.
    measured_ph: float | None = None  #: Of the pitched brew. [pH]
    instrument: str = "meter"
    celsius: float | None = None  #: Of the pitched brew. [degC]
    brewed_for: BrewedFor = NOTHING

    @property
    def liquids(self) -> tuple[Poured, ...]:
        """What goes in as starter."""
        if self.poured or self.starter_lot_id is None:
            return self.poured
        return (Poured(litres=self.final_l * self.recipe.starter_fraction, lot_id=self.starter_lot_id),)


def _check_starters(session: Session, ask: PitchBrew, culture: Culture, checks: Checks) -> None:
    for liquid in ask.liquids:
        if liquid.lot_id is None:
            continue
        lot = queries.get(session, StarterLot, liquid.lot_id)
        checks.refuse_apart(session, "starter", ("lot", lot.id))
        checks.refuse_if(
            lot.left_l < liquid.litres - ROUNDING_L,
            "starter",
            f"The plan takes {marked(liquid.litres, 'volume')} of this starter; {marked(lot.left_l, 'volume')} are left of it.",
        )
        checks.refuse_if(
            lot.culture_id != culture.id
            and not ask.other_line
            and ask.kind not in {KindOfBrew.CONVERSION, KindOfBrew.DRIED},
            "other_line",
            f"This starter is of {lot.culture.name}: jun seeds jun, sugar seeds sugar. Tick it if it is meant.",
        )
    low = ask.recipe.starter_fraction < limit("starter_floor_low") and ask.kind != KindOfBrew.DRIED
    checks.refuse_if(low, "share", "Under 6 % acid and culture are too little to seed a brew.")


def _check_pitch(session: Session, ask: PitchBrew, vessel: Vessel, culture: Culture) -> None:
    checks = Checks()
    occupied = queries.brew_in(session, vessel.id)
    standing = occupied.culture.name if occupied else ""
    checks.refuse_if(occupied is not None, "vessel", f"{vessel.name} is full: {standing} stands in it already.")
    checks.refuse_if(vessel.kind == VesselKind.HOTEL, "vessel", "A hotel keeps spare discs: choose a jar or crock.")
    checks.refuse_if(
        ask.final_l - ask.above_line_l > vessel.usable_l + ROUNDING_L or ask.final_l > vessel.nominal_l + ROUNDING_L,
        "liquid_l",
        f"That is {marked(ask.final_l - vessel.usable_l, 'volume')} more than {vessel.name} holds to its fill line.",
    )
    checks.refuse_if(ask.kind not in KINDS, "kind", "Choose what to begin.")
    refused = base_refused(ask.base)
    checks.refuse_if(bool(refused), "base", f"No trial with {refused}: acid alone does not keep such a base safe.")
    checks.between(ask.measured_ph, "measured_ph", 1.5, 9, "A pH of")
    most = limit("pitch_refuse")
    hot = ask.celsius is not None and ask.celsius > most
    checks.refuse_if(
        hot,
        "celsius",
        f"{marked(ask.celsius or 0, 'temperature')} is too warm to start: above {marked(most, 'temperature')} harms the culture. Wait.",
    )
    checks.between(ask.celsius if not hot else None, "celsius", 5, 32, "A brew at", "temperature")
    _check_starters(session, ask, culture, checks)
    checks.refuse_apart(session, "disc", ("disc", ask.disc_id) if ask.disc_id is not None else None)
    checks.done()


def _state_of(measured_ph: float | None) -> str:
    return "held" if measured_ph is not None and measured_ph > limit("start_ph") else "fermenting"


def _brew(ask: PitchBrew, at: datetime) -> Brew:
    r = ask.recipe
    own = r.starter_in or TeaAndWater(r.tea, r.leaf_g_per_l)
    return Brew(
        vessel_id=ask.vessel_id,
        culture_id=ask.culture_id,
        disc_id=ask.disc_id,
        kind=ask.kind,
        base=ask.base.strip()[:80],
        tea=teas.text_of(r.tea),
        leaf_g_per_l=r.leaf_g_per_l,
        sugar_g_per_l=r.sugar_g_per_l,
        honey_share=r.honey_share,
        invert_share=r.invert_share,
        alkalinity_meq_per_l=r.alkalinity_meq_per_l,
        starter_fraction=r.starter_fraction,
        starter_ph=r.starter_ph,
        starter_ta_g_per_l=r.starter_ta_g_per_l,
        starter_tea=teas.text_of(own.tea),
        starter_leaf_g_per_l=own.leaf_g_per_l,
        starter_alkalinity_meq_per_l=own.alkalinity_meq_per_l,
        starter_kind=r.starter_kind,
        starter_yeast=r.starter_yeast,
        starter_bacteria=r.starter_bacteria,
        starter_instrument=ask.starter_instrument,
        plan=ask.plan,
        facts=ask.facts,
        pitched_at=at,
        status=_state_of(ask.measured_ph),
        version=1,
    )


def _start(session: Session, brew: Brew, liquids: tuple[Poured, ...], final_l: float) -> None:
    """Start a brew: its starters, and sweet tea to the line."""
    at, own = brew.pitched_at, brew.liquid
    for liquid in liquids:
        if liquid.kind == StarterKind.VINEGAR:
            put_in(session, own, at, Added.VINEGAR, liquid.litres)
            continue
        found = _as_known(session, liquid)
        pour(session, at, found.litres, Way.PITCHED, found.source, own, name=found.name, lively=liquid.kind, ph=found.ph)
    if not liquids and brew.starter_fraction > 0:
        pour(session, at, brew.starter_fraction * final_l, Way.PITCHED, None, own, ph=brew.starter_ph)
    put_in(session, own, at, Added.SWEET_TEA, max(0.0, final_l - left_l(session, own)))


@dataclass(frozen=True, slots=True)
class Known:
    """A starter that goes in, with what the records know of it."""

    litres: float  #: [L]
    source: KeptLiquid | None
    name: str
    ph: float | None


def _as_known(session: Session, liquid: Poured) -> Known:
    """Look a starter up; of one that is kept, no more is taken than there is, but for rounding."""
    if liquid.lot_id is None:
        return Known(liquid.litres, None, liquid.name, liquid.ph)
    lot = queries.get(session, StarterLot, liquid.lot_id)
    return Known(min(liquid.litres, lot.left_l), lot.liquid, lot.culture.name, lot.likely_ph)


def leave_hotel(disc: Disc, at: datetime) -> bool:
    """End a disc's stay in the hotel; says whether there was one."""
    staying = [stay for stay in disc.stays if stay.until is None]
    for stay in staying:
        stay.until = at
    return bool(staying)


def pitch(session: Session, ask: PitchBrew, at: datetime) -> Done:
    """Check and record a brew; for actions that pitch among other things."""
    vessel, culture = queries.get(session, Vessel, ask.vessel_id), queries.get(session, Culture, ask.culture_id)
    _check_pitch(session, ask, vessel, culture)
    brew = _brew(ask, at)
    brew.liquid = begin(session, LiquidKind.BREW, at)
    made = {"brew": flushed(session, brew)}
    tried = joined(session, ask.brewed_for.experiment(session, at), made["brew"])
    served(session, vessel.id, "brew", at)
    _start(session, brew, ask.liquids, ask.final_l)
    if (disc := queries.find(session, Disc, ask.disc_id)) is not None:
        leave_hotel(disc, at)
    if ask.measured_ph is not None or ask.celsius is not None:
        session.add(
            Reading(liquid_id=brew.liquid_id, at=at, ph=ask.measured_ph, instrument=ask.instrument, celsius=ask.celsius)
        )
    if brew.status == BrewStatus.HELD:
        return Done(f"{vessel.name} is held: pH {ask.measured_ph:g} is above {limit('start_ph'):g}.{tried}", made)
    return Done(f"{culture.name} started in {vessel.name}.{tried}", made)


@action
def pitch_brew(session: Session, ask: PitchBrew, at: datetime) -> Done:
    """Record a brew at the moment of the pitch; one that starts above pH 4.5 is held until corrected."""
    return pitch(session, ask, at)


def planned_amounts(
    recipe: Recipe, final_l: float, shares: Shares | None = None, vinegar_l: float = 0.0
) -> dict[str, Any]:
    """Put a plan's amounts into a record. [g, mL]"""
    made = sweet_tea.amounts(recipe, final_l, shares, vinegar_l)
    return {
        "leaf_g": made.leaf_g,
        "sugar_g": made.sugar_g,
        "honey_g": made.honey_g,
        "sweeteners": dict(made.sweeteners),
        "starter_ml": made.starter_ml,
        "vinegar_ml": 1000 * vinegar_l,
        "tea_water_ml": made.tea_water_ml,
    }
