"""Chlorine in tap water is asked about once, and handled in the steps."""

import re
from dataclasses import replace

import pytest

from kyklos.core.base.water import Water
from kyklos.core.brewing.planner import PlanAsk, StarterTold, VesselFacts, make_plan
from kyklos.core.brewing.recipe_card import RecipeCard
from kyklos.core.brewing.steps import steps_of
from kyklos.core.brewing.tools import needs_of
from kyklos.serving.app import create_app
from kyklos.store.records import Brew

ASK = PlanAsk(card=RecipeCard(), vessel=VesselFacts(), starters=(StarterTold(key="lot-1", name="own", left_l=3.0, ph=3.0),))


@pytest.mark.parametrize(("treatment", "check", "stands"), [("none", "", False), ("chlorine", "stood uncovered", True), ("unknown", "filtered through carbon", True), ("chloramine", "carbon filter made for it", False)])  # fmt: skip
def test_the_first_step_makes_sure_of_the_water(treatment, check, stands):
    """Chlorine stands off or boils off, chloramine does neither; who does not know filters. Water of a well is not asked about."""
    plan = make_plan(replace(ASK, card=replace(ASK.card, water=Water(treatment=treatment))))
    said = " ".join(one.text for one in steps_of(plan)[0].do)
    assert ("chlor" in said) == bool(check)
    assert check in said
    assert any(need.key == "water" for need in needs_of(plan, frozenset())) is stands
    well = make_plan(replace(ASK, card=replace(ASK.card, water=Water("well", treatment=treatment))))
    assert "chlor" not in " ".join(one.text for one in steps_of(well)[0].do)


def test_it_is_asked_on_the_first_brew_day_only(kitchen):
    """Nobody told yet: four answers in sight, 'not known' taken. Once a plan was brewed it stands as told, folded away."""
    client = create_app(kitchen.database, kitchen.clock, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    page = client.get("/brew-day/").get_data(as_text=True)
    assert "In your tap water" in page
    radios = re.findall(r'<input[^>]*name="treatment"[^>]*>', page)
    assert [("checked" in one) for one in radios if 'value="unknown"' in one] == [True]
    kitchen.pitch()
    with kitchen.database.writer() as session, session.begin():
        session.get(Brew, 1).plan = {"card": {"water": {"source": "tap", "treatment": "chloramine"}}}
    page = client.get("/brew-day/").get_data(as_text=True)
    assert "In your tap water" not in page
    chosen = re.search(r'<select[^>]*name="treatment".*?</select>', page, re.S)[0]
    assert re.search(r"<option[^>]*selected[^>]*>([^<]+)", chosen)[1] == "Chloramine"
