"""Devices that send by themselves: a pairing's yes or no, where each stands, a heater's set point, what is set aside, the end."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import devices as dev
from ....actions.base import Done, RefusedError
from ....core.base.kinds import DeviceKind, VesselKind
from ....reckon import devices
from ....store.read import planning_queries, queries
from ....store.records import Device
from ...kit.acting import act, in_units
from ...kit.fields import ChoiceField, KitchenForm, MomentField, QuantityField
from ...kit.numbers import whole
from ...kit.words import day_word
from .routes import bp, instruments_page

KIND_NAMES = {
    DeviceKind.THERMOMETER: "Thermometer", DeviceKind.PH_METER: "pH meter", DeviceKind.SCALE: "Scale", DeviceKind.HEATER: "Heater mat", DeviceKind.WEATHER: "Weather",
}  # fmt: skip
SKEW_SAID_S = 120.0
HOW = [("hand", "until I change it"), ("season", "only while its place is cooler"), ("pause", "for a pause, until")]


class HeaterForm(KitchenForm):
    """How warm a heater keeps its vessel."""

    celsius = QuantityField("Keep at", kind="temperature", required=False, hint="Empty: off.")
    how = ChoiceField("How long", default="hand", choices=HOW)
    until = MomentField("Until")


class DoubtForm(KitchenForm):
    """A span that is set aside."""

    since = MomentField("It stood in the air from")
    until = MomentField("until")


@dataclass(frozen=True, slots=True)
class DeviceRow:
    """A paired device as its line shows it."""

    device: Device
    kind: str
    where: str
    where_key: str
    says: str  #: What it reads now.
    heard: str
    troubles: list[devices.DeviceTrouble]
    heater: HeaterForm | None
    doubt: DoubtForm


def where_choices() -> list[tuple[str, str]]:
    """List what a device may stand in or at."""
    vessels = [(f"vessel-{row.id}", row.name) for row in queries.vessels(g.session) if row.kind != VesselKind.HOTEL]
    places = [(f"place-{row.id}", f"the air at {row.name}") for row in queries.places(g.session)]
    return [*vessels, *places, ("hand", "in the hand")]


def _where(typed: str) -> tuple[int | None, int | None]:
    """Read what a device stands in or at: the vessel's number, or the place's."""
    kind, _, number = typed.partition("-")
    return whole(number) if kind == "vessel" else None, whole(number) if kind == "place" else None


def instrument_choices() -> list[tuple[str, int, str]]:
    """List the instruments that a device may be: its kind, number, name."""
    kinds = {instrument: kind for kind, instrument in dev.INSTRUMENTS.items()}
    return [(kinds[row.kind], row.id, row.name) for row in planning_queries.instruments(g.session) if row.kind in kinds]


def _reads(live: devices.DeviceLive | None) -> str:
    if live is None:
        return ""
    parts = [f"pH {live.ph:.2f}"] if live.ph is not None else []
    parts += [in_units(live.celsius, "temperature")] if live.celsius is not None else []
    parts += [in_units(live.grams, "mass")] if live.grams is not None else []
    return ", ".join(parts)


def _heard(live: devices.DeviceLive | None) -> str:
    if live is None or live.seen_at is None:
        return "was not heard of yet" if live is not None and live.fetched else "has not fetched its token yet"
    ago = (g.now - live.seen_at).total_seconds()
    said = ["heard just now" if ago < 60 else f"heard {ago / 60:.0f} min ago" if ago < 5400 else f"heard {day_word(live.seen_at, g.now, g.household.zone)}"]
    said += [f"battery {100 * live.battery:.0f} %"] if live.battery is not None else []
    said += [f"its clock is {abs(live.skew_s) / 60:.0f} min {'behind' if live.skew_s > 0 else 'ahead'}"] if abs(live.skew_s) > SKEW_SAID_S else []
    return ", ".join(said)


def device_rows(forms: dict[int, Any] | None = None) -> list[DeviceRow]:
    """List the paired devices as they stand."""
    live, wrong, out = devices.lives(g.session), devices.troubles(g.session, g.now), []
    for device in devices.paired(g.session):
        stands = device.stands
        in_it = stands.vessel if stands is not None else None
        at_it = stands.place if stands is not None else None
        key = f"vessel-{in_it.id}" if in_it is not None else f"place-{at_it.id}" if at_it is not None else "hand"
        where = in_it.name if in_it is not None else f"the air at {at_it.name}" if at_it is not None else "the hand"
        given = (forms or {}).get(device.id)
        point = devices.point_in_force(device, g.now)
        heater = None
        if device.kind == DeviceKind.HEATER:
            heater = given if isinstance(given, HeaterForm) else HeaterForm(formdata=None, celsius=point.celsius if point is not None else None, how=point.how if point is not None else "hand")
        says = _reads(live.get(device.id))
        if device.kind == DeviceKind.HEATER:
            set_c = devices.set_point_now(g.session, device, g.now)
            says = f"set to {in_units(set_c, 'temperature')}" if set_c is not None else "off"
        doubt = given if isinstance(given, DoubtForm) else DoubtForm(formdata=None)
        out.append(DeviceRow(device, KIND_NAMES[DeviceKind(device.kind)], where, key, says, _heard(live.get(device.id)), [one for one in wrong if one.device_id == device.id], heater, doubt))
    return out


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
    """Say yes or no to a device that waits."""
    if request.form.get("do") == "refuse":
        return _done(dev.refuse_pairing, dev.RefusePairing(code=code))
    vessel, place = _where(request.form.get("where", ""))
    return _done(dev.approve_pairing, dev.ApprovePairing(code=code, instrument_id=whole(request.form.get("instrument")), vessel_id=vessel, place_id=place))


@bp.post("/devices/<int:number>/move")
def move(number: int) -> Answer:
    """Say where a device stands now."""
    vessel, place = _where(request.form.get("where", ""))
    return _done(dev.move_device, dev.MoveDevice(device_id=number, vessel_id=vessel, place_id=place), f"#device-{number}")


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
