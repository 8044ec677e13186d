"""Sentences with quantities in them: the core gives numbers in SI, the page says them in the household's units."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

Quantity = tuple[float, str]  #: Value in SI, and its kind: volume, mass, temperature, strength, ...


@dataclass(frozen=True, slots=True)
class Said:
    """A sentence with names in braces, and the quantity behind each."""

    text: str
    values: tuple[tuple[str, Quantity], ...] = ()
    grave: bool = False  #: Something has to change before it is right.

    def words(self, in_units: Callable[[float, str], str]) -> str:
        """Say it; `in_units` turns a value of a kind into words."""
        return self.text.format(**{name: in_units(value, kind) for name, (value, kind) in self.values})


def said(text: str, grave: bool = False, /, **values: Quantity) -> Said:
    """Make a sentence.

    >>> said("Pour {cold}.", cold=(2.0, "volume")).words(lambda value, kind: f"{value:g} L")
    'Pour 2 L.'
    """
    return Said(text, tuple(values.items()), grave)


def plain(text: str) -> str:
    """Make a text safe to stand in a sentence with braces."""
    return text.replace("{", "(").replace("}", ")")
