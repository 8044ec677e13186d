"""What Quince Yard owns and keeps: its places, tools, recipes, vessels and lines."""

from __future__ import annotations

from ..core.brewing import RecipeCard
from ..core.liquid.acids import Tea

STEP_TEA: Tea = (("black", 0.8), ("green", 0.2))  #: Of a first step towards jun.
#: Name, usual temperature, coldest and warmest month [degC], light, reach, other ferments.
PLACES = (
    ("Dresser", 22.5, 21.5, 25.0, "shade", "easy", False),
    ("Window shelf", 21.0, 20.5, 27.0, "sun", "easy", False),
    ("Pantry", 17.5, 17.0, 21.0, "dark", "high", True),
)
#: Kind, name, what it holds [L], how many.
TOOLS = (
    ("pot", "Soup pot", 3.0, 1),
    ("pot", "Milk pot", 1.6, 1),
    ("jug", "Enamel jug", 2.0, 2),
    ("pitcher", "Filter pitcher", 2.4, 1),
    ("burner", "", None, 2),
    ("scale", "", None, 1),
    ("thermometer", "", None, 1),
    ("meter", "", None, 1),
    ("strainer", "", None, 1),
    ("spoon", "", None, 2),
    ("cloth", "", None, 4),
)
BLACK = RecipeCard(leaf_g_per_l=5.0, sugar_g_per_l=58.0)
JUN = RecipeCard(kind="jun", tea="green", sweeteners=(("honey", 1.0),), leaf_g_per_l=4.5, sugar_g_per_l=58.0)
RECIPES = (
    ("Ropeworks black", BLACK, "What Bora was raised on."),
    ("Courtyard jun", JUN, "Honey from across the yard, raw, below 40 °C."),
    (
        "Odile’s half and half",
        RecipeCard(
            tea=(("black", 0.5), ("oolong", 0.5)),
            sweeteners=(("cane", 0.7), ("maple", 0.3)),
            leaf_g_per_l=5.5,
            sugar_g_per_l=62.0,
            floor="more",
        ),
        "Round, a little smoky; twenty per cent of starter.",
    ),
)
#: Name, kind, nominal and usable volume [L], inner diameter [cm], material, tap, place.
VESSELS = (
    ("Stone jar", "jar", 8.0, 6.8, 21.0, "stoneware", True, 0),
    ("Jar one", "jar", 4.0, 3.4, 15.0, "glass", False, 1),
    ("Jar two", "jar", 4.0, 3.4, 15.0, "glass", False, 1),
    ("Tall jar", "jar", 3.0, 2.5, 11.0, "glass", False, 2),
    ("The hotel", "hotel", 2.0, 1.7, 13.0, "glass", False, 2),
)
#: Name, diet, origin, story, liquid that came with it [L], its pH, days ago.
LINES = (
    (
        "Bora",
        "sugar",
        "bottle",
        "Grown in autumn from a raw, plain bottle; the first disc took sixteen days.",
        0.9,
        2.95,
        112.0,
    ),
    (
        "Meltemi",
        "jun",
        "received",
        "Given by a neighbour across the yard, with half a litre of its liquid.",
        0.5,
        3.1,
        88.0,
    ),
    (
        "Levanter",
        "sugar",
        "converted",
        "Parted from Bora in January, to be led to honey and green tea.",
        None,
        None,
        40.0,
    ),
)
