"""The one gate of quarantine: what is set apart is poured, fed, merged, given and laid in nowhere until that is lifted."""

from __future__ import annotations

from sqlalchemy.orm import Session

from ..core.trace import Node
from ..store import queries

NAMES = {"brew": "This brew", "lot": "This starter", "disc": "This disc", "hotel": "This hotel"}


def refusal(session: Session, *nodes: Node | None) -> str:
    """Return why these things may not touch others now, or nothing.

    Every way of pouring, merging, feeding, giving and laying in asks here with all that it brings together.

    Args:
        session: Of the household.
        nodes: Kind and number of each thing; None is passed over.

    Returns: A sentence for the first that is set apart; empty when none is.
    """
    apart = queries.set_apart(session)
    kind = next((node[0] for node in nodes if node is not None and node in apart), None)
    if kind is None:
        return ""
    return f"{NAMES[kind]} is set apart: it may be spoiled. Look at it first, and lift that if it is clean."
