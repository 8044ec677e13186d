"""The lines' pages: the braid, lives of discs, the hotel, gifts, backups."""

import contextlib

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.actions import lives
from kyklos.actions.base import RefusedError
from kyklos.store import queries
from kyklos.store.models import Disc, Gift, StarterLot


def test_the_braid_shows_every_brew_and_disc(demo_client, demo):
    """A bead for each, with a card that tells its generation and lights what it came from."""
    page = demo_client.get("/cultures/").text
    with demo.reader() as session:
        brews = sum(len(c.brews) for c in queries.cultures(session))
    assert page.count('class="bead bead-brew') == brews
    card = demo_client.get("/cultures/bead/brew/2", headers={"HX-Request": "true"}).text
    assert "Generation 2" in card
    assert "brew-1" in card.split('data-lit="')[1].split('"')[0]
    assert demo_client.get("/cultures/bead/teapot/2").status_code == 404
    assert demo_client.get("/cultures/bead/brew/999").status_code == 404


def test_a_disc_is_parted_named_housed_and_let_go(demo_client, demo):
    """Each deed is kept: the child knows its parent, the hotel its guest, the end its cause."""
    demo_client.post("/cultures/discs/3", data={"do": "part", "thickness_mm": "5"})
    with demo.reader() as session:
        new = session.query(Disc).filter_by(parent_id=3).order_by(Disc.id.desc()).first()
        number = new.id
        assert new.thickness_mm == 5
    demo_client.post(f"/cultures/discs/{number}", data={"do": "measure", "name": "Pancake", "thickness_mm": "6"})
    demo_client.post(f"/cultures/discs/{number}", data={"do": "house", "hotel": "5"})
    page = demo_client.get("/cultures/3").text
    assert "Pancake" in page
    assert "in The hotel" in page
    demo_client.post(f"/cultures/discs/{number}", data={"do": "leave"})
    refused = demo_client.post(f"/cultures/discs/{number}", data={"do": "end", "ended_as": "discarded"})
    assert refused.status_code == 422
    demo_client.post(f"/cultures/discs/{number}", data={"do": "end", "ended_as": "discarded", "note": "Grey spot"})
    assert "Grey spot" in demo_client.get("/cultures/3").text
    assert demo_client.post("/cultures/discs/3", data={"do": "part", "thickness_mm": "thick"}).status_code == 422
    assert demo_client.post("/cultures/discs/3", data={"do": "sing"}).status_code == 400


def test_a_gift_leaves_the_house_and_counts_as_a_backup(demo_client, demo):
    """Disc and liquid go; who has them is kept here; more than there is cannot be given."""
    before = demo_client.get("/cultures/2").text
    with demo.reader() as session:
        lot = next(x for x in session.query(StarterLot).filter_by(culture_id=2) if x.left_l > 0.1)
        number, left = lot.id, lot.left_l
    assert (
        demo_client.post("/cultures/2/gift", data={"disc": "0", "lot": str(number), "litres": "99"}).status_code == 422
    )
    assert demo_client.post("/cultures/2/gift", data={"disc": "0", "lot": "0"}).status_code == 422
    demo_client.post("/cultures/2/gift", data={"disc": "0", "lot": str(number), "litres": "0.1", "who": "The baker"})
    with demo.reader() as session:
        assert session.get(StarterLot, number).left_l == pytest.approx(left - 0.1)
        assert session.query(Gift).order_by(Gift.id.desc()).first().who == "The baker"
    after = demo_client.get("/cultures/2").text
    assert "elsewhere" in after
    assert "elsewhere" not in before


def test_the_hotel_has_its_own_rhythm(demo_client):
    """Its last feed and its usual gap are told; a wrong amount is refused and kept."""
    assert "usually every 4 weeks" in demo_client.get("/cultures/1").text
    wrong = demo_client.post("/cultures/1/feed/5", data={"litres": "90", "of": "brew"})
    assert wrong.status_code == 422
    assert 'value="90"' in wrong.text
    demo_client.post("/cultures/1/feed/5", data={"litres": "0.2", "of": "brew", "ph": "2.8"})
    assert "Fed 0 days ago" in demo_client.get("/cultures/1").text


def test_a_disc_in_a_brew_stays_there(kitchen):
    """It can be parted, but neither housed, given nor let go before the harvest."""
    kitchen.pitch()
    for run, ask in (
        (lives.house_disc, lives.HouseDisc(disc_id=kitchen.disc, vessel_id=None)),
        (lives.end_disc, lives.EndDisc(disc_id=kitchen.disc, ended_as="lost")),
        (lives.give_away, lives.GiveAway(culture_id=kitchen.culture, disc_id=kitchen.disc)),
    ):
        with pytest.raises(RefusedError):
            kitchen.do(run, ask)
    kitchen.do(lives.part_disc, lives.PartDisc(disc_id=kitchen.disc))


@given(st.lists(st.tuples(st.sampled_from(["lose", "give"]), st.floats(0.001, 0.6)), max_size=8))
@settings(max_examples=10, deadline=None)
def test_starter_made_is_used_left_or_lost(tmp_path_factory, empty_file, steps):
    """Whatever is given or thrown out, volumes balance and never fall below nothing."""
    import shutil
    from datetime import UTC, datetime

    from kyklos.actions import household
    from kyklos.store.database import Database

    path = tmp_path_factory.mktemp("lots") / "k.db"
    shutil.copy(empty_file, path)
    database, now = Database(path), datetime(2027, 3, 1, tzinfo=UTC)

    def do(run, ask):
        with database.writer() as session:
            return run(session, ask, now).made

    line = do(
        household.add_culture,
        household.AddCulture(name="B", diet="sugar", origin="received", starter_l=1.0, starter_ph=3.0),
    )
    for kind, litres in steps:
        ask = lives.LoseStarter(lot_id=line["lot"], litres=litres) if kind == "lose" else lives.GiveAway(culture_id=line["culture"], lot_id=line["lot"], litres=litres)  # fmt: skip
        with contextlib.suppress(RefusedError):
            do(lives.lose_starter if kind == "lose" else lives.give_away, ask)
        with database.reader() as session:
            lot = session.get(StarterLot, line["lot"])
            assert lot.left_l >= 0
            assert lot.volume_l == pytest.approx(lot.left_l + lot.lost_l)
    database.close()
