"""A spreadsheet brought in: columns are recognised and asked about, wrong rows named, nothing written until confirmed, undone as one."""

import html
import io
import re

import pytest

from kyklos.core.sheets.columns import recognised
from kyklos.store.records import Bottle, Brew, Reading, Tasting, Vessel

from ..core.test_spreadsheets import FILES, as_workbook

SHEET = """Jar,SCOBY,Started,Date,pH,Temp °F,Bottled,Notes,Colour
Blue jar,Bora,2026-11-01,2026-11-01,4.2,75,,,amber
Blue jar,Bora,2026-11-01,2026-11-05,3.6,74,,,amber
Blue jar,Bora,2026-11-01,2026-11-09,3.2,74,2026-11-10,tart,amber
Blue jar,Bora,2026-11-12,2026-11-20,3.1,70,2026-11-22,,amber
Red jar,,2026-12-01,2026-12-04,35,70,,,pale
Red jar,,2026-12-01,2026-12-05,3.9,70,,,pale
Red jar,,soon,,,,,,
,,,,,,,,
Green jar,,2027-02-01,2027-02-09,3.5,69,2026-01-01,,
"""


def test_columns_are_recognised_by_their_heads():
    """In any order and wording; what is none is left out."""
    assert recognised(SHEET.splitlines()[0].split(",")) == ("vessel", "culture", "began", "at", "ph", "temperature", "ended", "note", "")  # fmt: skip
    assert recognised(["Batch #", "brew day", "pH reading", "temp"]) == ("brew", "began", "ph", "temperature")


def test_a_preview_writes_nothing_and_names_wrong_rows(client, database):
    """What would be added stands there, each wrong row with its reason; nothing is written before it is confirmed."""
    page = client.post("/settings/import", data={"file": (io.BytesIO(SHEET.encode()), "brews.csv")}, content_type="multipart/form-data")
    assert page.status_code == 200
    assert "3 brews, 5 readings" in page.text
    for row, why in ((6, "no pH"), (8, "no day"), (10, "ended before it began")):
        assert f"Row {row}:" in page.text
        assert why in page.text
    with database.reader() as session:
        assert session.query(Brew).count() == 0


def test_confirmed_it_is_written_and_undone_as_one(client, database):
    """Vessels, cultures, brews and readings are there, in °C; one undo takes all of them away."""
    told = {"text": SHEET, "confirmed": "yes", "culture": "Old line"}
    assert client.post("/settings/import", data=told).status_code == 303
    with database.reader() as session:
        brews = session.query(Brew).order_by(Brew.pitched_at).all()
        assert [(b.vessel.name, b.culture.name, b.status) for b in brews] == [
            ("Blue jar", "Bora", "harvested"), ("Blue jar", "Bora", "harvested"), ("Red jar", "Old line", "fermenting"),
        ]  # fmt: skip
        assert session.query(Vessel).count() == 2
        first = session.query(Reading).order_by(Reading.at).first()
        assert (first.ph, round(first.celsius, 1)) == (4.2, 23.9)
    assert client.get("/").status_code == 200
    assert client.get("/brews/1").status_code == 200
    assert client.post("/undo/1").status_code == 303
    with database.reader() as session:
        assert session.query(Brew).count() == session.query(Vessel).count() == session.query(Reading).count() == 0


def test_a_column_chosen_otherwise_counts(client, database):
    """What the head says can be changed; a second confirming of the same jar at the same time is refused with its row."""
    text = "Thing;When;Number\nTall;2027-02-01;3,4\nTall;2027-02-05;3,2\n"
    told = {"text": text, "column-0": ["vessel", "at", "ph"], "confirmed": "yes"}
    assert client.post("/settings/import", data=told).status_code == 303
    with database.reader() as session:
        assert session.query(Reading).count() == 2
    again = client.post("/settings/import", data=told)
    assert again.status_code == 422
    assert "Row 2:" in again.text
    assert "Nothing was written" in again.text


def test_what_was_said_once_is_remembered_for_the_next_file_like_it(client, database):
    """A column named by hand is that column again when a file with the same heads comes; another file is read by its own heads."""
    client.post("/settings/import", data={"text": "Thing;When;Number\nTall;2027-02-01;3,4\n", "column-0": ["vessel", "at", "ph"], "confirmed": "yes"})
    page = client.post("/settings/import", data={"text": "Thing;When;Number\nSmall;2027-02-02;3,3\n"})
    assert "1 brew, 1 reading" in page.text
    assert "Small" in page.text
    other = client.post("/settings/import", data={"text": "Thing;When;Figure\nSmall;2027-02-02;3,3\n"})
    assert "0 readings" in other.text


def test_a_day_that_may_mean_two_is_asked_about_and_not_guessed(client, database):
    """3/4 is asked about where no other cell tells; until it is said, nothing is written, and then it is that day."""
    text = "Jar,Date,pH\nTall,3/2/2027,3.4\nTall,5/2/2027,3.2\n"
    asked = client.post("/settings/import", data={"text": text})
    assert "Which day is 3/2/2027?" in asked.text
    tables = html.unescape(re.search(r'name="tables"[^>]*>(.*?)</textarea>', asked.text, re.S)[1])
    told = {"tables": tables, "column-0": ["vessel", "at", "ph"]}
    assert client.post("/settings/import", data={**told, "confirmed": "yes"}).status_code == 422
    with database.reader() as session:
        assert session.query(Brew).count() == 0
    assert client.post("/settings/import", data={**told, "order": "day", "confirmed": "yes"}).status_code == 303
    with database.reader() as session:
        assert [r.at.date().isoformat() for r in session.query(Reading).order_by(Reading.at)] == ["2027-02-03", "2027-02-05"]


def test_tastes_and_bottles_come_along_and_go_with_one_undo(client, database):
    """A workbook's sheets are put together by the brew's number: readings, tastes of a new taster, bottles that are still there."""
    file = io.BytesIO(as_workbook(FILES["sheets.xlsx"]))
    shown = client.post("/settings/import", data={"file": (file, "sheets.xlsx")}, content_type="multipart/form-data")
    assert "2 brews, 3 readings, 2 tastes, 9 bottles" in shown.text
    tables = html.unescape(re.search(r'name="tables"[^>]*>(.*?)</textarea>', shown.text, re.S)[1])
    assert client.post("/settings/import", data={"tables": tables, "bottles_left": "on", "confirmed": "yes"}).status_code == 303
    with database.reader() as session:
        assert sorted(b.state for b in session.query(Bottle)) == ["warm"] * 9
        assert {t.taster.name for t in session.query(Tasting)} == {"Odile"}
    assert client.get("/cellar/").status_code == 200
    assert client.post("/undo/1").status_code == 303
    with database.reader() as session:
        assert session.query(Bottle).count() == session.query(Tasting).count() == session.query(Brew).count() == 0


@pytest.mark.parametrize("text", ["", "hello", "a,b", "a,b\n" * 6000, 'a,b\n"' + "x" * 300_000 + '",2', "pH;note\n3.4;x\n", "\x00,\x00\n1,2"])
def test_what_is_no_table_is_answered_in_a_sentence(client, text):
    """Nothing, a letter, a table without days, a huge one: a sentence, and what was pasted stays."""
    page = client.post("/settings/import", data={"text": text})
    assert page.status_code == 422
    assert "role=\"alert\"" in page.text
