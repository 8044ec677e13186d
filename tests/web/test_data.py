"""Live tables: every number out, whole or since a moment, joined by its ids, safe in a spreadsheet, and by a key that opens nothing else."""

import csv
import io
import json
import threading
import time
import urllib.request
from datetime import datetime, timedelta

import pytest
from sqlalchemy import func, select
from werkzeug.security import generate_password_hash

from kyklos import serving
from kyklos.actions import notebook
from kyklos.actions.brewing import correcting, readings
from kyklos.core.notebook.lessons import Applies
from kyklos.demo.household import DEMO_NOW
from kyklos.exchange.live_tables import TABLES
from kyklos.serving.app import create_app
from kyklos.serving.sign_in import knows
from kyklos.store.records import Bottle, Brew, Culture, Look, Reading, Score, Tasting, Transfer

from ..conftest import doing


def fetched(client, name, form="csv", **asked):
    """A table's rows."""
    text = client.get(f"/data/{name}.{form}", query_string=asked).get_data(as_text=True)
    return list(csv.DictReader(io.StringIO(text, newline=""))) if form == "csv" else [json.loads(line) for line in text.splitlines()]


@pytest.mark.parametrize(("name", "kind"), [("readings", Reading), ("tastings", Tasting), ("looks", Look), ("brews", Brew), ("transfers", Transfer), ("bottles", Bottle), ("scores", Score), ("cultures", Culture)])
def test_every_row_of_the_household_is_there(demo_client, demo, name, kind):
    """As many rows as the house keeps, those struck out too, each with its id."""
    rows = fetched(demo_client, name)
    with demo.reader() as session:
        assert len(rows) == session.scalar(select(func.count()).select_from(kind))
        assert {int(row["id"]) for row in rows} == set(session.scalars(select(kind.id)))


@pytest.mark.parametrize("name", TABLES)
def test_a_table_is_the_same_in_both_forms(demo_client, name):
    """CSV and JSON lines tell the same; moments have their offset, columns their units, and a brew's rows are some of them."""
    rows, lines = fetched(demo_client, name), fetched(demo_client, name, "jsonl")
    assert len(rows) == len(lines)
    assert rows, "the sample has every kind of number"
    assert list(rows[0]) == list(lines[0])
    for row in rows[:50]:
        for key in ("at", "begun_at", "filled_at"):
            assert key not in row or datetime.fromisoformat(row[key]).utcoffset() == timedelta(0)
    if "brew" in rows[0]:
        wanted = next(row["brew"] for row in rows if row["brew"])
        mine = fetched(demo_client, name, brew=wanted)
        assert 0 < len(mine) <= len(rows)
        assert {row["brew"] for row in mine} == {wanted}


def test_what_is_new_is_what_was_recorded_or_corrected_since(demo_client, demo):
    """A reading of long ago that is corrected now is new, with the one it replaces, struck; nothing else of its time is."""
    write = doing(demo, lambda: DEMO_NOW)
    since = (DEMO_NOW - timedelta(minutes=1)).isoformat()
    assert fetched(demo_client, "readings", since=since) == []
    with demo.reader() as session:
        old = session.scalars(select(Reading).join(Brew, Brew.liquid_id == Reading.liquid_id).where(Brew.ended_at.is_(None), Reading.ph.is_not(None), Reading.struck.is_(False))).first()
        number, brew = old.id, session.scalars(select(Brew.id).where(Brew.liquid_id == old.liquid_id)).one()
    done = write(correcting.correct_reading, correcting.CorrectReading(reading_id=number, now=readings.LogReading(brew_id=brew, ph=3.33)))
    rows = fetched(demo_client, "readings", since=since)
    assert {(int(row["id"]), row["struck"]) for row in rows} == {(number, "1"), (done.made["reading"], "0")}
    assert next(row["replaces"] for row in rows if row["struck"] == "0") == str(number)


