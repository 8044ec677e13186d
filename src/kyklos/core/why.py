"""Why? Every number can say its inputs, formula, source and what is assumed, and be computed again from them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from .base import limit, marked
from .base.kinds import SeenKind
from .bottles import BottleAsk
from .brewing import BrewPlan, starters
from .calc import answer
from .calc.ferments import STATE, event_question
from .calc.keys import RECIPE
from .forecast import ForecastAsk
from .liquid import Recipe, acids
from .liquid.acids import SAFE_DEVIATIONS, Tea

SAYS = {
    "starter_ph": "pH of the starter",
    "starter_tea": "tea of the starter",
    "starter_leaf_g_per_l": "leaf of the starter",
    "starter_alkalinity_meq_per_l": "alkalinity of the starter's water, meq/L",
    "starter_fraction": "share of starter",
    "tea": "tea",
    "leaf_g_per_l": "leaf",
    "alkalinity_meq_per_l": "alkalinity of the water, meq/L",
    "honey_g_per_l": "honey",
    "target_ph": "pH aimed at",
    "starter_ph_sd": "how far that pH may be off",
    "measured": "measured well, and lately",
    "sugar_g_per_l": "sugars",
    "honey_share": "share of them from honey",
    "vigour": "vigour",
    "bacteria_vigour": "vigour of the bacteria",
    "starter_yeast": "yeast left in the starter",
    "starter_bacteria": "bacteria left in the starter",
    "spread": "how far it may differ",
    "buffer": "how the leaf buffers here, against the usual",
    "covariance": "how unsure these are together",
    "sucrose_g_per_l": "sucrose",
    "monosaccharides_g_per_l": "glucose and fructose",
    "ethanol_g_per_l": "alcohol",
    "acetic_g_per_l": "acetic acid",
    "gluconic_g_per_l": "gluconic acid",
    "yeast_share": "yeast",
    "bacteria_share": "bacteria",
    "surface_per_volume_per_cm": "surface over volume, 1/cm",
    "added_sugar_g_per_l": "sugar added",
    "temperature_c": "temperature",
    "headspace_fraction": "headspace, share",
    "flavour": "flavour",
    "vigour_sd": "how far that may differ",
    "brew_share": "share of brew in the bottle",
    "doubt_k": "how far its warmth may be off",
    "warmer_k": "how much warmer it rather is, unmeasured",
    "limit_bar": "the bottle's limit",
    "days": "days looked ahead",
    "future_c": "expected from now",
    "temperatures": "temperatures measured",
    "readings": "readings and tastings",
    "warmth_sd_k": "how far its warmth may be off",
    "target_ta_g_per_l": "acidity that tastes right",
    "start": "the brew at filling",
    "recipe": "recipe",
    "culture": "what this culture did before",
}


#: What kind of quantity an input is, to be said in somebody's units.
KINDS_OF = {
    "leaf_g_per_l": "strength", "starter_leaf_g_per_l": "strength", "honey_g_per_l": "strength", "sugar_g_per_l": "strength",
    "added_sugar_g_per_l": "strength", "temperature_c": "temperature", "future_c": "temperature",
    "temperatures": "temperature", "limit_bar": "pressure", "target_ta_g_per_l": "acidity", "ta_g_per_l": "acidity",
    "doubt_k": "difference", "warmer_k": "difference", "warmth_sd_k": "difference", "sucrose_g_per_l": "strength",
    "monosaccharides_g_per_l": "strength", "ethanol_g_per_l": "strength", "acetic_g_per_l": "strength",
    "gluconic_g_per_l": "strength", "point_g_per_l": "acidity", "volume_l": "volume", "draw_l": "volume", "pour_l": "volume",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Why:
    """The reasons behind one number."""

    title: str
    calculation: str  #: Its name for `kyklos calc`.
    question: dict[str, Any]  #: All inputs; the number is computed again from them.
    result: tuple[str, ...]  #: Where in the answer it stands.
    unit: str
    formula: str
    source: str
    assumed: tuple[str, ...] = ()
    times: float = 1.0  #: The answer is multiplied by it.
    times_says: str = ""

    def value(self) -> float | None:
        """Compute the number from what this shows. [in `unit`]"""
        found = answer(self.calculation, self.question)
        for key in self.result:
            found = found[key]
        return None if found is None else float(found) * self.times

    @property
    def lines(self) -> list[tuple[str, str]]:
        """Inputs in words; quantities are marked, to be said in somebody's units."""
        return [(SAYS.get(key, key), _told(value, KINDS_OF.get(key, ""))) for key, value in self.question.items()]


