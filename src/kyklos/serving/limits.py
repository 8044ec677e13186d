"""Who may ask how much at once: connections and requests of an address, time and size of what a stranger sends."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

PER_ADDRESS = 20  #: Connections, or requests behind a proxy, of one address at once; a browser takes six or eight.
ANSWERED = 20  #: So many more of an address are answered with a refusal; the rest is dropped.
ALL_TOGETHER = 500  #: Connections at once.


@dataclass(frozen=True, slots=True)
class RequestLimits:
    """How long a request may take to arrive, and how large it may be."""

    head_s: float  #: Until its head is there. [s]
    body_s: float  #: Until all of it is there. [s]
    head_bytes: int
    body_bytes: int
    idle_s: float  #: Between two requests, and until an answer is taken. [s]


STRANGER = RequestLimits(head_s=5.0, body_s=5.0, head_bytes=8_000, body_bytes=8_000, idle_s=10.0)
MEMBER = RequestLimits(head_s=10.0, body_s=300.0, head_bytes=32_000, body_bytes=25_000_000, idle_s=60.0)


class Counts:
    """What is open of each address; used by the listening thread alone."""

    def __init__(self) -> None:
        """Start with nothing."""
        self._of: Counter[str] = Counter()
        self.total = 0

    def add(self, who: str) -> int:
        """Count one more; gives how many there are of that address now."""
        self._of[who] += 1
        self.total += 1
        return self._of[who]

    def remove(self, who: str) -> None:
        """Count one less."""
        self.total -= 1
        self._of[who] -= 1
        if self._of[who] <= 0:
            del self._of[who]
