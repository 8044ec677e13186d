"""The plan of a brew day: amounts, parts of the vessel, starter, heat, rounds, starting pH and what deserves a second thought."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from . import acids, heat, heat_methods, rounds, starters, sweet_tea, teas, vessel_parts, water
from .brew_kinds import DRIED_BREWS, FLOORS, KINDS, BrewKind, base_refused
from .cautions import Caution, Situation, cautions_for
from .errors import require_between
from .facts import SWEETENERS, limit
from .ferment import HONEY_SUGARS, Recipe
from .forecast import Forecast, ForecastAsk, Prior, forecast
from .recipe_card import RecipeCard
from .safety import settles
from .saying import Said, plain, said
from .starters import Mix, Portion, StarterChoice
from .taste import Point
from .temperature import Course

LIQUOR_LOST_C = 0.5  #: A plan lands this near its target or says that it cannot. [K]
JUN_TARGET_C = 23.0  #: Jun likes it cooler. [degC]


@dataclass(frozen=True, slots=True, kw_only=True)
class VesselFacts:
    """The vessel of a plan."""

    name: str = "the vessel"
    nominal_l: float = 4.0  #: [L]
    line_l: float = 3.4  #: To the fill line. [L]
    diameter_cm: float = 15.0  #: [cm]
    material: str = "glass"
    tapped: bool = False
    heel_l: float = 0.0  #: Stays below the tap. [L]


@dataclass(frozen=True, slots=True, kw_only=True)
class StarterTold:
    """A starter as it was told: by pH, by titration, or not measured."""

    key: str
    name: str
    left_l: float  #: [L]
    ph: float | None = None  #: [pH]
    ta_g_per_l: float | None = None  #: Beats the pH. [g/L]
    instrument: str = "estimate"
    kind: str = "fresh"
    line: str = ""  #: Name of its culture, where known.
    diet: str = ""  #: sugar or jun, where known.
    fixed: bool = False  #: In the vessel already.

    def portion(self, where: acids.Medium) -> Portion:
        """Describe its acid in this brew's tea and water."""
        if self.ta_g_per_l is not None:
            made = starters.portion_from_titration(self.key, self.name, self.left_l, self.ta_g_per_l, where)
            return replace(made, kind=self.kind, fixed=self.fixed)
        ph = self.ph if self.ph is not None else starters.BOUGHT_PH
        sd = starters.instrument_sd(self.instrument if self.ph is not None else "estimate")
        made = starters.portion_from_ph(self.key, self.name, self.left_l, ph, sd, where, self.instrument, self.kind)
        return replace(made, fixed=self.fixed)


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanAsk:
    """All that a plan depends on."""

    card: RecipeCard
    vessel: VesselFacts
    culture: str = ""
    diet: str = "sugar"
    room_c: float = 21.0  #: Where it will stand; starter and honey have it too. [degC]
    cold_c: float = 15.0  #: Of the cold water. [degC]
    liquid_l: float | None = None  #: Brew wanted, heel and starter included; to the line unless told. [L]
    disc_l: float = 0.0  #: [L]
    starters: tuple[StarterTold, ...] = ()
    vinegar_l: float = 0.0  #: Distilled, 5 %. [L]
    pot_l: float | None = None  #: Largest of the household. [L]
    jug_l: float | None = None  #: [L]
    pitcher_l: float | None = None  #: [L]
    earlier_brews: int = 0  #: Of this culture, harvested.
    dried: bool = False  #: This culture came dry.
    rivals: bool = False  #: Other ferments stand where it will stand.
    logged: tuple[float, float] | None = None  #: One temperature while cooling: hours, degC.

    def __post_init__(self) -> None:
        require_between(-5, 45, "degC", room_c=self.room_c)
        require_between(0, 40, "degC", cold_c=self.cold_c)


