"""One step in the kitchen: what to do, why, how long to wait, what to log there, and the picture beside it."""

from __future__ import annotations

from dataclasses import dataclass

from ..base import Said


@dataclass(frozen=True, slots=True)
class StepQuestion:
    """Something to log at a step, if it is known. It is never filled in beforehand."""

    name: str
    label: str
    kind: str  #: volume, mass, temperature, number or ph
    planned: float | None = None  #: In SI, to be seen beside it.


PICTURES = {
    "lay-out": "clean", "cold": "pour", "fridge": "cool", "honey": "sweeten", "starter": "pour", "disc": "start", "top-up": "pour",
    "cool-down": "cool",
}  # fmt: skip  #: Of steps that have none of their own.


@dataclass(frozen=True, slots=True)
class KitchenStep:
    """One screen in the kitchen."""

    key: str
    title: str
    do: tuple[Said, ...]
    why: str | Said = ""
    timer_minutes: float | None = None  #: [min]
    timer: str = ""  #: Its name.
    asked: tuple[StepQuestion, ...] = ()

    @property
    def whole_minutes(self) -> int:
        """Minutes of its timer, at least one."""
        return max(1, round(self.timer_minutes or 0.0))

    @property
    def picture(self) -> str:
        """Name the picture that shows what is worked with; several pots have the same."""
        key = self.key.rstrip("-0123456789")
        return PICTURES.get(key, key)
