"""Rolls and crawls in a reel: what moves by whole px is tiles of what passes; frame by frame the engine's own pictures."""

import io

import msgspec
import numpy as np
import pytest
from conftest import DEMO
from lists import BOOK, THREE, credits, painted, titled
from PIL import Image

from avlet.document.faults.checking import check
from avlet.document.parts import ShapePart
from avlet.errors import RenderError
from avlet.media import reel as reel_module
from avlet.media.drawing import Drawing
from avlet.media.reel import reel_of
from avlet.media.scrolls import LEAST, TILE, Run, Way, step_of
from avlet.paint.scene import Scene
from avlet.storage.package import open_template

MANY = THREE * 6


def rolling(how, speed=6.0, **values):
    movement = {"how": how, "leads": "speed", "speed": speed, "begins": "off the frame", "ends": "off the frame", "soft": 0}
    return Scene(titled(credits(MANY, movement, **values)), BOOK)


def shown(reel, files, frame):
    """A frame as who only has the reel puts it together: premultiplied, what lies outside cut off."""
    picture = np.zeros((reel.height, reel.width, 4))
    for one in reel.frames[frame]:
        own = np.asarray(Image.open(io.BytesIO(files[reel.pictures[one.picture].file])).convert("RGBA")).astype(float)
        own[..., :3] = (own[..., :3] * own[..., 3:] / 255).round()
        left, top = max(0, -one.x), max(0, -one.y)
        own = own[top : reel.height - one.y, left : reel.width - one.x]
        place = picture[one.y + top :, one.x + left :][: own.shape[0], : own.shape[1]]
        assert own.size and not (place[..., 3].astype(bool) & own[..., 3].astype(bool)).any(), "tiles do not lie over each other"
        place[...] = np.where(own[..., 3:] > 0, own, place)
    return picture


def off(scene, reel, files, frames):
    return max(np.abs(shown(reel, files, frame) - painted(scene, frame)).max() for frame in frames)


@pytest.mark.parametrize("how", ["rolls up", "rolls down", "crawls"])
def test_a_roll_by_whole_px_is_tiles_of_what_passes(how):
    scene = rolling(how)
    reel, files = reel_of(Drawing.of(scene))
    passes = scene.length * 6
    assert len(reel.pictures) <= passes / TILE + 3 < scene.length / 4 and set(files) == {one.file for one in reel.pictures}
    assert max(len(lying) for lying in reel.frames) >= 2 and reel.frames[0] == () == reel.frames[-1]
    assert off(scene, reel, files, [*range(0, scene.length, 17), 1, 2, 3, scene.length - 2]) <= 1
    lying = [(one, reel.pictures[one.picture]) for frame in reel.frames for one in frame]
    assert {one.picture for one, _ in lying} == set(range(len(reel.pictures))), "no picture is there for nothing"
    for one, picture in lying:
        assert -picture.width < one.x < reel.width and -picture.height < one.y < reel.height, "what is not in sight is not named"
    assert all(max(one.width, one.height) <= max(TILE, 640) for one in reel.pictures)


def test_soft_ends_and_halves_of_px_are_pictures_of_their_own():
    """Where it gains speed no frame is the one before; in between it is."""
    scene = rolling("rolls up")
    part = credits(
        MANY, {"how": "rolls up", "leads": "speed", "speed": 6.0, "begins": "in the middle", "ends": "off the frame", "soft": 20}
    )
    soft = Scene(titled(part), BOOK)
    reel, files = reel_of(Drawing.of(soft))
    assert 20 < len(reel.pictures) < soft.length / 2
    assert off(soft, reel, files, range(0, soft.length, 11)) <= 1
    small, _ = reel_of(Drawing.of(scene, (320, 180)))
    fifth, _ = reel_of(Drawing.of(scene, (128, 72)))
    assert len(small.pictures) < 40 < len(fifth.pictures), "3 px a frame are whole ones, 1.2 are not"


