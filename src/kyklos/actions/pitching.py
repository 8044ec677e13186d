"""The pitch: a brew begins, with its starters, or is refused, or is held."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from ..core import sweet_tea, teas
from ..core.brew_kinds import KINDS, base_refused
from ..core.facts import limit
from ..core.ferment import Recipe
from ..core.saying import marked
from ..core.sweet_tea import Shares
from ..store import queries
from ..store.models import Brew, Culture, Disc, Reading, StarterLot, StarterPortion, Vessel
from .base import Checks, Done, action, flushed

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
    kind: str = "batch"
    base: str = ""
    poured: tuple[Poured, ...] = ()  #: All of it from the one lot unless told.
    other_line: bool = False  #: A starter of another line is meant.
    facts: dict[str, Any] = field(default_factory=dict)  #: What was done, step by step.
    measured_ph: float | None = None  #: Of the pitched brew. [pH]
    instrument: str = "meter"
    celsius: float | None = None  #: Of the pitched brew. [degC]

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
            lot.culture_id != culture.id and not ask.other_line and ask.kind not in {"conversion", "dried"},
            "other_line",
            f"This starter is of {lot.culture.name}: jun seeds jun, sugar seeds sugar. Tick it if it is meant.",
        )
    low = ask.recipe.starter_fraction < limit("starter_floor_low") and ask.kind != "dried"
    checks.refuse_if(low, "share", "Under 6 % acid and culture are too little to seed a brew.")


def _check_pitch(session: Session, ask: PitchBrew, vessel: Vessel, culture: Culture) -> None:
    checks = Checks()
    occupied = queries.brew_in(session, vessel.id)
    standing = occupied.culture.name if occupied else ""
    checks.refuse_if(occupied is not None, "vessel", f"{vessel.name} is full: {standing} stands in it already.")
    checks.refuse_if(vessel.kind == "hotel", "vessel", "A hotel keeps spare discs: choose a jar or crock.")
    checks.refuse_if(
        ask.final_l > vessel.usable_l + ROUNDING_L,
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
        f"{marked(ask.celsius or 0, 'temperature')} is too warm to pitch: above {marked(most, 'temperature')} harms the culture. Wait.",
    )
    checks.between(ask.celsius if not hot else None, "celsius", 5, 32, "A brew at", "temperature")
    _check_starters(session, ask, culture, checks)
    checks.refuse_apart(session, "disc", ("disc", ask.disc_id) if ask.disc_id is not None else None)
    checks.done()


def _state_of(measured_ph: float | None) -> str:
    return "held" if measured_ph is not None and measured_ph > limit("start_ph") else "fermenting"


def _brew(ask: PitchBrew, at: datetime) -> Brew:
    r = ask.recipe
    lot = next((liquid.lot_id for liquid in ask.liquids if liquid.lot_id is not None), None)
    return Brew(
        vessel_id=ask.vessel_id,
        culture_id=ask.culture_id,
        starter_lot_id=lot,
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
        starter_kind=r.starter_kind,
        starter_yeast=r.starter_yeast,
        starter_bacteria=r.starter_bacteria,
        starter_instrument=ask.starter_instrument,
        final_l=ask.final_l,
        plan=ask.plan,
        facts=ask.facts,
        pitched_at=at,
        status=_state_of(ask.measured_ph),
        version=1,
    )


def _pour(session: Session, brew: Brew, liquids: tuple[Poured, ...]) -> None:
    for liquid in liquids:
        name, ph = liquid.name, liquid.ph
        if liquid.lot_id is not None:
            lot = queries.get(session, StarterLot, liquid.lot_id)
            lot.left_l = max(0.0, lot.left_l - liquid.litres)
            name, ph = lot.culture.name, lot.ph if lot.ph is not None else lot.estimated_ph
        session.add(
            StarterPortion(
                brew_id=brew.id, lot_id=liquid.lot_id, name=name, kind=liquid.kind, litres=liquid.litres, ph=ph
            )
        )


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
    made = {"brew": flushed(session, brew)}
    _pour(session, brew, ask.liquids)
    if (disc := queries.find(session, Disc, ask.disc_id)) is not None:
        leave_hotel(disc, at)
    if ask.measured_ph is not None or ask.celsius is not None:
        session.add(Reading(brew_id=brew.id, at=at, ph=ask.measured_ph, instrument=ask.instrument, celsius=ask.celsius))
    if brew.status == "held":
        return Done(f"{vessel.name} is held: pH {ask.measured_ph:g} is above {limit('start_ph'):g}.", made)
    return Done(f"{culture.name} pitched into {vessel.name}.", made)


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
