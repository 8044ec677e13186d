"""How the lines of Quince Yard live: discs parted, thinned, dried and given, the hotel, a line led to jun, one that ended."""

from __future__ import annotations

from ..actions import household
from ..actions.bottles import harvest
from ..actions.cultures import discs, giving, keeping, leading, tracing
from ..actions.cultures.discs import EndDisc, HouseDisc, MeasureDisc
from ..actions.cultures.keeping import FeedHotel
from .kitchen import Kitchen


def lives_of(k: Kitchen, at: dict[str, int]) -> None:
    """A disc measured, parted and given away; the hotel with its guests, fed every month."""
    hotel, old = at["The hotel"], at["Bora disc 2"]
    k.do(discs.measure_disc, MeasureDisc(disc_id=old, name="The old one", thickness_mm=6), 66)
    k.do(discs.measure_disc, MeasureDisc(disc_id=old, name="The old one", thickness_mm=14, diameter_cm=14.5), 40)
    young = k.do(discs.part_disc, discs.PartDisc(disc_id=old, name="The lower half", thickness_mm=6), 40)["disc"]
    k.do(discs.house_disc, HouseDisc(disc_id=old, vessel_id=hotel), 40)
    splash = FeedHotel(
        vessel_id=hotel, litres=0.3, of="brew", brew_id=at["Second brew"], level_l=1.25, fresh_cover=True
    )
    k.do(keeping.feed_hotel, splash, 74.1)
    k.do(keeping.feed_hotel, FeedHotel(vessel_id=hotel, litres=0.25, ph=2.82), 52)
    k.do(keeping.feed_hotel, FeedHotel(vessel_id=hotel, litres=0.3, level_l=1.35, ph=2.78), 29)
    gift = giving.GiveAway(
        culture_id=at["Bora"], disc_id=young, who="The weaver upstairs", note="With a cup of its liquid."
    )
    k.do(giving.give_away, gift, 33)
    _meltemi(k, at)


def _meltemi(k: Kitchen, at: dict[str, int]) -> None:
    """The jun's first disc: thinned, half of it dried, the chunk composted, the rest in the hotel."""
    first = at["Meltemi disc"]
    k.do(discs.measure_disc, MeasureDisc(disc_id=first, name="Meltemi, first disc", thickness_mm=11), 80)
    thinned = discs.ThinDisc(disc_id=first, thickness_mm=7, keep_chunk=True)
    chunk = k.do(discs.thin_disc, thinned, 60)["disc"]
    k.do(discs.end_disc, EndDisc(disc_id=chunk, ended_as="composted"), 59)
    half = k.do(discs.part_disc, discs.PartDisc(disc_id=first, name="For the drawer", thickness_mm=3), 58)["disc"]
    k.do(discs.end_disc, EndDisc(disc_id=half, ended_as="dried", note="Between two sheets of baking paper."), 57)
    k.do(discs.house_disc, HouseDisc(disc_id=first, vessel_id=at["The hotel"], position=2), 57)


def led(k: Kitchen, at: dict[str, int]) -> None:
    """Levanter is to be led to jun since it was parted."""
    k.do(leading.begin_conversion, leading.BeginConversion(culture_id=at["Levanter"], target="jun"), 39.9)


def housed(k: Kitchen, at: dict[str, int], alive: dict[str, int]) -> None:
    """The old disc is back in the hotel, from which starter was drawn; one slice is set apart, a jun disc helps the late jar."""
    hotel, old = at["The hotel"], at["Bora disc 2"]
    k.do(keeping.draw_starter, keeping.DrawStarter(vessel_id=hotel, culture_id=at["Meltemi"], litres=0.2, ph=2.78), 11)
    k.do(discs.house_disc, HouseDisc(disc_id=old, vessel_id=hotel), 0.8)
    slice_ = k.do(discs.part_disc, discs.PartDisc(disc_id=old, name="A thin slice", thickness_mm=2), 0.7)["disc"]
    apart = tracing.SetApart(nodes=(("disc", slice_),), reason="A brown, slimy edge; it smelled of nothing.")
    k.do(tracing.set_apart, apart, 0.65)
    closed = tracing.CutWay(
        source=("brew", at["Second brew"]), target=("hotel", hotel), reason="Poured with a boiled ladle."
    )
    k.do(tracing.cut_way, closed, 0.6)
    helper = k.do(discs.part_disc, discs.PartDisc(disc_id=at["Meltemi disc"], name="A helper from Meltemi"), 6)["disc"]
    k.do(discs.join_disc, discs.JoinDisc(disc_id=helper, brew_id=alive["late"], other_line=True), 6)


def _ponente_brew(k: Kitchen, at: dict[str, int], lot: int, ago: float, ph: tuple[float, ...], leaf: float) -> int:
    """One brew of Ponente, measured on every third day, and what was set aside of it."""
    brew = k.pitch(
        at["Demijohn"], at["Ponente"], lot, None, ago, leaf=leaf, sugar=60, share=0.15, measured=4.05, fill=3.0
    )
    for day, value in zip((3, 6, 9, 12), ph, strict=True):
        k.log(brew, ago - day, ph=value, celsius=21.5)
    kept = k.reserve(brew, ago - 13, 0.9, ph[-1])
    k.do(harvest.end_brew, harvest.EndBrew(brew_id=brew, keep_disc=False), ago - 13.1)
    return kept


def ended(k: Kitchen, at: dict[str, int]) -> None:
    """Ponente, of two winters ago: ever older starter and ever less leaf, until it hardly soured and was let go."""
    jar = household.AddVessel(
        name="Demijohn", kind="jar", nominal_l=3.5, usable_l=3.1, diameter_cm=13.0, material="glass", tapped=False,
        place_id=1,
    )  # fmt: skip
    at["Demijohn"] = k.do(household.add_vessel, jar, 730)["vessel"]
    line = household.AddCulture(
        name="Ponente", diet="sugar", origin="bought", starter_l=0.6, starter_ph=3.0,
        story="Bought by post two winters ago. It slowed from year to year, and was let go in spring.",
    )  # fmt: skip
    made = k.do(household.add_culture, line, 720)
    at["Ponente"], lot = made["culture"], made["lot"]
    brews = (
        (715, (3.62, 3.28, 3.08, 2.96), 6.0),
        (690, (3.64, 3.3, 3.1, 2.97), 6.0),
        (660, (3.7, 3.36, 3.16, 3.03), 5.5),
        (590, (3.82, 3.5, 3.3, 3.18), 4.2),
        (520, (3.9, 3.62, 3.42, 3.3), 4.0),
        (440, (3.96, 3.74, 3.56, 3.44), 3.8),
        (360, (4.0, 3.83, 3.68, 3.57), 3.6),
    )
    for ago, ph, leaf in brews:
        new = _ponente_brew(k, at, lot, ago, ph, leaf)
        k.do(keeping.lose_starter, keeping.LoseStarter(lot_id=lot), ago - 1)
        lot = new
    k.do(keeping.lose_starter, keeping.LoseStarter(lot_id=lot), 330)
    why = "It hardly soured any more."
    k.do(discs.end_disc, EndDisc(disc_id=made["disc"], ended_as="composted", note=why), 330)
