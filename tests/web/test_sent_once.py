"""Sent once: a form that arrives again, because its answer was lost, is one write; what waited keeps the moment it was typed."""

import re
import threading
from datetime import timedelta

import pytest

from kyklos.actions.brewing import watching
from kyklos.demo.household import DEMO_NOW
from kyklos.serving.app import create_app
from kyklos.store.records import Instrument, Reading
from tests.conftest import TurnableClock


@pytest.fixture
def brew(kitchen):
    """A brew of two days without a reading."""
    number = kitchen.pitch(measured_ph=None)
    kitchen.clock.turn(2)
    return number


def readings(kitchen):
    """How many pHs were read, and when."""
    with kitchen.database.reader() as session:
        return [row.at for row in session.query(Reading).filter(Reading.ph.is_not(None))]


def send(client, brew, key="abcdef123456-1", ph="3.8", **more):
    """Send a reading."""
    return client.post(f"/brews/{brew}/reading", data={"ph": ph, "instrument": "strip", "view": "round", "once": key}, **more)


@pytest.mark.parametrize("headers", [{}, {"HX-Request": "true"}])
def test_a_form_that_comes_again_is_written_once(client, kitchen, brew, headers):
    """The browser's own repeat, with and without scripts, is answered well and writes nothing; another key is another reading."""
    assert send(client, brew, headers=headers).status_code < 400
    again = send(client, brew, headers={**headers, "Referer": f"http://localhost/brews/{brew}"})
    assert again.status_code == (204 if headers else 303)
    assert again.headers.get("HX-Refresh", "") == ("true" if headers else "")
    assert headers or again.location == f"/brews/{brew}"
    assert len(readings(kitchen)) == 1
    if not headers:
        assert "kept once" in client.get(again.location).text
    send(client, brew, "fedcba654321-1", headers=headers)
    assert len(readings(kitchen)) == 2


def test_the_waiting_queue_and_the_first_try_are_one_write(client, kitchen, brew):
    """The first try arrived though its answer was lost: what the device kept and sends later has the same key."""
    send(client, brew, headers={"HX-Request": "true"})
    kitchen.clock.turn(0.1)
    assert send(client, brew, headers={"X-Waited": "8640"}).status_code == 204
    assert len(readings(kitchen)) == 1


def test_a_form_corrected_after_a_refusal_is_another(client, kitchen, brew):
    """Refused, nothing was written; the same form with a pH that can be is taken."""
    assert send(client, brew, ph="99").status_code == 422
    assert send(client, brew, ph="3.7").status_code < 400
    assert len(readings(kitchen)) == 1


def test_two_at_the_same_moment_are_one_write(clock, kitchen, brew):
    """Two threads send the same form at once: one is written, and neither is a fault."""
    app = create_app(kitchen.database, clock, "test", WTF_CSRF_ENABLED=False)
    together, answers = threading.Barrier(6), []

    def one():
        together.wait()
        answers.append(send(app.test_client(), brew).status_code)

    threads = [threading.Thread(target=one) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(readings(kitchen)) == 1
    assert set(answers) <= {200, 303}


def test_what_waited_carries_the_moment_it_was_typed(client, kitchen, brew):
    """An hour in the pocket: the reading is of an hour ago. What is said beyond a month, or is no number, counts as now."""
    send(client, brew, headers={"X-Waited": "3600"})
    assert readings(kitchen) == [kitchen.clock.now - timedelta(hours=1)]
    for number, told in enumerate(("-5", "x", "9" * 30, str(400 * 86_400))):
        send(client, brew, f"abcdef99999-{number}", headers={"X-Waited": told})
        assert readings(kitchen)[-1] == kitchen.clock.now


PAGES = ["/", "/brews/7", "/brews/7/harvest", "/cellar/", "/cellar/park", "/cultures/", "/cultures/1", "/vessels/", "/vessels/new", "/settings/", "/instruments/", "/brew-day/", "/flavours/", "/almanac/", "/tasters/", "/day-book/"]  # fmt: skip


def test_every_form_has_its_key_from_the_moment_the_page_is_made(demo):
    """On each page each form that writes carries the word against strangers and a key of its own."""
    client = create_app(demo, TurnableClock(DEMO_NOW), "test").test_client()
    seen = 0
    for path in PAGES:
        page = client.get(path).text
        forms = re.findall(r'<form[^>]*method="post".*?</form>', page, re.S)
        keys = [re.findall(r'name="once" value="([^"]+)"', form) for form in forms]
        assert all(len(found) == 1 for found in keys), path
        assert len({found[0] for found in keys}) == len(forms), path
        assert all(form.count('name="csrf_token"') == 1 for form in forms), path
        seen += len(forms)
    assert seen > 100


def test_an_older_page_takes_the_new_sign_ins_word(demo):
    """A page that stood open asks for the word that forms are sent with now, and is taken."""
    client = create_app(demo, TurnableClock(DEMO_NOW), "test").test_client()
    old = re.search(r'name="csrf_token" value="([^"]+)"', client.get("/").text)[1]
    with client.session_transaction() as session:
        session.clear()
    told = {"ph": "3.5", "instrument": "strip", "once": "aaaaaaaa-1"}
    assert client.post("/brews/7/reading", data={**told, "csrf_token": old}).status_code == 400
    word = client.get("/here").json["token"]
    assert client.post("/brews/7/reading", data={**told, "csrf_token": word}).status_code == 303


def test_an_instrument_changed_in_two_windows_is_not_written_over(client, kitchen):
    """The second window sees beside each field what the first wrote; saved again, it counts."""
    meter = kitchen.do(watching.add_instrument, watching.AddInstrument(kind="meter", name="Pen", interval_days=30)).made["instrument"]
    first = {"name": "Pocket pen", "error": "0.05", "interval_days": "14", "version": "1"}
    assert client.post(f"/instruments/{meter}/change", data=first).status_code == 303
    answer = client.post(f"/instruments/{meter}/change", data={**first, "name": "Old pen", "interval_days": "60"})
    assert answer.status_code == 409
    assert "Pocket pen" in answer.text
    assert 'value="Old pen"' in answer.text
    assert client.post(f"/instruments/{meter}/retire", data={"version": "1"}).status_code == 409
    version = re.search(r'name="version" value="(\d+)"', answer.text)[1]
    assert client.post(f"/instruments/{meter}/change", data={**first, "name": "Old pen", "version": version}).status_code == 303
    with kitchen.database.reader() as session:
        assert (session.get(Instrument, meter).name, session.get(Instrument, meter).interval_days) == ("Old pen", 14)
