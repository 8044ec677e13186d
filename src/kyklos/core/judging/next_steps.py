"""What can be done with a living brew now: one main thing, and what else makes sense."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..base.kinds import DueKind, NextStep

BY_DUE: dict[str, NextStep] = {
    DueKind.DISCARD: NextStep.DISCARD,
    DueKind.LOOK: NextStep.LOOK,
    DueKind.HARVEST: NextStep.HARVEST,
    DueKind.SALVAGE: NextStep.HARVEST,
    DueKind.TASTE: NextStep.TASTE,
    DueKind.MEASURE: NextStep.MEASURE,
    DueKind.LABEL: NextStep.LABEL,
    "draw": NextStep.DRAW,
    "top-up": NextStep.TOP_UP,
    "gauge": NextStep.MEASURE,
}  #: What answers to a due thing.

HARVEST_FROM = 2.0  #: Before, it is sweet tea still (assumed). [d]


@dataclass(frozen=True, slots=True, kw_only=True)
class StepFacts:
    """What decides which steps a brew is offered."""

    due: str  #: Kind of what it needs first.
    day: float  #: [d since pitch]
    also: Sequence[str] = ()  #: Kinds of what else it needs.
    lost: bool = False  #: To be discarded.
    held: bool = False  #: It began above pH 4.5, and is not settled.
    soured: bool = False  #: Starter or vinegar went in since its pH was last read.
    on_hold: bool = False  #: Something must be settled first.
    drunk: bool = True  #: Somebody waits for its taste.
    runs: bool = False  #: In a tapped vessel.
    paused: bool = False  #: A tapped vessel in which nothing goes on.


@dataclass(frozen=True, slots=True)
class NextSteps:
    """The main thing to do, and what else can be done."""

    main: NextStep | None  #: None: nothing is due.
    others: tuple[NextStep, ...]


def _possible(f: StepFacts) -> list[NextStep]:
    """List all that makes sense, the usual order."""
    if f.lost:
        return [NextStep.DISCARD, NextStep.LOOK]
    if f.held:
        return [NextStep.SOUR, NextStep.MEASURE, NextStep.LOOK]
    out = [NextStep.MEASURE, NextStep.LOOK]
    if f.drunk and not f.on_hold:
        out.insert(0, NextStep.TASTE)
    if f.runs and not f.paused:
        out += [NextStep.GLASS, NextStep.DRAW, NextStep.TOP_UP]
    asked = {f.due, *f.also}
    if not f.runs and not f.on_hold and (f.day >= HARVEST_FROM or asked & {DueKind.HARVEST, DueKind.SALVAGE}):
        out.append(NextStep.HARVEST)
    if DueKind.LABEL in asked:
        out.append(NextStep.LABEL)
    return out


def next_steps(f: StepFacts) -> NextSteps:
    """Choose what to do with a brew.

    Nothing is offered that makes no sense: no harvest of a brew just started, no taste of one that is lost or on hold.

    Args:
        f: What decides.
    """
    possible = _possible(f)
    main = BY_DUE.get(f.due)
    if f.held and not f.lost:
        main = NextStep.MEASURE if f.soured else NextStep.SOUR
    elif f.due == DueKind.HOLD:
        main = NextStep.LOOK
    elif main is None and f.runs and NextStep.GLASS in possible and f.due == DueKind.NOTHING:
        main = NextStep.GLASS
    if main not in possible:
        main = None
    return NextSteps(main, tuple(step for step in possible if step != main))
