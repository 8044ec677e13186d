"""A turn-round: tea first, harvest and bottling while it cools, refill last, for one or several vessels on one day.

A tapped vessel is drawn from and topped up instead; it is never emptied. Each piece of work names its amounts.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..base import CoreError, marked, require_between
from .schedule import lay_out
from .threads import Bench, Day, Thread, Work, WorkDeed

HOB_KW = 1.5  #: What a burner puts into the pot (assumed). [kW]
FILL_POT, LEAF_IN, LEAF_OUT, POUR_OVER, POUR, PITCH = 3, 1, 3, 1, 3, 5  #: With hands (assumed). [min]
DRAW, TOP_UP = 6, 4  #: With hands (assumed). [min]
RESERVE, WASH, BOTTLING, PER_BOTTLE = 6, 6, 5, 1.5  #: With hands; bottling before the first bottle (assumed). [min]
STEEP_PATIENCE = 3  #: How much longer leaf may lie than planned (assumed). [min]


@dataclass(frozen=True, slots=True)
class PotTold:
    """One pot on the heat."""

    water_l: float  #: [L]
    rise_k: float = 80.0  #: From the tap to the leaf. [K]
    steep_minutes: float = 12.0  #: [min]
    cool_minutes: float = 0.0  #: Before it may be poured. [min]
    leaf_g: float = 0.0  #: [g]
    sugar_g: float = 0.0  #: [g]


@dataclass(frozen=True, slots=True)
class VesselTurn:
    """What one vessel needs that day."""

    name: str
    pots: tuple[PotTold, ...]  #: None for a cold start.
    bottles: int = 0  #: To fill from its last brew.
    harvest: bool = True  #: Something stands in it.
    patience: int = STEEP_PATIENCE  #: [min]
    tea: str = "tea"  #: Its name.
    sweetener: str = "sugar"
    cold_l: float = 0.0  #: Cold water into the vessel first. [L]
    reserve_l: float = 0.0  #: To be kept as starter. [L]
    starter_l: float = 0.0  #: Poured in at the start. [L]
    draw_l: float = 0.0  #: Of a tapped vessel: drawn, and given back as sweet tea. [L]


def heat_minutes(litres: float, rise_k: float) -> int:
    """Return how long a burner of 1.5 kW takes (assumed). [min]

    >>> heat_minutes(2.0, 80)
    8
    """
    require_between(0, 100, "L", litres=litres)
    return math.ceil(4.186 * litres * rise_k / HOB_KW / 60)


def _of(amount: float, kind: str, what: str, without: str) -> str:
    """Name an amount of something, or the thing alone where no amount is known."""
    return f"{marked(amount, kind)} of {what}" if amount > 0 else without


def threads_of(vessel: VesselTurn, jugs: bool) -> tuple[Thread, ...]:
    """Write down the work of one vessel: a harvest, a pot or several, and the pitch; or a draw, its tea and the topping up.

    Args:
        vessel: What it needs.
        jugs: Whether tea cools in a jug and leaves the pot free.
    """
    name = vessel.name
    first = Thread(f"{name}: draw" if vessel.draw_l > 0 else f"{name}: harvest", _first_work(vessel))
    out = [first]
    for number, pot in enumerate(vessel.pots, 1):
        label = f"{name}: tea" if len(vessel.pots) == 1 else f"{name}: tea {number}"
        out.append(Thread(label, _tea(vessel, pot, jugs), gate=4 if jugs else 3, after=(first.name,)))
    tea = tuple(thread.name for thread in out[1:])
    if vessel.draw_l > 0:
        last, label = Work("Stir gently, fresh cover on if it is due", TOP_UP, deed=WorkDeed.TOP_UP), f"{name}: top up"
    else:
        starter = _of(vessel.starter_l, "volume", "starter", "Starter")
        last, label = Work(f"{starter} and the disc in, cover, label", PITCH, deed=WorkDeed.START), f"{name}: start the brew"
    out.append(Thread(label, (last,), gate=0, after=tea or (first.name,)))
    return tuple(out)


def _first_work(vessel: VesselTurn) -> tuple[Work, ...]:
    """Return what is done with what stands in a vessel."""
    if vessel.draw_l > 0:
        return (Work(f"Draw {marked(vessel.draw_l, 'volume')} at the tap, and shut it", DRAW, takes=("tap",), frees=("tap",), deed=WorkDeed.DRAW),)
    if not vessel.harvest:
        return (Work("Rinse the vessel, lay everything out", WASH),)
    reserve = _of(vessel.reserve_l, "volume", "starter", "starter")
    out = [Work(f"Taste, set {reserve} aside, lift the disc out", RESERVE, deed=WorkDeed.RESERVE)]
    if vessel.bottles:
        bottles = "1 bottle" if vessel.bottles == 1 else f"{vessel.bottles} bottles"
        out.append(Work(f"Flavour and fill {bottles}", math.ceil(BOTTLING + PER_BOTTLE * vessel.bottles), deed=WorkDeed.BOTTLE))
    return (*out, Work("Wash the vessel, rinse off all the soap", WASH))


def _tea(vessel: VesselTurn, pot: PotTold, jugs: bool) -> tuple[Work, ...]:
    steep, cool = math.ceil(pot.steep_minutes), math.ceil(pot.cool_minutes)
    heats = heat_minutes(pot.water_l, pot.rise_k)
    start = (
        Work(f"Heat {marked(pot.water_l, 'volume')} of water in a pot", FILL_POT, heats, takes=("burner", "pot"), gives=("burner",), waiting="heats"),
        Work(f"{_of(pot.leaf_g, 'mass', vessel.tea, 'Leaf')} in, lid on", LEAF_IN, steep, vessel.patience, waiting="steeps"),
    )
    sweetened = f"Leaf out, stir in {_of(pot.sugar_g, 'mass', vessel.sweetener, vessel.sweetener)}"
    cold = _of(vessel.cold_l / len(vessel.pots), "volume", "cold water", "Cold water")
    into = f"{cold} and the tea in, no warmer than the room" if vessel.draw_l > 0 else f"{cold} into the vessel, then the tea"
    pour = Work(into, POUR, frees=("jug",) if jugs else ("pot",))
    if not jugs:
        return (*start, Work(sweetened, LEAF_OUT, cool, waiting="cools"), pour)
    over = Work("Pour the tea into a jug", POUR_OVER, cool, takes=("jug",), frees=("pot",), waiting="cools")
    return (*start, Work(sweetened, LEAF_OUT), over, pour)


@dataclass(frozen=True, slots=True)
class Idle:
    """A time in which nobody is needed. [min from the start]"""

    start: int
    end: int


LEAVE_MINUTES = 15  #: So long a wait is worth leaving the kitchen for (assumed). [min]


def waits(day: Day) -> tuple[Idle, ...]:
    """List the waits in which one can leave the kitchen: no hands at work for a quarter of an hour or more."""
    out, free = [], 0
    for placed in sorted(day.placed, key=lambda one: one.start):
        if placed.start - free >= LEAVE_MINUTES:
            out.append(Idle(free, placed.start))
        free = max(free, placed.end)
    return tuple(out)


def threads_of_all(vessels: tuple[VesselTurn, ...], bench: Bench) -> tuple[Thread, ...]:
    """Write down the work of several vessels."""
    jugs = dict(bench.tools).get("jug", 0) > 0
    return tuple(thread for vessel in vessels for thread in threads_of(vessel, jugs))


def turn_round(vessels: tuple[VesselTurn, ...], bench: Bench, beam: int | None = None) -> Day:
    """Lay out a turn-round so that it ends soonest.

    Args:
        vessels: What each needs.
        bench: People and tools the household owns.
        beam: As in `lay_out`.

    Raises:
        CoreError: If there is no vessel, or a tool is missing.
    """
    if not vessels:
        raise CoreError("Choose a vessel.")
    threads = threads_of_all(vessels, bench)
    return lay_out(threads, bench) if beam is None else lay_out(threads, bench, beam)
