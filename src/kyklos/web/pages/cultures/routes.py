"""Cultures: the braid of all lines, its table, a bead's card, one line with its rule, a new line."""

from __future__ import annotations

from flask import Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import ConflictError
from ....actions.cultures import leading
from ....actions.household import ORIGINS, AddCulture, add_culture
from ....core.base.kinds import NodeKind
from ....core.base.sources import SOURCES
from ....core.cultures.discs import narrow_words
from ....core.cultures.lineage import ENDS
from ....core.liquid.ageing import condition_words
from ....drawing.strength import strength
from ....reckon.cultures import conversions, hotels, lineages, links
from ....store.read import culture_queries, queries
from ....store.records import Brew, Culture
from ...kit.acting import tried
from ...kit.fields import KitchenForm
from ...kit.numbers import whole
from ...kit.render import page
from ...kit.words import after_a_year_word, local_today
from . import strands, telling
from .forms import CultureForm, GiftForm, ReceiveForm, RuleForm
from .naming import age_days, born_at, lot_words, source_words
from .place import bp

TABLE_ROWS = 60  #: Of a line on one page of its table.
GONE_SHOWN, BREWS_SHOWN = 12, 8  #: Of a line's discs that ended, and of its brews, the last ones are listed.


@bp.get("/")
def show() -> Response:
    """Show the braid and the lines under it."""
    rows, span = lineages.summaries(g.session, g.now), request.args.get("span") or strands.usual_span()
    return page(
        "cultures/show.html",
        rows=[row for row in rows if not row.over],
        over=[row for row in rows if row.over],
        origins=ORIGINS,
        vigour_of=lambda culture: lineages.vigour_of(g.session, culture),
        running=conversions.running,
        hotels=hotels.hotels_of(g.session, g.now),
        **(strands.shown(span, "bead/") if rows else {}),
    )


