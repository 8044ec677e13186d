"""A brewer's own verdict: towards caution freely, towards risk only against the reasons it was written for."""

from __future__ import annotations

from dataclasses import dataclass

from ..base import CoreError
from .observations import ORDER, Reason
from .safety import Verdict

LEAST_WORDS = 12  #: A reason towards risk says at least so much. [characters]


@dataclass(frozen=True, slots=True)
class Own:
    """A verdict in the brewer's words."""

    word: str
    reason: str
    against: tuple[str, ...] = ()  #: Sentences of the reasons it was written against.


def towards_risk(word: str, computed: str) -> bool:
    """Return whether a word is lighter than the computed one.

    >>> towards_risk("watch", "hold"), towards_risk("discard", "watch")
    (True, False)
    """
    return ORDER.index(word) < ORDER.index(computed)


def check(word: str, reason: str, computed: Verdict) -> None:
    """Refuse an overrule that may not be.

    Raises:
        CoreError: If the word is none, says what is said already, or leads towards risk without a written reason.
    """
    if word not in ORDER:
        raise CoreError("Choose carry on, watch, hold or discard.")
    if word == computed.word:
        raise CoreError(f"It says {word} already.")
    if towards_risk(word, computed.word) and computed.final:
        raise CoreError(
            "Mould, insects, eels and rot cannot be overruled. If the look was a mistake, strike it out and say why."
        )
    if towards_risk(word, computed.word) and len(reason.strip()) < LEAST_WORDS:
        raise CoreError(
            "Towards risk only with a written reason: say what you know that these rules do not. It stays visible."
        )


def applied(computed: Verdict, own: Own | None) -> Verdict:
    """Return the verdict that counts.

    A graver word of the brewer's counts until it is lifted. A lighter one counts only while every reason graver than
    it is one that it was written against: something new brings the computed verdict back.
    """
    if own is None or own.word == computed.word:
        return computed
    said = Reason(own.word, f"You decided “{own.word}”: {own.reason}" if own.reason else f"You decided “{own.word}”.")
    if not towards_risk(own.word, computed.word):
        return Verdict(own.word, (said, *computed.reasons), computed.measured)
    if computed.final:
        return computed
    graver = [r for r in computed.reasons if towards_risk(own.word, r.verdict)]
    if any(reason.sentence not in own.against for reason in graver):
        return computed
    return Verdict(own.word, (said, *computed.reasons), computed.measured)
