"""Recipes kept by name: kept from a plan, copied, compared side by side, scaled to any vessel."""

from __future__ import annotations

from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import ConflictError, RefusedError
from ....actions.brewing.recipes import ChangeRecipe, DropRecipe, KeepRecipe, change_recipe, drop_recipe, keep_recipe
from ....reckon.brewing import brew_days
from ....store.read import planning_queries, queries
from ....store.read.documents import card_of
from ....store.records import KeptRecipe
from ...kit.acting import act
from ...kit.numbers import number_of
from ...kit.recipe_words import lines, scaled
from ...kit.render import page
from .defaults import plan_form
from .forms import KeepForm
from .place import bp
from .planning import plan_of
from .routes import show_plan


def _list(form: KeepForm | None = None, wrong: int = 0, status: int = 200) -> Response:
    kept = [(r, card_of(r.card)) for r in planning_queries.recipes(g.session)]
    rows = [
        (
            r,
            card,
            form
            if form is not None and r.id == wrong
            else KeepForm(formdata=None, name=r.name, note=r.note, version=r.version),
        )
        for r, card in kept
    ]
    vessels = brew_days.brewing_vessels(g.session)
    return page("brew_day/recipes.html", None, status, rows=rows, lines=lines, vessels=vessels)


@bp.get("/recipes")
def recipes() -> Response:
    """List the kept recipes."""
    return _list()


@bp.post("/recipes")
def keep() -> Answer:
    """Keep the recipe of the plan under a name."""
    form, named = plan_form(request.form), KeepForm()
    shown = plan_of(form)
    if shown is not None:
        try:
            act(
                keep_recipe,
                KeepRecipe(name=named.name.data or "", card=shown.plan.ask.card, note=named.note.data or ""),
            )
            return redirect(url_for("brew_day.recipes"), 303)
        except RefusedError as refused:
            g.keep_problem = " ".join(problem.message for problem in refused.problems)
    return show_plan(form, shown, 422, part=False)


@bp.post("/recipes/<int:number>/copy")
def copy(number: int) -> Answer:
    """Keep a copy under a name not taken."""
    kept = queries.get(g.session, KeptRecipe, number)
    taken = {r.name.casefold() for r in planning_queries.recipes(g.session)}
    names = (f"{kept.name[:50]}, copy{'' if n == 1 else f' {n}'}" for n in range(1, 1000))
    name = next(name for name in names if name.casefold() not in taken)
    act(keep_recipe, KeepRecipe(name=name, card=card_of(kept.card), note=kept.note))
    return redirect(url_for("brew_day.recipes"), 303)


@bp.post("/recipes/<int:number>")
def change(number: int) -> Answer:
    """Rename a recipe, or change its note."""
    form, kept = KeepForm(), queries.get(g.session, KeptRecipe, number)
    ask = ChangeRecipe(
        recipe_id=number,
        name=form.name.data or "",
        note=form.note.data or "",
        card=card_of(kept.card),
        version=form.version.data,
    )
    try:
        act(change_recipe, ask)
        return redirect(url_for("brew_day.recipes"), 303)
    except RefusedError as refused:
        form.take(refused)
        return _list(form, number, 422)
    except ConflictError as conflict:
        form.form_errors.append(str(conflict))
        form.version.raw_data, form.version.data = None, kept.version
        return _list(form, number, 409)


@bp.post("/recipes/<int:number>/drop")
def drop(number: int) -> Answer:
    """Put a recipe away."""
    act(drop_recipe, DropRecipe(recipe_id=number))
    return redirect(url_for("brew_day.recipes"), 303)


@bp.get("/recipes/compare")
def compare() -> Response:
    """Show recipes side by side, scaled to one vessel."""
    wanted = request.args.getlist("recipe", type=number_of)[:4]
    found = [r for number in wanted if (r := queries.find(g.session, KeptRecipe, number)) is not None]
    vessels = brew_days.brewing_vessels(g.session)
    number = request.args.get("vessel", type=number_of)
    vessel = next((v for v in vessels if v.id == number), vessels[0] if vessels else None)
    litres = vessel.usable_l if vessel else 1.0
    columns: list[dict[str, Any]] = [
        {"recipe": r, "lines": dict(lines(card_of(r.card))), "scaled": scaled(card_of(r.card), litres)} for r in found
    ]
    names = list(dict.fromkeys(name for column in columns for name in column["lines"]))
    return page(
        "brew_day/compare.html", None, columns=columns, names=names, vessel=vessel, vessels=vessels, litres=litres
    )
