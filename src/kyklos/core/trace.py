"""The trace of a spoiled brew: what could have brought it, what it could have reached, what shared its sources.

Links carry the moment at which liquid or disc passed; a path never goes back in time.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

Node = tuple[str, int]  #: Kind and number, like ("brew", 7).


@dataclass(frozen=True, slots=True)
class Link:
    """Liquid or a disc passed from one thing to another."""

    source: Node
    target: Node
    at: float  #: [d, on any one clock]


@dataclass(frozen=True, slots=True)
class Reached:
    """Something on a trace."""

    node: Node
    at: float  #: When. [d]
    path: tuple[Node, ...]  #: From the incident to it.


def exposed(links: Iterable[Link], node: Node, since: float) -> list[Reached]:
    """List all that a thing could have reached, in order of time, each by its earliest path.

    Args:
        links: Of the household.
        node: Where it was found.
        since: From when on it may have passed. [d]
    """
    found = {node: Reached(node, since, (node,))}
    for link in sorted(links, key=lambda link: link.at):
        source = found.get(link.source)
        if source is not None and link.at >= source.at and link.target not in found:
            found[link.target] = Reached(link.target, link.at, (*source.path, link.target))
    return [reached for reached in sorted(found.values(), key=lambda r: r.at) if reached.node != node]


def suspects(links: Iterable[Link], node: Node, until: float) -> list[Reached]:
    """List all that could have brought it, nearest in time first."""
    found = {node: Reached(node, until, (node,))}
    for link in sorted(links, key=lambda link: -link.at):
        target = found.get(link.target)
        if target is not None and link.at <= target.at and link.source not in found:
            found[link.source] = Reached(link.source, link.at, (*target.path, link.source))
    return [reached for reached in sorted(found.values(), key=lambda r: -r.at) if reached.node != node]


def shared(links: Iterable[Link], node: Node, until: float) -> list[Reached]:
    """List what else its sources have fed: neither suspects, nor the thing itself, nor what it reached."""
    known = list(links)
    sources = suspects(known, node, until)
    kept = {node, *(source.node for source in sources), *(r.node for r in exposed(known, node, float("-inf")))}
    out: dict[Node, Reached] = {}
    for source in sources:
        for reached in exposed(known, source.node, float("-inf")):
            if reached.node not in kept:
                out.setdefault(reached.node, reached)
    return sorted(out.values(), key=lambda r: r.at)