def _told(value: Any, kind: str = "") -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float | int):
        return marked(float(value), kind) if kind else f"{value:.4g}"
    if isinstance(value, dict):
        return ", ".join(f"{SAYS.get(k, k)} {_told(v, KINDS_OF.get(k, ''))}" for k, v in value.items()) or "typical"
    if isinstance(value, list) and value and all(isinstance(item, list) for item in value):
        return "; ".join(f"day {_told(day)}: {_told(number, kind)}" for day, number in value)
    if isinstance(value, list):
        return "; ".join(_told(item) for item in value) or "none"
    return str(value)


def _tea(tea: Tea) -> Any:
    return tea if isinstance(tea, str) else dict(tea)


def _starter_in(recipe: Recipe) -> dict[str, Any]:
    """Write the starter's own tea and water as a question has them."""
    own = recipe.starter_in
    if own is None:
        return {}
    return {
        "starter_tea": _tea(own.tea),
        "starter_leaf_g_per_l": own.leaf_g_per_l,
        "starter_alkalinity_meq_per_l": own.alkalinity_meq_per_l,
    }


_CHARGE = "The pH at which positive and negative charges balance: acids of starter and leaf, ions of leaf and water."
_ACIDS = (
    "acetic and gluconic acid in the starter 3 to 1",
    "acids and ions of the leaf",
    "the starter's own tea and water as its source brew had them, else the usual tea in soft water",
)


def why_start_ph(recipe: Recipe) -> Why:
    """Reasons for the starting pH."""
    return Why(
        title="Starting pH",
        calculation="start-ph",
        result=("start_ph",),
        unit="pH",
        formula=_CHARGE,
        question={
            "starter_ph": recipe.starter_ph,
            "starter_fraction": recipe.starter_fraction,
            "tea": _tea(recipe.tea),
            "leaf_g_per_l": recipe.leaf_g_per_l,
            "alkalinity_meq_per_l": recipe.alkalinity_meq_per_l,
            "honey_g_per_l": recipe.honey_g_per_l,
            **_starter_in(recipe),
        },
        source="CRC Handbook (acids); charge balance",
        assumed=_ACIDS,
    )


MEASURED_STARTER = (
    "The smallest share that starts at pH 4.2 even if the starter is weaker than it reads, and never under 10 %: "
    "acid alone does not seed a brew."
)


def _usual_starter(recipe: Recipe, starter_ph_sd: float) -> str:
    """Return why a starter that was not measured is taken by the usual share, and what its doubt would ask for."""
    where = recipe.starter_in or recipe.brewed_with
    weaker = acids.starter_from_ph(recipe.starter_ph + acids.SAFE_DEVIATIONS * starter_ph_sd, where.medium)
    safe = starters.share_for_ph(weaker, limit("plan_start_ph"), recipe.medium, where, bare=True)
    alone = f"by volume alone it would take {100 * safe:.0f} %" if safe is not None else "no volume of it would settle that"
    return (
        "Two cups a gallon, 12 %, or what likely starts at pH 4.5 if that is more. Nobody measured how sour it is: a reading of "
        f"the brew settles that; {alone}."
    )


def why_starter(recipe: Recipe, starter_ph_sd: float, litres: float, title: str = "Starter", measured: bool = True) -> Why:
    """Reasons for how much starter a brew of so many litres needs. [mL]

    Args:
        recipe: With the starter's pH.
        starter_ph_sd: How far that may be off. [pH]
        litres: Of the brew. [L]
        title: What is asked.
        measured: By a meter or a titration, and lately.
    """
    return Why(
        title=title,
        calculation="starter",
        result=("starter_fraction_advised",),
        unit="mL",
        times=1000 * litres,
        times_says=f"of {marked(litres, 'volume')}",
        question={
            "starter_ph": recipe.starter_ph,
            "target_ph": 4.2,
            "starter_ph_sd": starter_ph_sd,
            "tea": _tea(recipe.tea),
            "leaf_g_per_l": recipe.leaf_g_per_l,
            "alkalinity_meq_per_l": recipe.alkalinity_meq_per_l,
            **({} if measured else {"measured": False}),
            **_starter_in(recipe),
        },
        formula=MEASURED_STARTER if measured else _usual_starter(recipe, starter_ph_sd),
        source="CRC Handbook (acids); 10 % is usual practice",
        assumed=_ACIDS,
    )


def whys_of(plan: BrewPlan) -> dict[str, Why]:
    """Reasons for a plan's starter and start, where one question gives the number."""
    out: dict[str, Why] = {}
    taken = plan.choice.taken
    portion = taken[0][0] if len(taken) == 1 and not plan.ask.vinegar_l and plan.ask.card.floor == "usual" else None
    if portion is not None and (portion.measured or taken[0][1] < portion.left_l - 1e-9):
        sd = (portion.high_ph - portion.ph) / SAFE_DEVIATIONS
        out["starter"] = why_starter(plan.recipe, sd, plan.final_l, measured=portion.measured)
    if not plan.ask.vinegar_l:
        out["start"] = why_start_ph(plan.recipe)
    return out


