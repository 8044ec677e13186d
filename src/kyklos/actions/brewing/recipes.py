"""Recipes kept by name, and the tools of the kitchen."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.brewing import RecipeCard
from ...core.brewing.tools import TOOLS
from ...store.read import planning_queries, queries
from ...store.read.documents import pack
from ...store.records import KeptRecipe, Tool
from ..base import Checks, Done, action, check_version, flushed


@dataclass(frozen=True, slots=True, kw_only=True)
class KeepRecipe:
    """A recipe and its name."""

    name: str
    card: RecipeCard
    note: str = ""


def _check_name(session: Session, name: str, own: int | None = None) -> str:
    checks, name = Checks(), name.strip()
    checks.refuse_if(not 1 <= len(name) <= 60, "name", "Give the recipe a name of up to 60 letters.")
    others = [r for r in planning_queries.recipes(session) if r.id != own and r.name.casefold() == name.casefold()]
    checks.refuse_if(bool(others), "name", "Another recipe has this name.")
    checks.done()
    return name


@action
def keep_recipe(session: Session, ask: KeepRecipe, at: datetime) -> Done:
    """Keep a recipe by name; a copy is one kept under another name."""
    return keep_one(session, ask, at)


def keep_one(session: Session, ask: KeepRecipe, at: datetime) -> Done:
    """Keep a recipe, within another action."""
    name = _check_name(session, ask.name)
    kept = KeptRecipe(name=name, note=ask.note.strip()[:500], card=pack(ask.card), made_at=at, version=1)
    return Done(f"{name} kept.", {"recipe": flushed(session, kept)})


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeRecipe(KeepRecipe):
    """A kept recipe as it is to be."""

    recipe_id: int
    version: int | None = None


@action
def change_recipe(session: Session, ask: ChangeRecipe, at: datetime) -> Done:
    """Change a kept recipe; brews made by it keep what they were."""
    kept = queries.get(session, KeptRecipe, ask.recipe_id)
    check_version(ask.version, kept.version, kept.name)
    kept.name, kept.note, kept.card = _check_name(session, ask.name, kept.id), ask.note.strip()[:500], pack(ask.card)
    return Done(f"{kept.name} saved.")


@dataclass(frozen=True, slots=True, kw_only=True)
class DropRecipe:
    """A recipe not wanted any more."""

    recipe_id: int


@action
def drop_recipe(session: Session, ask: DropRecipe, at: datetime) -> Done:
    """Put a recipe away; undo brings it back."""
    kept = queries.get(session, KeptRecipe, ask.recipe_id)
    kept.dropped_at = at
    return Done(f"{kept.name} put away.")


@dataclass(frozen=True, slots=True, kw_only=True)
class AddTool:
    """Something the kitchen has."""

    kind: str
    litres: float | None = None  #: Where size matters. [L]
    number: int = 1
    name: str = ""


@action
def add_tool(session: Session, ask: AddTool, at: datetime) -> Done:
    """Write down a tool, so that plans use what is really there."""
    checks = Checks()
    checks.refuse_if(ask.kind not in TOOLS, "kind", "Choose what it is.")
    sized = TOOLS.get(ask.kind, ("", False))[1]
    checks.refuse_if(sized and ask.litres is None, "litres", "Say how much it holds.")
    checks.between(ask.litres, "litres", 0.1, 100, "A tool of", "volume")
    checks.refuse_if(not 1 <= ask.number <= 20, "number", "From 1 to 20.")
    checks.done()
    name = ask.name.strip()[:40] or TOOLS[ask.kind][0]
    tool = Tool(kind=ask.kind, name=name, litres=ask.litres if sized else None, number=ask.number)
    return Done(f"{name} added.", {"tool": flushed(session, tool)})


@dataclass(frozen=True, slots=True, kw_only=True)
class DropTool:
    """A tool that is gone."""

    tool_id: int


@action
def drop_tool(session: Session, ask: DropTool, at: datetime) -> Done:
    """Cross a tool off."""
    tool = queries.get(session, Tool, ask.tool_id)
    session.delete(tool)
    return Done(f"{tool.name} crossed off.")
