"""The almanac: days from left to right, a lane for each vessel and shelf, brews as ribbons that darken as they sour."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from itertools import pairwise

from .dial import Dial
from .shapes import Label

LEFT, DAY, TOP, LANE = 162.0, 24.4, 66.0, 66.0
MIDDLE = 38.0  #: Of a lane, where its ribbon runs.
THIN, THICK, USUAL, NAMED = 9.0, 34.0, 14.0, 17.0  #: Of ribbons; a thinner one than the last has no room for its name.
DIAL = 42.0
LEAST_MEETING = 0.5  #: Windows that share less are told apart. [d]
#: A brew's colour from sweet tea (0) to vinegar (1).
TEA = ((0.0, "#f0d9a0"), (0.4, "#dfae62"), (0.62, "#c47a3a"), (0.8, "#95492b"), (1.0, "#7b2d43"))


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
    litres: float | None = None  #: Of what stands there; None: it is as thick as most. [L]
    course: Sequence[tuple[float, float]] = ()  #: Days from today, and how far from sweet tea to vinegar, 0 to 1.
    dial: Dial | None = None  #: Of what stands there now.


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
    """What one lane of the almanac is drawn from."""

    name: str
    place: str
    bars: Sequence[Bar] = ()
    marks: Sequence[Mark] = ()


@dataclass(frozen=True, slots=True)
class WindowShape:
    """When a brew is right for somebody, as a line above its ribbon."""

    x: float
    y: float
    width: float
    name: str
    label: Label | None


@dataclass(frozen=True, slots=True)
class BarShape:
    """A ribbon as drawn: as thick as what stands in the jar, darkening as it sours."""

    bar: Bar
    x: float
    y: float  #: Its upper edge.
    width: float
    height: float
    path: str
    colours: tuple[tuple[float, str], ...]  #: Where on it, 0 to 1, and the colour there; empty: it is of one colour.
    windows: tuple[WindowShape, ...]
    label: Label | None
    dial_x: float | None = None  #: Where its dial stands, at today; None: it has none.


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
    shows_today: bool = True  #: Today lies within it.
    left: float = field(default=LEFT)


def _inside(value: float, low: float, high: float) -> float:
    return min(max(value, low), high)


def almanac(
    lanes: Sequence[LaneFacts], today: date, behind: int, ahead: int, away: tuple[int, int] | None = None, thickest_l: float | None = None
) -> Almanac:
    """Draw the almanac.

    Args:
        lanes: In the order of the round.
        today: The day that stands between behind and ahead.
        behind, ahead: Days shown before and after today; a stretch that ended before today has a negative `ahead`.
        away: An absence, in days from today.
        thickest_l: What the thickest ribbon stands for; the most of these lanes unless given. [L]
    """
    right = LEFT + (behind + ahead) * DAY

    def x(day: float) -> float:
        return _inside(LEFT + (day + behind) * DAY, LEFT, right)

    most = thickest_l or max((bar.litres or 0.0 for lane in lanes for bar in lane.bars), default=0.0)
    drawn, last_place = [], ""
    for number, lane in enumerate(lanes):
        y = TOP + number * LANE
        bars = tuple(_bar(bar if ahead > 0 else replace(bar, dial=None), y, x, most) for bar in lane.bars if bar.end > -behind and bar.start < ahead)
        marks = tuple(MarkShape(m, x(m.day) + DAY / 2, y) for m in lane.marks if -behind <= m.day < ahead)
        drawn.append(Lane(lane.name, lane.place, lane.place != last_place, y, bars, marks))
        last_place = lane.place
    days = tuple((x(d), today + timedelta(days=d)) for d in range(-behind, ahead))
    weeks = tuple(
        Label(at + 3, 20, f"{day.day} {day:%b}", "start") for at, day in days if day.weekday() == 0 and at < right - 40
    )
    height = TOP + max(1, len(lanes)) * LANE + 12
    gone = (x(away[0]), x(away[1] + 1)) if away is not None and away[1] >= -behind and away[0] < ahead else None
    return Almanac(right + 8, height, x(0), tuple(drawn), days, weeks, gone, shows_today=ahead > 0)


def _bar(bar: Bar, y: float, x: Callable[[float], float], most_l: float) -> BarShape:
    start, end = x(bar.start), x(bar.end)
    width, height = max(6.0, end - start), _thickness(bar.litres, most_l)
    top = y + MIDDLE - height / 2
    windows = _windows(bar, top, x)
    dial = x(0.0) if bar.dial is not None else None
    label = _name(bar.name, start, end, y, dial, height)
    cut = x(bar.start - 1) == start, x(bar.end + 1) == end  # it goes on beyond what is shown
    return BarShape(bar, start, top, width, height, _ribbon(start, top, width, height, *cut), _colours(bar, start, width, x), windows, label, dial)


def _thickness(litres: float | None, most_l: float) -> float:
    """Return how thick a ribbon is: by what stands in the jar. [L]"""
    if litres is None:
        return USUAL
    return THIN + (THICK - THIN) * min(1.0, max(0.0, litres) / max(most_l, 0.5))


def _ribbon(x: float, y: float, width: float, height: float, cut_left: bool, cut_right: bool) -> str:
    """Draw a ribbon: it begins in a point, as liquid poured, and ends round; where it is cut off it ends straight."""
    tip, bend = min(12.0, width / 3), 0.0 if cut_right else min(8.0, width / 3, height / 2)
    right, low, middle = x + width, y + height, y + height / 2
    ends = f"H{right - bend:.1f}Q{right:.1f} {y:.1f} {right:.1f} {y + bend:.1f}V{low - bend:.1f}Q{right:.1f} {low:.1f} {right - bend:.1f} {low:.1f}"
    if cut_left:
        return f"M{x:.1f} {y:.1f}{ends}H{x:.1f}"
    return (
        f"M{x:.1f} {middle:.1f}Q{x + tip * 0.4:.1f} {y:.1f} {x + tip:.1f} {y:.1f}{ends}"
        f"H{x + tip:.1f}Q{x + tip * 0.4:.1f} {low:.1f} {x:.1f} {middle:.1f}Z"
    )


def _colours(bar: Bar, start: float, width: float, x: Callable[[float], float]) -> tuple[tuple[float, str], ...]:
    """Return the colours of a ribbon along its course, from sweet tea to vinegar, where they stand on the part that is in sight."""
    return tuple((round(min(1.0, max(0.0, (x(day) - start) / width)), 3), tea_colour(share)) for day, share in bar.course)


def tea_colour(share: float) -> str:
    """Return the colour of a brew by how far it is from sweet tea (0) to vinegar (1).

    >>> tea_colour(0.0), tea_colour(1.0)
    ('#f0d9a0', '#7b2d43')
    """
    for (low, one), (high, two) in pairwise(TEA):
        if share <= high:
            part = (share - low) / (high - low)
            mixed = (round(a + (b - a) * part) for a, b in zip(_rgb(one), _rgb(two), strict=True))
            return "#" + "".join(f"{value:02x}" for value in mixed)
    return TEA[-1][1]


def _rgb(colour: str) -> tuple[int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def _windows(bar: Bar, top: float, x: Callable[[float], float]) -> tuple[WindowShape, ...]:
    """Draw when it is right: for all of them where they meet, else for each."""
    shown = [(name, low, high) for name, low, _, high in bar.windows if x(high) > LEFT]
    low, high = max((w[1] for w in shown), default=0.0), min((w[2] for w in shown), default=0.0)
    meet = len(shown) > 1 and high - low >= LEAST_MEETING
    if meet:
        shown = [("both" if len(shown) == 2 else "all", low, high)]
    out = []
    for number, (name, first, last) in enumerate(shown):
        left, y = x(first), top - 6 - 5 * (len(shown) - 1 - number)
        text = f"right for {name}" if name else "right"
        label = Label(left, y - 4, text, "start") if meet or len(shown) == 1 else None
        out.append(WindowShape(left, y, max(4.0, x(last) - left), name, label))
    if not meet and len(shown) > 1:
        names = " and ".join(name for name, *_ in shown)
        over = Label(min(window.x for window in out), out[0].y - 4, f"right for {names}", "start")
        out[0] = replace(out[0], label=over)
    return tuple(out)


def _name(name: str, start: float, end: float, y: float, dial: float | None, height: float) -> Label | None:
    """Place a ribbon's name at its beginning, if there is room before its dial."""
    if height < NAMED:
        return None
    right = end if dial is None else min(end, dial - DIAL / 2)
    return Label(start + 14, y + MIDDLE + 5, name, "start") if name and right - start > 7.2 * len(name) + 22 else None
