"""Two sets of scores and the triangle test, as `kyklos calc` asks."""

from __future__ import annotations

from typing import Any

from ..notebook import compare, triangle
from . import keys
from .forecasts import Answer
from .keys import CalcError, Key

MOST_SCORES = 10_000
COMPARE = (Key("a", kind="any"), Key("b", kind="any"), Key("paired", default=False, kind="flag"))
TRIANGLE = (Key("right", "-", 0, 100_000, kind="whole"), Key("of", "-", 1, 100_000, kind="whole"))


def _scores(value: Any, name: str) -> list[float]:
    if not isinstance(value, list) or not 2 <= len(value) <= MOST_SCORES:
        raise CalcError(f"{name} must be a list of two scores or more.")
    return [keys.number(one, f"{name}[{i}]", -1e6, 1e6) for i, one in enumerate(value)]


def compared(ask: dict[str, Any]) -> Answer:
    """Answer whether two sets of scores differ."""
    found = compare(_scores(ask["a"], "a"), _scores(ask["b"], "b"), paired=ask["paired"])
    return {"difference": found.difference, "low": found.low, "high": found.high, "verdict": str(found.verdict), "more": found.more}


def told_apart(ask: dict[str, Any]) -> Answer:
    """Answer whether three glasses are told apart."""
    if ask["right"] > ask["of"]:
        raise CalcError("right is more than of.")
    found = triangle(ask["right"], ask["of"])
    return {"p": found.p, "told_apart": found.told_apart}
