"""The lineage of a household: who came from whom, how many brews deep, and what is left as a backup.

Nodes are lines' discs, starters and brews; what made what is a link with the day on which liquid or disc passed. A path never
goes back in time, so there are no loops.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

from ..base import CoreError
from .trace import Link, Node

ENDS = {
    "discarded": "Discarded",
    "composted": "Composted",
    "given": "Given away",
    "dried": "Dried",
    "lost": "Lost",
}  #: How a disc may end here.


class LoopError(CoreError):
    """Something is recorded as its own ancestor."""


POURED_IN = "blended"  #: A whole brew poured into another.
SAME = {"split", POURED_IN}  #: Ways that make no new generation.


@dataclass(frozen=True, slots=True)
class Descent:
    """Who came from whom: for each thing what it was made from and in which way, and what was made from it."""

    parents: Mapping[Node, Mapping[Node, str]]
    children: Mapping[Node, tuple[Node, ...]]
    in_order: tuple[Node, ...]  #: Every thing after all that it came from.


def descent(links: Iterable[Link]) -> Descent:
    """Put a household's descent together.

    Raises:
        LoopError: If a thing would be its own ancestor.
    """
    parents: dict[Node, dict[Node, str]] = {}
    poured = []
    for link in links:
        if link.how == POURED_IN:
            poured.append(link)
        else:
            parents.setdefault(link.target, {})[link.source] = link.how
    for link in poured:  # what was split and poured together again is no ancestor of itself
        if link.target not in _reached(parents, [link.source]):
            parents.setdefault(link.target, {})[link.source] = link.how
    try:
        in_order = tuple(TopologicalSorter(parents).static_order())
    except CycleError as loop:
        raise LoopError("Something here is told to be its own ancestor.") from loop
    children: dict[Node, list[Node]] = {}
    for node in in_order:
        for source in parents.get(node, ()):
            children.setdefault(source, []).append(node)
    return Descent(parents, {node: tuple(some) for node, some in children.items()}, in_order)


def _reached(ways: Mapping[Node, Iterable[Node]], nodes: Iterable[Node]) -> set[Node]:
    """List things and all that lies beyond them, each looked at once."""
    out, ahead = set(nodes), list(nodes)
    while ahead:
        more = [one for one in ways.get(ahead.pop(), ()) if one not in out]
        out.update(more)
        ahead += more
    return out


def ancestors(descent: Descent, node: Node) -> set[Node]:
    """List all that a thing came from."""
    return _reached(descent.parents, [node]) - {node}


def with_ancestors(descent: Descent, nodes: Iterable[Node]) -> set[Node]:
    """List things and all that they came from."""
    return _reached(descent.parents, list(nodes))


def descendants(descent: Descent, node: Node) -> set[Node]:
    """List all that came from a thing."""
    return _reached(descent.children, [node]) - {node}


def generations(descent: Descent) -> Mapping[Node, int]:
    """Count for each thing the longest number of brews from its origin, itself included.

    A brew that was split from another, or into which another was poured, is of that one's generation.
    """
    out: dict[Node, int] = {}
    for node in descent.in_order:
        one = int(node[0] == "brew")
        sources = descent.parents.get(node, {})
        out[node] = max((out[source] + (0 if how in SAME else one) for source, how in sources.items()), default=one)
    return out


@dataclass(frozen=True, slots=True)
class Backups:
    """What a line could be begun again from."""

    living: tuple[Node, ...]  #: Discs and liquids that live and had no part in a spoiled brew.
    held_by: int  #: Others who hold some, as far as is known.
    wanted: int

    @property
    def enough(self) -> bool:
        """Whether there are as many as the household keeps."""
        return len(self.living) >= self.wanted

    @property
    def tone(self) -> str:
        """Return how safe that is: none, few or fine. One alone, here and elsewhere together, is few."""
        if not self.living:
            return "none"
        return "fine" if self.enough and len(self.living) + self.held_by > 1 else "few"

    @property
    def says(self) -> str:
        """Put the descent into a sentence."""
        others = f" {self.held_by} elsewhere." if self.held_by else ""
        if not self.living:
            return f"No spare.{others or ' Part a disc or set liquid aside before anything else.'}"
        count = len(self.living)
        if not self.enough:
            few = f" {self.wanted} are wanted."
        else:
            few = " Only this one: a second, or some with a friend, is safer." if self.tone == "few" else ""
        return f"{count} spare{'s' if count > 1 else ''}.{few}{others}"


def backups(kept: Iterable[Node], touched: Iterable[Node], held_by: int, wanted: int) -> Backups:
    """Count the backups of a line.

    Args:
        kept: Living discs and liquids that stand in no brew.
        touched: All that is exposed to something spoiled.
        held_by: Others who hold some.
        wanted: How many the household keeps.
    """
    spoiled = set(touched)
    return Backups(tuple(node for node in kept if node not in spoiled), held_by, wanted)
