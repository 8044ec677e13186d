"""What a column may hold: kinds, zones, numbers and letters, as strictly as if they were typed.

A file that came from elsewhere is read by row and held against this, before anything is done with it.
"""

from __future__ import annotations

import json
import math
import re
import sqlite3
from collections.abc import Callable, Collection, Iterator, Mapping
from datetime import date, datetime
from typing import Any
from zoneinfo import available_timezones

from sqlalchemy import JSON, Boolean, Column, Date, Float, Integer, LargeBinary, String

from ...core.base import facts, kinds
from ...core.bottles import flavouring, infusing, ingredients, leaving, park, second_ferment, suggest
from ...core.brewing import kinds as brew_kinds
from ...core.brewing import tools
from ...core.brewing.places import LIGHTS
from ...core.cultures import discs, lineage
from ...core.cultures.conversion import TARGETS
from ...core.judging import instruments, observations
from ...core.liquid import pouring, standing, teas
from ...core.measuring import calibrating
from ...core.notebook import care, experiments, lessons
from ...core.quick import wishes
from ...core.supply.goods import GoodKind
from ...core.tapped import care as tap_care
from .base import Base, UtcTime

MOST_LETTERS, MOST_NAME = 20_000, 300  #: Of a story or note; of a name.
YEARS = (1970, 2200)
MOST_JSON = 5_000_000  #: [letters]
DEEPEST = 12  #: Of what is packed in one column.
LONG = {"story", "note", "reason", "text", "end_note", "ended_note", "says", "word", "question"}  #: May have lines.
TOOL_WORDS = (*instruments.KINDS, *facts.INSTRUMENTS, "estimate", "meter", "strip", "")


def _seen(group: str) -> tuple[str, ...]:
    """List the keys of what may be seen: surfaces, signs or smells."""
    return tuple(key for key, one in observations.OBSERVATIONS.items() if one.group == group)


#: What a column of words may hold.
WORDS: Mapping[str, Collection[str]] = {
    "household.units": ("metric", "us"),
    "household.theme": ("auto", "light", "dark"),
    "household.reads_ph": ("", *kinds.ReadsPh),
    "household.zone": available_timezones(),
    "place.kind": tuple(standing.PlaceKind),
    "place.light": tuple(LIGHTS),
    "place.reach": ("easy", "high"),
    "tool.kind": tuple(tools.TOOLS),
    "vessel.kind": tuple(kinds.VesselKind),
    "vessel.tap_made_of": ("", *tap_care.TAPS),
    "culture.diet": tuple(kinds.Diet),
    "disc.ended_as": ("", *lineage.ENDS),
    "disc_event.kind": tuple(discs.EVENTS),
    "starter_lot.kind": tuple(kinds.StarterKind),
    "starter_lot.kept_in": ("shelf", "fridge"),
    "starter_lot.instrument": TOOL_WORDS,
    "brew.kind": tuple(brew_kinds.KINDS),
    "brew.status": tuple(kinds.BrewStatus),
    "brew.starter_kind": tuple(kinds.StarterKind),
    "brew.starter_instrument": TOOL_WORDS,
    "reading.instrument": TOOL_WORDS,
    "reading.gravity_by": ("", "hydrometer", "refractometer"),
    "reading.depth": ("", "top", "middle", "bottom", "tap"),
    "instrument.kind": tuple(instruments.KINDS),
    "note.about": tuple(kinds.NoteOn),
    "look.surface": _seen("surface"),
    "look.smell": ("", *_seen("smell")),
    "overrule.was": tuple(observations.VerdictWord),
    "overrule.word": tuple(observations.VerdictWord),
    "liquid.kind": tuple(pouring.LiquidKind),
    "transfer.how": tuple(pouring.Way),
    "transfer.lively": ("", *kinds.StarterKind),
    "addition.what": tuple(pouring.Added),
    "bottle_type.kind": tuple(facts.BOTTLES),
    "bottle_type.closure": ("", *park.CLOSURES),
    "bottle.state": tuple(kinds.BottleState),
    "bottle.left_as": ("", *leaving.LEAVINGS),
    "bottling.form": tuple(ingredients.FORMS),
    "bottling.wish": second_ferment.WISHES,
    "bottling.burps": tuple(second_ferment.BURPS),
    "own_ingredient.form": tuple(ingredients.FORMS),
    "flavour_part.form": tuple(ingredients.FORMS),
    "flavour_part.moment": tuple(flavouring.MOMENTS),
    "larder_item.where": tuple(suggest.AT_HAND),
    "infusion.cover": tuple(infusing.COVERS),
    "conversion.target": tuple(TARGETS),
    "quarantine.kind": tuple(kinds.NodeKind),
    "cut_link.source_kind": tuple(kinds.NodeKind),
    "cut_link.target_kind": tuple(kinds.NodeKind),
    "upkeep.what": tuple(tap_care.CARE),
    "score.next_time": ("", "more", "less", "same"),
    "purchase.kind": tuple(GoodKind),
    "cupboard_count.kind": tuple(GoodKind),
    "list_item.kind": tuple(GoodKind),
    "wished.kind": tuple(wishes.WISHES),
    "kept_lesson.standing": tuple(lessons.LessonStands),
    "experiment.kind": ("brew", "bottling", "bottle"),
    "device.kind": tuple(kinds.DeviceKind),
    "set_point.how": ("hand", "season", "pause"),
    "calibration.judged": ("", *calibrating.Judged),
    "care_rhythm.what": tuple(care.CARE),
    "care_done.what": (*care.CARE, care.AFTER_MOULD),
}
#: Numbers by the end of their column's name, the longest first; then what holds for every other.
RANGES: Mapping[str, tuple[float, float]] = {
    "quiet_from": (0, 23), "buffer_bottle.buffer": (4, 7), "slope": (0, 3), "offset_mv": (-2000, 2000), "millivolts": (-2000, 2000), "quiet_to": (0, 23), "hiss": (0, 4), "liked": (0, 5), "number": (0, 1e9), "position": (-1000, 100_000),
    "tasting.score": (-3, 3), "trial_step.score": (-2, 2), "tasting.tea": (0, 3), "tasting.yeast": (0, 3),
    "ph": (0, 14), "gravity": (0.9, 1.4), "off_by": (-14, 14), "celsius": (-60, 150), "_c": (-60, 150), "_l": (0, 100_000),
    "litres": (0, 100_000), "_ml": (0, 1e8), "_cm": (0, 10_000), "_mm": (0, 10_000), "_bar": (0, 1000), "_w": (0, 100_000),
    "_g_per_l": (0, 2000), "_meq_per_l": (-100, 100), "share": (0, 1), "fraction": (0, 1), "grams": (0, 1e8), "_g": (0, 1e8),
    "abv": (0, 100), "vigour": (0, 1000), "_sd": (0, 100), "buffer": (-5, 5), "hours": (0, 100_000), "days": (0, 100_000), "volumes": (0, 100),
    "version": (1, 2**40), "error": (0, 100), "_s": (-1e11, 1e11), "width": (1, 100_000), "height": (1, 100_000),
}  # fmt: skip
_UNSEEN = re.compile(r"[\x00-\x08\x0e-\x1f\x7f\ud800-\udfff]")
_LINE_END = re.compile(r"[\r\n\x0b\x0c\x85\u2028\u2029]")
Check = Callable[[Any], bool]


