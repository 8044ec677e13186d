"""Things that are bought: alike, measured as a kitchen and a shop measure them."""

import pytest

from kyklos.core.base.errors import CoreError, UnknownNameError
from kyklos.core.base.facts import BOTTLES, SWEETENERS, TEAS
from kyklos.core.bottles.ingredients import INGREDIENTS
from kyklos.core.supply import Good, GoodKind, good, goods
from kyklos.core.supply.goods import SUPPLIES


def test_all_that_kyklos_knows_to_be_bought_is_a_good():
    """Each tea, sweetener, ingredient, bottle and supply is there once, by its own key, teas first and supplies last."""
    found = goods()
    keys = {kind: {one.key for one in found if one.kind is kind} for kind in GoodKind}
    assert keys == {GoodKind.TEA: set(TEAS), GoodKind.SWEETENER: set(SWEETENERS), GoodKind.INGREDIENT: set(INGREDIENTS), GoodKind.BOTTLE: set(BOTTLES), GoodKind.SUPPLY: set(SUPPLIES), GoodKind.OTHER: set()}
    assert len(found) == sum(map(len, keys.values()))
    assert found[0].kind is GoodKind.TEA
    assert found[-1].kind is GoodKind.SUPPLY


@pytest.mark.parametrize(
    ("kind", "key", "amount", "unit", "expected"),
    [
        ("tea", "black", 25, "bag", 50), ("tea", "green", 3, "spoon", 18), ("tea", "black", 1, "lb", 453.59237),
        ("sweetener", "sugar", 2, "kg", 2000), ("sweetener", "sugar", 1, "cup", SWEETENERS["sugar"].g_per_cup),
        ("sweetener", "honey", 1, "L", 1000 * SWEETENERS["honey"].g_per_ml if SWEETENERS["honey"].g_per_ml else 1000 * SWEETENERS["honey"].g_per_cup / 236.5882365),
        ("ingredient", "damson", 0.5, "kg", 500), ("bottle", "swing-top", 12, "piece", 12),
    ],
)  # fmt: skip
def test_amounts_are_grams_or_pieces(kind, key, amount, unit, expected):
    """A shop's and a kitchen's measures come to one."""
    assert good(GoodKind(kind), key).amount_of(amount, unit) == pytest.approx(expected, rel=1e-6)


@pytest.mark.parametrize(
    ("kind", "key", "unit"),
    [("tea", "black", "L"), ("bottle", "swing-top", "kg"), ("sweetener", "sugar", "piece"), ("ingredient", "damson", "kWh")],
)
def test_what_cannot_be_measured_so_is_refused(kind, key, unit):
    """Leaf by the litre, bottles by weight: a sentence, no number."""
    with pytest.raises(CoreError, match="is not measured in"):
        good(GoodKind(kind), key).amount_of(1, unit)


def test_nobody_sells_what_is_not_known():
    """An unknown key or unit is said with what there is."""
    with pytest.raises(UnknownNameError):
        good(GoodKind.TEA, "gravel")
    with pytest.raises(UnknownNameError):
        good(GoodKind.TEA, "black").amount_of(1, "fathom")


def test_an_own_ingredient_is_bought_like_any_other():
    """What is no fact of Kyklos is a good by the same fields."""
    own = Good(kind=GoodKind.INGREDIENT, key="own-1", name="Courtyard figs", piece_g={"piece": 45.0})
    assert own.amount_of(10, "piece") == 450
    assert own.amount_of(1, "kg") == 1000
