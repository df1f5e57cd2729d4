"""Hands on the desk: titles are placed and scaled on the picture, times are typed, the cut has a size of its own, markers become titles."""

from fractions import Fraction
from pathlib import Path

import numpy as np
import opentimelineio as otio
import pytest
from hands import drag, move_held, settle, type_into
from PyQt6.QtCore import QPoint, QPointF, Qt, QTimer
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog
from test_at_markers import timeline_with
from test_cut_sound import write_clap

from avlet.desktop.desk.cut_rows import MOST_HEIGHT, rows_of
from avlet.desktop.desk.placing import chosen_box, place_words
from avlet.desktop.desk.sound_output import NO_DEVICE
from avlet.document.cut import PictureClip, replace
from avlet.document.editing import keying
from avlet.limits import MOST_CUT_FRAMES
from avlet.media.samples import HERTZ
from avlet.media.sound import sample_of
from avlet.media.theirs import theirs_of
from avlet.media.timeline import read_cut, write_cut

LEFT, ALT, SHIFT = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def desk(window, qtbot):
    """The desk with the title “odalys” selected, at rest under the playhead."""
    window.show_desk()
    settle()
    qtbot.waitUntil(window.isActiveWindow)
    session = window.cut_session
    session.select("odalys")
    session.go_to(session.title.start + 60)
    settle()
    return window.desk


@pytest.fixture
def press(window, qtbot):
    def press(key, modifier=Qt.KeyboardModifier.NoModifier):
        qtbot.keyClick(window.windowHandle(), key, modifier)
        settle()

    return press


def box_of(desk):
    found = chosen_box(desk.picture)
    assert found is not None
    return found[1]


def corner(desk, name) -> QPoint:
    return getattr(desk.picture.box_in_view(box_of(desk)), name)().toPoint()


# Placing


def test_a_title_is_dragged_to_another_place_in_one_step_of_undo(desk, qtbot):
    picture, session = desk.picture, desk.session
    before, at = box_of(desk), corner(desk, "center")
    drag(qtbot, picture, at, QPoint(40, -30), ALT)
    title = session.title
    assert (title.x, title.y) == (round(40 / picture.scale), round(-30 / picture.scale)) and title.scale == 100
    assert box_of(desk).x == pytest.approx(before.x + title.x) and box_of(desk).w == pytest.approx(before.w)
    drag(qtbot, picture, corner(desk, "center"), QPoint(25, 3), ALT | SHIFT)
    assert session.title.y == title.y and session.title.x > title.x, "Shift keeps to one axis"
    session.undo()
    session.undo()
    assert not session.title.is_placed


def test_a_drag_catches_on_title_safe_and_esc_gives_it_up(desk, qtbot, press):
    picture, session = desk.picture, desk.session
    drag(qtbot, picture, corner(desk, "center"), QPoint(60, -60), ALT)
    moved, box = session.title, box_of(desk)
    off = QPoint(round((96 - box.x) * picture.scale) + 3, 0)
    drag(qtbot, picture, corner(desk, "center"), off)
    assert box_of(desk).x == pytest.approx(96, abs=0.6), "the left of title-safe, 5 % of 1920 (SMPTE ST 2046-1)"
    begin = corner(desk, "center")
    before = session.title
    qtbot.mousePress(picture, LEFT, pos=begin)
    move_held(picture, QPointF(begin + QPoint(80, 40)))
    assert session.title != before
    press(Qt.Key.Key_Escape)
    assert session.title == before and session.title != moved
    qtbot.mouseRelease(picture, LEFT, pos=begin + QPoint(80, 40))
    assert session.title == before


@pytest.mark.parametrize(("name", "way"), [("topRight", (1, -1)), ("topLeft", (-1, -1)), ("bottomRight", (1, 1))])
def test_a_corner_scales_a_lower_third_about_the_corner_in_which_it_stands(desk, qtbot, name, way):
    before = box_of(desk)
    drag(qtbot, desk.picture, corner(desk, name), QPoint(30 * way[0], 20 * way[1]), ALT)
    title, after = desk.session.title, box_of(desk)
    assert title.scale != 100 and title.scale == round(title.scale) and (title.x, title.y) == (0, 0)
    assert (after.x, after.bottom) == (pytest.approx(before.x, abs=0.1), pytest.approx(before.bottom, abs=0.1))
    assert after.w == pytest.approx(before.w * title.scale / 100)


