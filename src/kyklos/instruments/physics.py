"""How the stand-ins behave: an electrode that settles, drifts and wears, a probe, a mat under a crock, a scale.

Figures are usual ones (assumed) but where a source is named. Nernst's law is `core/measuring/calibrating.py`; cooling is `core/liquid/heat.py`.
"""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, field

from ..core.liquid.heat import pot_area_m2
from ..core.measuring.calibrating import MV_PER_PH, buffer_ph, theta

DAY_S = 86400.0
DRIFT_MV = 1.0  #: An electrode's offset wanders by so much a day. [mV]
WEARS_A_MONTH, DRY_A_DAY = 0.02, 0.004  #: Of its slope. [-]
CLEAN_TAU_S, DIRTY_TAU_S = 5.0, 60.0  #: It settles so fast. [s]
DIRTY_SLOPE = 0.06  #: What dirt takes of the slope, while it is there. [-]
NOISE_MV, LOW_BATTERY_JUMP_MV = 0.5, 12.0
LOWEST_BATTERY = 0.1
PROBE_STEP_K, PROBE_NOISE_K = 0.0625, 0.02
AIR_TAU_S, LIQUID_TAU_S = 150.0, 25.0  #: A probe follows air and liquid so fast. [s]
RHO_C, LIDDED_U = 4186.0, 9.5  #: [J/(L K)], [W/(m2 K)]; as section cooling of `core/liquid/heat.py`
MAT_J_PER_K, MAT_W_PER_K = 1800.0, 2.5  #: What a mat stores, and hands on to the crock.
STEP_S = 60.0  #: The crock is stepped so finely. [s]
SCALE_DRIFT_G = 1.0  #: An hour. [g]
SILENT_OFF_S = DAY_S  #: A mat that had no answer for a day switches itself off. [s]
ROOM_C, ROOM_SWING_C = 19.5, 1.5


def room_c(at_s: float, mean_c: float = ROOM_C) -> float:
    """Return how warm the room is: coldest before dawn, warmest in the afternoon. [s since 1970 -> degC]"""
    return mean_c + ROOM_SWING_C * math.sin(2 * math.pi * (at_s / DAY_S - 0.42))


