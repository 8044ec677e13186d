"""A trial on the bench: weighed in step by step, each step tasted, the best kept as a flavour."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.bottles import infusing
from ....actions.bottles.filling import why_not
from ....core.base import CoreError
from ....core.bottles import Part, bench
from ....core.bottles.flavouring import flavoured
from ....drawing.rack import colour_of
from ....reckon.bottles import harvests
from ....store.read import ingredients, queries
from ....store.records import Trial
from ...kit.acting import act, in_units
from ...kit.numbers import number_of
from ...kit.render import page
from ...kit.units import NotANumberError, parse
from ...kit.words import alcohol_word
from .routes import bp, brew_of, sorted_choices


@dataclass(frozen=True, slots=True)
class TrialStepShown:
    """One amount in the glass, and what it makes of it."""

    grams: float
    says: str  #: Its pH, sourness, sugar and alcohol.
    tasted: tuple[str, ...]
    best: bool


@bp.get("/brews/<int:number>/bench")
def bench_page(number: int) -> Response:
    """Begin a trial."""
    return _begin(number)


def _begin(number: int, status: int = 200, wrong: str = "") -> Response:
    brew = brew_of(number)
    return page(
        "flavours/bench.html",
        None,
        status,
        brew=brew,
        choices=sorted_choices(),
        wrong=wrong,
        sent=request.form,
        why_not=why_not(g.session, brew, g.now) if brew.alive else f"This brew ended already ({brew.status}).",
        trials=queries.trials_of(g.session, number, 5),
        names={key: one.name for key, one in ingredients.by_key(g.session).items()},
    )


@bp.post("/brews/<int:number>/bench")
def begin_trial(number: int) -> Answer:
    """Pour the glass."""
    try:
        text = request.form.get("glass", "").strip()[:20]
        glass = parse(text, "mass", g.units) if text else bench.GLASS_G
        done = act(
            infusing.start_trial,
            infusing.StartTrial(brew_id=number, ingredient=request.form.get("ingredient", ""), glass_g=glass),
        )
    except (NotANumberError, RefusedError) as problem:
        return _begin(number, 422, str(problem))
    return redirect(url_for("flavours.trial", number=done.made["trial"]), 303)


def _steps(trial: Trial) -> list[TrialStepShown]:
    """List the amounts tasted, and the next one, each with what it makes of the glass."""
    found = ingredients.named(g.session, trial.ingredient)
    if found is None:
        return []
    plain = harvests.plain_liquid(g.session, trial.brew, trial.ended_at or g.now)
    names = {taster.id: taster.name for taster in queries.tasters_of(g.session)}
    amounts_ = sorted({step.grams for step in trial.steps})
    steps = [bench.BenchStep(s.grams, s.score) for s in trial.steps]
    best = trial.best_g if trial.best_g is not None else bench.best(steps) if steps else None
    out = []
    for grams in amounts_:
        said = tuple(
            f"{names.get(s.taster_id or 0, 'Somebody')}: {bench.SCORES[s.score]}{', “' + s.word + '”' if s.word else ''}"
            for s in trial.steps
            if s.grams == grams
        )
        try:
            mix = flavoured(plain, [Part(found, bench.g_per_l(grams, trial.glass_g))])
            says = (
                f"pH {mix.ph:.1f}, {in_units(mix.ta_g_per_l, 'acidity')} acid, {in_units(mix.sugar_g_per_l, 'strength')} sugar, "
                f"{alcohol_word(mix.abv_percent, mix.abv_percent)}"
            )
        except CoreError:
            says = "more of it than of brew"
        out.append(TrialStepShown(grams, says, said, grams == best))
    return out


def _trial(number: int, status: int = 200, **more: Any) -> Response:
    trial = queries.get(g.session, Trial, number)
    found = ingredients.named(g.session, trial.ingredient)
    steps = _steps(trial)
    last = max((s.grams for s in steps), default=0.0)
    done = [s for s in steps if s.best]
    best_l = bench.g_per_l(done[0].grams, trial.glass_g) * 0.48 if done else 0.0
    return page(
        "flavours/trial.html",
        None,
        status,
        trial=trial,
        brew=trial.brew,
        what=found.name if found is not None else "Something",
        strong=found is not None and found.abv > 0,
        steps=steps,
        next_g=last + bench.STEP_G,
        best=done[0] if done else None,
        in_a_bottle=best_l,
        colour=colour_of(trial.ingredient),
        level=min(1.0, (trial.glass_g + last) / (2 * trial.glass_g)),
        share=last / (trial.glass_g + last),
        scores=bench.SCORES,
        tasters=queries.tasters_of(g.session),
        **{"wrong": "", "sent": request.form, **more},
    )


@bp.get("/trials/<int:number>")
def trial(number: int) -> Response:
    """Show a trial."""
    return _trial(number)


@bp.post("/trials/<int:number>/step")
def taste_step(number: int) -> Answer:
    """Write down how a step tasted."""
    sent = request.form
    try:
        grams = parse(sent.get("grams", "")[:20], "mass", g.units)
        score = number_of(sent.get("score", "9"))
        act(
            infusing.taste_step,
            infusing.TasteStep(
                trial_id=number, grams=round(grams, 2), score=score, taster_id=sent.get("taster", type=number_of), word=sent.get("word", "")
            ),
        )
    except (NotANumberError, RefusedError) as problem:
        return _trial(number, 422, wrong=str(problem))
    except ValueError:
        return _trial(number, 422, wrong="Choose how it was.")
    return redirect(url_for("flavours.trial", number=number), 303)


@bp.post("/trials/<int:number>/end")
def end_trial(number: int) -> Answer:
    """Keep the best as a flavour, and go on to bottle it."""
    sent = request.form
    try:
        text = sent.get("best", "").strip()[:20]
        ask = infusing.EndTrial(trial_id=number, name=sent.get("name", ""), grams=parse(text, "mass", g.units) if text else None)
        done = act(infusing.end_trial, ask)
    except (NotANumberError, RefusedError) as problem:
        return _trial(number, 422, end_wrong=str(problem))
    brew = queries.get(g.session, Trial, number).brew_id
    return redirect(
        url_for("bottling.of_a_brew", number=brew, chosen=1, flavour=["plain", f"f{done.made['flavour']}"]), 303
    )
