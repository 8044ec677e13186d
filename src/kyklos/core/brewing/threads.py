"""What a day is laid out from, and what comes of it: threads of work, hands and tools, each piece at its minute."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ..base import require_between


class WorkDeed(StrEnum):
    """What is written down where a piece of work is done."""

    PREPARE = "prepare"  #: Nothing.
    DRAW = "draw"
    RESERVE = "reserve"
    BOTTLE = "bottle"
    TOP_UP = "top up"
    START = "start"


@dataclass(frozen=True, slots=True)
class Work:
    """One piece of work, and the waiting that follows by itself. [min]"""

    name: str
    minutes: int  #: With hands.
    wait: int = 0  #: Before the next piece of its thread may begin.
    patience: int | None = None  #: How much longer the next piece may wait; None: as long as it likes.
    takes: tuple[str, ...] = ()  #: Tools taken when it starts.
    frees: tuple[str, ...] = ()  #: Tools given back when the hands' work ends.
    gives: tuple[str, ...] = ()  #: Tools given back when its waiting ends.
    waiting: str = ""  #: What the waiting is called.
    deed: WorkDeed = WorkDeed.PREPARE  #: What a household writes down there.


@dataclass(frozen=True, slots=True)
class Thread:
    """Pieces in their order. It may begin once other threads are done."""

    name: str
    work: tuple[Work, ...]
    gate: int = 0  #: Its piece that has to wait for the others.
    after: tuple[str, ...] = ()  #: Names of threads to be done before that piece.


@dataclass(frozen=True, slots=True)
class Bench:
    """What works at once."""

    hands: int = 1  #: People.
    tools: tuple[tuple[str, int], ...] = (("burner", 1), ("pot", 1), ("jug", 1))

    def __post_init__(self) -> None:
        require_between(1, 6, "", hands=self.hands)


@dataclass(frozen=True, slots=True)
class Placed:
    """A piece of work on the clock. [min]"""

    thread: str
    work: Work
    start: int
    end: int  #: Of the hands' work.

    @property
    def free(self) -> int:
        """When its waiting is over. [min]"""
        return self.end + self.work.wait


@dataclass(frozen=True, slots=True)
class Day:
    """A day laid out."""

    placed: tuple[Placed, ...]
    minutes: int  #: From the first piece to the end of the last.
    hands_on: int  #: Sum of the work with hands.

    @property
    def threads(self) -> list[str]:
        """Names of the threads in the order in which they begin."""
        return list(dict.fromkeys(p.thread for p in self.placed))
