"""Starters: one or several lots, each with its own acid and its own doubt; how much to take, and what if it is too little."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from ..base import CoreError, limit, require_between
from ..liquid import acids
from ..liquid.acids import Medium, Starter, TeaAndWater
from .portions import LEAST_SD, UNTOLD, Portion, Taken, mixed, take

VINEGAR_ACETIC_G_PER_L = 50.0  #: Food-grade distilled vinegar of 5 %. [g/L]
LEAST_VINEGAR_L = 0.003  #: Less is not worth a word: half a teaspoon. [L]
STEPS = 27  #: Halvings: to less than a millionth of what there is.


@dataclass(frozen=True, slots=True)
class Mix:
    """The brew that portions start in."""

    final_l: float  #: [L]
    where: Medium  #: Of the sweet tea.
    honey_g_per_l: float = 0.0  #: Of the sweet tea. [g/L]
    vinegar_l: float = 0.0  #: [L]

    def start_ph(self, taken: Taken, weak: bool = False, bare: bool = False) -> float:
        """Foretell the pH at the start; `bare` leaves out honey's and vinegar's acid. [pH]"""
        share = min(1.0, sum(litres for _, litres in taken) / self.final_l)
        liquid = mixed(taken, weak)
        vinegar = 0.0 if bare else self.vinegar_l * VINEGAR_ACETIC_G_PER_L / self.final_l
        sweet = max(0.0, 1 - share - self.vinegar_l / self.final_l)
        honey = 0.0 if bare else acids.HONEY_ACID_MEQ_PER_G * self.honey_g_per_l * sweet
        where = acids.mixed_medium(self.where, mixture_of(taken).medium, share) if taken else self.where
        return float(acids.ph(share * liquid.acetic_g_per_l + vinegar, share * liquid.gluconic_g_per_l, where, honey))


@dataclass(frozen=True, slots=True, kw_only=True)
class StarterChoice:
    """What to take, where it starts, and what else could be done if it is too little."""

    taken: Taken
    fraction: float  #: Of the final volume. [-]
    start_ph: float  #: Likely. [pH]
    start_ph_high: float  #: If every starter is as weak as it may be. [pH]
    advised: float | None  #: Cautious share for pH 4.2 and the floor; None when these lots cannot. [-]
    likely: float | None  #: Share that likely reaches pH 4.2; None when these lots cannot. [-]
    short_l: float = 0.0  #: Missing of what is advised, when that is known. [L]
    smaller_l: float | None = None  #: A brew of this size would start well with these lots; None if none would. [L]
    wanted_l: float | None = (
        None  #: How much liquid like the last of these would do; None where these do or none would. [L]
    )
    vinegar_l: float | None = None  #: Distilled vinegar of 5 % that would bring the cautious start to 4.2. [L]
    settled_in_the_brew: bool = False  #: Not all of it was measured: a reading of the brew says whether it is enough.

    @property
    def enough(self) -> bool:
        """Whether what is taken is what is advised, or more."""
        return self.advised is not None and self.fraction >= self.advised - 1e-6


def _least(
    portions: Sequence[Portion], mix: Mix, target_ph: float, weak: bool, most_l: float, bare: bool = True
) -> float | None:
    """Find the smallest volume whose start is at or below a pH, by halving; None if all of it is not enough. [L]"""

    def enough(litres: float) -> bool:
        return mix.start_ph(take(portions, litres), weak, bare=bare) <= target_ph

    if most_l <= 0 or not enough(most_l):
        return None
    if enough(0.0):
        return 0.0
    low, high = 0.0, most_l
    for _ in range(STEPS):
        middle = (low + high) / 2
        low, high = (low, middle) if enough(middle) else (middle, high)
    return high


def cautious_l(portions: Sequence[Portion], mix: Mix, floor: float) -> float | None:
    """Return how much settles every doubt by volume: a pH of 4.2 though each is as weak as it may be; None if they cannot. [L]"""
    most = min(sum(p.left_l for p in portions), limit("starter_most") * mix.final_l)
    least = _least(portions, mix, limit("plan_start_ph"), True, most)
    wanted = None if least is None else max(least, floor * mix.final_l)
    return None if wanted is None or wanted > most + 1e-6 else wanted


def advised_l(portions: Sequence[Portion], mix: Mix, floor: float) -> float | None:
    """Return how much of these portions a brew takes; None if they cannot begin it. [L]

    Measured ones: what is cautious. Where one was read by a strip, tasted, or read long ago: the usual share, or what likely starts
    at 4.5 if that is more, but no less than the floor; its doubt is settled by a reading of the brew, not by volume.
    """
    if all(portion.measured for portion in portions):
        return cautious_l(portions, mix, floor)
    there = sum(p.left_l for p in portions)
    most = min(there, limit("starter_most") * mix.final_l)
    likely = _least(portions, mix, limit("start_ph"), False, most)
    least = None if likely is None else max(likely, floor * mix.final_l)
    if least is None or least > most + 1e-6:
        return None
    return min(max(least, limit("starter_usual") * mix.final_l), most)


def _smaller(portions: Sequence[Portion], mix: Mix, floor: float) -> float | None:
    low, high = 0.0, mix.final_l
    for _ in range(16):
        middle = (low + high) / 2
        low, high = (middle, high) if advised_l(portions, replace(mix, final_l=middle), floor) else (low, middle)
    return low if low > 0.02 * mix.final_l else None


def wanted_l(portions: Sequence[Portion], mix: Mix, floor: float) -> float | None:
    """Return how much liquid like the last of these, and the others, would do; None if half of the brew would not. [L]"""
    if not portions:
        return None
    return advised_l([*portions[:-1], replace(portions[-1], left_l=mix.final_l)], mix, floor)


def vinegar_needed(taken: Taken, mix: Mix) -> float | None:
    """Return how much distilled vinegar brings the start to pH 4.2 even if the starters are as weak as they may be.

    Returns: None if it is there already, or if a fifth of the brew would not do. [L]
    """
    low, high = 0.0, 0.2 * mix.final_l

    def met(litres: float) -> bool:
        return replace(mix, vinegar_l=litres).start_ph(taken, weak=True) <= limit("plan_start_ph")

    if met(LEAST_VINEGAR_L) or not met(high):
        return None
    for _ in range(STEPS):
        middle = (low + high) / 2
        low, high = (low, middle) if met(middle) else (middle, high)
    return high


def choose(
    portions: Sequence[Portion], mix: Mix, *, floor: float, share: float | None = None, needed: bool = True
) -> StarterChoice:
    """Choose how much of which starter goes in.

    Args:
        portions: What there is, in the order in which it is to be used.
        mix: The brew.
        floor: Least share that seeds it. [-]
        share: Wanted by the brewer; as advised unless given. [-]
        needed: Whether it takes living liquid at all; a dried disc may do without.

    Raises:
        CoreError: If there is no starter at all.
    """
    there = sum(p.left_l for p in portions)
    if there <= 0 and needed:
        raise CoreError("Choose a starter, or say what else there is.")
    advised = advised_l(portions, mix, floor)
    most = min(there, limit("starter_most") * mix.final_l)
    likely = _least(portions, mix, limit("plan_start_ph"), False, most)
    wanted = share * mix.final_l if share is not None else advised if advised is not None else most
    taken = take(portions, min(wanted, there))
    litres = sum(part for _, part in taken)
    return StarterChoice(
        taken=taken,
        fraction=litres / mix.final_l,
        start_ph=mix.start_ph(taken),
        start_ph_high=mix.start_ph(taken, weak=True),
        advised=None if advised is None else advised / mix.final_l,
        likely=None if likely is None else likely / mix.final_l,
        short_l=max(0.0, wanted - litres),
        smaller_l=None if advised is not None else _smaller(portions, mix, floor),
        wanted_l=None if advised is not None else wanted_l(portions, mix, floor),
        vinegar_l=vinegar_needed(taken, mix) if advised is None else None,
        settled_in_the_brew=not all(portion.measured for portion, _ in taken),
    )


def mixture_of(taken: Taken) -> TeaAndWater:
    """Return what the portions poured together were brewed with; there is at least one."""
    return acids.poured_together([(litres, portion.brewed_with) for portion, litres in taken])


def mixture_ph(taken: Taken) -> float:
    """Return the pH of the portions poured together, as one starter. [pH]"""
    liquid, where = mixed(taken), mixture_of(taken).medium if taken else UNTOLD.medium
    return float(acids.ph(liquid.acetic_g_per_l, liquid.gluconic_g_per_l, where))


def mixture_sd(taken: Taken) -> float:
    """Return how far the pH of the portions poured together may be off: the mean by volume of their own. [pH]"""
    total = sum(litres for _, litres in taken)
    return sum(litres * portion.sd for portion, litres in taken) / total if total > 0 else LEAST_SD


def mixture_ta(taken: Taken) -> float | None:
    """Return the acidity of the portions poured together; None unless each of them was titrated. [g/L]"""
    if not taken or any(portion.instrument != "titration" for portion, _ in taken):
        return None
    liquid, where = mixed(taken), mixture_of(taken).medium
    return min(60.0, float(acids.titrated_acidity(liquid.acetic_g_per_l, liquid.gluconic_g_per_l, where)))


@dataclass(frozen=True, slots=True)
class StarterNeed:
    """How much starter a brew needs, as shares of the final volume."""

    likely: float | None  #: At the measured value; None when no share up to 50 % will do. [-]
    safe: float | None  #: If the starter is weaker than it reads. [-]
    advised: float | None  #: What a brew day takes, without honey's acid. [-]


@lru_cache(maxsize=1024)
def share_for_ph(
    starter: Starter,
    target_ph: float,
    where: Medium,
    own: TeaAndWater,
    honey_g_per_l: float = 0.0,
    bare: bool = False,
) -> float | None:
    """Find the smallest starter share whose starting pH is at or below a target.

    Args:
        starter: Its acids.
        target_ph: Wanted at the start. [pH]
        where: Tea and water of the sweet tea.
        own: What the starter was brewed with.
        honey_g_per_l: Honey of the sweet tea. [g/L]
        bare: Leave out honey's acid.

    Returns: Share of the final volume, or None when no share up to 50 % will do. [-]
    """
    mix = Mix(1.0, where, honey_g_per_l)
    return _least([_litre_of(starter, starter, own)], mix, target_ph, False, limit("starter_most"), bare=bare)


def _litre_of(likely: Starter, weaker: Starter, own: TeaAndWater, measured: bool = True) -> Portion:
    """Describe a litre of a starter by its acids alone."""
    plain = 7.0
    return Portion(
        key="",
        name="",
        left_l=1.0,
        likely=likely,
        weaker=weaker,
        ph=plain,
        low_ph=plain,
        high_ph=plain,
        instrument="",
        brewed_with=own,
        measured=measured,
    )


@lru_cache(maxsize=1024)
def starter_needed(
    starter: Starter,
    weaker: Starter,
    target_ph: float,
    where: Medium,
    own: TeaAndWater,
    *,
    honey_g_per_l: float = 0.0,
    measured: bool = True,
) -> StarterNeed:
    """Return how much starter a brew needs.

    Args:
        starter: Its acids, as measured or thought.
        weaker: The same at 1.28 standard deviations on the weak side.
        target_ph: Wanted at the start. [pH]
        where: Tea and water of the sweet tea.
        own: What the starter was brewed with.
        honey_g_per_l: Honey of the sweet tea. [g/L]
        measured: By a meter or a titration, and lately.
    """
    require_between(2, 7, "", target_ph=target_ph)
    portion = _litre_of(starter, weaker, own, measured)
    return StarterNeed(
        likely=share_for_ph(starter, target_ph, where, own, honey_g_per_l),
        safe=share_for_ph(weaker, target_ph, where, own, honey_g_per_l),
        advised=advised_l([portion], Mix(1.0, where), limit("starter_floor")),
    )
