"""A guide of looks to read, and pairs side by side with arrows on what tells them apart."""

from __future__ import annotations

from flask import Response, abort, request

from ....core.practice import eye, look_pairs
from ....core.practice.look_pairs import PAIRS
from ....drawing.pointing import pointers
from ....drawing.specimen import Specimen, specimen
from ...kit.numbers import whole
from ...kit.render import page
from .routes import bp

AGE_DAYS, SEED, COVERAGE = 9.0, 4, 0.6
MOST_SEED = 10_000


def _of_sign(sign: str) -> list[Specimen]:
    """Draw a sign: each of its kinds, or twice where it has one."""
    kinds = look_pairs.kinds_of(sign)
    if len(kinds) == 1:
        return [specimen(kinds[0], AGE_DAYS - 2, 0.3, SEED), specimen(kinds[0], AGE_DAYS + 5, 0.8, SEED + 1)]
    return [specimen(kind, AGE_DAYS, COVERAGE, SEED) for kind in kinds]


def _of_card(key: str, seed: int) -> Specimen:
    card = eye.card_of(key)
    return specimen(card.draws, AGE_DAYS, COVERAGE, seed, card.colours[0])


@bp.get("/looks")
def looks() -> Response:
    """Show all that can be seen and smelled, by what follows from it."""
    groups = [(word, [(sign, _of_sign(sign.key), look_pairs.pairs_with(sign.key)) for sign in signs]) for word, signs in look_pairs.by_verdict()]
    return page("practice/looks.html", groups=groups, pairs=PAIRS.values())


@bp.get("/pairs/<key>")
def side_by_side(key: str) -> Response:
    """Show two things that are taken for each other, with arrows."""
    if key not in PAIRS:
        abort(404)
    pair, seed = PAIRS[key], min(max(whole(request.args.get("seed")) or SEED, 1), MOST_SEED)
    sides = [
        (name, drawn := _of_card(card, seed), pointers(drawn, tells), list(tells.values()), eye.card_of(card).seen)
        for name, card, tells in zip(pair.names, (pair.one, pair.other), (pair.one_tells, pair.other_tells), strict=True)
    ]
    return page("practice/pair.html", pair=pair, sides=sides, seed=seed, others=[other for other in PAIRS.values() if other is not pair])
