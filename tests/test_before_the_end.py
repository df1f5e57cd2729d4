"""Arrivals whose start counts back from the end: they come when they should, however long the title is held."""

import msgspec
import pytest

from avlet.document.editing import timing
from avlet.document.editing.timing import MoveAt
from avlet.document.faults.checking import check
from avlet.document.parts import Place, ShapePart
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Mirrored, Move, OwnWayOut, StaysToTheEnd, Tie
from avlet.motion.ruler_rows import rows_of
from avlet.paint.scene import Scene
from avlet.review.describing import moves_of
from avlet.text.fonts import bundled_fonts

EVEN, MIRRORED = READY_EASES["even"], Mirrored()
LATE = Move(opacity=0.0, frames=10, start=40, counts_from="the end", ease=EVEN)


def bar(part_id: str, *way_in: Move, way_out=MIRRORED) -> ShapePart:
    return ShapePart(id=part_id, name=part_id.title(), across=Place(gap=10), down=Place(gap=10), way_in=way_in, way_out=way_out)


def titled(*parts, **values) -> Template:
    given = {"length": 100, "way_in": 20, "way_out": 15, **values}
    return check(Template(parts=parts, frame=Frame(640, 160, "25/1"), **given))


def scene(template: Template, length: int | None = None) -> Scene:
    return Scene(template, bundled_fonts(), None, length)


def opacity(made: Scene, frame: int, part: str = "tag") -> float:
    return float(made.pose(frame).parts[part].opacity[0])


@pytest.mark.parametrize("length", [100, 101, 240, 1000])
def test_it_arrives_so_many_frames_before_the_last_at_any_length(length):
    made = scene(titled(bar("tag", LATE)), length)
    last = length - 1
    assert [opacity(made, f) for f in (0, last - 41, last - 40, last - 35, last - 30)] == pytest.approx([0, 0, 0, 0.5, 1])
    assert [opacity(made, f) for f in (last - 11, last - 10, last - 5)] == pytest.approx([1, 1, 0.5])
    assert not made.pose(last).parts["tag"].shown


def test_its_mirrored_way_out_takes_as_long_as_its_way_in_and_not_as_its_start_says():
    made = scene(titled(bar("tag", LATE)))
    bars = [b for row in rows_of(made.template, made.choreography) for b in row.bars]
    assert [(b.start, b.end, b.mirrored) for b in bars] == [(59, 69, False), (89, 99, True)]
    facts = [(m["way"], m["first"], m["last"]) for m in moves_of(made.choreography)]
    assert facts == [("in", 59, 69), ("out", 89, 99)]


def test_moves_that_count_from_the_end_keep_their_distance_on_the_way_out():
    second = msgspec.structs.replace(LATE, start=36, x=-50.0)
    back = scene(titled(bar("tag", LATE, second))).choreography.timings["tag"].back
    assert [(s.start, s.end) for s in back] == [(0, 10), (4, 14)]


def test_what_is_tied_to_it_comes_along():
    waiting = bar("line", Move(opacity=0.0, frames=5, tie=Tie("tag", "after its end", 2), ease=EVEN), way_out=StaysToTheEnd())
    for length in (100, 300):
        made = scene(titled(bar("tag", LATE), waiting), length)
        assert made.choreography.timings["line"].arrives == (length - 1 - 28, length - 1 - 23)
        assert opacity(made, length - 1 - 27, "line") < 0.5


def test_ends_that_fit_do_not_wait_for_it():
    early = bar("early", Move(opacity=0.0, frames=12, ease=EVEN))
    waiting = bar("line", Move(opacity=0.0, frames=5, tie=Tie("tag")), way_out=StaysToTheEnd())
    spans = scene(titled(bar("tag", LATE), early, waiting, fits_in=True, fits_out=True)).spans
    assert (spans.way_in, spans.way_out) == (12, 12)


def test_it_never_comes_before_the_first_frame():
    made = scene(titled(bar("tag", msgspec.structs.replace(LATE, start=4000))))
    assert made.choreography.timings["tag"].arrives == (0, 10) and opacity(made, 10) == 1


def test_a_faster_template_counts_its_own_frames():
    made = scene(titled(bar("tag", LATE), pace=200.0))
    assert opacity(made, 99 - 20) == 0 and opacity(made, 99 - 15) == 1


def test_what_would_leave_before_it_is_there_is_said():
    near = msgspec.structs.replace(LATE, start=15)
    assert any(
        "Tag begins to leave before it has arrived. Let it start 5 frames earlier" in n for n in scene(titled(bar("tag", near))).notes()
    )
    stays = titled(bar("tag", near, way_out=StaysToTheEnd()))
    assert not scene(stays).notes() and not scene(titled(bar("tag", LATE))).notes()
    own = titled(bar("tag", msgspec.structs.replace(LATE, start=25), way_out=OwnWayOut((Move(opacity=0.0),))))
    assert not scene(own).notes()


def test_later_on_the_ruler_is_nearer_to_the_end():
    template, at = titled(bar("tag", LATE)), MoveAt("tag", "way_in", 0)
    assert timing.move_at(timing.shifted(template, [at], 6), at).start == 34
    assert timing.move_at(timing.shifted(template, [at], -6), at).start == 46
    assert timing.move_at(timing.stretched(template, [at], 200), at).start == 40


def test_staggered_moves_follow_the_first_also_from_the_end():
    template = titled(bar("tag", LATE), bar("line", Move()))
    chosen = [MoveAt("tag", "way_in", 0), MoveAt("line", "way_in", 0)]
    second = timing.move_at(timing.staggered(template, chosen, 5), chosen[1])
    assert (second.start, second.counts_from) == (35, "the end")
