"""The culture passport: out and in keeps the graph, twice is once, and what is forged is refused without a trace."""

import io
import json
import re
from datetime import date, timedelta
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.cultures.lineage import descent, generations
from kyklos.exchange.passport import Came, Passport, PassportError, Thing, fingerprint, read, schema, written
from kyklos.store.read import culture_queries
from kyklos.store.records import Change, Culture

START = date(2020, 1, 1)
KINDS = ("brew", "lot", "disc")


def iso(day):
    """A day after the start."""
    return (START + timedelta(days=day)).isoformat()


@st.composite
def passports(draw):
    """A line in which everything comes from something older."""
    count = draw(st.integers(0, 12))
    things = tuple(Thing(key=f"{KINDS[i % 3]}-{i}", kind=KINDS[i % 3], on=iso(i * 5)) for i in range(count))
    links = []
    for i in range(1, count):
        for j in draw(st.lists(st.integers(0, i - 1), max_size=3, unique=True)):
            links.append(Came.model_validate({"from": things[j].key, "to": things[i].key, "on": iso(i * 5)}))
    name = draw(st.text(alphabet="abcé öÄ漢", min_size=1, max_size=40).filter(str.strip))
    return Passport(
        name=name,
        diet="jun",
        origin="received",
        begun_on=iso(0),
        written_on=iso(400),
        things=things,
        links=tuple(links),
    )


@given(passports())
@settings(max_examples=60, deadline=None)
def test_out_and_in_keeps_everything(passport):
    """What was written is read as it was, with the same fingerprint and the same generations."""
    again = read(written(passport).encode())
    assert again == passport
    assert fingerprint(again) == fingerprint(passport)
    assert generations(descent(again.links_as_told)) == generations(descent(passport.links_as_told))


GOOD = json.loads(
    written(
        Passport(
            name="Mistral",
            diet="sugar",
            origin="bought",
            begun_on=iso(0),
            written_on=iso(90),
            things=(Thing(key="brew-1", kind="brew", on=iso(3)), Thing(key="disc-1", kind="disc", on=iso(12))),
            links=(Came.model_validate({"from": "brew-1", "to": "disc-1", "on": iso(12)}),),
        )
    )
)


def forged(**changes):
    """The good document with some keys otherwise."""
    return json.dumps({**GOOD, **changes}).encode()


LINK = {"from": "brew-1", "to": "disc-1", "on": iso(12)}
FORGERIES = {
    "empty": b"",
    "no JSON": b"{",
    "not text": b"\xff\xfe\x00",
    "a list": b"[]",
    "another format": forged(format="something"),
    "a later version": forged(version=2),
    "a key too many": forged(surprise=1),
    "no name": forged(name=""),
    "a number as text": forged(version="1"),
    "not a number": b'{"format":"kyklos-culture-passport","version":1,"vigour":NaN}',
    "a day that is none": forged(begun_on="2021-02-31"),
    "a stranger in a link": forged(links=[{**LINK, "to": "disc-9"}]),
    "time runs backward": forged(links=[{**LINK, "on": "2019-01-01"}]),
    "a loop": forged(links=[LINK, {"from": "disc-1", "to": "brew-1", "on": iso(12)}]),
    "itself as ancestor": forged(links=[{"from": "brew-1", "to": "brew-1", "on": iso(12)}]),
    "the same thing twice": forged(things=[GOOD["things"][0], GOOD["things"][0]], links=[]),
    "markup as key": forged(things=[{**GOOD["things"][0], "key": "<script>"}], links=[]),
    "deeply nested": b"[" * 200_000,
    "nested inside": b'{"format":"kyklos-culture-passport","version":1,"name":' + b"[" * 50_000,
    "huge": b" " * 2_000_001,
}


@pytest.mark.parametrize("name", FORGERIES)
def test_a_forgery_is_refused_with_a_sentence_and_no_trace(demo_client, demo, name):
    """Damaged, huge, nested, looping or forged: nothing is written, and the page says why."""
    with pytest.raises(PassportError):
        read(FORGERIES[name])

    def state():
        with demo.reader() as session:
            return session.query(Culture).count(), session.query(Change).count()

    before = state()
    page = demo_client.post("/cultures/passport", data={"file": (io.BytesIO(FORGERIES[name]), "p.json"), "confirmed": "yes"})
    assert page.status_code in {413, 422}
    assert state() == before


def test_a_line_goes_to_another_household_and_stays_itself(demo_client, client, database):
    """Bora's passport names nobody; read elsewhere the line goes on with its ancestors; read twice it is there once."""
    content = demo_client.get("/cultures/1/passport.json").data
    text = content.decode()
    for private in ("Quince", "Odile", "Bram", "Dresser", "weaver", "Grown in autumn"):
        assert private not in text
    assert "Grown in autumn" in demo_client.get("/cultures/1/passport.json?story=1").text
    for _ in range(2):
        page = client.post("/cultures/passport", data={"file": (io.BytesIO(content), "bora.json"), "confirmed": "yes"})
        assert page.status_code == 303
    with database.reader() as session:
        lines = culture_queries.cultures(session)
        assert [c.name for c in lines] == ["Bora"]
        assert (lines[0].origin, len(lines[0].passport["things"])) == ("received", len(json.loads(text)["things"]))
    assert "ancestors" in client.get(page.location).text


def test_a_passport_passed_on_keeps_its_first_household(demo_client, client):
    """Out of the second household the ancestors of the first are still in it, marked as received."""
    content = demo_client.get("/cultures/1/passport.json").data
    page = client.post("/cultures/passport", data={"file": (io.BytesIO(content), "bora.json"), "confirmed": "yes"})
    number = page.location.rsplit("/", 1)[1]
    again = read(client.get(f"/cultures/{number}/passport.json").data)
    first = read(content)
    assert {t.key for t in again.things} == {f"r-{t.key}" for t in first.things}
    assert len(again.links) == len(first.links)
    assert again.begun_on == first.begun_on


def test_the_example_in_the_docs_is_read():
    """The passport in docs/formats.md is one, and has all that the schema requires."""
    text = (Path(__file__).parents[1] / "docs" / "formats.md").read_text()
    (example,) = [found for found in re.findall(r"```json\n(.*?)```", text, re.S) if "culture-passport" in found]
    assert [thing.kind for thing in read(example.encode()).things] == ["brew", "disc"]
    assert set(json.loads(schema())["required"]) <= set(json.loads(example))