def _number(low: float, high: float, whole: bool) -> Check:
    kinds_ = int if whole else (int, float)
    return lambda value: isinstance(value, kinds_) and math.isfinite(value) and low <= value <= high


def _text(most: int, lines: bool) -> Check:
    def fits(value: Any) -> bool:
        plain = isinstance(value, str) and len(value) <= most and not _UNSEEN.search(value)
        return plain and (lines or not _LINE_END.search(value))

    return fits


def _moment(value: Any) -> bool:
    try:
        return isinstance(value, str) and YEARS[0] <= datetime.fromisoformat(value).year <= YEARS[1]
    except ValueError:
        return False


def _day(value: Any) -> bool:
    try:
        return isinstance(value, str) and YEARS[0] <= date.fromisoformat(value).year <= YEARS[1]
    except ValueError:
        return False


def _plain(value: Any, depth: int = DEEPEST) -> bool:
    """Return whether something packed holds plain finite values only, not too deep."""
    if depth == 0:
        return False
    if isinstance(value, dict):
        return all(isinstance(key, str) and _plain(one, depth - 1) for key, one in value.items())
    if isinstance(value, list):
        return all(_plain(one, depth - 1) for one in value)
    if isinstance(value, float):
        return math.isfinite(value)
    if isinstance(value, int):
        return abs(value) < 2**53
    return value is None or (isinstance(value, str) and not _UNSEEN.search(value))


def _numbers(value: Any, whole: bool = False) -> bool:
    kinds_ = int if whole else (int, float)
    return isinstance(value, list) and all(isinstance(one, kinds_) and not isinstance(one, bool) for one in value)


def _rows(value: Any, *lengths: int) -> bool:
    return isinstance(value, list) and all(_numbers(one) and len(one) in lengths for one in value)


def _changes(value: Any) -> bool:
    def fits(row: Any) -> bool:
        return isinstance(row, list) and len(row) == 4 and isinstance(row[0], str) and isinstance(row[1], int)

    return isinstance(value, list) and all(fits(row) and all(one is None or isinstance(one, dict) for one in row[2:]) for row in value)


def _sheets(value: Any) -> bool:
    def fits(one: Any) -> bool:
        return isinstance(one, dict) and isinstance(one.get("taster"), int) and isinstance(one.get("letter"), str)

    return isinstance(value, list) and all(map(fits, value))


def _evidence(value: Any) -> bool:
    return isinstance(value, list) and all(isinstance(one, list) and len(one) == 2 and isinstance(one[0], str) and isinstance(one[1], int) for one in value)


def _told(value: Any, last: range) -> bool:
    """Return whether each row is a taster, one of a few, and what was said of it."""
    return _rows(value, 3) and all(_numbers(one, whole=True) and one[2] in last for one in value)


