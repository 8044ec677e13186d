"""The trace of a spoiled thing: what could have brought it, what it could have reached, what shared its sources.

Links carry the moment at which liquid or disc passed; a path never goes back in time. How it passed says how strong the evidence is.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

Node = tuple[str, int]  #: Kind and number, like ("brew", 7).

#: How something passed: words from source to target, and how surely it carries what is in the source (assumed). [-]
WAYS: dict[str, tuple[str, float]] = {
    "starter": ("poured in as starter", 1.0),
    "disc": ("laid in", 1.0),
    "kept": ("kept from it", 1.0),
    "born": ("grew in it", 1.0),
    "merged": ("poured together", 1.0),
    "split": ("parted over two vessels", 1.0),
    "blended": ("poured in", 1.0),
    "joined": ("lay in the same jar", 1.0),
    "drawn": ("drawn from it", 0.95),
    "fed": ("fed to it", 0.9),
    "parted": ("parted from it", 0.9),
    "back": ("came back out of it", 0.9),
    "housed": ("went to live in it", 0.8),
    "lived": ("lived in it", 0.7),
}
STEP = 0.9  #: Each further step weakens the evidence (assumed). [-]
STRONG = 0.75  #: From here on a thing is to be discarded, below it to be set apart and watched (assumed). [-]


@dataclass(frozen=True, slots=True)
class Link:
    """Liquid or a disc passed from one thing to another."""

    source: Node
    target: Node
    at: float  #: [d, on any one clock]
    how: str = "starter"  #: A key of WAYS

    @property
    def strength(self) -> float:
        """How surely it carries what is in its source. [-]"""
        return WAYS[self.how][1]


@dataclass(frozen=True, slots=True)
class Reached:
    """Something on a trace."""

    node: Node
    at: float  #: When first. [d]
    path: tuple[Node, ...]  #: From the incident to it, by the strongest way.
    strength: float = 1.0  #: Of the evidence. [-]
    ways: tuple[str, ...] = ()  #: How each step passed.
    times: tuple[float, ...] = ()  #: When each step passed. [d]


def _walk(links: Sequence[Link], node: Node, start: float, back: bool) -> list[Reached]:
    """Walk links in order of time, or against it, and keep for each thing the first moment and the strongest way."""
    found = {node: Reached(node, start, (node,))}
    ordered = sorted(links, key=lambda li: -li.at if back else li.at)
    for at, group in itertools.groupby(ordered, key=lambda li: li.at):
        if at > start if back else at < start:
            continue
        moment, changed = list(group), True
        while changed:  # what passes in one moment passes in whatever order
            changed = False
            for link in moment:
                here, there = (link.target, link.source) if back else (link.source, link.target)
                source = found.get(here)
                if source is None or there in source.path:
                    continue
                strength = source.strength * link.strength * (STEP if len(source.path) > 1 else 1.0)
                known = found.get(there)
                if known is None or strength > known.strength + 1e-12:
                    way = (*source.path, there)
                    first = at if known is None else known.at
                    found[there] = Reached(there, first, way, strength, (*source.ways, link.how), (*source.times, at))
                    changed = True
    return [reached for reached in found.values() if reached.node != node]


def exposed(links: Iterable[Link], node: Node, since: float) -> list[Reached]:
    """List all that a thing could have reached, strongest evidence first, then earliest.

    Args:
        links: Of the household.
        node: Where it was found.
        since: From when on it may have passed. [d]
    """
    return sorted(_walk(list(links), node, since, False), key=lambda r: (-round(r.strength, 9), r.at, r.node))


def suspects(links: Iterable[Link], node: Node, until: float) -> list[Reached]:
    """List all that could have brought it, strongest evidence first, then nearest in time."""
    return sorted(_walk(list(links), node, until, True), key=lambda r: (-round(r.strength, 9), -r.at, r.node))


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
    return sorted(out.values(), key=lambda r: (-r.strength, r.at, r.node))


def without(links: Iterable[Link], cut: Iterable[tuple[Node, Node]]) -> list[Link]:
    """Leave out ways that are known to be closed."""
    closed = set(cut)
    return [link for link in links if (link.source, link.target) not in closed]


def proposal(reached: Reached, alive: bool, inside: bool = False) -> str:
    """Return what to do with something that could have been reached.

    Args:
        reached: The thing, and how strongly.
        alive: Whether it is still there.
        inside: Whether it lies in what is spoiled: then it is lost with it, however weak the evidence of older ways.

    Returns: discard, quarantine, or nothing when it is gone.
    """
    if not alive:
        return ""
    return "discard" if inside or reached.strength >= STRONG else "quarantine"
