"""The desk in full: two words tracks, footage, several titles at once, answers to pick again, tables, versions, the library."""

import json
import urllib.request

import psutil
import pytest
from conftest import plated
from hands import drag, type_into
from PIL import Image
from PyQt6.QtCore import QEvent, QMimeData, QObject, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QGuiApplication
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMenu,
    QMessageBox,
    QPushButton,
    QToolButton,
    QWidget,
)

from avlet.desktop.desk.desk_commands import table_rows
from avlet.desktop.desk.packages_list import preview_frames
from avlet.desktop.dialogs.handover_dialog import HandoverDialog
from avlet.desktop.dialogs.paste_answers_dialog import PasteAnswersDialog
from avlet.document.cards import carding
from avlet.document.cut import PictureClip, remove_title
from avlet.document.editing import edits
from avlet.storage.handing_over import hand_over, versions_of
from avlet.storage.recent import remember
from avlet.storage.settings import read_settings

LEFT, NONE, CTRL = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def desk(window, qtbot):
    window.show_desk()
    QApplication.processEvents()
    return window.desk


def entry(menu: QMenu, words: str):
    """A menu's entry whose words begin so."""
    return next(a for a in menu.actions() if a.text().startswith(words))


def under(menu: QMenu, words: str) -> QMenu:
    found = entry(menu, words).menu()
    assert found is not None
    return found


def test_a_title_is_dragged_to_the_upper_track_and_shows_over_the_lower(window, desk, qtbot):
    session, view = window.cut_session, desk.view
    at = view.title_area(session.cut.title("odalys")).center().toPoint()
    drag(qtbot, view, at, QPoint(0, -40))
    assert session.cut.title("odalys").track == 1
    desk.add_title("place-tag.avlet", session.cut.title("odalys").start + 10)
    assert len(session.cut.titles_at(session.cut.title("odalys").start + 20)) == 2
    assert len(desk.picture._poses) >= 1
    window.undo()
    window.undo()
    assert session.cut.title("odalys").track == 0


def test_s_splits_ctrl_d_duplicates_delete_removes(window, desk, qtbot):
    session = window.cut_session
    session.select("odalys")
    session.go_to(330)
    qtbot.waitUntil(window.isActiveWindow)
    desk.view.setFocus()
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_S)
    first, second = (t for t in session.cut.titles if t.answers.get("name") == "Odalys Brandt")
    assert (first.end, second.start) == (330, 330)
    session.select(second.id)
    desk.commands.duplicate()
    assert len([t for t in session.cut.titles if t.answers.get("name") == "Odalys Brandt"]) == 3
    desk.view.setFocus()
    qtbot.keyClick(desk.view, Qt.Key.Key_Delete)
    assert len([t for t in session.cut.titles if t.answers.get("name") == "Odalys Brandt"]) == 2


def test_several_titles_take_one_answer_and_move_together(window, desk, qtbot):
    session, view = window.cut_session, desk.view
    for number, name in enumerate(("odalys", "teodor")):
        qtbot.mouseClick(view, LEFT, CTRL if number else NONE, view.title_area(session.cut.title(name)).center().toPoint())
    assert set(session.selection) == {"odalys", "teodor"}
    assert "2 titles are selected" in desk.note.text()
    type_into(qtbot, desk.card.inputs["role"], "Guest")
    assert {session.cut.title(i).answers["role"] for i in session.selection} == {"Guest"}
    starts = {i: session.cut.title(i).start for i in session.selection}
    drag(qtbot, view, view.title_area(session.cut.title("odalys")).center().toPoint(), QPoint(12, 0))
    moved = {session.cut.title(i).start - starts[i] for i in session.selection}
    assert len(moved) == 1
    assert moved.pop() > 0


def giving(qtbot, monkeypatch, *unticked):
    """Answers the question which copied answers are given: all that are ticked but some."""
    asked = []

    def answer(dialog):
        dialog.show()
        for label in unticked:
            qtbot.keyClick(dialog.boxes[label], Qt.Key.Key_Space)
        asked.append({label: (box.isEnabled(), box.isChecked()) for label, box in dialog.boxes.items()})
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(PasteAnswersDialog, "exec", answer)
    return asked


