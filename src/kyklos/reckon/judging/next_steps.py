"""What can be done with a living brew now."""

from __future__ import annotations

from ...core.base.kinds import BrewStatus
from ...core.judging.next_steps import NextSteps, StepFacts, next_steps
from ...store.read.recorded import soured_since_read
from .attention import Attention


def next_steps_of(known: Attention, paused: bool = False) -> NextSteps:
    """Return what can be done with a brew, what it needs first as the main thing.

    Args:
        known: All that is known of it.
        paused: In a tapped vessel in which nothing goes on.
    """
    brew = known.brew
    held = brew.status == BrewStatus.HELD
    return next_steps(
        StepFacts(
            due=known.due.kind,
            day=known.day,
            also=tuple(due.kind for due in known.also),
            lost=known.lost,
            held=held,
            soured=held and soured_since_read(brew),
            on_hold=known.on_hold,
            drunk=not known.not_drunk,
            runs=brew.runs,
            paused=paused,
        )
    )
