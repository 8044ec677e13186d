"""What the harvest page tells: how much to reserve, what is left, what the bottles being typed would do."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Any

import numpy as np
from flask import g

from ...actions.harvest import FillBottles
from ...core.bottle import BottleAsk, BottleForecast, bottle_forecast, brew_in_bottle_l
from ...core.bottle_advice import FILLS, alcohol_range, would_hold
from ...core.cautions import Caution, cautions_for
from ...core.facts import BOTTLES, FLAVOURINGS, limit
from ...core.kinds import BrewStatus
from ...core.safety import Verdict
from ...core.why import Why, why_chill
from ...reckon import harvests
from ...store import queries
from ...store.models import Brew
from ..stops import situation_of, stop_of
from ..words import day_word, span_word
from .forms import BottlesForm

PRIMING_G_PER_L = 5.0


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


def bottles_asked(brew: Brew, formdata: Any = None, **offered: Any) -> BottlesForm:
    """Make the form of bottles, with the household's places."""
    form = BottlesForm(formdata=formdata, data=offered, meta={"csrf": False})  # every POST is checked by CSRFProtect
    form.place.choices = [(place.id, place.name) for place in queries.places(g.session)]
    return form


def bottles_form(brew: Brew) -> BottlesForm:
    """Offer what was done last time, or the usual."""
    told = harvests.offered(g.session, brew, g.now)
    return bottles_asked(
        brew,
        None,
        place=brew.vessel.place.id,
        kind=told.kind,
        count=told.count,
        volume_ml=told.volume_ml,
        headspace_cm=harvests.HEADSPACE_CM,
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
    """Return whether all that is typed lies where something can be foretold."""
    told = {name: form[name].data for name in FILLS if name in form}
    needed = told["volume_ml"], told["headspace_cm"], told["count"]
    return (
        None not in needed
        and all(value is None or FILLS[name][0] <= value <= FILLS[name][1] for name, value in told.items())
        and form.kind.data in BOTTLES
        and form.flavour.data in FLAVOURINGS
    )


def _thicker(ask: BottleAsk) -> str:
    """Name a kind of bottle that would hold a sparkling one."""
    kinds = would_hold("sparkling", float(ask.course.at(np.array([0.0]))[0]), ask.headspace_fraction)
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
    reasons = harvests.why_reserve(g.session, brew, g.now)
    ask = future = None
    lines: list[tuple[str, str]] = []
    situation: dict[str, Any] = {}
    if _typed_well(form):
        ask = harvests.ask_of(g.session, brew, filling_of(brew.id, form), g.now)
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
        harvests.reserve_l(reasons),
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


def filling_volume(form: BottlesForm) -> float:
    """Say how much brew the typed bottles take. [L]"""
    filling = filling_of(0, form)
    return filling.count * brew_in_bottle_l(filling.volume_ml, filling.headspace_fraction, filling.flavour_g_per_l)
