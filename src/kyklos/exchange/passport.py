"""The culture passport: an open JSON document that carries a line's lineage, diet and care to another household.

Its schema stands in `docs/formats.md`. Reading trusts nothing: size, depth, names, references, times and loops are checked before
anything is written, and nothing private is in it unless chosen.
"""

from __future__ import annotations

import hashlib
import json
from datetime import date
from typing import Literal

from pydantic import Field

from ..core.cultures import Link, Node
from ..core.cultures.lineage import LoopError, descent
from .strict import DayText, DocumentError, DocumentPart, Key, Name, Share, Text, checked, object_of

FORMAT: Literal["kyklos-culture-passport"] = "kyklos-culture-passport"
MOST_THINGS, MOST_LINKS = 20_000, 60_000


class PassportError(DocumentError):
    """A document that is no passport, or one that cannot be true."""


class Thing(DocumentPart):
    """A brew, a disc or a liquid."""

    key: Key
    kind: Literal["brew", "disc", "lot"]
    on: DayText  #: The day it began.
    honey_share: Share | None = None  #: Of a brew's sugars.
    tea: Text = Field(default="", max_length=80)


class Came(DocumentPart):
    """Liquid or a disc that passed from one thing to another."""

    source: Key = Field(alias="from")
    target: Key = Field(alias="to")
    on: DayText


class PassportReading(DocumentPart):
    """The last pH of its liquid."""

    ph: float = Field(ge=1.5, le=7, allow_inf_nan=False)
    on: DayText


class Passport(DocumentPart):
    """The document."""

    format: Literal["kyklos-culture-passport"] = FORMAT
    version: Literal[1] = 1
    name: Name = Field(min_length=1, max_length=40)
    diet: Literal["sugar", "jun"]
    origin: Text = Field(max_length=40)
    begun_on: DayText
    written_on: DayText
    story: Text = Field(default="", max_length=2000)
    care: Text = Field(default="", max_length=2000)
    last_reading: PassportReading | None = None
    vigour: float | None = Field(default=None, ge=0.05, le=5, allow_inf_nan=False)
    things: tuple[Thing, ...] = Field(default=(), max_length=MOST_THINGS, strict=False)
    links: tuple[Came, ...] = Field(default=(), max_length=MOST_LINKS, strict=False)

    @property
    def links_as_told(self) -> list[Link]:
        """Its links, for the core. [d since year 1]"""
        kinds = {thing.key: thing.kind for thing in self.things}
        number = {thing.key: i for i, thing in enumerate(self.things)}

        def node(key: str) -> Node:
            return kinds[key], number[key]

        return [Link(node(c.source), node(c.target), float(_day(c.on))) for c in self.links]


def _day(text: str) -> int:
    return date.fromisoformat(text).toordinal()


def written(passport: Passport) -> str:
    """Write a passport as JSON, the same for the same content."""
    document = passport.model_dump(mode="json", by_alias=True)
    return json.dumps(document, ensure_ascii=False, indent=1, sort_keys=True) + "\n"


def schema() -> str:
    """Write the passport's JSON Schema."""
    return json.dumps(Passport.model_json_schema(by_alias=True), indent=1, sort_keys=True) + "\n"


def fingerprint(passport: Passport) -> str:
    """Return what a passport is known again by: a hash of all it says, but for the day on which it was written."""
    document = passport.model_dump(mode="json", by_alias=True, exclude={"written_on"})
    return hashlib.sha256(json.dumps(document, sort_keys=True).encode()).hexdigest()[:32]


def read(content: bytes) -> Passport:
    """Read a passport, trusting nothing.

    Raises:
        PassportError: If it is too large, no JSON, no passport, of another version, or contradicts itself.
    """
    try:
        document = object_of(content, "passport")
        if document.get("format") != FORMAT:
            raise PassportError("This is no culture passport.")
        if document.get("version") != 1:
            raise PassportError("This passport is of a version that this Kyklos does not know: a newer one may read it.")
        passport = checked(Passport, document, "passport")
    except PassportError:
        raise
    except DocumentError as problem:
        raise PassportError(str(problem)) from problem
    _check(passport)
    return passport


def _check(passport: Passport) -> None:
    """Refuse what contradicts itself: unknown references, days that are none, time running backward, loops."""
    begun: dict[str, int] = {}
    try:
        for thing in passport.things:
            if thing.key in begun:
                raise PassportError(f"This passport cannot be right: {thing.key} stands in it twice.")
            begun[thing.key] = _day(thing.on)
        days = [(came, _day(came.on)) for came in passport.links]
        _day(passport.begun_on), _day(passport.written_on)
    except ValueError as problem:
        raise PassportError("This passport cannot be right: a day in it is none.") from problem
    for came, day in days:
        if came.source not in begun or came.target not in begun:
            raise PassportError("This passport cannot be right: it names things that are not in it.")
        if day < begun[came.source] or day < begun[came.target] - 1:
            raise PassportError("This passport cannot be right: time runs backward in it.")
    try:
        descent(passport.links_as_told)
    except LoopError as problem:
        raise PassportError("This passport cannot be right: something in it is its own ancestor.") from problem
