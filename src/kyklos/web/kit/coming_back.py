"""Lessons that come back where somebody is: what stands on a page turned into where a lesson may apply."""

from __future__ import annotations

from collections.abc import Iterable

from flask import g

from ...core.brewing.plan import BrewPlan
from ...core.liquid import teas
from ...core.notebook.lessons import SEASONS, Here, season_of
from ...reckon.bottles.flavours import name_in_ranking
from ...reckon.notebook.teaching import lessons_here
from ...store.read import queries
from ...store.records import Bottling, Brew, Culture, KeptLesson, Vessel
from .words import local_today


def _season() -> frozenset[str]:
    return frozenset({season_of(local_today(), southern=queries.southern(g.session))})


def of_brew_day(vessel: Vessel, culture: Culture, plan: BrewPlan | None) -> list[KeptLesson]:
    """List the lessons for a brew that is planned."""
    tea = frozenset() if plan is None else frozenset(key for key, _ in teas.parts_of(plan.ask.card.tea))
    sweet = frozenset() if plan is None else frozenset(key for key, grams in plan.made.sweeteners if grams > 0)
    place = frozenset({vessel.place.name}) if vessel.place is not None else frozenset[str]()
    return lessons_here(g.session, Here(vessel=frozenset({vessel.name}), culture=frozenset({culture.name}), place=place, season=_season(), tea=tea, sweetener=sweet))


def of_brew(brew: Brew) -> list[KeptLesson]:
    """List the lessons for a brew that stands or is harvested."""
    place = frozenset({brew.vessel.place.name}) if brew.vessel.place is not None else frozenset[str]()
    tea = frozenset(key for key, _ in teas.parts_of(teas.from_text(brew.tea)))
    return lessons_here(g.session, Here(vessel=frozenset({brew.vessel.name}), culture=frozenset({brew.culture.name}), place=place, season=_season(), tea=tea))


def of_bottles(flavours: Iterable[str], kinds: Iterable[str] = ()) -> list[KeptLesson]:
    """List the lessons for bottles of some flavours."""
    return lessons_here(g.session, Here(flavour=frozenset(flavours), bottle=frozenset(kinds), season=_season()))


def of_filling(filling: Bottling) -> list[KeptLesson]:
    """List the lessons for bottles that stand or stood."""
    return of_bottles([name_in_ranking(filling)], {bottle.kind for bottle in filling.bottles})


def of_season() -> list[KeptLesson]:
    """List the lessons for this time of the year, whatever stands where."""
    return lessons_here(g.session, Here(season=_season()), 1)


def of_shopping(goods: Iterable[str]) -> list[KeptLesson]:
    """List the lessons for what is bought."""
    return lessons_here(g.session, Here(good=frozenset(goods), season=_season()))


def places_for_lessons() -> list[tuple[str, str, list[str]]]:
    """List where a lesson may come back, for a form: field, label, choices."""
    from ...store.read import culture_queries, ingredients

    session = g.session
    return [
        ("flavour", "Flavour", [one.name for one in ingredients.flavours(session)]),
        ("vessel", "Vessel", [one.name for one in queries.vessels(session)]),
        ("culture", "Culture", [one.name for one in culture_queries.cultures(session)]),
        ("place", "Place", [one.name for one in queries.places(session)]),
        ("season", "Season", list(SEASONS)),
    ]