def test_a_press_takes_the_uppermost_title_under_it_and_beside_titles_nothing(desk, qtbot):
    session = desk.session
    session.select(None)
    session.go_to(session.cut.title("odalys").start + 60)
    at = desk.picture.box_in_view(next(iter_boxes(desk)))
    qtbot.mouseClick(desk.picture, LEFT, pos=at.center().toPoint())
    assert session.selected == "odalys" and not session.title.is_placed, "a click moves nothing"
    qtbot.mouseClick(desk.picture, LEFT, pos=desk.picture.to_view(1700, 60).toPoint())
    assert session.selected == "odalys"


def iter_boxes(desk):
    from avlet.desktop.desk.placing import shown_titles

    return (box for _, box in shown_titles(desk.picture))


def test_arrows_with_alt_move_by_one_px_and_by_ten(desk, press):
    for key, modifier in ((Qt.Key.Key_Right, ALT), (Qt.Key.Key_Right, ALT | SHIFT), (Qt.Key.Key_Up, ALT)):
        press(key, modifier)
    assert (desk.session.title.x, desk.session.title.y) == (11.0, -1.0)


def test_place_and_scale_are_typed_and_taken_back(desk, qtbot):
    place = desk.place
    for box, words in ((place.across, "180"), (place.down, "-40"), (place.scale, "90")):
        type_into(qtbot, box, words)
        qtbot.keyClick(box, Qt.Key.Key_Return)
    title = desk.session.title
    assert (title.x, title.y, title.scale) == (180.0, -40.0, 90.0) and place_words(title) == "180 px right, 40 up · 90 %"
    type_into(qtbot, place.scale, "9000")
    qtbot.keyClick(place.scale, Qt.Key.Key_Return)
    assert desk.session.title.scale == 400.0
    qtbot.mouseClick(place.back, LEFT)
    assert not desk.session.title.is_placed and not place.back.isEnabled()


def test_what_was_placed_is_in_the_picture_and_types_where_it_is_seen(desk, qtbot):
    """The desk's own picture, px for px against the film's, and a double click on words where they were put."""
    from avlet.media.cut_film import paint_cut
    from avlet.paint.painter import new_pixels

    drag(qtbot, desk.picture, corner(desk, "topRight"), QPoint(60, -40), ALT)
    drag(qtbot, desk.picture, corner(desk, "center"), QPoint(50, -50), ALT)
    session, picture = desk.session, desk.picture
    session.select(None)
    settle()
    area = picture.picture_area().toRect()
    shown = picture.grab(area).toImage()
    pixels = new_pixels(area.width(), area.height())
    assert paint_cut(session.cut, session.frame, pixels, session.scene_of) == []
    got = np.frombuffer(shown.constBits().asstring(shown.sizeInBytes()), np.uint8).reshape(shown.height(), shown.width(), 4)[..., 2::-1]
    box = session.cut.title("odalys")
    session.select(box.id)
    view = picture.box_in_view(box_of(desk)).translated(-area.x(), -area.y()).toRect().adjusted(4, 4, -4, -4)
    ours = pixels[view.top() : view.bottom(), view.left() : view.right(), :3].astype(int)
    assert np.abs(got[view.top() : view.bottom(), view.left() : view.right()].astype(int) - ours).mean() < 6
    words = next(found for y in range(0, 100, 4) if (found := picture.words_at(corner(desk, "center").toPointF() + QPointF(0, y - 50))))
    assert words[0].id == "odalys"


# Times


def test_the_time_is_typed_as_frames_seconds_and_timecode(desk, qtbot, window):
    said = []
    desk.session.refused.connect(said.append)
    for words, frame in (("125", 125), ("2 s", 50), ("00:00:12:05", 305), ("10:00", 305), ("nonsense", 305)):
        type_into(qtbot, desk.time, words)
        qtbot.keyClick(desk.time, Qt.Key.Key_Return)
        assert desk.session.frame == frame, words
    assert len(said) == 2 and all("no number of frames and no time" in words for words in said)
    desk.time.clearFocus()
    assert desk.time.text() == "00:00:12:05"


