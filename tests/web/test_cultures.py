"""The lines' pages: the braid and its table, lives of discs, hotel, starters, trace, conversion, sides, cards, gifts."""

import contextlib
import json
import re
import shutil
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import select

from kyklos.actions.base import RefusedError
from kyklos.actions.bottles import harvest
from kyklos.actions.cultures import discs, giving, keeping, leading, tracing
from kyklos.actions.household import AddCulture, add_culture
from kyklos.exchange.passport import read
from kyklos.reckon.cultures import conversions, links, quarantine
from kyklos.serving.app import create_app
from kyklos.store.file.database import Database
from kyklos.store.read import culture_queries
from kyklos.store.records import Brew, Change, Culture, Disc, Gift, Household, StarterLot
from kyklos.web.pages.cultures import routes as culture_pages
from tests.pace import slower
from tests.years import NOW, fill_years

HOTEL, OLD_ONE, MELTEMI_DISC = 5, 5, 2


def test_the_braid_and_its_table_show_every_brew_and_disc(demo_client, demo):
    """A bead for each, a row for each, with a card that tells its generation and lights what it came from."""
    page, table = demo_client.get("/cultures/?span=all").text, ""
    for line in sorted(set(re.findall(r'table\?line=(\d+)"', demo_client.get("/cultures/table").text))):
        table += demo_client.get(f"/cultures/table?line={line}").text
    with demo.reader() as session:
        brews, plates = session.query(Brew).count(), session.query(Disc).count()
    assert len(re.findall(r'href=bead/brew/\d+ aria-label="', page)) == brews
    assert len(re.findall(r'href=bead/disc/\d+ aria-label="', page)) == plates
    assert table.count('<th scope="row">') == brews + plates
    for words in ("parted from Bora", "Given Sat 16 Jan", "Joined Levanter", "Nothing of it lived any more", "at most"):
        assert words in table
    assert "Generation" not in table
    counted = demo_client.get("/cultures/table?line=1&generations=1").text
    assert "Generation" in counted
    assert re.search(r"/brews/1\".*?<td>1</td>.*?/brews/2\".*?<td>2</td>", counted, re.DOTALL)
    card = demo_client.get("/cultures/bead/brew/2", headers={"HX-Request": "true"}).text
    assert "Generation 2" in card
    assert "brew-1" in card.split('data-lit="')[1].split('"')[0]
    assert demo_client.get("/cultures/bead/teapot/2").status_code == 404
    assert demo_client.get("/cultures/bead/brew/999").status_code == 404


@pytest.mark.alone
def test_the_braid_of_twenty_years_keeps_its_time_and_size(tmp_path, empty_file):
    """Thirty lines with two thousand beads: drawn in 200 ms on a common machine, under 300 kB at every zoom."""
    import time

    from flask import g

    from kyklos.store.read import memory
    from kyklos.web.pages.cultures import strands

    shutil.copy(empty_file, tmp_path / "k.db")
    database = Database(tmp_path / "k.db")
    with database.writer() as session, session.begin():
        assert fill_years(session) >= 2000
    app = create_app(database, lambda: NOW, "x", TESTING=True, WTF_CSRF_ENABLED=False)
    client = app.test_client()
    for span in ("season", "year", "all"):
        page = client.get(f"/cultures/?span={span}")
        assert page.status_code == 200
        assert len(page.data) < 300_000
        times = []
        for _ in range(8):
            memory.forget()
            database.drop_kept()
            with app.test_request_context("/cultures/"):
                app.preprocess_request()
                began = time.process_time()
                drawn = len(strands.shown(span, "bead/")["braid_svg"])
                assert drawn > 100_000 if span == "all" else drawn > 5_000
                times.append(time.process_time() - began)
                g.session.close()
        assert min(times) < 0.2 * slower()
    assert "Shamal" in client.get("/cultures/table").text
    database.close()


def test_a_line_of_which_nothing_was_ever_poured_has_its_table(client, kitchen):
    """A disc that came and was composted, and no liquid: it is listed, and nothing is said of litres."""
    with kitchen.database.writer() as session, session.begin():
        line = Culture(name="Ostro", diet="sugar", origin="received", started_at=kitchen.clock.now)
        session.add(line)
        session.flush()
        session.add(Disc(name="Ostro, first disc", culture=line, made_at=kitchen.clock.now, ended_at=kitchen.clock.now, ended_as="composted"))
        number = line.id
    page = client.get(f"/cultures/table?line={number}")
    assert page.status_code == 200
    assert "Ostro, first disc" in page.text
    assert "of it live now" not in page.text


