"""Quarantine: what is set apart is poured, fed, merged, given and laid in nowhere until that is lifted."""

import pytest

from kyklos.actions import household
from kyklos.actions.base import RefusedError
from kyklos.actions.bottles import harvest
from kyklos.actions.brewing import happenings, pitching
from kyklos.actions.cultures import discs, giving, keeping, tracing
from kyklos.core.liquid.ferment import Recipe


@pytest.fixture
def pantry(kitchen):
    """A household with a hotel, a second lot and disc, and a brew held for its pH."""
    hotel = kitchen.do(
        household.add_vessel,
        household.AddVessel(name="Hotel", kind="hotel", nominal_l=2, usable_l=1.7, diameter_cm=13, material="glass", tapped=False, place_id=1),
    ).made["vessel"]  # fmt: skip
    kitchen.hotel = hotel
    more = giving.Receive(culture_id=kitchen.culture, litres=0.5, ph=3.0, disc=True, disc_name="Second")
    got = kitchen.do(giving.receive, more).made
    kitchen.lot2, kitchen.disc2 = got["lot"], got["disc"]
    kitchen.brew = kitchen.pitch(measured_ph=4.8)
    return kitchen


def pitched(x):
    """A pitch of the second lot into a vessel that is free."""
    jar = household.AddVessel(name="Jar two", kind="jar", nominal_l=4, usable_l=3.5, diameter_cm=15, material="glass", tapped=False, place_id=1)  # fmt: skip
    vessel = x.do(household.add_vessel, jar).made["vessel"]
    return pitching.pitch_brew, pitching.PitchBrew(
        vessel_id=vessel, culture_id=x.culture, starter_lot_id=x.lot2, disc_id=x.disc2, recipe=Recipe(starter_ph=3.0),
        starter_instrument="meter", final_l=3.0, plan={}, measured_ph=4.0,
    )  # fmt: skip


WAYS = {
    "a lot into a brew": (("lot", "lot2"), pitched),
    "a disc into a brew": (("disc", "disc2"), pitched),
    "a lot into a held brew": (
        ("lot", "lot2"),
        lambda x: (happenings.put_into, happenings.PutIn(enters="starter", brew_id=x.brew, litres=0.1, lot_id=x.lot2)),
    ),
    "a lot into a brew set apart": (
        ("brew", "brew"),
        lambda x: (happenings.put_into, happenings.PutIn(enters="starter", brew_id=x.brew, litres=0.1, lot_id=x.lot2)),
    ),
    "a lot into a merge": (
        ("lot", "lot2"),
        lambda x: (keeping.merge_starters, keeping.MergeStarters(lot_ids=(x.lot, x.lot2))),
    ),
    "a brew into the hotel": (
        ("brew", "brew"),
        lambda x: (keeping.feed_hotel, keeping.FeedHotel(vessel_id=x.hotel, litres=0.1, of="brew", brew_id=x.brew)),
    ),
    "sweet tea into a hotel set apart": (
        ("hotel", "hotel"),
        lambda x: (keeping.feed_hotel, keeping.FeedHotel(vessel_id=x.hotel, litres=0.1)),
    ),
    "liquid to someone": (
        ("lot", "lot2"),
        lambda x: (giving.give_away, giving.GiveAway(culture_id=x.culture, lot_id=x.lot2, litres=0.1)),
    ),
    "a disc to someone": (
        ("disc", "disc2"),
        lambda x: (giving.give_away, giving.GiveAway(culture_id=x.culture, disc_id=x.disc2)),
    ),
    "a disc into the hotel": (
        ("disc", "disc2"),
        lambda x: (discs.house_disc, discs.HouseDisc(disc_id=x.disc2, vessel_id=x.hotel)),
    ),
    "a disc beside another": (
        ("disc", "disc2"),
        lambda x: (discs.join_disc, discs.JoinDisc(disc_id=x.disc2, brew_id=x.brew)),
    ),
    "a disc into a brew set apart": (
        ("brew", "brew"),
        lambda x: (discs.join_disc, discs.JoinDisc(disc_id=x.disc2, brew_id=x.brew)),
    ),
}


@pytest.mark.parametrize("way", WAYS)
def test_what_is_set_apart_touches_nothing_until_that_is_lifted(pantry, way):
    """Each way of bringing liquids and discs together is refused while one of them is set apart, and goes after it is lifted."""
    (kind, name), make = WAYS[way]
    run, ask = make(pantry)
    node = (kind, getattr(pantry, name))
    pantry.do(tracing.set_apart, tracing.SetApart(nodes=(node,), reason="It looked odd."))
    with pytest.raises(RefusedError, match="is set apart"):
        pantry.do(run, ask)
    pantry.do(tracing.clear, tracing.Clear(node=node))
    pantry.do(run, ask)


def test_a_brew_set_apart_gives_neither_starter_nor_bottles(kitchen):
    """Reserving and bottling are ways of pouring too."""
    brew = kitchen.ready()
    kitchen.do(tracing.set_apart, tracing.SetApart(nodes=(("brew", brew),), reason="It looked odd."))
    with pytest.raises(RefusedError, match="is set apart"):
        kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
