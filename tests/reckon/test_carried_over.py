"""What a line's brews share and the next one is told: vigour, and how its tea buffers in this water."""

import itertools

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.actions.bottles import harvest
from kyklos.actions.brewing.readings import LogTasting, log_tasting
from kyklos.actions.undo import Undo, undo
from kyklos.core.forecast.answer import Posterior
from kyklos.core.forecast.fit import symmetric
from kyklos.core.forecast.prior import culture_prior
from kyklos.reckon.forecast.forecasting import _of_tea, prior_of
from kyklos.store.read import queries
from kyklos.store.records import Culture


@given(st.lists(st.tuples(st.floats(-0.6, 0.6), st.floats(-0.6, 0.6), st.floats(-0.6, 0.6)), min_size=1, max_size=5))
@settings(max_examples=40, deadline=None)
def test_what_a_line_shares_is_learned_together(told):
    """Readings that tell only of vigour and buffer together leave each unsure, and their sum known; more brews are never less sure."""
    usual = np.diag([0.35**-2, 0.35**-2, 0.35**-2])
    both = np.array([0.0, 1.0, 1.0])
    past = []
    for value in told:
        spread = np.linalg.inv(usual + 400 * np.outer(both, both))
        mean = spread @ (400 * both * (both @ np.array(value)))
        upper = tuple(spread[np.triu_indices(3)])
        past.append(Posterior(np.exp(mean[0]), np.exp(mean[1]), spread[0, 0] ** 0.5, spread[1, 1] ** 0.5, mean[2], upper))
    seen = [symmetric(culture_prior("sugar", tuple(past[:n])).covariance) for n in range(1, len(past) + 1)]
    together = [both @ cov @ both for cov in seen]
    assert all(0 < b <= a + 1e-9 for a, b in itertools.pairwise(together))
    assert together[-1] < seen[-1][1, 1] + seen[-1][2, 2]
    assert all(np.linalg.eigvalsh(cov)[0] > 0 for cov in seen)
    carried = culture_prior("sugar", tuple(past))
    sums = [both @ np.array(value) for value in told]
    assert min(*sums, 0) - 0.01 <= np.log(carried.bacteria_vigour) + carried.buffer <= max(*sums, 0) + 0.01


def test_how_another_tea_buffers_is_not_carried_over():
    """What a brew on another tea told of the buffer is left out; of its line's vigour it tells as before."""
    with_it = Posterior(1.4, 1.4, 0.15, 0.15, 0.4, (0.0225, 0.0, 0.0, 0.0225, 0.01, 0.04))
    same, other = (culture_prior("sugar", (one,)) for one in (with_it, _of_tea(with_it, same_tea=False)))
    assert same.buffer > 0.1
    assert other.buffer == 0
    assert other.yeast_vigour > 1.1


def test_what_is_expected_of_a_line_is_kept_until_one_of_its_brews_ends(kitchen):
    """A taste of a brew that stands changes nothing of it; a brew that ended teaches the line at once, and its undoing takes that back."""

    def expected():
        with kitchen.database.reader() as session:
            session.context.now = kitchen.clock()
            return prior_of(queries.get(session, Culture, kitchen.culture), kitchen.clock(), "")

    brew = kitchen.ready()
    before = expected()
    kitchen.do(log_tasting, LogTasting(brew_id=brew, taster_id=1, score=0))
    assert expected() is before
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    ended = kitchen.do(harvest.end_brew, harvest.EndBrew(brew_id=brew))
    assert expected() != before
    kitchen.do(undo, Undo(ended.change_id))
    assert expected() == before