@dataclass(frozen=True, slots=True, kw_only=True)
class BrewPlan:
    """A brew day, computed."""

    ask: PlanAsk
    kind: BrewKind
    recipe: Recipe
    made: sweet_tea.Amounts
    choice: StarterChoice
    parts: vessel_parts.Parts
    heat: heat_methods.HeatOut
    rounds: rounds.Rounds
    notes: tuple[Said, ...]

    @property
    def start_ph(self) -> float:
        """Likely pH at the start. [pH]"""
        return self.choice.start_ph

    @property
    def start_ph_high(self) -> float:
        """If the starters are as weak as they may be. [pH]"""
        return self.choice.start_ph_high

    @property
    def final_l(self) -> float:
        """Brew in the vessel. [L]"""
        return self.made.final_l

    @property
    def measures(self) -> dict[str, sweet_tea.Measured]:
        """Amounts as a kitchen without scales measures them."""
        spoon, bag = sweet_tea.leaf_measures(self.made, *self.ask.card.measures_g)
        out = {"spoons": spoon, "bags": bag, "starter": sweet_tea.liquid_measure(self.made.starter_ml)}
        for key, grams in self.made.sweeteners:
            out[key] = sweet_tea.in_cups(grams, SWEETENERS[key].g_per_cup)
        return out

    @property
    def grave(self) -> bool:
        """Whether something has to change first."""
        return any(note.grave for note in self.notes)


def pitch_target(room_c: float, jun: bool = False) -> float:
    """Say at what temperature to pitch: 24 degC, jun a little cooler, and not below a warm room. [degC]"""
    usual = JUN_TARGET_C if jun else limit("pitch_target")
    return min(max(room_c, usual), limit("pitch_high") - 2)


def _choice(ask: PlanAsk, where: acids.Medium, final_l: float) -> StarterChoice:
    card = ask.card
    honey = card.honey_share * card.sugar_g_per_l / HONEY_SUGARS
    mix = Mix(final_l, where, honey, ask.vinegar_l)
    portions = [told.portion(where) for told in ask.starters]
    floor = max(FLOORS[card.floor], KINDS[card.kind].share[0] if card.kind in {"grow", "conversion", "trial"} else 0.0)
    if card.kind == "dried" and not portions:
        floor = 0.0
    return starters.choose(portions, mix, floor=floor, share=card.share, needed=card.kind != "dried")


def _recipe(ask: PlanAsk, choice: StarterChoice, where: acids.Medium, final_l: float) -> Recipe:
    card, vessel = ask.card, ask.vessel
    kinds = {portion.kind for portion, _ in choice.taken}
    surface = vessel_surface(vessel.diameter_cm, final_l)
    kind = "dried" if card.kind == "dried" else "fresh" if "fresh" in kinds or not kinds else min(kinds)
    return Recipe(
        tea=card.tea,
        leaf_g_per_l=card.leaf_g_per_l,
        sugar_g_per_l=card.sugar_g_per_l,
        honey_share=card.honey_share,
        invert_share=sweet_tea.invert_share(card.sweeteners),
        starter_fraction=choice.fraction,
        starter_ph=min(max(starters.mixture_ph(choice.taken, where), 1.5), 7.0),
        alkalinity_meq_per_l=card.water.alkalinity_meq_per_l,
        surface_per_volume_per_cm=surface,
        starter_kind=kind,
    )


def vessel_surface(diameter_cm: float, litres: float) -> float:
    """Say a vessel's liquid surface over its volume. [1/cm]"""
    return min(max(3.14159 * (diameter_cm / 2) ** 2 / (1000 * litres), 0.001), 2.0)


def _heat_of(ask: PlanAsk, made: sweet_tea.Amounts, vinegar_l: float) -> heat_methods.HeatOut:
    card = ask.card
    cool = [(k, g) for k, g in made.sweeteners if SWEETENERS[k].honey and card.raw_honey]
    honey_l = sum(g * SWEETENERS[k].room_ml_per_g for k, g in cool) / 1000
    return heat_methods.plan_heat(
        heat_methods.HeatAsk(
            method=card.heat_method,
            final_l=made.final_l,
            starter_l=made.starter_ml / 1000 + vinegar_l,
            sweetener_l=made.sweetener_ml / 1000 - honey_l,
            honey_l=honey_l,
            leaf_g=made.leaf_g,
            sugar_g=sum(g for _, g in made.sweeteners) - sum(g for _, g in cool),
            water_c=card.on_leaf_c,
            steep_minutes=max(card.steeps_minutes, heat_methods.LEAST_LEAF_MINUTES),
            cold_c=ask.cold_c,
            room_c=min(max(ask.room_c, 0), 45),
            target_c=pitch_target(ask.room_c, card.honey_share >= 0.5),
            logged=ask.logged,
        )
    )