def test_where_a_title_begins_is_typed(desk, qtbot):
    said = []
    desk.session.refused.connect(said.append)
    type_into(qtbot, desk.times.begin, "00:00:12:00")
    qtbot.keyClick(desk.times.begin, Qt.Key.Key_Return)
    assert desk.session.title.start == 300 and desk.session.title.length == 125 and not said
    type_into(qtbot, desk.times.begin, "450")
    qtbot.keyClick(desk.times.begin, Qt.Key.Key_Return)
    assert desk.session.title.start != 450 and "There is no room at frame 450" in said[-1]


def test_timecode_counts_from_where_the_timeline_begins(window, qtbot, tmp_path):
    otio.adapters.write_to_file(timeline_with([(48, "A")], begin=86_400), str(tmp_path / "reel.otio"))
    window.files.open_path(tmp_path / "reel.otio")
    window.show_desk()
    settle()
    desk, said = window.desk, []
    desk.session.refused.connect(said.append)
    assert desk.time.text() == "01:00:00:00"
    type_into(qtbot, desk.time, "01:00:02:00")
    qtbot.keyClick(desk.time, Qt.Key.Key_Return)
    assert desk.session.frame == 48
    type_into(qtbot, desk.time, "00:59:00:00")
    qtbot.keyClick(desk.time, Qt.Key.Key_Return)
    assert desk.session.frame == 48 and "lies before the beginning, which is 01:00:00:00" in said[-1]
    for words, frame in (("60", 60), ("1 s", 24), ("00:03", 24), ("01:00:00:03", 3)):
        type_into(qtbot, desk.time, words)
        qtbot.keyClick(desk.time, Qt.Key.Key_Return)
        assert desk.session.frame == frame, f"{words}: frames and seconds count from the first frame"


def test_no_typed_time_leads_beyond_the_longest_cut(desk, qtbot, window, tmp_path):
    said = []
    desk.session.refused.connect(said.append)
    type_into(qtbot, desk.times.begin, "999999999")
    qtbot.keyClick(desk.times.begin, Qt.Key.Key_Return)
    assert desk.session.title.end == MOST_CUT_FRAMES and "There is no room at frame 999999999" in said[-1]
    write_cut(desk.session.cut, tmp_path / "long.otio")
    assert max(t.end for t in read_cut(tmp_path / "long.otio").titles) == MOST_CUT_FRAMES


def test_i_and_o_trim_at_the_playhead(desk, press):
    session = desk.session
    start, end = session.title.start, session.title.end
    session.go_to(start + 20)
    press(Qt.Key.Key_I)
    assert (session.title.start, session.title.end) == (start + 20, end)
    session.go_to(end - 30)
    press(Qt.Key.Key_O)
    assert (session.title.start, session.title.end) == (start + 20, end - 29), "the frame under the playhead is its last"
    said = []
    session.refused.connect(said.append)
    session.go_to(session.cut.title("teodor").start + 5)
    press(Qt.Key.Key_O)
    assert session.title.end == session.cut.title("teodor").start and "another title stands in the way" in said[-1]
    session.select(None)
    press(Qt.Key.Key_I)
    assert "Select a title first" in said[-1]


def test_i_and_o_set_moves_and_keys_on_the_time_bench(window, qtbot, press):
    window.show_bench(1)
    settle()
    qtbot.waitUntil(window.isActiveWindow)
    session, ruler = window.session, window.time.ruler
    bar = next(bar for row in ruler.rows for bar in row.bars if not bar.mirrored)
    ruler.choose((bar.at,))
    session.go_to(round(bar.start) + 5)
    press(Qt.Key.Key_I)
    now = next(b for row in ruler.rows for b in row.bars if b.at == bar.at)
    assert (now.start, now.end) == (pytest.approx(bar.start + 5), pytest.approx(bar.end))
    session.go_to(round(bar.end) + 7)
    press(Qt.Key.Key_O)
    now = next(b for row in ruler.rows for b in row.bars if b.at == bar.at)
    assert (now.start, now.end) == (pytest.approx(bar.start + 5), pytest.approx(bar.end + 8))
    part = bar.at.part
    session.edit("Keys", lambda t: keying.set_key(keying.set_key(t, part, "opacity", 40, 100.0), part, "opacity", 52, 40.0))
    lane = next(lane for row in ruler.rows for lane in row.keys if lane.keyed.path == "opacity")
    ruler.choose((), tuple((part, "opacity", number) for number in range(2)))
    session.go_to(46)
    press(Qt.Key.Key_I)
    lane = next(lane for row in ruler.rows for lane in row.keys if lane.keyed.path == "opacity")
    assert lane.times == pytest.approx((46, 58))
    session.go_to(70)
    press(Qt.Key.Key_O)
    lane = next(lane for row in ruler.rows for lane in row.keys if lane.keyed.path == "opacity")
    assert lane.times == pytest.approx((58, 70)), "the last of them stands there, the other as far before it"
    said = []
    session.refused.connect(said.append)
    ruler.choose(())
    press(Qt.Key.Key_I)
    assert "Choose moves, keys or a mark" in said[-1]


