"""A year of notes at Quince Yard, and the lessons that were kept of it."""

from __future__ import annotations

from ..actions import notebook
from ..actions.notes import WriteNote, write_note
from ..core.base.kinds import NoteOn
from ..core.notebook.lessons import Applies
from .kitchen import BRAM, ODILE, Kitchen

#: Days ago, about, number, words, whose hand.
WRITTEN = (
    (86, NoteOn.FILLING, 1, "The quinces from the yard were hard and very sour this year; a day in the puree helped.", ODILE),
    (74, NoteOn.FLAVOUR, 1, "Half the bay next time for Bram.", BRAM),
    (70, NoteOn.FILLING, 2, "Half of it on the wall. Open figs over the sink.", BRAM),
    (66, NoteOn.VESSEL, 1, "The tap drips when the ring is dry: wet it before filling.", ODILE),
    (52, NoteOn.PLACE, 3, "Sixteen degrees behind the flour in the cold week: nothing moves there.", ODILE),
    (41, NoteOn.CULTURE, 3, "Levanter smells of pears since the second step.", BRAM),
    (36, NoteOn.CULTURE, 1, "No sugar in the house on the twelfth; the round had to wait for Saturday’s market.", ODILE),
    (20, NoteOn.CULTURE, 2, "Meltemi likes the window better than the dresser.", BRAM),
    (7, NoteOn.FLAVOUR, 3, "Three pods of cardamom are enough for a litre.", ODILE),
)  # fmt: skip
#: Days ago, words, where it comes back, the proposal's key.
KEPT = (
    (30, "Two packs of sugar stay in the cupboard from November on.", Applies(good="White sugar"), "ran-out:White sugar:2027-01"),
    (25, "The pantry is too cold in winter: more starter, or another shelf.", Applies(place="Pantry", season="winter"), ""),
)  # fmt: skip


def written(kitchen: Kitchen) -> None:
    """Write the notes down, and keep two lessons."""
    for ago, about, number, text, hand in WRITTEN:
        kitchen.do(write_note, WriteNote(about=about, about_id=number, text=text, taster_id=hand), ago)
    for ago, text, applies, key in KEPT:
        kitchen.do(notebook.keep_lesson, notebook.KeepLesson(text=text, applies=applies, key=key), ago)
