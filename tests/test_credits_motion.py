"""Credits over time: exact ends, exact speed, whole px, pages, calm."""

import io
import itertools
import math
from fractions import Fraction

import av
import msgspec
import numpy as np
import pytest
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st
from lists import BOOK, FRAME, MIDDLE, THREE, canvas_over, credits, painted, scene, titled
from scipy.integrate import quad

from avlet.document.cards.card import Section
from avlet.document.cards.wires import Wire
from avlet.document.faults.checking import check
from avlet.document.fields import CreditsField
from avlet.document.fields.credits import answer_of
from avlet.document.lists.blocks import Heading, Names, PageBreak, Role
from avlet.document.parts import CreditsPart, EchoPart, Fit, GroupPart, Matte, Place, ShapePart
from avlet.document.parts.credits import Movement, Stay
from avlet.document.template import Frame, MotionBlur, Template
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import Move
from avlet.layout.holding import hold
from avlet.limits import MOST_FRAMES
from avlet.media.drawing import Drawing
from avlet.media.render import render
from avlet.motion.credits import leads_by_speed, page_needs
from avlet.motion.rolling import Ends, length_at, rolled, steps_at, whole_lengths
from avlet.paint import kept_soft, strips
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene, first_alike
from avlet.paint.shimmer import LIVELY, STEADY, calm_of, moved_back, shimmer, smallest_capitals
from avlet.review.measuring import measure
from avlet.review.rolls import advice, calm_in, facts_of_lists, with_list

LONG = tuple(Role(role=f"Role {n}", names=(f"Name {n}",)) for n in range(24))


def roll_of(part, length=200):
    return scene(part, length).choreography.movers["c"].roll


# The sum of the movement

MOVES = st.builds(
    Movement, how=st.sampled_from(["rolls up", "rolls down"]), begins=st.sampled_from(["off the frame", "in the middle", "at its place"]),
    ends=st.sampled_from(["off the frame", "in the middle"]), held_first=st.integers(0, 40), held_last=st.integers(0, 40), soft=st.integers(0, 60),
    leads=st.sampled_from(["length", "speed"]), speed=st.floats(0.5, 20),
)  # fmt: skip
ENDS = st.builds(Ends, st.floats(1, 3000), st.floats(-30_000, 0), st.tuples(st.booleans(), st.booleans()))


@settings(max_examples=200)
@given(MOVES, ENDS, st.integers(2, 900))
def test_any_roll_ends_where_it_should_goes_one_way_and_at_one_speed(movement, ends, length):
    roll = rolled(movement, ends, length)
    places = [roll.at(t) for t in range(length)]
    steps = np.diff(places)
    way = math.copysign(1, ends.last - ends.first)
    assert (steps * way >= -1e-6).all(), "never back"
    beyond = roll.speed + 1e-6
    for present, wanted, free, sign in ((places[0], ends.first, ends.free[0], -way), (places[-1], ends.last, ends.free[1], way)):
        assert abs(present - wanted) <= (beyond if free else 1e-6 + (beyond if any(ends.free) is False else 0)), "ends exactly"
        assert (present - wanted) * sign >= -1e-6, "only further off the frame"
    between = steps[roll.held_first + roll.soft : len(steps) - roll.held_last - roll.soft]
    assert np.allclose(np.abs(between), roll.speed, atol=1e-6), "one speed outside the soft ends"
    assert np.allclose(steps[: roll.held_first], 0) and (not roll.held_last or np.allclose(steps[-roll.held_last :], 0))


