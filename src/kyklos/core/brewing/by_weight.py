"""Leaf and sweetener given by weight, in cups or in bags, turned into the strength that a plan asks for."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from ..base import CoreError
from ..base.kinds import Dimension
from .measures import STRENGTHS, DryAmount, leaf_g, sugars_g
from .planner import PlanAsk, make_plan

MOST_ROUNDS = 8  #: More leaf buffers more, takes more starter, and leaves less sweet tea: until it settles.
SETTLED_L = 0.002  #: Sweet tea that changes by less is settled. [L]


def strengths(ask: PlanAsk, given: Mapping[str, DryAmount]) -> dict[str, float]:
    """Return how strong the sweet tea of a plan gets.

    Args:
        ask: The plan; the strengths on its card are where the search begins.
        given: `leaf` and `sugar`, each as a person said it.

    Returns: Leaf and sugars in the sweet tea; one outside `measures.STRENGTHS` ends the search as it stands. [g/L]

    Raises:
        CoreError: If such a plan cannot be made, or has no sweet tea.
    """
    if all(amount.kind == Dimension.STRENGTH for amount in given.values()):
        return {name: amount.value for name, amount in given.items()}
    found: dict[str, float] = {}
    before = 0.0
    for _ in range(MOST_ROUNDS):
        sweet_l = make_plan(ask).sweet_tea_l
        if sweet_l < SETTLED_L:
            raise CoreError("This plan has no sweet tea to weigh leaf and sweetener for: take less starter, or a larger vessel.")
        if abs(sweet_l - before) < SETTLED_L:
            break
        before = sweet_l
        found = {name: _strength(ask, name, amount, sweet_l) for name, amount in given.items()}
        if not all(fits(name, value) for name, value in found.items()):
            break
        ask = replace(ask, card=replace(ask.card, leaf_g_per_l=found["leaf"], sugar_g_per_l=found["sugar"]))
    return found


def fits(name: str, strength: float) -> bool:
    """Return whether a brew takes so much `leaf` or `sugar`. [g/L]"""
    low, high = STRENGTHS[name]
    return low <= strength <= high


def _strength(ask: PlanAsk, name: str, amount: DryAmount, sweet_l: float) -> float:
    if amount.kind == Dimension.STRENGTH:
        return amount.value
    card = ask.card
    if name == "leaf":
        return leaf_g(amount.value, amount.kind, card.tea, card.g_per_spoon, card.g_per_bag) / sweet_l
    return sugars_g(amount.value, amount.kind, card.sweeteners) / sweet_l