def test_what_stands_beside_it_or_fades_at_the_edge_makes_it_pictures():
    movement = {"how": "rolls up", "leads": "speed", "speed": 6.0}
    mark = ShapePart(id="m", name="Mark", width=20.0, height=20.0)
    beside = Scene(check(msgspec.structs.replace(titled(credits(THREE, movement)), parts=(mark, credits(THREE, movement)))), BOOK)
    reel, files = reel_of(Drawing.of(beside, (160, 90)))
    assert len(reel.pictures) > beside.length / 2
    fading = Scene(titled(credits(THREE, {**movement, "edge": 60.0})), BOOK)
    reel, files = reel_of(Drawing.of(fading))
    assert len(reel.pictures) > fading.length / 3 and off(fading, reel, files, range(0, fading.length, 23)) <= 1


def test_a_ground_of_one_colour_is_no_hindrance_and_other_titles_know_nothing_of_it():
    opened = open_template(DEMO / "name-strap.avlet")
    reel, _ = reel_of(Drawing.of(Scene(opened.template, opened.book), (480, 270)))
    assert max(len(lying) for lying in reel.frames) == 1


def test_too_many_pictures_are_told_as_they_come(monkeypatch):
    scene = rolling("rolls up")
    monkeypatch.setattr(reel_module, "MOST_REEL_PICTURES", 60)
    assert len(reel_of(Drawing.of(scene))[0].pictures) < 60 < scene.length, "tiles are counted, not frames"
    with pytest.raises(RenderError, match="would need 61 pictures"):
        reel_of(Drawing.of(scene, (128, 72)))


# Alone


def test_a_step_is_a_whole_number_of_px_one_way():
    assert step_of((0, 10), (0, 4)) == (Way(False, False), 6) and step_of((0, 4), (0, 10)) == (Way(False, True), 6)
    assert step_of((9, 0), (2, 0)) == (Way(True, False), 7) and step_of((2, 0), (9, 0)) == (Way(True, True), 7)
    for after in ((0, 0), (0, 1.5), (3, 3), (0.4, 0), (0, 0.9)):
        assert step_of((0, 0), after) is None, after
    assert step_of((0, 0.25), (0, -5.7500001)) == (Way(False, False), 6)


@pytest.mark.parametrize("way", [Way(a, b) for a in (False, True) for b in (False, True)])
def test_a_run_gives_back_every_frame(way):
    """Noise that moves 1 to 90 px at a time, any way: put together again it is what was given, over many tiles."""
    rng, kept = np.random.default_rng(3), []
    strip = rng.integers(0, 255, (2000, 70, 4), np.uint8)
    strip[300:900] = 0
    run = Run(way, lambda picture: kept.append(picture) or len(kept) - 1, 100)
    at, by, frames = 0, 0, []
    for number in range(24):
        frames.append(way.turned_back(strip[at : at + 100]))
        if number == 0:
            run.begin(0, frames[0])
        elif not run.take(number, frames[-1], by):
            assert 200 < at < 1000, "where nothing is in sight it ends"
            break
        by = int(rng.integers(1, 90)) if number > LEAST else 20
        at += by
    told = dict(run.end())
    assert len(told) >= LEAST and len(kept) >= 1
    for number, lying in told.items():
        made = np.zeros_like(frames[number])
        for index, x, y in lying:
            picture = kept[index]
            for row in range(picture.shape[0]):
                for_y = y + row
                if 0 <= for_y < made.shape[0]:
                    left = max(0, -x)
                    right = min(picture.shape[1], made.shape[1] - x)
                    made[for_y, x + left : x + right] = picture[row, left:right]
        shown_ = frames[number].copy()
        shown_[shown_[..., 3] == 0] = 0
        made[made[..., 3] == 0] = 0
        assert np.array_equal(made, shown_), number


def test_what_has_changed_on_the_way_is_not_taken():
    rng = np.random.default_rng(5)
    strip = rng.integers(1, 255, (300, 40, 4), np.uint8)
    run = Run(Way(False, False), lambda picture: 0, 100)
    run.begin(0, strip[:100])
    other = strip[10:110].copy()
    other[50, 20, 1] ^= 1
    assert not run.take(1, other, 10) and run.offsets == {0: 0}
    assert not run.take(1, strip[10:110], 100) and not run.take(1, strip[10:110], 250)
    assert run.take(1, strip[10:110], 10) and run.offsets == {0: 0, 1: 10}
