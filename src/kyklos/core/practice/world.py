"""The world of the practice kitchen: what a season of a seed brings, hidden from who plays. All of it is made up."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass
from functools import lru_cache

DAYS = 84  #: A season. [d]
AUTUMN_C, WINTER_C, NOISE_K = 23.0, 20.0, 0.7  #: Of the room at its beginning and its end; from day to day. [degC, degC, K]
COLD_DAYS, COLD_K = 7, 5.0  #: A cold week. [d, K]
VIGOUR_SD = 0.2  #: Of ln vigour of the culture. [-]
BOTTLE_VIGOUR_SD = 0.3  #: Of ln vigour of its yeast in bottle. [-]
POINT_LOW, POINT_HIGH = 3.2, 4.8  #: Of the taster. [g/L]
MOULD_CHANCE = 0.4  #: That a brew of the season moulds. [-]
MOST_SEED = 9_999


@dataclass(frozen=True, slots=True, kw_only=True)
class World:
    """What a season brings."""

    seed: int
    yeast: float  #: Hidden vigour. [-]
    bacteria: float  #: [-]
    in_bottle: float  #: Hidden vigour of the yeast in bottle. [-]
    room_c: tuple[float, ...]  #: On each day. [degC]
    point_g_per_l: float  #: Where the one who drinks likes it; hidden.
    cold_from: int  #: [d]
    cut_day: int  #: The power fails. [d]
    guests_day: int  #: [d]
    guests_l: float  #: [L]
    friend_day: int  #: A friend asks for a disc. [d]
    film: tuple[int, int]  #: Which brew gets film yeast, and on which of its days.
    mould: tuple[int, int] | None  #: Which brew moulds, and on which of its days.


@lru_cache(maxsize=256)
def world(seed: int) -> World:
    """Make the world of a seed; the same seed makes the same.

    Args:
        seed: From 0 to 9999.
    """
    chance = random.Random(f"season {seed}")
    cold = chance.randint(18, 60)
    room = []
    for day in range(DAYS + 1):
        slope = AUTUMN_C + (WINTER_C - AUTUMN_C) * day / DAYS
        room.append(round(slope + chance.gauss(0, NOISE_K) - (COLD_K if cold <= day < cold + COLD_DAYS else 0.0), 1))
    vigour = [math.exp(chance.gauss(0, sd)) for sd in (VIGOUR_SD, VIGOUR_SD, BOTTLE_VIGOUR_SD)]
    return World(
        seed=seed,
        yeast=vigour[0],
        bacteria=vigour[1],
        in_bottle=vigour[2],
        room_c=tuple(room),
        point_g_per_l=round(chance.uniform(POINT_LOW, POINT_HIGH), 2),
        cold_from=cold,
        cut_day=chance.randint(25, 70),
        guests_day=chance.randint(30, 75),
        guests_l=float(chance.choice((2, 3, 4))),
        friend_day=chance.randint(14, 70),
        film=(chance.randint(2, 4), chance.randint(4, 6)),
        mould=(chance.randint(2, 6), chance.randint(5, 8)) if chance.random() < MOULD_CHANCE else None,
    )
