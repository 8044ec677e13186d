"""Serving a household: one thread listens to everybody and reads requests whole, a few others answer them.

`make` binds a server, `run` serves until it is stopped. Whoever sends slowly, or too much, holds no thread; members are served first.
"""

from __future__ import annotations

from .certificate import AUTHORITY, fingerprint, own_certificate
from .server import HouseServer, make, run

__all__ = ["AUTHORITY", "HouseServer", "fingerprint", "make", "own_certificate", "run"]
