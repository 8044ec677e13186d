"""What a quick line was understood as, in words of the household's units, and what must still be chosen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from flask import g, url_for

from ....actions.brewing.happenings import LEAVES
from ....core.base.facts import INSTRUMENTS
from ....core.base.kinds import Units, VesselKind
from ....core.base.saying import bottles_word
from ....core.bottles import ingredient
from ....core.bottles.heard import HISS_WORDS
from ....core.judging import OBSERVATIONS
from ....core.judging.observations import DISCARD, HOLD
from ....core.liquid.taste import is_jun, score_word
from ....core.quick.amounts import GLASS_L, QuickAmount
from ....core.quick.bought import Bought, bought_said
from ....core.quick.line import understand
from ....core.quick.openings import Leads, Opening
from ....core.quick.parts import parts_of
from ....core.quick.said import ON_BOTTLES, Context, Deed, DeedKind, Named, NamedShelf, Quick, QuickDoubt
from ....core.quick.wishes import WISHES, WishSaid, wish_said
from ....reckon.supply.cupboard import known_goods
from ....store.read import queries
from ....store.read.shelves import shelves
from ....store.records import Brew
from ...kit import meters, units
from ...kit.acting import in_units
from ...kit.goods_words import amount_word, money_word
from ...kit.words import clock_word, day_said, local_today

DONE_WORDS = {
    DeedKind.OPENED: "opened",
    DeedKind.BURPED: "burped",
    DeedKind.SQUEEZED: "squeezed",
    DeedKind.CHILLED: "into the fridge",
    DeedKind.WARMED: "back to room temperature",
    DeedKind.DRUNK: "drunk",
    DeedKind.GIVEN: "given away",
    DeedKind.LOST: "burst or lost",
}


@dataclass(frozen=True, slots=True)
class Understood:
    """A line as it was understood."""

    line: str
    quick: Quick
    where: str  #: What it is about: a jar, bottles, a hotel; empty: not clear yet.
    says: tuple[str, ...]  #: Each thing that is saved.
    brew: Brew | None = None
    choices: tuple[Brew, ...] = ()  #: Brews that may be meant; empty when it is clear.
    tasters: tuple[Named, ...] = ()  #: Who may have tasted; empty when it is clear.
    fillings: tuple[NamedShelf, ...] = ()  #: Bottles that may be meant; empty when it is clear.
    filling: int | None = None  #: The one chosen of them.
    hisses: tuple[tuple[int, str], ...] = ()  #: How a bottle may have opened; empty when it is clear.
    hiss: int | None = None  #: How it opened.
    leads: str = ""  #: The address that Enter opens, after what is saved.
    leads_to: str = ""  #: The same in words.
    lacks: str = ""  #: Why nothing can be saved.
    bought: Bought | None = None  #: Where it tells of the cupboard.
    wish: WishSaid | None = None  #: Where it tells of guests or a gift.
    parts: tuple[Understood, ...] = ()  #: Each thing, where the line tells several.

    @property
    def ready(self) -> bool:
        """Whether Enter saves it."""
        if self.parts:
            return not self.lacks
        if self.bought is not None or self.wish is not None:
            return True
        opened = self.quick.deed is not None and self.quick.deed.kind is DeedKind.OPENED
        hissed = self.hiss is not None or not opened
        return bool(self.where) and hissed and not (self.tasters or self.quick.empty or self.lacks)

    @property
    def choices_named(self) -> list[tuple[int, str]]:
        """Brews that may be meant, by their vessels."""
        return [(brew.id, brew.vessel.name) for brew in self.choices]

    @property
    def fillings_named(self) -> list[tuple[int, str]]:
        """Bottles that may be meant, and how many of them stand."""
        return [(one.key, f"{one.name} ({one.warm + one.cold})") for one in self.fillings]

    @property
    def tasters_named(self) -> list[tuple[int, str]]:
        """Who may have tasted."""
        return [(who.key, who.name) for who in self.tasters]

    @property
    def doubts(self) -> list[QuickDoubt]:
        """What else is asked, besides the choices shown."""
        shown = ("Which one", "Who tasted?", "How did it open?", "Which bottles?")
        return [doubt for doubt in self.quick.doubts if not doubt.question.startswith(shown)]


@dataclass(frozen=True, slots=True)
class Chosen:
    """What was chosen where a line leaves something open; None: nothing."""

    brew: int | None = None
    here: int | None = None  #: The brew of the page that one is on; meant when the line names none.
    taster: int | None = None
    filling: int | None = None
    hiss: int | None = None


def context_of(brews: Sequence[Brew]) -> Context:
    """Return what a line is read against: living brews by vessel and line, bottles, tasters, places, the local time."""
    vessels = tuple(
        Named(b.id, b.vessel.name, (b.culture.name, "jun") if is_jun(b.honey_share) else (b.culture.name,))
        for b in brews
    )
    return Context(
        vessels,
        tasters=tuple(Named(t.id, t.name) for t in queries.tasters_of(g.session)),
        now=g.now.astimezone(ZoneInfo(g.household.zone)).replace(tzinfo=None),
        us=g.units == Units.US,
        shelves=shelves(g.session),
        hotels=tuple(Named(v.id, v.name) for v in queries.vessels(g.session) if v.kind == VesselKind.HOTEL),
        empties=_empties(brews),
        places=tuple(Named(p.id, p.name) for p in queries.places(g.session)),
    )


def _empties(brews: Sequence[Brew]) -> tuple[Named, ...]:
    """List the vessels in which nothing brews."""
    full = {brew.vessel_id for brew in brews}
    every = queries.vessels(g.session)
    return tuple(Named(v.id, v.name) for v in every if v.id not in full and v.kind != VesselKind.HOTEL)


def _numbers(q: Quick) -> list[str]:
    out = []
    if q.ph is not None:
        by = INSTRUMENTS[q.instrument or meters.usual()].name.lower()
        out.append(f"pH {q.ph:g}, {by}")
    if q.celsius is not None:
        out.append(units.words(q.celsius, "temperature", g.units))
    if q.low_c is not None and q.high_c is not None:
        ends = [units.words(c, "temperature", g.units) for c in (q.low_c, q.high_c)]
        out.append(f"lowest {ends[0]}, highest {ends[1]}")
    if q.gravity is not None:
        out.append(f"gravity {q.gravity:.3f}{', ' + q.gravity_by if q.gravity_by else ''}")
    if q.ta_g_per_l is not None:
        out.append(f"acidity {in_units(q.ta_g_per_l, 'acidity')}")
    return out


def _looks(q: Quick) -> list[str]:
    out = [OBSERVATIONS[key].name for key in (q.surface, *q.signs) if key]
    return out + ([f"smells of {OBSERVATIONS[q.smell].name.lower()}"] if q.smell else [])


def _words(q: Quick, looks: bool = True) -> tuple[str, ...]:
    """List all that a line tells, apart from its deed."""
    out = _numbers(q)
    out += [f"{taster.name + ': ' if taster else ''}{score_word(score)}" for taster, score in q.tastes]
    out += _looks(q) if looks else []
    out += [f"sample from the {q.depth}"] if q.depth else []
    out += [_amount_words(one) for one in q.amounts]
    out += [f"note: {q.note}"] if q.note else []
    return tuple(out)


def _when(q: Quick, says: Sequence[str]) -> tuple[str, ...]:
    """Add when it was, if there is anything to be saved."""
    at = [clock_word(utc(q.at), g.now, g.household.zone)] if q.at is not None and says else []
    return (*says, *at)


def _amount_words(one: QuickAmount) -> str:
    litres = units.words(one.litres, "volume", g.units)
    return f"{litres} of {one.what} put in" if one.put else f"{litres} {LEAVES[one.what][1]}"


def utc(local: datetime) -> datetime:
    """Turn a local time of the household into UTC."""
    from datetime import UTC

    return local.replace(tzinfo=ZoneInfo(g.household.zone)).astimezone(UTC)


def grave(q: Quick) -> bool:
    """Return whether what was seen is to be looked at closely, in the guided look, before it is kept."""
    return any(key in OBSERVATIONS and OBSERVATIONS[key].verdict in {HOLD, DISCARD} for key in (q.surface, q.smell))


def tell(line: str, chosen: Chosen) -> Understood:
    """Understand a line.

    Args:
        line: As typed.
        chosen: What was chosen where it leaves something open.
    """
    if line.strip().startswith("?"):
        typed = line.strip().lstrip("? ")
        at, words = url_for("notebook.show", q=typed or None), f"the notebook, with “{typed}”" if typed else "the notebook"
        return Understood(line, Quick(note=line), where="Search", says=(), leads=at, leads_to=words)
    if (found := _of_supply(line)) is not None:
        return found
    brews = queries.standing_brews(g.session)
    context = context_of(brews)
    parts = parts_of(line, context)
    if len(parts) > 1:
        return _several(line, tuple(_tell(part, Chosen(here=chosen.here), brews, context) for part in parts))
    return _tell(line, chosen, brews, context)


def _of_supply(line: str) -> Understood | None:
    """Understand a line that tells of a purchase, a count of the cupboard, or guests; None: it tells of none."""
    wish = wish_said(line, local_today(), g.household.glass_l or GLASS_L)
    if wish is not None:
        doubts = [QuickDoubt("the guests", wish.doubt)] if wish.doubt else []
        says = (day_said(wish.day), units.words(wish.litres, "volume", g.units)) + (("each day",) if wish.until is not None else ())
        return Understood(line, Quick(note=line, doubts=doubts), where=WISHES[wish.kind], says=says, wish=wish)
    found = bought_said(line, list(known_goods(g.session).values()))
    if found is None:
        return None
    price = () if found.price is None else (money_word(found.price),)
    says = (f"{amount_word(found.good, found.amount)} {found.good.name}", *price)
    return Understood(line, Quick(note=line), where="Counted in the cupboard" if found.counted else "Bought", says=says, bought=found)


def _several(line: str, parts: tuple[Understood, ...]) -> Understood:
    """Put together what a line tells that tells several things; each has to be clear by itself."""
    leads = next((part for part in parts if part.leads), parts[0])
    open_one = next((part for part in parts if not part.ready), None)
    lacks = "" if open_one is None else f"“{open_one.line}” leaves something open: write it in a line of its own."
    return Understood(line, parts[0].quick, where="", says=(), leads=leads.leads, leads_to=leads.leads_to, lacks=lacks, parts=parts)


def _tell(line: str, chosen: Chosen, brews: Sequence[Brew], context: Context) -> Understood:
    """Understand a line, or a part of it, that tells one thing."""
    quick = understand(line, context)
    if quick.deed is not None and quick.deed.kind in ON_BOTTLES:
        return _of_bottles(line, quick, quick.deed, chosen)
    if quick.deed is not None and quick.deed.kind is DeedKind.FED:
        return _of_hotel(line, quick, quick.deed)
    if quick.bare is not None:
        return _of_empty(line, quick, quick.bare)
    if quick.leads is not None and quick.leads.to in WITHOUT_A_JAR:
        return _opens(line, quick, quick.leads)
    return _of_brew(line, quick, chosen, brews)


WITHOUT_A_JAR = {
    Opening.AWAY: "the page of an absence", Opening.CALIBRATE: "your instruments", Opening.BREW_DAY: "a brew day",
    Opening.CARE: "what was washed and changed", Opening.SHOPPING: "the shopping list",
}  # fmt: skip


def _opens(line: str, quick: Quick, leads: Leads) -> Understood:
    """Lead to a page that is about no jar that brews."""
    if leads.to is Opening.AWAY:
        days: dict[str, Any] = dict(zip(("leaves", "returns"), (day.isoformat() for day in leads.days), strict=False))
        at = url_for("almanac.away", **days)
    elif leads.to is Opening.CALIBRATE:
        at = url_for("instruments.show")
    elif leads.to is Opening.CARE:
        at = url_for("notebook.care")
    elif leads.to is Opening.SHOPPING:
        at = url_for("supply.shopping")
    else:
        vessels = {brew.id: brew.vessel_id for brew in queries.standing_brews(g.session)}
        named = vessels.get(quick.vessels[0].key) if len(quick.vessels) == 1 else None
        at = url_for("brew_day.show", vessel=named)
    return Understood(line, quick, where=WITHOUT_A_JAR[leads.to].capitalize(), says=(), leads=at, leads_to=WITHOUT_A_JAR[leads.to])


def _of_brew(line: str, quick: Quick, chosen: Chosen, brews: Sequence[Brew]) -> Understood:
    by_number = {b.id: b for b in brews}
    meant = [by_number[n.key] for n in quick.vessels]
    brew = meant[0] if len(meant) == 1 else by_number.get(chosen.brew or 0)
    if brew is None and not meant:
        brew = by_number.get(chosen.here or 0) or (brews[0] if len(brews) == 1 else None)
    known = tuple(Named(t.id, t.name) for t in queries.tasters_of(g.session))
    if chosen.taster is not None and (who := next((t for t in known if t.key == chosen.taster), None)) is not None:
        quick.tastes = [(t or who, score) for t, score in quick.tastes]
    found = Understood(
        line,
        quick,
        where=brew.vessel.name if brew is not None else "",
        says=_when(quick, (*_deed_words(quick.deed), *_words(quick, looks=not grave(quick)))),
        brew=brew,
        choices=() if brew is not None and len(meant) <= 1 else tuple(meant or brews),
        tasters=known if any(t is None for t, _ in quick.tastes) else (),
        lacks="" if brews or quick.empty else "No jar is brewing: plan a brew day first.",
    )
    return found if brew is None else _leading(found, quick, brew)


def _deed_words(deed: Deed | None) -> list[str]:
    """List what a deed on a brew writes; a harvest writes nothing yet."""
    if deed is None or deed.kind is DeedKind.BOTTLED:
        return []
    if deed.kind is DeedKind.RESERVED and deed.litres is not None:
        return [f"{units.words(deed.litres, 'volume', g.units)} of starter set aside"]
    return [f"moved to {deed.things[0].name}"]


def _leading(understood: Understood, quick: Quick, brew: Brew) -> Understood:
    """Add the page that the line opens: the harvest, or the guided look."""
    if quick.deed is not None and quick.deed.kind is DeedKind.BOTTLED:
        groups = quick.deed.groups
        asked: dict[str, Any] = {"count": groups[0][0], "flavour": groups[0][1] or None} if groups else {}
        words = ", ".join(f"{count} {ingredient(key).name.lower() if key else bottles_word(count).split()[1]}" for count, key in groups)
        opens = f"the harvest of {brew.vessel.name}{', with ' + words if words else ''}"
        return replace(understood, leads=url_for("brews.harvest", number=brew.id, **asked) + "#bottles", leads_to=opens)
    if quick.leads is not None:
        at, words = _page_of(quick.leads.to, brew)
        return replace(understood, leads=at, leads_to=words, says=_when(quick, _words(replace(quick, note=""), looks=not grave(quick))))
    if grave(quick):
        at = url_for("brews.inspect", number=brew.id, surface=quick.surface, signs=quick.signs, smell=quick.smell or None)
        return replace(understood, leads=at, leads_to=f"the guided look with: {', '.join(_looks(quick)).lower()}")
    return understood


def _page_of(opening: Opening, brew: Brew) -> tuple[str, str]:
    """Return the address of a page about a brew, and what it is called."""
    name = brew.vessel.name
    if opening is Opening.LABEL:
        return url_for("brew_day.label", number=brew.id), f"the label of {name}"
    if opening is Opening.JAR:
        return url_for("brews.show", number=brew.id), f"the page of {name}"
    if opening is Opening.HEATER:
        return url_for("vessels.edit", number=brew.vessel_id), f"{name} and its heater"
    if opening is Opening.MOVE:
        return url_for("brews.happened", number=brew.id, do="move") + "#do-move", f"where {name} went"
    return url_for("brews.inspect", number=brew.id), f"the guided look at {name}"


def _of_bottles(line: str, quick: Quick, deed: Deed, chosen: Chosen) -> Understood:
    every = [thing for thing in deed.things if isinstance(thing, NamedShelf)]
    picked = [one for one in every if one.key == chosen.filling] or every
    open_question = len(picked) != 1 and not deed.whole
    hiss = deed.hiss if deed.hiss is not None else chosen.hiss
    quick.deed = deed = replace(deed, things=tuple(picked), hiss=hiss)
    asks_hiss = deed.kind is DeedKind.OPENED and chosen.hiss == hiss
    lacks = "" if picked else "No bottles are in the cellar: bottle a brew first."
    if picked and deed.count is None and not any(_standing(deed.kind, one) for one in picked):
        lacks = "None of them is in the fridge." if deed.kind is DeedKind.WARMED else "None of them stands warm."
    return Understood(
        line,
        quick,
        where="" if open_question else ("All bottles" if deed.whole else picked[0].name),
        says=_when(quick, (*_bottle_words(deed), *_words(quick))),
        fillings=tuple(every) if len(every) > 1 and not deed.whole else (),
        filling=chosen.filling,
        hiss=hiss,
        hisses=tuple(enumerate(HISS_WORDS)) if asks_hiss else (),
        lacks=lacks,
    )


def _bottle_words(deed: Deed) -> list[str]:
    if deed.kind is DeedKind.SAID:
        return []
    shelves_meant = [thing for thing in deed.things if isinstance(thing, NamedShelf)]
    count = deed.count if deed.count is not None else sum(_standing(deed.kind, shelf) for shelf in shelves_meant)
    out = [f"{bottles_word(count)} {DONE_WORDS[deed.kind]}"] if count else []
    return out + ([HISS_WORDS[deed.hiss]] if deed.hiss is not None else [])


def _standing(kind: DeedKind, shelf: NamedShelf) -> int:
    """Return how many bottles of a filling a deed is about, if it is about all that fit."""
    if kind in {DeedKind.CHILLED, DeedKind.BURPED, DeedKind.SQUEEZED}:
        return shelf.warm
    return shelf.cold if kind is DeedKind.WARMED else shelf.warm + shelf.cold


def _of_empty(line: str, quick: Quick, vessel: Named) -> Understood:
    """Nothing brews in it by the record: whatever is typed of it needs a brew first."""
    ago = None if quick.at is None else (g.now - utc(quick.at)).days
    leads = url_for("brews.going", vessel=vessel.key, ago=ago or None)
    return Understood(line, quick, where=vessel.name, says=(), leads=leads, leads_to=f"a form for what is in {vessel.name}: nothing is, so far")


def _of_hotel(line: str, quick: Quick, deed: Deed) -> Understood:
    if not deed.things:
        return Understood(line, quick, where="", says=(), lacks="There is no hotel: add one under Vessels, as a vessel of kind hotel.")
    hotel = deed.things[0]
    fed = [f"{units.words(deed.litres, 'volume', g.units)} of sweet tea"] if deed.litres is not None else []
    says = _when(quick, (*fed, *_words(quick)))
    if deed.litres is None and quick.ph is None:
        leads = url_for("cultures.hotel_page", number=hotel.key)
        return Understood(line, quick, where=hotel.name, says=(), leads=leads, leads_to=f"the page of {hotel.name}")
    return Understood(line, quick, where=hotel.name, says=says)
