"""What a tapped vessel is in now: what matters first about it, and what a brew too sour to drink is."""

from __future__ import annotations

from enum import StrEnum

VINEGAR_G_PER_L = 14.0  #: From here on it is vinegar to anybody (assumed). [g/L]
STRONG_G_PER_L = 8.0  #: From here on what runs out is strong starter (assumed). [g/L]


class TapState(StrEnum):
    """What matters first about a tapped vessel now."""

    SPOILED = "spoiled"  #: Not to be drunk.
    RESTS = "rests"  #: On hold: nothing is drawn and nothing poured in.
    PAUSED = "paused"
    FORGOTTEN = "forgotten"  #: So sour that only several draws bring it back.
    SOUR = "sour"  #: Too sour for everybody, but one draw brings it back.
    READY = "ready"  #: Something may be drawn.
    NEVER = "never"  #: Nobody likes it within the time looked ahead.
    JUST_TOPPED = "just topped"  #: What was poured in has not begun to work.
    AT_ITS_HEEL = "at its heel"  #: Nothing runs out at the tap.
    TOP_UP_FIRST = "top up first"  #: Right, but what was drawn is not given back yet.
    RIPENS = "ripens"


class Sourness(StrEnum):
    """What a brew that is too sour is."""

    TOO_SOUR = "too sour for everybody"
    STRONG_STARTER = "strong starter"
    VINEGAR = "vinegar"


def sourness(ta_g_per_l: float) -> Sourness:
    """Return what a brew too sour to drink is by its acidity. [g/L]

    >>> str(sourness(7.9)), str(sourness(8.0)), str(sourness(14.0))
    ('too sour for everybody', 'strong starter', 'vinegar')
    """
    if ta_g_per_l >= VINEGAR_G_PER_L:
        return Sourness.VINEGAR
    return Sourness.STRONG_STARTER if ta_g_per_l >= STRONG_G_PER_L else Sourness.TOO_SOUR
