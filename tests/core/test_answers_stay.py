"""What the core answered stays what it answers: made-up questions of every wing, their answers kept with four digits."""

import json
import math

import pytest

from tests import figures
from tests.answers import GROUPS, KEPT, answers


def differs(was, now, where=""):
    """Say where an answer is another one; None where it is not."""
    if isinstance(was, float | int) and isinstance(now, float | int) and not isinstance(was, bool):
        return None if math.isclose(was, now, rel_tol=1.5e-3, abs_tol=1e-9) else f"{where}: {was} is {now} now"
    if type(was) is not type(now):
        return f"{where}: {was} is {now} now"
    if isinstance(was, dict) and was.keys() == now.keys():
        return next((found for key in was if (found := differs(was[key], now[key], f"{where}.{key}"))), None)
    if isinstance(was, list) and len(was) == len(now):
        return next((found for i, one in enumerate(was) if (found := differs(one, now[i], f"{where}[{i}]"))), None)
    return None if was == now else f"{where}: {was} is {now} now"


@pytest.mark.parametrize("group", GROUPS)
def test_answers_stay(group):
    """Each question of a group is answered as it was; a change that is meant is kept by `python tests/answers.py` and read first."""
    kept, now = json.loads(KEPT.read_text()), json.loads(json.dumps(answers(group)))
    assert differs(kept[group], now, group) is None


def test_no_figure_changes_by_one_hand():
    """Every figure of the core stands as it was read; one that is changed on purpose is written down anew by `python tests/figures.py`."""
    kept, now = json.loads(figures.KEPT.read_text()), json.loads(json.dumps(figures.figures()))
    assert {name: mine for name, mine in now.items() if kept.get(name) != mine} == {}
    assert set(kept) == set(now)
