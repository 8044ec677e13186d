"""The stoneware crock of Quince Yard: set up in December, running since, through a cold spell and a draw that was too large."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from ..actions import household
from ..actions import tapped as tapped_actions
from ..actions.brewing.readings import LogReading, log_reading
from ..actions.household import AddVessel
from ..core.base.kinds import KindOfBrew
from ..core.brewing import RecipeCard
from .kitchen import Kitchen

SIZE_L, LINE_L, HEEL_L, WIDTH_CM = 9.5, 8.4, 0.9, 22.0
CARD = RecipeCard(kind="first", leaf_g_per_l=5.0, sugar_g_per_l=58.0, floor="usual")
#: Days ago, drawn [L], pH once topped up, or None: nobody measured.
DRAWS: tuple[tuple[float, float, float | None], ...] = (
    (56.6, 2.2, 3.26),
    (53.6, 2.4, 3.24),
    (50.4, 2.6, 3.27),
    (47.5, 2.8, 3.33),
    (44.4, 2.6, None),
    (41.5, 2.6, None),
    (38.4, 2.4, None),
    (31.6, 1.6, 3.35),
    (27.5, 2.4, None),
    (24.4, 2.6, None),
    (21.5, 7.0, 4.23),
    (16.4, 1.5, 3.71),
    (13.5, 2.0, None),
    (10.4, 2.4, None),
    (7.4, 2.6, None),
    (4.4, 2.6, None),
)
#: Days ago, pH before a draw, temperature [degC].
READINGS: tuple[tuple[float, float | None, float | None], ...] = (
    (65.5, 4.06, 24.2),
    (63.4, 3.82, 24.8),
    (60.4, 3.44, 25.1),
    (56.7, 3.16, 24.9),
    (53.7, 3.2, 24.9),
    (47.6, 3.16, 24.6),
    (37.4, None, 22.0),
    (35.4, None, 19.2),
    (33.4, 3.24, 18.6),
    (30.5, None, 21.5),
    (27.6, 3.16, 24.4),
    (19.4, 3.92, 24.3),
    (16.5, 3.6, 24.6),
    (10.5, 3.3, 24.5),
    (1.4, 3.24, 24.6),
)
TASTED = (
    (56.65, {"odile": -1, "bram": 0}),
    (47.55, {"odile": 0, "bram": 1}),
    (38.45, {"odile": 0}),
    (31.65, {"odile": -1, "bram": 0}),
    (16.45, {"odile": -2, "bram": -1}),
    (10.45, {"odile": 0, "bram": 1}),
    (4.45, {"odile": 0, "bram": 1}),
)
GLASS_L = 0.25
GLASSES = (52.1, 49.2, 45.9, 39.8, 26.2, 12.1, 8.9, 5.8, 2.3)


def tapped(k: Kitchen, at: dict[str, int]) -> int:
    """Set the crock up, fill it, and live with it for two months; gives its brew."""
    vessel = k.do(household.add_vessel, _crock(at), 68)["vessel"]
    asked = tapped_actions.SetUpTapped(
        vessel_id=vessel, tap_made_of="stainless", tested=True, heel_l=HEEL_L, heater_c=25.0, heater_w=30.0, glaze_known=True
    )
    k.do(tapped_actions.set_up_tap, asked, 67.5)
    brew = k.pitch(
        vessel, at["Bora"], None, None, 66.6, share=0.14, starter_ph=3.0, fill=LINE_L, kind=KindOfBrew.FIRST, card=CARD
    )  # fmt: skip
    for ago, run in sorted([*_watched(k, brew), *_poured(k, brew), *_cared_for(k, vessel)], key=lambda one: -one[0]):
        run(ago)
    return brew


Deed = tuple[float, Callable[[float], object]]  #: Days ago, and what was done then.


def _watched(k: Kitchen, brew: int) -> list[Deed]:
    """Looks, readings and tastings."""
    looks = ((61.3, "skin"), (52.4, "disc"), (24.0, "disc"), (3.2, "disc"))
    out: list[Deed] = [(ago, partial(_look, k, brew, surface)) for ago, surface in looks]
    for ago, ph, celsius in READINGS:
        seen = LogReading(brew_id=brew, ph=ph, celsius=celsius, instrument="meter")
        out.append((ago, partial(k.do, log_reading, seen)))
    out += [(ago, partial(_taste, k, brew, scores)) for ago, scores in TASTED]
    return out


def _look(k: Kitchen, brew: int, surface: str, ago: float) -> None:
    k.look(brew, ago, surface)


def _taste(k: Kitchen, brew: int, scores: dict[str, int], ago: float) -> None:
    k.taste(brew, ago, **scores)


def _poured(k: Kitchen, brew: int) -> list[Deed]:
    """Glasses in the evening; larger draws, and the sweet tea that gave back both."""
    out: list[Deed] = [(ago, partial(k.do, tapped_actions.draw_off, tapped_actions.DrawOff(brew_id=brew, litres=GLASS_L))) for ago in GLASSES]
    before = 100.0
    for number, (ago, litres, ph) in enumerate(DRAWS):
        glasses = GLASS_L * sum(ago < glass <= before for glass in GLASSES)
        draw = tapped_actions.DrawOff(brew_id=brew, litres=litres, run_off=number > 0)
        tea = tapped_actions.TopUp(brew_id=brew, litres=litres + glasses, tea_c=23.0, ph=ph, instrument="meter")
        out += [(ago, partial(k.do, tapped_actions.draw_off, draw)), (ago - 0.06, partial(k.do, tapped_actions.top_up, tea))]
        before = ago
    return out


def _crock(at: dict[str, int]) -> AddVessel:
    return AddVessel(
        name="Stoneware crock", kind="crock", nominal_l=SIZE_L, usable_l=LINE_L, diameter_cm=WIDTH_CM, material="stoneware",
        tapped=False, place_id=at["Dresser"],
    )  # fmt: skip


def _cared_for(k: Kitchen, vessel: int) -> list[Deed]:
    """Covers, the tap, the gauge: daily in the first week, then now and then."""
    gauge = ((65.6, 24.2), (64.6, 24.6), (63.5, 24.8), (62.6, 25.0), (61.5, 25.1), (33.5, 18.6), (12.5, 24.5))
    done = [(ago, tapped_actions.CareFor(vessel_id=vessel, what="gauge", celsius=celsius)) for ago, celsius in gauge]
    done += [(ago, tapped_actions.CareFor(vessel_id=vessel, what=what)) for ago, what in ((41.4, "cover"), (35.0, "tap"), (10.3, "cover"))]
    return [(ago, partial(k.do, tapped_actions.care_for, asked)) for ago, asked in done]
