"""Names for the templates: teas, instruments, surfaces, scores, and a brew's records in order."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from urllib.parse import urlencode
from zoneinfo import ZoneInfo

from flask import Flask

from ..actions.brewing import SURFACES
from ..actions.household import MATERIALS
from ..core.acids import share_for_ph
from ..core.facts import FLAVOURINGS, INSTRUMENTS, limit
from ..core.taste import score_word
from ..store import values
from ..store.models import Brew
from .cellar.groups import name_of
from .fields import KitchenForm


def chance_word(chance: float) -> str:
    """Say a chance in per cent; an ensemble's all or none is no certainty."""
    return (
        "more than 99 %" if chance > 0.99 else "less than 1 %" if chance < 0.01 else f"{chance:.0%}".replace("%", " %")
    )


def timeline(brew: Brew) -> list[tuple[str, datetime, Any]]:
    """List readings, tastings and looks, newest first."""
    rows: list[tuple[str, datetime, Any]] = [("reading", r.at, r) for r in brew.readings]
    rows += [("tasting", t.at, t) for t in brew.tastings] + [("look", seen.at, seen) for seen in brew.looks]
    return sorted(rows, key=lambda row: row[1], reverse=True)


def extra_starter(brew: Brew) -> float:
    """Say how much more starter brings a brew to pH 4.2, likely. [L]"""
    recipe = values.recipe_of(brew)
    share = share_for_ph(recipe.starter, limit("plan_start_ph"), recipe.medium) or limit("starter_most")
    wanted = max(share, recipe.starter_fraction * 1.25)
    return brew.final_l * (wanted - recipe.starter_fraction) / (1 - wanted)


def request_query(form: KitchenForm) -> str:
    """Write what stands in a form as a query, so that a *why?* sees the same."""
    told = {}
    for name, field in form._fields.items():
        if name != "csrf_token" and field.data is not None and field.data is not False:
            told[name] = field._value() if hasattr(field, "_value") else field.data
    return urlencode(told)


def install(app: Flask) -> None:
    """Give the names to the templates."""
    app.jinja_env.globals |= {
        "zone": ZoneInfo,
        "instruments": lambda: [(key, entry.name) for key, entry in INSTRUMENTS.items()],
        "surfaces": lambda: list(SURFACES.items()),
        "timeline": timeline,
        "score_word": score_word,
        "extra_starter": extra_starter,
        "instrument_name": lambda key: INSTRUMENTS[key].name,
        "surface_name": lambda key: SURFACES.get(key, key),
        "flavour_name": lambda key: FLAVOURINGS[key].name,
        "material_name": lambda key: MATERIALS.get(key, key),
        "bottle_name": name_of,
        "chance_word": chance_word,
        "request_query": request_query,
    }
