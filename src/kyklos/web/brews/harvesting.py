"""What the harvest page tells: how much to reserve, what is left, what the bottles being typed would do."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Any

import numpy as np
from flask import g

from ...actions.harvest import FillBottles, added_sugar
from ...core.bottle import TARGETS, BottleAsk, BottleForecast, bottle_forecast, brew_in_bottle_l, gauge_bar
from ...core.bottle_advice import alcohol_range
from ...core.cautions import Caution, cautions_for
from ...core.facts import BOTTLES, FLAVOURINGS, INSTRUMENTS, limit
from ...core.kinds import BrewStatus
from ...core.safety import Verdict
from ...core.standing import FRIDGE_C, PlaceKind
from ...core.why import Why, why_chill, why_starter
from ...reckon import forecasting
from ...reckon.pressure import Filled, ask_if_filled, state_at_filling
from ...store import queries
from ...store.models import Brew, Place
from ...store.read import moments, recorded
from ..stops import situation_of, stop_of
from ..words import day_word, span_word
from .forms import BottlesForm

AS_COLD_AS_MOST = Place(name="Fridge", kind=PlaceKind.FRIDGE, celsius=FRIDGE_C, position=0)  # none is told yet
HEADSPACE_CM = 2.5
PRIMING_G_PER_L = 5.0
ESTIMATE_SD = 0.15  #: Of an acidity foretold rather than measured, at least (assumed). [pH]


@dataclass(frozen=True, slots=True)
class Told:
    """What the harvest page tells."""

    verdict: Verdict
    held: bool
    reserve_l: float | None
    reserve_why: Why
    reserve_ph: float
    left_l: float
    cautions: list[Caution]
    ask: BottleAsk | None
    future: BottleForecast | None
    need_l: float
    lines: list[tuple[str, str]]
    chill_why: Why | None
    form: BottlesForm


def why_reserve(brew: Brew) -> Why:
    """Reasons for how much starter to reserve for filling this vessel again."""
    out, day = forecasting.forecast_of(g.session, brew), moments.days_between(brew.pitched_at, g.now)
    measured = [
        r for r in recorded.standing_readings(brew) if r.ph is not None and moments.days_between(r.at, g.now) < 1.0
    ]
    low, likely, high = out.at(out.ph, day)
    ph, sd = (
        (measured[-1].ph, INSTRUMENTS[measured[-1].instrument].sd_ph)
        if measured
        else (likely, max((high - low) / 2.56, ESTIMATE_SD))
    )
    recipe = recorded.recipe_of(brew)
    changed = type(recipe)(
        **{**{n: getattr(recipe, n) for n in recipe.__slots__}, "starter_ph": round(float(ph or likely), 2)}
    )
    return why_starter(changed, round(float(sd), 3), brew.vessel.usable_l, "Reserve")


def bottles_asked(brew: Brew, formdata: Any = None, **offered: Any) -> BottlesForm:
    """Make the form of bottles, with the household's places."""
    form = BottlesForm(formdata=formdata, data=offered, meta={"csrf": False})  # every POST is checked by CSRFProtect
    form.place.choices = [(place.id, place.name) for place in queries.places(g.session)]
    return form


def bottles_form(brew: Brew) -> BottlesForm:
    """Offer what was done last time, or the usual."""
    last = brew.bottlings[-1].bottles[0] if brew.bottlings and brew.bottlings[-1].bottles else None
    kind = last.kind if last else "swing-top"
    volume = last.volume_ml if last else BOTTLES[kind].volume_ml
    left = brew.left_l - (0.0 if brew.reserved or brew.no_next_brew else _litres(why_reserve(brew)) or 0.0)
    filled = volume / 1000 * (1 - BOTTLES[kind].headspace_fraction(HEADSPACE_CM, volume))
    count = max(1, int(left / filled)) if not last else 1
    return bottles_asked(
        brew,
        None,
        place=brew.vessel.place.id,
        kind=kind,
        count=count,
        volume_ml=volume,
        headspace_cm=HEADSPACE_CM,
        flavour="plain",
        sugar_g_per_l=PRIMING_G_PER_L,
    )


def filling_of(number: int, form: BottlesForm) -> FillBottles:
    """Turn the form into an ask."""
    kind = BOTTLES[form.kind.data]
    return FillBottles(
        brew_id=number,
        kind=form.kind.data,
        count=form.count.data,
        volume_ml=form.volume_ml.data,
        headspace_fraction=kind.headspace_fraction(form.headspace_cm.data, max(form.volume_ml.data, 1.0)),
        flavour=form.flavour.data,
        flavour_g_per_l=form.flavour_g_per_l.data or 0.0,
        sugar_g_per_l=form.sugar_g_per_l.data or 0.0,
        note=form.note.data or "",
        limit_bar=form.limit_bar.data,
        cold=form.cold.data,
        place_id=form.place.data,
    )


