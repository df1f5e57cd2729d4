"""Proof of titles of a minute, ten minutes and an hour, at 1080 and 2160 lines: the same faults as in short ones, and no others."""

import itertools

import msgspec
import numpy as np
import pytest
from test_proof_checks import looked, template, text

from avlet.document.looks.paints import Solid
from avlet.document.parts import CounterPart, Fit, Place, ShapePart
from avlet.document.template import Frame
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import StaysToTheEnd
from avlet.review.checks import CHECKS
from avlet.review.stretches import MOST_FRAMES
from avlet.review.traces import traces_of

MINUTE, TEN_MINUTES, HOUR = 1_500, 15_000, 90_000
LONG = [1_501, TEN_MINUTES, HOUR]
HD, UHD = Frame(1920, 1080, "25/1"), Frame(3840, 2160, "25/1")


def found(one, *ids):
    return [f for c in CHECKS if c.id in ids for f in c.run(one)]


def keyed(path, *keys):
    """Keys of a property in frames since the begin, straight from one to the next."""
    return Keyed(path, tuple(Key(at, value, to_next="straight") for at, value in keys))


def whole(*keys, frame=HD):
    """A white ground that comes and goes by the keys of its opacity."""
    return ShapePart(
        id="ground", name="Ground", width=frame.width, height=frame.height, across=Place("frame"), down=Place("frame"), fill=Solid("#FFFFFF"),
        keys=(keyed("opacity", *keys),), way_out=StaysToTheEnd(),
    )  # fmt: skip


def pulses(begin, every, count):
    """Opacity that is up for two frames, again and again."""
    at = [begin + every * n for n in range(count)]
    return [(0, 0), *itertools.chain.from_iterable([(b, 0), (b + 1, 100), (b + 3, 100), (b + 4, 0)] for b in at)]


@pytest.mark.parametrize(("length", "frame"), [(MINUTE, HD), *((length, HD) for length in LONG), (HOUR, UHD)])
def test_a_pulse_every_two_seconds_is_no_flashing_and_five_in_a_second_are(length, frame):
    calm = template(whole(*pulses(300, 50, 12), frame=frame), length=length, frame=frame, way_in=0, way_out=0)
    assert found(looked(calm), "flashes") == []
    wild = template(whole(*pulses(length // 2, 5, 5), frame=frame), length=length, frame=frame, way_in=0, way_out=0)
    (told,) = found(looked(wild), "flashes")
    assert told.amount == 5 and abs(told.first - length // 2) <= 2


@pytest.mark.parametrize("length", [1_500, *LONG])
@pytest.mark.parametrize("frame", [HD, UHD], ids=["1080", "2160"])
def test_fast_words_and_jumps_of_the_hold_are_found_at_any_length(length, frame):
    lines, begin = frame.height / 1080, length // 3
    name = text(size=80.0 * lines, across=Place("frame", gap=100.0 * lines), down=Place("frame", gap=400.0 * lines))
    fast = msgspec.structs.replace(name, keys=(keyed("across.gap", (begin, 100.0 * lines), (begin + 20, 1000.0 * lines)),))
    (told,) = found(looked(template(fast, length=length, frame=frame)), "speed")
    assert told.amount == pytest.approx(45 * lines) and begin - 1 <= told.first <= begin + 2
    traces = traces_of(looked(template(fast, length=length, frame=frame)))
    assert traces.fastest.max() == pytest.approx(45 * lines, rel=0.05), "and no way is measured from one sample to the next"
    leap = msgspec.structs.replace(
        name, keys=(keyed("across.gap", (begin, 100.0 * lines), (begin + 5, 102.0 * lines), (begin + 6, 180.0 * lines), (begin + 11, 182.0 * lines)),)
    )  # fmt: skip
    (told,) = found(looked(template(leap, length=length, frame=frame)), "jumps")
    assert told.amount == pytest.approx(78 * lines) and told.first == begin + 6


@pytest.mark.parametrize("length", LONG)
def test_what_drifts_all_the_time_is_no_jump_from_one_sample_to_the_next(length):
    slow = text(size=80.0, keys=(keyed("across.gap", (30, 0.0), (length - 30, 900.0)),))
    assert found(looked(template(slow, length=length)), "jumps", "speed", "fine-strokes") == []


@pytest.mark.parametrize("length", LONG)
def test_time_to_read_is_the_time_in_which_words_stand_there(length):
    """What is gone in between cannot be read then, however long the title is."""
    many = " ".join(["word"] * 40)
    shown = text(words=many, size=30.0)
    assert found(looked(template(shown, length=length)), "reading") == []
    keys = keyed("opacity", (60, 100), (70, 0), (length - 60, 0), (length - 50, 100))
    (told,) = found(looked(template(msgspec.structs.replace(shown, keys=(keys,)), length=length)), "reading")
    assert 2.5 < told.limit < 5.0, "a good two seconds at the begin, and a second at the end"


@pytest.mark.parametrize("length", LONG)
def test_words_without_their_plate_are_told_for_as_long_as_that_is_so(length):
    words = text(way_in=(), way_out=StaysToTheEnd())
    gone = keyed("opacity", (400, 100), (410, 0), (length - 410, 0), (length - 400, 100))
    plate = ShapePart(id="plate", name="Plate", fit=Fit(("name",)), across=None, down=None, keys=(gone,), way_out=StaysToTheEnd())
    before, after = found(looked(template(plate, words, length=length, way_in=0, way_out=0)), "early-late")
    assert before.amount + after.amount == pytest.approx(length - 820, rel=0.08) and before.first == pytest.approx(410, abs=2)


@pytest.mark.parametrize("rate", ["24000/1001", "25/1", "60/1", "120/1"])
@pytest.mark.parametrize("length", [1, 2, 1_499, 1_500, 1_501, HOUR, 1_000_000])
def test_stretches_are_in_order_apart_and_not_too_many(rate, length):
    number = CounterPart(id="c", name="C", start="0", end="500")
    parts = (text(), number, whole((100, 0), (max(101, length // 2), 100)))
    one = looked(template(*parts, length=length, frame=Frame(1920, 1080, rate)))
    runs = one.stretches
    assert runs[0].start == 0 and runs[-1].stop == length and all(len(run) for run in runs)
    assert all(before.stop < after.start for before, after in itertools.pairwise(runs))
    assert len(one.frames) == sum(map(len, runs)) <= 2 * MOST_FRAMES and one.rest_frame in one.frames
    assert one.lasts(one.frames) == length
    steps = one.steps(np.array(one.frames, float))
    assert (steps[one.neighbours] == 1).all() and np.isnan(steps[~one.neighbours]).all()
