"""A light that passes: where its band lies, by its own sum; within the outline only; when it passes; by hands."""

import msgspec
import numpy as np
import pytest
from conftest import DEMO
from hands import settle
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QToolButton

from avlet.desktop.recipe.look_rows import LookRow
from avlet.document.looks.colours import channels
from avlet.document.looks.glint import Glint, band
from avlet.document.looks.paints import Outline, Solid
from avlet.document.parts import Place, ShapePart
from avlet.document.template import Frame, Template
from avlet.layout.holding import hold
from avlet.motion.keyed import glint_value
from avlet.motion.spans import spans_at
from avlet.paint.scene import Scene, first_alike
from avlet.storage.package import open_template

replace = msgspec.structs.replace
LEFT = Qt.MouseButton.LeftButton
SET = Glint(passes="where it is set", at=50.0, width=20.0, soft=0.0, slant=0.0, strength=100.0)


def plate(glint, **named):
    part = ShapePart(id="plate", name="Plate", width=400.0, height=100.0, corner=0.0, fill=Solid("#204060"), glint=glint, across=Place(gap=50.0),
                     down=Place(gap=50.0), **named)  # fmt: skip
    return hold(Template(frame=Frame(500, 200), parts=(part,), length=100, way_in=20, way_out=20))


def row(glint, book, frame=50):
    return Scene(plate(glint), book).picture(frame)[100].astype(int)


@pytest.mark.parametrize(("at", "left", "right"), [(50.0, 160, 240), (25.0, 40, 120), (10.0, -32, 48), (90.0, 352, 432)])
def test_a_hard_band_lies_where_its_share_says(book, at, left, right):
    """With a width of 20 % the band of 80 px goes from −80 to 400 px of a box of 400: at 50 % it covers 160 to 240."""
    pixels = row(replace(SET, at=at), book)[50:450, :3]
    lit = (pixels == 255).all(1)
    expected = np.zeros(400, bool)
    expected[max(0, left) : min(400, right)] = True
    assert (lit != expected).sum() <= 2, "its edges, to a px"
    assert (pixels[~expected][2:-2] == [32, 64, 96]).all() or at in (10.0, 90.0)


@given(st.floats(1, 99), st.floats(1, 300), st.floats(0, 100), st.floats(0, 100), st.sampled_from(["#FFFFFF", "#F4B23E80"]))
def test_a_soft_band_is_the_trapezium_that_it_is_told_to_be(at, width, soft, strength, colour):
    half, middle = width / 2, -width / 2 + at / 100 * (100 + width)
    flat = half * (1 - soft / 100)
    stops = band(Glint(colour, strength, width, soft, 20.0, "where it is set", at)).stops
    alpha = channels(colour)[3]
    for stop in stops[1:-1]:
        away = abs(stop.at - middle)
        share = 1.0 if away <= flat + 1e-9 else 0.0 if away >= half - 1e-9 else (half - away) / max(1e-12, half - flat)
        seen = channels(stop.colour)[3]
        hard = half - flat < 1e-6
        assert 0 <= stop.at <= 100 and (abs(seen - alpha * strength / 100 * share) <= 1.0 or (hard and seen == 0))
    assert [s.at for s in stops] == sorted(s.at for s in stops) and stops[0].at == 0 and stops[-1].at == 100


def test_it_stays_within_the_outline_and_changes_nothing_before_and_after(book):
    bare = Scene(plate(None, outline=Outline(width=6.0)), book).picture(50)
    for at in (0.0, 100.0):
        assert np.array_equal(Scene(plate(replace(SET, at=at), outline=Outline(width=6.0)), book).picture(50), bare)
    lit = Scene(plate(SET, outline=Outline(width=6.0)), book).picture(50)
    assert np.array_equal(lit[..., 3], bare[..., 3]), "no px more than without it"
    changed = np.argwhere((lit != bare).any(2))
    assert changed[:, 0].min() == 44 and changed[:, 0].max() == 155, "its line is lit as well"


def test_words_are_lit_as_one_and_not_letter_by_letter(book):
    one = open_template(DEMO / "name-strap.avlet")
    lit = replace(one.template, parts=tuple(replace(p, glint=SET) if p.id == "name" else p for p in one.template.parts))
    bare = replace(one.template, parts=tuple(replace(p, fill=Solid("#FF0000")) if p.id == "name" else p for p in one.template.parts))
    scene = Scene(hold(replace(lit, parts=tuple(replace(p, fill=Solid("#FF0000")) if p.id == "name" else p for p in lit.parts))), one.book)
    changed = np.argwhere((scene.picture(60) != Scene(hold(bare), one.book).picture(60)).any(2))
    box = scene.rest.parts["name"].box
    assert changed[:, 1].min() >= box.x + 0.4 * box.w - 2 and changed[:, 1].max() <= box.x + 0.6 * box.w + 2


@pytest.mark.parametrize(("passes", "begins"), [("as it comes", 5), ("while it holds", 25), ("again and again", 25)])
def test_when_it_passes(book, passes, begins):
    glint = Glint(passes=passes, start=5.0, frames=10.0, every=25.0)
    template = plate(glint)
    spans = spans_at(template, 100)
    at = [glint_value(template.parts[0], spans, frame)["glint.at"] for frame in range(100)]
    assert at[begins] == 0 and at[begins + 5] == 50 and at[begins + 10] == 100 and not any(at[:begins])
    again = [at[begins + 25 + n] for n in (0, 5, 10)]
    assert again == ([0, 50, 100] if passes == "again and again" else [100, 100, 100])
    alike = first_alike(Scene(template, book))
    assert len({alike[n] for n in range(begins + 1)}) == 1 and len({alike[n] for n in range(begins, begins + 11)}) >= 10


def test_a_longer_hold_lets_it_pass_as_quickly_and_a_short_title_faster():
    part = plate(Glint(passes="while it holds", start=0.0, frames=10.0)).parts[0]
    template = plate(None)
    for length in (100, 400):
        spans = spans_at(template, length)
        assert glint_value(part, spans, spans.way_in + 5)["glint.at"] == 50
    short = spans_at(template, 20)
    coming = replace(part, glint=Glint(passes="as it comes", start=10.0, frames=10.0))
    assert glint_value(coming, short, 10 / short.pace)["glint.at"] == 0 and glint_value(coming, short, 15 / short.pace)[
        "glint.at"
    ] == pytest.approx(50)


def test_it_is_let_pass_and_taken_away_in_the_recipe(window, qtbot):
    session = window.session
    session.select("plate")

    def press(name):
        settle()
        button = window.build.recipe.findChild(QToolButton, name)
        assert button is not None, name
        qtbot.mouseClick(button, LEFT)
        settle()

    def rows():
        return {row.prop.path for row in window.build.recipe.findChildren(LookRow)}

    press("Let a light pass")
    assert session.template.part("plate").glint == Glint() and {"glint.start", "glint.frames"} <= rows() and "glint.every" not in rows()
    session.write({"plate/glint.passes": "again and again"})
    settle()
    assert "glint.every" in rows() and "glint.at" not in rows()
    session.write({"plate/glint.passes": "where it is set"})
    settle()
    assert "glint.at" in rows() and not {"glint.every", "glint.start", "glint.frames"} & rows()
    press("No light passes")
    assert session.template.part("plate").glint is None
