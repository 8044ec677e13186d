"""Names for the templates: teas, instruments, surfaces, scores, and a brew's records in order."""

from __future__ import annotations

import math
from datetime import date, datetime
from typing import Any
from urllib.parse import urlencode
from zoneinfo import ZoneInfo

from flask import Flask, g
from sqlalchemy.orm import Session

from ..actions.brewing import DEPTHS
from ..actions.household import MATERIALS
from ..core import teas
from ..core.brew_kinds import KINDS, SCHOOLS
from ..core.facts import FLAVOURINGS, INSTRUMENTS, SWEETENERS, limit
from ..core.kinds import BrewStatus, MeasuredBy
from ..core.observations import OBSERVATIONS, of_group
from ..core.safety import trial_verdict
from ..core.starters import share_for_ph
from ..core.sweet_tea import Measured, equivalent, in_cups
from ..core.taste import score_word
from ..reckon import warmth
from ..store import queries
from ..store.memory import once
from ..store.models import Brew, Disc
from ..store.read import recorded
from . import units
from .began import began_rows
from .cellar.groups import name_of
from .fields import KitchenForm
from .words import local, window_word


def discs_in(brew: Brew) -> list[tuple[Disc, bool]]:
    """List the discs that lie in a living brew from the top, and which is the newest; its own lies where others leave room."""
    if not brew.alive:
        return []
    lying = [(guest.position, 0, guest.disc) for guest in brew.guests if guest.until is None]
    if brew.disc is not None:
        lying.append((1, 1, brew.disc))
    order = [disc for *_, disc in sorted(lying, key=lambda row: row[:2])]
    newest = max((disc.id for disc in order), default=0)
    return [(disc, disc.id == newest) for disc in order]


def chance_word(chance: float) -> str:
    """Say a chance in per cent; an ensemble's all or none is no certainty."""
    return (
        "more than 99 %" if chance > 0.99 else "less than 1 %" if chance < 0.01 else f"{chance:.0%}".replace("%", " %")
    )


def timeline(brew: Brew) -> list[tuple[str, datetime, Any]]:
    """List readings, tastings and looks, newest first."""
    rows: list[tuple[str, datetime, Any]] = [("reading", r.at, r) for r in brew.readings]
    rows += [("tasting", t.at, t) for t in brew.tastings] + [("look", seen.at, seen) for seen in brew.looks]
    rows += [("note", n.at, n) for n in brew.notes] + [("overrule", o.at, o) for o in brew.overrules]
    return sorted(rows, key=lambda row: row[1], reverse=True)


def extra_starter(brew: Brew) -> float:
    """Say how much more starter brings a brew to pH 4.2, likely. [L]"""
    recipe = recorded.recipe_of(brew)
    share = share_for_ph(recipe.starter, limit("plan_start_ph"), recipe.medium) or limit("starter_most")
    there = recorded.starter_share(brew)
    wanted = max(share, there * 1.25)
    return brew.left_l * (wanted - there) / (1 - wanted)


def request_query(form: KitchenForm) -> str:
    """Write what stands in a form as a query, so that a *why?* sees the same."""
    told = {}
    for name, field in form._fields.items():
        if name != "csrf_token" and field.data is not None and field.data is not False:
            told[name] = field._value() if hasattr(field, "_value") else field.data
    return urlencode(told, doseq=True)


def told_by(instrument: str) -> str:
    """Say what told a starter's acid."""
    words = {"estimate": "not measured", "titration": "titrated"}
    return words.get(instrument) or f"by {INSTRUMENTS[instrument].name.lower()}"


def lost(measured: Measured) -> str:
    """Say what rounding to a kitchen's measures lost, where it is worth saying."""
    if abs(measured.off_g) < 0.5 or (measured.grams and abs(measured.off_g) / measured.grams < 0.02):
        return ""
    return f" ({units.words(abs(measured.off_g), 'mass', g.units)} {'more' if measured.off_g > 0 else 'less'})"


def hours_word(hours: float | None) -> str:
    """Say a wait.

    >>> hours_word(1.2), hours_word(3.25)
    ('72 min', '3.2 h')
    """
    if hours is None:
        return "never"
    return f"{max(1, round(hours * 60))} min" if hours < 1.5 else f"{hours:.1f} h"