def test_answers_are_given_from_one_title_to_another_field_by_field(window, desk, qtbot, monkeypatch):
    session = window.cut_session
    session.select("odalys")
    desk.commands.copy_answers()
    session.select("watanabe")  # another template, with a Name and a Role of its own
    asked = giving(qtbot, monkeypatch)
    desk.commands.paste_answers()
    title = session.cut.title("watanabe")
    assert (title.answers["name"], title.answers["role"]) == ("Odalys Brandt", "Marsh ecologist")
    assert set(asked[0]) == {"Name", "Role"}, "what nobody touched is not offered"


def test_an_answer_that_is_not_ticked_is_not_given(window, desk, qtbot, monkeypatch):
    session = window.cut_session
    session.select("odalys")
    desk.commands.copy_answers()
    session.select("teodor")
    before = session.cut.title("teodor").answers["name"]
    giving(qtbot, monkeypatch, "Name")
    desk.commands.paste_answers()
    assert session.cut.title("teodor").answers["name"] == before
    assert session.cut.title("teodor").answers["role"] == "Marsh ecologist"


def test_a_length_is_shown_and_typed_and_stops_at_the_next_title(window, desk, qtbot):
    session = window.cut_session
    session.select("odalys")
    title = session.cut.title("odalys")
    assert str(title.length) == desk.times.frames.text() and "00:00:" in desk.times.begin.text()
    type_into(qtbot, desk.times.frames, "60")
    qtbot.keyClick(desk.times.frames, Qt.Key.Key_Return)
    assert session.cut.title("odalys").length == 60 and "2.40 s" in desk.times.rest.text()
    window.undo()
    assert session.cut.title("odalys").length == title.length
    type_into(qtbot, desk.times.frames, "90000")
    qtbot.keyClick(desk.times.frames, Qt.Key.Key_Return)
    after = session.cut.title("odalys")
    following = [t.start for t in session.cut.titles if t.track == after.track and t.start > after.start]
    assert after.end == min(following) and desk.times.frames.text() == str(after.length)
    assert "what follows on its track begins there" in window.message.text()


def test_titles_and_their_cards_are_reached_by_keyboard(window, desk, qtbot):
    session, view = window.cut_session, desk.view
    ordered = [t.id for t in sorted(session.cut.titles, key=lambda t: t.start)]
    session.select(None)
    qtbot.waitUntil(window.isActiveWindow)
    view.setFocus()
    for title_id in ordered[:2]:
        qtbot.keyClick(view, Qt.Key.Key_Down)
        assert session.selected == title_id
        assert session.cut.title(title_id).start <= session.frame < session.cut.title(title_id).end
    qtbot.keyClick(view, Qt.Key.Key_Up)
    qtbot.keyClick(view, Qt.Key.Key_Up)
    assert session.selected == ordered[0]
    qtbot.keyClick(view, Qt.Key.Key_Return)
    first = QApplication.focusWidget()
    assert first is next(iter(desk.card.inputs.values()))
    qtbot.keyClick(first, Qt.Key.Key_Tab)
    assert QApplication.focusWidget() in list(desk.card.inputs.values())[1:]
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
    assert QApplication.focusWidget() is view


def test_a_plain_click_selects_one_of_several(window, desk, qtbot):
    session, view = window.cut_session, desk.view
    session.select_all(["teodor", "odalys"])
    qtbot.mouseClick(view, LEFT, NONE, view.title_area(session.cut.title("odalys")).center().toPoint())
    assert list(session.selection) == ["odalys"]
    session.select_all(["teodor", "odalys"])
    starts = {i: session.cut.title(i).start for i in session.selection}
    drag(qtbot, view, view.title_area(session.cut.title("odalys")).center().toPoint(), QPoint(20, 0))
    assert set(session.selection) == {"teodor", "odalys"}, "a drag takes all of them along"
    assert all(session.cut.title(i).start != start for i, start in starts.items())