@dataclass
class Meter:
    """A pH meter with its glass electrode; what is hidden is its slope, offset and dirt."""

    slope: float = 1.0
    offset_mv: float = 2.0
    dirt: float = 0.05  #: 0 clean to 1.
    battery: float = 0.9
    held_in: str = "cap"  #: cap, dry, rinse, 7, 4 or jar
    shown_mv: float = 0.0
    sensor_c: float = 21.0  #: What its own thermometer reads. [degC]
    cold_c: dict[str, float] = field(default_factory=dict)  #: Of glasses that are not as warm as the room. [degC]
    swapped: bool = False  #: The buffers stand in each other's places.

    def wait(self, seconds: float, lot: random.Random, room: float, jar_ph: float, jar_c: float) -> None:
        """Let time pass.

        Args:
            seconds: [s]
            lot: Where chance comes from.
            room, jar_c: How warm the room and the jar are. [degC]
            jar_ph: What the brew in the jar really is.
        """
        days = seconds / DAY_S
        self.offset_mv += lot.gauss(0.0, DRIFT_MV * math.sqrt(days))
        self.slope -= WEARS_A_MONTH * days / 30.0 + (DRY_A_DAY * days if self.held_in == "dry" else 0.0)
        self.slope = max(0.6, self.slope)
        if self.held_in == "jar":
            self.dirt = min(1.0, self.dirt + 0.5 * days)
        if self.on:
            self.battery = max(0.0, self.battery - days / 40.0)
        celsius = self.celsius(room, jar_c)
        self.sensor_c += (celsius - self.sensor_c) * (1 - math.exp(-seconds / 12.0))
        tau = CLEAN_TAU_S + (DIRTY_TAU_S - CLEAN_TAU_S) * self.dirt
        self.shown_mv += (self.true_mv(room, jar_ph, jar_c) - self.shown_mv) * (1 - math.exp(-seconds / tau))

    def celsius(self, room: float, jar_c: float) -> float:
        """Return how warm it is where it is held. [degC]"""
        return self.cold_c.get(self.held_in, jar_c if self.held_in == "jar" else room)

    def true_ph(self, room: float, jar_ph: float, jar_c: float) -> float:
        """Return the pH of what it is held in."""
        if self.held_in in {"7", "4"}:
            other = {"7": 4, "4": 7}[self.held_in]
            return buffer_ph(other if self.swapped else int(self.held_in), self.celsius(room, jar_c))
        return {"jar": jar_ph, "rinse": 7.4, "cap": 4.2, "dry": 7.0}[self.held_in]

    def true_mv(self, room: float, jar_ph: float, jar_c: float) -> float:
        """Return the voltage it settles to. [mV]"""
        slope = self.slope - DIRTY_SLOPE * self.dirt
        return self.offset_mv - slope * MV_PER_PH * theta(self.celsius(room, jar_c)) * (self.true_ph(room, jar_ph, jar_c) - 7.0)

    @property
    def on(self) -> bool:
        """Whether it is held in something and shows."""
        return self.held_in in {"rinse", "7", "4", "jar"}

    def reads(self, lot: random.Random) -> dict[str, float]:
        """Return what it shows: voltage, the pH a meter that was never set shows for it, its own temperature."""
        millivolts = self.shown_mv + lot.gauss(0.0, NOISE_MV * 0.3)
        if self.battery < LOWEST_BATTERY and lot.random() < 0.3:
            millivolts += lot.choice((-1, 1)) * LOW_BATTERY_JUMP_MV
        ph = 7.0 - millivolts / (MV_PER_PH * theta(self.sensor_c))
        return {"millivolts": round(millivolts, 1), "ph": round(ph, 2), "celsius": round(self.sensor_c, 1), "battery": round(self.battery, 2)}

    def hold_in(self, what: str) -> None:
        """Hold it in something; a rinse takes most of the dirt of a fresh brew off, never what has dried on."""
        if what == "rinse" and self.dirt < 0.3:
            self.dirt *= 0.3
        self.held_in = what

    def clean(self) -> None:
        """Clean the tip: dirt goes, wear stays."""
        self.dirt = 0.02

    def grow_older(self, days: float, lot: random.Random) -> None:
        """Let it grow older in its cap."""
        self.slope = max(0.6, self.slope - WEARS_A_MONTH * days / 30.0)
        self.offset_mv += lot.gauss(0.0, DRIFT_MV * math.sqrt(days))
        self.dirt = min(1.0, self.dirt + 0.4)


@dataclass
class Crock:
    """A crock with a mat under it: how warm it really is."""

    litres: float = 7.5
    celsius: float = 23.5
    mat_c: float = 23.5
    watts: float = 30.0
    on: bool = False
    plugged: bool = True
    set_c: float | None = None
    hysteresis_k: float = 1.0
    answered_s: float = 0.0  #: When Kyklos last told its set point. [s since 1970]

    def wait(self, seconds: float, now_s: float, room: float) -> None:
        """Let time pass: the thermostat switches, the mat hands on, the crock cools. [s], [degC]"""
        left, area = seconds, pot_area_m2(self.litres)
        while left > 0:
            step = min(STEP_S, left)
            self._switch(now_s - left)
            power = self.watts if self.on and self.plugged else 0.0
            passed = MAT_W_PER_K * (self.mat_c - self.celsius)
            lost_mat = 0.25 * (self.mat_c - room)
            self.mat_c += step * (power - passed - lost_mat) / MAT_J_PER_K
            self.celsius += step * (passed - LIDDED_U * area * (self.celsius - room)) / (RHO_C * self.litres)
            left -= step

    def _switch(self, now_s: float) -> None:
        silent = now_s - self.answered_s > SILENT_OFF_S
        if self.set_c is None or silent:
            self.on = False
        elif self.celsius < self.set_c - self.hysteresis_k / 2:
            self.on = True
        elif self.celsius > self.set_c + self.hysteresis_k / 2:
            self.on = False


