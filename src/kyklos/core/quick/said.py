"""What a quick line is read against, and what it is understood as."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum

from .amounts import QuickAmount
from .openings import Leads


@dataclass(frozen=True, slots=True)
class Named:
    """Something that can be named: a vessel with a living brew, a taster, a hotel, a place."""

    key: int
    name: str
    also: tuple[str, ...] = ()  #: Other names, like the line that lives in it.


@dataclass(frozen=True, slots=True)
class NamedShelf:
    """Bottles of one filling, and how many of them stand warm and cold."""

    key: int
    name: str
    also: tuple[str, ...] = ()
    warm: int = 0
    cold: int = 0


@dataclass(frozen=True, slots=True)
class Context:
    """What the line is read against."""

    vessels: tuple[Named, ...]
    tasters: tuple[Named, ...]
    now: datetime  #: Local, without a zone.
    us: bool = False  #: Degrees Fahrenheit, month before day.
    shelves: tuple[NamedShelf, ...] = ()
    hotels: tuple[Named, ...] = ()
    places: tuple[Named, ...] = ()
    empties: tuple[Named, ...] = ()  #: Vessels in which nothing brews.


class DeedKind(StrEnum):
    """What a line tells that was done."""

    OPENED = "opened"
    BURPED = "burped"
    SQUEEZED = "squeezed"
    CHILLED = "chilled"
    WARMED = "warmed"
    DRUNK = "drunk"
    GIVEN = "given"
    LOST = "lost"
    SAID = "said"  #: Words about bottles.
    BOTTLED = "bottled"
    RESERVED = "reserved"
    FED = "fed"
    MOVED = "moved"


ON_BOTTLES = frozenset({DeedKind.OPENED, DeedKind.BURPED, DeedKind.SQUEEZED, DeedKind.CHILLED, DeedKind.WARMED, DeedKind.DRUNK, DeedKind.GIVEN, DeedKind.LOST, DeedKind.SAID})


@dataclass(frozen=True, slots=True)
class Deed:
    """Something done, as a line tells it."""

    kind: DeedKind
    things: tuple[Named | NamedShelf, ...] = ()  #: Fillings, hotels or places that may be meant.
    count: int | None = None  #: Of bottles; None: all that fit.
    litres: float | None = None  #: [L]
    hiss: int | None = None  #: 0 (silent) to 4 (gushed).
    groups: tuple[tuple[int, str], ...] = ()  #: Bottles filled: how many, and the key of their flavour.
    whole: bool = False  #: All bottles, whatever their filling.


@dataclass(frozen=True, slots=True)
class QuickDoubt:
    """A piece that may mean something else."""

    text: str
    question: str


@dataclass(slots=True)
class Quick:
    """What a line was understood as. Temperatures in degC, gravity as SG, acidity in g/L."""

    vessels: tuple[Named, ...] = ()  #: One: it is clear; more: one must be chosen; none: not said.
    ph: float | None = None
    instrument: str = ""
    celsius: float | None = None
    low_c: float | None = None
    high_c: float | None = None
    gravity: float | None = None
    gravity_by: str = ""
    ta_g_per_l: float | None = None
    tastes: list[tuple[Named | None, int]] = field(default_factory=list)
    surface: str = ""
    signs: list[str] = field(default_factory=list)
    smell: str = ""
    depth: str = ""
    amounts: list[QuickAmount] = field(default_factory=list)  #: Taken out or put in.
    deed: Deed | None = None
    bare: Named | None = None  #: A vessel in which nothing brews, if the line is about one.
    at: datetime | None = None
    note: str = ""
    leads: Leads | None = None  #: A page on which the rest is said.
    doubts: list[QuickDoubt] = field(default_factory=list)
    read: list[tuple[int, int]] = field(default_factory=list)  #: Pieces of the line that were understood.

    @property
    def measured(self) -> bool:
        """Whether there is a reading in it."""
        return any(
            v is not None for v in (self.ph, self.celsius, self.low_c, self.high_c, self.gravity, self.ta_g_per_l)
        )

    @property
    def looked(self) -> bool:
        """Whether something was seen or smelled."""
        return bool(self.surface or self.signs or self.smell)

    @property
    def empty(self) -> bool:
        """Whether there is nothing to save."""
        return not (self.measured or self.looked or self.tastes or self.amounts or self.note or self.deed or self.leads)