@lru_cache(maxsize=128)
def make_plan(ask: PlanAsk) -> BrewPlan:
    """Plan a brew day.

    Args:
        ask: All that it depends on.

    Returns: The plan; its parts sum to what stands in the vessel, and notes say what deserves a second thought.

    Raises:
        CoreError: When no plan can be made: no starter, or a figure outside its range.
    """
    card = ask.card
    room_l = vessel_parts.liquid_room_l(ask.vessel.line_l, ask.disc_l)
    final_l = room_l if ask.liquid_l is None else ask.liquid_l
    where = acids.medium(card.tea, card.leaf_g_per_l, card.water.alkalinity_meq_per_l)
    choice = _choice(ask, where, final_l)
    recipe = _recipe(ask, choice, where, final_l)
    made = sweet_tea.amounts(recipe, final_l, card.sweeteners, ask.vinegar_l)
    heel_l = sum(litres for portion, litres in choice.taken if portion.fixed)
    parts = vessel_parts.parts_of(made, ask.vessel.nominal_l, ask.vessel.line_l, ask.disc_l, heel_l, ask.vinegar_l)
    heated = _heat_of(ask, made, ask.vinegar_l)
    hot_sugar = sum(g for k, g in made.sweeteners if not (card.raw_honey and SWEETENERS[k].honey))
    plan = BrewPlan(
        ask=ask,
        kind=KINDS[card.kind],
        recipe=recipe,
        made=made,
        choice=choice,
        parts=parts,
        heat=heated,
        rounds=rounds.rounds_of(
            heated.heat_l,
            heated.cold_l,
            made.leaf_g,
            hot_sugar,
            pot_l=ask.pot_l,
            jug_l=ask.jug_l,
            pitcher_l=ask.pitcher_l,
        ),
        notes=(),
    )
    return replace(plan, notes=tuple(note for rule in _RULES for note in rule(plan)))


def _room_notes(plan: BrewPlan) -> list[Said]:
    return _overflow(plan) + _tap_notes(plan)


def _tap_notes(plan: BrewPlan) -> list[Said]:
    vessel = plan.ask.vessel
    if plan.ask.card.kind != "first":
        return []
    if not vessel.tapped:
        return [said(plain(f"{vessel.name} has no tap: take an ordinary batch."))]
    heel = said(
        "A little more than later fills: {heel} of it stays below the tap as the heel.", heel=(vessel.heel_l, "volume")
    )
    return [heel if vessel.heel_l > 0 else said("Say on the vessel's page how much stays below its tap.")]


def _overflow(plan: BrewPlan) -> list[Said]:
    parts, name = plan.parts, plain(plan.ask.vessel.name)
    if parts.spills_l > 0.005:
        return [
            said(
                f"{name} would run over its brim by {{by}}, and stand {{over}} above the fill line.",
                True,
                by=(parts.spills_l, "volume"),
                over=(parts.over_l, "volume"),
            )
        ]
    if parts.over_l > 0.005:
        return [
            said(
                f"{name} would overflow its fill line by {{by}}: it is at {{line}}, disc included.",
                True,
                by=(parts.over_l, "volume"),
                line=(parts.line_l, "volume"),
            )
        ]
    return []


def _starter_notes(plan: BrewPlan) -> list[Said]:
    choice, out = plan.choice, []
    if plan.ask.card.kind == "dried" and choice.fraction < 0.01 and plan.ask.vinegar_l <= 0:
        wanted = starters.vinegar_needed((), _mix_of(plan))
        out.append(
            said(
                "A dried disc brings no acid: take starter from another brew, or {vinegar} of distilled vinegar of 5 %.",
                True,
                vinegar=(wanted or 0.0, "volume"),
            )
        )
    elif choice.advised is None and plan.start_ph_high > limit("plan_start_ph"):
        out.append(_too_little(plan))
    elif choice.fraction + 1e-6 < (choice.advised or 0):
        out.append(
            said(
                f"Advised are {100 * (choice.advised or 0):.0f} % of this starter, {{need}}: this takes less.",
                need=((choice.advised or 0) * plan.final_l, "volume"),
            )
        )
    if choice.short_l > 0.005:
        out.append(said("There is {short} less than that.", True, short=(choice.short_l, "volume")))
    return out


