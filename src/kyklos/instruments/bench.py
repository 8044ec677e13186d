"""The bench on which the stand-ins stand: their time, their hidden truth, and what each sends when."""

from __future__ import annotations

import json
import random
import secrets
from collections import deque
from dataclasses import asdict, dataclass, field
from pathlib import Path
from threading import RLock
from typing import Any

from ..core.liquid.batch import ferment
from ..core.liquid.ferment import Recipe
from ..core.liquid.temperature import steady
from .physics import DAY_S, Crock, Meter, Probe, Scale, Weather, room_c

PROBE_EVERY_S, METER_EVERY_S, SCALE_EVERY_S, MAT_ASKS_S, OUTLOOK_EVERY_S = 60.0, 2.0, 2.0, 60.0, 3600.0
LONGEST_STEP_S = 60.0  #: Time passes in steps no longer. [s]
JAR_DAYS = 30
JAR_C = 24.0
KINDS = {"meter": ("Pocket meter", "ph-meter"), "probe": ("Crock probe", "thermometer"), "mat": ("Crock mat", "heater"), "scale": ("Kitchen scale", "scale"), "weather": ("Town weather", "weather")}
MOST_WAITING = 5000  #: Readings kept while Kyklos does not answer; then the oldest go.
VERSION = 1


@dataclass
class StandInLine:
    """A stand-in's line to Kyklos: how it is paired, and what waits to be sent."""

    token: str = ""
    pairing: int = 0
    secret: str = ""
    code: str = ""
    says: str = ""  #: What Kyklos said last, if something is wrong.
    sent: int = 0
    ended: bool = False
    queue: deque[dict[str, Any]] = field(default_factory=deque)