@pytest.mark.parametrize("soft", [0, 12, 50])
def test_the_way_is_the_integral_of_the_speed(soft):
    """SciPy integrates the speed, 3u² − 2u³ over the soft frames, against the closed form."""
    roll = rolled(Movement(soft=soft), Ends(360.0, -1500.0, (True, True)), 241)

    def speed(t):
        u = min(1.0, t / soft, (roll.steps - t) / soft) if soft else 1.0
        return roll.speed * (3 * u * u - 2 * u**3)

    for t in (0, 3, 11, soft, 60, 200, 239, 240):
        points = sorted({float(p) for p in (soft, roll.steps - soft) if 0 < p < t}) or None
        gone = quad(speed, 0, t, points=points)[0] if t else 0.0
        assert roll.first - roll.at(t) == pytest.approx(gone, abs=1e-6)
    assert roll.at(240) == pytest.approx(-1500.0)


def test_twice_the_length_is_half_the_speed():
    """Speed is (height of the list + height of the frame) ÷ length: common practice, no source. N frames hold N − 1 steps."""
    part = credits(LONG)
    strip = scene(part).choreography.movers["c"].strip
    slow, fast = roll_of(part, 401), roll_of(part, 201)
    assert fast.speed / slow.speed == pytest.approx(2, rel=0.02)
    assert roll_of(part, 2001).speed == pytest.approx((strip.length + FRAME.height) / 2000, rel=0.01)


def test_whole_lengths_move_whole_px_and_even_ones_even():
    part = credits(LONG)
    moving = scene(part).choreography.movers["c"]
    offers = whole_lengths(part.movement, moving.ends, 400)
    assert len(offers) == 4 and [o.speed for o in offers] == sorted(o.speed for o in offers)
    for offer in offers:
        roll = roll_of(part, offer.length)
        assert roll.speed == offer.speed and roll.whole
        assert not roll_of(part, offer.length - 1).whole, "and it is the shortest of its speed"
    assert all(o.speed % 2 == 0 for o in whole_lengths(part.movement, moving.ends, 400, even=True))
    standing = whole_lengths(Movement(begins="in the middle", ends="in the middle"), Ends(300.0, -700.0, (False, False)), 200)
    assert all(1000 % offer.speed == 0 for offer in standing)


@given(st.floats(0.5, 60), st.floats(1, 50_000), st.integers(0, 60), st.integers(0, 40))
def test_the_length_at_a_speed_has_that_speed(speed, way, soft, held):
    movement = Movement(soft=soft, held_first=held, leads="speed", speed=speed)
    ends = Ends(way, 0.0, (True, True))
    length = length_at(movement, ends, speed)
    if steps_at(speed, way) >= soft:
        assert rolled(movement, ends, length).speed == pytest.approx(speed)
        assert rolled(msgspec.structs.replace(movement, leads="length"), ends, length).speed <= max(speed, math.ceil(speed)) + 1e-9


# As it is seen


@settings(max_examples=12)
@given(
    st.lists(st.text("abgÅ ", min_size=1, max_size=9), min_size=1, max_size=8), st.integers(2, 120), st.sampled_from(["rolls up", "rolls down", "crawls"]),
    st.integers(0, 30), st.sampled_from([0.0, 3.0]),
)  # fmt: skip
def test_nothing_shows_in_the_first_and_the_last_frame(names, length, how, soft, softened):
    made = scene(credits([Names(names=tuple(names))], {"how": how, "soft": soft}, softened=softened), length)
    assert not painted(made, 0).any() and not painted(made, length - 1).any()
    if length > 3 and any(n.strip() for n in names):
        assert any(painted(made, f).any() for f in range(1, length - 1))


