"""Second thoughts: what a plan says when something does not fit, is odd, or cannot be."""

from __future__ import annotations

from ..base import Said, limit, water
from ..base.kinds import Diet, KindOfBrew
from ..base.saying import plain, said
from ..liquid import heat, heat_methods, teas
from ..liquid.taste import is_jun
from . import starters
from .kinds import DRIED_BREWS, base_refused
from .pitch_check import vinegar_l
from .plan import BrewPlan
from .starters import Mix

EXPERIMENTS = {"trial", "conversion"}  #: Kinds that ask for a backup first.
LANDS_WITHIN_C = 0.5  #: A plan lands this near its target or says that it cannot. [K]


def _room_notes(plan: BrewPlan) -> list[Said]:
    return _overflow(plan) + _tap_notes(plan)


def _tap_notes(plan: BrewPlan) -> list[Said]:
    vessel = plan.ask.vessel
    if plan.ask.card.kind != KindOfBrew.FIRST:
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
    if plan.ask.card.kind == KindOfBrew.DRIED and choice.fraction < 0.01 and plan.ask.vinegar_l <= 0:
        out.append(_dried_alone(plan))
    elif choice.advised is None:
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


def _dried_alone(plan: BrewPlan) -> Said:
    """Return where a dried disc's acid may come from."""
    vinegar = starters.vinegar_needed((), _mix_of(plan))
    if vinegar is None:
        return said("A dried disc brings no acid: take starter from another brew, or softer water.", True)
    text = "A dried disc brings no acid: take starter from another brew, or {vinegar} of distilled vinegar of 5 %."
    return said(text, True, vinegar=(vinegar, "volume"))


def _too_little(plan: BrewPlan) -> Said:
    """Return plainly what can be done when the starters there are cannot begin so large a brew."""
    choice = plan.choice
    taken = sum(litres for _, litres in choice.taken)
    values: dict[str, tuple[float, str]] = {"taken": (taken, "volume"), "whole": (plan.final_l, "volume")}
    unsure, wanted = choice.settled_in_the_brew, limit("start_ph" if choice.settled_in_the_brew else "plan_start_ph")
    weak = (plan.start_ph if unsure else plan.start_ph_high) > wanted
    start = (
        f"not sour enough yet: about pH {plan.start_ph:.1f}; aim for {wanted:g}"
        if weak
        else "it is sour enough, but so little living liquid leaves the door open to others"
    )
    ways = []
    if choice.smaller_l is not None:
        ways.append("brew only {smaller} now, and more the next time")
        values["smaller"] = (choice.smaller_l, "volume")
    if choice.wanted_l is not None:
        ways.append("find more of it: {wanted} would do")
        values["wanted"] = (choice.wanted_l, "volume")
    if weak:
        ways.append("wait: under its cloth it grows sourer by the week")
        if unsure:
            ways.append("measure its pH: it may be sourer than is taken here")
    if weak and choice.vinegar_l is not None:
        ways.append("last of all add {vinegar} of distilled vinegar of 5 %, which lends acid and no life")
        values["vinegar"] = (choice.vinegar_l, "volume")
    what = "This starter is too weak" if choice.wanted_l is None else "{taken} of this starter is too little"
    words = f"{what} for {{whole}}: {start}. "
    ends = f"Choose one: {'; or '.join(ways)}." if ways else "Take another starter."
    return said(words + ends, plan.start_ph > limit("start_ph"), **values)


