"""Rehearsals: a first brew, a first bottling, a first calibration with the stand-in. Mistakes are explained and taken back."""

from __future__ import annotations

import random

from flask import Response, abort, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....core.base import Said
from ....core.practice import first_calibration, rehearsal
from ....core.practice.first_calibration import ACTS, MOST_ACTS, MeterShowed
from ....instruments.physics import Meter
from ...kit.acting import in_units
from ...kit.numbers import whole
from ...kit.render import page
from .routes import bp

LEAST_SECONDS, WAIT_SECONDS = 2.0, 30.0  #: Of an act; of a wait. [s]
ROOM_C, JAR_PH = 20.5, 3.4  #: Of the stand-in's kitchen. [degC, pH]


def _plain(line: Said | str) -> str:
    return line.words(in_units) if isinstance(line, Said) else line


@bp.get("/rehearse/<which>")
def rehearse(which: str) -> Answer:
    """Show a step of a rehearsal."""
    if which == "calibration":
        return redirect(url_for(".calibration"), 303)
    if which not in rehearsal.NAMES:
        abort(404)
    return _step_page(which, whole(request.args.get("step")) or 0)


def _step_page(which: str, at: int, status: int = 200, chosen: int | None = None, problem: str = "") -> Response:
    steps = rehearsal.rehearsal(which)
    at = min(max(at, 0), len(steps))
    if at == len(steps):
        return page("practice/rehearsed.html", which=which, name=rehearsal.NAMES[which])
    step = steps[at]
    return page(
        "practice/rehearse.html", None, status, which=which, name=rehearsal.NAMES[which], at=at, count=len(steps), step=step,
        lines=[_plain(line) for line in step.do], why=_plain(step.why), chosen=None if chosen is None else step.options[chosen], problem=problem,
    )  # fmt: skip


@bp.post("/rehearse/<which>")
def rehearsed(which: str) -> Answer:
    """Go on after the right choice; explain a mistake."""
    if which not in rehearsal.NAMES:
        abort(404)
    steps, at, chosen = rehearsal.rehearsal(which), whole(request.form.get("step")) or 0, whole(request.form.get("option"))
    if not 0 <= at < len(steps):
        return redirect(url_for(".rehearse", which=which), 303)
    step = steps[at]
    if step.options and (chosen is None or not 0 <= chosen < len(step.options)):
        return _step_page(which, at, 422, problem="Choose one; a mistake costs nothing here.")
    if step.options and chosen is not None and not step.options[chosen].right:
        return _step_page(which, at, chosen=chosen)
    return redirect(url_for(".rehearse", which=which, step=at + 1), 303)


def _shown(acts: str) -> list[MeterShowed]:
    """Let the stand-in do what was done so far; the same acts show the same."""
    meter, lot = Meter(slope=0.97, offset_mv=6.0, dirt=0.12), random.Random(31)
    out: list[MeterShowed] = []
    for act in acts:
        if act in {first_calibration.IN_7, first_calibration.IN_4}:
            meter.hold_in(act)
        elif act == first_calibration.RINSE:
            meter.hold_in("rinse")
        meter.wait(WAIT_SECONDS if act == first_calibration.WAIT else LEAST_SECONDS, lot, ROOM_C, JAR_PH, ROOM_C)
        reads = meter.reads(lot)
        out.append(MeterShowed(act, reads["millivolts"], reads["celsius"]))
    return out


def _acts(source: str) -> str:
    return "".join(act for act in source[:MOST_ACTS] if act in ACTS)


@bp.get("/rehearse/calibration")
def calibration() -> Response:
    """Show the stand-in, and what can be done with it."""
    acts = _acts(request.args.get("done", ""))
    shown = _shown(acts)
    now = first_calibration.stands(shown)
    return page(
        "practice/calibration.html", done=acts, before=acts[:-1], shown=shown[-1] if shown else None, now=now, acts=ACTS, too_long=len(acts) >= MOST_ACTS
    )
