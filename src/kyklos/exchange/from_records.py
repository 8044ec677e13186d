"""Documents written from a household's records: what is private, or belongs to this household alone, stays here."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from ..core.base.facts import SWEETENERS
from ..core.base.kinds import LIVING, BottleState
from ..core.base.saying import Said
from ..core.brewing import BrewPlan, RecipeCard
from ..core.brewing.steps import steps_of
from ..core.liquid import teas
from ..core.liquid.acids import Tea
from ..reckon.brewing.brew_days import vessel_facts
from ..store.read import ingredients, park
from ..store.read.documents import UnreadableError, card_of
from ..store.records import Bottling, Brew, Flavour, KeptRecipe, OwnIngredient, Vessel
from .document_parts import (
    BottlesRow,
    BrewDocument,
    HappenedRow,
    LookRow,
    ReadingRow,
    RecipeTold,
    SweetenerShare,
    TastingRow,
    TeaShare,
    VesselTold,
)
from .documents import (
    AmountTold,
    FlavourDocument,
    FlavourPartTold,
    OwnIngredientTold,
    ParkDocument,
    ParkRow,
    PlanDocument,
    RecipeDocument,
    StarterPoured,
)
from .strict import clean

SI = {"volume": "L", "mass": "g", "temperature": "°C", "difference": "K", "strength": "g/L", "thickness": "mm", "length": "cm"}


def _in_si(value: float, kind: str) -> str:
    return f"{value:.3g} {SI.get(kind, '')}".strip()


def _sentence(text: Said | str) -> str:
    return clean(text if isinstance(text, str) else text.words(_in_si), 600)


def _tea(tea: Tea) -> tuple[TeaShare, ...]:
    return tuple(TeaShare(tea=key, share=round(share, 6)) for key, share in teas.parts_of(tea))


def recipe_told(card: RecipeCard) -> RecipeTold:
    """Write a recipe card; its water belongs to the kitchen, and stays out."""
    return RecipeTold(
        kind=card.kind,
        tea=_tea(card.tea),
        leaf_g_per_l=card.leaf_g_per_l,
        sweeteners=tuple(SweetenerShare(sweetener=key, share=share) for key, share in card.sweeteners),
        sugar_g_per_l=card.sugar_g_per_l,
        steep_minutes=card.steep_minutes,
        water_degc=card.water_c,
        steep=card.steep,
        honey=card.honey,
        floor=card.floor,
        heat_method=card.heat_method,
        seed=card.seed,
        reserve=card.reserve,
        starter_share=card.share,
        base=clean(card.base, 80),
        g_per_spoon=card.g_per_spoon,
        g_per_bag=card.g_per_bag,
    )


def recipe_document(kept: KeptRecipe, now: datetime) -> RecipeDocument:
    """Write a recipe kept by name."""
    return RecipeDocument(
        written_on=now.date().isoformat(),
        name=clean(kept.name, 60),
        note=clean(kept.note, 500),
        recipe=recipe_told(card_of(kept.card)),
    )


def _own_told(row: OwnIngredient) -> OwnIngredientTold:
    return OwnIngredientTold(
        key=row.key,
        name=clean(row.name, 60),
        form=row.form,
        sugar_percent=row.sugar,
        acid_g_per_l=row.acid_g_per_l,
        ph=row.ph,
        abv_percent=row.abv,
        preserved=row.preserved,
        unit=clean(row.unit, 20),
        unit_g=row.unit_g,
        months=tuple(row.months),
        allergens=clean(row.allergens, 120),
        note=clean(row.note, 300),
    )


def flavour_document(session: Session, kept: Flavour, now: datetime) -> FlavourDocument:
    """Write a flavour kept by name, with the household's own ingredients that are in it."""
    used = {part.ingredient for part in kept.parts}
    return FlavourDocument(
        written_on=now.date().isoformat(),
        name=clean(kept.name, 60),
        note=clean(kept.note, 500),
        priming_g_per_l=kept.priming_g_per_l,
        hours=kept.hours,
        parts=tuple(
            FlavourPartTold(ingredient=part.ingredient, form=part.form, moment=part.moment, g_per_l=part.g_per_l) for part in kept.parts
        ),
        ingredients=tuple(_own_told(row) for row in ingredients.own(session, retired=True) if row.key in used),
    )


def park_document(session: Session, now: datetime) -> ParkDocument | None:
    """Write the bottles that the household has; None: it counted none."""
    rows = [row for row in park.kinds(session) if row.owned]
    if not rows:
        return None
    return ParkDocument(
        written_on=now.date().isoformat(),
        bottles=tuple(
            ParkRow(
                kind=row.kind,
                volume_ml=row.volume_ml,
                limit_bar=row.limit_bar,
                owned=row.owned or 0,
                neck_mm=row.neck_mm,
                closure=row.closure,
                note=clean(row.note, 300),
            )
            for row in rows
        ),
    )


