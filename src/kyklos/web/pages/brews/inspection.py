"""A guided look: what lies on it, what else, how it smells; the verdict with its reasons while one answers."""

from __future__ import annotations

from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing import readings, watching
from ....core.judging import OBSERVATIONS, Verdict
from ....core.judging.observations import SeenLook, of_group
from ....drawing.specimen import KINDS, Specimen, specimen
from ....reckon.judging import verdicts
from ....store.read import moments
from ....store.records import Brew
from ...kit.acting import act
from ...kit.photos import sent_picture
from ...kit.render import page
from .routes import bp, brew_of


def drawn(key: str, brew: Brew, day: float) -> Specimen | None:
    """Draw what an observation looks like on this brew."""
    from ....core.liquid import teas

    if key not in KINDS:
        return None
    return specimen(key, age=max(day, 6.0), coverage=0.6, seed=brew.id, tea=teas.main_of(teas.from_text(brew.tea)))


def _answers() -> dict[str, Any]:
    asked = request.form if request.method == "POST" else request.args
    return {
        "surface": asked.get("surface", ""),
        "signs": tuple(asked.getlist("signs")),
        "smell": asked.get("smell", ""),
        "note": asked.get("note", "")[:500],
    }


def _verdict(brew: Brew, values: dict[str, Any]) -> Verdict | None:
    """Judge the brew as if this look were kept; None before anything was answered."""
    if values["surface"] not in OBSERVATIONS:
        return None
    facts = verdicts.facts_of(brew, g.now)
    signs = tuple(key for key in values["signs"] if key in OBSERVATIONS)
    look = SeenLook(facts.day, values["surface"], signs, values["smell"] if values["smell"] in OBSERVATIONS else "")
    return verdicts.computed_of(brew, verdicts.with_look(facts, look))


def _page(brew: Brew, values: dict[str, Any], status: int = 200, problems: dict[str, str] | None = None) -> Response:
    day = moments.days_between(brew.pitched_at, g.now)
    groups = {name: of_group(name) for name in ("surface", "sign", "smell")}
    pictures = {seen.key: drawn(seen.key, brew, day) for name in ("surface", "sign") for seen in groups[name]}
    pictures["lifted"] = drawn("lifted", brew, day)
    return page(
        "brews/inspect.html",
        "brews/_verdict.html",
        status,
        brew=brew,
        typed=values,
        groups=groups,
        pictures=pictures,
        verdict=_verdict(brew, values),
        problems=problems or {},
        day=day,
        before=[p for p in brew.photos if not p.struck][-3:],
    )


@bp.get("/<int:number>/inspect")
def inspect(number: int) -> Answer:
    """Ask what is seen, and judge it answer by answer."""
    brew = brew_of(number)
    if not brew.alive:
        return redirect(url_for(".show", number=number), 303)
    return _page(brew, _answers())


@bp.post("/<int:number>/inspect")
def keep_look(number: int) -> Answer:
    """Keep the look."""
    found = _answers()
    try:
        picture = sent_picture()
        done = act(readings.log_look, readings.LogLook(brew_id=number, **found))
        if picture is not None:
            ask = watching.AddPhoto(brew_id=number, picture=picture, look_id=done.made["look"])
            act(watching.add_photo, ask, quiet=True)
    except RefusedError as refused:
        return _page(brew_of(number), found, 422, {problem.field: problem.message for problem in refused.problems})
    return redirect(url_for(".show", number=number), 303)