def forecast_question(ask: ForecastAsk, point: float) -> dict[str, Any]:
    """Write a forecast's ask as a question for `kyklos calc forecast`."""
    names = {"ph": "ph", "ta": "ta_g_per_l", "taste": "taste", "gravity": "gravity"}
    readings: list[dict[str, Any]] = []
    for seen in ask.observations:
        values: dict[str, Any] = {"day": seen.day, names[seen.kind]: seen.value}
        if seen.kind == SeenKind.PH:
            values["instrument"] = seen.instrument
        if seen.kind == SeenKind.TASTE:
            values |= {"taster": seen.taster, "point_g_per_l": seen.point_g_per_l, "point_sd": seen.point_sd}
        if seen.kind == SeenKind.TA and not seen.degassed:
            values["degassed"] = False
        if seen.sd is not None:
            values["sd"] = seen.sd
        readings.append(values)
    recipe = {key.name: getattr(ask.recipe, key.name) for key in RECIPE}
    recipe |= {"tea": _tea(ask.recipe.tea), **_starter_in(ask.recipe)}
    yeast, bacteria = ask.recipe.liveliness
    recipe |= {"starter_yeast": yeast, "starter_bacteria": bacteria}
    if (yeast, bacteria) == (1.0, 1.0):
        del recipe["starter_yeast"], recipe["starter_bacteria"]
    if recipe["starter_ta_g_per_l"] is None:
        del recipe["starter_ta_g_per_l"]
    if ask.batch.events:
        recipe |= {"volume_l": ask.batch.litres, "events": [event_question(event) for event in ask.batch.events]}
    return {
        "recipe": recipe,
        "temperatures": [list(p) for p in (*ask.course.points, *ask.course.ahead)],
        "future_c": ask.course.future_c,
        "readings": readings,
        "target_ta_g_per_l": point,
        "warmth_sd_k": ask.warmth_doubt_k,
        "days": ask.days,
        "culture": {
            "vigour": ask.prior.yeast_vigour,
            "bacteria_vigour": ask.prior.bacteria_vigour,
            "spread": ask.prior.spread,
            **({"buffer": ask.prior.buffer, "covariance": list(ask.prior.covariance)} if ask.prior.covariance else {}),
        },
    }


def why_ready(ask: ForecastAsk, taster: str) -> Why:
    """Reasons for the day a brew is right for a taster. [d since pitch]"""
    point = next(p.ta_g_per_l for p in ask.points if p.taster == taster)
    return Why(
        title=f"Ready for {taster}",
        calculation="forecast",
        question=forecast_question(ask, point),
        result=("ready_day", "p50"),
        unit="days since the start",
        formula="Yeast turns sugar into alcohol, bacteria turn it into acid, faster in the warm; readings correct how vigorous "
        "this culture is; the day is when acidity reaches the taster's point, half of 200 likely brews before it.",
        source="Chen & Liu 2000; Rosso and others 1993; fitted as in docs/science.md",
        assumed=("the taster's point, until learned", "spread of the starter's activity", "growth constants"),
    )


def why_chill(ask: BottleAsk) -> Why:
    """Reasons for the day by which a bottle must be cold. [d since filling]"""
    row = dict(zip(STATE, ask.start, strict=False))
    question: dict[str, Any] = {
        "start": row,
        "added_sugar_g_per_l": ask.added_sugar_g_per_l,
        "temperature_c": [list(p) for p in (*ask.course.points, *ask.course.ahead)] or ask.course.future_c,
        "headspace_fraction": ask.headspace_fraction,
        "form": ask.form,
        "limit_bar": ask.limit_bar,
        "vigour": ask.vigour,
        "leaf_g_per_l": ask.leaf_g_per_l,
        "days": ask.days,
        "vigour_sd": ask.vigour_sd,
        "brew_share": ask.brew_share,
        "doubt_k": [list(pair) for pair in ask.doubt_k],
        **({"warmer_k": [list(pair) for pair in ask.warmer_k]} if ask.warmer_k else {}),
        "added_ethanol_g_per_l": ask.added_ethanol_g_per_l,
        "pour_yeast_factor": ask.pour_yeast,
        "volumes_at_filling": ask.volumes,
        "burps": list(ask.burps),
    }
    return Why(
        title="Chill by",
        calculation="bottle",
        question=question,
        result=("chill_by_day",),
        unit="days since filling",
        formula="Sugar left and added becomes gas; Henry's law turns gas into pressure. The day is when the upper end of what is "
        "likely reaches seven tenths of what the bottle can hold.",
        source="Sander 2015 (solubility)",
        assumed=(
            "0.6 volumes of gas at filling",
            "how flavour and fresh sugar drive the yeast",
            "the bottle's limit, until the maker's figure is known",
        ),
    )
