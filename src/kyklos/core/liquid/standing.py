"""Where a vessel or bottle stood and how warm it was there: measured where somebody measured, as the place usually is else."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..base import require_between
from .temperature import Course

JUMP_DAYS = 0.001  #: A move to another place takes so long in a course. [d]
FRIDGE_C, FRIDGE_SD_K = 6.0, 2.0  #: A fridge that nobody measured (assumed). [degC, K]
ROOM_SD_K = 2.0  #: A room that somebody measured within two weeks (assumed). [K]
UNMEASURED_SD_K, UNMEASURED_WARMER_K = 3.0, 2.0  #: One that nobody did: how unsure, and by how much it is rather warmer (assumed). [K]
SETTLES_DAYS = 0.5  #: What was poured or moved takes so long to its place's warmth. [d]
BACK_DAYS = 1.0  #: A first measurement so soon tells of the beginning too (assumed). [d]
FAR_OFF_K = 4.0  #: A room so far from its usual warmth is another room (assumed). [K]
ANCHOR_DAYS = 14.0  #: Between two looks at the season. [d]
HOLDS_DAYS = 14.0  #: A measurement of a place tells its warmth so long before and after. [d]

Points = tuple[tuple[float, float], ...]


class PlaceKind(StrEnum):
    """What a place is."""

    ROOM = "room"
    FRIDGE = "fridge"
    OUTDOORS = "outdoors"  #: Nothing stands there but a thermometer.


@dataclass(frozen=True, slots=True, kw_only=True)
class Stood:
    """One stay of a vessel or bottle in a place. Days count from the pitch or the filling."""

    since: float  #: [d]
    until: float | None  #: None: still there. [d]
    usual_c: float  #: As the place usually is when the stay begins. [degC]
    heater_c: float | None = None  #: Set point of a heater; None: there is none. [degC]

    def __post_init__(self) -> None:
        require_between(-20, 60, "degC", usual_c=self.usual_c)

    @property
    def unmeasured_c(self) -> float:
        """Warmth where nothing was measured: the place's, or the heater's where that is warmer. [degC]"""
        return self.usual_c if self.heater_c is None else max(self.usual_c, self.heater_c)


def far_off(stay: Stood, celsius: float) -> bool:
    """Return whether so warm or cold is not the place as it usually is: a heater failed, a window stands open. [degC]"""
    return abs(celsius - stay.unmeasured_c) > FAR_OFF_K


def course_through(stays: Sequence[Stood], measured: Points) -> Course:
    """Join what was measured and where it stood to one course.

    Within a stay the course runs straight between measurements; the first of them holds back to the beginning of the
    stay. After the last one, and in a stay without any, the place's usual warmth is expected. What is far off from that came at some
    time before it was measured, and goes on until somebody measures again. A move never changes what came before it.

    Args:
        stays: In order of time; at least one.
        measured: (day, degC) in order of time.

    >>> cold = Stood(since=4.0, until=None, usual_c=16.0)
    >>> course_through([Stood(since=0.0, until=4.0, usual_c=22.0), cold], ((1.0, 24.0),)).points
    ((1.0, 24.0), (1.001, 22.0), (4.0, 22.0), (4.001, 16.0))
    """
    if len(stays) == 1:
        return Course((*_begins(stays[0], measured, 0.0), *measured), _after(stays[0], measured))
    points: list[tuple[float, float]] = []
    for number, stay in enumerate(stays):
        start = -1.0 if number == 0 else stay.since
        end = float("inf") if stay.until is None else stay.until
        inside = [(day, celsius) for day, celsius in measured if start <= day < end]
        if number:
            first = inside[0][1] if inside and not far_off(stay, inside[0][1]) else stay.unmeasured_c
            points.append((stay.since + JUMP_DAYS, first))
        else:
            points += _begins(stay, inside, 0.0)
        points += [point for point in inside if not points or point[0] > points[-1][0]]
        if stay.until is None:
            return Course(tuple(points), _after(stay, inside))
        points += _until_moved(stay, inside, points[-1][0] if points else 0.0)
    return Course(tuple(points), stays[-1].unmeasured_c)


def _begins(stay: Stood, inside: Sequence[tuple[float, float]], day: float) -> list[tuple[float, float]]:
    """Return the usual warmth at a stay's beginning where its first measurement is far off, else nothing."""
    late = bool(inside) and inside[0][0] > day + BACK_DAYS
    return [(day, stay.unmeasured_c)] if late and far_off(stay, inside[0][1]) else []


