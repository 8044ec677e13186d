"""What a forecast is asked: the batch, what was read of it, what its line did before, and whose point is meant."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..base import CoreError, require_between
from ..base.facts import INSTRUMENTS
from ..liquid import Batch, Course, Point, Recipe
from ..liquid.taste import POINT_SD, TASTE_SD
from .fit import GAS_SD_G_PER_L, symmetric

GRAVITY_SD = 0.0015  #: Of a hydrometer, and of what the model leaves out (assumed). [-]
TA_SD = 0.05  #: Of a titration. [share]
LEAST_UNTOLD = 0.5  #: A brew stood at least so long before anything is known of it, where its start is unsure. [d]
UNMEASURED_SD_K, MEASURED_SD_K = (
    1.5,
    0.4,
)  #: How far a brew's warmth may be off as given, never measured in it or so. [K]


@dataclass(frozen=True, slots=True)
class Observation:
    """One measurement or taste of a brew."""

    day: float  #: Since the pitch. [d]
    kind: str  #: ph, ta, taste or gravity
    value: float  #: [pH], [g/L], [step from -3 to 3] or [-]
    instrument: str = "meter"
    taster: str = ""
    point_g_per_l: float = 4.0  #: For a taste: where this taster likes it. [g/L]
    point_sd: float = POINT_SD  #: How uncertain that is, in ln acidity. [-]
    sd: float | None = None  #: Of this pH or gravity, where its instrument has its own. [pH or -]
    degassed: bool = True  #: Of a titration: whether its gas was stirred or boiled out first; it counts as acid.

    def __post_init__(self) -> None:
        require_between(0, 40_000, "d", day=self.day)
        low, high, unit = {
            "ph": (0, 14, ""),
            "ta": (0, 60, "g/L"),
            "taste": (-3, 3, "steps"),
            "gravity": (0.98, 1.1, ""),
        }[self.kind]
        require_between(low, high, unit, **{self.kind: self.value})

    @property
    def spread(self) -> float:
        """How far it may be off: its instrument's own error, or as usual of its kind. [pH, ln, step or -; g/L with its gas]"""
        titrated = TA_SD if self.degassed else float(np.hypot(TA_SD * self.value, GAS_SD_G_PER_L))
        usual = {"ta": titrated, "taste": TASTE_SD, "gravity": GRAVITY_SD}
        return self.sd or usual.get(self.kind) or INSTRUMENTS[self.instrument].sd_ph


@dataclass(frozen=True, slots=True)
class Prior:
    """What is expected of a culture before any reading."""

    yeast_vigour: float = 1.0  #: Median. [-]
    bacteria_vigour: float = 1.0  #: Median. [-]
    spread: float = 0.25  #: Of the logarithm. [-]
    buffer: float = 0.0  #: ln of the factor on the leaf's acids and ions, for this tea in this household's water. [-]
    covariance: tuple[float, ...] = ()  #: Of ln both vigours and ln buffer, upper triangle; empty: spread, unrelated. [-]

    def __post_init__(self) -> None:
        require_between(0.05, 5, "", yeast_vigour=self.yeast_vigour, bacteria_vigour=self.bacteria_vigour)
        require_between(0.01, 1.5, "", spread=self.spread)
        require_between(-2, 2, "", buffer=self.buffer)
        if self.covariance and (len(self.covariance) != 6 or np.linalg.eigvalsh(symmetric(self.covariance))[0] <= 0):
            raise CoreError("covariance: six numbers, the upper triangle of what can be one.")


@dataclass(frozen=True, slots=True, kw_only=True)
class ForecastAsk:
    """All that a forecast depends on; equal asks have equal answers."""

    batch: Batch
    observations: tuple[Observation, ...] = ()
    prior: Prior = Prior()
    points: tuple[Point, ...] = ()
    target_ph: float | None = None
    days: int = 40  #: Until when. [d since the pitch]
    ripe_from: float = 0.0  #: It is right from then on at the earliest: when a tapped vessel was last topped up. [d]
    start_sd_days: float = 0.0  #: How unsure it is when the brew began; 0: it is known. [d]
    warmth_sd_k: float | None = None  #: How far its warmth may be off; by whether it was measured unless given. [K]

    def __post_init__(self) -> None:
        require_between(2, 200, "d", days=self.days - self.batch.from_day)
        if any(seen.day < self.batch.from_day for seen in self.observations):
            raise CoreError("observations: those before the day from which it is computed do not count.")
        require_between(0, 60, "d", start_sd_days=self.start_sd_days)
        if self.target_ph is not None:
            require_between(2, 6, "", target_ph=self.target_ph)

    @property
    def recipe(self) -> Recipe:
        """What the brew was started with."""
        return self.batch.recipe

    @property
    def course(self) -> Course:
        """How warm the brew stands."""
        return self.batch.course

    @property
    def warmth_doubt_k(self) -> float:
        """How far the brew's warmth may be off all along: little where it was measured. [K]"""
        if self.warmth_sd_k is not None:
            return self.warmth_sd_k
        return MEASURED_SD_K if self.course.points else UNMEASURED_SD_K

    @property
    def untold_days(self) -> float:
        """How long it stood before anything is known of it: so long it may have worked for less or more. [d]"""
        days = [seen.day for seen in self.observations] + [event.day for event in self.batch.events]
        return max(LEAST_UNTOLD, min(days, default=self.start_sd_days * 2))

    def on(self, course: Course) -> ForecastAsk:
        """Return the same along another course."""
        return replace(self, batch=replace(self.batch, course=course))
