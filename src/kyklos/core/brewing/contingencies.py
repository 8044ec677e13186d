"""When something outside the vessels goes wrong: what to do, and the warmth that goes with it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..base.facts import table_of


@dataclass(frozen=True, slots=True, kw_only=True)
class Contingency:
    """A heat wave, a power cut, a heater gone astray."""

    key: str
    name: str
    tell: str
    room_c: float  #: What the room, or the brew, may come to. [degC]
    steps: tuple[str, ...]


CONTINGENCIES: Mapping[str, Contingency] = table_of("contingencies", Contingency)
