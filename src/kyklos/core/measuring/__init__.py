"""Measuring: how a pH meter is calibrated and what it is worth, and what is made of the readings that a device sends.

It answers: slope and offset of a meter, a reading put right by its calibrations, whether a number is absurd or doubtful, and which
points of a course are worth keeping.
"""

from .calibrating import (
    BufferPoint,
    CalibrationError,
    Judged,
    MeterLine,
    PutRight,
    calibrate,
    corrected_ph,
    put_right,
    voltage_of,
)

__all__ = [
    "BufferPoint",
    "CalibrationError",
    "Judged",
    "MeterLine",
    "PutRight",
    "calibrate",
    "corrected_ph",
    "put_right",
    "voltage_of",
]
