"""Geometry of the lines: rows of the braid, ends and passings, discs from the side, the hotel, strength."""

from datetime import date
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.forecast.vigour import VigourPoint, trend
from kyklos.drawing.braid import MARKS, Bead, LineFacts, Passing, braid, scaled
from kyklos.drawing.stack import JAR_TOP, profiles, stack
from kyklos.drawing.strength import FLOOR, TOP, strength, y_of

TODAY = date(2027, 2, 18)
quick = settings(max_examples=40, deadline=None)


def line(key, started, ended=None, **more):
    """A line with one brew."""
    bead = Bead(f"brew-{key}", started + 1, ended, "brew", "harvested" if ended else "alive", "Jar", 0.0)
    return LineFacts(key, f"Line {key}", started, [bead], [(started, 1.0)], ended=ended, **more)


LIVES = st.lists(st.tuples(st.floats(-700, -20), st.floats(0.05, 1.0), st.booleans()), min_size=1, max_size=12)


@given(LIVES)
@quick
def test_lines_share_a_row_only_one_after_the_other(lives):
    """Two lines of one row never overlap in time; a line that ended ends where it ended, one that lives reaches today."""
    told = sorted(
        (line(key, start, start * (1 - share) if over else None) for key, (start, share, over) in enumerate(lives)),
        key=lambda li: li.started,
    )
    drawn = braid(told, TODAY, 365, 740)
    rows = {}
    for facts, ribbon in zip(told, drawn.ribbons, strict=True):
        rows.setdefault(round(ribbon.beads[0].y), []).append(facts)
        assert ribbon.end_x == pytest.approx(drawn.today_x) or facts.ended is not None
        assert ribbon.end_x <= drawn.today_x + 1e-6
    for row in rows.values():
        for one, two in pairwise(sorted(row, key=lambda li: li.started)):
            assert one.ended is not None
            assert one.ended < two.started
    assert len(drawn.rows) == len(rows)


def test_what_ended_left_or_joined_is_marked():
    """A discarded brew and a dried disc are marked where they ended, gifts by arrows, a shared jar by a strand between lines."""
    beads = [
        Bead("brew-1", -90, -80, "brew", "discarded", "Jar", 0.0),
        Bead("disc-1", -70, -60, "disc", "dried", "Disc", 0.0),
        Bead("disc-2", -70, -50, "disc", "given", "Disc", 0.0),
    ]
    passings = (Passing(-50, "given"), Passing(-40, "received", None, True), Passing(-30, "joined", 2))
    one = LineFacts(1, "One", -100, beads, [(-100, 1.0)], passings=passings)
    drawn = braid([one, line(2, -95, parent=1)], TODAY, 110)
    ribbon = drawn.ribbons[0]
    assert {kind for kind, _ in ribbon.ends} == {"discarded", "dried"}
    assert [arrives for *_, arrives in ribbon.arrows] == [False, True]
    assert len(drawn.joinings) == 1
    assert len(drawn.partings) == 1
    assert drawn.width == 1200


def test_more_time_makes_a_wider_braid_and_marks_fewer_days():
    """Twenty years in one width show years; with a season in sight the braid is sixty times as wide and shows months."""
    told = [line(1, -7300)]
    whole, season = braid(told, TODAY, 7300), braid(told, TODAY, 120, 7300)
    assert season.width == pytest.approx(1200 * 7300 / 120)
    assert all(tick.text.isdigit() for tick in whole.ticks)
    assert len(season.ticks) > 200
    assert all(b.x - a.x > 40 for a, b in pairwise(whole.ticks))


@given(st.sampled_from(sorted(MARKS)), st.floats(0.1, 3))
@quick
def test_a_mark_keeps_its_steps_when_it_is_scaled(kind, by):
    """Letters stay, only numbers change."""
    letters = [c for c in MARKS[kind] if c.isalpha()]
    assert [c for c in scaled(MARKS[kind], by) if c.isalpha()] == letters


DISCS = st.lists(
    st.tuples(st.just("A disc"), st.floats(0.5, 80), st.floats(2, 40), st.booleans(), st.booleans()), max_size=9
)


@given(DISCS, st.floats(0, 1.3), st.floats(5, 30))
@quick
def test_discs_of_a_hotel_lie_in_its_liquid_in_their_order(discs, full, width):
    """Nobody sticks out of the glass sideways, the order from the top is kept, and the level lies between brim and floor."""
    drawn = stack(discs, full, "1 L", width)
    assert [d.y for d in drawn.discs] == sorted(d.y for d in drawn.discs)
    assert all(d.x >= drawn.left and d.x + d.width <= drawn.right + 1e-6 for d in drawn.discs)
    assert JAR_TOP - 1 <= drawn.level_y <= drawn.bottom_y
    assert all(d.y >= drawn.level_y for d in drawn.discs)


@given(st.lists(st.tuples(st.just("today"), st.none() | st.floats(0.5, 80), st.none() | st.floats(2, 60)), max_size=6))
@quick
def test_a_disc_over_time_is_drawn_as_thick_as_it_was(sizes):
    """One profile for each measurement, none above the picture, thicker drawn higher."""
    drawn = profiles(sizes)
    told = [mm for _, mm, _ in sizes if mm is not None]
    assert len(drawn.shapes) == len(told)
    assert all(shape.y >= 0 and shape.x >= 0 for shape in drawn.shapes)
    order = sorted(range(len(told)), key=lambda i: told[i])
    assert [drawn.shapes[i].height for i in order] == sorted(shape.height for shape in drawn.shapes)


@given(st.lists(st.tuples(st.floats(0, 900), st.floats(0.06, 5), st.floats(0.05, 0.6)), max_size=12))
@quick
def test_strength_stays_in_its_box_and_stronger_stands_higher(rows):
    """However few or wild the brews are."""
    points = [VigourPoint(day, vigour, sd) for day, vigour, sd in rows]
    drawn = strength(trend(points), 900.0, TODAY)
    assert len(drawn.dots) == len(points)
    assert all(46 <= d.x <= 540 and TOP <= d.y <= FLOOR and d.high_y <= d.y <= d.low_y for d in drawn.dots)
    assert bool(drawn.line) == (len(points) >= 2)
    assert y_of(2.0) < y_of(1.0) < y_of(0.5)


def test_words_at_gifts_leave_each_other_room():
    """A hundred gifts in a year: no word meets its line's name, another word or the edge, and every arrow stays."""
    gifts = tuple(Passing(-3.6 * number, "given") for number in range(100))
    drawn = braid([LineFacts(1, "Mistral", -4000.0, (), [(-4000.0, 1.0)], passings=gifts)], date(2027, 2, 18), 365.0).ribbons[0]
    ends = [(word.x, word.x + 8 * len(word.text)) for word in drawn.words]
    assert len(drawn.arrows) == 100
    assert drawn.name.x + 8 * len("Mistral") < ends[0][0]
    assert all(before[1] < after[0] for before, after in pairwise(ends))
    assert ends[-1][1] <= 1200
