"""What every blind tasting keeps to: an order by lot, nobody told which is which, and nothing said after the naming."""

from __future__ import annotations

import random
from collections.abc import Sequence
from datetime import datetime
from typing import Protocol

from .base import Checks


class BlindRound(Protocol):
    """A blind tasting of anything."""

    revealed_at: datetime | None


def by_lot(checks: Checks, chosen: Sequence[int], most: int, field: str, what: str, seed: int | None) -> list[int]:
    """Return the chosen things in an order that only Kyklos knows.

    Args:
        checks: Refuses fewer than two, or too many.
        chosen: Their numbers; one chosen twice counts once.
        most: So many can be told apart at once.
        field: Of the form, beside which a refusal stands.
        what: They are called, as in "brews".
        seed: For tests and the sample household; by chance unless given.
    """
    numbers = list(dict.fromkeys(chosen))
    checks.refuse_if(not 2 <= len(numbers) <= most, field, f"Choose from 2 to {most} different {what}.")
    checks.done()
    random.Random(seed).shuffle(numbers)
    return numbers


def refuse_named(checks: Checks, tasting: BlindRound) -> None:
    """Refuse whatever is said once everybody knows which is which."""
    checks.refuse_if(tasting.revealed_at is not None, "", "Everybody knows which is which already.")


def name_all(checks: Checks, tasting: BlindRound, said: Sequence[object], at: datetime) -> None:
    """Name what was tasted, once somebody has said something of it."""
    refuse_named(checks, tasting)
    checks.refuse_if(not said, "", "Nobody has tasted yet.")
    checks.done()
    tasting.revealed_at = at
