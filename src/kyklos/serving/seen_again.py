"""A page seen again within its minute, while nothing was written: it is given as it was, each form with keys of its own."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Hashable
from dataclasses import dataclass, field
from threading import Lock
from typing import Any

from flask import Flask, Response, current_app, g, request, session

from ..store.read.memory import state_of
from ..web.kit import once
from ..web.kit.reader import reader

ROOM, MOST_LETTERS = 96, 12_000_000  #: Pages kept, and how long they may be together.
NEVER = frozenset({"settings", "sign_in", "instruments", "data", "practice"})  #: Their pages say what changes beside the household's records: backups, who is signed in, how practice goes.
OF_DEVICE = frozenset({once.CSRF, "signed_in", "device"})  #: What a device's cookie holds that no page shows.
ASKED_BY = ("HX-Request", "HX-Boosted", "HX-Target", "HX-History-Restore-Request")
FORM_KEY, WORD = "\0once\0", "\0csrf\0"  #: Stand for what is another one each time.


@dataclass(frozen=True, slots=True)
class SeenPage:
    """A page as it was rendered, but for the keys of its forms."""

    text: str
    headers: tuple[tuple[str, str], ...]


@dataclass(slots=True)
class SeenPages:
    """The pages rendered last, by all that decides what they say."""

    kept: OrderedDict[Hashable, SeenPage] = field(default_factory=OrderedDict)
    lock: Any = field(default_factory=Lock)

    def find(self, key: Hashable) -> SeenPage | None:
        """Return a page, or None."""
        with self.lock:
            if key in self.kept:
                self.kept.move_to_end(key)
            return self.kept.get(key)

    def keep(self, key: Hashable, page: SeenPage) -> None:
        """Keep a page; the one that was seen longest ago makes room."""
        with self.lock:
            self.kept[key] = page
            while len(self.kept) > ROOM or sum(len(one.text) for one in self.kept.values()) > MOST_LETTERS:
                self.kept.popitem(last=False)


def remember(app: Flask) -> None:
    """Let an application give pages again; to be called when its other doings before a page are known."""
    pages = app.extensions["kyklos seen"] = SeenPages()

    @app.before_request
    def again() -> Response | None:
        g.seen_as = _decides()
        found = pages.find(g.seen_as) if g.seen_as is not None else None
        if found is None:
            return None
        g.seen_as = None
        once.form_keys()
        return Response(found.text.replace(FORM_KEY, g.form_key).replace(WORD, str(g.form_word)), headers=list(found.headers))

    @app.after_request
    def keep(response: Response) -> Response:
        if g.get("seen_as") is not None and _lasts(response):
            text = response.get_data(as_text=True)
            if "\0" not in text:
                pages.keep(g.seen_as, SeenPage(_without_keys(text), tuple(response.headers.items())))
        return response


def _decides() -> Hashable | None:
    """Return all that decides what a page says; None where it is not kept."""
    if request.method != "GET" or request.endpoint in {None, "static"} or request.blueprint in NEVER or "session" not in g or g.get("stranger"):
        return None
    database, _ = current_app.extensions["kyklos"]
    device = tuple(sorted((name, repr(value)) for name, value in session.items() if name not in OF_DEVICE))
    asked = tuple(request.headers.get(name, "") for name in ASKED_BY)
    says = (database.lost, current_app.extensions["kyklos keeper"].says, request.cookies.get("heard", ""))
    return (state_of(g.session), reader(), int(g.now.timestamp() // 60), request.url, asked, device, says)


def _lasts(response: Response) -> bool:
    """Return whether an answer is a page that says the same when it is asked for again."""
    passing = session.modified or g.get("heard_more") or g.get("timers_run")
    return response.status_code == 200 and response.mimetype == "text/html" and not passing and not response.is_streamed


def _without_keys(text: str) -> str:
    """Return a page with marks where its forms carry their keys."""
    for name, mark in (("form_key", FORM_KEY), ("form_word", WORD)):
        text = text.replace(str(g.get(name)), mark) if g.get(name) else text
    return text
