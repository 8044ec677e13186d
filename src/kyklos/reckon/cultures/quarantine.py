"""The one gate of quarantine: what is set apart, or held for what it touched, is poured, fed, merged, given and laid in nowhere."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from ...core.cultures import Node
from ...core.cultures.lineage import Backups, backups
from ...store.file.session import context_of
from ...store.read import culture_queries
from ...store.records import Culture
from . import links, spoilage

LEAST_LIQUID_L = 0.05  #: Less liquid is no backup (assumed). [L]
NAMES = {"brew": "This brew", "lot": "This starter", "disc": "This disc", "hotel": "This hotel"}


def refusal(session: Session, *nodes: Node | None) -> str:
    """Return why these things may not touch others now, or nothing.

    Every way of pouring, merging, feeding, giving and laying in asks here with all that it brings together.

    Args:
        session: Of the household.
        nodes: Kind and number of each thing; None is passed over.

    Returns: A sentence for the first that is set apart; empty when none is.
    """
    apart, asked = culture_queries.set_apart(session), [node for node in nodes if node is not None]
    kind = next((node[0] for node in asked if node in apart), None)
    if kind is not None:
        return f"{NAMES[kind]} is set apart: it may be spoiled. Look at it first, and lift that if it is clean."
    context = context_of(session)
    now = context.now or context.acted_at
    held = spoilage.held(session, now) if now is not None else {}
    rows = next((held[node] for node in asked if node in held and held[node].strong), None)
    if rows is None:
        return ""
    return (
        f"{NAMES[rows.node[0]]} is held: something grave was seen in {rows.name}, and the same liquid or disc was in both. "
        "Follow the trace from there: throw it out, or clear it."
    )


def kept_away(session: Session) -> set[Node]:
    """List what is not offered: set apart by hand, or held for what it touched."""
    now = context_of(session).now
    return culture_queries.set_apart(session) | (spoilage.strongly(session, now) if now is not None else set())


def backups_of(session: Session, culture: Culture, now: datetime) -> Backups:
    """Count what a line could be begun again from, besides what works in a vessel; nothing that a spoiled brew touched."""
    used = culture_queries.in_use(session)[1]
    kept: list[Node] = [
        ("disc", d.id) for d in culture_queries.living_discs(session) if d.culture_id == culture.id and d.id not in used
    ]
    own = [lot for lot in culture_queries.starter_lots(session) if lot.culture_id == culture.id]
    kept += [("lot", lot.id) for lot in own if lot.left_l > LEAST_LIQUID_L and not lot.doubt]
    holders = culture_queries.holders(session).get(culture.id, 0)
    away = links.touched(session, now) | culture_queries.set_apart(session) | spoilage.strongly(session, now)
    return backups(kept, away, holders, culture.backups_wanted)
