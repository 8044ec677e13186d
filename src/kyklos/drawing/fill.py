"""A vessel from the side, filled part by part to its line: what goes in, and the air that stays."""

from __future__ import annotations

from dataclasses import dataclass

from .shapes import Label

LEFT, RIGHT, TOP, FLOOR = 14.0, 150.0, 14.0, 236.0
TEXT_X, LEAST_GAP = 172.0, 21.0


@dataclass(frozen=True, slots=True)
class Layer:
    """One part in the vessel."""

    kind: str  #: heel, starter, vinegar, sweetener, water, disc or air
    y: float
    height: float


@dataclass(frozen=True, slots=True)
class Pointer:
    """A line from a part to its name."""

    kind: str
    path: str
    name: Label
    litres: float


@dataclass(frozen=True, slots=True)
class VesselFill:
    """A filled vessel."""

    layers: tuple[Layer, ...]
    pointers: tuple[Pointer, ...]
    line_y: float
    outline: str
    over: bool


def fill(parts: list[tuple[str, str, float]], nominal_l: float, line_l: float) -> VesselFill:
    """Draw parts from the floor up.

    Args:
        parts: Kind, name and volume, lowest first. [L]
        nominal_l, line_l: Brim and fill line. [L]
    """
    total = sum(litres for _, _, litres in parts)
    scale = (FLOOR - TOP) / max(nominal_l, total, 1e-6)
    y, layers, names = FLOOR, [], []
    for kind, name, litres in parts:
        if litres <= 0.0005:
            continue
        height = litres * scale
        y -= height
        layers.append(Layer(kind, y, height))
        names.append((kind, name, litres, y + height / 2))
    air = max(0.0, nominal_l - total)
    if air > 0:
        layers.append(Layer("air", y - air * scale, air * scale))
        names.append(("air", "air", air, y - air * scale / 2))
    rim = FLOOR - nominal_l * scale
    outline = f"M{LEFT} {rim:.1f}V{FLOOR - 14:.1f}Q{LEFT} {FLOOR} {LEFT + 14} {FLOOR}H{RIGHT - 14}Q{RIGHT} {FLOOR} {RIGHT} {FLOOR - 14:.1f}V{rim:.1f}"
    return VesselFill(tuple(layers), _pointers(names), FLOOR - line_l * scale, outline, total > line_l + 0.005)


def _pointers(names: list[tuple[str, str, float, float]]) -> tuple[Pointer, ...]:
    """Put names beside their parts, never nearer than a line of text."""
    placed: list[float] = []
    limit = FLOOR
    for *_, y in names:
        limit = min(y, limit)
        placed.append(limit)
        limit -= LEAST_GAP
    shortfall = TOP + 4 - placed[-1] if placed else 0.0
    if shortfall > 0:
        floor = FLOOR
        placed = [min(y + shortfall, FLOOR - 2) for y in placed]
        for i in range(len(placed)):
            placed[i] = min(placed[i], floor)
            floor = placed[i] - LEAST_GAP
    return tuple(
        Pointer(
            kind,
            f"M{RIGHT - 4} {y:.1f}L{RIGHT + 8} {y:.1f}L{TEXT_X - 5} {at:.1f}",
            Label(TEXT_X, at + 5, name, "start"),
            litres,
        )
        for (kind, name, litres, y), at in zip(names, placed, strict=True)
    )
