"""Letters that a face has not: slanted, heavier, in equal room. Against fontTools' and Skia's own outlines."""

import math

import msgspec
import numpy as np
import pytest
from conftest import DEMO
from fontTools.misc.transform import Transform
from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.transformPen import TransformPen
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st

from avlet.document.parts import Place, Room, TextPart
from avlet.document.template import Frame, Template
from avlet.layout.holding import hold
from avlet.paint.outlines import glyph_path, unit_paths
from avlet.paint.scene import Scene
from avlet.storage.package import open_template, save_template
from avlet.text.setting import set_text

replace = msgspec.structs.replace
WORDS = TextPart(
    id="word", name="Word", text="Harbour", family="Inter", style="Bold", size=100.0, across=Place(gap=100.0), down=Place(gap=100.0)
)


def test_a_slanted_letter_is_the_faces_own_outline_sheared(book):
    """By fontTools' pens over the font file itself: the reference for outlines and their bounds."""
    face = book.find("Fira Sans", "Bold")[0]
    slanted = face.drawn_as(12.0, 0.0)
    font = TTFont(face.path or __import__("io").BytesIO(face.data))
    glyphs, names = font.getGlyphSet(), font.getGlyphOrder()
    for letter in "HfgÅ":
        number = font.getReverseGlyphMap()[font.getBestCmap()[ord(letter)]]
        bounds = BoundsPen(glyphs)
        glyphs[names[number]].draw(TransformPen(bounds, Transform(1, 0, math.tan(math.radians(12)), 1, 0, 0)))
        box = glyph_path(slanted, number).computeTightBounds()
        assert (box.left(), -box.bottom(), box.right(), -box.top()) == pytest.approx(bounds.bounds, abs=1.0)
    setting = set_text(replace(WORDS, family="Fira Sans", text="H", slant=12.0), book)
    path = unit_paths(setting, "whole")[0].computeTightBounds()
    assert setting.ink_box == pytest.approx((path.left(), path.top(), path.width(), path.height()), abs=0.1), (
        "the ink is that of the outline"
    )


@pytest.mark.parametrize("weight", [2.0, 8.0])
def test_a_heavier_letter_grows_by_half_to_all_sides_and_moves_the_next_one_on(book, weight):
    plain, heavy = set_text(replace(WORDS, text="II"), book), set_text(replace(WORDS, text="II", weight=weight), book)
    widths = [s.unit_ink("character")[:, 2] - s.unit_ink("character")[:, 0] for s in (plain, heavy)]
    assert widths[1] == pytest.approx(widths[0] + weight, abs=0.01)
    gaps = [s.unit_ink("character")[1, 0] - s.unit_ink("character")[0, 2] for s in (plain, heavy)]
    assert gaps[1] == pytest.approx(gaps[0], abs=0.01), "as much room between as before"
    paths = [unit_paths(s, "character")[0].computeTightBounds() for s in (plain, heavy)]
    assert paths[1].width() == pytest.approx(paths[0].width() + weight, abs=0.1) and paths[1].height() == pytest.approx(
        paths[0].height() + weight, abs=0.1
    )


def test_a_heavier_letter_is_one_outline_without_lines_inside(book):
    path = unit_paths(set_text(replace(WORDS, text="i", weight=6.0), book), "character")[0]
    contours = sum(verb == 0 for verb, _ in path)
    assert contours == 2, "its dot and its stem"


def test_it_is_painted_and_comes_through_file_and_worker(book, tmp_path):
    template = hold(Template(frame=Frame(900, 300), parts=(replace(WORDS, slant=14.0, weight=4.0),)))
    save_template(template, tmp_path / "a.avlet", book)
    opened = open_template(tmp_path / "a.avlet")
    one, other = Scene(template, book).picture(50), Scene(opened.template, opened.book).picture(50)
    assert np.array_equal(one, other) and not np.array_equal(one, Scene(hold(replace(template, parts=(WORDS,))), book).picture(50))


def test_it_is_said_when_it_is_used(book):
    def notes(**named):
        return Scene(hold(Template(parts=(replace(WORDS, **named),))), book).notes()

    assert notes() == []
    assert notes(slant=12.0, family="Alegreya") == ["Word is slanted by 12°, which Alegreya Bold is not; Alegreya has Italic."] or any(
        "slanted by 12°" in n for n in notes(slant=12.0, family="Alegreya")
    )
    assert notes(weight=3.0) == ["Word is 3 px heavier, which Inter Bold is not."]
    assert any("slanted by -8° and 2 px heavier" in words for words in notes(slant=-8.0, weight=2.0))


# Equal room


@given(st.text("abcMWil. é", min_size=1, max_size=12).filter(lambda t: t.strip()))
def test_each_letter_stands_in_the_middle_of_a_room_as_wide_as_the_widest(book, text):
    setting = set_text(replace(WORDS, text=text, equal_room=True), book)
    widest = max(set_text(replace(WORDS, text=letter), book).line_box.w for letter in text)
    assert setting.line_box.w == pytest.approx(len(text) * widest, abs=0.5)
    ink = setting.unit_ink("character")
    seen = [n for n, letter in enumerate(text) if letter.strip()]
    for number, place in enumerate(seen):
        alone = set_text(replace(WORDS, text=text[place]), book)
        left = alone.unit_ink("character")[0, 0] + (widest - alone.line_box.w) / 2 + place * widest
        assert ink[number, 0] == pytest.approx(left, abs=0.5)


def test_all_lines_have_the_same_room_and_tracking_lies_between(book):
    two = set_text(replace(WORDS, text="MM\nii", equal_room=True), book)
    assert two.lines[0].width == pytest.approx(two.lines[1].width)
    tracked = set_text(replace(WORDS, text="MM\nii", equal_room=True, tracking=100.0), book)
    assert tracked.lines[1].width == pytest.approx(two.lines[1].width + 10.0)
    fitted = set_text(replace(WORDS, text="Harbour", equal_room=True, room=Room(width=400.0)), book)
    assert fitted.line_box.w <= 400.5, "a room counts with it"


def test_letters_that_join_stay_together(book):
    arabic = replace(WORDS, text="ياسمين", family="Noto Sans Arabic", equal_room=True)
    plain = set_text(replace(arabic, equal_room=False), book)
    assert set_text(arabic, book).line_box.w == pytest.approx(plain.line_box.w, rel=0.02)


def test_the_demo_is_as_it_was(book):
    one = open_template(DEMO / "name-strap.avlet")
    assert all((p.slant, p.weight, p.equal_room) == (0.0, 0.0, False) for p in one.template.parts if isinstance(p, TextPart))
