"""What every open document is checked for when it is read: its size, its form, and letters that nobody sees."""

from __future__ import annotations

import json
from datetime import date
from typing import Annotated, Any, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError

from ..core.base import KyklosError

LARGEST_BYTES = 2_000_000


class DocumentError(KyklosError):
    """A document that cannot be read, or cannot be true."""


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


def _real_day(text: str) -> str:
    """Refuse a day that no calendar has."""
    date.fromisoformat(text)
    return text


Text = Annotated[str, AfterValidator(_plain)]
Name = Annotated[str, AfterValidator(_named)]
Key = Annotated[str, Field(pattern=r"^[a-z0-9-]{1,60}$")]
Word = Annotated[str, Field(pattern=r"^[a-z0-9-]{0,30}$")]  #: A key of the core's facts.
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
DayText = Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]  #: YYYY-MM-DD
RealDay = Annotated[DayText, AfterValidator(_real_day)]


class DocumentPart(BaseModel):
    """A part of a document: nothing in it that is not known, nothing taken for what it is not."""

    model_config = ConfigDict(extra="forbid", frozen=True, strict=True)


P = TypeVar("P", bound=BaseModel)


def clean(text: str, longest: int) -> str:
    """Return a text as a document can carry it: without letters that nobody sees, and no longer than it may be.

    >>> clean(" Bo\\x00ra ", 40)
    'Bora'
    """
    return "".join(letter for letter in text if not _unseen(letter)).strip()[:longest]


def object_of(content: bytes, what: str, largest: int = LARGEST_BYTES) -> dict[str, Any]:
    """Read bytes as one JSON object.

    Args:
        content: UTF-8.
        what: It should be, like "passport"; for the sentence that says it is none.
        largest: That may be read. [bytes]

    Raises:
        DocumentError: If it is too large, or no JSON object.
    """
    if len(content) > largest:
        size = f"{largest // 1_000_000} MB" if largest >= 1_000_000 else f"{largest // 1000} kB"
        raise DocumentError(f"This file is larger than {size}: no {what} is.")
    try:
        found = json.loads(content.decode("utf-8-sig"))
    except (ValueError, RecursionError) as problem:  # also numbers of thousands of digits
        raise DocumentError(f"This file is damaged, or no {what}: it cannot be read as JSON.") from problem
    if not isinstance(found, dict):
        raise DocumentError(f"This is no {what}.")
    return found


def checked(model: type[P], found: dict[str, Any], what: str) -> P:
    """Make a document of an object.

    Raises:
        DocumentError: If a part of it is missing, unknown or out of range, with the first that is.
    """
    try:
        return model.model_validate(found)
    except (ValidationError, RecursionError, OverflowError) as problem:
        raise DocumentError(f"This {what} cannot be right: {_first(problem)}.") from problem


def _first(problem: Exception) -> str:
    if not isinstance(problem, ValidationError):
        return "it is nested too deeply"
    found = problem.errors(include_url=False, include_input=False)[0]
    where = ".".join(str(piece) for piece in found["loc"][:4])
    return f"{where}: {found['msg'][0].lower()}{found['msg'][1:]}"
