"""Made-up questions to the core, and its answers as they stand kept: whoever makes it quicker or tidier must not change one of them.

    python tests/answers.py            writes tests/core/reference/answers.json anew: read the difference before it is committed

Questions are drawn by chance from a fixed seed. An answer is kept with four digits.
"""

from __future__ import annotations

import dataclasses
import enum
import json
import random
import typing
from collections.abc import Callable, Iterator
from datetime import date, datetime
from pathlib import Path
from types import NoneType, UnionType

import numpy as np

from kyklos.core.base import CoreError
from kyklos.core.base.facts import entries_of
from kyklos.core.base.kinds import Diet
from kyklos.core.bottles import BottleAsk, advice, bottle_forecast, leaving, second_ferment, suggest, tonight
from kyklos.core.bottles.bench import BenchStep, best
from kyklos.core.bottles.burping import burp_buys_days
from kyklos.core.bottles.drink_by import drink_by_day
from kyklos.core.bottles.filling import Stock, Wish, plan
from kyklos.core.bottles.flavouring import added_sugar, at_ph, driving_form, flavoured, may_close, part, room
from kyklos.core.bottles.heard import Heard, vigour_heard
from kyklos.core.bottles.infusing import infuse
from kyklos.core.bottles.ingredients import INGREDIENTS
from kyklos.core.bottles.scores import FlavourScore, ranking
from kyklos.core.brewing import RecipeCard, make_plan
from kyklos.core.brewing.by_weight import strengths
from kyklos.core.brewing.kinds import KINDS
from kyklos.core.brewing.measures import DryAmount
from kyklos.core.brewing.pitch_check import check, remedies
from kyklos.core.brewing.places import PlaceTold, advise, learned_offset, seasonal
from kyklos.core.brewing.plan import StarterTold, VesselFacts
from kyklos.core.brewing.planner import PlanAsk, foretell
from kyklos.core.brewing.salvage import uses
from kyklos.core.brewing.steps import steps_of
from kyklos.core.brewing.threads import Bench
from kyklos.core.brewing.tools import needs_of
from kyklos.core.brewing.turn_round import PotTold, VesselTurn, turn_round
from kyklos.core.cultures import conversion, discs, hotel
from kyklos.core.forecast import Observation, Prior, forecast, ripe, side_by_side, vigour
from kyklos.core.forecast.answer import reaches
from kyklos.core.forecast.ask import ForecastAsk
from kyklos.core.forecast.palate import Tasted, drift, learn
from kyklos.core.forecast.what_if import Alternative, what_if
from kyklos.core.judging import diagnosis, due, safety
from kyklos.core.judging.brew_facts import BrewFacts, PhReading, SeenLook
from kyklos.core.judging.cautions import Situation, as_heard
from kyklos.core.judging.observations import OBSERVATIONS
from kyklos.core.liquid import Batch, Course, Point, Recipe
from kyklos.core.liquid.batch import fill_at, run
from kyklos.core.liquid.events import Draw, Pour
from kyklos.core.liquid.heat import heat_plan
from kyklos.core.liquid.liquid import sweet_tea
from kyklos.core.quick import bought
from kyklos.core.quick import wishes as wishes_line
from kyklos.core.quick.line import understand
from kyklos.core.quick.said import Context, Named, NamedShelf
from kyklos.core.supply import ahead, cost, demand, goods, money, shopping, stagger, stock
from kyklos.core.supply import plan as supply_plan
from kyklos.core.tapped import care, heater, vessel
from kyklos.core.why import forecast_question, why_ready, why_start_ph, why_starter

KEPT = Path(__file__).parent / "core/reference/answers.json"
TYPED = KEPT.with_name("typed_lines.txt")
NOW = datetime(2027, 3, 1, 18, 30)
TEAS = ("black", "green", "oolong", "white")
HANDS = ("meter", "strip")
Rng = random.Random

#: What a number is likely to be, by the end of its field's name; the first that fits.
LIKELY: tuple[tuple[str, float, float], ...] = (
    ("mean_c", 15, 32), ("_c", 14, 40), ("swing_k", 0, 12), ("ph", 2.6, 4.8), ("rise_ph", 0, 0.6), ("gravity", 1.0, 1.04),
    ("share", 0, 1), ("fraction", 0.02, 0.4), ("sourness", 0.5, 2), ("_mm", 0, 60), ("day", 0, 24), ("days", 0, 40), ("days_ago", 0, 40),
    ("ready_from", 4, 14), ("ready_to", 8, 20), ("_l", 0.1, 6), ("_cm", 8, 30), ("sugar_g_per_l", 20, 110), ("_ml_per_l", 0, 400),
    ("abv_high", 0, 3), ("mg_per_l", 0, 300), ("vigour", 0.6, 1.3), ("nearness", 0.1, 1.1), ("hours", 0, 200), ("liked", 1, 5), ("abv", 0, 3),
    ("meq_per_l", 0, 4), ("times", 0, 5), ("guests", 0, 6),
)  # fmt: skip