def test_j_k_l_play_back_stop_and_play_on(desk, qtbot, press):
    player, session = desk.player, desk.session
    session.go_to(400)
    press(Qt.Key.Key_J)
    qtbot.waitUntil(lambda: session.frame < 398, timeout=5000)
    press(Qt.Key.Key_J)
    assert player.way == -2
    press(Qt.Key.Key_K)
    assert not player.playing
    at = session.frame
    press(Qt.Key.Key_L)
    qtbot.waitUntil(lambda: session.frame > at + 2, timeout=5000)
    assert player.way == 1
    session.go_to(2)
    press(Qt.Key.Key_J)
    qtbot.waitUntil(lambda: not player.playing, timeout=5000)
    assert session.frame == 0, "it stops at the beginning"


# Size and rate


def test_a_rate_that_would_make_a_timeline_too_long_is_refused_on_the_desk(window, qtbot, tmp_path):
    timeline = timeline_with([(48, "A")])
    timeline.tracks[0][0].source_range = otio.opentime.TimeRange(
        otio.opentime.RationalTime(0, 24), otio.opentime.RationalTime(MOST_CUT_FRAMES - 100, 24)
    )
    otio.adapters.write_to_file(timeline, str(tmp_path / "long.otio"))
    window.files.open_path(tmp_path / "long.otio")
    window.show_desk()
    said, before = [], window.cut_session.cut
    window.cut_session.refused.connect(said.append)
    window.desk.shape.take_rate("120/1")
    assert window.cut_session.cut is before and "cannot be shown at 120/1" in said[-1]


def test_another_size_and_rate_keep_all_seconds_and_are_one_step_back(desk, qtbot):
    session = desk.session
    before, seconds = session.cut, session.title.start / 25
    desk.shape.take_rate("50/1")
    assert session.cut.frame.fps == 50 and session.title.start == round(seconds * 50) and desk.shape.text() == "1920×1080 · 50 f/s"
    desk.shape.take_words("1080x1920 24000/1001")
    assert (session.cut.frame.width, session.cut.frame.rate) == (1080, "24000/1001")
    assert "made for 1920×1080 and is shown whole" in desk.note.text()
    said = []
    session.refused.connect(said.append)
    for wrong in ("12", "9x9", "99999x16 25", "0", "x"):
        cut = session.cut
        desk.shape.take_words(wrong)
        assert session.cut == cut or wrong == "12", wrong
    assert len(said) >= 4
    while session.history.undo_label:
        session.undo()
    assert session.cut.frame == before.frame and session.cut.titles == before.titles


def test_a_title_of_another_shape_is_brought_to_it_by_a_press(desk, qtbot):
    desk.shape.take_size(1080, 1920)
    button = desk.place.reframe
    assert button.isVisible() and button.text() == "Bring it to this shape, 1080×1920"
    whole = box_of(desk).w
    qtbot.mouseClick(button, LEFT)
    assert desk.session.title.reframed and button.text() == "Show it whole, as 1920×1080" and box_of(desk).w > 1.5 * whole
    qtbot.mouseClick(button, LEFT)
    assert box_of(desk).w == pytest.approx(whole)


