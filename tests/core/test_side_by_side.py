"""Brews computed at once: each is as if it were computed alone, in a fraction of the runs."""

import numpy as np

from kyklos.core.forecast import answer
from kyklos.core.forecast.ask import ForecastAsk, Observation
from kyklos.core.liquid import integrator
from kyklos.core.liquid.batch import Batch
from kyklos.core.liquid.events import Draw
from kyklos.core.liquid.ferment import Recipe
from kyklos.core.liquid.temperature import steady


def test_brews_side_by_side_are_as_each_alone():
    """Whatever their readings, ages, vessels and events: carried forward together each has the very answer that it has alone."""
    asks = [
        ForecastAsk(
            batch=Batch(recipe=Recipe(starter_ph=3.0 + 0.1 * number, surface_per_volume_per_cm=0.03 + 0.02 * number), course=steady(20.0 + number), litres=3.0, events=events),
            observations=tuple(Observation(day=day, kind="ph", value=4.3 - 0.15 * day + 0.03 * number) for day in range(number + 1)),
            days=30,
        )
        for number, events in enumerate(((), (), (Draw(day=3.0, litres=1.0),), (), (Draw(day=2.5, litres=0.5), Draw(day=6.0, litres=0.5))))
    ]
    answer.forget()
    apart = [answer.carried(ask) for ask in asks]
    answer.forget()
    counted = []
    integrate, integrator.integrate = integrator.integrate, lambda *given: counted.append(1) or integrate(*given)
    try:
        answer.carry_together(asks)
    finally:
        integrator.integrate = integrate
    runs = len(counted)
    for one, ask in zip(apart, asks, strict=True):
        other = answer.carried(ask)
        assert len(counted) == runs, "it is answered from memory"
        assert np.allclose(one.fit.theta, other.fit.theta, rtol=0, atol=1e-9)
        assert np.allclose(one.each_ph, other.each_ph, rtol=0, atol=1e-9)
        assert np.allclose(one.likeliest, other.likeliest, rtol=0, atol=1e-9)
    assert runs < 40, "most of it ran side by side"
