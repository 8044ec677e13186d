"""What a brew day can be planned with: vessels, lots, discs, tools, and how it went last time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base import KyklosError
from ...core.base.kinds import BrewStatus, Diet, KindOfBrew, VesselKind
from ...core.brewing import KINDS, BrewPlan, RecipeCard, make_plan
from ...core.brewing.planner import PlanAsk, StarterTold, VesselFacts
from ...core.cultures import conversion
from ...core.cultures.conversion import StepAdvice
from ...core.liquid.acids import TeaAndWater
from ...store.read import culture_queries, planning_queries, queries, recorded
from ...store.read.documents import card_of
from ...store.read.moments import days_between
from ...store.records import Brew, Culture, Disc, KeptRecipe, StarterLot, Vessel
from ..cultures import conversions
from ..cultures.quarantine import kept_away
from ..forecast import forecasting, warmth

TICKED = 3  #: So many of a line's own lots are taken at first.
RAW_BOTTLE_L, RAW_SHARE = 0.5, 0.35  #: A raw bottle as sold, and its share of the brew that grows a SCOBY. [L, -]
USUAL_COLD_C = 15.0  #: Cold water as it runs in most houses (assumed). [degC]
GOOD_STARTER_PH = 3.3  #: From here on a brew's liquid is good starter. [pH]
USUAL_STARTER_PH = 3.1  #: Of the starter that a vessel's next brew is laid out with (assumed). [pH]
USUAL_BOTTLE_L = 0.5  #: Until the household's own bottles are known. [L]
BOTTLED_SHARE = 0.8  #: Of a brew, after reserve and losses (assumed). [-]
LEAST_STEEP_MINUTES = 5.0  #: [min]
LOOKED_BACK = 12  #: So many brews back a card is looked for.


def brewing_vessels(session: Session) -> list[Vessel]:
    """List the vessels in which a brew can be started, in the order of their places."""
    return [v for v in queries.vessels(session) if v.kind != VesselKind.HOTEL]


def free_discs(session: Session, cultures: Sequence[Culture]) -> list[Disc]:
    """List discs that live, lie in no living brew and are not set apart."""
    _, busy = culture_queries.in_use(session)
    apart = kept_away(session)
    lines = [culture.id for culture in cultures]
    found = [d for d in culture_queries.living_discs(session) if d.culture_id in lines and d.id not in busy]
    discs = sorted(found, key=lambda disc: (lines.index(disc.culture_id), disc.id))
    return [disc for disc in discs if ("disc", disc.id) not in apart]


def sound_lots(session: Session) -> list[StarterLot]:
    """List starter that is left and not set apart, newest first."""
    apart = kept_away(session)
    return [lot for lot in culture_queries.starter_lots(session) if ("lot", lot.id) not in apart]


def first_lots(lots: Sequence[StarterLot], culture: Culture, kind: str) -> list[int]:
    """Choose the lots that are taken at first: a line's own without a doubt, else for a few kinds of brew any one."""
    own = [lot.id for lot in lots if lot.culture_id == culture.id and not lot.doubt][:TICKED]
    if not own and kind in {KindOfBrew.CONVERSION, KindOfBrew.DRIED}:
        return [lot.id for lot in lots][:1]
    return own


def usual_kind(culture: Culture) -> KindOfBrew:
    """Return what is started with a line, unless given otherwise."""
    return KindOfBrew.JUN if culture.diet == Diet.JUN else KindOfBrew.BATCH


def step_of(session: Session, culture: Culture | None, now: datetime) -> StepAdvice:
    """Return what a line's next brew takes on its way to another diet."""
    if culture is None:
        return conversion.advise([])
    return conversions.advice_of(session, culture, now)


def last_card(session: Session, vessel: Vessel | None, culture: Culture, kind: str) -> RecipeCard | None:
    """Find the card of the last brew of this culture, in this vessel if there is one, of this kind."""
    alike = (Brew.culture_id == culture.id, Brew.kind == kind)
    own = (
        queries.last_brews(session, *alike, Brew.vessel_id == vessel.id, most=LOOKED_BACK) if vessel is not None else []
    )
    for brew in (*own, *queries.last_brews(session, *alike, most=LOOKED_BACK)):
        try:
            if brew.plan.get("card"):
                return card_of(brew.plan["card"])
        except KyklosError:
            continue
    return None


def last_culture(session: Session, vessel: Vessel) -> Culture:
    """Return the line that a vessel had last, else the household's first; one of which something lives, if there is one."""
    last = queries.last_brew(session, Brew.vessel_id == vessel.id)
    lines, living = culture_queries.cultures(session), culture_queries.living_lines(session)
    if last is not None and (last.culture_id in living or not living):
        return last.culture
    return next((line for line in lines if line.id in living), lines[0])


