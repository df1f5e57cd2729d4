"""What may go wrong with a space, and what is said of one."""

import math

import msgspec
import numpy as np
import pytest
from space_parts import FLAT_LIGHT, MIDDLE, SMALL, scene, sheet, template, word

from avlet.document.looks.paints import Solid
from avlet.document.parts import (
    Camera,
    Fit,
    GroupPart,
    LampPart,
    Place,
    ShapePart,
    Sky,
    SpacePart,
    Sun,
)
from avlet.document.solids import Solidity, Stand
from avlet.document.template import Template
from avlet.document.time.moves import Move
from avlet.paint.scene import Scene
from avlet.paint.space_bodies import stage_of
from avlet.solid import drawer, drawing, sights
from avlet.solid.graphics_card import MOST_LET_GO, MOST_PROGRAMS
from avlet.solid.shaders import BODY_FRAGMENT, BODY_VERTEX

# What may go wrong


def test_without_opengl_fronts_are_painted_flat_and_that_is_said(book, monkeypatch):
    made = scene(book, sheet(), word())
    monkeypatch.setattr(drawing, "fault", lambda: "Nothing here draws solid letters. Install it.")
    flat = Template(name="Flat", frame=SMALL, length=60, way_in=20, way_out=0, parts=(sheet(), word(), GroupPart(id="space", name="Group")))
    assert np.array_equal(made.picture(30), Scene(flat, book).picture(30))
    assert any("Space is shown flat. Nothing here draws" in note for note in made.notes())


def test_what_is_not_drawn_in_depth_is_said(book):
    from avlet.document.looks.paints import Glow

    part = word(glow=Glow(), blur=3.0, solid=Solidity(depth=20.0, edging="rounded", edge=60.0))
    notes = scene(book, sheet(), part).notes()
    assert any("The glow and the blur of Word are not drawn in Space" in note for note in notes)
    assert any("The edge of Word is" in note and "not 60, where its strokes are thin" in note for note in notes)
    assert not [note for note in scene(book, sheet(), word()).notes() if "Space" in note or "edge" in note]
    thin = ShapePart(
        id="bar", name="Bar", width=400.0, height=20.0, group="space", solid=Solidity(depth=50.0, edging="chamfered", edge=30.0)
    )
    assert [note for note in scene(book, thin).notes() if note.startswith("The edge of Bar is ")]


def test_a_fit_across_depths_is_said(book):
    plate = ShapePart(id="plate", name="Plate", fit=Fit(("word",)), across=None, down=None, group="space")
    (said,) = [n for n in scene(book, plate, word(stand=Stand(before=100.0), solid=None)).notes() if "Plate" in n]
    away = 135 / math.tan(math.radians(17))
    share = (away / (away - 100) - 1) * 100
    assert said == (
        f"Plate fits around Word, whose front stands 100 px nearer: seen from the front it is {share:.0f} % too small. "
        "Let one of them stand on the other."
    )
    (said,) = [n for n in scene(book, msgspec.structs.replace(plate, stand=Stand(before=100.0)), word(solid=None)).notes() if "Plate" in n]
    assert "100 px farther" in said and "too large" in said
    on_it = word(stand=Stand(on="plate"), solid=None)
    assert not [n for n in scene(book, plate, on_it).notes() if "Plate" in n]


def test_a_lamp_outside_of_spaces_is_said(book):
    lamp = LampPart(id="lamp", name="Lamp")
    assert any("Lamp stands in no space and lights nothing" in n for n in scene(book, word(), lamp).notes())
    assert not any("Lamp" in n for n in scene(book, word(), msgspec.structs.replace(lamp, group="space")).notes())


@pytest.mark.parametrize(
    ("parts", "space"),
    [
        ((word(solid=Solidity(depth=0.0)),), {}),
        ((word(solid=Solidity(depth=10_000.0)),), {}),
        ((word(solid=Solidity(depth=300.0, edging="rounded", edge=200.0), stand=Stand(before=400.0)),), {}),
        ((word(),), {"camera": Camera(distance=10.0)}),
        ((sheet(), word(stand=Stand(swing=90.0, tilt=90.0))), {"camera": Camera(up=89.0, round=90.0)}),
        ((sheet(), word()), {"camera": Camera(up=-89.0, angle=120.0, to_z=-9_000.0)}),
        ((sheet(), word()), {"sun": Sun(round=90.0, up=0.0)}),
        ((sheet(), word()), {"sun": Sun(round=180.0, up=-89.0, soft=200.0)}),
        ((sheet(width=0.0), word(text="")), {}),
        ((sheet(), word(scale_x=0.0)), {}),
        ((sheet(), word(opacity=0.0)), {}),
        ((word(text="O" * 200, size=20.0),), {}),
        ((word(way_in=(Move(scale_x=0.0, turn_x=90.0, z=5_000.0, by="character"),)),), {"sky": Sky(0.0), "sun": Sun(0.0)}),
    ],
)  # fmt: skip
def test_odd_spaces_are_drawn_all_the_same(book, parts, space):
    made = scene(book, *parts, **space)
    for frame in (0, 7, 30, 59):
        picture = made.picture(frame)
        assert picture.shape == (270, 480, 4) and (picture[..., :3] <= picture[..., 3:]).all(), "premultiplied"
    assert stage_of(made.pose(30), made.rest.parts["space"].part).light.white[0] > 0