def test_what_leaves_the_frame_is_said_on_the_desk(window, desk, qtbot):
    window.cut_session.select("odalys")
    type_into(qtbot, desk.card.inputs["name"], "Wilhelmina Featherstonehaugh " * 5)
    assert "Plate reaches beyond the frame by " in desk.note.text()


def test_words_are_kept_and_picked_again(window, desk, monkeypatch):
    session = window.cut_session
    session.select("odalys")
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Odalys", True))
    desk.commands.keep_answers()
    assert read_settings(window.state).answers[0].name == "Odalys"
    session.select("teodor")
    menu = QMenu()
    desk.commands.fill_people(menu)
    entry(menu, "Odalys").trigger()
    assert session.cut.title("teodor").answers["role"] == "Marsh ecologist"
    desk.commands.fill_people(menu)
    under(menu, "Forget").actions()[0].trigger()
    assert session.settings.answers == ()


@pytest.mark.parametrize(
    ("words", "rows"),
    [("a\tb\nc\td", [["a", "b"], ["c", "d"]]), ('"a, b";c', [["a, b", "c"]]), ("a,b\n\n , \n", [["a", "b"]]), ("one", [["one"]]), ("", [])],
)
def test_tables_are_read_by_their_own_signs(words, rows):
    assert table_rows(words) == rows


def test_words_are_typed_on_the_picture(window, desk, qtbot):
    session = window.cut_session
    session.go_to(330)
    QApplication.processEvents()
    scene = session.scene_of(session.cut.title("odalys"))
    box, area = scene.rest.parts["name"].box, desk.picture.picture_area()
    scale = area.width() / scene.template.frame.width
    at = QPoint(round(area.x() + (box.x + box.w / 2) * scale), round(area.y() + (box.y + box.h / 2) * scale))
    qtbot.mouseDClick(desk.picture, LEFT, NONE, at)
    assert desk.picture.typing is not None
    type_into(qtbot, desk.picture.typing, "Bo Li")
    assert session.cut.title("odalys").answers["name"] == "Bo Li"
    qtbot.keyClick(desk.picture.typing, Qt.Key.Key_Escape)
    assert desk.picture.typing is None
    window.undo()
    assert session.cut.title("odalys").answers["name"] == "Odalys Brandt"  # one step for all that was typed


