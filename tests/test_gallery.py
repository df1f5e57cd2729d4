"""The gallery: what can be begun with is seen at once, plays under the hand, is found by kind and words, and taken six at a time."""

import errno
import io
from fractions import Fraction

import numpy as np
import pytest
from hands import settle
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QMenu, QPushButton, QToolButton

from avlet.document.editing.edits import set_property
from avlet.document.starts import FAMILIES, FAMILY_WORDS, STARTS
from avlet.document.template import Frame
from avlet.errors import AnswerError, StorageError
from avlet.places import shipped_tiles, starts_folder
from avlet.storage import family as family_module
from avlet.storage.family import family_named, take_family
from avlet.storage.handing_over import versions_of
from avlet.storage.own_starts import begin_from, keep_as_start
from avlet.storage.package import open_template
from avlet.storage.recent import picture_of, recent_paths
from avlet.storage.thumbnail import thumbnail_png, tile_name
from avlet.text.fonts import bundled_fonts

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def page(window, qtbot):
    window.resize(1280, 800)
    window.show_welcome()
    qtbot.waitUntil(lambda: window.welcome.gallery.drawn, timeout=60_000)
    settle()
    return window.welcome


def tile(page, name):
    return page.findChild(QToolButton, f"start {name}")


def seen(page):
    return [one.name for one in page.gallery.tiles if not one.isHidden()]


def test_every_start_has_a_tile_with_its_picture_and_six_stand_in_a_row(page):
    assert seen(page) == [f"{family} {kind}" for family in FAMILIES for kind in FAMILIES[family]] + [
        name for name in STARTS if not name.startswith(tuple(FAMILIES))
    ]
    assert set(FAMILY_WORDS) == set(FAMILIES)
    for family, kinds in FAMILIES.items():
        tops = {tile(page, f"{family} {kind}").y() for kind in kinds}
        assert len(tops) == 1, "six in a row at 1280 px"
    for one in page.gallery.tiles:
        picture = one.icon().pixmap(one.iconSize()).toImage()
        colours = {picture.pixel(x, y) for x in range(0, picture.width(), 2) for y in range(0, picture.height(), 2)}
        assert len(colours) > 6 or one.name == "Empty frame", one.name
        assert one.accessibleName() and (one.name == "Empty frame" or "field" in one.toolTip())


def test_a_tile_plays_under_the_pointer_and_under_the_keyboard(page, qtbot):
    one = tile(page, "Saltmarsh name")
    still = one.icon().pixmap(one.iconSize()).toImage()
    QTest.mouseMove(one, QPoint(20, 20))
    one.play()
    qtbot.waitUntil(lambda: not one.playing or one.icon().pixmap(one.iconSize()).toImage() != still)
    other = tile(page, "Ledger title")
    before = other.icon().pixmap(other.iconSize()).toImage()
    other.setFocus()
    qtbot.waitUntil(lambda: other.playing and other.icon().pixmap(other.iconSize()).toImage() != before)
    tile(page, "Chalk name").setFocus()
    assert not other.playing and other.icon().pixmap(other.iconSize()).toImage() == before, "it rests as it was"
    empty = tile(page, "Empty frame")
    empty.setFocus()
    assert not empty.playing


def test_a_kind_and_words_sift_and_rows_without_any_go(page, qtbot):
    qtbot.mouseClick(page.gallery.findChild(QPushButton, "kind Credits"), LEFT)
    assert seen(page) == [f"{family} credits" for family in FAMILIES] + ["Rolling credits", "List of sources"]
    page.gallery.search.setFocus()
    qtbot.keyClicks(page.gallery.search, "roll")
    assert len(seen(page)) == 5 and "List of sources" not in seen(page)
    qtbot.keyClicks(page.gallery.search, " chalk")
    assert seen(page) == ["Chalk credits"]
    qtbot.keyClicks(page.gallery.search, "xx")
    assert seen(page) == [] and page.gallery.none.isVisible()
    page.gallery.search.clear()
    qtbot.mouseClick(page.gallery.findChild(QPushButton, "kind All"), LEFT)
    qtbot.keyClicks(page.gallery.search, "cut out")
    assert {"Chalk title", "Chalk place", "Chalk sign-off"} <= set(seen(page)) and not page.gallery.none.isVisible()
    assert len(seen(page)) < 8


