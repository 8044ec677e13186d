"""Calibrating a pH meter step by step: rinse, 7, rinse, 4, each taken when it stands still, or typed; then what it is worth."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing import calibrating
from ....core.base.kinds import MeasuredBy
from ....core.measuring import BufferPoint, Judged
from ....core.measuring.calibrating import buffer_ph, millivolts_shown
from ....drawing.live import live_view
from ....reckon import measuring
from ....store.read.meters import line_of
from ....store.records import Instrument
from ...kit import units
from ...kit.acting import act
from ...kit.fields import KitchenForm, QuantityField
from ...kit.render import page
from ...kit.words import span_word
from .place import bp

STEPS = ("rinse", "seven", "rinse-again", "four")
BUFFER = {"seven": 7, "four": 4}
SWAPPED_MV = 90.0  #: A meter that shows so much is not in buffer 7; one that shows less is not in 4. [mV]
USUAL_C = 20.0
TO_DO = {
    Judged.GOOD: "Rinse, put the wet cap on with storage solution, never plain water.",
    Judged.AGES: "It will do. Cleaning may wake it; a new tip is due within the year.",
    Judged.CLEAN_IT: "Fifteen minutes in cleaning solution, or a drop of washing-up liquid in warm water; rinse; an hour in storage solution. Then calibrate again.",
    Judged.WORN: "Its tip is used up. A new one, or strips until then.",
    Judged.HALF: "Set it at the other buffer too: one alone says nothing of its slope.",
}
WORDS = {Judged.GOOD: "Good", Judged.AGES: "It ages", Judged.CLEAN_IT: "Clean it", Judged.WORN: "Worn", Judged.HALF: "Half"}


class BufferForm(KitchenForm):
    """What a meter shows in a buffer."""

    shown = QuantityField("It shows, in pH", required=False)
    millivolts = QuantityField("or in mV", required=False)
    celsius = QuantityField("The buffer's temperature", kind="temperature")


def _told(name: str) -> tuple[float, float] | None:
    """Read what was taken in a buffer before: mV and degC."""
    mv, _, celsius = request.values.get(name, "")[:60].partition(" ")
    try:
        return float(mv), float(celsius)
    except ValueError:
        return None


def _step(number: int, step: str, status: int = 200, form: BufferForm | None = None, **more: Any) -> Response:
    row = measuring.instrument_of(g.session, number)
    device = measuring.meter_device(g.session, number)
    taken = {name: request.values.get(name, "")[:60] for name in BUFFER if _told(name) is not None}
    flags = {name: "1" for name in ("cleaned", "keeps") if request.values.get(name)}
    buffer = BUFFER.get(step)
    stale = [one for one in measuring.buffers_told(g.session, g.now) if one.stale and one.buffer == buffer]
    return page(
        "instruments/calibrate.html", None, status, row=row, device=device, step=step, place=STEPS.index(step) + 1, buffer=buffer, form=form or BufferForm(formdata=None, celsius=USUAL_C),
        taken=taken, flags=flags, since=int(g.now.timestamp()), stale=stale, really=None if buffer is None else buffer_ph(buffer, USUAL_C), **more,
    )  # fmt: skip


@bp.get("/<int:number>/calibration")
def calibration(number: int) -> Answer:
    """Show a step."""
    row = measuring.instrument_of(g.session, number)
    if row.kind != MeasuredBy.METER:
        return redirect(url_for(".show"), 303)
    step = request.args.get("step", "rinse")
    return _step(number, step if step in STEPS else "rinse")


@bp.post("/<int:number>/calibration/<step>")
def take(number: int, step: str) -> Answer:
    """Take what the meter shows in a buffer, and go on; after the last one tell what it is worth."""
    if step not in BUFFER:
        return _step(number, "rinse", 404)
    form = BufferForm()
    found = _measured(form, step)
    if found is None:
        return _step(number, step, 422, form)
    kept = {name: request.form[name] for name in BUFFER if name != step and _told(name) is not None}
    flags = {name: "1" for name in ("cleaned", "keeps") if request.form.get(name)}
    more: dict[str, Any] = {**kept, **flags}
    kept[step] = f"{found[0]:.2f} {found[1]:.2f}"
    if step == "seven" and request.form.get("only") != "1":
        return redirect(url_for(".calibration", number=number, step="rinse-again", **{**more, step: kept[step]}), 303)
    return _finish(number, step, kept, form)


def _measured(form: BufferForm, step: str) -> tuple[float, float] | None:
    """Read voltage and temperature, as the meter sent them or as they were typed; None after a problem."""
    if not form.validate_on_submit():
        return None
    if form.shown.data is None and form.millivolts.data is None:
        form.shown.errors = ["What does it show?"]
        return None
    celsius = float(form.celsius.data if form.celsius.data is not None else USUAL_C)
    millivolts = form.millivolts.data if form.millivolts.data is not None else millivolts_shown(float(form.shown.data), celsius)
    return float(millivolts), celsius


def _finish(number: int, step: str, kept: dict[str, str], form: BufferForm) -> Answer:
    points = tuple(BufferPoint(BUFFER[name], celsius, millivolts) for name in ("seven", "four") if name in kept for millivolts, celsius in [_pair(kept[name])])
    before = measuring.brews_by_meter(g.session, number, g.now)
    ask = calibrating.NoteCalibration(instrument_id=number, points=points, cleaned=bool(request.form.get("cleaned")), sets_it=not request.form.get("keeps"))
    try:
        act(calibrating.note_calibration, ask, quiet=True)
    except RefusedError as refused:
        return _step(number, step, 422, form, problem=str(refused))
    changed = measuring.told_apart(before, measuring.brews_by_meter(g.session, number, g.now))
    row = measuring.instrument_of(g.session, number)
    return page("instruments/calibrated.html", None, 200, row=row, says=[changed_words(one) for one in changed], **worth(row))


def _pair(text: str) -> tuple[float, float]:
    first, _, second = text.partition(" ")
    return float(first), float(second)


def worth(row: Instrument) -> dict[str, Any]:
    """Tell what a meter is worth by its last calibration."""
    last = next(((c, line) for c in reversed(row.calibrations) if (line := line_of(c)) is not None), None)
    if last is None:
        return {"line": None}
    line = last[1]
    return {"line": line, "word": WORDS[line.judged], "to_do": TO_DO[line.judged], "slope": f"{100 * line.slope:.0f} %", "offset": f"{line.offset_mv:+.0f} mV".replace("-", "−")}


def changed_words(one: measuring.PutRightTold) -> str:
    """Tell what a calibration changed in a brew.

    >>> changed_words(measuring.PutRightTold(1, "Jar two", 3, 0.08, 0.5))
    'Three readings of Jar two were 0.08 too high; right half a day later.'
    """
    numbers = ("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine")
    count = numbers[one.count] if one.count < len(numbers) else str(one.count)
    was = "reading" if one.count == 1 else "readings"
    text = f"{count} {was} of {one.name} {'was' if one.count == 1 else 'were'} {abs(one.too_high):.2f} too {'high' if one.too_high > 0 else 'low'}"
    if one.later == 0:
        return f"{text}."
    span = "half a day" if abs(one.later) < 0.75 else span_word(abs(one.later))
    return f"{text}; right {span} {'later' if one.later > 0 else 'sooner'}."


@bp.get("/devices/<int:number>/live")
def live(number: int) -> Response:
    """Show what a meter reads right now; the page asks each second."""
    typed = request.args.get("since", "")
    since = datetime.fromtimestamp(min(float(typed), 4e9), UTC) if typed.isascii() and typed.isdigit() else None
    found = measuring.live_ph(g.session, number, g.now, since)
    step = request.args.get("step", "")
    swapped = found is not None and found.still and found.millivolts is not None and ((step == "seven" and found.millivolts > SWAPPED_MV) or (step == "four" and found.millivolts < SWAPPED_MV))
    return page("instruments/_live.html", "instruments/_live.html", live=found, view=None if found is None else live_view(found.course), swapped=swapped, step=step, warm=None if found is None or found.celsius is None else units.typed(found.celsius, "temperature", g.units))


@bp.get("/live")
def meters_now() -> Response:
    """Show what the meters that send read right now, each to be taken with a press."""
    shown = [(device, live, units.typed(live.celsius, "temperature", g.units)) for device, live in measuring.meters_live(g.session, g.now)]
    return page("instruments/_take.html", "instruments/_take.html", meters=shown)