def _mix_of(plan: BrewPlan) -> Mix:
    return Mix(plan.final_l, plan.recipe.medium, plan.recipe.honey_g_per_l, plan.ask.vinegar_l)


def _too_little(plan: BrewPlan) -> Said:
    """Say what can be done when the lots cannot bring the brew to its start."""
    choice = plan.choice
    ways = ["wait till a lot is more sour", "choose other lots as well"]
    values: dict[str, tuple[float, str]] = {"all": (sum(litres for _, litres in choice.taken), "volume")}
    if choice.smaller_l is not None:
        ways.insert(0, "brew only {smaller}")
        values["smaller"] = (choice.smaller_l, "volume")
    if choice.vinegar_l:
        ways.append("last of all add {vinegar} of food-grade distilled vinegar of 5 %")
        values["vinegar"] = (choice.vinegar_l, "volume")
    start = f"These starters are too little or too weak: with all {{all}} it starts at pH {plan.start_ph:.2f}, perhaps {plan.start_ph_high:.2f}. "
    return said(start + ", or ".join(ways).capitalize() + ".", plan.start_ph > limit("start_ph"), **values)


def _line_notes(plan: BrewPlan) -> list[Said]:
    ask, out = plan.ask, []
    jun_brew = plan.recipe.honey_share >= 0.5
    taken = {portion.key for portion, _ in plan.choice.taken}
    for told in ask.starters:
        if told.key not in taken or not told.diet:
            continue
        if told.line and ask.culture and told.line != ask.culture and plan.ask.card.kind not in {"conversion", "dried"}:
            out.append(
                said(
                    plain(
                        f"{told.name} is of {told.line}, this brew of {ask.culture}: is that meant? Its line would mix into this one."
                    )
                )
            )
        elif (told.diet == "jun") != jun_brew and plan.ask.card.kind != "conversion":
            lives = "honey" if told.diet == "jun" else "sugar"
            into = "honey" if jun_brew else "sugar"
            out.append(
                said(
                    plain(
                        f"{told.name} lives on {lives} and this brew is of {into}: is that meant? The starter of jun seeds jun, black seeds black."
                    )
                )
            )
    if ask.diet == "sugar" and plan.recipe.honey_share > 0.25 and plan.ask.card.kind not in {"conversion", "trial"}:
        out.append(
            said("A straight swap to honey may slow this culture: a step towards jun takes a fifth more each brew.")
        )
    return out


def _tea_notes(plan: BrewPlan) -> list[Said]:
    card, kind, out = plan.ask.card, plan.kind, []
    for value, (low, _, high), what in (
        (card.leaf_g_per_l, kind.leaf, "leaf"),
        (card.sugar_g_per_l, kind.sugars, "sugars"),
    ):
        if not low - 1e-6 <= value <= high + 1e-6:
            out.append(
                said(f"Usual are {{low}} to {{high}} of {what} here.", low=(low, "strength"), high=(high, "strength"))
            )
    low, _, high = teas.steep_minutes(card.tea)
    if not low <= card.steeps_minutes <= high and card.heat_method != "cold":
        out.append(said(f"{teas.name_of(card.tea)} usually steeps {low:g} to {high:g} minutes."))
    if card.steep == "long" and not teas.bears_long_steep(card.tea):
        out.append(said("Only black tea bears a steep until cool: this one steeps as it likes it."))
    if card.base and (why := base_refused(card.base)):
        out.append(said(f"No trial with {why}: acid alone does not keep such a base safe.", True))
    if card.kind == "trial" and not card.base.strip():
        out.append(said("Say what the trial's base is."))
    return out