def test_a_strangers_timeline_keeps_its_pictures_at_another_rate(window, tmp_path):
    otio.adapters.write_to_file(timeline_with([(48, "A")], length=240), str(tmp_path / "reel.otio"))
    window.files.open_path(tmp_path / "reel.otio")
    window.show_desk()
    settle()
    window.desk.shape.take_rate("50/1")
    cut = window.cut_session.cut
    assert sum(clip.length for clip in cut.pictures) == pytest.approx(240 / (24000 / 1001) * 50, abs=1)
    assert theirs_of(cut).marks[0].frame == round(Fraction(48 * 1001, 24000) * 50)
    window.files.save_cut()
    again = read_cut(tmp_path / "reel.otio")
    assert again.frame == cut.frame and theirs_of(again).tracks == theirs_of(cut).tracks


# Rows, sound, markers


@pytest.fixture
def stranger(window, qtbot, tmp_path):
    """A stranger's timeline with sound, markers and many tracks, on the desk."""
    timeline = timeline_with([(100, "Bo Li", "role: Ringer"), (400, "Odalys Brandt"), (700, "Nkechi Arundel", "", "GREEN")])
    write_clap(tmp_path / "voice.mov", 12, 1.0, "25/1")
    for number in range(4):
        sound = otio.schema.Track(f"A{number + 1}", kind="Audio")
        span = otio.opentime.TimeRange(otio.opentime.RationalTime(0, 25), otio.opentime.RationalTime(25, 25))
        sound.append(otio.schema.Clip("voice", otio.schema.ExternalReference("voice.mov"), span))
        timeline.tracks.append(sound)
    otio.adapters.write_to_file(timeline, str(tmp_path / "reel.otio"))
    window.files.open_path(tmp_path / "reel.otio")
    window.show_desk()
    settle()
    return window.desk


def test_all_tracks_have_a_row_and_the_view_a_bounded_height(stranger, qtbot):
    rows = rows_of(stranger.session.cut)
    assert [row.name for row in rows.rows] == ["Markers", "Words 2", "Words 1", "V1", "A1", "A2", "A3", "A4"]
    assert rows.height <= MOST_HEIGHT and all(a.top + a.height <= b.top for a, b in zip(rows.rows, rows.rows[1:], strict=False))
    assert stranger.view.height() == rows.height
    many = stranger.session.cut
    timeline = otio.adapters.read_from_string(many.foreign, "otio_json")
    timeline.tracks.extend([otio.schema.Track(f"V{n}", kind="Video") for n in range(60)])
    crowd = rows_of(replace(many, foreign=otio.adapters.write_to_string(timeline, "otio_json")))
    assert crowd.height <= MOST_HEIGHT + 60 and crowd.left_out > 0 and crowd.rows[-1].name.endswith(f"and {crowd.left_out} more")
    qtbot.waitUntil(lambda: stranger.view.waveforms.peaks(Path(many.home) / "voice.mov") is not None, timeout=10_000)


def test_markers_become_titles_by_the_dialog_and_one_undo_takes_them_back(stranger, qtbot):
    told = []

    def answer(dialog):
        told.append((dialog.list.rowCount(), dialog.list.item(0, 2).text(), dialog.make.text(), dialog.told.text()))
        dialog.colour.setCurrentIndex(dialog.colour.findData("red"))
        told.append((dialog.list.rowCount(), dialog.make.text()))
        qtbot.mouseClick(dialog.make, LEFT)

    def when_open():
        dialog = QApplication.activeModalWidget()
        if isinstance(dialog, QDialog):
            dialog.template.setCurrentIndex(dialog.template.findData("name-strap.avlet"))
            answer(dialog)

    assert stranger.markers.isVisible()
    QTimer.singleShot(300, when_open)
    qtbot.mouseClick(stranger.markers, LEFT)
    session = stranger.session
    assert told[0][:3] == (3, "Bo Li · Ringer", "Make 3 titles") and told[1] == (2, "Make 2 titles")
    assert [(t.start, t.answers["name"]) for t in session.cut.titles] == [(100, "Bo Li"), (400, "Odalys Brandt")]
    assert len(session.selection) == 2
    session.undo()
    assert not session.cut.titles


