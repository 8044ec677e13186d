"""Lineage, vigour and the braid: against a slow, plain reference on random households."""

from datetime import date

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.cultures import lineage, trace
from kyklos.core.cultures.trace import Link
from kyklos.core.forecast.answer import Posterior
from kyklos.core.forecast.vigour import VigourPoint, together, trend
from kyklos.drawing.braid import SHADES, Bead, LineFacts, braid

quick = settings(max_examples=60, deadline=None)
KINDS = ("brew", "lot", "disc")


@st.composite
def households(draw):
    """Links in which everything comes from something older: each node's day is its number."""
    count = draw(st.integers(2, 14))
    nodes = [(KINDS[i % 3], i) for i in range(count)]
    out = []
    for i in range(1, count):
        for source in draw(st.lists(st.integers(0, i - 1), max_size=3, unique=True)):
            out.append(Link(nodes[source], nodes[i], float(i)))
    return nodes, out


def plain_ancestors(links, node):
    """All that a thing came from, by walking back."""
    found, todo = set(), [node]
    while todo:
        here = todo.pop()
        for link in links:
            if link.target == here and link.source not in found:
                found.add(link.source)
                todo.append(link.source)
    return found


def plain_generation(links, node):
    """The longest number of brews from the origin, by trying every way."""
    before = [plain_generation(links, link.source) for link in links if link.target == node]
    return max(before, default=0) + (node[0] == "brew")


@given(households())
@quick
def test_ancestors_descendants_and_generations_agree_with_a_plain_walk(told):
    """The graph has no loop, and answers as a slow walk does."""
    nodes, links = told
    graph = lineage.descent(links)
    generations = lineage.generations(graph)
    for node in nodes:
        above = plain_ancestors(links, node)
        assert lineage.ancestors(graph, node) == above
        assert lineage.descendants(graph, node) == {n for n in nodes if node in plain_ancestors(links, n)}
        if node in generations:
            assert generations[node] == plain_generation(links, node)


@given(households(), st.integers(0, 13), st.floats(0, 14))
@quick
def test_a_trace_agrees_with_a_plain_walk_and_time_never_runs_back(told, pick, since):
    """All that is exposed lies on a path whose times never fall, and begins no earlier than the incident."""
    nodes, links = told
    node = nodes[pick % len(nodes)]
    found = trace.exposed(links, node, since)
    when = {r.node: r.at for r in found} | {node: since}
    for reached in found:
        assert reached.at >= since
        hops = [
            next(li.at for li in links if (li.source, li.target) == pair and li.at >= when[pair[0]])
            for pair in zip(reached.path, reached.path[1:], strict=False)
        ]
        assert hops == sorted(hops)
    plain, todo = set(), [(node, since)]
    while todo:
        here, at = todo.pop()
        for link in links:
            if link.source == here and link.at >= at and (link.target, link.at) not in plain:
                plain.add((link.target, link.at))
                todo.append((link.target, link.at))
    assert {r.node for r in found} == {n for n, _ in plain} - {node}


def test_a_loop_is_refused():
    """Nothing is its own ancestor."""
    with pytest.raises(lineage.LoopError):
        lineage.descent([Link(("disc", 1), ("brew", 1), 1), Link(("brew", 1), ("disc", 1), 2)])


def test_backups_leave_out_what_was_touched():
    """Only living things out of reach of the spoiled count; none, too few and enough are said each in its way."""
    kept = [("disc", 1), ("lot", 2)]
    assert lineage.backups(kept, {("disc", 1)}, 0, 1).living == (("lot", 2),)
    assert "No spare" in lineage.backups(kept, set(kept), 0, 1).says
    assert "2 are wanted" in lineage.backups(kept[:1], (), 3, 2).says
    assert lineage.backups(kept, (), 1, 2).enough


def points(slope, count=8, noise=0.05):
    """A line's brews over two years, whose ln vigour changes so much a year."""
    rng = np.random.default_rng(3)
    days = np.linspace(0, 730, count)
    return [VigourPoint(float(d), float(np.exp(slope * d / 365.25 + rng.normal(0, noise))), 0.1) for d in days]


def test_a_slowing_line_is_told_and_a_steady_one_not():
    """Forty per cent a year down is slowing, up is livelier, noise alone steady; two brews are too few."""
    assert trend(points(-0.4)).word == "slowing"
    assert trend(points(0.4)).word == "livelier"
    assert trend(points(0.0)).word == "steady"
    assert trend(points(-0.4)[:2]).word == "too little to tell"
    assert trend(points(-0.4)).per_year == pytest.approx(-0.4, abs=0.15)
    assert trend([]).points == ()


def test_vigour_joins_yeast_and_bacteria():
    """Half and double make one; certain of both is more certain than either."""
    vigour, sd = together(Posterior(0.5, 2.0, 0.2, 0.2))
    assert vigour == pytest.approx(1.0)
    assert sd < 0.2


@given(st.integers(1, 30), st.integers(0, 40), st.sampled_from([120.0, 365.0, 7300.0]))
@settings(max_examples=25, deadline=None)
def test_the_braid_stays_in_its_box(lines, beads, span):
    """Few lines or thirty, a season or twenty years: nothing leaves the box, no ribbon meets its neighbour."""
    told = [
        LineFacts(
            key,
            f"Line {key}",
            -span * 0.9,
            [
                Bead(f"brew-{key}-{i}", -span * 0.9 * (1 - i / 41), None, "brew", "alive", "", i / 41)
                for i in range(beads)
            ],
            [(-span * 0.9, 1.0), (-span / 2, 40.0)],
            parent=key - 1 if key else None,
        )
        for key in range(lines)
    ]
    drawn = braid(told, date(2027, 2, 18), span)
    assert drawn.height <= 800
    assert all(16 <= b.x <= 1184 and 0 <= b.y <= drawn.height for r in drawn.ribbons for b in r.beads)
    assert all(0 <= shade < SHADES for r in drawn.ribbons for _, shade in r.pieces)
    assert len(drawn.partings) == lines - 1
    assert len(drawn.ribbons) == lines
