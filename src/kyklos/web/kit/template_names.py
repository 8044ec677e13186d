"""Names that templates use, by what they name: words, facts, brews, forms. Each is written in its own room."""

from __future__ import annotations

from zoneinfo import ZoneInfo

from flask import Flask, g

from ...actions.brewing.readings import DEPTHS
from ...actions.household import MATERIALS
from ...core.base.facts import INSTRUMENTS, SWEETENERS
from ...core.base.kinds import NoteOn
from ...core.base.saying import bottles_word, likely_word
from ...core.bottles import ingredient
from ...core.bottles.ingredients import known
from ...core.bottles.suggest import is_liked_well
from ...core.brewing import KINDS, SCHOOLS
from ...core.judging import OBSERVATIONS
from ...core.judging.observations import of_group
from ...core.judging.safety import trial_verdict
from ...core.liquid import teas
from ...core.liquid.sweet_tea import equivalent, in_cups
from ...core.liquid.taste import score_word
from ...drawing.shapes import shortened
from ...reckon import measuring
from ...reckon.bottles.cellar import name_of
from ...reckon.brewing import brew_days, brew_records
from ...reckon.forecast import warmth
from ...store.read import notes, queries
from ...store.read.meters import read_by
from . import coming_back, meters, words
from .began import began_rows
from .chart_rows import CURVE_HEADS, curve_rows
from .fields import more_asked, request_query
from .first_names import joined
from .glasses import glasses_of
from .warm_strip import warm_strip


def _seen_name(key: str) -> str:
    return OBSERVATIONS[key].name if key in OBSERVATIONS else key


def _of_words(app: Flask) -> None:
    """Times, spans and chances."""
    app.jinja_env.filters |= {
        "hours_word": words.hours_word,
        "minutes_word": words.minutes_word,
        "lost": words.lost,
        "clock_left": words.clock_left,
        "capitalize_first": words.capitalize_first,
        "small_first": words.small_first,
        "told_name": _seen_name,
        "shortened": shortened,
    }
    app.jinja_env.tests |= {"question": lambda words: words.endswith("?"), "a_day": words.is_a_day}
    app.jinja_env.globals |= {
        "zone": ZoneInfo,
        "likely_word": likely_word,
        "told_by": words.told_by,
        "ph_word": words.ph_word,
        "curve_heads": CURVE_HEADS,
        "curve_rows": curve_rows,
        "alcohol_word": words.alcohol_word,
        "foretold_ph": words.foretold_ph,
        "span_word": words.span_word,
        "score_word": score_word,
        "local_today": words.local_today,
        "joined": joined,
        "brew_window": lambda brew, window: words.window_word(brew.pitched_at, window, g.now, g.household.zone),
        "window_says": lambda window: words.window_word(g.now, window, g.now, g.household.zone),
    }


def _of_facts(app: Flask) -> None:
    """Teas, sweeteners, surfaces, materials, kinds."""
    app.jinja_env.globals |= {
        "depths": DEPTHS,
        "surfaces": lambda: [(seen.key, seen.name) for seen in of_group("surface")],
        "instrument_name": lambda key: INSTRUMENTS[key].name,
        "surface_name": _seen_name,
        "look_keys": frozenset(OBSERVATIONS),
        "flavour_name": lambda key: ingredient(key).name if known(key) else "Own flavour",
        "material_name": lambda key: MATERIALS.get(key, key),
        "sweetener_name": lambda key: SWEETENERS[key].name,
        "as_sugar": lambda key, grams: in_cups(equivalent(grams, key, "sugar"), SWEETENERS["sugar"].g_per_cup).words,
        "schools": SCHOOLS,
        "kinds": KINDS,
    }


def _of_brews(app: Flask) -> None:
    """Records of a brew and its bottles."""
    app.jinja_env.tests["liked_well"] = is_liked_well
    app.jinja_env.globals |= {
        "instruments": lambda: brew_records.instrument_choices(g.session),
        "usual_reader": meters.usual,
        "weighs": lambda: brew_days.weighs(g.session),
        "usual_tool": lambda brew: brew_records.usual_tool(g.session, brew, g.now),
        "timeline": brew_records.timeline,
        "extra_starter": brew_records.extra_starter,
        "glass_of": lambda: glasses_of(g.household)[0],
        "bottle_name": name_of,
        "bottles_word": bottles_word,
        "began_rows": began_rows,
        "usual_now": lambda place: warmth.usual_celsius(place, g.now),
        "read_by": read_by,
        "trial_of": trial_verdict,
        "warm_strip": warm_strip,
        "sends_ph": lambda: measuring.sends_ph(g.session),
        "sends_weight": lambda: measuring.sends_weight(g.session),
        "waking": lambda culture: brew_records.wakes(g.session, culture),
        "room_above": brew_records.room_above,
        "discs_in": brew_records.discs_in,
        "notes_on": lambda about, number: notes.notes_on(g.session, NoteOn(about), number),
        "places_for_lessons": coming_back.places_for_lessons,
        "lessons_of_brew": coming_back.of_brew,
        "lessons_of_brew_day": coming_back.of_brew_day,
        "lessons_of_bottles": coming_back.of_bottles,
        "lessons_of_filling": coming_back.of_filling,
        "lessons_of_season": coming_back.of_season,
        "lessons_of_shopping": coming_back.of_shopping,
        "tasters_here": lambda: queries.tasters_of(g.session),
        "tea_words": lambda brew: brew.base or teas.name_of(teas.from_text(brew.tea)),
    }


def _of_forms(app: Flask) -> None:
    """Fields and what was typed in them."""
    app.jinja_env.globals |= {
        "more_asked": more_asked,
        "pairs": lambda choices: [(choice.value, choice.label) for choice in choices],
        "request_query": request_query,
    }


def install(app: Flask) -> None:
    """Give the names to the templates."""
    for names in (_of_words, _of_facts, _of_brews, _of_forms):
        names(app)
