"""What is drawn or drunk in one tap, by the household's units."""

from __future__ import annotations

GLASSES = {
    "metric": (("A glass", 0.25), ("Half a litre", 0.5), ("A jug", 1.0)),
    "us": (("A cup", 0.2366), ("A pint", 0.4732), ("A quart", 0.9464)),
}  #: Name and size. [L]
