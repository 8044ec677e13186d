"""Titration as a sheet: drop by drop to the first pink that stays, a drop too many taken back, two runs compared, g/L at the end."""

from __future__ import annotations

from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing import readings
from ....core.measuring.titrating import DROP_ML, MOST_RUNS, titrated
from ...kit.acting import act
from ...kit.fields import KitchenForm, QuantityField
from ...kit.render import page
from .routes import bp, brew_of

MOST_DROPS, STEPS = 20_000, {"one": 1, "ten": 10, "ml": 20, "back": -1}
FIRST = {"sample_ml": "10", "base_normality": "0.1", "drop_ml": f"{DROP_ML:g}"}


class TitrationForm(KitchenForm):
    """What is titrated with what."""

    sample_ml = QuantityField("Sample, mL", hint="10 is usual, with three drops of phenolphthalein.")
    base_normality = QuantityField("Strength of the base, mol/L")
    drop_ml = QuantityField("A drop, mL", hint="Count how many make 1 mL, once: 20 make 0.05.")


def _numbers(form: TitrationForm) -> tuple[float, float, float] | None:
    """Read sample, strength and drop; None after a problem."""
    if not form.validate():
        return None
    sample, strength, drop = (float(form[name].data or 0.0) for name in FIRST)
    for name, value, low, high in (("sample_ml", sample, 0.5, 200), ("base_normality", strength, 0.005, 2), ("drop_ml", drop, 0.005, 1)):
        if not low <= value <= high:
            form[name].errors = [f"From {low:g} to {high:g}."]
            return None
    return sample, strength, drop


def _count(text: str) -> int:
    return min(MOST_DROPS, int(text)) if text.isascii() and text.isdigit() and len(text) < 9 else 0


def _sheet(number: int, values: Any, status: int = 200, **more: Any) -> Response:
    brew = brew_of(number)
    form = TitrationForm(MultiDict({name: values.get(name, first) for name, first in FIRST.items()}), meta={"csrf": False})
    told = _numbers(form)
    drops, runs = _count(values.get("drops", "0")), [_count(one) for one in values.getlist("run")][:MOST_RUNS]
    do = values.get("do", "")
    drops = max(0, drops + STEPS.get(do, 0))
    if do == "pink" and drops and len(runs) < MOST_RUNS:
        runs, drops = [*runs, drops], 0
    found = None
    if told is not None and runs:
        sample, strength, drop = told
        found = titrated([run * drop for run in runs], strength, sample, drop)
    drop = told[2] if told is not None else DROP_ML
    return page("brews/titrate.html", "brews/_titrate.html", status, brew=brew, form=form, drops=drops, drop=drop, runs=runs, found=found, over=len(runs) >= MOST_RUNS, **more)


@bp.get("/<int:number>/titration")
def titrate(number: int) -> Response:
    """Show the sheet: so many drops up to now."""
    return _sheet(number, request.args)


@bp.post("/<int:number>/titration")
def keep_titration(number: int) -> Answer:
    """Write what the runs come to."""
    values = request.form
    form = TitrationForm(MultiDict({name: values.get(name, first) for name, first in FIRST.items()}), meta={"csrf": False})
    told, runs = _numbers(form), [_count(one) for one in values.getlist("run")][:MOST_RUNS]
    if told is None or not runs:
        return _sheet(number, values, 422, problem="Titrate once at least.")
    sample, strength, drop = told
    base = titrated([run * drop for run in runs], strength, sample, drop).base_ml
    ask = readings.LogReading(brew_id=number, base_ml=round(base, 3), base_normality=strength, sample_ml=sample, degassed=bool(values.get("degassed")), at=g.now)
    try:
        act(readings.log_reading, ask)
    except RefusedError as refused:
        return _sheet(number, values, 422, problem=str(refused))
    return redirect(url_for(".show", number=number), 303)