def usual_card(session: Session, culture: Culture | None, kind: str, now: datetime) -> RecipeCard:
    """Return what a kind of brew takes for a culture that has no last time."""
    entry = KINDS[kind]
    of_jun = culture is not None and culture.diet == Diet.JUN
    jun = kind == KindOfBrew.JUN or (of_jun and kind in {KindOfBrew.BATCH, KindOfBrew.FIRST, KindOfBrew.GROW})
    if kind == KindOfBrew.CONVERSION:
        step = step_of(session, culture, now)
        return RecipeCard(
            kind=kind,
            tea=step.tea,
            sweeteners=step.sweeteners,
            leaf_g_per_l=entry.leaf[1],
            sugar_g_per_l=entry.sugars[1],
        )
    return RecipeCard(
        kind=kind,
        tea="green" if jun else "black",
        sweeteners=(("honey", 1.0),) if jun else (("sugar", 1.0),),
        leaf_g_per_l=entry.leaf[1],
        sugar_g_per_l=KINDS[KindOfBrew.JUN].sugars[1] if jun else entry.sugars[1],
    )


def raw_bottle(vessel: Vessel) -> tuple[float, float]:
    """Return how much a raw bottle gives as starter, and the small brew for it. [L, L]"""
    return RAW_BOTTLE_L, min(vessel.usable_l, RAW_BOTTLE_L / RAW_SHARE)


def first_heel_l(session: Session, vessel: Vessel, kind: str) -> float | None:
    """Return the heel that is left in a tapped vessel for the next fill; None where there is none. [L]"""
    used = queries.last_brew(session, Brew.vessel_id == vessel.id) is not None
    heel = vessel.tapped and vessel.heel_l > 0 and used and kind != KindOfBrew.FIRST
    return vessel.heel_l if heel else None


def lot_told(lot: StarterLot, now: datetime) -> StarterTold:
    """Describe a starter that is kept."""
    source = f" from {lot.source_brew.vessel.name}" if lot.source_brew else ""
    return StarterTold(
        key=f"lot-{lot.id}",
        name=lot.culture.name + source,
        left_l=lot.left_l,
        ph=lot.likely_ph,
        ta_g_per_l=lot.ta_g_per_l,
        instrument=lot.instrument if lot.ph is not None else "estimate",
        kind=lot.kind,
        line=lot.culture.name,
        diet=lot.culture.diet,
        age_days=float(round(max(0.0, days_between(lot.ages_since, now)))),
        kept_in=lot.kept_in,
        read_days=float(round(max(0.0, days_between(lot.read_at or lot.made_at, now)))),
        brewed_with=recorded.brewed_with(lot.source_brew) if lot.source_brew else None,
    )


def lots_told(session: Session, numbers: Sequence[int], now: datetime) -> list[StarterTold]:
    """Describe starters by number; one that is named twice is there once, an empty one not at all."""
    found = (queries.find(session, StarterLot, number) for number in dict.fromkeys(numbers))
    return [lot_told(lot, now) for lot in found if lot is not None and lot.left_l > 0]


def tap_treatment(session: Session) -> str | None:
    """Return what the tap water holds by the last plan that used it, a key of TREATMENTS; None: nobody was asked yet."""
    last = queries.last_brew(session, Brew.plan["card"]["water"]["source"].as_string() == "tap")
    return None if last is None else str(last.plan["card"]["water"].get("treatment", "none"))


def usual_tea(session: Session) -> TeaAndWater | None:
    """Return what the household usually brews with, in soft water: as its last batch; None: there was none."""
    last = queries.last_brew(session, Brew.kind.in_((KindOfBrew.BATCH, KindOfBrew.JUN, KindOfBrew.FIRST)))
    return None if last is None else TeaAndWater(recorded.brewed_with(last).tea, last.leaf_g_per_l)


def heel_told(session: Session, vessel: Vessel, litres: float, now: datetime) -> StarterTold:
    """Describe the heel by what the last brew's reserve measured, or the usual. [L]"""
    last = queries.last_brew(session, Brew.vessel_id == vessel.id, Brew.status == BrewStatus.HARVESTED)
    lot = last.reserved[-1] if last and last.reserved else None
    return StarterTold(
        key="heel",
        name="Heel of the last brew",
        left_l=litres,
        ph=lot.likely_ph if lot else None,
        instrument=lot.instrument if lot and lot.ph else "estimate",
        line=last.culture.name if last else "",
        diet=last.culture.diet if last else "",
        read_days=float(round(max(0.0, days_between(lot.read_at or lot.made_at, now)))) if lot else 0.0,
        fixed=True,
        brewed_with=recorded.brewed_with(last) if last else None,
    )