def test_clips_are_added_split_moved_trimmed_and_removed(window, desk, qtbot, tmp_path):
    session, view = window.cut_session, desk.view
    qtbot.mouseClick(view, LEFT, NONE, view.clip_area(1).center().toPoint())
    assert view.clip == 1
    count = len(session.cut.pictures)
    desk.commands.split()
    assert len(session.cut.pictures) == count + 1
    entry(desk.commands.menu(), "Later").trigger()
    assert view.clip == 2
    before = session.cut.pictures[2].length
    area = view.clip_area(2)
    drag(qtbot, view, QPoint(round(area.right()) - 2, round(area.center().y())), QPoint(-14, 0))
    assert session.cut.pictures[2].length < before
    desk.commands.remove()
    assert len(session.cut.pictures) == count
    entry(desk.commands.menu(), "Add dusk").trigger()
    assert session.cut.pictures[-1].plate == "dusk"
    session.edit("No end roll", lambda c: remove_title(c, "end-roll"))  # it stands over the last picture
    still = tmp_path / "sea.png"
    Image.new("RGB", (320, 180), "#AA2211").save(still)
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(still))])
    at = QPointF(view.width() / 2, view.height() - 20)
    enter = QDragEnterEvent(at.toPoint(), Qt.DropAction.CopyAction, data, LEFT, NONE)
    QApplication.sendEvent(view, enter)
    assert enter.isAccepted()
    QApplication.sendEvent(view, QDropEvent(at, Qt.DropAction.CopyAction, data, LEFT, NONE))
    assert session.cut.pictures[-1] == PictureClip("sea", 125, str(still))
    session.go_to(session.cut.clip_begin(len(session.cut.pictures) - 1) + 3)
    QApplication.processEvents()
    picture = desk.picture.grab().toImage()
    assert picture.pixelColor(picture.width() // 2, picture.height() // 2).name() == "#aa2211"
    refused = []
    session.refused.connect(refused.append)
    desk.commands.add_footage(tmp_path / "gone.mp4")
    assert "is not at" in refused[0]


def test_versions_are_gone_back_to_on_a_title_and_in_the_library(window, desk, book, monkeypatch):
    session = window.cut_session
    wider = edits.set_property(window.session.template, "plate/fit.left", 90)
    wider = carding.change_field(wider, "corners", high=20, default=10)
    package = hand_over(wider, book, session.library, "Wider").path
    session.forget_templates()
    title = session.cut.title("odalys")
    session.edit("Corners", lambda c: c)
    session.give_answers(["odalys"], {"Corners": 55})
    said = session.take_version(["odalys"])
    assert said == ["“Corners” no longer takes that answer; what was answered is set aside."]
    session.select("odalys")
    assert "Set aside until a version asks for it again: corners" in desk.note.text()
    versions = under(desk.commands.menu(), "Version")
    entry(versions, "Version 1").trigger()
    title = session.cut.title("odalys")
    assert (title.version, title.answers["corners"], title.aside) == (1, 55, {})
    menu = desk.library.menu_for("name-strap.avlet")
    entry(under(menu, "Versions"), "Version 1").trigger()
    assert [v.number for v in versions_of(package)] == [3, 2, 1]


def test_another_template_keeps_the_answers_it_can(window, desk):
    session = window.cut_session
    session.select("odalys")
    entry(under(desk.commands.menu(), "Another template"), "Guest strap").trigger()
    title = session.cut.title("odalys")
    assert title.template == "guest-strap.avlet"
    assert title.answers == {"name": "Odalys Brandt", "role": "Marsh ecologist"}


# The library


def test_favourites_and_use_order_the_library(window, desk):
    library = desk.library
    entry(library.menu_for("side-rule.avlet"), "Favourite").trigger()
    library.show_category("★")
    assert library.list.words() == ["★ Side rule"]
    library.show_category("All")
    desk.add_title("strip-change.avlet", 1500)
    library.reload()
    assert library.list.words()[0] == "Strip change"
    assert read_settings(window.state).uses == {"strip-change.avlet": 1}


def test_a_preview_plays_under_the_keyboard(window, desk, qtbot):
    packages = desk.library.list
    packages.setCurrentIndex(packages.packages.index(0))
    assert packages.packages.playing is None, "nothing moves that the keyboard is not on"
    packages.setFocus()
    qtbot.waitUntil(packages.hasFocus)
    qtbot.keyClick(packages, Qt.Key.Key_Right)
    entry = packages.packages.entries[packages.currentIndex().row()]
    assert packages.currentIndex().row() == 1 and packages.packages.playing[0] == entry.place
    desk.library.search.setFocus()
    qtbot.waitUntil(lambda: packages.packages.playing is None)


def test_a_preview_plays_under_the_pointer(window, desk, qtbot):
    packages = desk.library.list
    packages.play(0)
    assert len(packages._frames) > 5
    first = packages._at
    qtbot.waitUntil(lambda: packages._at != first, timeout=3000)
    packages.stop()
    assert packages._playing is None
    assert preview_frames(b"RIFFxxxx") == []


def test_packages_are_dropped_in_and_shared_folders_looked_into(window, desk, book, tmp_path, monkeypatch):
    library = desk.library
    package = hand_over(edits.replace(plated(), name="From a friend"), book, tmp_path / "friend").path
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(package))])
    enter = QDragEnterEvent(QPoint(20, 200), Qt.DropAction.CopyAction, data, LEFT, NONE)
    QApplication.sendEvent(library, enter)
    assert enter.isAccepted()
    QApplication.sendEvent(library, QDropEvent(QPointF(20, 200), Qt.DropAction.CopyAction, data, LEFT, NONE))
    assert library.entry("from-a-friend.avlet").path.parent == window.cut_session.library
    hand_over(edits.replace(plated(), name="Of the house"), book, tmp_path / "house")
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a: str(tmp_path / "house"))
    library._fill_folders()
    entry(library.folders_menu, "Look in a shared folder").trigger()
    assert library.entry("of-the-house.avlet").path.parent == tmp_path / "house"
    (tmp_path / "house").rename(tmp_path / "away")
    library.rescan()
    assert "is not there any more" in library.hint.text()
    library._fill_folders()
    under(library.folders_menu, "Shared").actions()[0].trigger()
    assert window.cut_session.settings.shared == ()
    refused = []
    window.cut_session.refused.connect(refused.append)
    (tmp_path / "torn.avlet").write_bytes(b"PK")
    library.import_packages([tmp_path / "torn.avlet"])
    assert "was not taken into the library" in refused[0]


