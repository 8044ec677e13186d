"""Where the answers of forecasts are kept: by what is asked, those asked longest ago make room."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache
from threading import RLock
from typing import TYPE_CHECKING

from .ask import ForecastAsk
from .fit import Fit

if TYPE_CHECKING:
    from .answer import Carried


@dataclass(slots=True, eq=False)
class AnswerRoom:
    """Where a brew's answer is kept once it is known; who asks while another computes it waits."""

    kept: Carried | None = None
    turn: RLock = field(default_factory=RLock)


@lru_cache(maxsize=96)
def room_for(ask: ForecastAsk) -> AnswerRoom:
    """Return where a brew's answer is kept."""
    return AnswerRoom()


@lru_cache(maxsize=256)
def room_for_fit(ask: ForecastAsk, fastest: float) -> list[Fit]:
    """Return where a brew's fit is kept once it is known. `fastest`: of its rates. [1/d]"""
    return []
