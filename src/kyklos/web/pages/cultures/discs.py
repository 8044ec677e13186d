"""One disc: its size over time, where it lies, and what can be done with it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Response, abort, g, redirect, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.cultures import discs
from ....core.base.kinds import NodeKind, VesselKind
from ....core.cultures.discs import EVENTS, Rung, narrow_words, step_up
from ....core.cultures.lineage import ENDS
from ....drawing.stack import profiles
from ....reckon.brewing import brew_days
from ....store.read import culture_queries, queries
from ....store.records import Brew, Disc, Vessel
from ...kit.acting import act
from ...kit.fields import KitchenForm
from ...kit.render import page
from ...kit.words import day_word
from . import telling
from .forms import DiscForm, EndDiscForm, HouseForm, JoinStartersForm, PartForm, ThinForm
from .naming import born_at
from .place import bp

FORMS: dict[str, type[KitchenForm]] = {
    "measure": DiscForm,
    "part": PartForm,
    "thin": ThinForm,
    "house": HouseForm,
    "join": JoinStartersForm,
    "end": EndDiscForm,
}
PLAIN = {"turn", "leave", "take", "revive"}  #: Done by a button alone.


def _form(key: str, row: Disc, **given: Any) -> KitchenForm:
    form = FORMS[key](**given)
    if isinstance(form, HouseForm):
        form.hotel.choices = [(v.id, v.name) for v in queries.vessels(g.session) if v.kind == VesselKind.HOTEL]
    if isinstance(form, JoinStartersForm):
        form.brew.choices = [(b.id, f"{b.vessel.name}, {b.culture.name}") for b in queries.standing_brews(g.session)]
    if isinstance(form, EndDiscForm):
        form.ended_as.choices = [(k, name) for k, name in ENDS.items() if k != "given"]
    return form


def _whereabouts(row: Disc) -> tuple[str, Brew | None, Vessel | None]:
    """Return where a disc is: words, the brew or the hotel."""
    if row.ended_at is not None:
        return f"{ENDS.get(row.ended_as, 'Gone')} {day_word(row.ended_at, g.now, g.household.zone)}", None, None
    for brew in queries.standing_brews(g.session):
        if row.id == brew.disc_id or any(guest.disc_id == row.id and guest.until is None for guest in brew.guests):
            return f"In {brew.vessel.name}", brew, None
    home = next((stay for stay in row.stays if stay.until is None), None)
    if home is not None:
        since = day_word(home.since, g.now, g.household.zone)
        return f"In {home.vessel.name} since {since}, number {home.position} from the top", None, home.vessel
    return "Not in a jar: put it in one, or in the hotel", None, None


@dataclass(frozen=True, slots=True)
class StepUp:
    """The way from what starter there is to the household's largest vessel."""

    rungs: list[Rung]
    target_in_use: bool
    together_l: float  #: All of the line's starters, where pouring them together saves a brew; else 0. [L]


def _step_up(row: Disc) -> StepUp | None:
    """Plan the way to the largest vessel by the free ones, if it takes more than one brew."""
    brewing = brew_days.brewing_vessels(g.session)
    lots = [lot.left_l for lot in row.culture.lots if not lot.doubt and lot.left_l > 0]
    if not brewing or not lots:
        return None
    busy = culture_queries.in_use(g.session)[0]
    runs = {brew.vessel_id for brew in queries.living_brews(g.session) if brew.runs}
    brewing = [v for v in brewing if v.id not in runs] or brewing
    target = max(brewing, key=lambda v: v.usable_l)
    there = [(v.name, v.usable_l, v.diameter_cm) for v in brewing if v.id not in busy or v is target]
    way, poured = (step_up(litres, there, target.name) for litres in (max(lots), sum(lots)))
    if len(way) < 2:
        return None
    return StepUp(way, target.id in busy, sum(lots) if poured and len(poured) < len(way) else 0.0)