def _line_notes(plan: BrewPlan) -> list[Said]:
    ask, out = plan.ask, []
    jun_brew = is_jun(plan.recipe.honey_share)
    taken = {portion.key for portion, _ in plan.choice.taken}
    for starter in ask.starters:
        if starter.key not in taken or not starter.diet:
            continue
        if (
            starter.line
            and ask.culture
            and starter.line != ask.culture
            and plan.ask.card.kind not in {KindOfBrew.CONVERSION, KindOfBrew.DRIED}
        ):
            out.append(
                said(
                    plain(
                        f"{starter.name} is of {starter.line}, this brew of {ask.culture}. Is that what you want? The two would mix."
                    )
                )
            )
        elif (starter.diet == Diet.JUN) != jun_brew and plan.ask.card.kind != KindOfBrew.CONVERSION:
            lives = "honey" if starter.diet == Diet.JUN else "sugar"
            into = "honey" if jun_brew else "sugar"
            out.append(
                said(
                    plain(
                        f"{starter.name} is fed with {lives}, and this brew is made with {into}. Is that what you want? Starter of jun is for jun, starter of black tea for black tea."
                    )
                )
            )
    if (
        ask.diet == Diet.SUGAR
        and plan.recipe.honey_share > 0.25
        and plan.ask.card.kind not in {KindOfBrew.CONVERSION, KindOfBrew.TRIAL}
    ):
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
    if card.kind == KindOfBrew.TRIAL and not card.base.strip():
        out.append(said("Say what the trial's base is."))
    return out


def _heat_notes(plan: BrewPlan) -> list[Said]:
    out, h, card = [], plan.heat, plan.ask.card
    if h.method == "cold":
        out.append(
            said("The leaf steeps in the fridge, at most 12 hours; water and jug must be fit to drink as they are.")
        )
        if h.wait.hours is None:
            out.append(said("It will not get warm enough to start a brew in this room.", True))
        return out
    after = heat.temperature_after(
        h.hot_l, card.on_leaf_c, plan.ask.room_c, heat_methods.LEAST_LEAF_MINUTES / 60, u_w_per_m2k=heat.LIDDED_U
    )
    if after < heat_methods.LEAST_LEAF_C:
        need = card.on_leaf_c + heat_methods.LEAST_LEAF_C - after
        out.append(
            said(
                "The leaf should meet at least {least} for 5 minutes: take water of {need}.",
                least=(75.0, "temperature"),
                need=(need, "temperature"),
            )
        )
    if h.lands_c < h.target_c - LANDS_WITHIN_C:
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
    words = " and ".join(f"{number} {what}" for number, what in many if number > 1)
    if words:
        out.append(said(f"It takes {words}: what goes where stands below."))
    return out


def _start_notes(plan: BrewPlan) -> list[Said]:
    out = []
    bound = limit("start_ph")
    doubted = [portion.name for portion, _ in plan.choice.taken if not portion.measured and not portion.fixed]
    if doubted and plan.choice.advised is not None and plan.start_ph_high > bound and plan.kind.key != KindOfBrew.TRIAL:
        out.append(
            said(
                f"How sour {plain(doubted[0])} is, nobody measured well: a strip in the brew settles it. At or below "
                f"{bound:g} go on; above, or at the edge, stir in {{vinegar}} of distilled vinegar of 5 %, or more starter, and "
                "read again.",
                vinegar=(vinegar_l(plan.final_l), "volume"),
            )
        )
    if plan.ask.dried and plan.ask.earlier_brews < DRIED_BREWS:
        out.append(
            said(
                f"This culture came dry: {DRIED_BREWS} brews before it is relied on; this is its {('first', 'second')[min(plan.ask.earlier_brews, 1)]}."
            )
        )
    return out


def _water_notes(plan: BrewPlan) -> list[Said]:
    return [said(plain(line)) for line in water.water_advice(plan.ask.card.water)]


def _backup_notes(plan: BrewPlan) -> list[Said]:
    """Ask for a backup before an experiment."""
    if plan.ask.card.kind not in EXPERIMENTS or plan.ask.backups != 0:
        return []
    name = plan.ask.culture or "this line"
    return [
        said(
            plain(
                f"First a backup: nothing of {name} lives besides what works. Part a disc, or keep a cup of its liquid; an experiment can fail."
            ),
            True,
        )
    ]


_RULES = (_backup_notes, _room_notes, _starter_notes, _line_notes, _start_notes, _tea_notes, _heat_notes, _water_notes)


def notes_on(plan: BrewPlan) -> tuple[Said, ...]:
    """List what deserves a second thought, in the order of the day."""
    return tuple(note for rule in _RULES for note in rule(plan))
