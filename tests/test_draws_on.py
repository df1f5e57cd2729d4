"""*Draws on*: the outline first, the fill over the last third; what has no outline is given one, and that is said."""

import numpy as np
import pytest
from hands import chip, choose, settle

from avlet.document.editing.outlining import lacks_a_line, with_a_line
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Outline, Solid
from avlet.document.looks.pictures import read_picture
from avlet.document.parts import PictureFile, PicturePart, Place, ShapePart, TextPart
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import READY_MOVES, Move
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts

FRAME = Frame(320, 180, "25/1")
SVG = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 60"><path d="M5 5 H95 V55 H5 Z" fill="#2F6A78"/></svg>'
EVEN = READY_EASES["even"]


def titled(part):
    return check(Template(parts=(part,), frame=FRAME, length=100, way_in=30, way_out=30))


def drawing(**values):
    return Move(**{"drawn": 0.0, "fills_after": True, "frames": 30, "ease": EVEN, **values})


def shape(**values):
    given = {"width": 200.0, "height": 100.0, "across": Place(gap=60), "down": Place(gap=40), "fill": Solid("#2F6A78"),
             "outline": Outline(6, "middle", "round", Solid("#F4B23E")), "way_in": (drawing(),)}  # fmt: skip
    return ShapePart(id="box", name="Box", **{**given, **values})


def alpha(template, frame, x=160, y=90):
    return int(Scene(template, bundled_fonts()).picture(frame)[y, x, 3])


@pytest.mark.parametrize(("frame", "share"), [(0, 0), (10, 0), (20, 0), (25, 0.5), (30, 1), (40, 1)])
def test_the_fill_comes_over_the_last_third(frame, share):
    assert alpha(titled(shape()), frame) == pytest.approx(255 * share, abs=3)
    line = Scene(titled(shape()), bundled_fonts()).picture(frame)
    gold = (np.abs(line[..., :3].astype(int) - [244, 178, 62]).sum(-1) < 40) & (line[..., 3] > 200)
    assert bool(gold.any()) == (frame > 0), "the line is drawn before"


def test_a_move_that_only_draws_leaves_the_fill_as_it_was():
    assert alpha(titled(shape(way_in=(drawing(fills_after=False),))), 10) == 255
    assert READY_MOVES["draws on"].fills_after and not Move().fills_after


def test_letters_fill_one_after_another():
    words = TextPart(
        id="words", name="Words", text="IIIIIIII", size=90.0, style="Bold", across=Place(gap=20), down=Place(gap=30), fill=Solid("#FFFFFF"),
        outline=Outline(2, "outside", "round", Solid("#2F6A78")), way_in=(drawing(by="character", overlap=0.0),),
    )  # fmt: skip
    picture = Scene(titled(words), bundled_fonts()).picture(16)
    white = (picture[..., :3] > 240).all(-1) & (picture[..., 3] > 240)
    columns = np.flatnonzero(white.any(0))
    whole = np.flatnonzero(((Scene(titled(words), bundled_fonts()).picture(40)[..., :3] > 240).all(-1)).any(0))
    assert columns.min() == whole.min() and columns.max() < whole.max() - 20, "the first are filled, the last are not"


def test_it_leaves_as_it_came():
    assert [alpha(titled(shape()), f) for f in (99, 89, 79)] == [0, 0, 0] and alpha(titled(shape()), 74) == pytest.approx(128, abs=3)
    assert alpha(titled(shape()), 69) == 255


def test_an_imported_drawing_draws_its_outline_and_fills_after():
    file = PictureFile("mark.svg", SVG)
    assert not read_picture(file).fault
    part = PicturePart(
        id="mark", name="Mark", picture=file, width=200.0, height=120.0, across=Place(gap=60), down=Place(gap=30), way_in=(drawing(),)
    )
    assert lacks_a_line(titled(part), "mark")
    template = with_a_line(titled(part), "mark")
    assert not lacks_a_line(template, "mark") and template.part("mark").outline.width == pytest.approx(4 * 180 / 1080)
    assert (
        [alpha(template, f) for f in (10, 20)] == [0, 0] and alpha(template, 25) == pytest.approx(128, abs=3) and alpha(template, 40) == 255
    )
    assert Scene(template, bundled_fonts()).picture(15)[..., 3].any(), "its line is there before"


@pytest.mark.parametrize(
    ("fill", "line"), [("#2F6A78", "#2F6A78"), ("#2F6A78FF", "#2F6A78"), ("#2F6A7800", "#FFFFFF"), ("#2F6A7880", "#2F6A78")]
)
def test_the_line_has_the_colour_of_the_fill_where_that_is_seen(fill, line):
    assert with_a_line(titled(shape(outline=None, fill=Solid(fill))), "box").part("box").outline.fill == Solid(line)


def test_chosen_for_what_has_no_outline_it_brings_one_and_says_so(window, qtbot):
    session, said = window.session, []
    session.refused.connect(said.append)
    session.select("plate")
    settle()
    assert session.template.part("plate").outline is None
    choose(qtbot, chip(window, "add move"), "draws on")
    assert session.template.part("plate").outline is not None and session.template.part("plate").way_in[-1].drawn == 0
    assert said == ["Plate had no outline to be drawn: it has one now. Its width and colour are under Outline."]
    choose(qtbot, chip(window, "add move"), "fades")
    assert len(said) == 1
    window.undo()
    window.undo()
    assert session.template.part("plate").outline is None, "one undo takes both back"
