"""What is practised, apart from all records: cards for the eye, the strip, the burette, the palate and the clock; a season in fast time.

`boxes` says which card comes when. Each deck poses a question of a seed and grades the answer by the very rules and models of the
house: `eye` and `strip` by the judgements, `burette` by the acids, `harvest` and `clock` by `regret`. `season` lets days pass,
`moves` says what can be done in it, `counsel` what a wise brewer would do. `rehearsal` walks through the kitchen steps.
"""

from __future__ import annotations

from .boxes import BOX_DAYS, CardStanding, Graded

__all__ = ["BOX_DAYS", "CardStanding", "Graded"]
