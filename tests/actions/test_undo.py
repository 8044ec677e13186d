"""Every action can be undone: afterwards the household stands as it did before."""

import pytest

from kyklos.actions import brew_days as d
from kyklos.actions import brewing as b
from kyklos.actions import harvest as h
from kyklos.actions import household as k
from kyklos.actions import pitching as p
from kyklos.actions import recipes as r
from kyklos.actions.base import ACTIONS, ConflictError
from kyklos.actions.undo import Undo, undo
from kyklos.core.brew_plan import PlanAsk, StarterTold, VesselFacts
from kyklos.core.ferment import Recipe
from kyklos.core.recipe_card import RecipeCard
from kyklos.store.base import Base

VESSEL = {
    "name": "Crock",
    "kind": "crock",
    "nominal_l": 8,
    "usable_l": 7,
    "diameter_cm": 21,
    "material": "stoneware",
    "tapped": True,
    "new_place": "Pantry",
    "new_place_c": 18,
}


def pitch_ask(kitchen):
    """A brew for the kitchen's jar."""
    return p.PitchBrew(
        vessel_id=kitchen.vessel,
        culture_id=kitchen.culture,
        starter_lot_id=kitchen.lot,
        disc_id=kitchen.disc,
        recipe=Recipe(),
        starter_instrument="meter",
        final_l=3.5,
        plan={},
        measured_ph=4.0,
        celsius=24,
    )


def kept(kitchen):
    """A kept recipe's number."""
    return kitchen.do(r.keep_recipe, r.KeepRecipe(name="Black", card=RecipeCard())).made["recipe"]


def day_ask(kitchen, **more):
    """A brew day for the kitchen's jar."""
    starter = StarterTold(key=f"lot-{kitchen.lot}", name="Bora", left_l=1.0, ph=3.0, instrument="meter")
    ask = PlanAsk(card=RecipeCard(), vessel=VesselFacts(line_l=3.5), culture="Bora", starters=(starter,), **more)
    return d.StartBrewDay(vessel_id=kitchen.vessel, culture_id=kitchen.culture, disc_id=kitchen.disc, ask=ask)


def begun(kitchen, **more):
    """A running brew day's number."""
    return kitchen.do(d.start_brew_day, day_ask(kitchen, **more)).made["brew_day"]


WALK = {
    "change_settings": lambda x: k.ChangeSettings(name="New", units="us", zone="UTC", theme="dark", tasters=("Cleo",)),
    "add_place": lambda x: k.AddPlace(name="Cellar", celsius=14),
    "change_place": lambda x: k.ChangePlace(place_id=x.place, name="Warm shelf", celsius=26),
    "add_vessel": lambda x: k.AddVessel(**VESSEL),
    "change_vessel": lambda x: k.ChangeVessel(vessel_id=x.vessel, **VESSEL),
    "add_culture": lambda x: k.AddCulture(name="Meltemi", diet="jun", origin="received", starter_l=0.5),
    "pitch_brew": pitch_ask,
    "keep_recipe": lambda x: r.KeepRecipe(name="Black", card=RecipeCard()),
    "change_recipe": lambda x: r.ChangeRecipe(recipe_id=kept(x), name="Blacker", card=RecipeCard(leaf_g_per_l=6)),
    "drop_recipe": lambda x: r.DropRecipe(recipe_id=kept(x)),
    "add_tool": lambda x: r.AddTool(kind="pot", litres=3),
    "drop_tool": lambda x: r.DropTool(tool_id=x.do(r.add_tool, r.AddTool(kind="scale")).made["tool"]),
    "start_brew_day": day_ask,
    "go_to_step": lambda x: d.GoToStep(day_id=begun(x), step=2, facts={}),
    "start_timer": lambda x: d.StartTimer(day_id=begun(x), step="steep", name="Steep", minutes=12),
    "stop_timer": lambda x: d.StopTimer(
        timer_id=x.do(d.start_timer, d.StartTimer(day_id=begun(x), step="steep", name="S", minutes=9)).made["timer"]
    ),
    "end_brew_day": lambda x: d.EndBrewDay(day_id=begun(x)),
    "pitch_brew_day": lambda x: d.PitchBrewDay(day_id=begun(x)),
    "log_reading": lambda x: b.LogReading(brew_id=x.pitch(measured_ph=4.7), ph=4.3),
    "strike_reading": lambda x: x.ready() and b.StrikeReading(reading_id=1),
    "log_tasting": lambda x: b.LogTasting(brew_id=x.pitch(), taster_id=1, score=-2),
    "log_look": lambda x: b.LogLook(brew_id=x.pitch(), surface="skin"),
    "add_starter": lambda x: b.AddStarter(brew_id=x.pitch(measured_ph=4.7), litres=0.2, lot_id=x.lot),
    "discard_brew": lambda x: b.DiscardBrew(brew_id=x.pitch(), reason="fuzz"),
    "reserve_starter": lambda x: h.ReserveStarter(brew_id=x.ready(), litres=0.5, ph=3.2),
    "say_no_next_brew": lambda x: h.SayNoNextBrew(brew_id=x.ready()),
    "fill_bottles": lambda x: h.FillBottles(
        brew_id=x.filled(), kind="crown-cap", count=2, volume_ml=330, headspace_fraction=0.03
    ),
    "end_brew": lambda x: h.EndBrew(brew_id=x.filled()),
    "chill_bottles": lambda x: x.filled() and h.MoveBottles(bottle_ids=(1, 2)),
    "warm_bottles": lambda x: x.filled() and h.MoveBottles(bottle_ids=(1,), celsius=22),
    "open_bottle": lambda x: x.filled() and h.OpenBottle(bottle_id=1, hiss=3, taste="good"),
    "finish_bottles": lambda x: x.filled() and h.FinishBottles(bottle_ids=(1, 2, 3)),
}


def state(database):
    """All rows of all tables but the journal."""
    with database.reader() as session:
        return {
            table: sorted(map(repr, session.connection().exec_driver_sql(f'SELECT * FROM "{table}"')))
            for table in Base.metadata.tables
            if table != "change"
        }


def test_the_walk_knows_every_action():
    """No action is left out of the walk."""
    assert set(WALK) == set(ACTIONS)


@pytest.mark.parametrize("name", WALK)
def test_do_then_undo_leaves_the_household_as_it_was(kitchen, name):
    """An action changes something, and undo puts every row back, versions too."""
    ask = WALK[name](kitchen)
    before = state(kitchen.database)
    done = kitchen.do(ACTIONS[name], ask)
    assert state(kitchen.database) != before
    kitchen.do(undo, Undo(done.change_id))
    assert state(kitchen.database) == before


def test_undo_twice_or_under_later_work_is_refused(kitchen):
    """What was undone, or what later work builds on, is not undone; nothing changes."""
    brew = kitchen.pitch()
    first = kitchen.do(h.say_no_next_brew, h.SayNoNextBrew(brew_id=brew))
    kitchen.do(b.discard_brew, b.DiscardBrew(brew_id=brew, reason="sour smell"))
    before = state(kitchen.database)
    with pytest.raises(ConflictError, match="later"):
        kitchen.do(undo, Undo(first.change_id))
    assert state(kitchen.database) == before
    with pytest.raises(ConflictError, match="later"):
        kitchen.do(undo, Undo(2))
    assert state(kitchen.database) == before
    done = kitchen.do(k.add_place, k.AddPlace(name="Loft", celsius=19))
    kitchen.do(undo, Undo(done.change_id))
    with pytest.raises(ConflictError, match="already"):
        kitchen.do(undo, Undo(done.change_id))
