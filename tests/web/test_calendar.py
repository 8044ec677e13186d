"""The round as a calendar, read by a parser that is not the one which wrote it: each event leads somewhere, rings, moves, and goes when done."""

from datetime import timedelta
from urllib.parse import urlsplit

import pytest
import vobject

from kyklos.store.records import Bottle


@pytest.fixture
def events(demo_client):
    """Fetch the calendar's events by their key."""
    demo_client.post("/almanac/feed")
    address = demo_client.get("/settings/").text.split("/almanac/feed/")[1].split(".ics")[0]

    def read():
        found = list(vobject.readOne(demo_client.get(f"/almanac/feed/{address}.ics").get_data(as_text=True)).vevent_list)
        keys = [event.uid.value for event in found]
        assert len(set(keys)) == len(keys)
        return dict(zip(keys, found, strict=True))

    return read


def test_each_event_leads_to_its_page_and_rings(demo_client, events):
    """A link that answers, and an alarm of the morning of its first day, with the event's own words."""
    found = events()
    assert len(found) > 12
    for event in found.values():
        assert demo_client.get(urlsplit(event.url.value).path).status_code == 200
        assert event.valarm.trigger.value == timedelta(hours=9)
        assert event.valarm.action.value == "DISPLAY"
        assert event.valarm.description.value == event.summary.value


def test_a_planned_day_moves_and_what_is_done_goes(demo_client, demo, events):
    """Moved on the almanac it is the same event on another day; chilled bottles, and a day put away, are in it no longer."""
    demo_client.post("/almanac/plan", data={"kind": "brew", "vessel": "2", "day": "2027-02-25"})
    (planned,) = [key for key, event in events().items() if key.startswith("plan-") and event.dtstart.value.isoformat() == "2027-02-25"]
    number = planned.split("-")[1].split("@")[0]
    demo_client.post("/almanac/plan", data={"kind": "brew", "vessel": "2", "day": "2027-02-26", "plan": number})
    assert events()[planned].dtstart.value.isoformat() == "2027-02-26"
    demo_client.post(f"/almanac/plan/{number}/drop")
    assert planned not in events()
    chill = next(key for key, event in events().items() if event.summary.value.startswith("Chill"))
    warm = [str(bottle.id) for bottle in warm_bottles(demo)]
    assert demo_client.post("/cellar/chill", data={"bottle": warm}).status_code in {200, 303}
    assert chill not in events()


def warm_bottles(database):
    """All that stand at room temperature."""
    with database.reader() as session:
        return session.query(Bottle).filter_by(state="warm").all()
