"""Ways out of one part that begin while others hold: counted from the end, or tied to when another part comes."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.document.editing import timing
from avlet.document.editing.edits import duplicate_parts, remove_part
from avlet.document.editing.lending import lent
from avlet.document.editing.timing import MoveAt
from avlet.document.faults.checking import check
from avlet.document.parts import Place, ShapePart
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Mirrored, Move, OwnWayOut, StaysToTheEnd, Tie
from avlet.errors import DocumentError
from avlet.motion.folded_time import FoldedTime
from avlet.motion.ruler_rows import rows_of, within_the_hold
from avlet.paint.scene import Scene
from avlet.review.describing import moves_of
from avlet.review.stretches import stretches_of
from avlet.storage.template_json import decode, encode
from avlet.text.fonts import bundled_fonts

EVEN, MIRRORED = READY_EASES["even"], Mirrored()
FADE = Move(opacity=0.0, frames=10, ease=EVEN)
OUT = MoveAt("tag", "way_out.moves", 0)


def fade(**values) -> Move:
    return Move(**{"opacity": 0.0, "frames": 10, "ease": EVEN, **values})


def bar(part_id: str, *way_in: Move, way_out=MIRRORED) -> ShapePart:
    return ShapePart(id=part_id, name=part_id.title(), across=Place(gap=10), down=Place(gap=10), way_in=way_in, way_out=way_out)


def titled(*out: Move, tag_in=FADE, name_in=None, **values) -> Template:
    given = {"length": 100, "way_in": 20, "way_out": 15, **values}
    name = bar("name", name_in or fade(start=30))
    return check(Template(parts=(name, bar("tag", tag_in, way_out=OwnWayOut(out))), frame=Frame(640, 160, "25/1"), **given))


def opacity(template: Template, frame: int, length: int | None = None, part: str = "tag") -> float:
    return float(Scene(template, bundled_fonts(), None, length).pose(frame).parts[part].opacity[0])


@pytest.mark.parametrize("length", [100, 101, 240, 1000])
def test_a_way_out_counts_from_the_end(length):
    template = titled(fade(start=59, counts_from="the end"))
    last = length - 1
    assert opacity(template, last - 59, length) == 1.0
    assert opacity(template, last - 54, length) == pytest.approx(0.5)
    assert opacity(template, last - 49, length) == 0.0
    assert opacity(template, last - 46, length) == 0.0, "gone while the others hold"
    assert opacity(template, last - 46, length, "name") == 1.0
    assert opacity(template, last - 20, length) == 0.0


@pytest.mark.parametrize(("how", "frames", "begins"), [
    ("after its start", 0.0, 30), ("after its start", 7.0, 37), ("after its end", 0.0, 40), ("after its end", -5.0, 35),
    ("ending with it", 0.0, 30), ("ending with it", 3.0, 33),
])  # fmt: skip
@pytest.mark.parametrize("length", [100, 400])
def test_it_leaves_when_another_part_comes(how, frames, begins, length):
    template = titled(fade(tie=Tie("name", how, frames, "its way in")))
    assert opacity(template, begins, length) == 1.0
    assert opacity(template, begins + 5, length) == pytest.approx(0.5)
    assert opacity(template, begins + 10, length) == 0.0


def test_it_leaves_so_long_after_it_came_itself():
    template = titled(fade(tie=Tie("tag", "after its end", 12.0, "its way in")))
    assert [opacity(template, f, 300) for f in (9, 10, 22, 27, 32, 280)] == [pytest.approx(0.9), 1.0, 1.0, pytest.approx(0.5), 0.0, 0.0]


def test_one_that_arrives_late_is_followed_as_well():
    template = titled(fade(tie=Tie("name", "after its start", 0.0, "its way in")), name_in=fade(start=60, counts_from="the end"))
    last = 399
    assert [opacity(template, last - n, 400) for n in (61, 60, 55, 50)] == [1.0, 1.0, pytest.approx(0.5), 0.0]


def test_another_way_out_may_follow_one_that_leaves_early():
    template = titled(fade(start=45, counts_from="the end"))
    third = bar("third", FADE, way_out=OwnWayOut((fade(tie=Tie("tag", "after its end", 2.0)),)))
    both = check(Template(parts=(*template.parts, third), frame=template.frame, length=100, way_in=20, way_out=15))
    assert [opacity(both, f, 200, "third") for f in (199 - 33, 199 - 28, 199 - 23)] == [1.0, pytest.approx(0.5), 0.0]


@settings(max_examples=40, deadline=None)
@given(length=st.integers(80, 600), pace=st.sampled_from([50.0, 100.0, 160.0]), start=st.integers(16, 60))
def test_paces_and_lengths_change_nothing_but_the_hold(length, pace, start):
    template = titled(fade(start=start, counts_from="the end"), pace=pace)
    last = length - 1
    shown = opacity(template, last - round(start * 100 / pace / 2), length)
    inside = start / 2
    want = 1.0 - min(1.0, max(0.0, (start - round(start * 100 / pace / 2) * pace / 100) / 10))
    assert inside > 0
    if length * pace / 100 > 35 + start:
        assert shown == pytest.approx(want)


def test_ends_that_are_as_long_as_needed_do_not_wait_for_what_leaves_early():
    early = Scene(titled(fade(start=45, counts_from="the end"), fits_out=True), bundled_fonts(), None, 200)
    tied = Scene(titled(fade(tie=Tie("name", "after its end", 0.0, "its way in")), fits_out=True), bundled_fonts(), None, 200)
    late = Scene(titled(fade(start=25), fits_out=True), bundled_fonts(), None, 200)
    assert early.spans.way_out == 40, "what the name's mirrored way in takes"
    assert tied.spans.way_out == 40
    assert late.spans.way_out == 40
    late_end = titled(fade(start=10, frames=60, counts_from="the end"), fits_out=True)
    assert Scene(late_end, bundled_fonts(), None, 200).spans.way_out == 40, "a longer way out would not help it"
    assert Scene(titled(fade(start=35), fits_out=True), bundled_fonts(), None, 200).spans.way_out == 45


def test_what_begins_to_leave_before_it_came_is_told():
    def notes(*out: Move, **values):
        return [n for n in Scene(titled(*out, **values), bundled_fonts()).notes() if n.startswith("Tag")]

    assert notes(fade(tie=Tie("tag", "after its start", 4.0, "its way in"))) == [
        "Tag begins to leave before it has arrived. Let it leave 6 frames later."
    ]
    assert notes(fade(start=95, counts_from="the end")) == ["Tag begins to leave before it has arrived. Let it leave 6 frames later."]
    assert not notes(fade(start=89, counts_from="the end"))
    assert not notes(fade(start=3))


def test_what_cannot_be_meant_is_refused():
    with pytest.raises(DocumentError, match="only a way out says so"):
        titled(FADE, tag_in=fade(tie=Tie("name", to="its way in")))
    with pytest.raises(DocumentError, match="cannot wait for Tag itself"):
        titled(fade(tie=Tie("tag")))
    with pytest.raises(DocumentError, match="which is not in the template"):
        titled(fade(tie=Tie("nobody", to="its way in")))


def test_ties_to_ways_in_and_out_together_are_no_circle():
    """Each leaves when the other comes, and comes after it."""
    tag = bar("tag", FADE, way_out=OwnWayOut((fade(tie=Tie("name", "after its start", 0.0, "its way in")),)))
    name = bar("name", fade(tie=Tie("tag", "after its end", 20.0)), way_out=OwnWayOut((fade(tie=Tie("tag", "after its end", 5.0)),)))
    template = check(Template(parts=(tag, name), frame=Frame(640, 160, "25/1"), length=100, way_in=20, way_out=15))
    assert [opacity(template, f) for f in (30, 35, 40)] == [1.0, pytest.approx(0.5), 0.0]
    assert [opacity(template, f, part="name") for f in (40, 45, 50, 55)] == [1.0, 1.0, pytest.approx(0.5), 0.0]


def test_it_comes_back_from_its_json_and_goes_by_new_names():
    template = titled(fade(tie=Tie("name", "after its end", 3.0, "its way in")))
    assert decode(encode(template), "here") == template
    both, (name, tag) = duplicate_parts(template, ["name", "tag"])
    assert both.part(tag).way_out.moves[0].tie == Tie(name, "after its end", 3.0, "its way in")
    assert remove_part(template, "name", {"tag": (10, 10, 50, 50)}).part("tag").way_out.moves[0].tie is None


def test_a_copy_follows_itself_where_the_original_does():
    template = titled(fade(tie=Tie("tag", "after its end", 12.0, "its way in")))
    both, (copy,) = duplicate_parts(template, ["tag"])
    assert both.part(copy).way_out.moves[0].tie == Tie(copy, "after its end", 12.0, "its way in")


def test_a_part_that_takes_it_on_follows_itself():
    template = titled(fade(tie=Tie("tag", "after its end", 12.0, "its way in")))
    given_on = lent(template, template.part("tag"), ["name"], ["Way out"])
    assert given_on.part("name").way_out.moves[0].tie == Tie("name", "after its end", 12.0, "its way in")
    leaves = titled(fade(tie=Tie("name", "after its end", 12.0, "its way in")))
    assert lent(leaves, leaves.part("tag"), ["name"], ["Way out"]).part("name").way_out.moves[0].tie is not None


def test_dragged_before_the_way_out_it_counts_from_the_end():
    template = titled(fade(start=4))
    earlier = timing.shifted(template, [OUT], -10)
    move = earlier.part("tag").way_out.moves[0]
    assert (move.counts_from, move.start) == ("the end", 21)
    assert opacity(earlier, 99 - 16, 100) == pytest.approx(0.5)
    again = timing.shifted(earlier, [OUT], 3).part("tag").way_out.moves[0]
    assert (again.counts_from, again.start) == ("the end", 18)
    within = timing.shifted(template, [OUT], -3).part("tag").way_out.moves[0]
    assert (within.counts_from, within.start) == ("the beginning", 1)
    fitted = timing.shifted(titled(fade(start=4), fits_out=True), [OUT], -10).part("tag").way_out.moves[0]
    assert (fitted.counts_from, fitted.start) == ("the beginning", 0)


def test_the_ruler_shows_it_where_it_is_and_folds_the_rest():
    def folded(*out: Move, length=1000):
        made = Scene(titled(*out), bundled_fonts(), None, length)
        bar = next(b for r in rows_of(made.template, made.choreography) if r.part.id == "tag" for b in r.bars if b.at == OUT)
        return bar, FoldedTime(made.spans, 0.0, 1000.0, True, *within_the_hold(made.choreography))

    bar, time = folded(fade(start=45, counts_from="the end"))
    assert (bar.start, bar.end) == (pytest.approx(954), pytest.approx(964))
    assert time.x_of(bar.end) - time.x_of(bar.start) == pytest.approx(10 * time.scale), "not folded"
    bar, time = folded(fade(tie=Tie("name", "after its end", 0.0, "its way in")))
    assert (bar.start, bar.end) == (pytest.approx(40), pytest.approx(50))
    assert time.x_of(bar.end) - time.x_of(bar.start) == pytest.approx(10 * time.scale), "not folded"
    assert time.x_of(999) == pytest.approx(1000.0)
    for frame in (0, 20, 40, 50, 53, 500, 984, 999):
        assert time.frame_at(time.x_of(frame)) == pytest.approx(frame)
    assert time.hold_begin == pytest.approx(time.x_of(20))


def test_what_leaves_early_is_looked_at_in_long_titles_and_told_in_figures():
    made = Scene(titled(fade(start=3000, counts_from="the end")), bundled_fonts(), None, 9000)
    assert all(any(f in run for run in stretches_of(made)) for f in range(5998, 6011))
    told = [m for m in moves_of(made.choreography) if m["id"] == "tag" and m["way"] == "out"]
    assert [(m["first"], m["last"]) for m in told] == [(5999, 6009)]


def test_a_way_out_that_does_not_play_has_no_early_one():
    assert opacity(titled(fade(start=45, counts_from="the end"), plays_out=False), 80) == 1.0
    assert isinstance(titled(FADE).part("name").way_out, Mirrored)
    assert StaysToTheEnd() != MIRRORED
