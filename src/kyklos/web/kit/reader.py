"""What the language of a browser says of its place: a clock of twelve hours, Letter paper (territories by common custom, put together by hand)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from flask import g, has_request_context, request

from ...core.base.kinds import Units

TWELVE_HOURS = frozenset(
    "AE AU BD BH BO CA CL CO CR DO DZ EC EG GT HN IN IQ JM JO KR KW LB LY MX MY NI NZ OM PA PE PH PK PR PY QA SA SV SY TT US UY VE YE".split()  # noqa: SIM905
)
LETTER_PAPER = frozenset(
    "BZ CA CL CO CR GT MX NI PA PH PR SV US VE".split()  # noqa: SIM905
)


@dataclass(frozen=True, slots=True)
class ReaderPlace:
    """How a reader's place writes the hour, and what paper lies in the printer there."""

    twelve_hours: bool = False
    letter_paper: bool = False


def reader_of(languages: str) -> ReaderPlace:
    """Return what a browser's list of languages says, by the first that names a territory: "en-US,en;q=0.9" has both."""
    for one in languages.split(",")[:8]:
        parts = one.split(";")[0].strip().replace("_", "-").split("-")
        territory = next((part.upper() for part in parts[1:] if len(part) == 2), None)
        if territory:
            return ReaderPlace(territory in TWELVE_HOURS, territory in LETTER_PAPER)
    return ReaderPlace()


def reader() -> ReaderPlace:
    """Return who reads the page that is being made."""
    if not has_request_context():
        return ReaderPlace()
    if "reader" not in g:
        g.reader = reader_of(request.headers.get("Accept-Language", ""))
    return g.reader  # type: ignore[no-any-return]


def has_letter_paper() -> bool:
    """Return whether to print on paper of Letter size: by the reader's place, or since the household measures in US units."""
    return reader().letter_paper or g.units == Units.US


def hour_word(there: datetime) -> str:
    """Name the hour of a local moment: 14:30, or 2:30 pm where the clock has twelve hours."""
    if not reader().twelve_hours:
        return f"{there:%H:%M}"
    return f"{there.hour % 12 or 12}:{there:%M} {'am' if there.hour < 12 else 'pm'}"
