"""The plan in words and pictures: sentences, lanes, what it takes a month."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from itertools import pairwise

from flask import g

from ....core.quick.wishes import BOTTLE_L, WISHES
from ....drawing.supply import SupplyLane, SupplyView, levels_of, supply_view
from ....reckon.supply.cupboard import accounts, known_goods, money_of
from ....reckon.supply.drunk import said_a_week
from ....reckon.supply.laying import PlanLane
from ....reckon.supply.planning import Enough, Takes
from ....reckon.supply.seasons import Warmer
from ....store.read import park, queries
from ....store.records import Wished
from ...kit import units
from ...kit.goods_words import amount_word, money_word
from ...kit.words import day_said

FULL_DAYS = 84
MOST_NAMED = 3  #: Where all of more vessels rest, none is named.


def litres(value: float) -> str:
    """Put a volume into words."""
    return units.words(value, "volume", g.units)


def every_word(days: float) -> str:
    """Put how often into words: every 5 days, every week, every second week."""
    whole = round(days)
    weeks, rest = divmod(whole, 7)
    if rest == 0 and weeks in {1, 2, 3, 4}:
        return ("every week", "every second week", "every third week", "every fourth week")[weeks - 1]
    return "every day" if whole == 1 else f"every {whole} days"


def lane_says(lane: PlanLane) -> str:
    """Tell what a vessel does, in short."""
    one = lane.producer
    if not one.in_plan:
        return one.why_not
    if lane.choice.every_days is None:
        return f"one batch of {litres(lane.batch_l)}" if lane.batches.days else "rests"
    if one.standing is not None:
        return f"draw {litres(lane.draw_l)} {every_word(lane.choice.every_days)}"
    return f"{litres(lane.batch_l)} {every_word(lane.choice.every_days)}"


def plan_sentence(plan: Enough) -> str:
    """Sum the whole plan up: what each vessel does, and which can rest."""
    says, resting = [], []
    for lane in plan.in_plan:
        name, every = lane.producer.name, lane.choice.every_days
        if every is None and not lane.batches.days:
            resting.append(name)
        elif every is None:
            says.append(f"{name}: one batch, started {day_said(plan.day(lane.batches.days[0]))}.")
        elif lane.producer.standing is not None:
            says.append(f"{name}: draw {litres(lane.draw_l)} {every_word(every)}.")
        else:
            says.append(f"{name}: brew {litres(lane.batch_l)} {every_word(every)}.")
    if len(resting) > MOST_NAMED and not says:
        says.append("Every vessel can rest.")
    elif resting:
        names = resting[0] if len(resting) == 1 else f"{', '.join(resting[:-1])} and {resting[-1]}"
        says.append(f"{names} can rest.")
    return " ".join(says)


def lead_parts(plan: Enough) -> list[tuple[str, bool]]:
    """Tell how things stand, as pieces of which some are strong."""
    a_week = f"{litres(said_a_week(plan.pace.litres_a_week, units.large_l(g.units)))} a week"
    if not plan.known:
        return [("Nothing is written down as drunk yet, so ", False), (a_week, True), (" is assumed.", False)]
    out = [("You drink about ", False), (a_week, True)]
    runs_out = plan.without.runs_out[1]
    if runs_out is not None:
        out += [(". As things stand you run dry ", False), (day_said(plan.day(runs_out)) if runs_out else "today", True)]
    else:
        out += [(". As things stand there is enough for twelve weeks", False)]
    dry = plan.ahead.runs_out[1]
    if runs_out is not None and dry is None:
        out.append((". With the plan there is always something ready.", False))
    elif dry is not None:
        last = plan.ahead.dry_spans[0][1]
        until = f" until {day_said(plan.day(last))}" if last < FULL_DAYS else ""
        out.append((f". Even with the plan there is not enough from {day_said(plan.day(dry))}{until}.", False))
    else:
        out.append((".", False))
    return out


def chart(plan: Enough, wishes: Sequence[Wished], *, narrow: bool = False) -> SupplyView:
    """Draw the plan."""
    flags = [(float((row.day - plan.today).days), wish_flag(row)) for row in wishes if row.until is None]
    lanes = [_lane(lane, plan) for lane in plan.lanes]
    step, count = levels_of(plan.stock_l, plan.ahead.likely.tolist(), plan.ahead.high.tolist(), units.large_l(g.units))
    names = [litres(step * number) if number else "0" for number in range(count + 1)]
    return supply_view(
        plan.ahead.low.tolist(), plan.ahead.likely.tolist(), plan.ahead.high.tolist(), plan.without.likely.tolist(), plan.stock_l, plan.ahead.dry_spans, plan.today,
        lanes, flags, names, narrow=narrow, unit_l=units.large_l(g.units),
    )  # fmt: skip


def _lane(lane: PlanLane, plan: Enough) -> SupplyLane:
    one = lane.producer
    batches: list[tuple[float, float, str, bool]] = []
    if one.stands is not None:
        batches.append((0.0, max(one.stands.likely, 0.5), litres(one.stands_l), True))
    ready = {day: batch.likely - plan.bottle_days for day, batch in zip(lane.batches.days, lane.batches.coming, strict=True)}
    following = dict(pairwise([*lane.batches.days, FULL_DAYS * 2]))
    batches += [(float(day), float(min(ready[day], following[day])), litres(lane.batch_l), False) for day in lane.batches.days]
    return SupplyLane(name=one.name, says=lane_says(lane), batches=batches, draws=[float(day) for day in lane.draws], rests=lane.rests and not lane.batches.days)


def wish_flag(row: Wished) -> str:
    """Name a wish on the drawing, in short."""
    return f"{WISHES[row.kind]}, {litres(row.litres)}"


def wish_says(row: Wished) -> str:
    """Name a wish in a list."""
    days = 1 if row.until is None else (row.until - row.day).days + 1
    when = day_said(row.day) if row.until is None else f"{row.day.day} {row.day:%B} to {row.until.day} {row.until:%B}"
    who = f"{row.people} people, " if row.people else ""
    return f"{WISHES[row.kind]} {when}: {who}{litres(row.litres * days)}"


@dataclass(frozen=True, slots=True)
class TakenGood:
    """A good that the plan takes, and what is in the cupboard."""

    name: str
    amount: str
    there: str  #: Empty: nobody keeps account of it.


def goods_taken(taken: Takes) -> list[TakenGood]:
    """List what the plan takes a month."""
    known, found, out = known_goods(g.session), accounts(g.session, g.now), []
    for key, grams in sorted(taken.goods.items(), key=lambda row: (row[0][0] == "tea", row[0][1])):
        good = known.get(key)
        if good is None:
            continue
        account = found.get(key)
        tracked = account is not None and account.tracked
        there = f"{amount_word(good, account.in_the_cupboard)} in the cupboard" if tracked and account is not None else ""
        out.append(TakenGood(good.name, amount_word(good, grams), there))
    return out


def work_taken(taken: Takes) -> str:
    """Tell how much work the plan is, a month."""
    brews, draws = round(taken.brew_days), round(taken.draws)
    parts = [f"{brews} brew day{'' if brews == 1 else 's'}"] if brews else []
    parts += [f"{draws} topping{'' if draws == 1 else 's'} up"] if draws else []
    return " and ".join(parts) or "none"


def bottles_taken(taken: Takes) -> str:
    """Tell how many bottles the plan fills a month, and how many there are; empty: none."""
    if taken.litres <= 0:
        return ""
    owned = sum(kind.owned or 0 for kind in park.kinds(g.session) if kind.limit_bar > 0)
    return f"{max(1, round(taken.litres / BOTTLE_L))} filled{f'; you own {owned}' if owned else ''}"


def money_taken(taken: Takes) -> str:
    """Tell what the plan's goods cost a month, as last bought; empty: no price is known."""
    money = money_of(g.session, taken.goods, g.now)
    return "" if money is None else money_word(money)


