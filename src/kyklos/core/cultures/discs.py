"""Discs: what happens to them, how much room they take, which to keep, and the way from a narrow jar to a wide one."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..base import limit, require_between
from .trace import Node

EVENTS = {
    "measured": "measured",
    "turned": "turned over",
    "thinned": "thinned",
    "parted": "parted",
    "moved": "moved",
    "joined": "laid into another brew",
    "dried": "dried",
    "revived": "revived",
    "received": "received",
}
USUAL_MM = 8.0  #: Of a disc nobody measured (assumed). [mm]
USABLE_MM = 5.0  #: A disc may be relied on. [mm]
DISC_SHARE = 0.4  #: Of a hotel that discs may take: the rest is the liquid that keeps them (assumed). [-]
NARROW = 0.85  #: A disc narrower than this share of its vessel is called narrow (assumed). [-]
OLD_DAYS = 120.0  #: A disc is called old from here on (assumed). [d]


def disc_l(thickness_mm: float | None, diameter_cm: float) -> float:
    """Return how much room a disc takes. [mm, cm] to [L]

    >>> round(disc_l(10, 14), 3)
    0.154
    """
    require_between(0.1, 150, "cm", diameter_cm=diameter_cm)
    thick = USUAL_MM if thickness_mm is None else thickness_mm
    return math.pi / 4 * diameter_cm**2 * thick / 10 / 1000


@dataclass(frozen=True, slots=True, kw_only=True)
class Guest:
    """A disc that asks to stay."""

    node: Node
    name: str
    line: str
    age_days: float  #: [d]
    thickness_mm: float | None = None  #: [mm]
    diameter_cm: float  #: [cm]
    vigour: float = 1.0  #: Of its line, 1 is typical. [-]
    clean: bool = True  #: Out of reach of anything spoiled.


@dataclass(frozen=True, slots=True)
class DiscAdvice:
    """Whether a disc should stay, and why."""

    guest: Guest
    keep: bool
    why: str


def worth(guest: Guest) -> float:
    """Rank a disc: clean first, then young, of a strong line, and thick enough to rely on. [-]"""
    young = 1 / (1 + guest.age_days / OLD_DAYS)
    thick = USUAL_MM if guest.thickness_mm is None else guest.thickness_mm
    sturdy = min(1.0, thick / USABLE_MM)
    return (10.0 if guest.clean else 0.0) + young + 0.5 * min(guest.vigour, 2.0) + 0.5 * sturdy


def thin(guests: Sequence[Guest], usable_l: float, wanted: Mapping[str, int]) -> list[DiscAdvice]:
    """Return which discs of a hotel stay and which may go.

    Args:
        guests: Who lives there.
        usable_l: What it holds to its line. [L]
        wanted: For each line, how many backups the household keeps; the best of each line stay as long as there is room.

    Returns: Best first; one that does not fit, or that nothing asks for beyond the room, may go.
    """
    room, kept = DISC_SHARE * usable_l, Counter[str]()
    asked = sorted(guests, key=lambda g: (-worth(g), g.node))
    first = [g for g in asked if _counts(g, kept, wanted)]
    order = first + [g for g in asked if g not in first]
    out: dict[Node, DiscAdvice] = {}
    for guest in order:
        size = disc_l(guest.thickness_mm, guest.diameter_cm)
        fits = size <= room + 1e-9
        keep = guest.clean and fits
        room -= size if keep else 0.0
        out[guest.node] = DiscAdvice(guest, keep, _why(guest, keep, guest in first))
    return [out[g.node] for g in asked]


def _counts(guest: Guest, kept: Counter[str], wanted: Mapping[str, int]) -> bool:
    if not guest.clean or kept[guest.line] >= wanted.get(guest.line, 1):
        return False
    kept[guest.line] += 1
    return True


def _why(guest: Guest, keep: bool, asked: bool) -> str:
    if not guest.clean:
        return "Something spoiled could have reached it: bag and bin it, or keep it apart."
    if not keep:
        return (
            "There is no room for it: the others are younger, stronger or asked for. Give it away, dry or compost it."
        )
    if asked:
        return f"A backup of {guest.line}, the best of it."
    return "There is room for it." + (" It is old: it may go first." if guest.age_days > OLD_DAYS else "")


@dataclass(frozen=True, slots=True)
class Rung:
    """One brew on the way to a wide vessel."""

    vessel: str
    litres: float  #: Brew. [L]
    starter_l: float  #: It takes so much starter. [L]
    width_cm: float  #: The new disc will be so wide. [cm]


def step_up(
    starter_l: float, vessels: Sequence[tuple[str, float, float]], target: str, share: float | None = None
) -> list[Rung]:
    """Plan the way from little starter to a large vessel: each brew seeds the next, and its disc takes the vessel's width.

    Args:
        starter_l: What there is. [L]
        vessels: Free ones: name, fill line [L], inner diameter [cm].
        target: Name of the vessel wanted.
        share: Of starter in each brew; the usual floor unless given. [-]

    Returns: The fewest brews that lead there; empty when no row of these vessels does.
    """
    share = limit("starter_floor") if share is None else share
    require_between(0.01, 1, "", share=share)
    there = {name: (litres, width) for name, litres, width in vessels}
    if target not in there or starter_l <= 0:
        return []
    out: list[Rung] = []
    have = starter_l
    while have < share * there[target][0] - 1e-9:
        most = have / share
        used = {rung.vessel for rung in out}
        fitting = [(min(litres, most), name) for name, (litres, _) in there.items() if name not in {target, *used}]
        if not fitting:
            return []
        litres, name = max(fitting)
        if litres <= have + 1e-9:
            return []
        out.append(Rung(name, litres, share * litres, there[name][1]))
        have = litres
    litres, width = there[target]
    return [*out, Rung(target, litres, share * litres, width)]


def narrow_words(diameter_cm: float | None, vessel_cm: float) -> str:
    """Return what becomes of a disc that is narrower than its vessel; empty if it is not. [cm]"""
    if diameter_cm is None or diameter_cm >= NARROW * vessel_cm:
        return ""
    return "It is narrower than the vessel and may sink; a new one grows above it, as wide as the vessel."
