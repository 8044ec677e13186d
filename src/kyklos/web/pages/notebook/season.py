"""Looking back on a season or a year: sentences first, then drawings, each with its table; printed on two pages."""

from __future__ import annotations

from datetime import date, timedelta

from flask import Response, g, request

from ....core.notebook.days import season
from ....core.notebook.lessons import season_of
from ....drawing.season import PointsView, WarmView, WeeksView, points_view, warm_view, week_levels, weeks_view
from ....reckon.notebook.looking_back import CAUSES, Back, looked_back
from ....reckon.supply import costing
from ....store.read import queries
from ...kit import units
from ...kit.goods_words import money_word
from ...kit.render import page
from ...kit.words import local_today
from .routes import bp

DEGREES = tuple(float(c) for c in range(16, 31, 2))


def _span(of: str, today: date) -> tuple[date, date, str]:
    """Return the days that are looked back on, and what they are called."""
    if of == "year":
        return today - timedelta(days=364), today, "The year"
    if of == "month":
        last = today.replace(day=1) - timedelta(days=1)
        return last.replace(day=1), last, f"{last:%B}"
    southern = queries.southern(g.session)
    name = season_of(today, southern=southern)
    first, last = season(name, today, 0, southern=southern)
    if of == "last":
        before = first - timedelta(days=1)
        name = season_of(before, southern=southern)
        first, last = season(name, before, 0, southern=southern)
    return first, min(last, today), f"The {name}"


def _litres(value: float) -> str:
    return units.words(value, "volume", g.units)


def sentence(back: Back) -> list[tuple[str, bool]]:
    """Sum the span up in a sentence or two, as pieces of which some are strong."""
    if not back.flow.begun and not back.drunk_l and not back.brews:
        return [("Nothing was brewed or drunk in these days.", False)]
    out = [(f"{back.flow.begun} brew{'' if back.flow.begun == 1 else 's'} started", True), (f"; {_litres(back.drunk_l)} drunk", True)]
    given, lost = back.flow.went.get("given", 0.0), sum(row[2] for row in back.weeks)
    out.append((f", {_litres(given)} given away" if given > 0 else "", False))
    out.append((f", {_litres(lost)} lost" if lost > 0 else "", False))
    out.append((".", False))
    if back.per_litre:
        shop = costing.shop_per_litre(g.session)
        out.append((f" {_litres(units.large_l(g.units))} cost {money_word(back.per_litre * units.large_l(g.units))}", False))
        out.append((f", {money_word(shop * units.large_l(g.units))} in the shop." if shop is not None else ".", False))
    if back.favourite:
        out += [(" The favourite was ", False), (back.favourite[0].lower() + back.favourite[1:], True), (".", False)]
    return out


def warm_drawing(back: Back) -> WarmView:
    """Draw how long brews took against how warm they stood."""
    rows = [
        (one.celsius, one.days, one.jun, one.number, f"{one.name}: {one.days:.0f} days at {units.words(round(one.celsius), 'temperature', g.units)}") for one in back.brews
    ]
    return warm_view(rows, back.expected, [(celsius, units.words(celsius, "temperature", g.units)) for celsius in DEGREES])


def weeks_drawing(back: Back) -> WeeksView:
    """Draw litres drunk and lost, week by week."""
    rows = [(first, drunk, lost, f"week of {first.day} {first:%b}: {_litres(drunk)} drunk{f', {_litres(lost)} lost' if lost > 0 else ''}") for first, drunk, lost in back.weeks]
    step, count = week_levels([drunk + lost for _, drunk, lost, _ in rows], units.large_l(g.units))
    return weeks_view(rows, units.large_l(g.units), [_litres(step * number) for number in range(1, count + 1)])


def points_drawing(back: Back) -> PointsView:
    """Draw where tasters' points lay."""
    rows = [(one.name, [(max(at.date(), back.first), grams) for at, grams in one.told]) for one in back.points]
    return points_view(rows, back.first, back.last, lambda grams: units.typed(grams, 'acidity', g.units))


def went_rows(back: Back) -> list[tuple[str, list[float]]]:
    """List what came and where it went, with the year before beside it where something is known of it. [L]"""
    flows = [back.flow, *([back.year_before] if back.year_before is not None else [])]
    went = {how: [flow.went.get(how, 0.0) for flow in flows] for flow in flows for how in flow.went}
    rows = [("Stood at first", [flow.before_l for flow in flows]), ("Made or came", [flow.made_l for flow in flows])]
    rows += [(CAUSES.get(how, how).capitalize(), litres) for how, litres in sorted(went.items(), key=lambda row: -row[1][0]) if max(litres) > 0]  # type: ignore[call-overload]
    return [*rows, ("Stands still", [flow.after_l for flow in flows])]


@bp.get("/looking-back", endpoint="season")
def season_page() -> Response:
    """Look back on a season or a year."""
    of = request.args.get("of", "season")
    first, last, name = _span(of, local_today())
    back = looked_back(g.session, first, last, g.now)
    return page(
        "notebook/season.html", None, 200, of=of, name=name, back=back, says=sentence(back), warm=warm_drawing(back), weeks=weeks_drawing(back), points=points_drawing(back), acid_unit=units.words(4.0, "acidity", g.units).lstrip("0123456789.,").strip(), went=went_rows(back),
        house=g.household.name,
    )  # fmt: skip
