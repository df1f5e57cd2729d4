"""What is looked at: samples side by side, the strip of moments, the numbers of the drafting overlay."""

import msgspec
import numpy as np
import pytest
from conftest import DEMO, plated
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtWidgets import QApplication, QToolButton

from avlet.desktop.stage.drafting import Drafting
from avlet.desktop.stage.samples_strip import SamplesStrip
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Solid
from avlet.document.parts import Place, ShapePart
from avlet.document.template import Frame
from avlet.geometry import Box
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.paint.views import shown_box, view_round
from avlet.review.views import rest_box
from avlet.storage.package import open_template

FRAME = Frame(1920, 1080, "25/1")
sides = st.floats(1, 1500)


@given(st.floats(0, 1900), st.floats(0, 1000), sides, sides, st.floats(0.3, 4))
def test_a_view_shows_the_whole_box_in_its_proportions(x, y, w, h, ratio):
    box = Box(x, y, min(w, 1920 - x), min(h, 1080 - y))
    view = view_round(box, FRAME, ratio)
    assert view.w / view.h == pytest.approx(ratio)
    assert view.contains(box, 0.01)
    assert view.w > 1920 - 0.01 or (view.x >= -0.01 and view.right <= 1920.01)
    assert view.h > 1080 - 0.01 or (view.y >= -0.01 and view.bottom <= 1080.01)


def test_without_anything_to_see_the_whole_frame_is_shown(book):
    assert view_round(None, FRAME, 16 / 9) == Box(0, 0, 1920, 1080)
    assert shown_box(Scene(plated(), book), 0) is None


def test_a_view_is_painted_as_that_piece_of_the_frame(book):
    made, view = Scene(plated(), book), Box(100, 200, 480, 270)
    piece = new_pixels(480, 270)
    made.paint(50, piece, view=view)
    wanted = made.picture(50)[200:470, 100:580].astype(int)
    assert wanted.any() and np.abs(piece - wanted).mean() < 0.02  # edges are smoothed a little differently


def test_samples_show_their_joint_box_the_whole_frame_and_larger(window, qtbot):
    window.show_bench(0)
    QApplication.processEvents()
    strip = window.build.samples
    joint = strip.view()
    assert joint.w < 1920 and joint.w / joint.h == pytest.approx(16 / 9)
    for sample in window.session.template.samples:
        scene = window.session.scene(sample.id)
        assert joint.contains(shown_box(scene, scene.spans.way_in), 0.01) and joint.contains(rest_box(scene), 0.01)
    buttons = {b.accessibleName(): b for b in window.build.findChildren(QToolButton)}
    qtbot.mouseClick(buttons["Samples show the whole frame, or only what the titles take up"], Qt.MouseButton.LeftButton)
    assert strip.view() == Box(0, 0, 1920, 1080)
    small = strip.cells()[0][2].width()
    qtbot.mouseClick(buttons["Larger samples, two in a row"], Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    cells = [area for _, _, area in strip.cells()]
    assert cells[0].width() > small * 1.3 and cells[2].y() > cells[0].bottom()
    assert all(strip.rect().toRectF().contains(area) for area in cells)
    qtbot.mouseClick(strip, Qt.MouseButton.LeftButton, pos=cells[2].center().toPoint())
    assert window.session.answers_from == window.session.template.samples[2].id


def test_no_bench_asks_for_more_height_than_the_window_opens_with(window):
    for _ in range(8):
        QApplication.processEvents()
    assert window.height() == 800
    assert all(bench.minimumSizeHint().height() < 650 for bench in (window.build, window.time, window.card, window.desk)), (
        "messages and signs have room besides"
    )
    unseen = SamplesStrip(window.session, window.build.stage.background)
    assert unseen.sizeHint().height() == unseen.height() <= 150


def test_the_strip_of_moments_shows_the_whole_title(window):
    window.session.select("rule")
    window.show_bench(1)
    QApplication.processEvents()
    strip = window.time.moments
    shown = strip._window(strip._cell(0))
    for frame in strip.frames():
        seen = shown_box(window.session.scene(), frame)
        assert seen is None or shown.contains(seen, 0.01)


@pytest.mark.parametrize(("scale", "outside"), [(0.2, True), (2.0, False)])
def test_numbers_stand_outside_of_a_part_that_is_smaller_than_they_are(scale, outside, book, qapp):
    from PyQt6.QtGui import QImage, QPainter

    drafting = Drafting(lambda x, y: QPointF(x * scale, y * scale))
    image = QImage(2000, 2000, QImage.Format.Format_ARGB32)
    painter = QPainter(image)
    rest = Scene(plated(), book).rest
    drafting.draw(painter, rest, "plate", None)
    painter.end()
    box = rest.parts["plate"].box
    part = QRectF(box.x * scale, box.y * scale, box.w * scale, box.h * scale)
    paddings = [area for area, d in drafting.labels if ".fit." in d.target or "/fit." in d.target]
    assert len(paddings) == 4
    assert all(part.intersects(area) != outside for area in paddings)
    assert not any(a.intersects(b) for n, a in enumerate(paddings) for b in paddings[:n])


def test_what_is_only_for_shadows_takes_no_room():
    """The ground of Shadow strap fills the frame, and shows nothing but the plate's shadow: tiles and samples are round the plate."""
    opened = open_template(DEMO / "shadow-strap.avlet")
    scene = Scene(opened.template, opened.book)
    frame, plate = opened.template.frame, scene.rest.parts["plate"].box
    for box in (rest_box(scene), shown_box(scene, scene.spans.middle)):
        assert box.contains(plate, 40) and box.w < frame.width / 2 and box.h < frame.height / 2


def test_what_fills_the_whole_picture_behind_something_takes_no_room_and_alone_it_is_shown(book):
    veil = ShapePart(id="veil", name="Veil", width=1920, height=1080, across=Place("frame"), down=Place("frame"), fill=Solid("#00000060"))
    template = plated()
    with_veil = msgspec.structs.replace(template, parts=(veil, *template.parts))
    assert shown_box(Scene(check(with_veil), book), 50) == shown_box(Scene(template, book), 50)
    alone = msgspec.structs.replace(template, parts=(veil,))
    assert shown_box(Scene(check(alone), book), 50) == Box(0, 0, 1920, 1080)