def test_a_driver_that_is_not_there_is_said(monkeypatch):
    import moderngl

    def broken(**_):
        raise RuntimeError("no EGL here")

    monkeypatch.setattr(moderngl, "create_context", broken)
    monkeypatch.setattr(drawing, "_made", drawing._made.__wrapped__)
    assert "no EGL here" in drawing.fault() and "apt-get install" in drawing.fault()
    with pytest.raises(drawing.NoDrawingError):
        drawing.draw(None, (0, 0, 1, 1), 1, 1)


def test_what_is_drawn_into_is_let_go(book):
    """Memory of the process while boxes of many sizes are drawn."""

    def held():
        with open("/proc/self/statm") as file:
            return int(file.read().split()[1]) * 4096 / 1024**2

    stage = stage_of(scene(book, sheet(), word()).pose(30), SpacePart(id="space", name="Space"))
    found = []
    for _ in range(3):
        for number in range(12):
            drawing.draw(stage, (0, 0, 480, 270), 400 + 260 * (number % 5), 300 + 130 * (number % 4))
        found.append(held())
    assert found[2] - found[0] < 60 and len(drawing._drawer().card.targets) <= 4


def test_shadows_are_looked_for_where_they_fall(book, monkeypatch):
    """The area on a sheet: what is drawn with it is what is drawn without it."""
    made = stage_of(
        scene(book, sheet(), word(), camera=Camera(round=25, up=15)).pose(30),
        template(sheet(), word(), camera=Camera(round=25, up=15)).part("space"),
    )
    area = sights.shadows_on(made, made.bodies[0])
    assert area is not None and area[0][2] - area[0][0] < 470
    quick = drawing.draw(made, (0, 0, 480, 270), 480, 270)
    monkeypatch.setattr(drawer, "shadows_on", lambda *_: None)
    monkeypatch.setattr(drawer, "focus", lambda *_: None)
    assert np.abs(drawing.draw(made, (0, 0, 480, 270), 480, 270).astype(int) - quick).max() <= 1
    assert sights.shadows_on(made, made.bodies[1]) is None, "what is solid shades itself"


def test_pictures_are_textured_sheets(book):
    import io

    from PIL import Image

    from avlet.document.parts import PictureFile, PicturePart

    rng = np.random.default_rng(5)
    small = Image.fromarray(rng.integers(0, 255, (6, 10, 3), np.uint8)).resize((200, 120))
    out = io.BytesIO()
    small.save(out, "PNG")
    part = PicturePart(
        id="p", name="Picture", group="space", picture=PictureFile("a.png", out.getvalue()), width=200.0, height=120.0, **MIDDLE
    )
    inside = scene(book, part, **FLAT_LIGHT).picture(30).astype(int)
    plain = Template(frame=SMALL, length=60, way_in=20, way_out=0, parts=(part, GroupPart(id="space", name="Group")))
    other = Scene(plain, book).picture(30).astype(int)
    assert np.abs(inside - other).mean() < 1.0 and inside[135, 240, 3] == 255
    solid = msgspec.structs.replace(part, solid=Solidity(depth=40.0, sides="their own", side="#00FF00"))
    turned = scene(book, solid, camera=Camera(round=50), **FLAT_LIGHT).picture(30)
    assert ((turned[..., 1] > 230) & (turned[..., 0] < 20) & (turned[..., 3] == 255)).sum() > 200, "its sides have a colour of their own"


def test_a_copy_of_a_process_that_draws_paints_flat_and_says_so(book):
    """``avlet check`` works in a copy of the process, which has none of its threads: nothing may wait there for ever."""
    from avlet.storage.bounded import bounded

    made = scene(book, sheet(), word())
    here = made.picture(30).tobytes()
    assert "in a copy of a process" in bounded(drawing.fault, "a space")
    rested = drawing.rest(0.0)
    if rested is not None:
        rested.result(30)
    assert "in a copy of a process" in bounded(drawing.fault, "a space"), "also after it rests: the driver's threads stayed behind"
    assert bounded(lambda: made.picture(12, 240, 135).shape, "a space") == (135, 240, 4)
    assert made.picture(30).tobytes() == here and not drawing.fault()