PACKED: Mapping[str, Check] = {
    "kept_lesson.evidence": _evidence,
    "kept_lesson.applies": lambda value: isinstance(value, dict) and all(isinstance(one, str) for one in value.values()),
    "experiment.arms": lambda value: isinstance(value, list) and len(value) == 2 and all(_numbers(arm if isinstance(arm, list) else [arm], whole=True) for arm in value),
    "experiment.labels": lambda value: _numbers(value, whole=True) and len(value) == 2,
    "experiment.sheets": lambda value: _told(value, range(1, 6)) and all(arm in (0, 1) for _, arm, _ in value),
    "experiment.triangles": lambda value: _told(value, range(experiments.PLACES)),
    "calibration.points": lambda value: _rows(value, 3),
    "temperature_log.doubtful": lambda value: isinstance(value, list) and all(isinstance(one, list) and len(one) == 3 and _numbers(one[:2]) and isinstance(one[2], str) for one in value),
    "bottling.start": lambda value: _numbers(value) and len(value) in {0, 8},
    "infusion.start": lambda value: _numbers(value) and len(value) == 8,
    "transfer.start": lambda value: value is None or (_numbers(value) and len(value) == 8),
    "look.signs": lambda value: isinstance(value, list) and all(one in _seen("sign") for one in value),
    "own_ingredient.months": lambda value: _numbers(value, whole=True) and all(1 <= one <= 12 for one in value),
    "comparison.glasses": lambda value: _numbers(value, whole=True),
    "blind_tasting.brews": lambda value: _numbers(value, whole=True),
    "blind_tasting.sheets": _sheets,
    "temperature_log.points": lambda value: _rows(value, 2),
    "lesson.covariance": lambda value: _numbers(value) and len(value) in {0, 6},
    "lesson.tasted": lambda value: _rows(value, 5),
    "lesson.tests": lambda value: _rows(value, 6),
    "change.rows": _changes,
    "overrule.against": lambda value: isinstance(value, list) and all(isinstance(one, str) for one in value),
    "score.sheet": lambda value: isinstance(value, dict) and all(isinstance(one, int | float | str) for one in value.values()),
}


def _packed(name: str) -> Check:
    inner = PACKED.get(name, lambda value: isinstance(value, dict))

    def fits(text: Any) -> bool:
        if not isinstance(text, str) or len(text) > MOST_JSON:
            return False
        try:
            value = json.loads(text)
        except (ValueError, RecursionError):
            return False
        return _plain(value) and inner(value)

    return fits


def _tea(value: Any) -> bool:
    try:
        return isinstance(value, str) and bool(teas.from_text(value))
    except Exception:  # whatever a strange text raises
        return False


def _range(table: str, column: str) -> tuple[float, float]:
    if (own := RANGES.get(f"{table}.{column}")) is not None:
        return own
    ends = [end for end in RANGES if column == end or column.endswith(end if end.startswith("_") else f"_{end}")]
    return RANGES[max(ends, key=len)] if ends else (-1e12, 1e12)


def _check_of(table: str, column: Column[Any]) -> Check:
    name, kind = f"{table}.{column.name}", column.type
    if name in WORDS:
        known = frozenset(str(word) for word in WORDS[name])
        return lambda value: value in known
    if name in {"brew.tea", "brew.starter_tea"}:
        return _tea
    if isinstance(kind, Boolean):
        return lambda value: value in (0, 1) and isinstance(value, int)
    if isinstance(kind, Integer):
        return _number(1, 2**53, True) if column.foreign_keys or column.primary_key else _number(*_range(table, column.name), True)
    if isinstance(kind, Float):
        return _number(*_range(table, column.name), False)
    if isinstance(kind, UtcTime):
        return _moment
    if isinstance(kind, Date):
        return _day
    if isinstance(kind, LargeBinary):
        return lambda value: isinstance(value, bytes) and value[:2] == b"\xff\xd8"
    if isinstance(kind, JSON):
        return _packed(name)
    if isinstance(kind, String):
        return _text(MOST_LETTERS, True) if column.name in LONG else _text(MOST_NAME, False)
    return lambda value: value is None or isinstance(value, str | int | float)


def problems(connection: sqlite3.Connection) -> Iterator[str]:
    """Yield what does not fit, row by row, as "place 3: celsius cannot be 1e9".

    Args:
        connection: On a file of today's layout; it is only read.
    """
    for table in Base.metadata.sorted_tables:
        columns = [column for column in table.columns if not column.computed]
        checks = [(column.name, bool(column.nullable), _check_of(table.name, column)) for column in columns]
        chosen = ", ".join(f'"{column.name}"' for column in columns)
        for number, *values in connection.execute(f'SELECT id, {chosen} FROM "{table.name}"'):
            for (name, nullable, fits), value in zip(checks, values, strict=True):
                if not (nullable if value is None else fits(value)):
                    yield f"{table.name} {str(number)[:20]}: {name} cannot be {_shown(value)}"


def _shown(value: Any) -> str:
    text = "nothing" if value is None else "a picture" if isinstance(value, bytes) else repr(value)
    return text if len(text) <= 40 else f"{text[:37]}..."