def clock_left(seconds: float) -> str:
    """Say what is left of a timer.

    >>> clock_left(725), clock_left(-3)
    ('12:05', 'done')
    """
    if seconds <= 0:
        return "done"
    whole = math.ceil(seconds)
    hours, rest = divmod(whole, 3600)
    return (f"{hours}:{rest // 60:02d}" if hours else f"{rest // 60}") + f":{rest % 60:02d}"


def capitalize_first(text: str) -> str:
    """Begin a sentence."""
    return text[:1].upper() + text[1:]


MORE_OF_A_READING = ("celsius", "at")


def instrument_choices() -> list[tuple[str, str]]:
    """List what may have read a pH: the household's own meters and strips, then the kinds it has none of; once a page."""
    return _instrument_choices(g.session)


@once
def _instrument_choices(session: Session) -> list[tuple[str, str]]:
    rows = [row for row in queries.instruments(session) if row.kind in {MeasuredBy.METER, MeasuredBy.STRIP}]
    kinds = {row.kind for row in rows}
    plain = [(key, entry.name) for key, entry in INSTRUMENTS.items() if key not in kinds]
    return [(f"{row.kind}:{row.id}", row.name) for row in rows] + plain


def usual_tool(brew: Brew) -> str:
    """Choose what last read a pH here, if it still can, else the household's first."""
    known = [key for key, _ in instrument_choices()]
    last = [
        f"{r.instrument}:{r.instrument_id}" if r.instrument_id else r.instrument
        for r in brew.readings
        if r.ph is not None
    ]
    return last[-1] if last and last[-1] in known else known[0]


def local_today() -> date:
    """Give today's date in the household's zone."""
    return local(g.now, g.household.zone).date()


def install(app: Flask) -> None:
    """Give the names to the templates."""
    app.jinja_env.filters |= {
        "hours_word": hours_word,
        "lost": lost,
        "clock_left": clock_left,
        "capitalize_first": capitalize_first,
        "told_name": lambda key: OBSERVATIONS[key].name if key in OBSERVATIONS else key,
    }
    app.jinja_env.globals |= {
        "zone": ZoneInfo,
        "instruments": lambda: instrument_choices(),
        "usual_tool": usual_tool,
        "depths": DEPTHS,
        "more_asked": lambda form: any(
            form[name].errors or getattr(form[name], "typed", "") for name in form._fields if name in MORE_OF_A_READING
        ),
        "pairs": lambda choices: [(choice.value, choice.label) for choice in choices],
        "surfaces": lambda: [(seen.key, seen.name) for seen in of_group("surface")],
        "timeline": timeline,
        "score_word": score_word,
        "extra_starter": extra_starter,
        "instrument_name": lambda key: INSTRUMENTS[key].name,
        "surface_name": lambda key: OBSERVATIONS[key].name if key in OBSERVATIONS else key,
        "flavour_name": lambda key: FLAVOURINGS[key].name,
        "material_name": lambda key: MATERIALS.get(key, key),
        "bottle_name": name_of,
        "chance_word": chance_word,
        "request_query": request_query,
        "told_by": told_by,
        "as_sugar": lambda key, grams: in_cups(equivalent(grams, key, "sugar"), SWEETENERS["sugar"].g_per_cup).words,
        "began_rows": began_rows,
        "usual_now": lambda place: warmth.usual_celsius(place, g.now),
        "read_by": recorded.read_by,
        "trial_of": trial_verdict,
        "harvested_of": lambda culture: sum(brew.status == BrewStatus.HARVESTED for brew in culture.brews),
        "sweetener_name": lambda key: SWEETENERS[key].name,
        "discs_in": discs_in,
        "tea_words": lambda brew: brew.base or teas.name_of(teas.from_text(brew.tea)),
        "schools": SCHOOLS,
        "kinds": KINDS,
        "brew_window": lambda brew, window: window_word(brew.pitched_at, window, g.now, g.household.zone),
        "local_today": local_today,
        "window_says": lambda window: window_word(g.now, window, g.now, g.household.zone),
    }