def test_a_frame_is_chosen_once_and_a_start_begins_in_it(page, window, qtbot):
    one = tile(page, "Signal name")
    wide = one.icon().pixmap(one.iconSize()).toImage()
    page.gallery.size_box.setCurrentText("1080 × 1920")
    page.gallery.rate_box.setCurrentIndex(page.gallery.rate_box.findData("50/1"))
    qtbot.waitUntil(lambda: page.gallery.drawn, timeout=60_000)
    assert one.icon().pixmap(one.iconSize()).toImage() != wide
    qtbot.mouseClick(one, LEFT)
    frame = window.session.template.frame
    assert (frame.width, frame.height, frame.fps) == (1080, 1920, Fraction(50)) and window.session.template.name == "Signal name"


def test_all_six_are_taken_by_the_button_and_the_first_is_open(page, window, qtbot, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a, **k: str(tmp_path / "mine"))
    qtbot.mouseClick(page.findChild(QPushButton, "take Ledger"), LEFT)
    names = sorted(path.name for path in (tmp_path / "mine").iterdir())
    assert names == sorted(f"ledger-{kind}.avlet" for kind in FAMILIES["Ledger"])
    houses = {str(open_template(tmp_path / "mine" / name).template.palette) for name in names}
    assert len(houses) == 1 and window.session.template.name == "Ledger name" and "The six of Ledger" in window.message.text()
    before = {path: path.read_bytes() for path in (tmp_path / "mine").iterdir()}
    window.show_welcome()
    qtbot.mouseClick(page.findChild(QPushButton, "take Ledger"), LEFT)
    assert "Nothing was written" in window.message.text() and "and 5 more" in window.message.text()
    assert {path: path.read_bytes() for path in (tmp_path / "mine").iterdir()} == before


@pytest.mark.parametrize("full_at", [0, 1, 5])
def test_a_disk_that_fills_up_leaves_none_of_the_six(tmp_path, monkeypatch, full_at):
    written = family_module.write_package
    done = []

    def write(path, files):
        if len(done) == full_at:
            raise OSError(errno.ENOSPC, "No space left on device")
        done.append(path)
        written(path, files)

    monkeypatch.setattr(family_module, "write_package", write)
    (tmp_path / "own").mkdir()
    (tmp_path / "own" / "notes.txt").write_text("kept")
    for folder in (tmp_path / "new" / "deep", tmp_path / "own"):
        done.clear()
        with pytest.raises(StorageError, match="None of the six was left"):
            take_family("Chalk", Frame(480, 270), folder, bundled_fonts())
        assert not folder.exists() or [path.name for path in folder.iterdir()] == ["notes.txt"]


def test_a_family_that_there_is_not_is_told():
    assert family_named("chalk") is FAMILIES["Chalk"]
    with pytest.raises(AnswerError, match="There are Saltmarsh, Ledger, Signal, Chalk"):
        family_named("Chark")