def chance(rng: Rng, name: str, kind: typing.Any, words: dict[str, tuple[typing.Any, ...]]) -> typing.Any:
    """Draw a value for a field by its name and type."""
    if name in words:
        return rng.choice(words[name])
    if typing.get_origin(kind) in {typing.Union, UnionType}:
        inner = [one for one in typing.get_args(kind) if one is not NoneType]
        return None if rng.random() < 0.3 else chance(rng, name, inner[0], words)
    if kind is bool:
        return rng.random() < 0.35
    if kind in {int, float}:
        low, high = next(((a, b) for end, a, b in LIKELY if name.endswith(end)), (0.0, 3.0))
        return rng.randint(int(low), int(high)) if kind is int else round(rng.uniform(low, high), 2)
    return "" if kind is str else None


def drawn(rng: Rng, kind_: type, given: dict[str, typing.Any] | None = None, **words: tuple[typing.Any, ...]) -> typing.Any:
    """Draw a value of a dataclass: its simple fields by chance, a field of several from `words`, others as usual or `given`."""
    hints, out = typing.get_type_hints(kind_), dict(given or {})
    for field in dataclasses.fields(kind_):
        usual = field.default is not dataclasses.MISSING or field.default_factory is not dataclasses.MISSING
        if field.name in out or (usual and field.name not in words and rng.random() < 0.4):
            continue
        value = chance(rng, field.name, hints[field.name], words)
        if value is not None or not usual:
            out[field.name] = value
    return kind_(**out)


