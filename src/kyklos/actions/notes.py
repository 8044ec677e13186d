"""Notes: a line about a thing of the household, with its day and whose hand wrote it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.base.kinds import NoteOn
from ..reckon.naming import name_of_thing
from ..store.file.pictures import Picture
from ..store.read import notes, queries
from ..store.records import Note, Taster
from .base import Checks, Done, action, flushed
from .photos import keep_content

MOST_WORDS = 500  #: Of a note. [letters]


@dataclass(frozen=True, slots=True, kw_only=True)
class WriteNote:
    """Words about a thing."""

    about: str  #: A key of core/base/kinds.py: NoteOn
    about_id: int
    text: str
    taster_id: int | None = None  #: Whose hand; None: not said.
    at: datetime | None = None  #: Now, unless given.
    picture: Picture | None = None  #: A photo with it, or alone.


@action
def write_note(session: Session, ask: WriteNote, at: datetime) -> Done:
    """Keep a note.

    Raises:
        RefusedError: If it is about nothing that is there, says nothing, or is too long.
    """
    checks, text = Checks(), ask.text.strip()
    thing = notes.thing(session, ask.about, ask.about_id)
    checks.refuse_if(thing is None, "", "What this is about is not there any more.")
    checks.refuse_if(not text and ask.picture is None, "text", "Nothing was written.")
    checks.refuse_if(len(text) > MOST_WORDS, "text", f"A note has at most {MOST_WORDS} letters; this one has {len(text)}.")
    known = ask.taster_id is None or queries.find(session, Taster, ask.taster_id) is not None
    checks.refuse_if(not known, "taster", "That taster is not there.")
    checks.done()
    row = Note(about=NoteOn(ask.about), about_id=ask.about_id, taster_id=ask.taster_id, at=ask.at or at, text=text, photo_sha=keep_content(session, ask.picture) if ask.picture is not None else None)
    return Done(f"Noted for {name_of_thing(thing)}.", {"note": flushed(session, row)})
