"""What Quince Yard bought over a year, a January that ran short of sugar, and who is coming."""

from __future__ import annotations

from datetime import date

from ..actions import supply
from ..core.quick.wishes import GIFT, GUESTS
from ..core.supply.goods import GoodKind
from .kitchen import Kitchen

SUGAR, TEA, FRUIT, MORE = GoodKind.SWEETENER, GoodKind.TEA, GoodKind.INGREDIENT, GoodKind.SUPPLY
#: Days ago, kind, key, grams or pieces, price.
BOUGHT = (
    (352, SUGAR, "sugar", 1000, 1.19), (352, TEA, "black", 100, 3.40), (248, MORE, "crown-cap", 100, 4.50), (180, MORE, "ph-strip", 100, 7.90),
    (119, MORE, "buffer-7", 5, 6.00), (119, MORE, "buffer-4", 5, 6.00), (110, TEA, "black", 100, 3.60), (108, GoodKind.BOTTLE, "swing-top", 12, 21.60),
    (90, SUGAR, "honey", 1000, 11.50), (90, SUGAR, "sugar", 1000, 1.29), (90, TEA, "green", 100, 4.20), (87, FRUIT, "quince", 600, 2.10),
    (87, FRUIT, "bay", 10, 0.80), (76, FRUIT, "fig", 300, 3.90), (76, FRUIT, "thyme", 3, 0.90), (66, TEA, "black", 100, 3.60),
    (60, SUGAR, "sugar", 500, 0.79), (48, SUGAR, "honey", 500, 6.20), (36, SUGAR, "sugar", 2000, 2.60), (34, TEA, "black", 125, 4.50),
    (21, FRUIT, "rhubarb", 500, 2.40), (21, FRUIT, "cardamom", 30, 2.90), (12, FRUIT, "damson", 500, 4.80), (12, FRUIT, "sea-buckthorn-juice", 250, None),
    (9, SUGAR, "sugar", 1000, 1.35), (6, TEA, "green", 100, 4.30),
)  # fmt: skip
#: Days ago, kind, key, grams counted. In January the sugar was all.
COUNTED = ((121, SUGAR, "sugar", 900.0), (121, TEA, "black", 80.0), (37, SUGAR, "sugar", 0.0), (8, TEA, "black", 50.0))
HONEY_BEST = date(2027, 3, 10)


def bought(kitchen: Kitchen) -> None:
    """Write down the year's purchases, the counts, the prices, and who is coming."""
    for ago, kind, key, amount, price in BOUGHT:
        best = HONEY_BEST if key == "honey" and ago < 60 else None
        kitchen.do(supply.buy, supply.Buy(kind=kind, key=key, amount=float(amount), price=price, best_before=best), ago)
    for ago, kind, key, grams in COUNTED:
        kitchen.do(supply.count_good, supply.CountGood(kind=kind, key=key, amount=grams), ago)
    kitchen.do(supply.set_prices, supply.SetPrices(currency="€", shop_price=3.20, shop_ml=330.0, power_price=0.24), 30)
    kitchen.do(supply.put_on_list, supply.PutOnList(kind=GoodKind.OTHER, key="Muslin for straining", amount=1.0), 3)
    kitchen.do(supply.put_on_list, supply.PutOnList(kind=FRUIT, key="damson", amount=500.0), 2)
    kitchen.do(supply.make_wish, supply.MakeWish(kind=GUESTS, day=date(2027, 3, 6), litres=6.0, people=8, glasses=3.0, words="8 people"), 2)
    kitchen.do(supply.make_wish, supply.MakeWish(kind=GIFT, day=date(2027, 3, 27), litres=3.0, words="6 bottles"), 2)