def _after(stay: Stood, inside: Sequence[tuple[float, float]]) -> float:
    """Return what is expected after a stay's last measurement. [degC]"""
    settled = bool(inside) and inside[-1][0] >= max(0.0, stay.since) + SETTLES_DAYS
    return inside[-1][1] if settled and far_off(stay, inside[-1][1]) else stay.unmeasured_c


def _until_moved(stay: Stood, inside: list[tuple[float, float]], last: float) -> list[tuple[float, float]]:
    """Points from a stay's last measurement to its end, as warm as it is expected to go on."""
    end, then = stay.until or 0.0, _after(stay, inside)
    out = [(last + JUMP_DAYS, then)] if inside and last + JUMP_DAYS < end else []
    return [*out, (end, then)] if end > last else []


def place_points(
    start: float, end: float, measured: Sequence[tuple[float, float]], usual: Callable[[float], float]
) -> list[tuple[float, float]]:
    """Follow a place's warmth over a stay: what was measured there, and the season where nobody measured.

    Args:
        start, end: Of the stay. [d]
        measured: (day, degC) in this place in order of time, also before the stay.
        usual: Gives the place's usual warmth at a day. [d -> degC]

    Returns: (day, degC) in order of time, the first at the start, the last at the end.

    >>> place_points(0, 20, [(1.0, 25.0)], lambda day: 20.0)
    [(0, 25.0), (1.0, 25.0), (15.0, 25.0), (15.001, 20.0), (20, 20.0)]
    """
    near = [(day, celsius) for day, celsius in measured if start - HOLDS_DAYS <= day <= end]
    out = [(start, _at_start(start, near, usual))]
    for day, celsius in near:
        if day > out[-1][0]:
            out += _season(out[-1][0], day - HOLDS_DAYS, usual)
            if day - HOLDS_DAYS > out[-1][0]:
                out.append((day - HOLDS_DAYS, celsius))
            out.append((day, celsius))
    held = (near[-1][0] if near else start - HOLDS_DAYS) + HOLDS_DAYS
    if near and held > out[-1][0]:
        out.append((min(held, end), near[-1][1]))
    if end > out[-1][0]:
        begins = out[-1][0] + JUMP_DAYS
        out += [(begins, usual(begins))] if near and begins < end else []
        out += _season(out[-1][0], end, usual)
        out.append((end, usual(end)))
    return out


def place_doubts(start: float, end: float, measured: Sequence[float]) -> list[tuple[float, float, float]]:
    """Return how unsure a room's warmth is over a stay: less where somebody measured within two weeks.

    Args:
        start, end: Of the stay. [d]
        measured: Days on which it was measured, in order of time.

    Returns: From each day on: its spread, and by how much it is rather warmer than its recorded warmth. [d, K, K]

    >>> place_doubts(0, 30, [1.0]), place_doubts(0, 30, [])
    ([(0, 2.0, 0.0), (15.0, 3.0, 2.0)], [(0, 3.0, 2.0)])
    """
    out: list[tuple[float, float, float]] = []
    known = start
    for day in measured:
        begins, ends = max(start, day - HOLDS_DAYS), min(end, day + HOLDS_DAYS)
        if ends <= begins or (ends <= known and out):
            continue
        if begins > known:
            out.append((known, UNMEASURED_SD_K, UNMEASURED_WARMER_K))
        if begins > known or not out:
            out.append((begins, ROOM_SD_K, 0.0))
        known = max(known, ends)
    if known < end or not out:
        out.append((known, UNMEASURED_SD_K, UNMEASURED_WARMER_K))
    return out


def _at_start(start: float, near: Sequence[tuple[float, float]], usual: Callable[[float], float]) -> float:
    before = [celsius for day, celsius in near if day <= start]
    after = [celsius for day, celsius in near if start < day <= start + HOLDS_DAYS]
    return before[-1] if before else after[0] if after else usual(start)


def _season(start: float, end: float, usual: Callable[[float], float]) -> list[tuple[float, float]]:
    """Look at the season every so many days between two days, both left out."""
    out, day = [], start + ANCHOR_DAYS
    while day < end:
        out.append((day, usual(day)))
        day += ANCHOR_DAYS
    return out
