"""What tasters are called on pages: by first names, where these tell them apart."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from flask import g

from ...core.base.saying import first_names
from ...store.read import queries


def short() -> Mapping[str, str]:
    """Return what each taster is called, by the whole name."""
    return first_names([taster.name for taster in queries.tasters_of(g.session)])


def called_by(name: str) -> str:
    """Return what a taster is called, by the whole name."""
    return short().get(name, name)


def called(points: Sequence[tuple[str, float]]) -> tuple[tuple[str, float], ...]:
    """Name the points of tasters as these are called, for a picture. [g/L]"""
    names = short()
    return tuple((names.get(name, name), ta) for name, ta in points)


def joined(names: Sequence[str]) -> str:
    """Join tasters' names in words."""
    known = short()
    said = [known.get(name, name) for name in names]
    return said[0] if len(said) == 1 else ", ".join(said[:-1]) + " and " + said[-1]