def _typed_well(form: BottlesForm) -> bool:
    return (
        form.volume_ml.data is not None
        and 50 <= form.volume_ml.data <= 5000
        and form.headspace_cm.data is not None
        and 0 < form.headspace_cm.data <= 30
        and form.count.data is not None
        and 1 <= form.count.data <= 60
        and form.kind.data in BOTTLES
        and form.flavour.data in FLAVOURINGS
        and 0 <= (form.flavour_g_per_l.data or 0) <= 500
        and 0 <= (form.sugar_g_per_l.data or 0) <= 25
        and (form.limit_bar.data is None or 0.5 <= form.limit_bar.data <= 15)
    )


def _place_of(brew: Brew, filling: FillBottles) -> Place:
    """Return where the bottles will stand."""
    told = queries.find(g.session, Place, filling.place_id) or brew.vessel.place
    return (queries.fridge(g.session) or AS_COLD_AS_MOST) if filling.cold and told.kind != PlaceKind.FRIDGE else told


def _ask_of(brew: Brew, form: BottlesForm) -> BottleAsk:
    out = forecasting.forecast_of(g.session, brew)
    filling = filling_of(brew.id, form)
    start, vigour = state_at_filling(out, moments.days_between(brew.pitched_at, g.now))
    filled = Filled(
        at=g.now,
        start=start,
        vigour=vigour,
        added_sugar_g_per_l=added_sugar(filling.flavour, filling.flavour_g_per_l, filling.sugar_g_per_l),
        flavour=filling.flavour,
        headspace_fraction=filling.headspace_fraction,
        limit_bar=filling.limit_bar or BOTTLES[filling.kind].limit_bar,
        leaf_g_per_l=brew.leaf_g_per_l,
    )
    return ask_if_filled(g.session, filled, _place_of(brew, filling))


def _thicker(ask: BottleAsk) -> str:
    """Name a kind of bottle that would hold a sparkling one."""
    celsius = float(ask.course.at(np.array([0.0]))[0])
    needed = float(gauge_bar(TARGETS["sparkling"], celsius, ask.headspace_fraction)) / limit("chill_share")
    kinds = [kind.name for kind in BOTTLES.values() if kind.limit_bar > needed]
    return f"One that would hold it: {' or '.join(kinds)}." if kinds else "None here would hold it at this warmth."


def _lines(ask: BottleAsk, future: BottleForecast) -> list[tuple[str, str]]:
    """Say what the bottles would do, a line each."""
    lines = []
    for name, day in future.target_days.items():
        lines.append((name.capitalize(), f"in {span_word(day)}" if day is not None else "not within 45 days"))
    if ask.limit_bar and "sparkling" not in future.target_days:
        lines.append(("Sparkling", f"not in this bottle: too near its limit. {_thicker(ask)}"))
    if ask.limit_bar:
        if future.chill_by_day is None:
            lines.append(("Chill by", "no hurry within 45 days"))
        else:
            lines.append(
                (
                    "Chill by",
                    f"{day_word(g.now + timedelta(days=future.chill_by_day), g.now, g.household.zone)}, "
                    f"at {limit('chill_share') * ask.limit_bar:.1f} of {ask.limit_bar:g} bar",
                )
            )
        if future.passes_limit_day is not None:
            lines.append(
                (
                    "Could pass its limit",
                    day_word(g.now + timedelta(days=future.passes_limit_day), g.now, g.household.zone),
                )
            )
        lines.append(("If all its sugar went", f"{future.ceiling_bar:.0f} bar: warm bottles cannot be left"))
    week = min(28, len(future.abv_percent) - 1)
    lines.append(
        (
            "Alcohol in a week",
            "about {:.1f} to {:.1f} %".format(*alcohol_range(float(future.abv_percent[week]))),
        )
    )
    return lines


def tell(brew: Brew, form: BottlesForm) -> Told:
    """Put together what the harvest page tells."""
    stop = stop_of(g.session, brew, g.now, g.household)
    reasons = why_reserve(brew)
    ask = future = None
    lines: list[tuple[str, str]] = []
    situation: dict[str, Any] = {}
    if _typed_well(form):
        ask = _ask_of(brew, form)
        future = bottle_forecast(ask)
        lines = _lines(ask, future)
        rated = BOTTLES[form.kind.data].limit_bar > 0
        situation = {
            "flavours": (form.flavour.data,),
            "closed_bottles": rated,
            "unrated_bottles": not rated,
            "juice_ml_per_l": form.flavour_g_per_l.data or 0.0,
        }
    need = filling_volume(form) if ask is not None else 0.0
    return Told(
        stop.verdict,
        brew.status == BrewStatus.HELD,
        _litres(reasons),
        reasons,
        float(reasons.question["starter_ph"]),
        max(0.0, brew.left_l),
        cautions_for(situation_of(stop, "harvest", **situation)),
        ask,
        future,
        need,
        lines,
        why_chill(ask) if ask is not None and ask.limit_bar else None,
        form,
    )


def _litres(reasons: Why) -> float | None:
    value = reasons.value()
    return None if value is None else value / 1000


def filling_volume(form: BottlesForm) -> float:
    """Say how much brew the typed bottles take. [L]"""
    filling = filling_of(0, form)
    return filling.count * brew_in_bottle_l(filling.volume_ml, filling.headspace_fraction, filling.flavour_g_per_l)