@dataclass
class Probe:
    """A thermometer's probe: it follows what it is in, reads in steps, and is a little off."""

    offset_k: float = 0.0
    reads_c: float = 21.0
    fallen_out: bool = False
    battery: float = 0.8

    def wait(self, seconds: float, liquid_c: float, room: float) -> None:
        """Let time pass. [s], [degC]"""
        target, tau = (room, AIR_TAU_S) if self.fallen_out else (liquid_c, LIQUID_TAU_S)
        self.reads_c += (target - self.reads_c) * (1 - math.exp(-seconds / tau))
        self.battery = max(0.0, self.battery - seconds / DAY_S / 300.0)

    def reads(self, lot: random.Random) -> dict[str, float]:
        """Return what it shows. [degC]"""
        celsius = self.reads_c + self.offset_k + lot.gauss(0.0, PROBE_NOISE_K)
        return {"celsius": round(celsius / PROBE_STEP_K) * PROBE_STEP_K, "battery": round(self.battery, 2)}


@dataclass
class Scale:
    """A kitchen scale: a gram fine, and it wanders."""

    on_it: list[str] = field(default_factory=list)
    tared_g: float = 0.0
    drift_g: float = 0.0
    drifting: bool = False

    def wait(self, seconds: float, lot: random.Random) -> None:
        """Let time pass. [s]"""
        hours = seconds / 3600.0
        self.drift_g += (12.0 if self.drifting else 0.0) * hours + lot.gauss(0.0, SCALE_DRIFT_G * math.sqrt(hours) * 0.5)

    def grams(self) -> float:
        """Return what it shows. [g]"""
        return float(round(sum(THINGS[name] for name in self.on_it) + self.drift_g - self.tared_g))

    def tare(self) -> None:
        """Let it begin at nothing."""
        self.tared_g = sum(THINGS[name] for name in self.on_it) + self.drift_g


#: What can be put on the scale. [g]
THINGS = {"an empty jar": 1240.0, "3 litres of brew": 3030.0, "a cup of sugar": 200.0, "a spoon of tea": 6.0, "a bowl of damsons": 331.0, "a full swing-top": 1012.0}

OUTLOOK_HOURS, OUTLOOK_ERRS_K = 120, 0.4  #: How far an outlook goes, and by how much it errs after a day. [h, K]
FRONTS_DAYS = (2.3, 3.7, 5.9, 9.1)  #: Made-up fronts come and go in such times. [d]
FRONT_K, DAILY_K, YEARLY_K = 3.2, 3.5, 8.5  #: By how much fronts, night and day, summer and winter differ from the middle. [K]


@dataclass
class Weather:
    """The weather of a made-up town, decided by its seed: fronts, nights and days, summer and winter."""

    seed: int = 1
    mean_c: float = 9.0

    def celsius(self, at_s: float) -> float:
        """Return how warm it is outdoors. [s since 1970 -> degC]"""
        day, lot = at_s / DAY_S, random.Random(self.seed)
        fronts = sum(FRONT_K * lot.uniform(0.5, 1.0) * math.sin(2 * math.pi * (day / length + lot.random())) for length in FRONTS_DAYS)
        year = -YEARLY_K * math.cos(2 * math.pi * (day - 20) / 365.25)
        return self.mean_c + fronts + year + DAILY_K * math.sin(2 * math.pi * (day - 0.4))

    def outlook(self, now_s: float) -> list[tuple[float, float]]:
        """Return the hours to come as a service would have them: the farther, the less sure. (s since 1970, degC)"""
        first = math.ceil(now_s / 3600.0) * 3600.0
        lot, out, off = random.Random(f"{self.seed} {first}"), [], 0.0
        for hour in range(OUTLOOK_HOURS):
            off += lot.gauss(0.0, OUTLOOK_ERRS_K / math.sqrt(24.0))
            at = first + 3600.0 * hour
            out.append((at, round(self.celsius(at) + off, 1)))
        return out