def _page(
    number: int, status: int = 200, key: str = "", wrong: KitchenForm | None = None, problem: str = ""
) -> Response:
    row = queries.get(g.session, Disc, number)
    forms = {name: _form(name, row, formdata=None) for name in FORMS}
    forms["measure"] = DiscForm(formdata=None, obj=row)
    if wrong is not None:
        forms[key] = wrong
    words, brew, hotel = _whereabouts(row)
    vessel = brew.vessel if brew is not None else hotel
    sizes = [
        (day_word(e.at, g.now, g.household.zone), e.thickness_mm, e.diameter_cm)
        for e in row.events
        if e.thickness_mm is not None
    ]
    return page(
        "cultures/disc.html",
        None,
        status,
        d=row,
        where=words,
        brew=brew,
        hotel=hotel,
        guest=brew is not None and brew.disc_id != row.id,
        born=born_at(row),
        shape=profiles(sizes[-6:]) if sizes else None,
        events=EVENTS,
        narrow=narrow_words(row.diameter_cm, vessel.diameter_cm) if vessel is not None else "",
        up=_step_up(row) if row.ended_at is None else None,
        card=telling.card_of((NodeKind.DISC, number)),
        children=[d for d in row.culture.discs if d.parent_id == row.id],
        apart=(NodeKind.DISC, row.id) in culture_queries.set_apart(g.session),
        forms=forms,
        open_form=key,
        problem=problem,
    )


@bp.get("/discs/<int:number>")
def disc(number: int) -> Response:
    """Show one disc."""
    return _page(number)


def _ask(does: str, number: int, form: KitchenForm | None) -> tuple[Any, Any]:
    """Return the action that was chosen, and what it is asked."""
    said: dict[str, Any] = form.data if form is not None else {}
    if does == "measure":
        name = said["name"] or queries.get(g.session, Disc, number).name
        size = {key: said[key] for key in ("thickness_mm", "diameter_cm")}
        return discs.measure_disc, discs.MeasureDisc(disc_id=number, name=name, **size)
    if does == "part":
        return discs.part_disc, discs.PartDisc(
            disc_id=number, name=said["part_name"] or "", thickness_mm=said["part_mm"]
        )
    if does == "thin":
        return discs.thin_disc, discs.ThinDisc(
            disc_id=number, thickness_mm=said["thin_mm"], keep_chunk=said["keep_chunk"]
        )
    if does == "house":
        place = round(said["position"]) if said["position"] is not None else 1
        return discs.house_disc, discs.HouseDisc(disc_id=number, vessel_id=said["hotel"], position=place)
    if does == "join":
        place = round(said["join_position"]) if said["join_position"] is not None else 1
        ask = discs.JoinDisc(disc_id=number, brew_id=said["brew"], other_line=said["other_line"], position=place)
        return discs.join_disc, ask
    if does == "end":
        return discs.end_disc, discs.EndDisc(disc_id=number, ended_as=said["ended_as"] or "", note=said["note"] or "")
    plain = {
        "turn": (discs.turn_disc, discs.TurnDisc(disc_id=number)),
        "leave": (discs.house_disc, discs.HouseDisc(disc_id=number, vessel_id=None)),
        "take": (discs.take_disc, discs.TakeDisc(disc_id=number)),
        "revive": (discs.revive_disc, discs.ReviveDisc(disc_id=number)),
    }
    return plain[does]


@bp.post("/discs/<int:number>/<does>")
def handle_disc(number: int, does: str) -> Answer:
    """Measure, part, thin, turn, house, join, revive or end a disc."""
    row = queries.get(g.session, Disc, number)
    if does not in FORMS and does not in PLAIN:
        abort(404)
    form = _form(does, row) if does in FORMS else None
    if form is not None and not form.validate_on_submit():
        return _page(number, 422, does, form)
    try:
        done = act(*_ask(does, number, form))
    except RefusedError as refused:
        if form is None:
            return _page(number, 422, problem=str(refused))
        form.take(_renamed(refused, does))
        return _page(number, 422, does, form)
    return redirect(url_for(".disc", number=done.made.get("disc", number) if does == "revive" else number), 303)


def _renamed(refused: RefusedError, does: str) -> RefusedError:
    """Rename the fields of a refusal to the form's own."""
    own = {
        "part": {"thickness_mm": "part_mm"},
        "thin": {"thickness_mm": "thin_mm"},
        "house": {"vessel": "hotel"},
        "join": {"position": "join_position"},
    }
    return refused.renamed(own.get(does, {}))
