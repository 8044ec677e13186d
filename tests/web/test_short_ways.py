"""A form's way to its row: nothing is foretold or drawn on the way, and few files of ours lie on it.

A file lies on the way when the value passes through it: it is being run, or waits for what it called, while a field of the
form is read or a row is made. `docs/architecture.md` shows these ways.
"""

import re
import sys
from pathlib import Path

import pytest
from sqlalchemy import event
from sqlalchemy.orm import Session

import kyklos
from kyklos.core.base.kinds import BottleState
from kyklos.store.read import queries
from kyklos.store.records import Base
from tests.web.test_bottles import house, state_of  # noqa: F401

HOUSE = Path(kyklos.__file__).parent
PLUMBING = ("serving/", "store/file/", "web/kit/once.py")  #: What every request passes through.
FIELDS = ("web/kit/fields.py", "web/kit/numbers.py", "web/kit/units.py")
FORETELLS = ("core/forecast/answer.py", "core/tapped/", "drawing/", "reckon/judging/attention.py", "web/kit/stops.py")
MOST_FILES = 12
MOST_OF_A_TOPPING_UP = 14  #: It writes a reading and a cover too.


class Watched:
    """What ran until the row of a form was written, and through which files its values passed."""

    def __init__(self):
        """Begin with nothing."""
        self.ran, self.passed, self.written = set(), set(), False

    def place(self, frame):
        """Name the file of a frame; empty: it is none of ours."""
        name = frame.f_code.co_filename
        return str(Path(name).relative_to(HOUSE)) if name.startswith(str(HOUSE)) else ""

    def waiting(self, frame):
        """Note every file of ours that waits for this frame."""
        while frame is not None:
            place = self.place(frame)
            if place and not place.startswith(PLUMBING):
                self.passed.add(place)
            frame = frame.f_back

    def call(self, frame, what, _):
        """Note a call."""
        if what != "call" or self.written or not (place := self.place(frame)):
            return
        self.ran.add(place)
        if place in FIELDS:
            self.waiting(frame)

    def row(self, record, *_):
        """Note that a row is made."""
        if not self.written and type(record).__name__ not in {"Change", "Touched"}:
            self.waiting(sys._getframe())
            module = sys.modules[type(record).__module__].__file__
            self.passed.add(str(Path(module).relative_to(HOUSE)))

    def committed(self, *_):
        """The row stands."""
        self.written = True


def way_of(client, address, data):
    """Send a form and watch it; fails when it writes nothing."""
    seen = Watched()
    event.listen(Session, "after_commit", seen.committed)
    event.listen(Base, "init", seen.row, propagate=True)
    sys.setprofile(seen.call)
    try:
        answer = client.post(address, data=data)
    finally:
        sys.setprofile(None)
        event.remove(Session, "after_commit", seen.committed)
        event.remove(Base, "init", seen.row)
    assert seen.written, answer.text[:500]
    return seen


def sent(name, demo, client):
    """Make ready what a form needs; gives its address and what is typed."""
    with demo.reader() as session:
        brews = queries.living_brews(session)
        jar, crock = next(b.id for b in brews if not b.runs), next(b.id for b in brews if b.runs)
        assert queries.bottles(session, BottleState.WARM)
    if name == "topping up":
        client.post(f"/tapped/{crock}/glass", data={"litres": "0.25"})
        tool = re.search(r'name="tea-instrument".*?<option value="([^"]+)"', client.get(f"/tapped/{crock}/top-up").text, re.S)[1]
        return f"/tapped/{crock}/top-up", {"tea-litres": "0.25", "tea-instrument": tool, "tea-ph": "3.5"}
    return {
        "reading": (f"/brews/{jar}/reading", {"ph": "3.41", "instrument": "meter"}),
        "tasting": (f"/brews/{jar}/tasting", {"taster": "1", "score": "0"}),
        "draw": (f"/tapped/{crock}/draw", {"draw-litres": "0.5", "draw-leaves": "drunk", "draw-run_off": "y"}),
    }[name]


@pytest.mark.parametrize("name", ["reading", "tasting", "draw", "topping up"])
def test_a_form_is_written_before_anything_is_foretold(name, demo, demo_client):
    """A form is read, checked and written: no forecast, no drawing, no page comes first; and a dozen files at most pass its values on."""
    seen = way_of(demo_client, *sent(name, demo, demo_client))
    assert sorted(file for file in seen.ran if file.startswith(FORETELLS)) == []
    assert len(seen.passed) <= (MOST_OF_A_TOPPING_UP if name == "topping up" else MOST_FILES), "\n".join(sorted(seen.passed))


def test_a_filling_is_written_as_it_was_planned(house):  # noqa: F811
    """A filling is foretold, for what is recorded is what was pictured; still a dozen files at most pass its values on."""
    seen = way_of(house.client, house.here, state_of(house.client.get(house.here).text))
    assert len(seen.passed) <= MOST_FILES, "\n".join(sorted(seen.passed))