def test_what_was_open_last_is_shown_told_when_gone_and_taken_off_by_delete(page, window, qtbot, demo):
    for name in ("hectares.avlet", "place-tag.avlet"):
        window.files.open_path(demo / name)
    assert picture_of(demo / "hectares.avlet") and not picture_of(demo / "the-long-tide.otio")
    (demo / "hectares.avlet").rename(demo / "elsewhere.avlet")
    window.show_welcome()
    settle()
    tag, gone = (page.findChild(QToolButton, f"recent {name}.avlet") for name in ("place-tag", "hectares"))
    qtbot.waitUntil(lambda: not page._waiting)
    picture = tag.icon().pixmap(tag.iconSize()).toImage()
    assert len({picture.pixel(x, y) for x in range(picture.width()) for y in range(0, picture.height(), 3)}) > 5
    assert gone.text() == "hectares.avlet: gone" and "no longer there" in gone.toolTip()
    tag.setFocus()
    qtbot.waitUntil(lambda: tag.playing and tag.icon().pixmap(tag.iconSize()).toImage() != picture)
    gone.setFocus()
    assert not tag.playing and not gone.playing and tag.icon().pixmap(tag.iconSize()).toImage() == picture, "it rests as it was"
    qtbot.mouseClick(gone, LEFT)
    assert "There is no file" in window.message.text(), "and says so when it is pressed"
    window.show_welcome()
    settle()
    gone = next(b for b in page.findChildren(QToolButton, "recent hectares.avlet") if b.isVisible())
    gone.setFocus()
    qtbot.keyClick(gone, Qt.Key.Key_Delete)
    settle()
    assert not any(path.name == "hectares.avlet" for path in recent_paths(window.state))
    assert not any(b.isVisible() for b in page.findChildren(QToolButton, "recent hectares.avlet"))


@pytest.mark.parametrize("width", [731, 1000, 1600])
def test_nothing_of_the_page_is_cut_off_at_its_side(page, window, width):
    window.resize(width, 600)
    settle()
    inside = page.area.viewport().width()
    controls = [
        *page.findChildren(QPushButton),
        *page.findChildren(QToolButton),
        page.gallery.search,
        page.gallery.size_box,
        page.gallery.rate_box,
    ]
    for one in controls:
        if one.isVisible() and one.width() > 20 and page.area.isAncestorOf(one):
            right = one.mapTo(page.area.widget(), one.rect().bottomRight()).x()
            assert right <= inside, (width, one.objectName() or one.metaObject().className())


# One's own


