"""The day book: every change of the household in order, by day and by thing; each can be undone as long as nothing builds on it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from itertools import groupby

from flask import Blueprint, Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import ConflictError
from ....actions.undo import Undo, undo
from ....core.base.kinds import ThingKind
from ....core.base.saying import spoken
from ....store.read import day_book, queries
from ....store.records import Bottling, Brew, Change, Culture, Disc, Place, StarterLot, Vessel
from ...kit.acting import act, in_units
from ...kit.numbers import number_of, whole
from ...kit.render import page
from ...kit.words import local

bp = Blueprint("day_book", __name__, url_prefix="/day-book", template_folder="templates")
A_PAGE = 40  #: Changes on one page.
MOST_THINGS = 3  #: So many things are named beside a change.


@dataclass(frozen=True, slots=True)
class ChangedThing:
    """Something of the household that a change was about."""

    key: str
    name: str
    address: str


@dataclass(frozen=True, slots=True)
class Line:
    """One change in the book."""

    change: Change
    says: str
    things: tuple[ChangedThing, ...]
    undoable: bool
    part_of: int | None = None  #: The brew day it belongs to.


@dataclass(frozen=True, slots=True)
class Entry:
    """What stands in the book at once: a change, with those before it of the same brew day and date folded under it."""

    line: Line
    folded: tuple[Line, ...]


def _brew_thing(brew: Brew) -> ChangedThing:
    name = f"{brew.vessel.name}, {brew.culture.name}"
    return ChangedThing(f"brew-{brew.id}", name, url_for("brews.show", number=brew.id))


def _thing(kind: str, number: int) -> ChangedThing | None:
    """Name a thing and say where it is shown; None where it is there no more."""
    key = f"{kind}-{number}"
    if kind == ThingKind.BREW and (brew := queries.find(g.session, Brew, number)) is not None:
        return _brew_thing(brew)
    if kind == ThingKind.CULTURE and (line := queries.find(g.session, Culture, number)) is not None:
        return ChangedThing(key, line.name, url_for("cultures.line", number=number))
    if kind == ThingKind.VESSEL and (vessel := queries.find(g.session, Vessel, number)) is not None:
        return ChangedThing(key, vessel.name, url_for("vessels.edit", number=number))
    if kind == ThingKind.DISC and (disc := queries.find(g.session, Disc, number)) is not None:
        return ChangedThing(key, disc.name, url_for("cultures.disc", number=number))
    if kind == ThingKind.STARTER_LOT and (lot := queries.find(g.session, StarterLot, number)) is not None:
        return ChangedThing(
            key, f"starter of {lot.culture.name}", url_for("cultures.line", number=lot.culture_id) + "#starters"
        )
    if kind == ThingKind.BOTTLING and queries.find(g.session, Bottling, number) is not None:
        return ChangedThing(key, "bottles", url_for("cellar.show"))
    if kind == ThingKind.PLACE and (place := queries.find(g.session, Place, number)) is not None:
        return ChangedThing(key, place.name, url_for("vessels.show"))
    return None


def _things(found: list[tuple[str, int]], known: dict[int, Brew]) -> tuple[ChangedThing, ...]:
    """Name what a change was about: its brews, or what else there is where it had none."""
    brews = [known[number] for kind, number in found if kind == ThingKind.BREW and number in known]
    if brews:
        return tuple(_brew_thing(brew) for brew in brews[:MOST_THINGS])
    named = (_thing(*one) for one in found[:MOST_THINGS])
    return tuple(thing for thing in named if thing is not None)


def _asked() -> tuple[str, int] | None:
    """Read which thing the book is asked for."""
    kind, _, number = request.args.get("of", "").rpartition("-")
    found = whole(number)
    return (kind, found) if kind in day_book.THINGS and found is not None else None


def _lines(rows: list[Change]) -> list[Line]:
    able, touched = day_book.undoable(g.session, rows), day_book.touched_by(g.session, [row.id for row in rows])
    numbers = {number for found in touched.values() for kind, number in found if kind == ThingKind.BREW}
    brews = {brew.id: brew for brew in day_book.brews(g.session, numbers)}
    days = day_book.brew_days_of(g.session, [row.id for row in rows])
    return [Line(row, spoken(row.says, in_units), _things(touched[row.id], brews), row.id in able, days.get(row.id)) for row in rows]


def _entries(lines: list[Line]) -> list[Entry]:
    """Fold the changes of a brew day, the newest first, under its last one."""
    out: dict[object, list[Line]] = {}
    for line in lines:
        out.setdefault(line.change.id if line.part_of is None else ("brew day", line.part_of), []).append(line)
    return [Entry(first, tuple(rest)) for first, *rest in out.values()]


def _day(line: Line) -> date:
    return local(line.change.at, g.household.zone).date()


@bp.get("/")
def show() -> Response:
    """Show a page of the book."""
    thing, before = _asked(), request.args.get("before", type=number_of)
    rows = day_book.changes(g.session, before, A_PAGE + 1, thing)
    lines = _lines(rows[:A_PAGE])
    return page(
        "day_book/show.html",
        days=[(some[0].change.at, _entries(some)) for some in (list(group) for _, group in groupby(lines, key=_day))],
        thing=_thing(*thing) if thing is not None else None,
        of=request.args.get("of", ""),
        older=rows[A_PAGE - 1].id if len(rows) > A_PAGE else None,
        newest=before is None,
    )


@bp.post("/<int:number>/undo")
def take_back(number: int) -> Answer:
    """Undo a change of any day; say what builds on it where something does."""
    change = queries.find(g.session, Change, number)
    if change is None:
        abort(404)
    back = request.form.get("of", "")
    try:
        act(undo, Undo(number))
    except ConflictError as conflict:
        later = day_book.builds_on(g.session, change)
        return page(
            "day_book/blocked.html",
            None,
            409,
            line=_lines([change])[0],
            later=_lines([later])[0] if later is not None else None,
            problem=str(conflict),
            of=back,
        )
    return redirect(url_for(".show", of=back) if back else url_for(".show"), 303)