def test_what_holds_is_told_of_what_the_camera_sees(book):
    """A word wider than the picture holds where the camera has stepped back; one that fits does not where it has come near."""
    from avlet.review.samples import verdict

    wide = word(size=240.0, solid=None)
    assert scene(book, wide).rest.parts["word"].ink.w > 432
    assert verdict(scene(book, wide)) != "holds"
    assert verdict(scene(book, wide, camera=Camera(distance=200.0))) == "holds"
    small = word(size=110.0, solid=None)
    assert verdict(scene(book, small)) == "holds"
    assert verdict(scene(book, small, camera=Camera(distance=40.0))) == "past the frame"
    nearer = word(size=110.0, solid=None, stand=Stand(before=250.0))
    assert verdict(scene(book, nearer)) != "holds"


def test_a_sheet_may_reach_out_of_a_picture_that_it_covers_or_whose_camera_turns(book):
    from avlet.review.samples import findings

    large = sheet(width=900.0, height=600.0)
    assert not findings(scene(book, large))
    assert not findings(scene(book, sheet(width=480.0, height=270.0), camera=Camera(round=30.0)))
    aside = sheet(width=100.0, height=80.0, across=Place(gap=430.0))
    assert [f.verdict for f in findings(scene(book, aside))] == ["past the frame"] * 2, "and one that leaves it is said, with its space"


def test_type_is_as_small_as_the_camera_makes_it(book):
    from avlet.review.checks.small_type import run
    from avlet.review.looked import Looked

    one = word(size=14.0, solid=None)
    assert not list(run(Looked(scene(book, one), "")))
    assert list(run(Looked(scene(book, one, camera=Camera(distance=300.0)), "")))


def test_solid_letters_are_read_by_their_fronts(book):
    """Dark sides on a dark sheet are no fault of bright fronts."""
    from avlet.review.checks.contrast import contrast_of
    from avlet.review.looked import Looked

    sides = Solidity(depth=60.0, sides="their own", side="#102030")
    bright = word(fill=Solid("#FFFFFF"), solid=sides)
    looked = Looked(scene(book, sheet(colour="#102030"), bright, camera=Camera(round=35.0)), "")
    alone, behind, fronts = looked.alone("word", 30), looked.behind("word", 30), looked.fronts("word", 30)
    assert contrast_of(alone, behind)[0] < 1.5 and contrast_of(alone, behind, fronts)[0] > 10
    assert 1_000 < fronts.sum() < (alone[..., 3] > 127).sum()
    assert looked.fronts("sheet", 30) is None


def built_for(card, first, last):
    """The programs of one picture, in the thread that they belong to."""
    card.begin_picture()
    return [card.program(BODY_VERTEX, BODY_FRAGMENT, f"NUMBER {number}") for number in range(first, last)]


def test_a_picture_keeps_all_programs_that_it_needs(book):
    """However many: else each picture would build them anew."""
    drawing.draw(stage_of(scene(book, sheet(), word()).pose(30), SpacePart(id="space", name="Space")), (0, 0, 480, 270), 48, 27)
    card = drawing._drawer().card
    once, again = (drawing._thread().submit(built_for, card, 100, 104 + MOST_PROGRAMS).result() for _ in range(2))
    assert once == again and not card.worn
    drawing._thread().submit(built_for, card, 200, 201).result()
    assert len(card._programs) <= MOST_PROGRAMS + 1


def test_a_worn_context_gives_way_to_a_new_one(book):
    """Drivers keep some of each program that was ever built: after so many another context draws the same picture, and nothing is lost."""
    made = stage_of(scene(book, sheet(), word()).pose(30), SpacePart(id="space", name="Space"))
    before = drawing.draw(made, (0, 0, 480, 270), 480, 270)
    first = drawing._drawer()
    for number in range(MOST_PROGRAMS + MOST_LET_GO + 2):
        drawing._thread().submit(built_for, first.card, number, number + 1).result()
        assert len(first.card._programs) <= MOST_PROGRAMS + 1
    assert first.card.worn
    assert np.array_equal(drawing.draw(made, (0, 0, 480, 270), 480, 270), before)
    assert drawing._drawer() is not first and not drawing._drawer().card.worn and not drawing.fault()


def test_a_context_rests_while_nothing_is_drawn(book):
    """What lies in its memory goes after a while, and the next picture is the same."""
    made = stage_of(scene(book, sheet(), word()).pose(30), SpacePart(id="space", name="Space"))
    before = drawing.draw(made, (0, 0, 480, 270), 480, 270)
    first = drawing._drawer()
    drawing.rest(1_000)
    drawing._thread().submit(int).result()
    assert drawing._drawer() is first
    drawing.rest(0)
    drawing._thread().submit(int).result()
    assert drawing._made.cache_info().currsize == 0
    assert np.array_equal(drawing.draw(made, (0, 0, 480, 270), 480, 270), before)
    assert drawing._drawer() is not first and not drawing.fault()
