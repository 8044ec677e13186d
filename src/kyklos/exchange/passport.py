"""The culture passport: an open JSON document that carries a line's lineage, diet and care to another household.

Its schema stands in `docs/formats.md`. Reading trusts nothing: size, depth, names, references, times and loops are checked before
anything is written, and nothing private is in it unless chosen.
"""

from __future__ import annotations

import hashlib
import json
from datetime import date
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError

from ..core.base import KyklosError
from ..core.cultures import Link, Node
from ..core.cultures.lineage import LoopError, descent

FORMAT: Literal["kyklos-culture-passport"] = "kyklos-culture-passport"
LARGEST_BYTES = 2_000_000
MOST_THINGS, MOST_LINKS = 20_000, 60_000


def _unseen(letter: str) -> bool:
    return (letter < " " and letter not in "\n\t\r") or letter == "\x7f" or "\ud800" <= letter <= "\udfff"


def _plain(text: str) -> str:
    """Refuse what no name or story holds: letters that nobody sees."""
    if any(_unseen(letter) for letter in text):
        raise ValueError("it holds letters that cannot be seen")
    return text


def _named(text: str) -> str:
    """Refuse a name of nothing but spaces."""
    if not text.strip():
        raise ValueError("a name is missing")
    return _plain(text)


Text = Annotated[str, AfterValidator(_plain)]
Name = Annotated[str, AfterValidator(_named)]
Key = Annotated[str, Field(pattern=r"^[a-z0-9-]{1,60}$")]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class PassportError(KyklosError):
    """A document that is no passport, or one that cannot be true."""


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, strict=True)


class Thing(_Part):
    """A brew, a disc or a liquid."""

    key: Key
    kind: Literal["brew", "disc", "lot"]
    on: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")  #: The day it began.
    honey_share: Share | None = None  #: Of a brew's sugars.
    tea: Text = Field(default="", max_length=80)


class Came(_Part):
    """Liquid or a disc that passed from one thing to another."""

    source: Key = Field(alias="from")
    target: Key = Field(alias="to")
    on: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")


class PassportReading(_Part):
    """The last pH of its liquid."""

    ph: float = Field(ge=1.5, le=7, allow_inf_nan=False)
    on: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")


class Passport(_Part):
    """The document."""

    format: Literal["kyklos-culture-passport"] = FORMAT
    version: Literal[1] = 1
    name: Name = Field(min_length=1, max_length=40)
    diet: Literal["sugar", "jun"]
    origin: Text = Field(max_length=40)
    begun_on: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")
    written_on: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")
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


def clean(text: str, longest: int) -> str:
    """Return a text as a passport can carry it: without letters that nobody sees, and no longer than it may be.

    >>> clean(" Bo\\x00ra ", 40)
    'Bora'
    """
    return "".join(letter for letter in text if not _unseen(letter)).strip()[:longest]


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
    if len(content) > LARGEST_BYTES:
        raise PassportError(f"This file is larger than {LARGEST_BYTES // 1_000_000} MB: no passport is.")
    try:
        document = json.loads(content.decode("utf-8-sig"))
    except (ValueError, RecursionError) as problem:  # also numbers of thousands of digits
        raise PassportError("This file is damaged, or no passport: it cannot be read as JSON.") from problem
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise PassportError("This is no culture passport.")
    if document.get("version") != 1:
        raise PassportError("This passport is of a version that this Kyklos does not know: a newer one may read it.")
    try:
        passport = Passport.model_validate(document)
    except (ValidationError, RecursionError) as problem:
        raise PassportError(f"This passport cannot be right: {_first(problem)}.") from problem
    _check(passport)
    return passport


def _first(problem: Exception) -> str:
    if not isinstance(problem, ValidationError):
        return "it is nested too deeply"
    found = problem.errors(include_url=False, include_input=False)[0]
    where = ".".join(str(piece) for piece in found["loc"][:4])
    return f"{where}: {found['msg'][0].lower()}{found['msg'][1:]}"


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