def plain(value: typing.Any, deep: int = 7) -> typing.Any:
    """Turn an answer into what JSON holds, numbers with four digits."""
    if value is None or (isinstance(value, bool | int) and not isinstance(value, enum.Enum)):
        return value
    if isinstance(value, enum.Enum | str):
        return str(value)
    if isinstance(value, float | np.floating):
        return float(f"{float(value):.4g}")
    if isinstance(value, np.ndarray):
        return plain([float(x) for x in value.ravel()[:: max(1, value.size // 6)]], deep - 1)
    if isinstance(value, date):
        return value.isoformat()
    if deep == 0 or callable(value):
        return "…"
    if dataclasses.is_dataclass(value):
        return {f.name: plain(getattr(value, f.name), deep - 1) for f in dataclasses.fields(value)}
    if isinstance(value, dict):
        return {str(key): plain(one, deep - 1) for key, one in value.items()}
    if isinstance(value, set | frozenset):
        return sorted(str(one) for one in value)
    return [plain(one, deep - 1) for one in value]


def recipe(rng: Rng) -> Recipe:
    """Draw a recipe."""
    return Recipe(
        tea=rng.choice((*TEAS, (("black", 0.5), ("green", 0.5)))), leaf_g_per_l=rng.uniform(3, 8), sugar_g_per_l=rng.uniform(40, 90),
        honey_share=rng.choice((0.0, 0.0, 0.0, 0.4, 1.0)), starter_fraction=rng.uniform(0.07, 0.25), starter_ph=rng.uniform(2.7, 3.5),
        starter_kind=rng.choice(("fresh", "fresh", "bottle", "hotel", "dried")), alkalinity_meq_per_l=rng.uniform(0, 3),
        surface_per_volume_per_cm=rng.uniform(0.04, 0.14), invert_share=rng.choice((0.0, 0.0, 1.0)),
    )  # fmt: skip


def course(rng: Rng) -> Course:
    """Draw how warm something stands."""
    points = tuple((float(3 * i), round(rng.uniform(18, 29), 1)) for i in range(rng.randint(0, 4)))
    return Course(points, round(rng.uniform(18, 29), 1))


def brew(rng: Rng) -> ForecastAsk:
    """Draw what a forecast is asked of a brew of some days."""
    age, points = rng.uniform(0, 12), (Point("Ana", rng.uniform(3, 5), 0.15), Point("Ben", rng.uniform(4, 7), 0.3))
    seen: list[Observation] = []
    for _ in range(rng.randint(0, 4)):
        day = rng.uniform(0, max(age, 0.1))
        kind = rng.choice(("ph", "ph", "ph", "taste", "ta", "gravity"))
        value = {"ph": 3.9 - 0.07 * day + rng.uniform(-0.1, 0.1), "taste": rng.randint(-3, 2), "ta": 1 + 0.4 * day, "gravity": 1.02}[kind]
        seen.append(Observation(day, kind, value, rng.choice(HANDS), taster="Ana" if kind == "taste" else ""))
    events: tuple[Draw | Pour, ...] = ()
    if rng.random() < 0.3:
        events = (Draw(age / 2, 0.5, stirred=rng.random() < 0.3), Pour(age / 2, sweet_tea("black", 5, 60, litres=0.5)))
    batch = Batch(recipe=recipe(rng), course=course(rng), litres=rng.uniform(1, 8), events=events)
    prior = Prior(rng.uniform(0.7, 1.4), rng.uniform(0.7, 1.4), rng.choice((0.12, 0.25)), rng.uniform(-0.2, 0.2))
    more = {"start_sd_days": rng.choice((0.0, 0.0, 0.0, 2.0)), "target_ph": rng.choice((None, None, 3.1))}
    return ForecastAsk(batch=batch, observations=tuple(sorted(seen, key=lambda o: o.day)), prior=prior, points=points, **more)


def foretold(ask: ForecastAsk) -> typing.Any:
    """Return what of a forecast is kept: windows, gate, and its course on three days."""
    out = forecast(ask)
    days = [out.at(out.ph, day) + out.at(out.ta_g_per_l, day) for day in (3.0, 7.0, 14.0)]
    return [out.ready, out.safe_by_day_7, days, out.at(out.abv_percent, 10.0)]


def forecasts(rng: Rng) -> Iterator[typing.Any]:
    """Forecasts, their reasons, and other futures."""
    for number in range(36):
        ask = brew(rng)
        yield foretold(ask)
        if number % 6 == 0:
            out = forecast(ask)
            yield forecast_question(ask, 4.0), why_ready(ask, "Ana").lines, [reaches(ask, out, 5.0, 4.0, ahead) for ahead in (5, 20)]
            for change in (Alternative("cold-week", from_day=8.0), Alternative("room", 27.0), Alternative("heater", 25.0), Alternative("fridge", 5.0)):
                yield what_if(ask, 6.0, change).ready
    for _ in range(6):
        tasted = [Tasted(rng.randint(-3, 3), rng.uniform(2, 8), rng.uniform(0.1, 0.6), rng.uniform(0, 300)) for _ in range(rng.randint(2, 7))]
        yield learn(tasted), learn(tasted, jun=True), drift(tasted)
    yield side_by_side.usual_recipe(honey=True), side_by_side.usual_recipe(honey=False)
    yield [vigour.trend([vigour.VigourPoint(float(30 * i), 1.0 + 0.03 * i * slope, 0.1) for i in range(6)]) for slope in (-1, 0, 1)]


def plain_or_error(asked: Callable[[], typing.Any]) -> typing.Any:
    """Return an answer, or the sentence with which it is refused."""
    try:
        return asked()
    except CoreError as refused:
        return f"{type(refused).__name__}: {refused}"


def bottle(rng: Rng) -> BottleAsk:
    """Draw a bottle."""
    start = (rng.uniform(0.5, 30), rng.uniform(2, 14), rng.uniform(2, 14), rng.uniform(0.5, 8), rng.uniform(2, 8), 0.4, rng.uniform(0.05, 0.3), 0.3)
    return BottleAsk(
        start=start, added_sugar_g_per_l=rng.uniform(0, 14), course=course(rng), headspace_fraction=rng.uniform(0.02, 0.12),
        form=rng.choice(("none", "pieces", "juice", "herbs")), limit_bar=rng.choice((None, 4.0, 5.0, 6.0, 8.0)), vigour=rng.uniform(0.5, 1.5),
        brew_share=rng.uniform(0.8, 1.0), leaf_g_per_l=rng.uniform(3, 8),
    )  # fmt: skip


def bottles(rng: Rng) -> Iterator[typing.Any]:
    """Pressure, chill days, advice, flavours, fillings, scores."""
    for number in range(24):
        ask = bottle(rng)
        out, day = bottle_forecast(ask), rng.uniform(0, 12)
        limit = ask.limit_bar or 0.0
        yield out.chill_by_day, out.passes_limit_day, out.ceiling_bar, out.at(day), out.volumes_at(day), out.abv_at(7.0)
        yield [advice.advise(out, state, limit, day) for state in ("warm", "cold")], advice.offers(out, 21.0, ask.headspace_fraction)
        yield advice.in_a_week(out, limit, day), drink_by_day(ask, cold=number % 2 == 0, today=day)
        if number % 4 == 0:
            yield burp_buys_days(ask, day), second_ferment.schools(ask), vigour_heard(ask, (Heard(ask, 3.0, 1, 1), Heard(ask, 6.0, 3, 2)))
    keys = sorted(INGREDIENTS)
    for _ in range(20):
        chosen = [part(key, round(rng.uniform(2, 90), 1)) for key in rng.sample(keys, rng.randint(1, 3))]
        plain_brew = at_ph(sweet_tea("black", 5, 20), rng.uniform(2.9, 3.6))
        mixed = plain_or_error(lambda parts=chosen, liquid=plain_brew: flavoured(liquid, parts, 4.0))
        yield [p.what.key for p in chosen], room(chosen), added_sugar(chosen, 4.0), driving_form(chosen), getattr(mixed, "ph", mixed)
        if hasattr(mixed, "ph"):
            yield [may_close(plain_brew.ph, mixed.ph, chosen, measured) for measured in (None, 3.6, 4.4)]
            yield infuse(plain_brew, chosen, rng.uniform(4, 60), course(rng), air=rng.random() < 0.5)
    for _ in range(12):
        stock = [Stock("half", 0.47, rng.randint(1, 12)), Stock("third", 0.31, rng.randint(0, 8)), Stock("litre", 0.96, rng.randint(0, 2))]
        wishes = [Wish(key, rng.choice((0.5, 1.0)), rng.uniform(0.85, 1.0)) for key in "abc"[: rng.randint(1, 3)]]
        litres = rng.uniform(0.5, 5)
        yield plain_or_error(lambda s=tuple(stock), w=tuple(wishes), all_l=litres: plan(all_l, s, w))
    for _ in range(16):
        yield leaving.causes(
            rng.uniform(0, 20), rng.uniform(18, 32), rng.uniform(0, 20), rng.uniform(0.01, 0.08), rng.uniform(1, 8), 5.0,
            rng.random() < 0.4, rng.random() < 0.3, burst=rng.random() < 0.5, cold_hours=rng.choice((None, 4.0, 40.0)),
        )  # fmt: skip
    people, kinds = ("Ana", "Ben"), ("Damson", "Quince", "Plain", "Fig")
    yield ranking([FlavourScore(rng.choice(people), rng.choice(kinds), rng.randint(1, 5), rng.choice((None, 1, 2))) for _ in range(24)])
    some = [drawn(rng, suggest.Candidate, {"key": str(i), "name": f"N{i}", "ingredients": (f"I{i % 5}",), "ripe": (f"I{i % 5}",) if i % 3 else (), "at_hand": (("freezer", "x"),) if i % 2 else (), "liked": (("Ana", float(i % 5 + 1)),)}, next_time=("", "more", "less")) for i in range(12)]
    yield suggest.proposals(some), [suggest.next_amount(60.0, said) for said in ("", "more", "less", "same")]
    yield [tonight.three([drawn(rng, tonight.Choice, {"key": str(i), "flavour": f"F{i % 4}"}) for i in range(9)], mild) for mild in (False, True)]
    yield best([BenchStep(20, -1), BenchStep(40, 0), BenchStep(60, 1)]), best([BenchStep(20, -2), BenchStep(40, -1), BenchStep(60, 1)])


def plan_ask(rng: Rng) -> PlanAsk:
    """Draw a brew day."""
    kind = rng.choice(sorted(KINDS))
    sweet = rng.choice(((("sugar", 1.0),), (("honey", 1.0),), (("sugar", 0.6), ("honey", 0.4))))
    card = RecipeCard(
        kind=kind, tea=rng.choice(TEAS), leaf_g_per_l=rng.uniform(3, 8), sweeteners=sweet, sugar_g_per_l=rng.uniform(40, 80),
        heat_method=rng.choice(("concentrate", "boil", "cold")), floor=rng.choice(("usual", "usual", "more", "low")),
        share=rng.choice((None, None, 0.12, 0.2)), base="rooibos" if kind == "trial" else "",
    )  # fmt: skip
    starters = tuple(
        StarterTold(key=f"lot{i}", name=f"lot {i}", left_l=rng.uniform(0.1, 1.2), ph=rng.choice((None, 2.8, 3.0, 3.3)), instrument=rng.choice((*HANDS, "estimate")),
                    age_days=rng.uniform(0, 60), kept_in=rng.choice(("shelf", "fridge")))
        for i in range(rng.randint(1, 3))
    )  # fmt: skip
    size = rng.uniform(2, 9)
    where = VesselFacts(
        name="the jar", nominal_l=size, line_l=size * 0.85, diameter_cm=rng.uniform(12, 24), material=rng.choice(("glass", "stoneware", "plastic")),
        tapped=kind == "first", heel_l=0.5 if kind == "first" else 0.0,
    )  # fmt: skip
    return PlanAsk(card=card, vessel=where, room_c=rng.uniform(17, 28), cold_c=rng.uniform(6, 18), starters=starters, disc_l=rng.choice((0.0, 0.2)), pot_l=rng.choice((None, 2.0, 5.0)), jug_l=rng.choice((None, 1.5)))


def brew_days(rng: Rng) -> Iterator[typing.Any]:
    """Plans, kitchen steps, remedies, the day by the clock."""
    for number in range(15):
        ask = plan_ask(rng)
        made = plain_or_error(lambda asked=ask: make_plan(asked))
        if isinstance(made, str):
            yield made
            continue
        yield made.final_l, made.sweet_tea_l, made.recipe, made.choice, made.made, made.heat, [note.words(worded) for note in made.notes]
        yield [[step.key, step.title, [line if isinstance(line, str) else line.words(worded) for line in step.do], step.timer_minutes, step.whole_minutes if step.timer_minutes else 0, [(q.name, q.planned) for q in step.asked]] for step in steps_of(made, number % 2 == 0)]
        yield needs_of(made, frozenset(("pot", "meter") if number % 2 else ())), remedies(made, {})
        if number % 5 == 0:
            places = tuple(drawn(rng, PlaceTold, {"key": i, "name": f"P{i}", "celsius": rng.uniform(14, 32)}, light=("shade", "dark", "sun"), reach=("easy", "high")) for i in range(4))
            usual = Prior(), (Point("Ana", 4.0, 0.15),)
            yield foretell(made, *usual).ready, plain_or_error(lambda p=made, w=places, known=usual: advise(p, w, *known))
            yield why_start_ph(made.recipe).lines, why_starter(made.recipe, 0.1, made.final_l).lines
        given = {"leaf": DryAmount(rng.uniform(8, 30), rng.choice(("mass", "bags"))), "sugar": DryAmount(rng.uniform(100, 300), "mass")}
        yield plain_or_error(lambda asked=ask, how=given: strengths(asked, how))
    for celsius in (None, 15.0, 22.0, 31.0, 44.0):
        yield [check(celsius, ph, hand) for ph in (None, 3.6, 4.2, 4.45, 4.6) for hand in HANDS]
    for _ in range(8):
        turns = tuple(VesselTurn(f"V{i}", (PotTold(rng.uniform(1, 3), 80, rng.uniform(5, 15), rng.uniform(0, 60)),), rng.randint(0, 12), rng.random() < 0.7) for i in range(rng.randint(1, 3)))
        yield turn_round(turns, Bench(), beam=6)
    for _ in range(6):
        yield plain_or_error(lambda: uses(rng.uniform(4, 16), rng.uniform(0.5, 6), rng.uniform(3, 6)))
    yield [seasonal(12, 25, day, south) for day in (1, 100, 200, 300) for south in (False, True)]
    yield learned_offset([(float(2 * i), 1.0 + 0.2 * (i % 4)) for i in range(20)]), learned_offset([(0.0, 9.0), (9.0, 1.0), (9.5, 2.0), (20.0, -1.0)])
    yield heat_plan(4.0, 0.5, 20.0, 96.0, 14.0, 28.0, leaf_g=20.0)


def worded(value: float, kind: str) -> str:
    """Say a quantity in SI."""
    return f"{value:.4g} {kind}"


def facts(rng: Rng) -> BrewFacts:
    """Draw what a judgement reads."""
    day = rng.uniform(0, 25)
    surfaces = [key for key, one in OBSERVATIONS.items() if one.group == "surface"]
    signs, smells = ([key for key, one in OBSERVATIONS.items() if one.group == group] for group in ("sign", "smell"))
    ph = tuple(PhReading(round(rng.uniform(0, day), 1), round(rng.uniform(2.8, 4.9), 2), rng.choice(HANDS)) for _ in range(rng.randint(0, 4)))
    looks = tuple(SeenLook(round(rng.uniform(0, day), 1), rng.choice(surfaces), tuple(rng.sample(signs, rng.randint(0, 2))), rng.choice(["", *smells])) for _ in range(rng.randint(0, 3)))
    tastes = tuple((round(rng.uniform(0, day), 1), float(rng.randint(-3, 3))) for _ in range(rng.randint(0, 3)))
    given = {"day": day, "ph": ph, "looks": looks, "tastes": tastes, "top_ups": (day / 2,) if rng.random() < 0.2 else ()}
    return drawn(rng, BrewFacts, given | {"ta": ((1.0, 1.5), (4.0, 3.5)) if rng.random() < 0.3 else ()}, kind=tuple(sorted(KINDS)), touched_by=("", "", "", "Jar 2"), near=("", "", "Jar 3"))


def judgements(rng: Rng) -> Iterator[typing.Any]:
    """Verdicts, dues, causes, cautions, care."""
    for _ in range(90):
        known = facts(rng)
        verdict = safety.judge(known)
        yield verdict, safety.may_bottle(known, verdict), safety.too_high(known)
        asked = drawn(rng, due.DueFacts, {"verdict": verdict, "day": known.day, "soured": False}, status=("fermenting", "fermenting", "held"), diet=tuple(Diet), kind=tuple(sorted(KINDS)), reach=("easy", "high"), look_verdict=("carry on", "watch"), watch=((), (3, 5)))
        yield due.dues(asked)
    for _ in range(60):
        words = {"pace": ("slow", "stuck", "fast", "usual", "unknown"), "pace_against_warm": ("slow", "stuck", "fast", "usual"), "treatment": ("none", "chlorine", "chloramine", "unknown"), "source": ("tap", "filtered", "distilled")}
        evidence = drawn(rng, diagnosis.Evidence, **words)
        yield [(f.cause.key, f.because) for f in diagnosis.diagnose(evidence)], diagnosis.unknown_yet(evidence)
    for _ in range(40):
        words = {"moment": ("plan", "vessel", "ferment", "harvest", "bottles", "open", "label", "first"), "material": ("glass", "stoneware", "plastic", "reactive metal", "unknown glaze or crystal"), "flavours": ((), ("plain",), ("grapefruit",), ("ginger", "honey")), "teas": ((), ("oily",), ("herbal",))}
        shown = as_heard(drawn(rng, Situation, **words), {"scald", "raw", "acid"})
        yield [[c.key for c in shown.full], [c.key for c in shown.folded]]
    for _ in range(60):
        since = {key: round(rng.uniform(0, 90), 1) for key in care.CARE if rng.random() < 0.6}
        yield care.wants(drawn(rng, care.CareFacts, {"since": since, "running_days": rng.uniform(5, 200)}))


def cultures(rng: Rng) -> Iterator[typing.Any]:
    """Conversions, hotels, discs, what a drink costs and how fast it goes."""
    for _ in range(30):
        past = [conversion.StepTold(round(0.2 * (i + 1), 1), round(0.2 * (i + 1), 1), rng.choice(("in time", "late", "not known", "in time")), 9.0, rng.choice((8.0, 13.0))) for i in range(rng.randint(0, 5))]
        yield conversion.advise(past), plain_or_error(lambda p=past: conversion.schedule(p, "jun", 0.2, 10.0, 0.0)), conversion.progress(past, "jun")
        yield conversion.outcome(9.0, rng.choice((None, 8.0, 14.0)), rng.uniform(5, 20), rng.random() < 0.5)
    for _ in range(30):
        days = tuple(sorted(round(rng.uniform(0, 60), 1) for _ in range(rng.randint(0, 5))))
        yield hotel.state_of(drawn(rng, hotel.HotelFacts, {"feeds_days_ago": days, "usable_l": 2.0, "diameter_cm": 14.0}))
    yield [discs.narrow_words(a, b) for a in (8.0, 12.0, 13.0) for b in (14.0,)], discs.disc_l(12, 15)
    yield [demand.pace([(float(d), 0.3 + 0.01 * d) for d in range(0, 60, 4)], known) for known in (30.0, 60.0)]
    bought = [cost.CostLine(amount=grams, unit="g", price=price, per_unit="kg") for grams, price in ((20.0, 30.0), (240.0, 1.4))]
    yield cost.cost(bought, 4.0, 500.0, 3.5), cost.cost(bought, 4.0)


def supplies(rng: Rng) -> Iterator[typing.Any]:
    """What is drunk, how much to brew and when, the cupboard, the list, and lines that tell of them."""
    drunk = [(rng.uniform(0, 90), rng.choice((0.25, 0.5, 2.0))) for _ in range(30)]
    yield demand.pace(drunk).lasts_days(7.0), demand.shares({"plain": drunk[:9], "damson": drunk[9:12]}, ("fig",)), demand.gamma_quantile(0.3, 0.1)
    wishes = [ahead.WishAhead(9.0, 4.0), ahead.WishAhead(20.0, 0.3, 30.0)]
    coming = [ahead.Coming(3.0, 4.0, 5.0, 7.0), ahead.Coming(6.0, 30.0, 33.0, 40.0)]
    out = ahead.ahead(5.0, coming, demand.pace(drunk), wishes)
    yield [values[::6].tolist() for values in (out.low, out.likely, out.high, out.missed)], out.runs_out, out.dry_days, out.dry_spans
    for wanted in (0.0, 2.2, 5.0, 9.0, 30.0):
        vessels = [supply_plan.BatchVessel(f"jar {n}", 2.0 + n, 7.0 + n, 10.5 + n, 0.5, 0.12, 0.05) for n in range(3)]
        crock = supply_plan.TappedVessel("crock", 8.0, tuple((days, share) for days in (3.0, 7.0) for share in (0.1, 0.3, 0.5)), 0.02)
        yield supply_plan.choose([crock, *vessels], wanted)
    for planned in ((), (3, 12), (30,)):
        turns = [stagger.Turns(name=str(n), free_on=n, every=lambda _, n=n: 8 + n, ripening=lambda _: stagger.Ripening(6, 7, 9, 12), gives_l=3.0, bottle_days=3.0, planned=planned) for n in range(2)]
        yield [one.days for one in stagger.stagger(turns, 4.0 - 0.5 * np.arange(1, 85), 1.0, frozenset(range(20, 27)))]
    happened = [stock.StockEntry(day=date(2027, 1, 1 + rng.randint(0, 27)), what=rng.choice(list(stock.Happened)), amount=rng.uniform(1, 900), price=rng.choice((None, 1.5)), by="brew") for _ in range(14)]
    yield stock.account(happened), stock.account(happened).last_price
    every = {(one.kind, one.key): one for one in goods()}
    needs = shopping.needs_of([{("sweetener", "sugar"): 400.0, ("tea", "black"): 20.0}, {("sweetener", "sugar"): 300.0}], {("sweetener", "sugar"): 350.0}, every)
    yield [(one.good.key, one.missing, one.low, shopping.pack_of(one.good, one.missing), shopping.pack_of(one.good, one.missing, us=True)) for one in needs]
    yield money.heating_kwh(2.0, 75.0), money.spread(30.0, 12), money.spread(30.0, 61)
    period = money.Period(goods=9.0, energy=1.0, lasting=0.5, drunk_l=20.0, given_l=2.0)
    yield period.per_litre, period.gifts, period.saved(5.0), period.saved(None)
    for line in ("1 kg sugar 1.49", "2 x 100 g black tea 9,80", "counted honey 300 g", "bought a strainer 12", "crock 3.4", "6 damson"):
        yield bought.bought_said(line, goods()), bought.bought_said(line, goods(), always=True)
    for line in ("guests saturday 6 people 2 glasses", "10 bottles as a gift on 4 march", "2 l a week more in july", "more in march 9 l", "crock 3.4 saturday"):
        yield wishes_line.wish_said(line, date(2027, 2, 18), 0.25)
    ask = ForecastAsk(batch=Batch(recipe=Recipe(), course=Course((), 23.0)), points=(Point("the household", 4.0, 0.2),))
    yield ripe.ripe(ask, 5.8), ripe.slower(ask, (23.0, 19.0, 27.0, 4.0))


def tapped(rng: Rng) -> Iterator[typing.Any]:
    """Tapped vessels as they stand and as they may be drawn from."""
    for _ in range(7):
        made, line = recipe(rng), rng.uniform(4, 10)
        batch = Batch(recipe=dataclasses.replace(made, starter_kind="fresh"), course=Course((), rng.uniform(20, 27)), litres=line)
        out = run(batch, 12.0)
        ask = vessel.Tapped(
            recipe=batch.recipe, course=batch.course, now=12.0, state=tuple(float(x) for x in out.state[-1, :, 0]), fill=fill_at(batch, 12.0), line_l=line,
            heel_l=rng.uniform(0, 0.8), points=(Point("Ana", rng.uniform(3, 4.5), 0.15), Point("Ben", rng.uniform(4.5, 7), 0.2)), every_days=rng.choice((2.0, 3.0, 5.0)),
            measures_after=rng.random() < 0.5, stirred=rng.random() < 0.3,
        )  # fmt: skip
        yield vessel.today(ask), vessel.drawing(ask, 1.0), vessel.left_alone(ask), vessel.way_back(ask), vessel.gate_acidity(ask), vessel.as_poured(1.0)
        yield vessel.best_interval(ask), vessel.for_a_wish(ask, 3.0), vessel.rhythm(ask, 3.0, 0.25)
    for _ in range(24):
        room_c, wanted = rng.uniform(14, 27), rng.uniform(22, 27)
        yield heater.advice(rng.choice((None, 25.0)), room_c, wanted), heater.look(rng.uniform(2, 8), 8.0, rng.choice((None, 25.0)), room_c, rng.choice((None, 20.0, 40.0)))


LINES = (
    "crock 3.42 24c tart", "jar 2 ph 4", "jar 2 3,4 odile a bit sweet", "jar 2 between 3 and 3.5", "crock 18-24c", "jar 2 5.2 brix refractometer",
    "jar 2 1.021", "jar 2 ta 4.6", "jar 2 3.3 strip yesterday", "opened one damson, flat", "burped all fig", "drank a glass from the crock",
    "topped up the crock with 1 l of water", "jar 2 no mould, new skin", "bottled 6 from jar 2 quince", "chilled the fig", "jar 2 monday 18:30 3.5 meter",
    "gave maria a jug from the crock", "jar 2 low 18 high 24", "both find jar 2 too sour", "poured away 200 ml from jar 2", "jar two smells of solvent",
    "crock 77 f", "moved jar 2 to the cupboard", "two damson gushed", "jar 2 3 days ago 3.6", "the crock is not ready yet", "squeezed pet hard", "fed hotel 200 ml",
    "12/3 jar 2 3.4", "jar 2 3.4 remember to buy tea", "one fig burst this morning",
)  # fmt: skip


def lines(_: Rng) -> Iterator[typing.Any]:
    """Quick lines as they are understood, in metric and in US units."""
    shelves = (NamedShelf(1, "Damson", (), 3, 2), NamedShelf(2, "Fig and thyme", ("fig",), 2, 0), NamedShelf(3, "Plain", ("pet",), 0, 2))
    for us in (False, True):
        here = Context((Named(1, "Crock", ("Bora",)), Named(2, "Jar 2", ("Meltemi",))), (Named(1, "Odile"), Named(2, "Bram")), NOW, us, shelves, (Named(9, "Hotel"),), (Named(1, "Cupboard"),), (Named(3, "Jar 3"),))
        for line in LINES:
            yield line, understand(line, here)


def phrases(_: Rng) -> Iterator[typing.Any]:
    """Every kind of word that a quick line knows, alone with a jar, after a reading, and before one."""
    here = Context((Named(1, "Crock", ("Bora",)), Named(2, "Jar 2", ("Meltemi",))), (Named(1, "Odile"), Named(2, "Bram")), NOW)
    for group in ("surface", "sign", "smell", "taste", "instrument", "depth", "note"):
        for known in entries_of("quick_words")[group].values():
            for line in (f"jar 2 {known[0]}", f"jar 2 3.4 {known[-1]}", f"{known[len(known) // 2]} jar 2 by meter 3.41 yesterday", f"jar 2 no {known[0]}, 24c"):
                yield line, understand(line, here)


def typed_lines(_: Rng) -> Iterator[typing.Any]:
    """Lines as people type them, each as it is understood, what it tells nothing of left out: whoever mends one line sees which others it moves."""
    jars = (("Stoneware crock", "Bora"), ("Jar one", "Bora"), ("Jar two", "Meltemi"), ("Tall jar", "Levanter"), ("Stone jar", "Bora"))
    bottled = ("Damson", "Sea buckthorn", "Fig and thyme", "Rhubarb and cardamom", "Plain, to compare", "Plain jun", "Quince and bay")
    here = Context(
        tuple(Named(number, name, (line,)) for number, (name, line) in enumerate(jars, 1)), (Named(1, "Odile Varga"), Named(2, "Bram Sollie")), NOW,
        shelves=tuple(NamedShelf(number, name, (), 2, 1) for number, name in enumerate(bottled, 1)), hotels=(Named(9, "The hotel"),),
        places=(Named(1, "Dresser"), Named(2, "Window shelf"), Named(3, "Pantry"), Named(4, "Fridge")),
    )  # fmt: skip
    for line in TYPED.read_text().splitlines():
        told = plain(understand(line, here))
        yield line, {name: value for name, value in told.items() if name != "read" and value not in (None, "", [], False)}


def heard_bottles(rng: Rng) -> Iterator[typing.Any]:
    """What each sound of a bottle tells of its brothers, what a burp buys, bottles warm and cold."""
    for hiss in range(5):
        for _ in range(2):
            ask = dataclasses.replace(bottle(rng), limit_bar=rng.choice((4.0, 6.0)))
            yield vigour_heard(ask, (Heard(ask, rng.uniform(1, 6), hiss, 1),)), vigour_heard(ask, (Heard(ask, rng.uniform(1, 6), hiss, 1, own=True), Heard(ask, 6.0, 2, 2)))
            yield [burp_buys_days(ask, day) for day in (0.5, 3.0, 8.0)], [drink_by_day(ask, cold=cold, today=2.0) for cold in (False, True)]


#: Numbers that rules turn on, as they stood when this was written: questions are asked at them, a little above and a little below.
TURNS = (
    0.02, 0.05, 0.08, 0.1, 0.12, 0.15, 0.2, 0.25, 0.3, 0.35, 0.4, 0.5, 0.6, 0.7, 0.75, 0.8, 0.85, 0.9, 1, 1.1, 1.2, 1.25, 1.5, 2, 2.5, 2.8, 3,
    3.2, 3.4, 3.5, 3.6, 3.8, 4, 4.2, 4.5, 5, 5.5, 6, 6.5, 7, 8, 9, 10, 11, 12, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 30, 31,
    32, 35, 40, 42, 45, 48, 50, 56, 60, 70, 75, 80, 90, 100, 120, 150, 180, 200, 250, 300,
)  # fmt: skip


class NearTurns(random.Random):
    """Draws numbers at which rules turn, and those just beside, more often than others."""

    def uniform(self, a: float, b: float) -> float:
        """Draw a number between two."""
        inside = [one for one in TURNS if a <= one <= b]
        if not inside or self.random() < 0.3:
            return super().uniform(a, b)
        return min(b, max(a, self.choice(inside) * self.choice((1.0, 1.0, 1.07, 0.93))))


def near(group: Callable[[Rng], Iterator[typing.Any]], times: int) -> Callable[[Rng], Iterator[typing.Any]]:
    """Ask a group's questions so many times where its rules turn."""

    def ask(rng: Rng) -> Iterator[typing.Any]:
        drawing = NearTurns(rng.random())
        for _ in range(times):
            yield from group(drawing)

    return ask


GROUPS: dict[str, Callable[[Rng], Iterator[typing.Any]]] = {
    "forecasts": forecasts, "bottles": bottles, "brew days": brew_days, "judgements": judgements, "cultures": cultures, "supplies": supplies, "tapped": tapped, "lines": lines,
    "judgements at turns": near(judgements, 3), "cultures at turns": near(cultures, 4), "bottles at turns": near(bottles, 1),
    "phrases": phrases, "typed lines": typed_lines, "heard bottles": heard_bottles,
}  # fmt: skip


def answers(group: str) -> list[typing.Any]:
    """Ask all questions of a group."""
    return [plain(one) for one in GROUPS[group](random.Random(f"kyklos {group}"))]


if __name__ == "__main__":
    KEPT.write_text("{\n" + ",\n".join(f'"{name}": [\n' + ",\n".join(json.dumps(one, ensure_ascii=False) for one in answers(name)) + "\n]" for name in GROUPS) + "\n}\n")
