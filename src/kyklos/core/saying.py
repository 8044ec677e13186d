"""Sentences with quantities in them: the core gives numbers in SI, the page says them in the household's units."""

from __future__ import annotations

import re
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


_MARK = re.compile(r"\u27e6(volume|mass|temperature|strength|bottle|length):(-?[0-9.e+-]{1,24})\u27e7")


def marked(value: float, kind: str) -> str:
    """Put a quantity into a plain text, to be said later in the units of whoever reads it.

    Args:
        value: In SI as `Quantity`.
        kind: volume [L], mass [g], temperature [degC], strength [g/L], bottle [mL] or length [cm].
    """
    return f"\u27e6{kind}:{value:.6g}\u27e7"


def spoken(text: str, in_units: Callable[[float, str], str]) -> str:
    """Say the quantities that were marked in a text; a mark that is none stays as it is.

    >>> spoken(f"{marked(0.25, 'volume')} reserved.", lambda value, kind: f"{value:g} L")
    '0.25 L reserved.'
    """

    def said_so(found: re.Match[str]) -> str:
        try:
            return in_units(float(found[2]), found[1])
        except ValueError:
            return found[0]

    return _MARK.sub(said_so, text)