def vessel_facts(vessel: Vessel) -> VesselFacts:
    """Describe a vessel for a plan."""
    return VesselFacts(
        name=vessel.name,
        nominal_l=vessel.nominal_l,
        line_l=vessel.usable_l,
        diameter_cm=vessel.diameter_cm,
        material=vessel.material,
        tapped=vessel.tapped,
        heel_l=vessel.heel_l,
    )


def weighs(session: Session) -> bool:
    """Return whether amounts are given by weight first: the household owns a scale, or has named no tools and counts in grams."""
    owned = {tool.kind for tool in planning_queries.tools(session)}
    return "scale" in owned if owned else queries.household_of(session).units == "metric"


def largest_l(session: Session, kind: str) -> float | None:
    """Return how much the largest tool of a kind holds. [L]"""
    return max((tool.litres for tool in planning_queries.tools(session) if tool.kind == kind and tool.litres), default=None)


def usual_plan(session: Session, vessel: Vessel, now: datetime) -> BrewPlan:
    """Plan a vessel's next brew as its last, with starter enough."""
    culture = last_culture(session, vessel)
    kind = usual_kind(culture)
    card = last_card(session, vessel, culture, kind) or usual_card(session, culture, kind, now)
    own = StarterTold(
        key="own", name="its own starter", left_l=vessel.usable_l, ph=USUAL_STARTER_PH, instrument="meter"
    )
    return make_plan(
        PlanAsk(
            card=card,
            vessel=vessel_facts(vessel),
            culture=culture.name,
            diet=culture.diet,
            usual=usual_tea(session),
            room_c=warmth.place_now(session, vessel.place, now)[0],
            pot_l=largest_l(session, "pot"),
            jug_l=largest_l(session, "jug"),
            pitcher_l=largest_l(session, "pitcher"),
            starters=(own,),
        )
    )


def gives_starter(session: Session, culture: Culture, now: datetime) -> list[tuple[Brew, float]]:
    """List the living brews of a line that are, or will be, sour enough to be good starter, and in how many days. [d]"""
    out = []
    for brew in queries.living_brews(session):
        if brew.culture_id != culture.id or brew.status != BrewStatus.FERMENTING:
            continue
        forecast = forecasting.forecast_of(session, brew)
        day = next((float(d) for d, ph in zip(forecast.day, forecast.ph.p50, strict=True) if ph <= GOOD_STARTER_PH), None)
        if day is not None:
            out.append((brew, max(0.0, day - days_between(brew.pitched_at, now))))
    return out


@dataclass(frozen=True, slots=True)
class FirstPlan:
    """What a brew day is planned with at first, and why."""

    vessel: Vessel
    culture: Culture
    kind: str
    card: RecipeCard
    disc: Disc | None
    why: str


def first_plan(
    session: Session, now: datetime, vessel: Vessel, culture: Culture | None, kept: KeptRecipe | None, kind: str
) -> FirstPlan:
    """Choose what a brew day begins with: as a kept recipe says, as last time, or as is usual.

    Args:
        session: Of the household; it has a culture.
        now: The moment.
        vessel: Chosen.
        culture: Chosen; that of the vessel's last brew, else the first unless given.
        kept: A recipe chosen.
        kind: A key of KINDS; what is usual for the culture unless given.
    """
    culture = culture or last_culture(session, vessel)
    card, why = None, ""
    if kept is not None and kept.dropped_at is None:
        card, why = card_of(kept.card), f"As {kept.name} says."
        kind = card.kind
    if kind not in KINDS:
        kind = usual_kind(culture)
    leads = kind == KindOfBrew.CONVERSION
    if card is None and not leads:
        card = last_card(session, vessel, culture, kind)
        why = "As last time." if card else ""
    why = why or (step_of(session, culture, now).why if leads else KINDS[kind].says)
    meant = next((row for row in planning_queries.planned_days(session) if row.kind == "brew" and row.vessel_id == vessel.id), None)
    if meant is not None:
        why = f"{why} Planned for {meant.day:%A} {meant.day.day} {meant.day:%B}."
    disc = next(reversed(free_discs(session, [culture])), None)
    return FirstPlan(vessel, culture, kind, card or usual_card(session, culture, kind, now), disc, why)