@pytest.fixture
def mine(page, tmp_path, monkeypatch):
    """Where one's own starts are kept, for this test alone."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    page.gallery.folder = starts_folder()
    assert page.gallery.folder.is_relative_to(tmp_path)
    return page.gallery.folder


def press_kind(page, qtbot, kind):
    qtbot.mouseClick(page.gallery.findChild(QPushButton, f"kind {kind}"), LEFT)


def own(page, name):
    return next(one for one in page.gallery.tiles if one.objectName() == f"own {name}")


def test_a_template_is_kept_as_a_start_comes_back_in_another_frame_and_goes_by_delete(page, mine, window, qtbot, monkeypatch):
    press_kind(page, qtbot, "Mine")
    assert seen(page) == [] and "Keep as a start" in page.gallery.none.text() and page.gallery.none.isVisible()
    menu = QMenu(window)
    window.files.fill_menu(menu)
    keep = next(action for action in menu.actions() if action.text() == "Keep as a start")
    keep.trigger()
    assert "is a start of yours now, version 1" in window.message.text()
    keep.trigger()
    assert "nothing was written" in window.message.text()
    window.session.edit("Corner", lambda t: set_property(t, "plate/corner", 12.0))
    keep.trigger()
    assert "version 2" in window.message.text()
    window.session.mark_saved(tmp := mine / "elsewhere.avlet")
    assert not tmp.exists()
    window.show_welcome()
    qtbot.waitUntil(lambda: page.gallery.drawn, timeout=20_000)
    settle()
    one = own(page, "Name strap")
    assert seen(page) == ["Name strap"] and one.text() == "Name strap, version 2" and not page.gallery.none.isVisible()
    assert "fields on its card" in one.toolTip()
    page.gallery.size_box.setCurrentText("1080 × 1920")
    page.gallery.rate_box.setCurrentIndex(page.gallery.rate_box.findData("50/1"))
    qtbot.waitUntil(lambda: page.gallery.drawn, timeout=60_000)
    qtbot.mouseClick(one, LEFT)
    begun = window.session
    assert (begun.template.frame, begun.template.length, begun.path) == (Frame(1080, 1920, "50/1"), 250, None)
    assert begun.template.part("plate").corner == pytest.approx(12 * (1080 / 1920) ** 0.5, abs=0.5) and begun.unsaved
    assert begun.template.part("name").size < 80, "half-way to the shorter side"
    window.show_welcome()
    one.setFocus()
    qtbot.keyClick(one, Qt.Key.Key_Delete)
    settle()
    assert seen(page) == [] and not (mine / "name-strap.avlet").exists()
    assert [v.number for v in versions_of(mine / "name-strap.avlet")] == [2, 1], "its versions stay"
    assert "no start of yours any more" in window.message.text()


def test_a_start_of_ones_own_keeps_the_fonts_that_came_with_it(page, mine, window, qtbot):
    sans = next(face for face in bundled_fonts().faces if face.family == "Fira Sans")
    book = bundled_fonts().with_first((sans,))
    keep_as_start(window.session.template, book, mine)
    opened = begin_from(mine / "name-strap.avlet", window.session.template.frame)
    assert opened.template.parts == window.session.template.parts, "in its own frame it is as it was"


def test_damaged_starts_are_shown_and_told_and_what_is_open_stays(page, mine, window, qtbot):
    mine.mkdir(parents=True)
    (mine / "broken.avlet").write_bytes(b"PK\x03\x04 nothing")
    (mine / "half.avlet").mkdir()
    (mine / "half.avlet" / "template.json").write_text('{"name": "Half", "format": 1, "parts": [{')
    newer = mine / "newer.avlet"
    newer.mkdir()
    (newer / "template.json").write_text('{"name": "Newer", "format": 9999}')
    window.show_welcome()
    press_kind(page, qtbot, "Mine")
    qtbot.waitUntil(lambda: page.gallery.drawn, timeout=20_000)
    before = window.session.template
    for one in list(page.gallery.tiles):
        if one.parent() is page.gallery.mine:
            assert one.text().startswith("⚠ ") and one.toolTip() == one.fault and one.template is None
            window.say("quiet")
            qtbot.mouseClick(one, LEFT)
            assert window.message.text() == one.fault and window.session.template is before
            one.play()
            assert not one.playing
    assert len(seen(page)) == 3
    press_kind(page, qtbot, "All")
    page.gallery.search.setText("roll")
    assert "Half" not in seen(page)


def test_a_full_disk_keeps_the_start_that_was_there(page, mine, window, monkeypatch):
    keep_as_start(window.session.template, window.session.book, mine)
    before = (mine / "name-strap.avlet").read_bytes()
    window.session.edit("Corner", lambda t: set_property(t, "plate/corner", 3.0))

    def full(*args):
        raise StorageError("The disk is full.")

    monkeypatch.setattr("avlet.storage.handing_over.write_package", full)
    window.files.keep_as_start()
    assert "disk is full" in window.message.text() and (mine / "name-strap.avlet").read_bytes() == before


def test_the_pictures_of_all_starts_ship_and_are_todays():
    """Every start's tile is there without painting; some are painted again: they are what is drawn now."""
    made = {name: start(Frame()) for name, start in STARTS.items()}
    assert {path.name for path in shipped_tiles().iterdir()} == {tile_name(template) for template in made.values()}
    for name in ("Saltmarsh name", "Ledger place", "Signal count", "Chalk title", "Rolling credits", "Ten-minute countdown"):
        shipped, now = (
            Image.open(io.BytesIO(data)).convert("RGB")
            for data in ((shipped_tiles() / tile_name(made[name])).read_bytes(), thumbnail_png(made[name], bundled_fonts()))
        )
        assert np.abs(np.asarray(shipped, np.int16) - np.asarray(now, np.int16)).max() <= 3, f"{name}: run scripts/write_tiles.py"
