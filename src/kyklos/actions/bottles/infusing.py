"""Jars that take flavour, and trials on the bench."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base import marked
from ...core.bottles import Part, bench
from ...core.bottles.infusing import COVERS, LEAST_H, MOST_H, full_jar_l
from ...core.liquid import Way
from ...core.liquid.pouring import Added, LiquidKind
from ...core.liquid.standing import PlaceKind
from ...reckon.bottles import infusions
from ...reckon.bottles.pressure import state_at_filling
from ...reckon.forecast import forecasting
from ...store.read import ingredients, queries
from ...store.read.moments import age_of, days_between
from ...store.records import Flavour, Infusion, Place, Trial, TrialStep
from ..base import Checks, Done, action, flushed
from ..pouring import begin, empty, pour, put_in
from ..standing import fridge
from .flavour_book import PartTold, check_name, check_parts, parts_of
from .harvest import STARTER_FIRST, ready_to_harvest, starter_comes_first, why_not_bottled


@dataclass(frozen=True, slots=True, kw_only=True)
class StartInfusion:
    """A jar of finished brew with something in it."""

    brew_id: int
    litres: float  #: Of brew. [L]
    parts: tuple[PartTold, ...]  #: In g/L of the full jar.
    name: str
    hours: float = 24.0  #: [h]
    cover: str = "cloth"
    place_id: int | None = None  #: Beside its vessel, unless given.
    cold: bool = False  #: Into the fridge.
    flavour_id: int | None = None


@action
def start_infusion(session: Session, ask: StartInfusion, at: datetime) -> Done:
    """Put finished brew into a jar with fruit, root, herb or spice; the starter was set aside before."""
    brew, checks = ready_to_harvest(session, ask.brew_id, at), Checks()
    why = why_not_bottled(brew, at)
    checks.refuse_if(bool(why), "", why)
    checks.refuse_if(bool(starter_comes_first(brew)), "", STARTER_FIRST)
    name = ask.name.strip()
    checks.refuse_if(not 1 <= len(name) <= 60, "name", "Give the jar a name of up to 60 letters.")
    checks.between(ask.litres, "litres", 0.1, 30, "Brew of", "volume")
    checks.refuse_if(
        ask.litres > brew.left_l + 0.05, "litres", f"Only {marked(max(0.0, brew.left_l), 'volume')} are left in it."
    )
    checks.between(ask.hours, "hours", LEAST_H, MOST_H, "Hours in the jar:")
    checks.refuse_if(ask.cover not in COVERS, "cover", "Cloth, or a loose lid: a closed jar is not for fizz.")
    checks.refuse_if(not ask.parts, "ingredient-0", "What goes in? Choose at least one ingredient.")
    checks.done()
    check_parts(session, ask.parts)
    place = queries.get(session, Place, ask.place_id) if ask.place_id is not None else brew.vessel.place
    if ask.cold and place.kind != PlaceKind.FRIDGE:
        place = fridge(session)
    known = ingredients.by_key(session)
    parts = [Part(known[p.ingredient], p.g_per_l, p.form) for p in ask.parts]
    start, vigour = state_at_filling(forecasting.forecast_of(session, brew), age_of(brew.pitched_at, at))
    row = Infusion(
        liquid=begin(session, LiquidKind.INFUSION, at),
        brew_id=brew.id,
        flavour_id=ask.flavour_id,
        name=name,
        place_id=place.id,
        cover=ask.cover,
        began_at=at,
        hours=ask.hours,
        start=list(start),
        vigour=vigour,
    )
    number = flushed(session, row)
    pour(session, at, ask.litres, Way.INFUSED, brew.liquid, row.liquid)
    jar_l = full_jar_l(ask.litres, parts)
    for one in parts:
        put_in(session, row.liquid, at, Added.FLAVOUR, jar_l * one.g_per_l / 1000, jar_l * one.g_per_l, one.what.key)
    return Done(f"{name}: {marked(ask.litres, 'volume')} of brew take flavour.", {"infusion": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class TasteInfusion:
    """A jar tasted, measured, or given more time."""

    infusion_id: int
    more_hours: float = 0.0  #: From now on. [h]
    ph: float | None = None  #: [pH]
    word: str = ""


@action
def taste_infusion(session: Session, ask: TasteInfusion, at: datetime) -> Done:
    """Taste a jar: it may have some hours more; its pH may be measured."""
    row, checks = _living_jar(session, ask.infusion_id), Checks()
    checks.between(ask.more_hours, "more_hours", 0, MOST_H, "Hours more:")
    checks.between(ask.ph, "ph", 1.8, 8, "A pH of")
    checks.done()
    if ask.more_hours:
        row.hours = days_between(row.began_at, at) * 24 + ask.more_hours
    if ask.ph is not None:
        row.ph_after = ask.ph
    word = ask.word.strip()[:200]
    if word:
        row.note = f"{row.note}; {word}" if row.note else word
    return Done(f"{row.name} tasted.")


def _living_jar(session: Session, number: int) -> Infusion:
    row, checks = queries.get(session, Infusion, number), Checks()
    checks.refuse_if(row.ended_at is not None, "", "This jar is empty already.")
    checks.done()
    return row


@dataclass(frozen=True, slots=True, kw_only=True)
class StrainInfusion:
    """The pieces come out."""

    infusion_id: int
    strained_l: float | None = None  #: What came through, if measured. [L]


@action
def strain_infusion(session: Session, ask: StrainInfusion, at: datetime) -> Done:
    """Strain a jar: pieces and what they hold go; the rest waits to be bottled or drunk."""
    row, checks = _living_jar(session, ask.infusion_id), Checks()
    checks.refuse_if(row.strained_at is not None, "", "It is strained already.")
    checks.between(ask.strained_l, "strained_l", 0, max(0.01, row.liquid.litres + 0.5), "A volume of", "volume")
    checks.done()
    out = infusions.infused(session, row, at)
    kept = out.strained_l if ask.strained_l is None else ask.strained_l
    row.strained_at = at
    lost = row.liquid.litres - kept
    if lost > 1e-6:
        pour(session, at, lost, Way.LOST, row.liquid, None)
    return Done(f"{row.name} strained: {marked(max(0.0, kept), 'volume')}.")


@dataclass(frozen=True, slots=True, kw_only=True)
class EndInfusion:
    """The jar is empty."""

    infusion_id: int
    drunk: bool = True


@action
def end_infusion(session: Session, ask: EndInfusion, at: datetime) -> Done:
    """Empty a jar: what is left was drunk, or thrown out."""
    row = _living_jar(session, ask.infusion_id)
    row.strained_at = row.strained_at or at
    row.ended_at = at
    empty(session, row.liquid, at, Way.DRUNK if ask.drunk else Way.LOST)
    return Done(f"{row.name}: the jar is empty.")


@dataclass(frozen=True, slots=True, kw_only=True)
class StartTrial:
    """A glass of a brew, and what is weighed into it."""

    brew_id: int
    ingredient: str
    glass_g: float = bench.GLASS_G  #: Of brew in the glass. [g]


@action
def start_trial(session: Session, ask: StartTrial, at: datetime) -> Done:
    """Begin a trial on the bench."""
    brew, checks = ready_to_harvest(session, ask.brew_id, at), Checks()
    named = ingredients.named(session, ask.ingredient)
    checks.refuse_if(named is None, "ingredient", "Choose what is weighed in.")
    checks.between(ask.glass_g, "glass_g", 20, 1000, "A glass of", "mass")
    why = why_not_bottled(brew, at)
    checks.refuse_if(bool(why), "", why)
    checks.done()
    row = Trial(brew_id=brew.id, ingredient=named.key if named else "", at=at, glass_g=ask.glass_g)
    number = flushed(session, row)
    return Done(f"A glass of {brew.culture.name} and {named.name.lower() if named else ''}.", {"trial": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class TasteStep:
    """One amount, and what somebody said."""

    trial_id: int
    grams: float  #: In the glass by now. [g]
    score: int  #: A key of bench.SCORES.
    taster_id: int | None = None
    word: str = ""


@action
def taste_step(session: Session, ask: TasteStep, at: datetime) -> Done:
    """Write down how one step tasted."""
    row, checks = queries.get(session, Trial, ask.trial_id), Checks()
    checks.refuse_if(row.ended_at is not None, "", "This trial is over.")
    checks.between(ask.grams, "grams", 0, 5 * row.glass_g, "An amount of", "mass")
    checks.refuse_if(ask.score not in bench.SCORES, "score", "Choose how it was.")
    checks.done()
    session.add(
        TrialStep(
            trial_id=row.id, taster_id=ask.taster_id, grams=ask.grams, score=ask.score, word=ask.word.strip()[:200]
        )
    )
    return Done(f"{marked(ask.grams, 'mass')}: {bench.SCORES[ask.score]}.")


@dataclass(frozen=True, slots=True, kw_only=True)
class EndTrial:
    """The best of a trial, kept as a flavour."""

    trial_id: int
    name: str
    grams: float | None = None  #: In the glass; the best tasted unless given. [g]
    moment: str = "bottle"


@action
def end_trial(session: Session, ask: EndTrial, at: datetime) -> Done:
    """Keep the best step as a flavour, scaled to a litre of the filled bottle."""
    row, checks = queries.get(session, Trial, ask.trial_id), Checks()
    name = ask.name.strip()
    checks.refuse_if(row.ended_at is not None, "", "This trial is over.")
    check_name(checks, session, name)
    checks.between(ask.grams, "grams", 0, 5 * row.glass_g, "An amount of", "mass")
    checks.done()
    grams = bench.best([bench.BenchStep(s.grams, s.score) for s in row.steps]) if ask.grams is None else ask.grams
    parts = (PartTold(row.ingredient, bench.g_per_l(grams, row.glass_g), moment=ask.moment),)
    check_parts(session, parts)
    kept = Flavour(name=name, kept_at=at, note="", priming_g_per_l=0.0, parts=parts_of(session, parts))
    number = flushed(session, kept)
    row.best_g, row.ended_at, row.flavour_id = grams, at, number
    return Done(f"{name} kept: {marked(grams, 'mass')} to {marked(row.glass_g, 'mass')} of brew.", {"flavour": number})
