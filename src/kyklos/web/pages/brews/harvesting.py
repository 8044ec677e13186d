"""What the harvest page tells: how much to reserve, what is left, what the bottles being typed would do."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

import numpy as np
from flask import g

from ....actions.bottles.filling import FillBottles
from ....core.base import limit
from ....core.base.facts import BOTTLES
from ....core.base.kinds import BrewStatus, Occasion
from ....core.base.saying import day_of
from ....core.bottles import BottleAsk, BottleForecast, bottle_forecast
from ....core.bottles.advice import FILLS, WEEK_DAYS, Offer, PressureRange, alcohol_range, offers
from ....core.bottles.ingredients import known, usual_g_per_l
from ....core.bottles.room import HEADSPACE_CM, brew_in_bottle_l
from ....core.judging import Verdict
from ....core.judging.cautions import ShownCautions
from ....core.why import Why, why_chill
from ....reckon.bottles import filling_plan, flavours, harvests, situations
from ....store.read import queries
from ....store.records import Brew, Vessel
from ...kit.acting import in_units
from ...kit.cautioned import heard
from ...kit.stops import Stop, situation_of, stop_of
from ...kit.words import alcohol_word, day_word, small_first, span_word
from .forms import BottlesForm

PRIMING_G_PER_L = 5.0


@dataclass(frozen=True, slots=True)
class HarvestShown:
    """What the harvest page tells."""

    verdict: Verdict
    held: bool
    reserve_l: float | None
    for_others: list[tuple[Vessel, float]]  #: Vessels for which a brew is planned, and what each takes besides. [L]
    reserve_why: Why
    reserve_ph: float
    left_l: float
    to_fill_l: float
    cautions: ShownCautions
    ask: BottleAsk | None
    future: BottleForecast | None
    need_l: float
    lines: list[tuple[str, str]]
    chill_why: Why | None
    better_words: str  #: When it would be better, while it is not right yet; empty: it is.
    closes_high: float | None  #: The pH for which it is not to be closed for fizz. [pH]
    form: BottlesForm


def bottles_asked(brew: Brew, formdata: Any = None, **offered: Any) -> BottlesForm:
    """Make the form of bottles, with the household's places."""
    form = BottlesForm(formdata=formdata, data=offered, meta={"csrf": False})  # every POST is checked by CSRFProtect
    form.place.choices = [(place.id, place.name) for place in queries.places(g.session)]
    return form


def bottles_form(brew: Brew, count: int | None = None, flavour: str = "") -> BottlesForm:
    """Offer what was done last time, or the usual; a count and flavour that a quick line named come first."""
    shown = harvests.offered(g.session, brew, g.now)
    return bottles_asked(
        brew,
        None,
        place=brew.vessel.place.id,
        kind=shown.kind,
        count=shown.count if count is None else count,
        volume_ml=shown.volume_ml,
        headspace_cm=HEADSPACE_CM,
        flavour=flavour if known(flavour) else "plain",
        sugar_g_per_l=brew.bottlings[-1].sugar_g_per_l if brew.bottlings else PRIMING_G_PER_L,
    )


def last_flavours(brew: Brew) -> str:
    """Name the flavours that this line was filled with last; empty: nothing was."""
    cards = [flavours.card_named(g.session, key) for key in filling_plan.last_time(g.session, brew)]
    return ", ".join(small_first(card.name) for card in cards if card is not None)


def filling_of(number: int, form: BottlesForm) -> FillBottles:
    """Turn the form into an ask."""
    kind, found = BOTTLES[form.kind.data], form.flavour_g_per_l.data
    return FillBottles(
        brew_id=number,
        kind=form.kind.data,
        count=form.count.data or 0,
        volume_ml=form.volume_ml.data,
        headspace_fraction=kind.headspace_fraction(form.headspace_cm.data, max(form.volume_ml.data, 1.0)),
        flavour=form.flavour.data,
        flavour_g_per_l=usual_g_per_l(form.flavour.data) if found is None else found,
        sugar_g_per_l=form.sugar_g_per_l.data or 0.0,
        note=form.note.data or "",
        limit_bar=form.limit_bar.data,
        cold=form.cold.data,
        place_id=form.place.data,
        spot_c=form.spot_c.data,
        ph_after=form.ph_after.data,
        overruled=form.overruled.data or "",
    )


def _typed_well(form: BottlesForm) -> bool:
    """Return whether all that is typed lies where something can be foretold."""
    values = {name: form[name].data for name in FILLS if name in form}
    needed = values["volume_ml"], values["headspace_cm"], values["count"]
    return (
        None not in needed
        and all(value is None or FILLS[name][0] <= value <= FILLS[name][1] for name, value in values.items())
        and form.kind.data in BOTTLES
        and known(form.flavour.data or "")
    )


