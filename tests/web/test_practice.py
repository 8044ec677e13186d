"""Practice on its pages: nothing of it becomes a record; progress is each person's own; wrong input is met kindly."""

import re
import sqlite3

import pytest
from sqlalchemy import text

from kyklos.actions.household import ChangeSettings, change_settings
from kyklos.core.practice import burette, clock, eye, harvest
from kyklos.core.practice.counsel import counsel
from kyklos.core.practice.moves import WAIT, play
from kyklos.core.practice.season import begin
from kyklos.core.practice.world import world
from kyklos.store.file.journal import PRACTICE
from tests.conftest import START

OWN = {kind.__tablename__ for kind in PRACTICE}


def rows_but(path, left_out):
    """Every row of every table of a file, but for some tables."""
    with sqlite3.connect(path) as file:
        names = [row[0] for row in file.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        return {name: file.execute(f'SELECT * FROM "{name}"').fetchall() for name in names if name not in left_out}


def posed(client, deck):
    """The address of the card that a deck poses, followed."""
    answer = client.get(f"/practice/{deck}")
    assert answer.status_code == 303, answer.text[:500]
    return {name: re.search(rf"{name}=(\d+)", answer.location).group(1) for name in ("card", "seed", "hard")}


def answer_all(client):
    """Answer a card of each deck, play in the kitchen, rehearse."""
    what = posed(client, "eye")
    question = eye.posed(eye.DECK[int(what["card"])], int(what["seed"]))
    seen = client.post("/practice/eye", data={**what, "word": "carry on", "sign": question.signs[0]}, follow_redirects=True)
    assert "Guide of looks" in seen.text
    what = posed(client, "strip")
    assert "nearest to the field" in client.post("/practice/strip", data={**what, "field": "3.5", "answer": "yes"}, follow_redirects=True).text
    what = posed(client, "burette")
    end = burette.posed(burette.DECK[int(what["card"])], int(what["seed"])).end_drops
    assert "To the drop." in client.post("/practice/burette", data={**what, "drops": end}, follow_redirects=True).text
    for deck, choices in (("palate", harvest.CHOICES), ("clock", clock.CHOICES)):
        said = client.post(f"/practice/{deck}", data={**posed(client, deck), "choice": choices[0]}, follow_redirects=True).text
        assert "What each would likely cost" in said
    assert "Day 0" in client.post("/practice/kitchen/new", data={"seed": "418"}, follow_redirects=True).text
    for move in (".", "run", "t", "m", "l"):
        assert client.post("/practice/kitchen", data={"move": move}, follow_redirects=True).status_code == 200
    client.post("/practice/kitchen/advice")
    client.post("/practice/kitchen/back", data={"day": "1"})
    for which in ("brew", "bottling"):
        for option in range(3):
            client.post(f"/practice/rehearse/{which}", data={"step": "1", "option": str(option)})
    client.get("/practice/rehearse/calibration?done=r7wwkr4wwk")


def test_nothing_of_practice_becomes_a_record(demo_client, demo):
    """The household's file holds the same rows before and after, but for the tables of progress; the round says the same."""
    path = demo.path
    round_before, before = demo_client.get("/").text, rows_but(path, OWN)
    answer_all(demo_client)
    assert rows_but(path, OWN) == before
    with sqlite3.connect(path) as file:
        assert {name: file.execute(f"SELECT count(*) FROM {name}").fetchone()[0] > 0 for name in OWN - {"practice_mix"}} == dict.fromkeys(
            OWN - {"practice_mix"}, True
        )
    words = re.compile(r"<[^>]+>")
    assert words.sub("", demo_client.get("/").text) == words.sub("", round_before)


def test_progress_is_each_persons_own_and_is_forgotten_at_a_tap(demo_client, demo):
    """Odile's answers do not count for Bram; what she wipes is gone, and nothing of his."""
    with demo.reader() as session:
        odile, bram = (row[0] for row in session.execute(text("SELECT id FROM taster ORDER BY position, id")))
    for who in (bram, odile):
        demo_client.post("/practice/who", data={"who": who})
        demo_client.post("/practice/wipe")
    fresh = demo_client.get("/practice").text.count("4 today")
    answer_all(demo_client)
    hers = demo_client.get("/practice").text
    assert hers.count("4 today") < fresh
    demo_client.post("/practice/who", data={"who": bram})
    his = demo_client.get("/practice").text
    assert his.count("4 today") == fresh
    assert "Forget my practice" not in his
    posed_card = posed(demo_client, "strip")
    demo_client.post("/practice/strip", data={**posed_card, "field": "4.0", "answer": "no"})
    demo_client.post("/practice/who", data={"who": odile})
    demo_client.post("/practice/wipe")
    assert demo_client.get("/practice").text.count("4 today") == fresh
    demo_client.post("/practice/who", data={"who": bram})
    assert demo_client.get("/practice").text.count("4 today") == fresh - 1


def test_who_comes_after_a_taster_that_left_finds_nothing_of_theirs(client, database):
    """A taster that goes takes the progress along: the next one, whose number may be the same, begins anew."""
    settings = {"name": "Ours", "units": "metric", "zone": "UTC", "theme": "auto"}
    for names in (["Ana", "Ben"], ["Ana"], ["Ana", "Cleo"]):
        with database.writer() as session:
            change_settings(session, ChangeSettings(tasters=tuple(names), **settings), START)
        with database.reader() as session:
            last = session.execute(text("SELECT max(id) FROM taster")).scalar()
        client.post("/practice/who", data={"who": last})
        if names[-1] == "Ben":
            client.post("/practice/strip", data={**posed(client, "strip"), "field": "3.0", "answer": "yes"})
            assert "Forget my practice" in client.get("/practice").text
    assert "Forget my practice" not in client.get("/practice").text


def test_a_season_alone_can_be_forgotten_too(client):
    """Who only played a season finds the button that wipes it."""
    client.post("/practice/kitchen/new", data={"seed": "7"})
    assert "Forget my practice" in client.get("/practice").text
    client.post("/practice/wipe")
    assert "Season number" in client.get("/practice/kitchen").text


def test_a_card_called_safe_that_was_not_comes_first_again_and_stands_in_the_table(demo_client):
    """Mould called fine: said to be unsafe, posed next but one at the latest, and told under what one takes for what."""
    number = eye.DECK.index("fuzzy-green")
    what = {"card": str(number), "seed": "7", "hard": "1"}
    question = eye.posed("fuzzy-green", 7)
    sign = next(sign for sign in question.signs if sign != "fuzzy")
    said = demo_client.post("/practice/eye", data={**what, "word": "carry on", "sign": sign}, follow_redirects=True).text
    assert "Not safe: discard." in said
    assert f"card={number}&" in demo_client.get("/practice/eye").location
    table = demo_client.get("/practice").text
    assert "What you take for what" in table
    assert "1, 1 not safe" in table


@pytest.mark.parametrize(
    "deck, sent, says",
    [
        ("eye", {"word": "hold"}, "By what sign? Choose one first."),
        ("eye", {"sign": "SIGN"}, "Carry on, watch, hold or discard?"),
        ("strip", {"answer": "yes"}, "Which field is it nearest to?"),
        ("strip", {"field": "3.0"}, "Yes, no, or cannot tell?"),
        ("strip", {"field": "nine", "answer": "yes"}, "Which field is it nearest to?"),
        ("palate", {"choice": "drink it"}, "What do you do?"),
        ("clock", {}, "What do you do?"),
    ],
)
def test_half_an_answer_is_asked_for_and_the_card_stays(demo_client, deck, sent, says):
    """What is missing is said, the same card with the same seed stands there, and what was chosen is still chosen."""
    what = posed(demo_client, deck)
    if sent.get("sign") == "SIGN":
        sent = {"sign": eye.posed(eye.DECK[int(what["card"])], int(what["seed"])).signs[1]}
    answer = demo_client.post(f"/practice/{deck}", data={**what, **sent})
    assert answer.status_code == 422
    assert says in answer.text
    assert f'name="seed" value="{what["seed"]}"' in answer.text
    kept = [value for name, value in sent.items() if name in {"sign", "field"} and value != "nine"]
    assert all(f'value="{value}" checked' in answer.text for value in kept)


@pytest.mark.parametrize("deck", ["eye", "strip", "burette", "palate", "clock"])
@pytest.mark.parametrize("query", ["card=999&seed=1", "card=x&seed=y", "card=0&seed=99999999999999999999", "card=-1&seed=-5", "drops=1e9"])
def test_an_address_that_is_no_card_leads_to_one_that_is(demo_client, deck, query):
    """Mistyped or made up, an address of a card leads to the next card; so does what came of it, and a post."""
    for path, ways in ((f"/practice/{deck}", ("get", "post")), (f"/practice/{deck}/seen", ("get",))):
        for way in ways:
            answer = demo_client.get(f"{path}?{query}") if way == "get" else demo_client.post(path, data=dict(p.split("=") for p in query.split("&")))
            assert answer.status_code in {200, 303}
    assert demo_client.get("/practice/pairs/nothing").status_code == 404
    assert demo_client.get("/practice/rehearse/nothing").status_code == 404


def test_the_practice_kitchen_meets_wrong_input_kindly(demo_client):
    """A season that is no number is asked again with what was typed; moves that make no sense say so; refusals are told."""
    answer = demo_client.post("/practice/kitchen/new", data={"seed": "twelve"})
    assert answer.status_code == 422
    assert "A number from 0 to 9999." in answer.text
    assert 'value="twelve"' in answer.text
    demo_client.post("/practice/wipe")
    assert demo_client.post("/practice/kitchen", data={"move": "."}).status_code == 303  # none begun: it leads to the beginning
    demo_client.post("/practice/kitchen/new", data={"seed": "3"})
    assert "not to be done now" in demo_client.post("/practice/kitchen", data={"move": "b"}).text
    assert "Choose one of the things below." in demo_client.post("/practice/kitchen", data={"move": "zz"}).text
    demo_client.post("/practice/kitchen/back", data={"day": "ten"})
    assert "Day 0" in demo_client.get("/practice/kitchen").text


def test_mould_found_while_bottling_is_seen_from_then_on(demo_client):
    """Bottling a moulded brew that nobody looked at is refused with the reason, and the look is kept: the jar shows it, throwing it out is left."""
    seed = next(seed for seed in range(200) if world(seed).mould is not None)
    season, moves = begin(seed), ""
    while not (season.jar and season.jar.mould_from is not None and season.jar.day(season.day) == season.jar.mould_from):
        letter = WAIT if season.jar and season.jar.mould_from else counsel(season).letter
        season, moves = play(season, letter), moves + letter
    demo_client.post("/practice/kitchen/new", data={"seed": seed})
    for letter in moves:
        demo_client.post("/practice/kitchen", data={"move": letter})
    refused = demo_client.post("/practice/kitchen", data={"move": "h"})
    assert refused.status_code == 422
    assert "are mould" in refused.text
    page = demo_client.get("/practice/kitchen").text
    assert "Looked at today." in page
    assert "tag-discard" in page
    assert "fresh starter" in demo_client.post("/practice/kitchen/advice", follow_redirects=True).text


def test_a_season_goes_to_its_end_and_teaches(demo_client):
    """Run on to the last day: what was drunk, wasted, unsafe; things to learn, each with its cards; the same again, or another."""
    demo_client.post("/practice/kitchen/new", data={"seed": "21"})
    for _ in range(90):
        page = demo_client.post("/practice/kitchen", data={"move": "run"}, follow_redirects=True).text
        if "The season is over" in page:
            break
    assert "The season is over" in page
    assert "things to learn" in page
    assert re.search(r'href="/practice/(eye|strip|palate|clock|burette)"', page)
    assert "For a friend: season 21." in page
    assert "over" in demo_client.post("/practice/kitchen", data={"move": "."}).text


def test_a_mistake_in_a_rehearsal_is_explained_and_taken_back(demo_client):
    """Wrong choices stay at their step with what would come of it and an undo; the right one leads on; the end leads to the real one."""
    for which, steps in (("brew", 12), ("bottling", 7)):
        at, explained = 0, 0
        while at < steps:
            page = demo_client.get(f"/practice/rehearse/{which}?step={at}").text
            assert f"{at + 1} of {steps}" in page
            options = re.findall(r'name="option" value="(\d)"', page) or [""]
            for option in options:
                answer = demo_client.post(f"/practice/rehearse/{which}", data={"step": at, "option": option})
                if answer.status_code == 303:
                    assert f"step={at + 1}" in answer.location
                else:
                    assert "Undo it" in answer.text
                    explained += 1
            at += 1
        assert explained >= 2 * (steps - 3)
        assert "you know the way" in demo_client.get(f"/practice/rehearse/{which}?step={steps}").text
    assert demo_client.post("/practice/rehearse/brew", data={"step": "0"}).status_code == 422


def test_a_rehearsed_calibration_explains_its_mistakes_and_ends_with_a_slope(demo_client):
    """Not rinsed, too early, the wrong buffer first, one buffer twice: each is explained; done well the meter is judged."""
    for done, says in (
        ("7", "Not rinsed"), ("r4", "Buffer 7 first"), ("r7k", "It still moves"), ("rk", "in no buffer"), ("r7wwwkr7wwwk", "read already"),
    ):  # fmt: skip
        page = demo_client.get(f"/practice/rehearse/calibration?done={done}").text
        assert says in page, done
        assert "Undo it" in page
    done = demo_client.get("/practice/rehearse/calibration?done=r7wwwkr4wwwk").text
    slope = int(re.search(r"Slope (\d+) % of a new one", done).group(1))
    assert 93 <= slope <= 99  # the stand-in's own is 97, less its dirt


@pytest.mark.parametrize("which", ["", "/looks", "/eye?card=3&seed=1&hard=2", "/strip?card=1&seed=1", "/burette?card=1&seed=1&drops=20", "/kitchen"])
def test_an_empty_household_may_practise_too(client, which):
    """Nobody and nothing is there yet: every place of practice stands, and an answer is kept for nobody in particular."""
    assert client.get(f"/practice{which}").status_code == 200
    what = posed(client, "strip")
    assert client.post("/practice/strip", data={**what, "field": "3.0", "answer": "yes"}).status_code == 303
    assert "3 today" in client.get("/practice").text


def test_practice_is_offered_and_not_pushed(client, demo_client, kitchen, clock, database):
    """On an empty household, while a first brew works, after a held or discarded verdict; on an old household's round not."""
    assert "learn to tell mould" in client.get("/").text or "learn to tell mould" in client.get("/begin/").text
    assert "learn to tell mould" not in demo_client.get("/").text
    brew = kitchen.pitch()
    clock.turn(1)
    assert re.search(r"\d+ days to wait: <a[^>]*>learn to tell mould", client.get("/").text)
    assert "Practise telling it" not in client.get(f"/brews/{brew}/inspect?surface=disc").text
    held = client.get(f"/brews/{brew}/inspect?surface=coloured").text
    assert "Practise telling it" in held
    assert "/practice/looks#coloured" in held
    assert clock() > START


def test_the_strip_can_be_read_without_colours(demo_client):
    """Colours as numbers: asked for once, they stay; each field and the strip have one, in the order of the chart."""
    here = "/practice/strip?card=0&seed=4&hard=1"
    assert 'class="strip-word" x="202"' not in demo_client.get(here).text
    page = demo_client.get(f"{here}&numbers=1").text
    numbers = [int(n) for n in re.findall(r'x="202"[^>]*>(-?\d+)<', page)]
    assert len(numbers) == 7
    assert numbers == sorted(numbers)
    assert 'x="202"' in demo_client.get("/practice/strip?card=1&seed=4&hard=1").text


def test_us_households_practise_in_their_units(demo_client, demo):
    """Degrees Fahrenheit and quarts, no litres."""
    with demo.writer() as session, session.begin():
        session.execute(text("UPDATE household SET units = 'us'"))
    demo_client.post("/practice/kitchen/new", data={"seed": "418"})
    for path in ("/practice/eye?card=3&seed=5&hard=1", "/practice/palate?card=1&seed=1", "/practice/kitchen", "/practice/rehearse/brew?step=1"):
        page = demo_client.get(path).text
        assert "°C" not in page
        assert "°F" in page
