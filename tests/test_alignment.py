"""Aligning, spreading and moving several parts, through what leads them."""

import itertools

import pytest
from conftest import plated, put, shown_in
from hypothesis import given
from hypothesis import strategies as st

from avlet.document.editing import edits
from avlet.document.editing.alignment import aligned, leaders, shifted, spread
from avlet.document.parts import Place, ShapePart
from avlet.document.template import Template
from avlet.errors import DocumentError
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.text.fonts import bundled_fonts


def boxes(template):
    return {i: p.box for i, p in arrange(bind(template), bundled_fonts()).parts.items()}


def row(*places: tuple[float, float]) -> Template:
    parts = [
        ShapePart(id=f"p{n}", name=f"P{n}", width=w, height=40 + n, across=Place(gap=x), down=Place(gap=100 * n))
        for n, (x, w) in enumerate(places)
    ]
    return Template(parts=tuple(parts))


widths = st.lists(st.tuples(st.floats(0, 1500), st.floats(5, 200)), min_size=3, max_size=6)


@given(widths, st.sampled_from([0.0, 0.5, 1.0]))
def test_aligned_edges_lie_on_one_line(places, share):
    template = row(*places)
    ids = [p.id for p in template.parts]
    after = boxes(put(template, aligned(template, boxes(template), ids, "across", share, shown_in(template))))
    lines = [b.x + b.w * share for b in after.values()]
    assert lines == pytest.approx([lines[0]] * len(lines), abs=0.01)


@given(widths)
def test_spread_parts_have_equal_gaps_and_the_outermost_stay(places):
    template = row(*places)
    ids = [p.id for p in template.parts]
    before = boxes(template)
    ordered = sorted(ids, key=lambda i: before[i].x + before[i].w / 2)
    made = boxes(put(template, spread(template, before, ids, "across", shown_in(template))))
    after = [made[i] for i in ordered]
    gaps = [b.x - a.right for a, b in itertools.pairwise(after)]
    assert gaps == pytest.approx([gaps[0]] * len(gaps), abs=0.05)
    assert after[0].x == pytest.approx(before[ordered[0]].x, abs=0.01)
    assert after[-1].right == pytest.approx(before[ordered[-1]].right, abs=0.05)


def test_a_plate_is_aligned_through_its_text():
    template = edits.add_part(plated(), ShapePart(id="free", name="Free", across=Place(gap=20), down=Place(gap=20)))
    after = boxes(put(template, aligned(template, boxes(template), ["plate", "free"], "across", 0.0, shown_in(template))))
    assert after["plate"].x == pytest.approx(after["free"].x)
    assert after["name"].x == pytest.approx(after["plate"].x + 50)


def test_what_moves_anyway_is_not_moved_twice():
    chained = edits.add_part(plated(), ShapePart(id="below", name="Below", across=Place("name"), down=Place("name", "start", "end", 9)))
    assert leaders(chained, ["plate", "name", "below"], "across") == ["name"]
    before, after = boxes(chained), boxes(put(chained, shifted(chained, ["plate", "name", "below"], 30, -7, shown_in(chained))))
    for part in before:
        assert (after[part].x - before[part].x, after[part].y - before[part].y) == pytest.approx((30, -7))


def test_too_few_parts_are_refused_in_words():
    template = row((0, 10), (50, 10))
    with pytest.raises(DocumentError, match="at least two"):
        aligned(template, boxes(template), ["p0"], "across", 0, shown_in(template))
    with pytest.raises(DocumentError, match="at least three"):
        spread(template, boxes(template), ["p0", "p1"], "down", shown_in(template))


hung = st.lists(
    st.tuples(st.floats(-300, 300), st.floats(5, 200), st.integers(0, 9), st.sampled_from(["start", "middle", "end"])),
    min_size=3,
    max_size=7,
)


def hanging(places) -> Template:
    """Shapes of which each is placed on the frame or on one before it."""
    parts = []
    for n, (gap, width, on, edge) in enumerate(places):
        at = "frame" if on >= n else f"p{on}"
        parts.append(
            ShapePart(id=f"p{n}", name=f"P{n}", width=width, height=30, across=Place(at, "start", edge, gap), down=Place(gap=60 * n))
        )
    return Template(parts=tuple(parts))


@given(hung)
def test_parts_that_hang_on_each_other_are_spread_together_and_a_second_time_changes_nothing(places):
    template = hanging(places)
    ids, before = [p.id for p in template.parts], boxes(hanging(places))
    ordered = sorted(ids, key=lambda i: before[i].x + before[i].w / 2)
    made = put(template, spread(template, before, ids, "across", shown_in(template)))
    after = boxes(made)
    gaps = [after[b].x - after[a].right for a, b in itertools.pairwise(ordered)]
    assert gaps == pytest.approx([gaps[0]] * len(gaps), abs=0.05)
    assert after[ordered[0]].x == pytest.approx(before[ordered[0]].x, abs=0.05)
    assert after[ordered[-1]].right == pytest.approx(before[ordered[-1]].right, abs=0.05)
    if gaps[0] > 0.1 and sorted(ids, key=lambda i: after[i].x + after[i].w / 2) == ordered:
        again = spread(made, after, ids, "across", shown_in(made))
        assert all(abs(value - shown_in(made)(target)) < 0.05 for target, value in again.items())


@given(hung, st.sampled_from([0.0, 0.5, 1.0]), st.integers(2, 7))
def test_parts_that_hang_on_each_other_are_aligned_together(places, share, many):
    template = hanging(places)
    ids = [p.id for p in template.parts][:many]
    made = put(template, aligned(template, boxes(template), ids, "across", share, shown_in(template)))
    lines = [boxes(made)[i].x + boxes(made)[i].w * share for i in ids]
    assert lines == pytest.approx([lines[0]] * len(lines), abs=0.02)
    again = aligned(made, boxes(made), ids, "across", share, shown_in(made))
    assert all(abs(value - shown_in(made)(target)) < 0.02 for target, value in again.items())