def test_nothing_is_reckoned_with_by_a_spreadsheet(demo_client, demo):
    """A text that begins like a formula is set behind an apostrophe; accents, commas and line ends come through."""
    write = doing(demo, lambda: DEMO_NOW)
    text = '=cmd|" /C calc"!A0, crème; "brûlée"'
    write(notebook.keep_lesson, notebook.KeepLesson(text=text, applies=Applies(season="winter")))
    row = next(row for row in fetched(demo_client, "lessons") if "brûlée" in row["text"])
    assert row["text"] == f"'{text}"
    assert text in {row["text"] for row in fetched(demo_client, "lessons", "jsonl")}


@pytest.mark.parametrize("asked", [{"since": "yesterday"}, {"brew": "x"}, {"vessel": "-1.5"}, {"since": "9" * 50}])
def test_a_wrong_question_is_a_sentence(demo_client, asked):
    """What cannot be read is said, and no table comes."""
    found = demo_client.get("/data/readings.csv", query_string=asked)
    assert (found.status_code, found.mimetype) == (422, "text/plain")
    assert demo_client.get("/data/secrets.csv").status_code == 404
    assert demo_client.get("/data/readings.exe").status_code == 404


def test_a_key_reads_tables_and_nothing_else(demo, demo_client):
    """Made with a name and shown once; with it a table comes, no page does; ended, it is worth nothing; only its sum is kept."""
    assert "For what is it?" in demo_client.post("/data/keys", data={"name": " "}).text
    page = demo_client.post("/data/keys", data={"name": "My notebook"}).text
    key = page.split("shown once: <code>")[1].split("<")[0]
    assert key not in demo_client.get("/data/").text
    assert "My notebook" in demo_client.get("/data/").text
    assert "not used yet" in demo_client.get("/data/").text
    shared = create_app(demo, lambda: DEMO_NOW, "s", KYKLOS_SHARED=True, KYKLOS_PASSWORD=generate_password_hash("sour jar seven"), TESTING=True).test_client()
    assert shared.get(f"/data/brews.csv?key={key}").status_code == 200
    assert shared.get("/data/brews.csv?key=guess").status_code == 303
    assert "not used yet" not in demo_client.get("/data/").text
    for path in ("/data/", "/", "/brews/7", "/settings/"):
        assert shared.get(f"{path}?key={key}").status_code == 303
    assert shared.post(f"/data/keys?key={key}", data={"name": "more"}).status_code in {400, 401}
    number = page.split('action="/data/keys/')[1].split("/")[0]
    demo_client.post(f"/data/keys/{number}/end")
    assert shared.get(f"/data/brews.csv?key={key}").status_code == 303
    assert key.encode() not in demo.path.read_bytes()


def test_a_table_comes_piece_by_piece(demo):
    """The real server sends the first rows before the last are read, in pieces; a reader that leaves stops it."""
    app = create_app(demo, lambda: DEMO_NOW, "s")
    server = serving.make(app, "127.0.0.1", 0, knows=knows(app))
    thread = threading.Thread(target=serving.run, args=(server,), daemon=True)
    thread.start()
    try:
        began = time.perf_counter()
        with urllib.request.urlopen(f"http://127.0.0.1:{server.port}/data/temperatures.csv", timeout=20) as answer:
            first = answer.read(40)
            took = time.perf_counter() - began
            rest = answer.read()
            assert answer.headers.get("Content-Length") is None
        assert first.startswith(b"id,at,brew")
        assert rest.count(b"\r\n") > 300
        assert took < 5.0
        with urllib.request.urlopen(f"http://127.0.0.1:{server.port}/data/temperatures.jsonl", timeout=20) as answer:
            answer.read(10)
        with urllib.request.urlopen(f"http://127.0.0.1:{server.port}/data/cultures.csv", timeout=20) as answer:
            assert answer.status == 200
    finally:
        server.stop()
        thread.join(2)
