"""A pH meter by its buffers, as `kyklos calc` asks."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..measuring.calibrating import BufferPoint, calibrate, corrected_ph, millivolts_shown
from . import keys
from .forecasts import Answer
from .keys import CalcError, Key

CALIBRATE = (Key("points", kind="any"), Key("reading", default=None, kind="any"))
_SHOWN = (Key("temperature_c", "degC", -10, 110), Key("millivolts", "mV", -2000, 2000, None), Key("ph", "pH", 0, 14, None))
_POINT = (Key("buffer", kind="any"), *_SHOWN)


def _millivolts(given: Mapping[str, Any], where: str) -> float:
    """Return what was shown as a voltage. [mV]"""
    if (given["millivolts"] is None) == (given["ph"] is None):
        raise CalcError(f"{where} takes millivolts or ph, one of them.")
    return given["millivolts"] if given["ph"] is None else millivolts_shown(given["ph"], given["temperature_c"])


def calibrated(ask: dict[str, Any]) -> Answer:
    """Answer slope, offset and judgement of a meter, and the pH of a reading with it."""
    points = []
    for number, one in enumerate(keys.objects(ask["points"], "points")):
        given = keys.read(_POINT, one, f"points[{number}].")
        if given["buffer"] not in (7, 4) or isinstance(given["buffer"], bool):
            raise CalcError(f"points[{number}].buffer must be 7 or 4.")
        points.append(BufferPoint(int(given["buffer"]), given["temperature_c"], _millivolts(given, f"points[{number}]")))
    line = calibrate(points)
    out: dict[str, Any] = {"slope": line.slope, "offset_mv": line.offset_mv, "judged": str(line.judged), "sd_ph": line.sd_ph}
    if ask["reading"] is not None:
        read = keys.read(_SHOWN, ask["reading"], "reading.")
        out["ph"] = corrected_ph(_millivolts(read, "reading"), read["temperature_c"], line)
    return out
