"""Growth pictures: which photo stands for which of the days 4, 7, 14 and 28."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

P = TypeVar("P")
DAYS = (4, 7, 14, 28)  #: [d since pitch]


@dataclass(frozen=True, slots=True)
class Slot(Generic[P]):
    """One day of growth, with the photo nearest to it, or none."""

    day: int
    photo: P | None
    taken_day: float | None  #: [d since pitch]
    due: bool  #: Today is the day for it, and there is none.
    ahead: bool


def slots(photos: Sequence[tuple[float, P]], today: float) -> list[Slot[P]]:
    """Return the photo for each day, taken within a fifth of it and at least one day.

    Args:
        photos: Day since the pitch and photo. [d]
        today: Since the pitch. [d]

    >>> [slot.photo for slot in slots([(3.6, "a"), (7.2, "b"), (20.0, "c")], 21)]
    ['a', 'b', None, None]
    """
    out: list[Slot[P]] = []
    for day in DAYS:
        room = max(1.0, day / 5)
        near = sorted(
            ((abs(taken - day), taken, photo) for taken, photo in photos if abs(taken - day) <= room),
            key=lambda t: t[0],
        )
        found = near[0] if near else None
        missing = found is None
        out.append(
            Slot(
                day,
                found[2] if found else None,
                found[1] if found else None,
                missing and abs(today - day) <= room,
                today < day - room,
            )
        )
    return out
