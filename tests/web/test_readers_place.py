"""The clock and the paper of the reader's place; zones and hours as lists; tasters one by one."""

import re

import pytest

from kyklos.actions.household import ChangeSettings, change_settings
from kyklos.demo.day import DEMO_NOW
from kyklos.store.records import Taster
from kyklos.web.kit.reader import reader_of

TESTED_SETTINGS = {"name": "Quince Yard", "units": "metric", "zone": "Europe/Lisbon", "theme": "auto", "tasters": ["Odile Varga", "Bram Sollie"]}
US = {"Accept-Language": "en-US,en;q=0.9"}


@pytest.mark.parametrize(
    ("languages", "twelve", "letter"),
    [("en-US,en;q=0.9", True, True), ("en-GB", False, False), ("en-AU", True, False), ("fr-CA,fr;q=0.8,en-US", True, True), ("en, de-DE", False, False), ("", False, False), (";;,-", False, False)],
)  # fmt: skip
def test_a_language_says_which_clock_and_paper_there_are(languages, twelve, letter):
    """The first language with a territory decides; none leaves 24 hours and A4."""
    found = reader_of(languages)
    assert (found.twelve_hours, found.letter_paper) == (twelve, letter)


def test_the_same_page_has_the_readers_own_clock(demo_client):
    """A page kept for one reader is not given to another whose clock has twelve hours."""
    for _ in range(2):
        assert re.search(r"\b1\d:\d\d\b", demo_client.get("/brew-day/clock").text)
        theirs = demo_client.get("/brew-day/clock", headers=US).text
        assert re.search(r"\b1?\d:\d\d [ap]m\b", theirs)
        assert not re.search(r"\b1[3-9]:\d\d\b", theirs)


def test_labels_and_a_second_opinion_come_on_the_readers_paper(demo_client):
    """Letter is 612 by 792 points, A4 595 by 842."""
    for address in ("/brew-day/labels/7.pdf", "/brews/7/opinion.pdf"):
        assert b"595" in demo_client.get(address).data
        assert re.search(rb"0 0 612 792", demo_client.get(address, headers=US).data)


def test_zones_and_hours_are_lists(demo_client):
    """The household's own are chosen; a zone that nobody knows stays, with its sentence."""
    page = demo_client.get("/settings/").text
    assert '<option value="Europe/Lisbon" selected>Lisbon</option>' in page
    assert '<option value="America/Argentina/Ushuaia">Ushuaia, Argentina</option>' in page
    assert '<option value="21" selected>21:00</option>' in page
    assert '<option value="21" selected>9:00 pm</option>' in demo_client.get("/settings/", headers=US).text
    wrong = demo_client.post("/settings/", data=TESTED_SETTINGS | {"zone": "Mars/Olympus", "quiet_from": "25"})
    assert wrong.status_code == 422
    assert "This time zone is not known" in wrong.text
    assert "An hour from 0 to 23" in wrong.text
    assert '<option value="Mars/Olympus" selected>' in wrong.text


def test_tasters_are_named_one_by_one(demo, demo_client):
    """One more in a row of its own; an empty row is nobody; who left before tasting goes, whatever the order."""
    page = demo_client.get("/settings/").text
    assert re.findall(r'name="tasters" value="([^"]*)"', page) == ["Odile Varga", "Bram Sollie", ""]
    said = TESTED_SETTINGS | {"tasters": ["Cleo", "", "Odile Varga", "Bram Sollie"]}
    demo_client.post("/settings/", data=said)
    with demo.reader() as session:
        assert [t.name for t in session.query(Taster).order_by(Taster.position)] == ["Cleo", "Odile Varga", "Bram Sollie"]
    answer = demo_client.post("/settings/", data=TESTED_SETTINGS | {"tasters": ["Odile Varga", "Bram Sollie"]}, follow_redirects=True)
    assert answer.status_code == 200
    with demo.reader() as session:
        assert [t.name for t in session.query(Taster).order_by(Taster.position)] == ["Odile Varga", "Bram Sollie"]


def test_a_taster_left_out_who_tasted_stays_and_is_said(demo):
    """The first of two is left out: the other keeps the own tastings, and the first is said to stay."""
    with demo.reader() as session:
        kept = {t.name: t.id for t in session.query(Taster)}
    ask = ChangeSettings(name="Quince Yard", units="metric", zone="UTC", theme="auto", tasters=("Bram Sollie",))
    with demo.writer() as session:
        done = change_settings(session, ask, DEMO_NOW)
    assert "Odile Varga tasted here and stays" in done.says
    with demo.reader() as session:
        assert {t.name: t.id for t in session.query(Taster)} == kept


def test_a_tasters_point_is_said_in_words(demo_client):
    """Tart and sweeter are told apart in words; the grams stand behind a question."""
    page = demo_client.get("/tasters/").text
    first, second = page.split('class="palate"')[1], page.split("Bram Sollie")[1]
    assert "<strong>rather tart</strong>" in first
    assert "<strong>rather sweet</strong>" in second
    assert "g/L" not in re.sub(r"<details.*?</details>|<title>.*?</title>", "", page.split("<main")[1].split("</main>")[0], flags=re.S)


def test_two_lines_side_by_side_say_how_often_each_was_measured(demo_client):
    """Each line and disc says how many of its brews were measured."""
    page = demo_client.get("/cultures/compare").text
    assert re.search(r"Bora,\s+[2-9] brews measured", page)
    assert re.search(r"Levanter,\s+1 brew measured", page)
    assert "0 measured" not in page
