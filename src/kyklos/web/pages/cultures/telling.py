"""What the pages of the lines tell: how strong a line is and why it slows, its backups, a bead's card, children outside."""

from __future__ import annotations

from dataclasses import dataclass

from flask import g

from ....core.base.kinds import BrewStatus, NodeKind
from ....core.cultures import Node
from ....core.cultures.lineage import ancestors as ancestors_of
from ....core.cultures.lineage import descendants as descendants_of
from ....reckon.cultures import lineages, links
from ....store.read import queries
from ....store.records import Brew, Disc, Gift
from ...kit.words import day_word
from .naming import named
from .strands import state_words


@dataclass(frozen=True, slots=True)
class BeadCard:
    """What a bead tells."""

    name: str
    says: str
    address: str
    generation: int
    lit: str  #: Keys of its ancestors and descendants.
    before: int
    after: int
    alive_after: int  #: Of its descendants, how many live.
    outside: tuple[str, ...]  #: Who has children of it.


def card_of(node: Node) -> BeadCard:
    """Put a bead's card together."""
    known = lineages.descent(g.session)
    before, after = ancestors_of(known, node), descendants_of(known, node)
    lit = " ".join(f"{kind}-{number}" for kind, number in sorted(before | after | {node}) if kind in {NodeKind.BREW, NodeKind.DISC})
    brews = (sum(kind == NodeKind.BREW for kind, _ in before), sum(kind == NodeKind.BREW for kind, _ in after))
    it = named(node)
    when = day_word(it.at, g.now, g.household.zone) if it.at else ""
    state = _state(node)
    outside = tuple(words for _, words in outside_of(after | {node}))
    living = (
        sum(links.living(g.session, other) for other in sorted(after) if other[0] != NodeKind.BREW) if len(after) < 400 else 0
    )
    name = f"{it.name}, {it.line}" if node[0] == NodeKind.BREW else it.name
    says = state if node[0] == NodeKind.BREW else f"{it.line}, {when}, {state}"
    return BeadCard(name, says, it.address, lineages.generations(g.session).get(node, 0), lit, *brews, living, outside)


def _state(node: Node) -> str:
    if node[0] == NodeKind.BREW:
        brew = queries.get(g.session, Brew, node[1])
        return state_words("alive" if brew.status == BrewStatus.FERMENTING else brew.status)
    disc = queries.get(g.session, Disc, node[1])
    return state_words(disc.ended_as or ("kept" if disc.ended_at is None else "discarded"))


def outside_of(nodes: set[Node]) -> list[tuple[Gift, str]]:
    """List gifts of these things that left the house, newest first, with words; who it is stays in this file."""
    out = []
    for gift in lineages.outside_of(g.session, nodes):
        what = gift.disc.name if gift.disc is not None else "liquid"
        holds = "" if gift.still_holds else ", not any more"
        out.append((gift, f"{what}, {gift.who or 'someone'}, {day_word(gift.at, g.now, g.household.zone)}{holds}"))
    return out
