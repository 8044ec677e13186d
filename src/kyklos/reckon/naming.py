"""What any thing of the household is called, for a sentence that names it."""

from __future__ import annotations

from typing import Any

from ..store.records import Bottle, Bottling, Brew
from .bottles.cellar import name_of


def name_of_thing(thing: Any) -> str:
    """Return what a record is called: a brew by its vessel, a bottle and its filling by their flavour, all else by its own name."""
    if isinstance(thing, Brew):
        return thing.vessel.name
    if isinstance(thing, Bottling):
        return name_of(thing.bottles[0]) if thing.bottles else f"bottles of {thing.brew.vessel.name}"
    return name_of(thing) if isinstance(thing, Bottle) else str(thing.name)
