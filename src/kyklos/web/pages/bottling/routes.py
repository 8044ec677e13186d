"""The page of a bottling: choose flavours, look at the plan, fill all."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from flask import Blueprint, Response, g, redirect, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response as Answer

from ....actions.base import ConflictError, RefusedError
from ....actions.bottles import filling, owning
from ....core.base.kinds import BottleState
from ....core.bottles.advice import FILLS
from ....core.bottles.room import HEADSPACE_CM
from ....core.bottles.second_ferment import schools
from ....reckon.bottles import filling_plan, flavours, situations
from ....reckon.bottles.filling_plan import FillingAsked, PlannedFilling
from ....reckon.bottles.flavours import KEPT, PLAIN, RAW
from ....store.read import ingredients, queries
from ....store.records import Brew, Infusion
from ...kit.acting import act, in_units
from ...kit.cautioned import heard
from ...kit.numbers import whole
from ...kit.render import page
from ...kit.units import NotANumberError, parse, typed
from ...kit.words import span_word
from . import telling
from .forms import BottlingForm, WritingForm

bp = Blueprint("bottling", __name__, template_folder="templates")
KEY = re.compile(r"plain|f\d{1,9}|i[a-z0-9-]{1,40}")
BOX = re.compile(r"(\d{1,9}):(plain|f\d{1,9}|i[a-z0-9-]{1,40})(:short)?")
MOST = 60
LEAST_G, MOST_G = 0.1, 2000.0  #: Weighed into a bottle. [g]


@dataclass(frozen=True, slots=True)
class BottledFrom:
    """What is bottled: a brew, or a jar in which it took flavour."""

    brew: Brew
    infusion: Infusion | None
    here: str  #: Address of this page.

    @property
    def name(self) -> str:
        """Its name."""
        return self.infusion.name if self.infusion is not None else self.brew.vessel.name


def of_brew(number: int) -> BottledFrom:
    """Find a brew to bottle."""
    return BottledFrom(queries.get(g.session, Brew, number), None, url_for("bottling.of_a_brew", number=number))


def of_jar(number: int) -> BottledFrom:
    """Find a jar to bottle."""
    jar = queries.get(g.session, Infusion, number)
    return BottledFrom(jar.brew, jar, url_for("bottling.of_an_infusion", number=number))


def _form(source: BottledFrom, sent: MultiDict[str, str] | None = None) -> BottlingForm:
    form = BottlingForm(formdata=sent if sent else None, meta={"csrf": False}, data={"place": source.brew.vessel.place.id})
    rooms = queries.rooms(g.session)
    form.place.choices = [(place.id, place.name) for place in rooms]
    if rooms and form.place.data not in {place.id for place in rooms}:
        form.place.data = rooms[0].id
    return form


def _keys(source: BottledFrom, sent: MultiDict[str, str]) -> tuple[str, ...]:
    """Return the flavours chosen, by default those of last time, or plain alone."""
    if "flavour" in sent or "chosen" in sent:
        found = [key for key in sent.getlist("flavour") if KEY.fullmatch(key)]
        other = sent.get("another", "")
        if KEY.fullmatch(other):
            found.append(other)
        return tuple(dict.fromkeys(found))[: filling_plan.MOST_FLAVOURS] or (PLAIN,)
    if source.infusion is not None:
        return (PLAIN,)
    return filling_plan.last_time(g.session, source.brew) or (PLAIN,)


def _typed_ph(sent: MultiDict[str, str], keys: tuple[str, ...]) -> tuple[dict[str, float], dict[str, str]]:
    """Read what was measured with the flavour in; gives also what cannot be read."""
    out, wrong = {}, {}
    for key in keys:
        text = sent.get(f"ph-{key}", "").strip()[:12]
        if not text:
            continue
        try:
            out[key] = parse(text, "number", g.units)
        except NotANumberError:
            wrong[key] = "A pH is a number, like 3.4."
    return out, wrong


def _typed_weights(sent: MultiDict[str, str], keys: tuple[str, ...]) -> tuple[dict[str, float], dict[str, str]]:
    """Read what was weighed into a bottle; gives also what cannot be read. [g]"""
    out, wrong = {}, {}
    for key in keys:
        text = sent.get(f"weighed-{key}", "").strip()[:12]
        if not text:
            continue
        try:
            grams = parse(text, "mass", g.units)
        except NotANumberError as problem:
            wrong[key] = str(problem)
            continue
        if LEAST_G <= grams <= MOST_G:
            out[key] = grams
        else:
            wrong[key] = f"From {in_units(LEAST_G, 'mass')} to {in_units(MOST_G, 'mass')}."
    return out, wrong


def _note_out_of_range(form: BottlingForm) -> None:
    """Put a problem beside each field that cannot be read: nothing is foretold from it, and nothing filled."""
    for name, kind in (("headspace_cm", "length"), ("priming_g_per_l", "strength"), ("spot_c", "temperature")):
        low, high = FILLS["sugar_g_per_l" if name == "priming_g_per_l" else name]
        value = form[name].data
        if value is not None and not low <= value <= high:
            form[name].errors = [*form[name].errors, f"From {in_units(low, kind)} to {in_units(high, kind)}."]


def _asked(source: BottledFrom, form: BottlingForm, given: MultiDict[str, str]) -> FillingAsked:
    """Read what was chosen; what is out of range is left as usual, and said beside its field."""
    keys = _keys(source, given)
    form.validate()
    sent = [found for text in given.getlist("b")[:MOST] if (found := BOX.fullmatch(text))]
    boxes = [(int(found[1]), found[2]) for found in sent]
    same = given.get("was") == ",".join(keys) and bool(boxes)
    hand = tuple(boxes) if same and all(key in keys for _, key in boxes) and "fresh" not in given else None
    if hand is not None and (turn := whole(given.get("turn"), 0, MOST)) is not None:
        hand = filling_plan.turned(hand, turn, keys)
    if hand is not None and given.get("more"):
        hand = filling_plan.one_more(hand, given["more"], keys)
    for field in (form.wish, form.pour, form.burps):
        if field.data not in {key for key, *_ in field.iter_choices()}:
            field.data = field.default  # an unknown choice is as usual
    _note_out_of_range(form)
    head, sugar, spot = form.headspace_cm.data, form.priming_g_per_l.data, form.spot_c.data
    return FillingAsked(
        keys=keys,
        boxes=hand,
        short=next((i for i, found in enumerate(sent) if found[3]), None),
        headspace_cm=head if head is not None and 0.3 <= head <= 12 else HEADSPACE_CM,
        pour=form.pour.data,
        knocked=form.knocked.data,
        priming_g_per_l=sugar if sugar is not None and 0 <= sugar <= 25 else None,
        weighed=_typed_weights(given, keys)[0],
        place_id=form.place.data,
        spot_c=spot if spot is not None and FILLS["spot_c"][0] <= spot <= FILLS["spot_c"][1] else None,
        cold=form.cold.data,
        wish=form.wish.data,
        burps=form.burps.data,
        ph=_typed_ph(given, keys)[0],
    )


def _choices(source: BottledFrom, asked: FillingAsked) -> dict[str, Any]:
    """List the flavours to choose from: those chosen, those proposed, all others."""
    cards = filling_plan.cards_of(g.session, asked.keys, source.infusion)
    proposed = [] if source.infusion is not None else flavours.suggestions(g.session, g.now)
    kept = [(f"{KEPT}{row.id}", row.name) for row in ingredients.flavours(g.session)]
    raw = [(f"{RAW}{key}", one.name) for key, one in ingredients.by_key(g.session).items() if key not in ("plain", "herbs")]
    chips = [(key, card.name, True, "") for key, card in cards.items()]
    if PLAIN not in cards:
        chips.append((PLAIN, "Plain", False, ""))
    chips += [
        (p.candidate.key, p.candidate.name, False, ", ".join(p.reasons[:2])) for p in proposed if p.candidate.key not in cards
    ]
    seen = {key for key, *_ in chips}
    return {
        "chips": chips,
        "kept": [one for one in kept if one[0] not in seen],
        "raw": sorted((one for one in raw if one[0] not in seen), key=lambda one: one[1]),
    }


def _schools(planned: PlannedFilling) -> list[tuple[str, str]]:
    """Return what each way to burp buys the fullest bottles."""
    closed = [group for group in planned.groups if group.filling.closes and group.ask.limit_bar]
    if not closed:
        return []
    soonest = min(closed, key=lambda group: math.inf if group.future.chill_by_day is None else group.future.chill_by_day)
    out = []
    for one in schools(soonest.ask):
        if one.key == "never":
            words = "all its fizz stays in"
        elif one.buys_days is None:
            words = "no need for it here"
        else:
            words = "buys hardly anything, costs fizz" if one.buys_little else f"buys {span_word(one.buys_days)}, costs fizz"
        out.append((one.name, words))
    return out


def _state(asked: FillingAsked, planned: PlannedFilling, form: BottlingForm) -> list[tuple[str, str]]:
    """Write the plan as it stands, to be sent along and filled just so."""
    rows = [("flavour", key) for key in asked.keys]
    for group in planned.groups:
        rows += [("b", f"{box.kind.id}:{group.card.key}{':short' if box.what.short else ''}") for box in group.boxes]
    rows.append(("was", ",".join(asked.keys)))
    rows += [(name, str(form[name].data)) for name in ("wish", "pour", "burps", "place")]
    rows += [(name, form[name]._value()) for name in ("headspace_cm", "priming_g_per_l", "spot_c")]
    rows += [(name, "y") for name in ("knocked", "cold") if form[name].data]
    rows += [(f"weighed-{key}", typed(grams, "mass", g.units)) for key, grams in asked.weighed.items()]
    return rows


def _page(source: BottledFrom, sent: MultiDict[str, str], status: int = 200, **more: Any) -> Response:
    form = _form(source, sent)
    asked = _asked(source, form, sent)
    planned = filling_plan.plan_of(g.session, source.brew, asked, g.now, source.infusion)
    reserved = source.infusion is not None or source.brew.reserved or source.brew.no_next_brew
    addresses = {key: url_for("flavours.show_one", number=int(key[1:])) for key in asked.keys if key.startswith(KEPT)}
    writing = more.pop("writing", None) or WritingForm(formdata=None, meta={"csrf": False})
    more.setdefault("ph_wrong", _typed_ph(sent, asked.keys)[1])
    return page(
        "bottling/show.html",
        "bottling/_plan.html",
        status,
        source=source,
        brew=source.brew,
        form=form,
        plan=telling.shown(planned, asked.wish, addresses),
        state=_state(asked, planned, form),
        asked=asked,
        reserved=reserved,
        why_not=_why_not(source),
        schools=_schools(planned),
        place_name=next((p.name for p in queries.rooms(g.session) if p.id == form.place.data), ""),
        cautions=heard(situations.of_plan(planned, source.brew)),
        writing=writing,
        ph_typed={key: sent.get(f"ph-{key}", "")[:12] for key in asked.keys},
        weighed_typed={key: sent.get(f"weighed-{key}", "")[:12] for key in asked.keys},
        weighed_wrong=_typed_weights(sent, asked.keys)[1],
        **_choices(source, asked),
        **more,
    )


def _why_not(source: BottledFrom) -> str:
    """Return why nothing can be bottled now; empty: it can."""
    if source.infusion is not None:
        return "This jar is empty already." if source.infusion.ended_at is not None else ""
    if not source.brew.alive:
        return f"This brew ended already ({source.brew.status})."
    return filling.why_not(g.session, source.brew, g.now)


@bp.get("/brews/<int:number>/bottling")
def of_a_brew(number: int) -> Response:
    """Plan the bottles of a brew."""
    return _page(of_brew(number), request.args)


@bp.get("/infusions/<int:number>/bottling")
def of_an_infusion(number: int) -> Response:
    """Plan the bottles of a jar."""
    return _page(of_jar(number), request.args)


def _fill(source: BottledFrom) -> Answer:
    """Fill what is planned."""
    sent = request.form
    form, writing = _form(source, sent), WritingForm(formdata=sent, meta={"csrf": False})
    asked = replace(_asked(source, form, sent), overruled=(writing.overruled.data or "").strip())
    wrong = _typed_ph(sent, asked.keys)[1]
    planned = filling_plan.plan_of(g.session, source.brew, asked, g.now, source.infusion)
    if form.errors or wrong or _typed_weights(sent, asked.keys)[1]:
        return _page(source, sent, 422, writing=writing, ph_wrong=wrong)
    groups = tuple(
        filling.Group(
            filling=group.filling,
            boxes=tuple(filling.Box(box.kind.id, box.headspace_fraction, box.tester) for box in group.boxes),
            name=group.card.name,
            flavour_id=group.card.flavour_id,
            wish=asked.wish,
            burps=asked.burps,
        )
        for group in planned.groups
    )
    ask = filling.FillPlan(
        brew_id=source.brew.id, groups=groups, infusion_id=source.infusion.id if source.infusion is not None else None
    )
    try:
        act(filling.fill_plan, ask)
    except RefusedError as refused:
        return _page(source, sent, 422, writing=writing, ph_wrong=_beside(refused, planned), refused=_general(refused))
    return redirect(url_for("bottling.filled", number=source.brew.id), 303)


def _beside(refused: RefusedError, planned: PlannedFilling) -> Mapping[str, str]:
    """Put each problem of a pH beside its flavour."""
    keys = [group.card.key for group in planned.groups]
    out = {}
    for problem in refused.problems:
        at = whole(problem.field.removeprefix("ph-"), 0, len(keys) - 1)
        if problem.field.startswith("ph-") and at is not None:
            out[keys[at]] = problem.message
    return out


def _general(refused: RefusedError) -> list[str]:
    return [problem.message for problem in refused.problems if not problem.field.startswith("ph-")]


@bp.post("/brews/<int:number>/bottling")
def fill_from_a_brew(number: int) -> Answer:
    """Fill the plan of a brew."""
    return _fill(of_brew(number))


@bp.post("/infusions/<int:number>/bottling")
def fill_from_an_infusion(number: int) -> Answer:
    """Fill the plan of a jar."""
    return _fill(of_jar(number))


@bp.get("/brews/<int:number>/filled")
def filled(number: int) -> Response:
    """Show what was filled just now, with its labels and what comes next."""
    brew = queries.get(g.session, Brew, number)
    groups = sorted(brew.bottlings, key=lambda row: (row.at, row.id))
    last = groups[-1].at if groups else g.now
    latest = [row for row in groups if row.at == last]
    standing = [(row, [b for b in row.bottles if b.state != BottleState.GONE]) for row in latest]
    count = sum(len(bottles) for _, bottles in standing)
    to_label = [row.id for row in latest]
    more = filling_plan.to_fill_l(g.session, brew, None, g.now) if brew.alive else 0.0
    return page("bottling/filled.html", brew=brew, standing=standing, to_label=to_label, label_count=count, to_fill_l=more)


@bp.post("/brews/<int:number>/bottling/own")
def own(number: int) -> Answer:
    """Take a line that tells what bottles there are, on the way."""
    source = of_brew(number)
    line = request.form.get("line", "")[:200]
    try:
        act(owning.own_bottles, owning.OwnBottles(line=line))
    except (RefusedError, ConflictError) as refused:
        return _page(source, MultiDict(), 422, line=line, line_wrong=str(refused))
    return redirect(source.here, 303)
