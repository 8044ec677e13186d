"""Instruments: what measures here, how well, and when it was calibrated."""

from __future__ import annotations

from typing import Any

from flask import Response, current_app, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer
from wtforms import BooleanField, DateField, StringField
from wtforms.validators import Optional

from ....actions.base import ConflictError, RefusedError
from ....actions.brewing import calibrating, watching
from ....core.base.kinds import MeasuredBy
from ....core.judging.instruments import KINDS
from ....drawing.slopes import slopes_view
from ....reckon import devices as reckon_devices
from ....reckon import measuring
from ....store.read import planning_queries, queries
from ....store.read.meters import line_of
from ....store.records import Instrument
from ...kit.acting import act
from ...kit.fields import ChoiceField, KitchenForm, MomentField, QuantityField, WholeField
from ...kit.meters import says_of, standing_of
from ...kit.numbers import whole
from ...kit.render import page
from .place import bp
from .told import device_rows, instrument_choices, where_choices

MOST_SHOWN = 12  #: Calibrations in a meter's curve.


class InstrumentForm(KitchenForm):
    """A new instrument."""

    kind = ChoiceField("Kind", choices=[(key, kind.name) for key, kind in KINDS.items()])
    name = StringField("Name, if you like")
    error = QuantityField(
        "Its own error, if the maker gives it", required=False, hint="In pH, degrees or gravity; empty: typical."
    )
    interval_days = QuantityField("Calibrate every … days", required=False, hint="A meter; usually 30.")


class ChangeForm(KitchenForm):
    """What is known of an instrument."""

    name = StringField("Name")
    error = InstrumentForm.error
    interval_days = InstrumentForm.interval_days
    version = WholeField()


class CalibrationForm(KitchenForm):
    """A calibration just done."""

    at_seven = BooleanField("In the buffer of pH 7", default=True)
    at_four = BooleanField("In the buffer of pH 4", default=True)
    off_by = QuantityField("It was off by", required=False, hint="If you looked before setting it.")
    at = MomentField("When, if not now")


def instruments_page(
    status: int = 200,
    form: InstrumentForm | None = None,
    wrong: tuple[int, CalibrationForm] | None = None,
    change: tuple[int, ChangeForm] | None = None,
    part: str | None = None,
    **more: Any,
) -> Response:
    """Show the instruments, the devices that are paired, and those that wait."""
    context: dict[str, Any] = {
        "devices": device_rows(more.pop("forms", None)), "waiting": reckon_devices.waiting(g.session, g.now), "where": where_choices(), "known": instrument_choices(),
        "standins": current_app.config.get("KYKLOS_STANDINS", ""),
    }  # fmt: skip
    if part is not None:
        return page(part, part, status, **context)
    rows = []
    sent = {one.device.instrument_id for one in context["devices"]}
    for row in planning_queries.instruments(g.session):
        if row.id in sent and row.kind != MeasuredBy.METER:
            continue  # its line stands among the devices
        found = standing_of(row, g.now) if row.kind == MeasuredBy.METER else None
        own = wrong[1] if wrong and wrong[0] == row.id else CalibrationForm(formdata=None)
        lines = [(c, line) for c in row.calibrations if (line := line_of(c)) is not None]
        history = slopes_view([(c.at, line.slope, line.offset_mv) for c, line in lines[-MOST_SHOWN:]]) if len(lines) > 1 else None
        rows.append((row, KINDS[row.kind], found, says_of(found) if found else "", own.of_one(str(row.id)), _change(row, change).of_one(str(row.id)), history, lines[-1][1] if lines else None))
    context |= {"rows": rows, "form": form or InstrumentForm(formdata=None), "buffers": measuring.buffers_told(g.session, g.now)}
    return page("instruments/show.html", None, status, **context, **more)


def _change(row: Instrument, change: tuple[int, ChangeForm] | None) -> ChangeForm:
    if change is not None and change[0] == row.id:
        return change[1]
    return ChangeForm(formdata=None, name=row.name, error=row.error, interval_days=row.interval_days, version=row.version)


@bp.get("/")
def show() -> Response:
    """List the instruments."""
    return instruments_page()


@bp.post("/")
def add() -> Answer:
    """Add an instrument."""
    form = InstrumentForm()
    if form.validate_on_submit():
        ask = watching.AddInstrument(
            kind=form.kind.data, name=form.name.data or "", error=form.error.data, interval_days=form.interval_days.data
        )
        try:
            act(watching.add_instrument, ask)
            return redirect(url_for(".show"), 303)
        except RefusedError as refused:
            form.take(refused)
    return instruments_page(422, form)


@bp.post("/<int:number>/calibrate")
def calibrate(number: int) -> Answer:
    """Note a calibration."""
    form = CalibrationForm()
    if form.validate_on_submit():
        ask = calibrating.NoteCalibration(
            instrument_id=number,
            at_seven=bool(form.at_seven.data),
            at_four=bool(form.at_four.data),
            off_by=form.off_by.data,
            at=form.at.data,
        )
        try:
            act(calibrating.note_calibration, ask)
            return redirect(url_for(".show"), 303)
        except RefusedError as refused:
            form.take(refused)
    return instruments_page(422, wrong=(number, form))


@bp.post("/<int:number>/change")
def change(number: int) -> Answer:
    """Save what is known of an instrument."""
    form = ChangeForm()
    if form.validate_on_submit():
        values = {name: form[name].data for name in ("error", "interval_days", "version")}
        try:
            act(watching.change_instrument, watching.ChangeInstrument(instrument_id=number, name=form.name.data or "", **values))
            return redirect(url_for(".show"), 303)
        except RefusedError as refused:
            form.take(refused)
        except ConflictError as conflict:
            row = queries.get(g.session, Instrument, number)
            form.overtaken(conflict, row.version, name=row.name, error=row.error, interval_days=row.interval_days)
    return instruments_page(form.status, change=(number, form))


@bp.post("/<int:number>/retire")
def retire(number: int) -> Answer:
    """Take an instrument off the list."""
    version = whole(request.form.get("version"))
    act(watching.retire_instrument, watching.RetireInstrument(instrument_id=number, version=version))
    return redirect(url_for(".show"), 303)


class BufferBottleForm(KitchenForm):
    """A new bottle of buffer."""

    buffer = ChoiceField("Buffer", choices=[("7", "7"), ("4", "4")])
    opened_on = DateField("Opened", validators=[Optional()])
    best_before = DateField("Best before", validators=[Optional()])


@bp.post("/buffers")
def open_buffer() -> Answer:
    """Note a new bottle of buffer."""
    form = BufferBottleForm()
    if form.validate_on_submit():
        try:
            act(calibrating.open_buffer, calibrating.OpenBuffer(buffer=int(form.buffer.data), opened_on=form.opened_on.data, best_before=form.best_before.data))
            return redirect(url_for(".show") + "#buffers", 303)
        except RefusedError as refused:
            form.take(refused)
    return instruments_page(422, buffer_form=form)