@pytest.mark.parametrize("how", ["rolls up", "rolls down"])
def test_blocks_stand_in_the_middle_at_the_ends_and_are_held(how):
    made = scene(credits(THREE, {"how": how, "begins": "in the middle", "ends": "in the middle", "held_first": 20, "held_last": 30}), 200)
    first, last = painted(made, 0), painted(made, 199)
    for picture, block in ((first, 0 if how == "rolls up" else -1), (last, -1 if how == "rolls up" else 0)):
        assert picture.any()
        strip = made.choreography.movers["c"].strip
        span = strip.span_of(int(strip.block_of[block]))
        rows = np.flatnonzero(picture[FRAME.height // 2 - 40 : FRAME.height // 2 + 40, :, 3].any(axis=1))
        assert abs(rows.mean() - 40) < (span[1] - span[0]) / 2
    assert (painted(made, 20) == first).all() and not (painted(made, 25) == first).all()
    assert (painted(made, 169) == last).all() and not (painted(made, 165) == last).all()
    alike = first_alike(made)
    assert alike[5] == 0 and alike[190] == alike[170] and alike[60] == 60


def test_fades_at_the_ends():
    made = scene(
        credits(THREE, {"begins": "in the middle", "held_first": 20, "fades_in": 10, "ends": "in the middle", "fades_out": 10}), 100
    )
    alphas = [int(painted(made, f)[..., 3].max()) for f in (0, 5, 10, 94, 99)]
    assert alphas[0] == 0 and 110 < alphas[1] < 145 and alphas[2] == 255 and 110 < alphas[3] < 145 and alphas[4] == 0


def test_rows_fade_at_the_edges_of_the_frame():
    part = credits(LONG, {"edge": 80.0})
    made, plain = scene(part, 300), scene(credits(LONG), 300)
    for frame in (100, 150):
        faded, full = painted(made, frame)[..., 3].astype(int), painted(plain, frame)[..., 3].astype(int)
        middle = slice(120, 240)
        assert (abs(faded[middle] - full[middle]) <= 2).all(), "all of it within"
        assert faded[:30].max() < 110 and faded[-30:].max() < 110 and full[:30].max() + full[-30:].max() > 250


def test_a_crawl_reads_from_right_to_left_and_the_other_way_in_other_scripts():
    def middles(part):
        made = scene(part, 300)
        return [float(np.flatnonzero(painted(made, f)[..., 3].any(axis=0)).mean()) for f in (40, 60)]

    right, left = middles(credits([Heading(text="Low tide at 6")], {"how": "crawls"}))
    assert right > left
    left, right = middles(credits([Heading(text="أخبار المد")], {"how": "crawls"}))
    assert left < right
    strip = scene(credits(THREE, {"how": "crawls", "separator": "+"})).choreography.movers["c"].strip
    assert sum(p.text == "+" for row in strip.rows for p in row.pieces) == 3, "a sign between each two"


def test_a_frame_painted_at_whole_px_is_the_one_before_moved():
    part = credits(LONG)
    moving = scene(part).choreography.movers["c"]
    (offer, *_) = (o for o in whole_lengths(part.movement, moving.ends, 400) if o.speed > 1)
    made = scene(part, offer.length)
    frames = [painted(made, f) for f in (150, 151, 152)]
    for first, second in itertools.pairwise(frames):
        assert (second[: -offer.speed] == first[offer.speed :]).all()


def test_whole_px_frames_are_the_same_in_whatever_order_they_are_asked_for():
    part = credits(LONG)
    moving = scene(part).choreography.movers["c"]
    offer = next(o for o in whole_lengths(part.movement, moving.ends, 60) if o.length > 20)
    made, found = scene(part, offer.length), []
    for order in (range(offer.length), reversed(range(offer.length))):
        kept_soft._kept.clear()
        found.append({n: painted(made, n).copy() for n in order})
    assert all((found[0][n] == found[1][n]).all() for n in range(offer.length))


def test_a_whole_px_roll_is_not_painted_twice(monkeypatch):
    drawn = []
    plain = strips.draw_layer
    monkeypatch.setattr(strips, "draw_layer", lambda *values: drawn.append(1) or plain(*values))
    part = credits(LONG, {"soft": 31})
    moving = scene(part).choreography.movers["c"]
    offer = next(o for o in whole_lengths(part.movement, moving.ends, 400) if o.speed == 3)
    made = scene(part, offer.length)
    once = [painted(made, f) is not None and len(drawn) for f in range(120, 240)]
    assert once[-1] <= len(moving.strip.tiles), "each tile once"
    paces = [made.choreography.movers["c"].pace(f) for f in range(offer.length)]
    assert paces[31] == paces[150] == paces[-32] == 3 and paces[5] == paces[20] == 0
    assert not any(scene(part, offer.length - 3).choreography.movers["c"].pace(f) for f in range(60, 120))
    small = canvas_over(new_pixels(320, 180))
    before = len(drawn)
    for frame in range(120, 140):
        small.getCanvas().resetMatrix()
        small.getCanvas().scale(0.5, 0.5)
        made.paint_on(small.getCanvas(), frame)
    assert len(drawn) - before <= 2 * len(moving.strip.tiles), "also where two frames make a px"


def test_a_list_shows_the_same_with_and_without_kept_pictures():
    """However frames are asked for, each is the same picture."""
    part = credits(LONG, softened=0.0)
    one, other = scene(part, 301), scene(part, 301)
    wanted = [painted(one, f).copy() for f in (100, 101, 102)]
    found = {f: painted(other, f).copy() for f in (102, 100, 101)}
    for frame, picture in zip((100, 101, 102), wanted, strict=True):
        assert np.abs(picture.astype(int) - found[frame].astype(int)).max() <= 1


def test_credits_take_mattes_groups_and_keep_with_other_parts():
    hider = ShapePart(id="m", name="Half", width=640.0, height=180.0, down=Place("frame", "start", "start", 0.0))
    part = msgspec.structs.replace(credits(LONG), mattes=(Matte(inside="m"),))
    made = Scene(Template(name="x", parts=(hider, part), frame=FRAME, length=300, way_in=0, way_out=0), BOOK)
    picture = painted(made, 150)
    assert picture[:180].any()
    bare = painted(Scene(Template(name="x", parts=(hider,), frame=FRAME, length=300, way_in=0, way_out=0), BOOK), 150)
    assert (picture[181:] == bare[181:]).all(), "nothing shows outside"


# Where the speed leads


def test_where_speed_leads_the_length_comes_from_the_list_and_says_so():
    part = credits(LONG, {"leads": "speed", "speed": 4.0})
    made = scene(part, 100)
    assert made.length != 100 and made.choreography.movers["c"].roll.speed == 4
    assert any(f"{made.length} frames, not 100" in note for note in made.notes())
    longer = scene(credits((*LONG, *LONG), {"leads": "speed", "speed": 4.0}), 100)
    assert longer.length > made.length * 1.5
    again = scene(part, made.length)
    assert not any("not 100" in note for note in again.notes())


def test_a_speed_that_asks_for_a_length_beyond_limits_is_told():
    part = credits([Names(names=tuple(f"n{n}" for n in range(4000)))], {"leads": "speed", "speed": 0.05})
    made = scene(part, 100)
    assert made.length == MOST_FRAMES and any("would need" in note for note in made.notes())


def test_a_list_that_answers_a_field_gives_the_length():
    part = credits(LONG, {"leads": "speed", "speed": 4.0})
    template = msgspec.structs.replace(titled(part), wires=(Wire(source="list", target="c/blocks"),))
    card = msgspec.structs.replace(
        template.card,
        sections=(Section("", (CreditsField(id="list", label="List", default=LONG),)),),
    )
    template = msgspec.structs.replace(template, card=card)
    short = Scene(template, BOOK, {"list": answer_of(LONG[:4])})
    assert short.length < Scene(template, BOOK).length
    assert with_list(template, LONG[:2])[1] == {"list": answer_of(LONG[:2])}


@pytest.mark.parametrize("length", [1, 2, 3])
def test_the_shortest_titles(length):
    made = scene(credits(LONG, {"soft": 20, "held_first": 30}), length)
    for frame in range(length):
        painted(made, frame)
    if length == 1:
        assert painted(made, 0).any(), "a single frame shows it at rest"
    if length > 1:
        assert any("held shorter" in note for note in made.notes())


# Pages

PAGED = tuple(b for n in range(4) for b in (PageBreak(), Heading(text=f"Page {n}"), Names(names=tuple(["a b"] * (2 + 3 * n)), columns=4)))


def windows(length, blocks=PAGED, **movement):
    return scene(credits(blocks, {"how": "pages", **movement}), length).choreography.movers["c"].windows


@given(st.integers(4, 2000))
@settings(max_examples=30)
def test_pages_follow_each_other_and_fill_the_length(length):
    found = windows(length)
    assert found[0].first == 0 and found[-1].last == length - 1
    assert all(b.first == a.last + 1 for a, b in itertools.pairwise(found))


def test_a_page_stays_as_its_words_need_and_as_long_as_it_is_told():
    quick, slow = windows(400), windows(800)
    assert [w.frames for w in slow] == pytest.approx([2 * w.frames for w in quick], abs=2)
    assert [w.frames for w in quick] == sorted(w.frames for w in quick), "more words, longer"
    by_hand = windows(200, stays=(Stay(1, 90),))
    assert by_hand[1].frames == 90 and sum(w.frames for w in by_hand) == 200
    equal = windows(400, reading=1000.0, least=80)
    assert {w.frames for w in equal} == {100}, "at least so long, then scaled to the length"
    part = credits(PAGED, {"how": "pages"})
    words = [1 + 1 + 2 * (2 + 3 * n) for n in range(4)]
    ideal = [max(50, w / 180 * 60 * 25) for w in words]
    assert [w.frames for w in scene(part, 400).choreography.movers["c"].windows] == pytest.approx(
        [400 * i / sum(ideal) for i in ideal], abs=1.5
    )


def test_each_page_has_the_moves_of_the_part():
    move = Move(opacity=0.0, frames=10)
    part = msgspec.structs.replace(credits(PAGED, {"how": "pages"}), way_in=(move,))
    made = scene(part, 400, way_in=10)
    for window in made.choreography.movers["c"].windows:
        alpha = [
            int(painted(made, f)[..., 3].max()) for f in (window.first, window.first + 5, (window.first + window.last) // 2, window.last)
        ]
        assert alpha[0] < 40 and 60 < alpha[1] < 255 and alpha[2] == 255 and alpha[3] < 40, alpha


def test_more_pages_than_frames_are_told():
    assert any("never show" in n for n in scene(credits(PAGED, {"how": "pages"}), 3).notes())


# Calm


@pytest.fixture(scope="module")
def filmed(tmp_path_factory):
    """The decoded brightness of some frames in the middle of rolls: at whole px, between px, softened."""
    folder, found = tmp_path_factory.mktemp("films"), {}
    small = Frame(320, 180, "25/1")
    part = credits(LONG[:9], width=300.0)
    moving = scene(part, frame=small).choreography.movers["c"]
    (offer, *_) = (o for o in whole_lengths(part.movement, moving.ends, 200) if o.speed == 3)
    for name, length, softened in (("whole", offer.length, 0.0), ("between", offer.length + 40, 0.0), ("soft", offer.length + 40, 3.0)):
        made = scene(credits(LONG[:9], width=300.0, softened=softened), length, small)
        path = folder / f"{name}.mov"
        render(Drawing.of(made), path, "png", workers=0)
        with av.open(str(path)) as film:
            frames = [f.to_ndarray(format="rgba") for f in itertools.islice(film.decode(video=0), 70, 82)]
        light = [(f[..., :3] / 255 * f[..., 3:] / 255) @ [0.2126, 0.7152, 0.0722] for f in frames]
        found[name] = made.choreography.movers["c"].roll.speed, light
    return found


def _shimmer(speed, frames):
    inner = slice(60, -60)
    found = []
    for n in range(len(frames) - 1):
        back = moved_back(frames[n + 1][::-1], speed % 1.0 if speed % 1 else 0.0)[::-1]
        moved = np.roll(back, math.floor(speed), axis=0)
        detail = math.sqrt(float(np.mean(np.diff(frames[n][inner], axis=0) ** 2)))
        found.append(math.sqrt(float(np.mean((moved - frames[n])[inner] ** 2))) / detail)
    return float(np.mean(found))


def test_whole_px_do_not_shimmer_and_softness_lowers_it_on_decoded_pictures(filmed):
    """1 to 4 px of upright softness calm a roll, 3 being usual: common practice, no source."""
    whole, between, soft = (_shimmer(*filmed[name]) for name in ("whole", "between", "soft"))
    assert whole < 1e-9 and between > 0.15 and soft < between / 2


def test_what_cannot_be_followed_hurries_however_still_its_edges_are():
    """43 px a frame at whole px does not shimmer, and nobody reads it; the limit is a third of the smallest capitals (common practice)."""
    part = credits(LONG)
    moving = scene(part).choreography.movers["c"]
    smallest = smallest_capitals(moving)
    fonts = {one: TTFont(io.BytesIO(BOOK.find(one.family, one.style)[0].data)) for one in part.styles}
    heights = [one.size * font["OS/2"].sCapHeight / font["head"].unitsPerEm for one, font in fonts.items()]
    assert any(smallest == pytest.approx(height) for height in heights), "by fontTools"
    for length in (40, 60, 100, 200, 400, 800):
        made = scene(part, length)
        calm = calm_in(made, "c")
        speed = abs(roll_of(part, length).speed)
        assert (calm.word == "hurries") == (speed > smallest / 3), (length, speed)
        if calm.word == "hurries":
            (said,) = advice(made.choreography.movers["c"], calm)
            most = float(said.removeprefix("at most ").partition(" ")[0])
            assert most <= smallest / 3 < most + 0.1


def test_calm_in_a_word_and_what_would_calm():
    part = credits(LONG)
    moving = scene(part).choreography.movers["c"]
    (offer, *_) = (o for o in whole_lengths(part.movement, moving.ends, 400) if o.speed == 3)
    still = calm_in(scene(part, offer.length), "c")
    assert still.shimmer == 0 and still.word == "steady"
    made = scene(part, next(n for n in range(offer.length, 800) if abs(roll_of(part, n).speed % 1 - 0.5) < 0.02))
    lively = calm_in(made, "c")
    assert lively.shimmer > LIVELY and lively.word == "shimmers"
    said = " ".join(advice(made.choreography.movers["c"], lively))
    assert all(words in said for words in ("whole px", "softness", "less contrast"))
    values = [calm_in(scene(credits(LONG, softened=s), made.length), "c").shimmer for s in (0.0, 1.0, 2.0, 4.0)]
    assert values[0] > values[1] > max(values[2:]) and max(values[2:]) < STEADY
    grey = calm_in(scene(credits(LONG, fill=msgspec.structs.replace(part.fill, colour="#808080")), made.length), "c")
    assert grey.contrast < lively.contrast and grey.word != "shimmers"
    assert calm_of(made.choreography.movers["c"], made.pose(50).parts["c"]).shimmer == pytest.approx(lively.shimmer)
    assert calm_in(scene(credits(THREE, {"how": "stands"})), "c") is None


def test_shimmer_of_a_known_picture():
    """A wave of 8 px, drawn again where it has gone to, is the same wave; between px by sampling theory it is exactly so."""
    rows = np.arange(64)
    wave = np.sin(2 * np.pi * rows / 8)[:, None] * np.ones((1, 4))
    later = np.sin(2 * np.pi * (rows - 0.3) / 8)[:, None] * np.ones((1, 4))
    assert shimmer(wave, later, 0.3) < 1e-9 and shimmer(wave, later, 0.8) > 0.3
    assert shimmer(wave, np.roll(wave, 2, axis=0), 2) == 0


def test_the_thinnest_level_stroke_is_the_bar_of_a_letter():
    """A sans' E: its middle bar by its own outline, in fontTools' units of the em."""
    import io

    from fontTools.pens.recordingPen import RecordingPen
    from fontTools.ttLib import TTFont

    face, _ = BOOK.find("Fira Sans", "Medium")
    font = TTFont(io.BytesIO(face.data))
    pen = RecordingPen()
    font.getGlyphSet()[font.getBestCmap()[ord("E")]].draw(pen)
    ys = sorted({p[1] for _, points in pen.value for p in points})
    bars = sorted(b - a for a, b in zip(ys[::2], ys[1::2], strict=True))
    part = credits([Names(names=("EEE",))], {"how": "rolls up"})
    made = scene(part)
    thinnest = calm_in(made, "c").thinnest
    assert thinnest == pytest.approx(bars[0] / font["head"].unitsPerEm * 34, abs=0.15)


# What is said


def test_what_lists_do_is_told_in_numbers():
    made = scene(credits(LONG), 400)
    (facts,) = facts_of_lists(made)
    assert facts["px_a_frame"] == pytest.approx(made.choreography.movers["c"].roll.speed, abs=1e-4)
    assert facts["seconds_in_frame"] == pytest.approx(360 / facts["px_a_frame"] / 25, abs=0.01)
    assert facts["rows"] == 24 and facts["calm"] in ("steady", "lively", "shimmers")
    (pages,) = facts_of_lists(scene(credits(PAGED, {"how": "pages"}), 400))
    assert sum(p["frames"] for p in pages["pages"]) == 400
    assert Fraction(made.template.frame.fps) == 25


def test_measuring_tells_where_a_list_is():
    made = scene(credits(LONG), 400)
    early, late = (measure(made, f)["parts"][0]["now"] for f in (100, 101))
    assert early[1] - late[1] == pytest.approx(made.choreography.movers["c"].roll.speed, abs=0.01)


# As a part among others


def seen(*parts, frame=100, **values):
    template = hold(Template(name="x", parts=parts, frame=FRAME, length=200, way_in=10, way_out=0, **values))
    return painted(Scene(template, BOOK), frame).astype(int)


def test_credits_are_a_part_like_others():
    part = credits(LONG)
    plain = seen(part)
    grouped = msgspec.structs.replace(part, group="g")
    assert (seen(GroupPart(id="g", name="G"), grouped) == plain).all()
    turned = seen(GroupPart(id="g", name="G", turn=20.0), grouped)
    assert turned.any() and not (turned == plain).all()
    keyed = msgspec.structs.replace(part, keys=(Keyed("opacity", (Key(0, 0.0), Key(199, 100.0))),))
    assert 115 < seen(keyed)[..., 3].max() < 140
    echoed = seen(EchoPart(id="e", name="E", of="c", later=20), part)
    assert (echoed[..., 3] > 0).sum() > 1.5 * (plain[..., 3] > 0).sum()
    shape = ShapePart(id="s", name="S", width=600.0, height=340.0, across=MIDDLE, down=MIDDLE, mattes=(Matte(inside="c"),))
    cut_out = seen(shape, msgspec.structs.replace(part, shown=False))
    assert 0 < np.abs((cut_out[..., 3] > 0).sum() - (plain[..., 3] > 0).sum()) + 1 < 3000, "its outline is a matte"
    assert (seen(part, motion_blur=MotionBlur(180))[..., 3] > 0).sum() > (plain[..., 3] > 0).sum()
    fitted = Scene(
        hold(
            Template(
                name="x",
                parts=(ShapePart(id="p", name="P", across=None, down=None, fit=Fit(("c",))), credits(LONG[:3], {"how": "stands"})),
                frame=FRAME,
            )
        ),
        BOOK,
    )
    box, inner = fitted.rest.parts["p"].box, fitted.rest.parts["c"].box
    assert box.h > inner.h and box.y < inner.y


# Pages that keep what they promise


def paged(length=200, leads="length", least=50, reading=180.0, stays=(), rate="25/1"):
    blocks = [Role(role=f"Role {n}", names=("Odalys Brandt", "Bo Li")) for n in range(40)]
    movement = Movement(how="pages", least=least, reading=reading, leads=leads, stays=tuple(Stay(*one) for one in stays))
    part = CreditsPart(
        id="c",
        name="Credits",
        blocks=tuple(blocks),
        width=900.0,
        movement=movement,
        across=Place(gap=100),
        down=Place(gap=100),
    )
    return check(Template(parts=(part,), frame=Frame(1280, 720, rate), length=length, way_in=5, way_out=5))


def windows_of(template, length=None):
    made = Scene(template, BOOK, None, length)
    return made, [w.frames for w in made.choreography.movers["c"].windows]


def words_on_pages(made):
    body = made.rest.parts["c"].body
    return [sum(len(p.text.split()) for row in body.strip.rows[page.first : page.last] for p in row.pieces) for page in body.pages]


def test_pages_that_are_there_too_short_are_told_with_what_they_need():
    """Ten words a page at 180 a minute and 25 frames a second: 84 frames each, worked out by hand."""
    made, frames = windows_of(paged(length=100))
    (note,) = made.notes()
    needs = [max(50, -(-w * 60 * 25 // 180)) for w in words_on_pages(made)]
    assert f"{len(frames)} pages are too short: page 1 is there for {frames[0]} frames and needs {needs[0]} to be read." in note
    assert f"Make the title {sum(needs):,} frames long, or let reading lead its length." in note
    longer, stays = windows_of(paged(length=sum(needs)))
    assert longer.notes() == [] and stays == needs, "then each is there as long as it needs"
    assert windows_of(paged(length=100), sum(needs))[0].notes() == [], "also where an editor makes it that long"


def test_a_page_that_was_set_by_hand_is_meant_so():
    made, frames = windows_of(paged(length=2000, stays=((0, 10),)))
    assert frames[0] == 10 and made.notes() == []
    made, frames = windows_of(paged(length=100, stays=((0, 10),)))
    needs = page_needs(made.rest.parts["c"], made.rest)
    (note,) = made.notes()
    assert frames[0] == 10 and f"page 2 is there for {frames[1]} frames and needs {needs[1]} to be read" in note
    assert f"Make the title {10 + sum(needs[1:]):,} frames long" in note
    assert windows_of(paged(length=10 + sum(needs[1:]), stays=((0, 10),)))[0].notes() == [], "and that is enough"


def test_at_least_means_at_least():
    made, frames = windows_of(paged(length=300, least=150, reading=1000.0))
    assert min(frames) < 150 and "needs 150 to be read" in made.notes()[0]


@pytest.mark.parametrize("rate", ["25/1", "50/1", "24000/1001"])
def test_reading_leads_the_length(rate):
    """The title is as long as its pages need; another list is longer or shorter by itself, and that is said."""
    template = paged(length=100, leads="speed", rate=rate)
    made, frames = windows_of(template)
    needs = page_needs(made.rest.parts["c"], made.rest)
    assert frames == needs and made.length == sum(needs)
    assert needs == [max(50, math.ceil(w * 60 * Fraction(rate) / 180)) for w in words_on_pages(made)]
    assert made.notes() == [f"The length comes from the list as its pages are read: {made.length} frames, not 100."]
    assert leads_by_speed(template) and not leads_by_speed(paged())
    by_hand, own = windows_of(paged(length=100, leads="speed", stays=((1, 30),), rate=rate))
    assert own[1] == 30 and by_hand.length == sum(needs) - needs[1] + 30