def test_a_long_line_is_cut_into_pages(kitchen, monkeypatch):
    """Each page of a line's table has so many rows and no more; together they have each thing once, the newest on the page shown first."""
    monkeypatch.setattr(culture_pages, "TABLE_ROWS", 2)
    for _ in range(2):
        brew = kitchen.ready()
        kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
        kitchen.do(harvest.end_brew, harvest.EndBrew(brew_id=brew, keep_disc=True))
    client = create_app(kitchen.database, kitchen.clock, "x", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    newest = client.get("/cultures/table").text
    with kitchen.database.reader() as session:
        count = session.query(Brew).count() + session.query(Disc).count()
    last = -(-count // 2)
    assert last > 1
    assert f"Page {last} of {last}" in newest
    assert f"Page {last} of {last}" in client.get(f"/cultures/table?line={kitchen.culture}&page=99").text
    pages = [client.get(f"/cultures/table?line={kitchen.culture}&page={n}").text for n in range(1, last + 1)]
    found = [one for text in pages for one in re.findall(r'<th scope="row"><a href="([^"]+)"', text)]
    assert len(found) == len(set(found)) == count
    assert client.get("/cultures/table?line=999").status_code == 404
    assert client.get("/cultures/table?line=two&page=-1").status_code == 200


def test_a_disc_is_parted_named_housed_and_let_go(demo_client, demo):
    """Each deed is kept: the child knows its parent, the hotel its guest and place, the end its cause."""
    demo_client.post("/cultures/discs/3/part", data={"part_mm": "5"})
    with demo.reader() as session:
        new = session.query(Disc).filter_by(parent_id=3).order_by(Disc.id.desc()).first()
        number = new.id
        assert new.thickness_mm == 5
    demo_client.post(f"/cultures/discs/{number}/measure", data={"name": "Pancake", "thickness_mm": "6"})
    demo_client.post(f"/cultures/discs/{number}/house", data={"hotel": str(HOTEL), "position": "2"})
    page = demo_client.get(f"/cultures/discs/{number}").text
    assert "Pancake" in page
    assert "number 2 from the top" in page
    assert "5 mm" in page
    assert "6 mm" in page
    demo_client.post(f"/cultures/discs/{number}/thin", data={"thin_mm": "4"})
    assert demo_client.post(f"/cultures/discs/{number}/thin", data={"thin_mm": "9"}).status_code == 422
    demo_client.post(f"/cultures/discs/{number}/leave")
    refused = demo_client.post(f"/cultures/discs/{number}/end", data={"ended_as": "discarded"})
    assert refused.status_code == 422
    assert "Say in a word why" in refused.text
    demo_client.post(f"/cultures/discs/{number}/end", data={"ended_as": "dried", "note": "On paper"})
    assert "On paper" in demo_client.get("/cultures/3").text
    revived = demo_client.post(f"/cultures/discs/{number}/revive")
    assert "revived" in demo_client.get(revived.location).text
    wrong = demo_client.post("/cultures/discs/3/part", data={"part_mm": "thick"})
    assert wrong.status_code == 422
    assert 'value="thick"' in wrong.text
    assert demo_client.post("/cultures/discs/3/sing").status_code == 404


def test_two_lines_share_a_jar_only_when_meant(demo_client, demo):
    """A disc of another line asks for a tick; once it lies there, it is in use, its line's ribbon joins, and it comes out."""
    refused = demo_client.post(f"/cultures/discs/{MELTEMI_DISC}/join", data={"brew": "7"})
    assert refused.status_code == 422
    assert "two lines in one jar mix" in refused.text
    far = {"brew": "7", "other_line": "y", "join_position": "99"}
    assert demo_client.post(f"/cultures/discs/{MELTEMI_DISC}/join", data=far).status_code == 422
    demo_client.post(f"/cultures/discs/{MELTEMI_DISC}/join", data={**far, "join_position": "2"})
    inside = demo_client.get("/brews/7").text.split("In it, from the top:")[1].split("</p>")[0]
    assert inside.index("Bora, first disc") < inside.index("Meltemi, first disc")
    assert "Take it out of Stone jar" in demo_client.get(f"/cultures/discs/{MELTEMI_DISC}").text
    assert demo_client.post(f"/cultures/discs/{MELTEMI_DISC}/end", data={"ended_as": "lost"}).status_code == 422
    demo_client.post(f"/cultures/discs/{MELTEMI_DISC}/take")
    assert "Not in a jar" in demo_client.get(f"/cultures/discs/{MELTEMI_DISC}").text
    with demo.reader() as session:
        known = {(li.source, li.target) for li in links.contact_of(session, datetime.now(UTC))}
    assert (("disc", MELTEMI_DISC), ("brew", 7)) in known
    assert (("brew", 7), ("disc", MELTEMI_DISC)) in known


def test_a_gift_leaves_with_its_passport_and_counts_as_a_backup(demo_client, demo):
    """Disc and liquid go; who has them is kept here; more than there is cannot be given, nor what is set apart."""
    before = demo_client.get("/cultures/2").text
    with demo.reader() as session:
        lot = next(x for x in session.query(StarterLot).filter_by(culture_id=2) if x.left_l > 0.1)
        number, left = lot.id, lot.left_l
        apart = next(n for kind, n in culture_queries.set_apart(session) if kind == "disc")
    too_much = {"disc": "0", "lot": str(number), "litres": "99"}
    assert demo_client.post("/cultures/2/gift", data=too_much).status_code == 422
    assert demo_client.post("/cultures/2/gift", data={"disc": "0", "lot": "0"}).status_code == 422
    assert "set apart" in demo_client.post("/cultures/1/gift", data={"disc": str(apart), "lot": "0"}).text
    given = {"disc": "0", "lot": str(number), "litres": "0.1", "who": "The baker"}
    assert demo_client.post("/cultures/2/gift", data=given).location.endswith("/cultures/2/passport")
    with demo.reader() as session:
        assert session.get(StarterLot, number).left_l == pytest.approx(left - 0.1)
        gift = session.query(Gift).order_by(Gift.id.desc()).first()
        assert gift.who == "The baker"
    assert "1 elsewhere" in demo_client.get("/cultures/2").text
    assert "elsewhere" not in before
    demo_client.post(f"/cultures/gifts/{gift.id}/holds", data={"lost": "1"})
    assert "1 elsewhere" not in demo_client.get("/cultures/2").text
    demo_client.post("/cultures/2/receive", data={"got_disc": "y", "got_l": "0.2", "from_whom": "The baker"})
    assert "Received from <strong>The baker" in demo_client.get("/cultures/2").text


def test_the_hotel_wants_food_liquid_and_a_cover_by_its_own_rhythm(demo_client, demo):
    """All three are due on the round; tending it ends them; what bares the discs is not drawn."""
    assert "The hotel: feed it, top it up, give it a fresh cover" in demo_client.get("/").text
    page = demo_client.get(f"/cultures/hotels/{HOTEL}").text
    assert "usually every 23 days" in page
    wrong = demo_client.post(f"/cultures/hotels/{HOTEL}/feed", data={"litres": "90", "of": "brew"})
    assert wrong.status_code == 422
    assert 'value="90"' in wrong.text
    assert demo_client.post(f"/cultures/hotels/{HOTEL}/feed", data={"of": "nothing"}).status_code == 422
    tended = {"litres": "0.6", "of": "sweet tea", "ph": "2.8", "level_l": "1.6", "fresh_cover": "y"}
    demo_client.post(f"/cultures/hotels/{HOTEL}/feed", data=tended)
    assert "It wants nothing" in demo_client.get(f"/cultures/hotels/{HOTEL}").text
    assert "feed it, top it up" not in demo_client.get("/").text
    much = demo_client.post(f"/cultures/hotels/{HOTEL}/draw", data={"culture": "1", "draw_l": "1.4"})
    assert "would leave the discs dry" in much.text
    drawn = demo_client.post(f"/cultures/hotels/{HOTEL}/draw", data={"culture": "1", "draw_l": "0.3", "draw_ph": "2.8"})
    starter = demo_client.get(drawn.location).text
    assert "50 %" in starter
    assert "120 %" in starter
    with demo.reader() as session:
        lot = session.query(StarterLot).order_by(StarterLot.id.desc()).first()
        assert (lot.kind, lot.hotel.id) == ("hotel", HOTEL)
        known = {(li.source, li.target) for li in links.links_of(session, datetime.now(UTC))}
    assert (("hotel", HOTEL), ("lot", lot.id)) in known
    assert "may go" in demo_client.get(f"/cultures/hotels/{HOTEL}").text or "stays" in page
    label = demo_client.get(f"/cultures/labels/hotel/{HOTEL}.pdf")
    assert b"Not for drinking" in label.data
    assert b"Not for drinking" in demo_client.get(f"/cultures/labels/lot/{lot.id}.svg").data


def test_starters_are_told_poured_together_and_age(demo_client, demo):
    """A titration needs all three; merged lots keep their age and what went in; one in doubt is poured into none."""
    with demo.reader() as session:
        lots = [x for x in session.query(StarterLot).filter_by(culture_id=1) if x.left_l > 0.05]
    assert demo_client.post(f"/cultures/starters/{lots[0].id}", data={"base_ml": "5"}).status_code == 422
    told = {"kept_in": "fridge", "base_ml": "5", "base_normality": "0.1", "sample_ml": "3", "doubt": ""}
    demo_client.post(f"/cultures/starters/{lots[0].id}", data=told)
    assert "by titration" in demo_client.get(f"/cultures/starters/{lots[0].id}").text
    assert demo_client.post("/cultures/1/merge", data={"lot": [str(lots[0].id)]}).status_code == 422
    demo_client.post(f"/cultures/starters/{lots[1].id}", data={"kept_in": "shelf", "doubt": "A film"})
    both = {"lot": [str(lots[0].id), str(lots[1].id)]}
    assert "in doubt" in demo_client.post("/cultures/1/merge", data=both).text
    demo_client.post(f"/cultures/starters/{lots[1].id}", data={"kept_in": "shelf", "doubt": ""})
    made = demo_client.post("/cultures/1/merge", data=both)
    with demo.reader() as session:
        new = session.get(StarterLot, int(made.location.rsplit("/", 1)[1]))
        assert new.liquid.made_l == pytest.approx(lots[0].left_l + lots[1].left_l)
        assert new.ages_since == min(lots[0].made_at, lots[1].made_at)
        assert {li.source for li in links.descent_of(session) if li.target == ("lot", new.id)} == {
            ("lot", lots[0].id),
            ("lot", lots[1].id),
        }
    demo_client.post(f"/cultures/starters/{new.id}/lose")
    assert demo_client.post(f"/cultures/starters/{new.id}/lose").status_code == 422


def test_the_trace_sets_apart_closes_ways_and_knows_the_decoy(demo_client, demo):
    """From the hotel: discs and what came of them; what is set apart is no starter and no backup; a shelf alone touches nothing."""
    page = demo_client.get(f"/cultures/trace/hotel/{HOTEL}?what=mould").text
    reached = page.split("What it could have reached")[1].split("What could have brought it")[0]
    assert "The old one" in reached
    assert "is-lit" in page
    beside = demo_client.get("/cultures/trace/brew/9").text.split("<h2>Beside it")[1].split("</section>")[0]
    assert "The hotel" in demo_client.get("/cultures/trace/brew/4").text.split("<h2>Beside it")[1]
    assert "not touched" in beside or "Nothing else stood" in beside
    demo_client.post(f"/cultures/trace/hotel/{HOTEL}/apart", data={"node": [f"disc-{OLD_ONE}", f"disc-{MELTEMI_DISC}"]})
    assert "set apart" in demo_client.get(f"/cultures/discs/{OLD_ONE}").text
    with demo.reader() as session:
        bora = culture_queries.cultures(session)[1]
        assert ("disc", OLD_ONE) not in quarantine.backups_of(session, bora, datetime.now(UTC)).living
    assert f'name="disc" value="{OLD_ONE}"' not in demo_client.get("/brew-day/?culture=1&vessel=6").text
    again = demo_client.post(f"/cultures/trace/hotel/{HOTEL}/apart", data={"node": [f"disc-{OLD_ONE}"]})
    assert again.status_code == 422
    demo_client.post(f"/cultures/trace/hotel/{HOTEL}/apart", data={"clear": f"disc-{OLD_ONE}"})
    step = f"hotel-{HOTEL} disc-{OLD_ONE}"
    assert demo_client.post(f"/cultures/trace/hotel/{HOTEL}/cut", data={"step": step}).status_code == 422
    demo_client.post(f"/cultures/trace/hotel/{HOTEL}/cut", data={"step": step, "reason": "The spoon was boiled."})
    page = demo_client.get(f"/cultures/trace/hotel/{HOTEL}").text
    assert "The old one" not in page.split("What it could have reached")[1].split("What could have brought it")[0]
    number = re.findall(r'name="open" value="(\d+)"', page)[-1]
    demo_client.post(f"/cultures/trace/hotel/{HOTEL}/cut", data={"open": number})
    page = demo_client.get(f"/cultures/trace/hotel/{HOTEL}").text
    assert "The old one" in page.split("What it could have reached")[1].split("What could have brought it")[0]
    assert demo_client.get("/cultures/trace/teapot/1").status_code == 404
    assert demo_client.get("/cultures/trace/disc/1?since=soon").status_code == 400


def test_discs_in_a_mouldy_hotel_are_lost_and_ended_lines_are_not_asked_for(demo_client):
    """What lies in it is to be discarded whatever the evidence, and a line nothing lives of wants no backup."""
    page = demo_client.get(f"/cultures/trace/hotel/{HOTEL}").text
    reached = page.split("What it could have reached")[1].split("What could have brought it")[0]
    for name in ("Meltemi, first disc", "The old one"):
        row = next(part for part in reached.split("trace-row") if f">{name}</a> <small>" in part)
        assert "discard it" in row
    kept = page.split("Clean spares left")[1].split("</section>")[0]
    assert "Ponente" not in kept
    assert "Nothing of Levanter is out of its reach" in kept


def test_a_long_trace_says_that_it_tells_only_the_strongest(demo_client, monkeypatch):
    """Where more was reached than the page lists, its count is told as the least there is."""
    whole = demo_client.get(f"/cultures/trace/hotel/{HOTEL}").text
    assert "at least" not in whole.split("What it could have reached")[0]
    assert "Everything on its trace" in whole
    monkeypatch.setattr("kyklos.web.pages.cultures.tracing.MOST_ROWS", 3)
    cut = demo_client.get(f"/cultures/trace/hotel/{HOTEL}").text
    assert re.search(r"at least 3 things?", cut)
    assert "by weaker evidence" in cut


def test_a_step_up_is_planned_from_little_starter(demo_client):
    """Meltemi reaches the crock by the free demijohn, or at once with its starters poured together; Bora needs no step."""
    page = demo_client.get(f"/cultures/discs/{MELTEMI_DISC}").text.split("To a larger vessel")[1]
    assert page.index("Demijohn") < page.index("Stone jar")
    assert "in use now" in page
    assert "save a brew" in page
    assert "To a larger vessel" not in demo_client.get("/cultures/discs/1").text


@pytest.mark.parametrize("name", ["Łódź", "Ζέφυρος", "Бора", "Bora"])
def test_sheets_print_the_letters_of_most_alphabets(demo_client, name):
    """Letters beyond Western Europe are in the PDF with a font that has them; a Latin name needs none."""
    demo_client.post("/cultures/1/rule", data={"name": name, "story": "", "backups_wanted": "1"})
    assert name in demo_client.get("/cultures/1").text
    card = demo_client.get("/cultures/1/passport.pdf").data
    assert (b"DejaVuSansCondensed-Bold" in card) == (name != "Bora")
    for letter in name if name != "Bora" else "":  # each letter can be copied out again
        assert ord(letter) < 256 or f"{ord(letter):04X}".encode() in card


def test_a_slowing_line_names_only_causes_whose_evidence_holds(demo_client):
    """Ponente slowed on old starter and little leaf: these are named, cold and diet are not; a steady line names none."""
    page = demo_client.get("/cultures/4").text
    assert "<strong>Slowing" in page
    assert "Old starter." in page
    assert "Too little leaf." in page
    assert "Cold." not in page
    assert "Change of diet." not in page
    assert "Old starter." not in demo_client.get("/cultures/1").text


def led(kitchen):
    """A line led to jun: its conversion's number."""
    ask = leading.BeginConversion(culture_id=kitchen.culture, target="jun")
    return kitchen.do(leading.begin_conversion, ask).made["conversion"]


def test_a_conversion_is_begun_ended_and_given_up(kitchen):
    """It begins once, cannot be called done before its last step went well, and leaves the diet when given up."""
    number = led(kitchen)
    with pytest.raises(RefusedError, match="being led already"):
        led(kitchen)
    with pytest.raises(RefusedError, match="not there yet"):
        kitchen.do(leading.end_conversion, leading.EndConversion(conversion_id=number, done=True))
    kitchen.do(leading.end_conversion, leading.EndConversion(conversion_id=number, done=False))
    with kitchen.database.reader() as session:
        assert culture_queries.cultures(session)[0].diet == "sugar"
        assert conversions.running(culture_queries.cultures(session)[0]) is None


def test_the_plan_of_a_conversion_hands_over_to_brew_day_and_leads_back(demo_client):
    """Levanter goes on with 40 %; a jun can be led back to sugar; an experiment without a backup is asked for one."""
    page = demo_client.get("/cultures/3/conversion").text
    assert "40 % honey, 40 % green tea" in page
    assert "kind=conversion&amp;culture=3" in page
    told = [re.sub(r"<[^>]+>", " ", row).split() for row in re.findall(r'<tr><th scope="row">.*?</tr>', page)]
    assert [row[2] for row in told] == ["40", "60", "80", "100"]
    assert told[0] == ["18", "Feb", "40", "%", "71", "g", "58", "g", "5.8", "g", "3.9", "g"]
    assert told[-1] == ["20", "Mar", "100", "%", "–", "144", "g", "–", "9.7", "g"]
    back = demo_client.get("/cultures/2/conversion").text
    assert re.findall(r"<td>(\d+) %</td>", back) == ["80", "60", "40", "20", "0"]
    demo_client.post("/cultures/2/conversion", data={"step": "20"})
    assert '<option value="sugar" selected>' in demo_client.get("/brew-day/?kind=conversion&culture=2&vessel=6").text
    assert demo_client.post("/cultures/1/conversion", data={"step": "90"}).status_code == 422
    assert "First a backup" in demo_client.get("/brew-day/?kind=conversion&culture=3&vessel=6").text
    assert "First a backup" not in demo_client.get("/brew-day/?kind=conversion&culture=1&vessel=6").text


def test_two_sources_stand_side_by_side(demo_client):
    """The strong line is told to be faster than the slowed one; a disc can be held against its line."""
    page = demo_client.get("/cultures/compare?left=line-2&right=line-4").text
    assert "Meltemi is the faster" in page
    assert demo_client.get("/cultures/compare?left=disc-1&right=nonsense").status_code == 200


def test_a_bottle_is_judged_before_it_is_grown_from(demo_client):
    """With every sign it is fit; without being raw it is not, and the page says why."""
    every = "&".join(
        f"seen={key}" for key in ("raw", "sediment", "plain", "sound", "kept_cold", "in_date", "no_sweetener")
    )
    assert "Fit.</strong>" in demo_client.get(f"/cultures/sources?asked=1&{every}").text
    without = demo_client.get(f"/cultures/sources?asked=1&{every.replace('seen=raw&', '')}").text
    assert "Not fit.</strong>" in without
    assert "pasteurised one is dead" in without


def test_the_card_carries_a_code_another_household_reads(demo_client, client, database):
    """Its code is a small passport; read there the line goes on; the sheet and the picture name nobody."""
    from PIL import Image, ImageDraw

    from kyklos.web.kit.printing import code_path

    zxingcpp = pytest.importorskip("zxingcpp")
    page = demo_client.get("/cultures/1/passport.svg").text
    assert "Bora" in page
    assert "weaver" not in page
    assert demo_client.get("/cultures/1/passport.pdf").data.startswith(b"%PDF")
    card = json.loads(demo_client.get("/cultures/1/passport.json").data)
    assert 0.05 <= card["vigour"] <= 5
    assert json.loads(demo_client.get("/cultures/passport.schema.json").data)["properties"]["format"]
    path = page.split('<path d="')[1].split('"')[0]
    size = max(int(n) for n in re.findall(r"M\d+ (\d+)h", path)) + 1
    image = Image.new("L", ((size + 8) * 4, (size + 8) * 4), 255)
    draw = ImageDraw.Draw(image)
    for x, y, length in re.findall(r"M(\d+) (\d+)h(\d+)", path):
        left, top = (int(x) + 4) * 4, (int(y) + 4) * 4
        draw.rectangle((left, top, left + 4 * int(length) - 1, top + 3), fill=0)
    [found] = zxingcpp.read_barcodes(image)
    assert read(found.text.encode()).name == "Bora"
    assert code_path(found.text)[0] == path
    shown = client.post("/cultures/passport", data={"text": found.text, "disc": "1", "litres": "0,3", "who": "A friend"})
    assert "Nothing is kept yet" in shown.text
    assert 'name="litres" value="0,3"' in shown.text
    made = client.post("/cultures/passport", data={"text": found.text, "disc": "1", "litres": "0,3", "who": "A friend", "confirmed": "yes"})
    line = client.get(made.location).text
    assert "Bora" in line
    assert "Received from <strong>A friend" in line
    assert client.post("/cultures/passport", data={"text": found.text, "litres": "much"}).status_code == 422


def test_a_line_keeps_its_rule(demo_client):
    """Asked for nine backups it warns of fewer; nonsense is refused and kept."""
    demo_client.post("/cultures/1/rule", data={"name": "Bora", "backups_wanted": "9", "story": "Old."})
    assert "9 are wanted" in demo_client.get("/cultures/1").text
    wrong = demo_client.post("/cultures/1/rule", data={"name": "Meltemi", "backups_wanted": "99"})
    assert wrong.status_code == 422
    assert "Another line has this name" in wrong.text


def test_a_disc_in_a_brew_stays_there(kitchen):
    """It can be parted, but neither housed, given nor let go before the harvest."""
    kitchen.pitch()
    for run, ask in (
        (discs.house_disc, discs.HouseDisc(disc_id=kitchen.disc, vessel_id=None)),
        (discs.end_disc, discs.EndDisc(disc_id=kitchen.disc, ended_as="lost")),
        (giving.give_away, giving.GiveAway(culture_id=kitchen.culture, disc_id=kitchen.disc)),
    ):
        with pytest.raises(RefusedError):
            kitchen.do(run, ask)
    kitchen.do(discs.part_disc, discs.PartDisc(disc_id=kitchen.disc))


STEPS = st.tuples(st.sampled_from(["lose", "give", "receive", "merge"]), st.floats(0.001, 0.6))


@given(st.lists(STEPS, max_size=8))
@settings(max_examples=12, deadline=None)
def test_starter_made_is_used_left_or_lost(tmp_path_factory, empty_file, steps):
    """Whatever is given, received, poured together or thrown out, volumes balance and never fall below nothing."""
    path = tmp_path_factory.mktemp("lots") / "k.db"
    shutil.copy(empty_file, path)
    database, now = Database(path), datetime(2027, 3, 1, tzinfo=UTC)

    def do(run, ask):
        with database.writer() as session:
            return run(session, ask, now).made

    ask = AddCulture(name="B", diet="sugar", origin="received", starter_l=1.0, starter_ph=3.0)
    line = do(add_culture, ask)
    first, culture = line["lot"], line["culture"]
    for number, (kind, litres) in enumerate(steps):
        now += timedelta(days=number)
        with database.reader() as session:
            lots = [lot.id for lot in session.query(StarterLot) if lot.left_l > 0.005]
        last = lots[-1] if lots else first
        asks = {
            "lose": (keeping.lose_starter, keeping.LoseStarter(lot_id=last, litres=litres)),
            "give": (giving.give_away, giving.GiveAway(culture_id=culture, lot_id=last, litres=litres)),
            "receive": (giving.receive, giving.Receive(culture_id=culture, litres=max(litres, 0.01))),
            "merge": (keeping.merge_starters, keeping.MergeStarters(lot_ids=tuple(lots))),
        }
        with contextlib.suppress(RefusedError):
            do(*asks[kind])
        with database.reader() as session:
            for lot in session.query(StarterLot):
                assert lot.left_l >= 0
                assert lot.liquid.made_l == pytest.approx(lot.left_l + sum(t.litres for t in lot.liquid.outflows))
                assert (lot.left_l <= 0.005) == (lot.liquid.ended_at is not None)
            known = links.descent_of(session)
            made = {("lot", lot.id): links.day_of(lot.made_at) for lot in session.query(StarterLot)}
            assert all(made[li.source] <= li.at <= made[li.target] for li in known if li.how == "merged")
    database.close()


def test_a_way_that_was_never_recorded_cannot_be_closed(kitchen):
    """Only what the trace knows can be left out of it."""
    with pytest.raises(RefusedError, match="No such way"):
        kitchen.do(tracing.cut_way, tracing.CutWay(source=("disc", 1), target=("brew", 99), reason="Boiled"))


@pytest.mark.parametrize("path", ["", "table", "compare", "sources", "new", "passport.schema.json"])
def test_an_empty_household_is_told_where_to_begin(client, path):
    """No page fails without a line; the first one says where a culture may come from."""
    assert client.get(f"/cultures/{path}").status_code == 200
    assert "Someone near you has one to spare" in client.get("/cultures/").text
    for missing in (
        "1",
        "discs/1",
        "hotels/1",
        "starters/1",
        "trace/brew/1",
        "1/passport",
        "1/conversion",
        "labels/lot/1",
    ):
        assert client.get(f"/cultures/{missing}").status_code == 404


def test_the_lines_speak_us_units(demo_client):
    """After the change no page of the lines shows litres or millilitres, and typed cups are understood."""
    told = {
        "name": "Quince Yard",
        "units": "us",
        "zone": "Europe/Lisbon",
        "theme": "auto",
        "tasters": "Odile Varga, Bram Sollie",
    }
    demo_client.post("/settings/", data=told)
    for path in ("1", "hotels/5", "starters/3", "discs/5", "3/conversion", ""):
        text = re.sub(r"<[^>]+>", " ", demo_client.get(f"/cultures/{path}").text.split("<main")[1])
        assert not re.search(r"\d m?L\b", text), path
    fed = {"of": "sweet tea", "litres": "1 cup", "level_l": "5 cups"}
    assert demo_client.post("/cultures/hotels/5/feed", data=fed).status_code == 303
    assert "cup" in demo_client.get("/cultures/hotels/5").text or "qt" in demo_client.get("/cultures/hotels/5").text
    drawn = {"culture": "1", "draw_l": "1/2 cup"}
    assert "½ cup drawn from" in demo_client.post("/cultures/hotels/5/draw", data=drawn, follow_redirects=True).text
    far = demo_client.post("/cultures/hotels/5/draw", data={"culture": "1", "draw_l": "900 cup"}).text
    assert re.search(r"Starter of 225 qt does not look right; from 1½ tbsp to 52.8 qt", far)
    warm = demo_client.post("/brews/7/reading", data={"celsius": "400"}).text
    assert re.search(r"A brew at 400 °F does not look right; from 32 °F to 140 °F", warm)


def test_a_sentence_kept_in_the_record_is_said_in_the_units_of_today(demo, demo_client):
    """What an action said is kept with its quantities marked: undone after a change of units it speaks the new ones."""
    demo_client.post("/cultures/hotels/5/draw", data={"culture": "1", "draw_l": "100 mL"})
    with demo.writer() as session:
        done = session.scalars(select(Change).order_by(Change.id.desc())).first()
        assert "100 mL" not in done.says
        number = done.id
        session.scalars(select(Household)).one().units = "us"
        session.commit()
    assert "Undone: ½ cup drawn" in demo_client.post(f"/undo/{number}", follow_redirects=True).text


def test_what_lies_in_a_brew_is_told_from_the_top(demo_client):
    """The late jar holds its own disc and a helper of another line, each with its page."""
    page = demo_client.get("/brews/9").text
    assert "In it, from the top" in page
    assert re.search(r"A helper from Meltemi</a> of Meltemi", page)