@bp.get("/table")
def table() -> Response:
    """Show the same facts as the braid, as a table for screen readers and print: a line at a time, in pages."""
    lines = culture_queries.cultures(g.session)
    living = culture_queries.living_lines(g.session)
    lines.sort(key=lambda line: (line.id not in living, line.name, line.id))
    asked = whole(request.args.get("line"))
    shown = next((line for line in lines if line.id == asked), lines[0] if lines else None)
    if asked is not None and (shown is None or shown.id != asked):
        abort(404)
    pages = -(-strands.count_of(shown.id) // TABLE_ROWS) if shown is not None else 0
    number = min(whole(request.args.get("page"), 1, 10_000) or pages, max(pages, 1))  # the last one, unless asked: what is newest
    return page(
        "cultures/table.html",
        lines=lines,
        shown=shown,
        words=strands.words_of(shown.id) if shown is not None else [],
        rows=strands.rows_of(shown.id, (number - 1) * TABLE_ROWS, TABLE_ROWS) if shown is not None else [],
        number=number,
        pages=pages,
        state_words=strands.state_words,
        generations=lineages.generations(g.session) if "generations" in request.args else None,
    )


@bp.get("/bead/<kind>/<int:number>")
def bead(kind: str, number: int) -> Response:
    """Show what a bead is, and which it came from and led to."""
    if kind not in {NodeKind.BREW, NodeKind.DISC}:
        abort(404)
    return page("cultures/bead.html", "cultures/_card.html", card=telling.card_of((kind, number)))


def line_page(number: int, status: int = 200, problem: str = "", **forms: KitchenForm) -> Response:
    """Show one line; forms that were refused come as they were typed."""
    culture = queries.get(g.session, Culture, number)
    vigour = lineages.vigour_of(g.session, culture)
    conversion = conversions.running(culture)
    return page(
        "cultures/line.html",
        None,
        status,
        c=culture,
        origins=ORIGINS,
        ends=ENDS,
        used=culture_queries.in_use(g.session)[1],
        used_here=any(b.culture_id == number for b in queries.standing_brews(g.session)),
        discs=[d for d in culture_queries.living_discs(g.session) if d.culture_id == number],
        gone=culture_queries.ended_discs(g.session, culture, GONE_SHOWN),
        lots=[lot for lot in culture_queries.starter_lots(g.session) if lot.culture_id == number],
        brews=queries.last_brews(g.session, Brew.culture_id == number, most=BREWS_SHOWN + 1),
        apart=culture_queries.set_apart(g.session),
        kept=lineages.backups_of(g.session, culture, g.now),
        vigour=vigour,
        a_year=after_a_year_word(vigour),
        chart=strength(vigour, links.day_of(g.now), local_today()) if vigour.points else None,
        causes=lineages.slowing_of(g.session, culture, g.now),
        conversion=conversion,
        advice=conversions.advice_of(g.session, culture, g.now) if conversion else None,
        gifts=lineages.gifts_of(g.session, culture),
        born_at=born_at,
        source_words=source_words,
        age_days=age_days,
        condition=condition_words,
        narrow=narrow_words,
        problem=problem,
        gift=forms.get("gift") or gift_form(culture, formdata=None),
        got=forms.get("got") or ReceiveForm(formdata=None),
        rule=forms.get("rule") or RuleForm(formdata=None, obj=culture),
    )


def gift_form(culture: Culture, **given: object) -> GiftForm:
    """Make the form of a gift with what can be given."""
    form, used = GiftForm(**given), culture_queries.in_use(g.session)[1]
    free = [d for d in culture_queries.living_discs(g.session) if d.culture_id == culture.id and d.id not in used]
    form.disc.choices = [(0, "no disc")] + [(d.id, d.name) for d in free]
    lots = [lot for lot in culture_queries.starter_lots(g.session) if lot.culture_id == culture.id]
    form.lot.choices = [(0, "no liquid")] + [(lot.id, lot_words(lot)) for lot in lots]
    return form


@bp.get("/<int:number>")
def line(number: int) -> Response:
    """Show one line."""
    return line_page(number)


@bp.post("/<int:number>/rule")
def rule(number: int) -> Answer:
    """Change a line's name, story and how many backups are kept."""
    form = RuleForm()

    def ask() -> leading.ChangeCulture:
        return leading.ChangeCulture(
            culture_id=number,
            name=form.name.data or "",
            story=form.story.data or "",
            backups_wanted=round(form.backups_wanted.data),
            version=form.version.data,
        )

    try:
        if tried(form, leading.change_culture, ask):
            return redirect(url_for(".line", number=number), 303)
    except ConflictError as conflict:
        now = queries.get(g.session, Culture, number)
        form.overtaken(conflict, now.version, name=now.name, story=now.story, backups_wanted=now.backups_wanted)
    return line_page(number, form.status, rule=form)


def form_page(form: CultureForm, status: int = 200, problem: str = "") -> Response:
    """Ask for a new line, with what speaks for each source."""
    return page("cultures/form.html", None, status, form=form, problem=problem, sources=SOURCES)


@bp.get("/new")
def add() -> Response:
    """Ask for a new line."""
    origin = request.args.get("origin", "")
    return form_page(CultureForm(data={"origin": origin} if origin in ORIGINS else None))


@bp.post("/new")
def create() -> Answer:
    """Add a line."""
    form = CultureForm()
    done = tried(
        form,
        add_culture,
        lambda: AddCulture(
            name=form.name.data or "",
            diet=form.diet.data,
            origin=form.origin.data,
            story=form.story.data or "",
            starter_l=form.starter_l.data,
            starter_ph=form.starter_ph.data,
            instrument=form.instrument.data,
            with_disc=form.with_disc.data,
        ),
    )
    if done is None:
        return form_page(form, 422)
    return redirect(url_for("round.show") if not queries.living_brews(g.session) else url_for(".show"), 303)
