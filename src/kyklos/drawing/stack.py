"""Discs from the side: one over time, and those of a hotel one above the other in their liquid."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..core.base import marked
from .shapes import Label

WIDE, PX_PER_CM = 132.0, 6.0  #: Room for each profile, and its scale.
PX_PER_MM = 2.2
JAR_W, JAR_H, JAR_TOP, SIDE = 190.0, 250.0, 26.0, 24.0
LEAST_PX, MOST_PX = 9.0, 30.0


@dataclass(frozen=True, slots=True)
class Profile:
    """A disc as it was once, from the side."""

    x: float
    y: float
    width: float
    height: float
    below: Label
    size: Label


@dataclass(frozen=True, slots=True)
class Profiles:
    """A disc over time."""

    shapes: tuple[Profile, ...]
    width: float
    height: float


def profiles(sizes: Sequence[tuple[str, float | None, float | None]]) -> Profiles:
    """Draw a disc as it grew and was thinned.

    Args:
        sizes: When, thickness and width; an unknown width is drawn like the last known. [mm, cm]
    """
    out, wide = [], 14.0
    rows = [(when, mm, cm) for when, mm, cm in sizes if mm is not None]
    tallest = max((min(mm or 0.0, 40.0) * PX_PER_MM for _, mm, _ in rows), default=20.0)
    floor = 14.0 + tallest
    for index, (when, mm, cm) in enumerate(rows):
        wide = cm or wide
        across = min(WIDE - 18, wide * PX_PER_CM)
        high = min(mm or 0.0, 40.0) * PX_PER_MM
        middle = WIDE * (index + 0.5)
        out.append(
            Profile(
                middle - across / 2,
                floor - high,
                across,
                high,
                Label(middle, floor + 18, when),
                Label(middle, floor + 34, marked(mm or 0.0, "thickness")),
            )
        )
    return Profiles(tuple(out), max(WIDE, WIDE * len(out)), floor + 42)


@dataclass(frozen=True, slots=True)
class StackedDisc:
    """A disc in its place."""

    y: float
    height: float
    width: float
    x: float
    name: Label
    old: bool
    touched: bool


@dataclass(frozen=True, slots=True)
class Stack:
    """A hotel from the side: in a box of 560 by 300."""

    discs: tuple[StackedDisc, ...]
    level_y: float
    line_y: float
    bottom_y: float
    left: float
    right: float
    level: Label


def stack(
    discs: Sequence[tuple[str, float, float, bool, bool]], level_share: float, level_words: str, vessel_cm: float
) -> Stack:
    """Draw a hotel.

    Args:
        discs: From the top: name, thickness [mm], width [cm], whether it is old, whether it is set apart.
        level_share: How full it is, discs included, of its line. [-]
        level_words: Said at its level.
        vessel_cm: Its inner width. [cm]
    """
    bottom, line = JAR_TOP + JAR_H, JAR_TOP + 22
    full = bottom - line
    level = bottom - full * min(1.08, max(0.0, level_share))
    room = max(LEAST_PX, (bottom - level - 26) / max(1, len(discs)))
    y, out = level + 8, []
    for name, mm, cm, old, touched in discs:
        high = min(max(LEAST_PX, mm * 1.5), MOST_PX, max(5.0, room - 4))
        across = (JAR_W - 10) * min(1.0, cm / vessel_cm)
        label = Label(SIDE + JAR_W + 22, y + high / 2 + 5, name, "start")
        out.append(StackedDisc(y, high, across, SIDE + (JAR_W - across) / 2, label, old, touched))
        y += min(room, max(high + 5, 26.0))
    words = Label(SIDE + 8, bottom - 10, level_words, "start")
    return Stack(tuple(out), level, line, bottom, SIDE, SIDE + JAR_W, words)
