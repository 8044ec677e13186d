"""What stands on a culture's printable card, and the small passport in its code."""

from __future__ import annotations

import json
from dataclasses import dataclass

from .passport import FORMAT, Passport, fingerprint

DIETS = {"sugar": "Sugar and black tea", "jun": "Honey and green tea"}
LINE_LETTERS = 46


@dataclass(frozen=True, slots=True)
class PassportCard:
    """The words of the card, line by line."""

    name: str
    lines: tuple[str, ...]
    care: tuple[str, ...]
    code: str  #: A passport without its things and links, small enough for a code.
    mark: str  #: By which the whole passport is known again.


def wrapped(text: str, most: int = LINE_LETTERS) -> tuple[str, ...]:
    """Break a text into lines.

    >>> wrapped("one two three", 8)
    ('one two', 'three')
    """
    out: list[str] = []
    for word in text.split():
        if out and len(out[-1]) + 1 + len(word) <= most:
            out[-1] += f" {word}"
        else:
            out.append(word)
    return tuple(out)


def small(passport: Passport) -> str:
    """Write the least passport that another household can read: a line without its ancestors."""
    values = {
        "format": FORMAT,
        "version": 1,
        "name": passport.name,
        "diet": passport.diet,
        "origin": passport.origin,
        "begun_on": passport.begun_on,
        "written_on": passport.written_on,
    }
    if passport.last_reading is not None:
        values["last_reading"] = {"ph": passport.last_reading.ph, "on": passport.last_reading.on}
    return json.dumps(values, ensure_ascii=False, separators=(",", ":"))


def card_of(passport: Passport, generation: int, origin: str) -> PassportCard:
    """Write the card.

    Args:
        passport: As it goes along.
        generation: Brews from the origin.
        origin: In words.
    """
    brews = sum(thing.kind == "brew" for thing in passport.things)
    lines = [
        f"{DIETS[passport.diet]} · {origin.lower()}",
        f"Begun {passport.begun_on}, {brews} brews in its lineage, generation {generation}",
    ]
    if passport.last_reading is not None:
        lines.append(f"Its liquid: pH {passport.last_reading.ph:.2f} on {passport.last_reading.on}")
    if passport.vigour is not None:
        lines.append(f"Vigour {passport.vigour:.2f}, where 1 is a typical culture")
    return PassportCard(passport.name, tuple(lines), wrapped(passport.care), small(passport), fingerprint(passport))