# The first page, variants, rendering all


def test_the_first_page_leads_to_a_start_the_demo_and_what_was_open(window, qtbot, demo, monkeypatch):
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: QMessageBox.StandardButton.Discard)
    remember(window.state, demo / "side-rule.avlet")
    window.show_welcome()
    assert not window.hand.isVisible()
    qtbot.mouseClick(window.welcome.findChild(QToolButton, "start Two-line lower third"), LEFT)
    assert window.stack.currentWidget() is window.build
    assert window.session.template.name == "Lower third"
    window.show_welcome()
    recent = next(b for b in window.welcome.findChildren(QToolButton) if b.text() == "side-rule.avlet")
    qtbot.mouseClick(recent, LEFT)
    assert window.session.template.name == "Side rule"
    monkeypatch.setattr("avlet.desktop.window.files.demo_library", lambda: demo)
    window.show_welcome()
    qtbot.mouseClick(window.welcome.findChild(QPushButton, "open the demo"), LEFT)
    assert window.session.template.name == "Name strap"


def test_a_variant_is_kept_under_its_own_name(window, monkeypatch):
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Name strap, wide", True))
    window.files.keep_as_variant()
    template = window.session.template
    assert (template.name, template.derived_from, window.session.path) == ("Name strap, wide", "Name strap", None)
    assert window.files.hand_over_to(window.cut_session.library).name == "name-strap-wide.avlet"


def test_all_of_a_cut_is_rendered_with_a_film_and_a_timeline(window, desk, qtbot, tmp_path):
    session = window.cut_session
    short = edits.replace(session.cut, frame=edits.replace(session.cut.frame, width=320, height=180), pictures=(PictureClip("dusk", 20),))
    title = edits.replace(session.cut.titles[0], template="name-strap.avlet", start=0, length=12, answers={"name": "Bo Li"})
    session.edit("Short", lambda c: edits.replace(short, titles=(title,)))
    window.files.render(all_titles=True)
    dialog = window.files.dialog
    dialog.folder.line.setText(str(tmp_path / "out"))
    dialog.kind.setCurrentText("Run-length film with alpha (.mov)")
    dialog.lines.setCurrentIndex(0)
    qtbot.mouseClick(dialog.start_button, LEFT)
    qtbot.waitUntil(lambda: dialog.words.text().startswith("Wrote"), timeout=60_000)
    assert sorted(p.name for p in (tmp_path / "out").iterdir()) == [
        "T0001-name-strap.mov",
        "delivery.csv",
        "delivery.json",
        "the-long-tide-first-cut.mp4",
        "the-long-tide-first-cut.otio",
    ]
    qtbot.waitUntil(lambda: dialog.thread_ is None)
    dialog.reject()


def test_a_title_of_another_rate_and_one_without_its_film_are_said(window, desk, book, tmp_path):
    session = window.cut_session
    fifty = edits.replace(plated(), name="Fifty", frame=edits.replace(plated().frame, rate="50/1"), length=200)
    hand_over(fifty, book, session.library)
    session.forget_templates()
    desk.add_title("fifty.avlet", 1400)
    assert "It is made for 50 frames a second and shows at the cut's 25; its seconds stay." in desk.note.text()
    assert session.title.length == 100
    film = tmp_path / "gone.mp4"
    session.edit("Film", lambda c: edits.replace(c, pictures=(PictureClip("gone", 50, str(film)),)))
    assert "gone.mp4" in desk.view.missing(session.cut.pictures[0])
    session.go_to(3)
    assert not desk.grab().isNull()


