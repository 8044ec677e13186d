"""Notes: a line on any thing of the household, where it belongs, from the bin and back, and from older files."""

import gzip
import io
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from sqlalchemy import select

from kyklos.actions.household import AddVessel, add_vessel
from kyklos.actions.notes import WriteNote, write_note
from kyklos.core.base.kinds import NoteOn
from kyklos.demo.watched import picture
from kyklos.store.file.database import Database
from kyklos.store.read.day_book import builds_on
from kyklos.store.read.notes import ABOUT
from kyklos.store.records import Bottle, Bottling, Change, Note, PhotoContent

DATA = Path(__file__).parents[1] / "store/data"

PAGES = {
    NoteOn.BREW: "/brews/{0}", NoteOn.BOTTLE: "/cellar/bottles/{0}", NoteOn.CULTURE: "/cultures/{0}", NoteOn.VESSEL: "/vessels/{0}",
    NoteOn.FLAVOUR: "/flavours/{0}",
}  # fmt: skip


def first(database, query):
    """Ask for the first number that a query finds."""
    with database.reader() as session:
        return session.scalars(query.limit(1)).first()


def test_every_kind_of_thing_has_a_table():
    """What a note may be about is the very table that its number is of."""
    assert {about: kind.__tablename__ for about, kind in ABOUT.items()} == {about: str(about) for about in NoteOn}


@pytest.mark.parametrize("about", NoteOn)
def test_a_note_on_anything_stands_where_it_belongs(demo_client, demo, about):
    """It is on its own page and on the thing's, with whose hand; struck out it is in the bin, put back it stands again."""
    number = first(demo, select(ABOUT[about].id))
    written = demo_client.post(f"/notes/{about}/{number}", data={"text": "Hums at night.", "taster": "1"})
    assert written.status_code == 303
    shown = [f"/notes/{about}/{number}"] + ([PAGES[about].format(number)] if about in PAGES else [])
    assert all("Hums at night." in demo_client.get(page).text for page in shown)
    assert "Odile Varga" in demo_client.get(shown[0]).text
    note = first(demo, select(Note.id).order_by(Note.id.desc()))
    demo_client.post(f"/notes/{about}/{number}/strike/{note}")
    assert "Hums at night." not in demo_client.get(shown[0]).text
    assert "Hums at night." in demo_client.get("/bin/").text
    demo_client.post(f"/bin/note/{note}")
    assert "Hums at night." in demo_client.get(shown[0]).text


def test_what_is_noted_of_a_filling_is_on_each_of_its_bottles(demo_client, demo):
    """Bottles filled alike share what was said of them."""
    filling = first(demo, select(Bottling.id).join(Bottle).where(Bottle.state != "gone"))
    demo_client.post(f"/notes/bottling/{filling}", data={"text": "Cloudy at the neck."})
    number = first(demo, select(Bottle.id).where(Bottle.bottling_id == filling))
    assert "Cloudy at the neck." in demo_client.get(f"/cellar/bottles/{number}").text


def test_a_wrong_note_is_refused_beside_its_field(demo_client):
    """Nothing, too much, and a thing that is not there; what was typed is kept."""
    assert "Nothing was written" in demo_client.post("/notes/place/1", data={"text": "  "}).text
    long = demo_client.post("/notes/place/1", data={"text": "a" * 501})
    assert long.status_code == 422
    assert "at most 500 letters" in long.text
    assert "a" * 501 in long.text
    assert demo_client.get("/notes/place/999999").status_code == 404
    assert demo_client.get("/notes/roof/1").status_code == 404


def test_what_a_note_rests_on_is_not_undone_from_under_it(do, database):
    """A vessel with a note counts as built on, though its number in the note is no foreign key."""
    do(add_vessel, AddVessel(
        name="Jar", kind="jar", material="glass", tapped=False, nominal_l=3, usable_l=2.7, diameter_cm=15, new_place="Shelf", new_place_c=22
    ))
    do(write_note, WriteNote(about="vessel", about_id=1, text="Chipped."))
    with database.reader() as session:
        first, second = session.scalars(select(Change).order_by(Change.id))
        assert builds_on(session, first).id == second.id


def test_notes_of_an_older_file_are_on_what_they_were_about(tmp_path):
    """Of 0.4.0's sample household every note on a liquid is one on its brew or its filling."""
    path = tmp_path / "kyklos.db"
    path.write_bytes(gzip.decompress((DATA / "demo-0.4.0.db.gz").read_bytes()))
    with closing(sqlite3.connect(path)) as old:
        before = old.execute("SELECT text, brew_id FROM note ORDER BY id").fetchall()
        assert before
    Database(path).migrate()
    with closing(sqlite3.connect(path)) as new:
        assert new.execute("SELECT text, about_id FROM note WHERE about = 'brew' ORDER BY id").fetchall() == before


def test_a_note_has_a_photo_and_takes_it_along_when_undone(demo_client, demo):
    """With words or alone; shown small and large; what is no photo is a sentence, and the words stay; undone, its content is gone."""
    def send(text, content, name="a.jpg"):
        return demo_client.post("/notes/vessel/1", data={"text": text, "photo": (io.BytesIO(content), name)}, content_type="multipart/form-data")

    wrong = send("Drips.", b"no picture at all")
    assert (wrong.status_code, "cannot be read as a photo" in wrong.text, "Drips." in wrong.text) == (422, True, True)
    content = picture(3, 77, (150, 84, 36))
    assert send("Drips.", content).status_code == 303
    assert send("", content).status_code == 303
    with demo.reader() as session:
        alone, note = session.scalars(select(Note).order_by(Note.id.desc()).limit(2))
        numbers, sha = (note.id, alone.id), note.photo_sha
    for number in numbers:
        assert demo_client.get(f"/notes/photos/{number}/small.jpg").data[:2] == b"\xff\xd8"
        assert f"/notes/photos/{number}/large.jpg" in demo_client.get("/notes/vessel/1").text
    assert demo_client.get(f"/notes/photos/{numbers[0]}/huge.jpg").status_code == 404
    for _ in numbers:
        demo_client.post(f"/day-book/{first(demo, select(Change.id).where(Change.undone_at.is_(None)).order_by(Change.id.desc()))}/undo")
    assert first(demo, select(PhotoContent.id).where(PhotoContent.sha == sha)) is None