class StandInBench:
    """All stand-ins, their time and the brew in the jar."""

    def __init__(self, seed: int = 1, now_s: float = 0.0, pace: float = 1.0, brew_day: float = 5.0) -> None:
        """Put new ones up.

        Args:
            seed: Decides what is hidden.
            now_s: Where their time begins. [s since 1970]
            pace: How fast it runs. [-]
            brew_day: How old the brew in the jar is. [d]
        """
        lot = random.Random(seed)
        self.seed, self.now_s, self.pace, self.lot = seed, now_s, pace, random.Random(seed + 1)
        self.meter = Meter(slope=lot.uniform(0.965, 1.01), offset_mv=lot.gauss(0.0, 5.0), battery=lot.uniform(0.6, 1.0))
        self.probe = Probe(offset_k=lot.uniform(-0.3, 0.3), reads_c=23.9)
        self.crock, self.scale = Crock(celsius=23.9, mat_c=24.5, answered_s=now_s), Scale()
        self.vigour = lot.lognormvariate(0.0, 0.2)  #: Of the brew in the jar; nobody is told.
        self.brewed_s = now_s - brew_day * DAY_S
        self.lines = {name: StandInLine() for name in KINDS}
        self.lock = RLock()
        self._due = dict.fromkeys(KINDS, 0.0)
        self._count, self._tag = 0, secrets.token_hex(4)  # no two benches ever call a reading alike
        self._brew: list[float] | None = None  #: pH by day.
        self._weighed = 0.0

    def jar_ph(self) -> float:
        """Return what the brew in the jar really is: the core's own course, by a vigour of its own."""
        if self._brew is None:
            self._brew = [float(ph) for ph in ferment(Recipe(starter_ph=3.0, vigour=self.vigour), steady(JAR_C), JAR_DAYS).ph[:, 0]]
        day = min(max(0.0, (self.now_s - self.brewed_s) / DAY_S), float(JAR_DAYS))
        whole = min(int(day), JAR_DAYS - 1)
        return self._brew[whole] + (day - whole) * (self._brew[whole + 1] - self._brew[whole])

    @property
    def room(self) -> float:
        """How warm the room is. [degC]"""
        return room_c(self.now_s)

    def wait(self, seconds: float) -> None:
        """Let time pass for all, and let each take what it would send. [s]"""
        with self.lock:
            left = seconds
            while left > 1e-9:
                step = min(LONGEST_STEP_S, left)
                self.now_s += step
                self.crock.wait(step, self.now_s, self.room)
                self.probe.wait(step, self.crock.celsius, self.room)
                self.meter.wait(step, self.lot, self.room, self.jar_ph(), JAR_C)
                self.scale.wait(step, self.lot)
                self._take()
                left -= step

    def _take(self) -> None:
        if self._is_due("probe", PROBE_EVERY_S):
            self._put("probe", self.probe.reads(self.lot))
        if self.meter.on and self._is_due("meter", METER_EVERY_S):
            self._put("meter", self.meter.reads(self.lot))
        grams = self.scale.grams()
        if (grams != self._weighed or self.scale.on_it) and self._is_due("scale", SCALE_EVERY_S):
            self._weighed = grams
            self._put("scale", {"grams": grams})

    def _is_due(self, name: str, every: float) -> bool:
        if self.now_s < self._due[name]:
            return False
        self._due[name] = self.now_s + every
        return True

    @property
    def weather(self) -> Weather:
        """The made-up town's weather."""
        return Weather(self.seed)

    def days_ahead(self, count: int = 5) -> list[tuple[float, float, float]]:
        """Return the outlook by the day: its noon [s since 1970], coldest and warmest. [degC]"""
        days: dict[int, list[float]] = {}
        for at_s, celsius in self.weather.outlook(self.now_s):
            days.setdefault(int(at_s // DAY_S), []).append(celsius)
        return [((day + 0.5) * DAY_S, min(some), max(some)) for day, some in sorted(days.items()) if len(some) > 12][:count]

    def has_outlook(self) -> bool:
        """Return whether the weather service sends its outlook now."""
        with self.lock:
            return self._is_due("weather", OUTLOOK_EVERY_S)

    def asks(self) -> bool:
        """Return whether the mat asks for its set point now."""
        with self.lock:
            return self._is_due("mat", MAT_ASKS_S)

    def _put(self, name: str, numbers: dict[str, float]) -> None:
        self._count += 1
        queue = self.lines[name].queue
        queue.append({"id": f"{self._tag}-{self._count}", "at_s": self.now_s, **numbers})
        while len(queue) > MOST_WAITING:
            queue.popleft()

    def fault(self, name: str) -> None:
        """Make, or mend, a fault at a button."""
        with self.lock:
            meter = self.meter
            if name == "older":
                meter.grow_older(365.0, self.lot)
            elif name == "dirty":
                meter.dirt = 1.0
            elif name == "clean":
                meter.clean()
            elif name == "new":
                self.meter = Meter(slope=1.0, offset_mv=self.lot.gauss(0.0, 3.0), held_in=meter.held_in)
            elif name == "cold":
                meter.cold_c = {} if meter.cold_c else {"7": 8.0, "4": 8.0}
            elif name == "swapped":
                meter.swapped = not meter.swapped
            elif name == "battery":
                meter.battery = 0.95 if meter.battery < 0.1 else 0.05
            elif name == "fallen":
                self.probe.fallen_out = not self.probe.fallen_out
            elif name == "unplugged":
                self.crock.plugged = not self.crock.plugged
            elif name == "cold filling":
                self.crock.celsius -= 5.0
            elif name == "drifting":
                self.scale.drifting = not self.scale.drifting

    def hold(self, what: str) -> None:
        """Hold the meter in something."""
        with self.lock:
            if what in {"cap", "dry", "rinse", "7", "4", "jar"}:
                self.meter.hold_in(what)
                self._due["meter"] = 0.0

    def weigh(self, thing: str, things: dict[str, float]) -> None:
        """Put something on the scale, or take it off."""
        with self.lock:
            if thing == "tare":
                self.scale.tare()
            elif thing in self.scale.on_it:
                self.scale.on_it.remove(thing)
            elif thing in things:
                self.scale.on_it.append(thing)
            self._due["scale"] = 0.0

    # Kept over a restart

    def keep(self, path: Path) -> None:
        """Write the hidden truth down, so that ageing goes on after a restart."""
        with self.lock:
            lines = {name: {**{key: value for key, value in asdict(line).items() if key != "queue"}, "queue": list(line.queue)} for name, line in self.lines.items()}
            told = {
                "version": VERSION, "seed": self.seed, "now_s": self.now_s, "brewed_s": self.brewed_s, "vigour": self.vigour, "count": self._count, "meter": asdict(self.meter), "probe": asdict(self.probe),
                "crock": asdict(self.crock), "scale": asdict(self.scale), "lines": lines,
            }  # fmt: skip
        part = path.with_suffix(".part")
        part.write_text(json.dumps(told), "utf-8")
        part.chmod(0o600)
        part.replace(path)

    def take_up(self, path: Path) -> bool:
        """Go on with what was kept; False: nothing was, or it cannot be read."""
        try:
            told = json.loads(path.read_text("utf-8"))
            if told["version"] != VERSION:
                return False
            with self.lock:
                self.seed, self.now_s, self.brewed_s, self.vigour, self._count = told["seed"], told["now_s"], told["brewed_s"], told["vigour"], told["count"]
                self.meter, self.probe, self.crock, self.scale = Meter(**told["meter"]), Probe(**told["probe"]), Crock(**told["crock"]), Scale(**told["scale"])
                fresh = {name: StandInLine() for name in KINDS}
                self.lines = fresh | {name: StandInLine(**{**line, "queue": deque(line["queue"])}) for name, line in told["lines"].items()}
                self._brew = None
        except (OSError, ValueError, KeyError, TypeError):
            return False
        return True
