"""The almanac: days from left to right, a lane for each vessel and shelf, brews as bars, windows fading where unsure."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from .shapes import Label

LEFT, DAY, TOP, LANE = 162.0, 24.4, 62.0, 58.0


@dataclass(frozen=True, slots=True)
class Bar:
    """A brew or bottles, in days from today. Its windows: name, 10 %, likely, 90 %."""

    name: str
    start: float
    end: float
    state: str  #: alive, harvested, discarded, held, bottles, hotel or planned
    address: str = ""
    windows: Sequence[tuple[str, float, float, float]] = ()
    says: str = ""


@dataclass(frozen=True, slots=True)
class Mark:
    """A day with a name: planned, chill by, look."""

    kind: str  #: harvest, brew, chill, feed, look or back
    day: int  #: From today.
    name: str
    key: int = 0  #: Of what can be moved.
    vessel: int = 0


@dataclass(frozen=True, slots=True)
class LaneFacts:
    """One lane."""

    name: str
    place: str
    bars: Sequence[Bar] = ()
    marks: Sequence[Mark] = ()


@dataclass(frozen=True, slots=True)
class BarShape:
    """A bar as drawn."""

    bar: Bar
    x: float
    y: float
    width: float
    windows: tuple[tuple[float, float, float, str, int], ...]  #: x, width, x of likely, name, lane of hatching
    label: Label | None


@dataclass(frozen=True, slots=True)
class MarkShape:
    """A mark as drawn."""

    mark: Mark
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class Lane:
    """A lane as drawn."""

    name: str
    place: str
    first_of_place: bool
    y: float
    bars: tuple[BarShape, ...]
    marks: tuple[MarkShape, ...]


@dataclass(frozen=True, slots=True)
class Almanac:
    """Shapes in a box of `width` by `height`."""

    width: float
    height: float
    today_x: float
    lanes: tuple[Lane, ...]
    days: tuple[tuple[float, date], ...]
    weeks: tuple[Label, ...]
    away: tuple[float, float] | None
    day_width: float = DAY
    left: float = field(default=LEFT)


def _inside(value: float, low: float, high: float) -> float:
    return min(max(value, low), high)


def almanac(
    lanes: Sequence[LaneFacts], today: date, behind: int, ahead: int, away: tuple[int, int] | None = None
) -> Almanac:
    """Draw the almanac.

    Args:
        lanes: In the order of the round.
        today: The day that stands between behind and ahead.
        behind, ahead: Days shown before and after today.
        away: An absence, in days from today.
    """
    right = LEFT + (behind + ahead) * DAY

    def x(day: float) -> float:
        return _inside(LEFT + (day + behind) * DAY, LEFT, right)

    drawn, last_place = [], ""
    for number, lane in enumerate(lanes):
        y = TOP + number * LANE
        bars = tuple(_bar(bar, y, x, right) for bar in lane.bars if bar.end > -behind and bar.start < ahead)
        marks = tuple(MarkShape(m, x(m.day) + DAY / 2, y) for m in lane.marks if -behind <= m.day < ahead)
        drawn.append(Lane(lane.name, lane.place, lane.place != last_place, y, bars, marks))
        last_place = lane.place
    days = tuple((x(d), today + timedelta(days=d)) for d in range(-behind, ahead))
    weeks = tuple(
        Label(at + 3, 20, f"{day.day} {day:%b}", "start") for at, day in days if day.weekday() == 0 and at < right - 40
    )
    height = TOP + max(1, len(lanes)) * LANE + 12
    gone = (x(away[0]), x(away[1] + 1)) if away is not None and away[1] >= -behind and away[0] < ahead else None
    return Almanac(right + 8, height, x(0), tuple(drawn), days, weeks, gone)


def _bar(bar: Bar, y: float, x, right: float) -> BarShape:  # type: ignore[no-untyped-def]
    start, end = x(bar.start), x(bar.end)
    windows = tuple(
        (x(low), max(4.0, x(high) - x(low)), x(likely), name, lane % 2)
        for lane, (name, low, likely, high) in enumerate(bar.windows[:2])
        if x(high) > LEFT
    )
    width = max(6.0, end - start)
    return BarShape(bar, start, y + 12, width, windows, _name(bar.name, start, end, y, windows))


def _name(
    name: str, start: float, end: float, y: float, windows: Sequence[tuple[float, float, float, str, int]]
) -> Label | None:
    """Place a bar's name where no window lies: before them, else behind them."""
    first, last = min((w[0] for w in windows), default=end), max((w[0] + w[1] for w in windows), default=start)
    for left, right in ((start, max(start, first)), (last, end)):
        if name and right - left > 7.2 * len(name) + 10:
            return Label(left + 7, y + 30, name, "start")
    return None
