"""What makes a held brew sour enough: starter of its own line, or vinegar, and how much of it."""

from __future__ import annotations

from sqlalchemy.orm import Session

from ...core.brewing.pitch_check import Remedy, for_standing
from ..judging.attention import Attention
from .brew_days import sound_lots


def remedies_of(session: Session, known: Attention) -> tuple[Remedy, ...]:
    """List what makes a held brew sourer: starter of its own line where there is some, and vinegar."""
    brew = known.brew
    own = [(str(lot.id), lot.left_l) for lot in sound_lots(session) if lot.culture_id == brew.culture_id]
    return for_standing(own, brew.left_l, brew.vessel.nominal_l - brew.left_l)
