"""The day by the clock is walked: step by step through all its vessels, late or not, and nothing sent makes a fault."""

import re
from datetime import timedelta

import pytest

from kyklos.demo.day import DEMO_NOW
from kyklos.serving.app import create_app
from kyklos.store.records import KitchenDay
from tests.conftest import TurnableClock


def walker(demo):
    """A client of the sample household whose clock can be turned."""
    clock = TurnableClock(DEMO_NOW)
    return create_app(demo, clock, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client(), clock


def begun(client):
    """Start the day as it is laid out; gives its address."""
    page = client.get("/brew-day/clock").text
    form = re.search(r'action="/brew-day/clock/start".*?</form>', page, re.S)[0]
    vessels = re.findall(r'name="vessels" value="(\d+)"', form)
    assert len(vessels) == 2
    answer = client.post("/brew-day/clock/start", data={"vessels": vessels, "hands": "1"})
    assert answer.status_code == 303
    return answer.headers["Location"]


def test_a_day_of_two_vessels_is_walked_to_its_end(demo):
    """Each step is done when it is; waits are said with their end and stand as timers on every page; at the end the day is over."""
    client, clock = walker(demo)
    address = begun(client)
    first = client.get("/brew-day/clock").text
    assert "Go on with" in first
    assert "Start the day" not in first
    assert "The day: 0 of" in client.get("/cellar/").text
    assert "The day: 0 of" not in client.get(address).text
    seen_wait, steps = False, 0
    for _ in range(80):
        page = client.get(address)
        if page.status_code == 303:
            break
        step = re.search(r'name="step" value="(\d+)"', page.text)
        if step is None:
            seen_wait = True
            assert "You can leave the kitchen" in page.text
            assert 'class="timer' in client.get("/").text
            clock.now += timedelta(minutes=5)
            continue
        clock.now += timedelta(minutes=3)
        client.post(f"{address}/done", data={"step": step[1]})
        steps += 1
    with demo.reader() as session:
        day = session.query(KitchenDay).one()
        assert day.ended_at is not None
        assert len(day.done) == steps == len(day.walk["steps"])
    assert seen_wait
    assert "Start the day" in client.get("/brew-day/clock").text


def test_a_late_step_pushes_the_rest_and_says_so(demo):
    """Twenty minutes late at the first step: the end moves by as much and the page says how late it is."""
    client, clock = walker(demo)
    address = begun(client)
    assert "later than laid" not in client.get(address).text
    clock.now += timedelta(minutes=23)
    assert re.search(r"20 min later than laid\s+out", client.get(address).text)


def test_steps_lead_to_where_they_are_written_down(demo):
    """The draw of a tapped vessel leads to it, the starter to the harvest."""
    client, clock = walker(demo)
    address, ways = begun(client), set()
    for _ in range(60):
        page = client.get(address)
        if page.status_code == 303:
            break
        ways |= set(re.findall(r'class="btn btn-quiet" href="([^"]+)"', page.text))
        step = re.search(r'name="step" value="(\d+)"', page.text)
        clock.now += timedelta(minutes=4)
        if step:
            client.post(f"{address}/done", data={"step": step[1]})
    assert any(re.fullmatch(r"/tapped/\d+", way) for way in ways)
    assert any(way.endswith("/harvest") for way in ways)
    assert any(way.endswith("/bottling") for way in ways)
    assert any(way.startswith("/brew-day/?vessel=") for way in ways)
    assert all(client.get(way).status_code == 200 for way in ways)


def test_wrong_steps_are_said_and_change_nothing(demo):
    """A step that others come before, one that is not there, a second day, none at all: a sentence each time."""
    client, _ = walker(demo)
    nothing = client.post("/brew-day/clock/start", data={"hands": "1"})
    assert nothing.status_code == 422
    assert "choose a vessel" in nothing.text.lower()
    address = begun(client)
    with demo.reader() as session:
        late = next(n for n, step in enumerate(session.query(KitchenDay).one().walk["steps"]) if step["needs"])
    last = client.post(f"{address}/done", data={"step": str(late)})
    assert last.status_code == 422
    assert "Something else has to be done before it." in last.text
    for step in ("999", "x", "-1"):
        assert "There is no such step." in client.post(f"{address}/done", data={"step": step}).text
    assert "No step is done yet." in client.post(f"{address}/back").text
    again = client.post("/brew-day/clock/start", data={"vessels": ["1"], "hands": "1"})
    assert again.status_code == 422
    assert "under way" in again.text
    assert client.post(f"{address}/end").status_code == 303
    assert client.get(address).status_code == 303
    assert client.post(f"{address}/done", data={"step": "0"}).status_code == 409


@pytest.mark.parametrize("wrong", [{"walk": {"version": 99}}, {"walk": {"steps": 3}}, {"done": {"x": "y"}}, {"done": {"0": None}}])
def test_a_day_that_cannot_be_read_hides_no_page_and_makes_room(demo, wrong):
    """Kept by a newer version, or torn: every page answers without it, and a new day puts it away."""
    client, _ = walker(demo)
    begun(client)
    with demo.writer() as session, session.begin():
        for name, value in wrong.items():
            setattr(session.query(KitchenDay).one(), name, value)
    assert client.get("/").status_code == 200
    assert client.get("/cellar/").status_code == 200
    begun(client)
    with demo.reader() as session:
        assert [day.ended_at is None for day in session.query(KitchenDay).order_by(KitchenDay.id)] == [False, True]
