"""A turn-round: tea first, harvest and bottling while it cools, refill last, for one or several vessels on one day."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..base import require_between
from .schedule import lay_out
from .threads import Bench, Day, Thread, Work

HOB_KW = 1.5  #: What a burner puts into the pot (assumed). [kW]
FILL_POT, LEAF_IN, LEAF_OUT, POUR_OVER, POUR, PITCH = 3, 1, 3, 1, 3, 5  #: With hands (assumed). [min]
RESERVE, WASH, BOTTLING, PER_BOTTLE = 6, 6, 5, 1.5  #: With hands; bottling before the first bottle (assumed). [min]
STEEP_PATIENCE = 3  #: How much longer leaf may lie than planned (assumed). [min]


@dataclass(frozen=True, slots=True)
class PotTold:
    """One pot on the heat."""

    water_l: float  #: [L]
    rise_k: float = 80.0  #: From the tap to the leaf. [K]
    steep_minutes: float = 12.0  #: [min]
    cool_minutes: float = 0.0  #: Before it may be poured. [min]


@dataclass(frozen=True, slots=True)
class VesselTurn:
    """What one vessel needs that day."""

    name: str
    pots: tuple[PotTold, ...]  #: None for a cold start.
    bottles: int = 0  #: To fill from its last brew.
    harvest: bool = True  #: Something stands in it.
    patience: int = STEEP_PATIENCE  #: [min]


def heat_minutes(litres: float, rise_k: float) -> int:
    """Return how long a burner of 1.5 kW takes (assumed). [min]

    >>> heat_minutes(2.0, 80)
    8
    """
    require_between(0, 100, "L", litres=litres)
    return math.ceil(4.186 * litres * rise_k / HOB_KW / 60)


def threads_of(vessel: VesselTurn, jugs: bool) -> tuple[Thread, ...]:
    """Write down the work of one vessel: a harvest, a pot or several, and the pitch.

    Args:
        vessel: What it needs.
        jugs: Whether tea cools in a jug and leaves the pot free.
    """
    name = vessel.name
    harvest = [Work("Taste, set starter aside, lift the disc out", RESERVE)] if vessel.harvest else []
    if vessel.bottles:
        harvest.append(Work(f"Flavour and bottle {vessel.bottles}", math.ceil(BOTTLING + PER_BOTTLE * vessel.bottles)))
    harvest.append(Work("Wash the vessel" if vessel.harvest else "Rinse the vessel, lay everything out", WASH))
    first = Thread(f"{name}: harvest", tuple(harvest))
    out = [first]
    for number, pot in enumerate(vessel.pots, 1):
        label = f"{name}: tea" if len(vessel.pots) == 1 else f"{name}: tea {number}"
        out.append(Thread(label, _tea(vessel, pot, jugs), gate=4 if jugs else 3, after=(first.name,)))
    tea = tuple(thread.name for thread in out[1:])
    last = Work("Starter and disc in, cover, label", PITCH)
    out.append(Thread(f"{name}: start the brew", (last,), gate=0, after=tea or (first.name,)))
    return tuple(out)


def _tea(vessel: VesselTurn, pot: PotTold, jugs: bool) -> tuple[Work, ...]:
    steep, cool = math.ceil(pot.steep_minutes), math.ceil(pot.cool_minutes)
    heats = heat_minutes(pot.water_l, pot.rise_k)
    start = (
        Work("Fill the pot, heat it", FILL_POT, heats, takes=("burner", "pot"), gives=("burner",), waiting="heats"),
        Work("Leaf in", LEAF_IN, steep, vessel.patience, waiting="steeps"),
    )
    pour = Work("Cold water first, then the tea, into the vessel", POUR, frees=("jug",) if jugs else ("pot",))
    if not jugs:
        return (*start, Work("Leaf out, sugar in", LEAF_OUT, cool, waiting="cools"), pour)
    over = Work("Pour the tea into the jug", POUR_OVER, cool, takes=("jug",), frees=("pot",), waiting="cools")
    return (*start, Work("Leaf out, sugar in", LEAF_OUT), over, pour)


def turn_round(vessels: tuple[VesselTurn, ...], bench: Bench, beam: int | None = None) -> Day:
    """Lay out a turn-round so that it ends soonest.

    Args:
        vessels: What each needs.
        bench: People and tools the household owns.
        beam: As in `lay_out`.
    """
    jugs = dict(bench.tools).get("jug", 0) > 0
    threads = tuple(thread for vessel in vessels for thread in threads_of(vessel, jugs))
    return lay_out(threads, bench) if beam is None else lay_out(threads, bench, beam)
