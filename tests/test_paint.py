"""Pixels: premultiplied, clipped by outlines only, smooth in between, the same at every size."""

import numpy as np
import pytest
from conftest import plated

from avlet.document.editing import edits
from avlet.document.editing.grouping import moved_to
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Move
from avlet.paint.scene import Scene, first_alike
from avlet.text.fonts import bundled_fonts


def scene(template, **answers) -> Scene:
    return Scene(template, bundled_fonts(), answers)


def test_empty_outside_and_full_inside_the_plate():
    made = scene(plated())
    picture, box = made.picture(50), made.rest.parts["plate"].box
    x0, y0, x1, y1 = (round(v) for v in (box.x, box.y, box.right, box.bottom))
    outside = picture.copy()
    outside[y0 - 1 : y1 + 1, x0 - 1 : x1 + 1] = 0
    assert not outside.any()
    assert (picture[y0 + 31 : y1 - 31, x0 + 2 : x1 - 2, 3] == 255).all()
    assert picture[y0 + 40, x0 + 10].tolist() == [0x20, 0x43, 0x5C, 255]


def test_pixels_are_premultiplied():
    made = scene(edits.set_property(plated(), "plate/opacity", 40))
    picture = made.picture(50)
    assert (picture[..., :3].max(axis=2) <= picture[..., 3]).all()
    box = made.rest.parts["plate"].box
    assert picture[round(box.y + 40), round(box.x + 12)].tolist() == pytest.approx([0x20 * 0.4, 0x43 * 0.4, 0x5C * 0.4, 255 * 0.4], abs=1.5)


@pytest.mark.parametrize(
    ("path", "value"), [("plate/opacity", 0), ("plate/shown", False), ("plate/opacity", 30), ("plate/fill.colour", "#FF000000")]
)
def test_a_matte_minds_neither_opacity_nor_fill_nor_visibility(path, value):
    """What is seen of the text alone is the same, pixel for pixel, whatever its matte looks like."""
    hidden = edits.set_property(plated(), "plate/opacity", 0)
    changed = edits.set_property(hidden, path, value) if "opacity" not in path else edits.set_property(plated(), path, value)
    for frame in (7, 9, 14, 50, 91):
        alone = scene(hidden).picture(frame)
        other = scene(changed).picture(frame)
        white = (alone == 255).all(axis=2)
        assert (other[white] == 255).all()
        if value != 30:
            assert np.array_equal(alone, other)


def test_a_matte_clips_to_its_round_corner():
    template = edits.set_property(plated("MMMMMM"), "plate/corner", 120)
    for edge in ("left", "right", "top", "bottom"):
        template = edits.set_property(template, f"plate/fit.{edge}", 0)
    template = edits.set_relations(edits.set_property(template, "plate/shown", False), "name", way_in=())
    made = scene(edits.set_relations(template, "plate", way_in=()))
    box = made.rest.parts["plate"].box
    picture = made.picture(50)
    assert not picture[round(box.y) : round(box.y) + 12, round(box.x) : round(box.x) + 12].any()


def test_the_matte_is_the_outline_as_it_stands_in_that_frame():
    template = edits.set_relations(plated(), "name", way_in=())
    made = scene(template)
    pose = made.pose(3)
    plate, name = pose.parts["plate"].outline_box, pose.visible_box("name")
    assert name is not None
    assert name.right <= plate.right + 1e-6
    assert plate.right < made.rest.parts["name"].box.right


def test_corners_stay_round_while_a_plate_unfolds():
    made = scene(edits.set_property(edits.set_property(plated(""), "plate/fit.left", 300), "plate/fit.vanishes", False))
    box = made.pose(6).parts["plate"].outline_box
    picture = made.picture(6)
    assert box.w > 100
    assert picture[round(box.y) + 1, round(box.x) + 1, 3] == 0
    assert picture[round(box.y) + 30, round(box.right) - 2, 3] == 255


def test_same_picture_at_2160_but_for_resolution(name_strap):
    for frame in (8, 60):
        made = scene(name_strap)
        small, large = made.picture(frame), made.picture(frame, 3840, 2160)
        halved = large.reshape(1080, 2, 1920, 2, 4).astype(float).mean(axis=(1, 3))
        difference = np.abs(halved - small)
        assert difference.mean() < 0.03
        assert (difference > 40).mean() < 5e-5


def test_letters_glide_without_jitter():
    """The centre of a moving letter's ink follows the pose to less than a tenth of a px: nothing is rounded to whole or quarter px."""
    template = edits.set_relations(plated("o"), "name", mattes=(), way_in=(Move(x=40, y=9, frames=60, ease=READY_EASES["even"]),))
    template = edits.set_property(template, "plate/shown", False)
    template = edits.replace(template, length=200, way_in=60, way_out=60)
    made = scene(template)
    rows, columns = np.mgrid[0:1080, 0:1920]
    found, wanted = [], []
    for frame in range(20, 44):
        alpha = made.picture(frame)[..., 3].astype(float)
        found.append([(alpha * columns).sum() / alpha.sum(), (alpha * rows).sum() / alpha.sum()])
        wanted.append(made.pose(frame).parts["name"].shift[0])
    drift = np.array(found) - np.array(wanted)
    assert np.abs(drift - drift.mean(axis=0)).max() < 0.1


def test_parts_lie_back_to_front():
    template = plated()
    swapped = moved_to(template, "plate", None, "name")
    assert not np.array_equal(scene(template).picture(50), scene(swapped).picture(50))
    assert not (scene(swapped).picture(50)[..., :3] == 255).all(axis=2).any()


def test_equal_frames_are_found_once(name_strap):
    alike = first_alike(scene(name_strap))
    assert len(alike) == 125
    assert len(set(alike)) == 27
    made = scene(name_strap)
    for frame in (0, 10, 60, 115, 124):
        assert np.array_equal(made.picture(frame, 480, 270), made.picture(alike[frame], 480, 270))


def test_text_of_ten_thousand_characters_paints():
    picture = scene(plated("Tide flats " * 1000)).picture(50, 480, 270)
    assert picture.any()
