"""A brew day, from the wish to the pot.

A `PlanAsk` is answered by `make_plan` with amounts, starter, heat and second thoughts; the plan as kitchen steps, the
day by the clock, where to put a brew, what an absence means, and what to do with one that went too far.
"""

from __future__ import annotations

from .kinds import KINDS, SCHOOLS
from .plan import BrewPlan, PlanAsk
from .planner import make_plan
from .recipe_card import RecipeCard

__all__ = ["KINDS", "SCHOOLS", "BrewPlan", "PlanAsk", "RecipeCard", "make_plan"]
