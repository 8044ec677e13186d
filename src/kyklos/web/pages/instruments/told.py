"""The devices that are paired as their lines show them, and what they may stand in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import g

from ....actions import devices as dev
from ....core.base.kinds import DeviceKind, VesselKind
from ....reckon import devices
from ....store.read import planning_queries, queries
from ....store.records import Device
from ...kit.acting import in_units
from ...kit.fields import ChoiceField, KitchenForm, MomentField, QuantityField
from ...kit.words import day_word

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


class DeviceMoveForm(KitchenForm):
    """Since when a device stands somewhere."""

    at = MomentField("Since when, if not now")


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
    moves: DeviceMoveForm


def where_choices() -> list[tuple[str, str]]:
    """List what a device may stand in or at."""
    vessels = [(f"vessel-{row.id}", row.name) for row in queries.vessels(g.session) if row.kind != VesselKind.HOTEL]
    places = [(f"place-{row.id}", f"the air at {row.name}") for row in queries.places(g.session)]
    return [*vessels, *places, ("hand", "in the hand")]


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
        moves = DeviceMoveForm(formdata=None)
        for asked, form in (("set", heater), ("doubt", doubt), ("moves", moves)):
            if form is not None:
                form.of_one(f"{asked}-{device.id}")
        out.append(DeviceRow(device, KIND_NAMES[DeviceKind(device.kind)], where, key, says, _heard(live.get(device.id)), [one for one in wrong if one.device_id == device.id], heater, doubt, moves))
    return out