def _heat_notes(plan: BrewPlan) -> list[Said]:
    out, h, card = [], plan.heat, plan.ask.card
    if h.method == "cold":
        out.append(
            said("The leaf steeps in the fridge, at most 12 hours; water and jug must be fit to drink as they are.")
        )
        if h.wait.hours is None:
            out.append(said("It will not warm to the least pitch temperature in this room.", True))
        return out
    after = heat.temperature_after(h.hot_l, card.on_leaf_c, plan.ask.room_c, heat_methods.LEAST_LEAF_MINUTES / 60)
    if after < heat_methods.LEAST_LEAF_C:
        need = card.on_leaf_c + heat_methods.LEAST_LEAF_C - after
        out.append(
            said(
                "The leaf should meet at least {least} for 5 minutes: take water of {need}.",
                least=(75.0, "temperature"),
                need=(need, "temperature"),
            )
        )
    if h.lands_c < h.target_c - LIQUOR_LOST_C:
        out.append(
            said(
                "It lands at {lands}, cooler than the {target} wanted: heat more, or take the cold water warmer.",
                lands=(h.lands_c, "temperature"),
                target=(h.target_c, "temperature"),
            )
        )
    if h.must_wait and h.wait.hours is None:
        out.append(said("Too warm, and this room never cools it enough: use a bath, or colder water."))
    many = [(len(plan.rounds.pots), "pots of tea"), (len(plan.rounds.cold_pours_l), "pours of cold water")]
    told = " and ".join(f"{number} {what}" for number, what in many if number > 1)
    if told:
        out.append(said(f"It takes {told}: what goes where stands below."))
    return out


def _start_notes(plan: BrewPlan) -> list[Said]:
    out = []
    bound = limit("start_ph")
    for portion, _ in plan.choice.taken:
        if (
            portion.instrument == "strip"
            and not settles(plan.start_ph, "strip", bound)
            and plan.start_ph_high > limit("plan_start_ph")
        ):
            out.append(
                said(
                    plain(
                        f"A strip told {portion.name}'s pH, from {portion.low_ph:.1f} to {portion.high_ph:.1f}: it cannot settle the start. Measure the brew by a meter, or take more starter."
                    )
                )
            )
            break
    if plan.ask.dried and plan.ask.earlier_brews < DRIED_BREWS:
        out.append(
            said(
                f"This culture came dry: {DRIED_BREWS} brews before it is relied on; this is its {('first', 'second')[min(plan.ask.earlier_brews, 1)]}."
            )
        )
    return out


def _water_notes(plan: BrewPlan) -> list[Said]:
    return [said(plain(line)) for line in water.water_advice(plan.ask.card.water)]


_RULES = (_room_notes, _starter_notes, _line_notes, _start_notes, _tea_notes, _heat_notes, _water_notes)


def situation(plan: BrewPlan) -> Situation:
    """Say what cautions read of a plan."""
    ask = plan.ask
    return Situation(
        moment="plan",
        material=ask.vessel.material,
        honey=plan.recipe.honey_share > 0,
        starter_fraction=plan.recipe.starter_fraction,
        caffeine_mg_per_l=plan.made.caffeine_mg_per_l,
        shocks=heat.shocks_glass(ask.vessel.material, plan.heat.after_steep_c, min(ask.room_c, ask.cold_c)),
        heated=plan.heat.method != "cold",
        teas=tuple(caution.key for caution in teas.cautions_of(ask.card.tea)),
        trial=ask.card.kind == "trial",
        vinegar=ask.vinegar_l > 0,
        rivals=ask.rivals,
    )


def plan_cautions(plan: BrewPlan) -> list[Caution]:
    """List the cautions of a plan."""
    return cautions_for(situation(plan))


def prior_on(prior: Prior, tea: float) -> Prior:
    """Say what to expect of a culture on a tea that slows it. `tea`: its vigour against black. [-]"""
    if tea == 1.0:
        return prior
    spread = min(prior.spread + 0.3 * abs(1 - tea), 1.5)
    return Prior(max(prior.yeast_vigour * tea, 0.05), max(prior.bacteria_vigour * tea, 0.05), spread)


def forecast_ask(
    plan: BrewPlan, prior: Prior, points: tuple[Point, ...], room_c: float | None = None, days: int = 40
) -> ForecastAsk:
    """Ask what becomes of a plan in a place. `room_c`: there; where the plan stands unless told. [degC]"""
    celsius = plan.ask.room_c if room_c is None else room_c
    return ForecastAsk(
        recipe=plan.recipe,
        course=Course(((0.0, plan.heat.lands_c), (0.5, celsius)), celsius),
        prior=prior_on(prior, teas.vigour_of(plan.ask.card.tea)),
        points=points,
        days=days,
    )


def foretell(plan: BrewPlan, prior: Prior, points: tuple[Point, ...], room_c: float | None = None) -> Forecast:
    """Foretell a plan."""
    return forecast(forecast_ask(plan, prior, points, room_c))
