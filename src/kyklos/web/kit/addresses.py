"""Addresses within the application: of pages, of static files with their fingerprint, and whether one leads outside."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from flask import request, url_for
from werkzeug.routing import Rule

STATIC = Path(__file__).parent.parent / "static"
_WITHIN = re.compile(r"/(?![/\\])[!-~]*")  #: An address within the house: printable letters, no space, no second slash.


class LateRule(Rule):
    """An address that works out how it is written when somebody first asks for it: most of them nobody does."""

    def _compile_builder(self, append_unknown: bool = True) -> Callable[..., tuple[str, str]]:
        make = lru_cache(maxsize=1)(lambda: super(LateRule, self)._compile_builder(append_unknown))
        return lambda rule, **values: make()(rule, **values)


def within(wanted: str, instead: str) -> str:
    """Return an address to go on to, if it lies within this house and is one; else another.

    >>> within("/brews/7?a=b#c", "/"), within("//elsewhere", "/"), within("/x\\r\\nSet-Cookie: a", "/"), within("/\\\\e", "/")
    ('/brews/7?a=b#c', '/', '/', '/')
    """
    if len(wanted) > 2000 or not _WITHIN.fullmatch(wanted) or "\\" in wanted:
        return instead
    try:
        parts = urlsplit(wanted)
    except ValueError:
        return instead
    return instead if parts.scheme or parts.netloc else wanted


@lru_cache(maxsize=64)
def _fingerprint(name: str) -> str:
    return hashlib.sha256((STATIC / name).read_bytes()).hexdigest()[:10]


@lru_cache(maxsize=4096)
def _address(root: str, endpoint: str, values: tuple[tuple[str, Any], ...]) -> str:
    return url_for(endpoint, **dict(values))


def address(endpoint: str, **values: Any) -> str:
    """Return the address of a page; a page links to a hundred of them, so they are remembered."""
    plain = all(key[0] != "_" and isinstance(value, str | int) for key, value in values.items())
    if endpoint.startswith(".") or not plain:
        return url_for(endpoint, **values)
    return _address(request.script_root, endpoint, tuple(values.items()))


def asset(name: str) -> str:
    """Return the address of a static file, with its fingerprint."""
    return address("static", filename=name, v=_fingerprint(name))
