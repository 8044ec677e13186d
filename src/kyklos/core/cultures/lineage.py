"""The lineage of a household: who came from whom, how many brews deep, and what is left as a backup.

Nodes are lines' discs, starters and brews; an edge carries the day on which liquid or disc passed. A path never goes back in
time, so the graph has no loops; the graph itself is NetworkX's.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ..base import CoreError
from .trace import Link, Node

if TYPE_CHECKING:
    from networkx import DiGraph

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


def graph_of(links: Iterable[Link]) -> DiGraph:
    """Build the graph.

    Raises:
        LoopError: If a thing would be its own ancestor.
    """
    import networkx as nx

    graph, poured = nx.DiGraph(), []
    for link in links:
        if link.how == POURED_IN:
            poured.append(link)
        else:
            graph.add_edge(link.source, link.target, at=link.at, how=link.how)
    for link in poured:  # what was split and poured together again is no ancestor of itself
        known = link.source in graph and link.target in graph
        if not (known and nx.has_path(graph, link.target, link.source)):
            graph.add_edge(link.source, link.target, at=link.at, how=link.how)
    if not nx.is_directed_acyclic_graph(graph):
        raise LoopError("Something here is told to be its own ancestor.")
    return graph


def ancestors(graph: DiGraph, node: Node) -> set[Node]:
    """List all that a thing came from."""
    import networkx as nx

    return set(nx.ancestors(graph, node)) if node in graph else set()


def with_ancestors(graph: DiGraph, nodes: Iterable[Node]) -> set[Node]:
    """List things and all that they came from, each looked at once."""
    out, ahead = set(nodes), list(nodes)
    while ahead:
        node = ahead.pop()
        more = [one for one in (graph.predecessors(node) if node in graph else ()) if one not in out]
        out.update(more)
        ahead += more
    return out


def descendants(graph: DiGraph, node: Node) -> set[Node]:
    """List all that came from a thing."""
    import networkx as nx

    return set(nx.descendants(graph, node)) if node in graph else set()


def generations(graph: DiGraph) -> Mapping[Node, int]:
    """Count for each thing the longest number of brews from its origin, itself included.

    A brew that was split from another, or into which another was poured, is of that one's generation.
    """
    import networkx as nx

    out: dict[Node, int] = {}
    for node in nx.topological_sort(graph):
        one = int(node[0] == "brew")
        out[node] = max(
            (out[source] + (0 if data["how"] in SAME else one) for source, _, data in graph.in_edges(node, data=True)),
            default=one,
        )
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
        """Put it into a sentence."""
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
