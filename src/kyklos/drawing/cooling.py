"""How the hot part cools: a curve for each way, the temperature wanted, and when each reaches it."""

from __future__ import annotations

from dataclasses import dataclass

from .shapes import Label, path_through

WIDTH, HEIGHT = 430.0, 210.0
LEFT, RIGHT, TOP, BOTTOM = 62.0, 416.0, 16.0, 176.0


@dataclass(frozen=True, slots=True)
class Cool:
    """One way of cooling, drawn."""

    key: str
    path: str
    done: tuple[float, float] | None
    name: Label


@dataclass(frozen=True, slots=True)
class Cooling:
    """The picture."""

    ways: tuple[Cool, ...]
    target_y: float
    levels: tuple[Label, ...]
    times: tuple[Label, ...]
    logged: tuple[float, float] | None


def _step(hours: float) -> float:
    return next(step for step in (1 / 6, 0.25, 0.5, 1.0, 2.0, 4.0, 8.0, 24.0) if hours / step <= 6 or step == 24.0)


def _time(hours: float) -> str:
    return f"{hours * 60:.0f} min" if hours < 1 else f"{hours:g} h"


def cooling(
    ways: list[tuple[str, str, tuple[tuple[float, float], ...], float | None]],
    target_c: float,
    logged: tuple[float, float] | None = None,
) -> Cooling:
    """Draw cooling curves.

    Args:
        ways: Key, name, course of (hours, degC), and hours to the target.
        target_c: Wanted. [degC]
        logged: One temperature measured on the way. [h, degC]
    """
    longest = max((course[-1][0] for _, _, course, _ in ways), default=1.0)
    longest = max(longest, logged[0] if logged else 0.0, 0.1)
    hottest = max(max(c for _, c in course) for _, _, course, _ in ways)
    coldest = min(min(c for _, c in course) for _, _, course, _ in ways)
    top, low = hottest + 4, min(coldest, target_c) - 4

    def at(hours: float, celsius: float) -> tuple[float, float]:
        return LEFT + (RIGHT - LEFT) * hours / longest, BOTTOM - (BOTTOM - TOP) * (celsius - low) / (top - low)

    drawn = []
    for key, name, course, hours in ways:
        done = at(hours, target_c) if hours is not None else None
        end = at(*course[len(course) // 2])
        x, y = done if done is not None else end
        near = x > RIGHT - 90
        drawn.append(
            Cool(
                key,
                path_through([at(*p) for p in course]),
                done,
                Label(x - 8 if near else x + 8, y - 8, name, "end" if near else "start"),
            )
        )
    step = _step(longest)
    times = [Label(at(n * step, low)[0], BOTTOM + 20, _time(n * step)) for n in range(int(longest / step + 1e-6) + 1)]
    first = int(low // 20 + 1) * 20
    levels = [Label(LEFT - 8, at(0, c)[1] + 5, f"{c}", "end") for c in range(first, int(top) + 1, 20)]
    return Cooling(tuple(drawn), at(0, target_c)[1], tuple(levels), tuple(times), at(*logged) if logged else None)