def _offer_words(offer: Offer, by: str) -> str:
    """Return when a fizz is there, and where it is not to be had as it stands, what would do."""
    if offer.reach is PressureRange.FITS and offer.day is not None:
        return f"in {span_word(offer.day)}"
    if offer.reach is PressureRange.SLOW:
        return "not as it goes: more sugar, or somewhere warmer"
    other = f" One that would hold it: {either(offer.instead)}." if offer.instead else ""
    if offer.reach is PressureRange.TOO_MUCH:
        return f"not in this bottle: too near its limit.{other}"
    return f"later than that: only with a tester, opened or squeezed {by}.{other}"


def either(names: Sequence[str]) -> str:
    """Join names of kinds of bottle in words, in small letters."""
    return " or ".join(map(small_first, names))


def _when(day: float) -> str:
    return day_word(g.now + timedelta(days=day), g.now, g.household.zone)


def _lines(ask: BottleAsk, future: BottleForecast) -> list[tuple[str, str]]:
    """Return what the bottles would do, a line each."""
    lines = []
    celsius = float(ask.course.at(np.array([0.0]))[0])
    if ask.limit_bar:
        by = "before long" if future.chill_by_day is None else f"by {_when(future.chill_by_day)}"
        found = offers(future, celsius, ask.headspace_fraction)
        lines = [(offer.name.capitalize(), _offer_words(offer, by)) for offer in found]
        if any(offer.reach is PressureRange.TESTER for offer in found):
            lines.append(
                ("Tester", "a soft plastic bottle of the same filling, squeezed daily, tells without opening one")
            )
        if future.chill_by_day is None:
            lines.append(("Chill by", "no hurry within a year"))
        else:
            share = limit("chill_share") * ask.limit_bar
            lines.append(
                (
                    "Chill by",
                    f"{_when(future.chill_by_day)}, at {in_units(share, 'pressure')} of {in_units(ask.limit_bar, 'pressure')}",
                )
            )
        if future.passes_limit_day is not None:
            lines.append(("Could pass its limit", _when(future.passes_limit_day)))
        lines.append(
            ("If all its sugar went", f"{in_units(future.ceiling_bar, 'pressure')}: bottles cannot be left warm")
        )
    low, high = alcohol_range(future.abv_at(WEEK_DAYS))
    lines.append(("In a week", alcohol_word(low, high)))
    return lines


def tell(brew: Brew, form: BottlesForm) -> HarvestShown:
    """Put together what the harvest page tells."""
    stop = stop_of(g.session, brew, g.now, g.household)
    reasons = harvests.why_reserve(g.session, brew, g.now)
    ask = future = high = None
    lines: list[tuple[str, str]] = []
    situation: dict[str, Any] = {}
    if _typed_well(form):
        asked = filling_of(brew.id, form)
        ask = harvests.ask_of(g.session, brew, asked, g.now)
        future = bottle_forecast(ask)
        lines = _lines(ask, future)
        high = harvests.too_high_to_close(g.session, brew, asked, g.now)
        situation = situations.of_filling(asked, form.flavour.data, form.flavour_g_per_l.data or 0.0, future, high)
    need = filling_volume(form) if ask is not None else 0.0
    return HarvestShown(
        stop.verdict,
        brew.status == BrewStatus.HELD,
        harvests.reserve_l(reasons),
        harvests.planned_starter(g.session, brew, g.now),
        reasons,
        float(reasons.question["starter_ph"]),
        max(0.0, brew.left_l),
        filling_plan.to_fill_l(g.session, brew, None, g.now),
        heard(situation_of(stop, Occasion.HARVEST, **situation)),
        ask,
        future,
        need,
        lines,
        why_chill(ask) if ask is not None and ask.limit_bar else None,
        _better_words(stop),
        high,
        form,
    )


def _better_words(stop: Stop) -> str:
    """Return when a brew would be better to harvest; empty where somebody's window is open or passed."""
    starts = [low for _, low, _ in stop.windows]
    if stop.on_hold or not starts or stop.day >= min(starts):
        return ""
    return f"Day {day_of(stop.day)}: you can harvest now, and it will still be sweet. {stop.ready_words}"


def filling_volume(form: BottlesForm) -> float:
    """Return how much brew the typed bottles take. [L]"""
    filling = filling_of(0, form)
    return filling.count * brew_in_bottle_l(filling.volume_ml, filling.headspace_fraction, filling.flavour_g_per_l)
