"""A title that is split: its words stand across the cut, in the picture, in files and films; joined again it is one."""

import json

import numpy as np
import opentimelineio as otio
from conftest import DEMO
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from avlet.document.cut import Cut, PictureClip, Title, join_titles, piece_after, put_title, replace, split_title, trim_title
from avlet.document.template import Frame
from avlet.media.cut_film import paint_cut
from avlet.media.timeline import read_cut, write_cut
from avlet.media.titles import title_scene
from avlet.paint.painter import new_pixels
from avlet.roster.cut_render import CutRender, open_titles
from avlet.storage.package import open_template

STRAP = open_template(DEMO / "name-strap.avlet")
ONE = Cut("Short", Frame(320, 180), (PictureClip("dusk", 140),), (Title("a", "name-strap.avlet", 5, 100, {"name": "Bo Li"}),))


def pictures(cut):
    scenes = {title.id: title_scene(title, STRAP, cut.frame) for title in cut.titles}
    found = []
    for frame in range(0, cut.length, 3):
        pixels = new_pixels(160, 90)
        assert paint_cut(cut, frame, pixels, lambda title: scenes[title.id]) == []
        found.append(pixels.copy())
    return np.stack(found)


@settings(max_examples=12, deadline=None)
@given(st.lists(st.integers(6, 104), min_size=1, max_size=4, unique=True))
def test_splitting_changes_no_picture_and_joining_takes_it_back(places):
    cut = ONE
    for place in places:
        title = cut.titles_at(place)[0]
        cut = split_title(cut, title.id, place)
    assert len(cut.titles) == len(places) + 1 - (5 in places) and {t.whole for t in cut.titles} == {100}
    assert (pictures(cut) == pictures(ONE)).all()
    for _ in range(len(places)):
        cut = join_titles(cut, cut.titles[0].id)
    assert cut == replace(ONE, numbers=cut.numbers, titles=(replace(ONE.titles[0], number=cut.titles[0].number),))


def test_words_that_change_at_the_cut_stand_on_both_sides():
    cut = split_title(ONE, "a", 50)
    second = cut.titles[1]
    changed = put_title(cut, Title(second.id, second.template, second.start, second.length, {"name": "Ida"}, before=second.before))
    one, two = (title_scene(title, STRAP, cut.frame) for title in changed.titles)
    for scene, frame in ((one, 44), (two, 45)):
        assert all(posed.still for posed in scene.pose(frame).parts.values()), "nobody moves in or out at the cut"


def test_a_piece_that_is_trimmed_keeps_the_cut_without_moves():
    cut = trim_title(split_title(ONE, "a", 50), "a", 5, 40)
    first = cut.titles[0]
    scene = title_scene(first, STRAP, cut.frame)
    assert (first.length, first.whole) == (35, 90) and all(posed.still for posed in scene.pose(34).parts.values())
    assert piece_after(cut, "a") is None and join_titles(cut, "a") is cut, "they do not touch any more"


def test_what_does_not_go_together_is_not_joined():
    plain = put_title(put_title(ONE, Title("b", "name-strap.avlet", 105, 20)), Title("c", "place-tag.avlet", 125, 10, before=4))
    assert [piece_after(plain, i) for i in ("a", "b", "c", "gone")] == [None] * 4


def test_a_title_of_its_own_is_not_joined_to_a_piece_that_it_touches():
    first = split_title(ONE, "a", 50).titles[0]
    cut = Cut("Short", ONE.frame, ONE.pictures, (first, Title("b", "name-strap.avlet", 50, 20, {"name": "Ida"})))
    assert piece_after(cut, "a") is None and join_titles(cut, "a") is cut


def test_pieces_are_kept_in_the_file_and_hostile_ones_are_none(tmp_path):
    cut = split_title(split_title(ONE, "a", 50), "a", 20)
    write_cut(cut, tmp_path / "a.otio")
    assert read_cut(tmp_path / "a.otio") == cut
    words = (tmp_path / "a.otio").read_text()
    for wrong in ("-3", '"x"', "1e400", "99999999999", "null", "1.5"):
        (tmp_path / "b.otio").write_text(words.replace('"after": 55', f'"after": {wrong}').replace('"before": 45', f'"before": {wrong}'))
        try:
            found = read_cut(tmp_path / "b.otio")
        except Exception as error:
            assert "b.otio" in str(error)
            continue
        assert all(0 <= t.before <= 1_000_000 and 0 <= t.after <= 1_000_000 for t in found.titles)


def test_films_of_pieces_are_the_whole_and_the_timeline_shows_their_stretch(tmp_path):
    cut = split_title(ONE, "a", 50)
    CutRender(cut, open_titles(cut, [DEMO]), tmp_path, "short", ".mov", "qtrle", film=False).run(lambda done, words: True)
    films = sorted(tmp_path.glob("*.mov"))
    assert len(films) == 2 and films[0].read_bytes() == films[1].read_bytes()
    clips = [c for c in otio.adapters.read_from_file(str(tmp_path / "short.otio")).find_clips() if c.name in ("a", "a-2")]
    assert [(int(c.source_range.start_time.value), int(c.source_range.duration.value)) for c in clips] == [(0, 45), (45, 55)]
    assert all(c.media_reference.available_range.duration.value >= c.source_range.end_time_exclusive().value for c in clips)
    marks = {one["made_of"] for one in json.loads((tmp_path / "delivery.json").read_text())["files"]}
    assert len(marks) == 1


def test_s_splits_and_control_j_joins(window, qtbot):
    session = window.cut_session
    session.edit("Short", lambda cut: ONE)
    window.show_desk()
    QApplication.processEvents()
    session.select("a")
    session.go_to(50)
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_S)
    assert [(t.start, t.length, t.before, t.after) for t in session.cut.titles] == [(5, 45, 0, 55), (50, 55, 45, 0)]
    session.select("a")
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_J, Qt.KeyboardModifier.ControlModifier)
    assert [replace(t, number=0) for t in session.cut.titles] == list(ONE.titles)
    told = []
    session.refused.connect(told.append)
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_J, Qt.KeyboardModifier.ControlModifier)
    assert told and "Nothing goes on after that" in told[0] and len(session.cut.titles) == 1
