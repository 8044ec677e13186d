"""What happens to a brew while it stands: a draw, something poured in, a stack thinned, another vessel."""

from __future__ import annotations

from dataclasses import dataclass

from .liquid import Inert, Liquid


@dataclass(frozen=True, slots=True)
class Draw:
    """Liquid taken out: a glass, a jug, bottles, starter, a spill."""

    day: float  #: Since the start. [d]
    litres: float  #: [L]
    stirred: bool = False  #: Then its yeast goes along.


@dataclass(frozen=True, slots=True)
class Pour:
    """Liquid poured in: sweet tea, water, starter, another brew."""

    day: float  #: Since the start. [d]
    liquid: Liquid


@dataclass(frozen=True, slots=True)
class Thin:
    """A part of the stack of discs taken out, with the bacteria that sit in it."""

    day: float  #: Since the start. [d]
    share: float  #: Of the stack. [-]


@dataclass(frozen=True, slots=True)
class Move:
    """Poured over into a vessel of another width; its place's warmth is in the course."""

    day: float  #: Since the start. [d]
    surface_per_volume_per_cm: float  #: Of what stands there, in the new vessel. [1/cm]


Event = Draw | Pour | Thin | Move


@dataclass(frozen=True, slots=True)
class Begun:
    """A vessel that runs for long already: what stood in it on a day, from which it is computed on."""

    day: float  #: Since the start. [d]
    state: tuple[float, ...]  #: 8 parts, as in `ferment.py`.
    litres: float  #: [L]
    surface_per_volume_per_cm: float  #: [1/cm]
    inert: Inert