def plan_document(plan: BrewPlan, weighs: bool, now: datetime) -> PlanDocument:
    """Write a brew day's plan: what was asked, the amounts, the steps in the kitchen.

    Args:
        plan: As it was made.
        weighs: Whether the kitchen has scales, as the steps say.
        now: The day of writing.
    """
    ask = plan.ask
    amounts = [AmountTold(what="leaf", amount=round(plan.made.leaf_g, 1), unit="g")]
    amounts += [
        AmountTold(what=SWEETENERS[key].name.lower(), amount=round(grams, 1), unit="g") for key, grams in plan.made.sweeteners
    ]
    amounts += [
        AmountTold(what="water", amount=round(plan.made.tea_water_ml), unit="mL"),
        AmountTold(what="starter", amount=round(plan.made.starter_ml), unit="mL"),
    ]
    return PlanDocument(
        written_on=now.date().isoformat(),
        culture=clean(ask.culture, 40),
        diet="jun" if ask.diet == "jun" else "sugar",
        recipe=recipe_told(ask.card),
        vessel=VesselTold(
            name=clean(ask.vessel.name, 40),
            nominal_l=ask.vessel.nominal_l,
            line_l=ask.vessel.line_l,
            diameter_cm=ask.vessel.diameter_cm,
        ),
        litres=round(plan.final_l, 3),
        room_degc=ask.room_c,
        starters=tuple(
            StarterPoured(name=clean(portion.name, 80), litres=round(litres, 3), ph=round(portion.ph, 2))
            for portion, litres in plan.choice.taken
        ),
        amounts=tuple(amounts),
        steps=tuple(
            _sentence(f"{step.title}: " + " ".join(_sentence(line) for line in step.do)) for step in steps_of(plan, weighs)
        ),
    )


def _vessel_told(vessel: Vessel) -> VesselTold:
    facts = vessel_facts(vessel)
    return VesselTold(name=clean(facts.name, 40), nominal_l=facts.nominal_l, line_l=facts.line_l, diameter_cm=facts.diameter_cm)


def _happened(brew: Brew) -> list[HappenedRow]:
    rows = [(t.at, str(t.how), t.litres, t.name) for t in (*brew.liquid.inflows, *brew.liquid.outflows)]
    rows += [(a.at, str(a.what), a.litres, a.name) for a in brew.liquid.additions]
    return [
        HappenedRow(at=at.isoformat(), what=what, litres=round(litres, 4), note=clean(name, 500))
        for at, what, litres, name in sorted(rows, key=lambda row: (row[0], row[1]))
    ]


def _bottles(bottling: Bottling) -> list[BottlesRow]:
    alike: dict[tuple[str, float], list[bool]] = {}
    for bottle in bottling.bottles:
        alike.setdefault((bottle.kind, bottle.volume_ml), []).append(bottle.state != BottleState.GONE)
    flavour = bottling.kept.name if bottling.kept is not None else bottling.note or bottling.flavour
    return [
        BottlesRow(
            at=bottling.at.isoformat(),
            count=len(some),
            kind=kind,
            volume_ml=volume,
            flavour=clean(flavour, 80),
            priming_g_per_l=bottling.sugar_g_per_l,
            left=sum(some),
        )
        for (kind, volume), some in alike.items()
    ]


def _planned(brew: Brew) -> RecipeTold | None:
    try:
        return recipe_told(card_of(brew.plan["card"])) if "card" in brew.plan else None
    except UnreadableError:
        return None


def brew_document(brew: Brew, now: datetime) -> BrewDocument:
    """Write a whole brew. What was struck out is left out; tasters go by their first name."""
    alive = brew.status in LIVING
    return BrewDocument(
        written_on=now.date().isoformat(),
        culture=clean(brew.culture.name, 40),
        diet="jun" if brew.culture.diet == "jun" else "sugar",
        vessel=_vessel_told(brew.vessel),
        litres=round(brew.started_l, 3),
        began_at=brew.pitched_at.isoformat(),
        began_give_or_take_days=brew.start_doubt_days,
        ended_at=None if alive or brew.ended_at is None else brew.ended_at.isoformat(),
        ended_as="" if alive else "discarded" if brew.status == "discarded" else "harvested",
        tea=_tea(teas.from_text(brew.tea)),
        leaf_g_per_l=brew.leaf_g_per_l,
        sugar_g_per_l=brew.sugar_g_per_l,
        honey_share=brew.honey_share,
        starter_share=brew.starter_fraction,
        starter_ph=brew.starter_ph,
        planned=_planned(brew),
        happened=tuple(_happened(brew)),
        readings=tuple(
            ReadingRow(
                at=r.at.isoformat(), ph=r.ph, by=r.instrument, temperature_degc=r.celsius, acidity_g_per_l=r.ta_g_per_l,
                gravity=r.gravity, note=clean(r.note, 500),
            )
            for r in brew.readings
            if not r.struck
        ),
        tastings=tuple(
            TastingRow(at=t.at.isoformat(), taster=clean(t.taster.name.split()[0], 40), score=t.score, note=clean(t.note, 500))
            for t in brew.tastings
            if not t.struck
        ),
        looks=tuple(
            LookRow(at=one.at.isoformat(), surface=one.surface, signs=tuple(one.signs), smell=one.smell, note=clean(one.note, 500))
            for one in brew.looks
            if not one.struck
        ),
        bottles=tuple(row for bottling in brew.bottlings for row in _bottles(bottling)),
        note=clean(brew.end_note, 2000),
    )  # fmt: skip