def test_titles_at_markers_are_filled_from_a_table_in_a_file(stranger, qtbot, tmp_path, monkeypatch):
    table, broken = tmp_path / "people.csv", tmp_path / "broken.xlsx"
    table.write_text("Name;Role\nAda Vik;Pilot\nBo Lu;Ringer\nCai;Cook\n")
    broken.write_bytes(b"PK\3\4 no sheet")
    told = []

    def when_open():
        dialog = QApplication.activeModalWidget()
        dialog.template.setCurrentIndex(dialog.template.findData("name-strap.avlet"))
        for file in (broken, table):
            monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, file=file: (str(file), ""))
            qtbot.mouseClick(dialog.from_file, LEFT)
            told.append((dialog.told.text(), dialog.words.currentText()))
        qtbot.mouseClick(dialog.make, LEFT)

    QTimer.singleShot(300, when_open)
    qtbot.mouseClick(stranger.markers, LEFT)
    assert "broken.xlsx" in told[0][0] and told[0][1].startswith("The marker’s name"), (
        "what cannot be read is said, and nothing else changes"
    )
    assert told[1][1] == "The rows of “people.csv”, in order (4)"
    assert [(t.answers["name"], t.answers["role"]) for t in stranger.session.cut.titles] == [
        ("Ada Vik", "Pilot"), ("Bo Lu", "Ringer"), ("Cai", "Cook"),
    ]  # fmt: skip


class FakeSink:
    """A sound device whose clock the test turns."""

    def __init__(self):
        self.device, self.at, self.stopped = None, 0, False

    def start(self, device):
        self.device = device

    def stop(self):
        self.stopped = True

    def processedUSecs(self):
        return self.at


def test_sound_plays_in_step_its_clock_counts_and_it_begins_anew_at_the_end(desk, qtbot, tmp_path):
    path = write_clap(tmp_path / "clap.mov", 12, 1.0, "25/1")
    session, sinks = desk.session, []
    session.edit("Short", lambda c: replace(c, titles=(), pictures=(PictureClip("clap", 25, str(path)),)))
    desk.sound._make_sink = lambda parent: sinks.append(FakeSink()) or sinks[-1]
    session.go_to(10)
    desk.toggle()
    samples = np.frombuffer(bytes(sinks[0].device.read(8 * HERTZ // 10)), np.float32).reshape(-1, 2)
    assert int(np.argmax(samples[:, 0] > 0.3)) == sample_of(2, Fraction(25)), "it begins with frame 10, the clap is two frames on"
    sinks[0].at = 200_000
    qtbot.waitUntil(lambda: session.frame == 15, timeout=3000)
    qtbot.wait(150)
    assert session.frame == 15, "the sound's clock stands, so does the picture"
    for _ in range(9):
        more = np.frombuffer(bytes(sinks[0].device.read(8 * HERTZ // 10)), np.float32).reshape(-1, 2)
    assert len(more) == HERTZ // 10
    desk.toggle()
    assert sinks[0].stopped
    qtbot.mouseClick(desk.heard, LEFT)
    desk.toggle()
    assert len(sinks) == 1, "switched off"
    desk.toggle()


def test_where_there_is_no_device_it_is_said_once_and_the_film_plays(desk, qtbot, tmp_path):
    path = write_clap(tmp_path / "clap.mov", 12, 1.0, "25/1")
    session, said = desk.session, []
    session.edit("Short", lambda c: replace(c, titles=(), pictures=(PictureClip("clap", 100, str(path)),)))
    session.refused.connect(said.append)
    desk.sound._make_sink = lambda parent: None
    session.go_to(0)
    for _ in range(2):
        desk.toggle()
        at = session.frame
        qtbot.waitUntil(lambda at=at: session.frame > at, timeout=5000)
        desk.toggle()
    assert said == [NO_DEVICE]


def test_with_shift_the_later_titles_go_along_while_one_is_trimmed(desk, qtbot):
    session, view = desk.session, desk.view
    title = session.cut.title("odalys")
    later = {t.id: t.start for t in session.cut.titles if t.track == title.track and t.start >= title.end}
    others = {t.id: t.start for t in session.cut.titles if t.id not in later and t.id != "odalys"}
    area = view.title_area(title)
    at = QPoint(round(area.right() - 2), round(area.center().y()))
    drag(qtbot, view, at, QPoint(40, 0), SHIFT)
    now = session.cut.title("odalys")
    by = now.end - title.end
    assert by > 0 and now.start == title.start and later
    assert {i: session.cut.title(i).start for i in later} == {i: start + by for i, start in later.items()}
    assert {i: session.cut.title(i).start for i in others} == others
    session.undo()
    assert session.cut.title("odalys") == title and session.cut.title("teodor").start == later["teodor"]
