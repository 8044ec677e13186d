"""A year of notes at Quince Yard, the lessons that were kept of it, two experiments, and care of the kitchen."""

from __future__ import annotations

from ..actions import experiments, notebook
from ..actions.notes import WriteNote, write_note
from ..actions.photos import picture_of
from ..actions.trying import StartExperiment
from ..core.base.kinds import NoteOn
from ..core.notebook.care import AFTER_MOULD
from ..core.notebook.lessons import Applies
from ..store.read import queries
from ..store.records import Experiment
from .kitchen import BRAM, ODILE, Kitchen
from .watched import picture

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
#: Taster, place that was called the odd one.
CALLED = ((ODILE, 2), (BRAM, 3), (ODILE, 2), (BRAM, 1), (ODILE, 1), (BRAM, 2), (ODILE, 3), (BRAM, 1), (ODILE, 3), (BRAM, 2), (ODILE, 2), (BRAM, 3))
#: Days ago, what, with what.
CARED = ((60, "rings", "new"), (37, AFTER_MOULD, "boiled"), (24, "covers", "hot water"), (10, "covers", "hot water"), (6, "fly-trap", "new"))


def written(kitchen: Kitchen) -> None:
    """Write the notes down, and keep two lessons."""
    for ago, about, number, text, hand in WRITTEN:
        seen = picture_of(picture(6, 12, (206, 168, 86))) if about is NoteOn.CULTURE and number == 2 else None
        kitchen.do(write_note, WriteNote(about=about, about_id=number, text=text, taster_id=hand, picture=seen), ago)
    for ago, text, applies, key in KEPT:
        kitchen.do(notebook.keep_lesson, notebook.KeepLesson(text=text, applies=applies, key=key), ago)
    _tried(kitchen)
    kitchen.do(experiments.set_rhythms, experiments.SetRhythms(every_days=(("covers", 14.0), ("rings", 90.0), ("kettle", 60.0), ("fly-trap", 7.0))), 80)
    for ago, what, with_what in CARED:
        kitchen.do(experiments.note_care, experiments.NoteCare(what=what, with_what=with_what), ago)


def _tried(kitchen: Kitchen) -> None:
    """Try two things: one is answered, one goes on."""
    ask = StartExperiment(question="Is the window as good as the dresser?", changed="the window shelf", kind="brew", plain=(1,), other=(2,), seed=4)
    number = kitchen.do(experiments.start_experiment, ask, 84)["experiment"]
    with kitchen.database.reader() as session:
        labels = list(queries.get(session, Experiment, number).labels)
    for taster, label, liked in ((ODILE, labels[0], 4), (BRAM, labels[0], 3), (ODILE, labels[1], 4), (BRAM, labels[1], 4)):
        kitchen.do(experiments.score_arm, experiments.ScoreArm(experiment_id=number, taster_id=taster, label=label, liked=liked), 71)
    for taster, place in CALLED:
        kitchen.do(experiments.tell_apart, experiments.TellApart(experiment_id=number, taster_id=taster, place=place), 71)
    kitchen.do(experiments.name_glasses, experiments.NameGlasses(experiment_id=number), 70.9)
    lesson = "A jar may stand by the window: nobody tasted a difference to the dresser."
    kitchen.do(experiments.end_experiment, experiments.EndExperiment(experiment_id=number, text=lesson, applies=Applies(culture="Bora", place="Window shelf")), 70.8)
    running = StartExperiment(question="Half the starter: how much longer?", changed="half the starter", kind="brew", plain=(7,), other=(10,), seed=9)
    kitchen.do(experiments.start_experiment, running, 0.02)
