"""Sentences with quantities in them: the core gives numbers in SI, the page says them in the household's units."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

Quantity = tuple[float, str]  #: Value in SI, and its kind: volume, mass, temperature, strength, ...


@dataclass(frozen=True, slots=True)
class Said:
    """A sentence with names in braces, and the quantity behind each."""

    text: str
    values: tuple[tuple[str, Quantity], ...] = ()
    grave: bool = False  #: Something has to change before it is right.

    def words(self, in_units: Callable[[float, str], str]) -> str:
        """Put it into words; `in_units` turns a value of a kind into words."""
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


def day_of(day: float) -> int:
    """Return which day of a brew it is: whole days gone by since the pitch, as people count, never rounded up. [d]

    >>> day_of(9.6), day_of(8.9999999)
    (9, 9)
    """
    return int(day + 1e-6)


def first_names(every: Sequence[str]) -> dict[str, str]:
    """Return by what each is called among these: the first name, where no other has the same.

    >>> first_names(["Ana Lund", "Ben Oder", "Ben Rask"])
    {'Ana Lund': 'Ana', 'Ben Oder': 'Ben Oder', 'Ben Rask': 'Ben Rask'}
    """
    first = {name: name.split()[0] if name.split() else name for name in every}
    return {name: short if list(first.values()).count(short) == 1 else name for name, short in first.items()}


def likely_word(chance: float) -> str:
    """Put a chance into words as a person would; an ensemble's all or none is no certainty.

    >>> likely_word(1.0), likely_word(0.5), likely_word(0.02)
    ('almost certainly', 'perhaps', 'hardly')
    """
    return next(word for least, word in LIKELY_WORDS if chance >= least)


def bottles_word(count: int) -> str:
    """Return a count of bottles in words.

    >>> bottles_word(1), bottles_word(7)
    ('1 bottle', '7 bottles')
    """
    return f"{count} bottle{'' if count == 1 else 's'}"


_MARK = re.compile(
    r"\u27e6(volume|mass|temperature|difference|strength|bottle|length|thickness|pressure|acidity):(-?[0-9.e+-]{1,24})\u27e7"
)


def marked(value: float, kind: str) -> str:
    """Put a quantity into a plain text, to be said later in the units of whoever reads it.

    Args:
        value: In SI as `Quantity`.
        kind: volume [L], mass [g], temperature [degC], strength [g/L], bottle [mL] or length [cm].
    """
    return f"\u27e6{kind}:{value:.6g}\u27e7"


_PLAIN = (
    (re.compile(r"(?<![\d.])(\d+(?:\.\d+)?) (?=to \d+(?:\.\d+)? (°C|g/L))"), None),
    (re.compile(r"(?<![\d.])(\d+(?:\.\d+)?) °C"), "temperature"),
    (re.compile(r"(?<![\d.])(\d+(?:\.\d+)?) g/L"), "strength"),
)
LIKELY_WORDS = (
    (0.97, "almost certainly"), (0.85, "very likely"), (0.6, "probably"), (0.3, "perhaps"), (0.0, "hardly"),
)  #: From such a chance on. [-]
SI_UNITS = {
    "volume": "L", "mass": "g", "temperature": "°C", "difference": "°C", "strength": "g/L", "bottle": "mL", "length": "cm",
    "thickness": "mm", "pressure": "bar", "acidity": "g/L",
}  # fmt: skip


def in_si(value: float, kind: str) -> str:
    """Put a quantity into words, in the units that the core counts in.

    >>> in_si(24.0, "temperature")
    '24 °C'
    """
    return f"{value:g} {SI_UNITS.get(kind, '')}".strip()


def remarked(text: str) -> str:
    """Mark temperatures and strengths that stand in a plain text in SI, as in a passport, to be said in other units.

    >>> spoken(remarked("55 g/L; 21 to 26 °C"), lambda value, kind: f"{kind} {value:g}")
    'strength 55; temperature 21 to temperature 26'
    """
    units = {"°C": "temperature", "g/L": "strength"}
    text = _PLAIN[0][0].sub(lambda found: marked(float(found[1]), units[found[2]]) + " ", text)
    for pattern, kind in _PLAIN[1:]:
        text = pattern.sub(lambda found, kind=kind: marked(float(found[1]), str(kind)), text)  # type: ignore[misc]
    return text


def spoken(text: str, in_units: Callable[[float, str], str]) -> str:
    """Put the quantities that were marked in a text into words; a mark that is none stays as it is.

    >>> spoken(f"{marked(0.25, 'volume')} reserved.", lambda value, kind: f"{value:g} L")
    '0.25 L reserved.'
    """

    def said_so(found: re.Match[str]) -> str:
        try:
            return in_units(float(found[2]), found[1])
        except ValueError:
            return found[0]

    return _MARK.sub(said_so, text)
