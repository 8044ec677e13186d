"""Devices that send by themselves: a pairing's yes or no, where each stands, a heater's set point, what is set aside, the end."""

from __future__ import annotations

from collections.abc import Callable

from flask import Response, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import devices as dev
from ....actions.base import Done, RefusedError
from ...kit.acting import act
from ...kit.numbers import whole
from .place import bp
from .routes import instruments_page
from .told import DeviceMoveForm, DoubtForm, HeaterForm


def _where(typed: str) -> tuple[int | None, int | None]:
    """Read what a device stands in or at: the vessel's number, or the place's."""
    kind, _, number = typed.partition("-")
    return whole(number) if kind == "vessel" else None, whole(number) if kind == "place" else None


@bp.get("/devices")
def device_part() -> Response:
    """Show the devices as they stand now; the page asks every few seconds."""
    return instruments_page(part="instruments/_devices.html")


def _done(run: Callable[..., Done], ask: object, anchor: str = "") -> Answer:
    try:
        act(run, ask)
    except RefusedError as refused:
        return instruments_page(422, device_problem=str(refused))
    return redirect(url_for(".show") + anchor, 303)


@bp.post("/pairings/<code>")
def decide(code: str) -> Answer:
    """Answer a device that waits: yes or no."""
    if request.form.get("do") == "refuse":
        return _done(dev.refuse_pairing, dev.RefusePairing(code=code))
    vessel, place = _where(request.form.get("where", ""))
    return _done(dev.approve_pairing, dev.ApprovePairing(code=code, instrument_id=whole(request.form.get("instrument")), vessel_id=vessel, place_id=place))


@bp.post("/devices/<int:number>/move")
def move(number: int) -> Answer:
    """Move a device to where it stands now."""
    vessel, place = _where(request.form.get("where", ""))
    form = DeviceMoveForm()
    if not form.validate_on_submit():
        return instruments_page(422, device_problem=" ".join(message for messages in form.errors.values() for message in messages))
    return _done(dev.move_device, dev.MoveDevice(device_id=number, vessel_id=vessel, place_id=place, at=form.at.data), f"#device-{number}")


@bp.post("/devices/kept")
def keep_whole() -> Answer:
    """Set how long readings are kept whole."""
    return _done(dev.keep_whole, dev.KeepWhole(days=float(whole(request.form.get("days")) or 0)))


@bp.post("/devices/<int:number>/name")
def rename(number: int) -> Answer:
    """Call a device something else."""
    return _done(dev.rename_device, dev.RenameDevice(device_id=number, name=request.form.get("name", "")), f"#device-{number}")


@bp.post("/devices/<int:number>/end")
def end(number: int) -> Answer:
    """End a device at once."""
    return _done(dev.end_device, dev.EndDevice(device_id=number))


@bp.post("/devices/<int:number>/heater")
def heater(number: int) -> Answer:
    """Set a heater."""
    form = HeaterForm()
    if form.validate_on_submit():
        try:
            act(dev.set_heater, dev.SetHeater(device_id=number, celsius=form.celsius.data, how=form.how.data, until=form.until.data))
            return redirect(url_for(".show") + f"#device-{number}", 303)
        except RefusedError as refused:
            form.take(refused)
    return instruments_page(422, forms={number: form})


@bp.post("/devices/<int:number>/doubt")
def doubt(number: int) -> Answer:
    """Set aside what a device read in a span."""
    form = DoubtForm()
    if form.validate_on_submit():
        if form.since.data is None or form.until.data is None:
            form.until.errors = ["From when, and until when?"]
            return instruments_page(422, forms={number: form})
        try:
            act(dev.doubt_readings, dev.DoubtReadings(device_id=number, since=form.since.data, until=form.until.data))
            return redirect(url_for(".show") + f"#device-{number}", 303)
        except RefusedError as refused:
            form.take(refused)
    return instruments_page(422, forms={number: form})