def test_the_name_and_category_are_asked_where_it_is_handed_over(window, qtbot, monkeypatch):
    dialog = HandoverDialog(window.session, window.cut_session.library, window)
    assert "This becomes version 2" in dialog.exists.text()
    dialog.name.setText("Strap of the north")
    assert "strap-of-the-north.avlet, version 1" in dialog.exists.text()
    dialog.category.setCurrentText("Guests")
    dialog.note.setText("For the north")
    type_into(qtbot, dialog.keywords, " guest,  north,guest, ")
    monkeypatch.setattr(HandoverDialog, "exec", lambda self: QDialog.DialogCode.Accepted)
    monkeypatch.setattr("avlet.desktop.window.files.HandoverDialog", lambda *a: dialog)
    window.files.hand_over()
    assert (window.session.template.name, window.session.template.category) == ("Strap of the north", "Guests")
    made = window.desk.library.entry("strap-of-the-north.avlet")
    assert (made.category, made.version, made.note) == ("Guests", 1, "For the north")
    assert made.keywords == window.session.template.keywords == ("guest", "north")


def test_keywords_are_typed_where_nothing_is_selected(window, qtbot):
    window.session.select(None)
    QApplication.processEvents()
    line = window.build.recipe.findChild(QLineEdit, "template keywords")
    type_into(qtbot, line, "north, guests, north")
    line.editingFinished.emit()
    assert window.session.template.keywords == ("north", "guests")


def test_the_library_is_served_from_the_desk_its_address_copied_and_served_no_more(window, desk, qtbot):
    """By the menu of folders; what was begun ends when it is wanted, and when nobody is there any more."""
    library = desk.library

    def press(words):
        library._fill_folders()
        action = next(one for one in library.folders_menu.actions() if one.text() == words)
        assert action.isEnabled()
        action.trigger()

    press("Serve this library to browsers")
    qtbot.waitUntil(lambda: bool(library.serving.address), timeout=60_000)
    assert "is served at http://127.0.0.1:" in window.message.text()
    press("Copy the address for browsers")
    address = QGuiApplication.clipboard().text()
    with urllib.request.urlopen(f"{address}api/titles", timeout=20) as answer:
        assert {one["name"] for one in json.load(answer)["titles"]} >= {"name-strap", "hectares"}
    process = psutil.Process(library.serving._process.processId())
    press("Serve it no more")
    qtbot.waitUntil(lambda: not library.serving.is_on, timeout=30_000)
    assert "no longer served" in window.message.text() and not process.is_running()
    library._fill_folders()
    assert "Serve this library to browsers" in [one.text() for one in library.folders_menu.actions()]
    press("Serve this library to browsers")
    qtbot.waitUntil(lambda: bool(library.serving.address), timeout=60_000)
    library.serving._process.kill()
    qtbot.waitUntil(lambda: not library.serving.is_on, timeout=30_000)
    assert "cannot be served" in window.message.text()


def test_a_bench_that_is_made_while_the_window_is_open_opens_no_window_of_its_own(window, qtbot):
    """A title is selected when the desk is made: what tells its times shows in the desk, and not for a moment by itself."""
    shown = []

    class Watch(QObject):
        def eventFilter(self, watched, event):
            if event.type() == QEvent.Type.Show and isinstance(watched, QWidget) and watched.isWindow():
                shown.append(type(watched).__name__)
            return False

    watch = Watch()
    QApplication.instance().installEventFilter(watch)
    assert window.cut_session.title is not None
    for bench in range(6):
        window.show_bench(bench)
        QApplication.processEvents()
    QApplication.instance().removeEventFilter(watch)
    assert shown == [] and window.isActiveWindow() and window.desk.times.isVisibleTo(window.desk)