def warmer_says(warm: Warmer | None) -> str:
    """Tell where a heater would help, and what that takes; empty: nowhere."""
    if warm is None:
        return ""
    room, wanted = units.words(round(warm.room_c), "temperature", g.units), units.words(warm.set_c, "temperature", g.units)
    price = queries.household_of(g.session).power_price
    cost = f", about {money_word(warm.kwh_a_week * price)} a week" if price else f", about {warm.kwh_a_week:.1f} kWh a week"
    return f"In {warm.season} {warm.vessel.name} stands at {room} and the others give too little: a {warm.watts:.0f} W mat under it keeps {wanted}{cost}."


def moved_says(plan: Enough) -> str:
    """Tell which planned days the plan does without; empty: it keeps them all."""
    if not plan.moved:
        return ""
    return "One day in the almanac no longer serves: it moves." if plan.moved == 1 else f"{plan.moved} days in the almanac no longer serve: they move."


def saved_days(plan: Enough) -> list[str]:
    """List the days of the plan as a form carries them: kind, vessel, day, litres."""
    rows = []
    for lane in plan.in_plan:
        vessel = lane.producer.vessel
        if lane.producer.name != vessel.name:
            continue
        rows += [f"brew:{vessel.id}:{plan.today + timedelta(days=day)}:{lane.batch_l:.2f}" for day in lane.batches.days]
        rows += [f"draw:{vessel.id}:{plan.today + timedelta(days=day)}:{lane.draw_l:.2f}" for day in lane.draws]
    return rows
