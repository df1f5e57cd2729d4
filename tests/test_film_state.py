"""The film of a title on the card of the desk, what a second run makes, and sweeping what no title wants any more."""

import dataclasses
import os
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from hands import settle, type_into
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from avlet.document.cut import Cut, PictureClip, Title, put_title, remove_title, replace, set_answers
from avlet.document.template import Frame
from avlet.media.render import StoppedError
from avlet.roster.cut_render import CutRender, open_titles
from avlet.roster.delivery import read_delivery
from avlet.roster.film_state import FilmState, FilmWatch

DEMO = Path(__file__).parents[1] / "demo"
LEFT = Qt.MouseButton.LeftButton


def small(*titles: Title) -> Cut:
    cut = Cut("Short", Frame(320, 180), (PictureClip("dusk", 30),))
    for title in titles:
        cut = put_title(cut, title)
    return cut


TWO = small(Title("a", "name-strap.avlet", 0, 8, {"name": "Bo Li"}), Title("b", "name-strap.avlet", 10, 8, {"name": "Ada Vik"}))


def rendering(cut, folder, codec="qtrle", film=False) -> CutRender:
    return CutRender(cut, open_titles(cut, [DEMO]), folder, "short", codec=codec, film=film)


def state_of(cut, title_id, folder, watch=None):
    return (watch or FilmWatch()).state(cut, cut.title(title_id), open_titles(cut, [DEMO])[title_id], folder)


def test_the_film_of_a_title_is_known_and_known_to_be_older_than_it(tmp_path):
    assert state_of(TWO, "a", tmp_path) is None and state_of(TWO, "a", tmp_path / "no\0folder") is None
    rendering(TWO, tmp_path).run(lambda *_: True)
    watch = FilmWatch()
    for title_id, name in (("a", "T0001-name-strap.mov"), ("b", "T0002-name-strap.mov")):
        state = state_of(TWO, title_id, tmp_path, watch)
        assert (state.path.name, state.shows) == (name, True)
        assert datetime.now() - state.made < timedelta(minutes=5)
    changed = set_answers(TWO, "b", {"name": "Ada Vig"})
    assert state_of(changed, "a", tmp_path, watch).shows and not state_of(changed, "b", tmp_path, watch).shows
    moved = replace(TWO, titles=tuple(replace(t, start=t.start + 3) for t in TWO.titles))
    assert state_of(moved, "b", tmp_path, watch).shows, "a title that was only moved in time has its film"
    for other in ({"length": 9}, {"x": 4.0}, {"scale": 90.0}):
        cut = replace(TWO, titles=tuple(replace(t, **other) if t.id == "a" else t for t in TWO.titles))
        assert not state_of(cut, "a", tmp_path, watch).shows, other
    rendering(changed, tmp_path).run(lambda *_: True)
    assert state_of(changed, "b", tmp_path, watch).shows, "the list is read again once it has changed"
    (tmp_path / "T0001-name-strap.mov").write_bytes(b"another")
    assert state_of(changed, "a", tmp_path, watch) is None, "another file is no film of it"
    (tmp_path / "T0002-name-strap.mov").unlink()
    assert state_of(changed, "b", tmp_path, watch) is None
    (tmp_path / "delivery.json").write_text("{")
    assert state_of(changed, "b", tmp_path) is None


def test_a_film_of_an_earlier_version_of_the_template_is_older(tmp_path):
    rendering(TWO, tmp_path).run(lambda *_: True)
    watch, title = FilmWatch(), TWO.title("a")
    opened = open_titles(TWO, [DEMO])["a"]
    assert watch.state(TWO, title, opened, tmp_path).shows
    other = dataclasses.replace(opened, template=replace(opened.template, way_in=opened.template.way_in - 1))
    assert not watch.state(TWO, title, other, tmp_path).shows


def test_of_two_films_the_one_that_shows_the_title_counts(tmp_path):
    job = rendering(TWO, tmp_path)
    job.run(lambda *_: True)
    other = CutRender(set_answers(TWO, "a", {"name": "X"}), job.opened, tmp_path, "short", suffix=".webm", codec="webm", film=False)
    other.run(lambda *_: True)
    state = state_of(TWO, "a", tmp_path)
    assert (state.path.name, state.shows) == ("T0001-name-strap.mov", True), "though the other one is newer"
    os.utime(tmp_path / "T0001-name-strap.mov", (1_000_000_000, 1_000_000_000))
    assert state_of(TWO, "a", tmp_path).shows
    assert state_of(set_answers(TWO, "a", {"name": "Y"}), "a", tmp_path).path.suffix == ".webm", "of those that do not, the newer one"


def test_a_film_of_another_cut_is_none_of_this_one(tmp_path):
    rendering(TWO, tmp_path).run(lambda *_: True)
    assert state_of(replace(TWO, name="Other"), "a", tmp_path) is None


def test_one_title_alone_is_rendered_beside_the_others_and_on_their_list(tmp_path):
    rendering(TWO, tmp_path, film=True).run(lambda *_: True)
    before = {path.name: path.stat().st_mtime_ns for path in tmp_path.iterdir()}
    changed = set_answers(set_answers(TWO, "a", {"name": "X"}), "b", {"name": "Y"})
    job = rendering(changed, tmp_path, film=True)
    job.only = frozenset({"b"})
    assert job.total == job.scene_of(changed.title("b")).length
    done = job.run(lambda *_: True)
    assert [path.name for path in done.written] == ["T0002-name-strap.mov"] and done.superseded == ()
    after = {path.name: path.stat().st_mtime_ns for path in tmp_path.iterdir()}
    assert {name for name in after if after[name] != before[name]} == {"T0002-name-strap.mov", "delivery.json", "delivery.csv"}
    assert state_of(changed, "b", tmp_path).shows and not state_of(changed, "a", tmp_path).shows
    listed = read_delivery(tmp_path)
    assert listed.complete and {one.file for one in listed.files} == {"T0001-name-strap.mov", "T0002-name-strap.mov", "short.mp4"}
    assert [one.row for one in listed.files] == [1, 2, 3]
    assert [path.name for path in rendering(changed, tmp_path, film=True).run(lambda *_: True).new] == [
        "T0001-name-strap.mov", "short.mp4", "short.otio",
    ]  # fmt: skip


def test_one_title_alone_in_a_new_folder(tmp_path):
    job = rendering(TWO, tmp_path / "new")
    job.only = frozenset({"a"})
    job.run(lambda *_: True)
    assert sorted(p.name for p in (tmp_path / "new").iterdir()) == ["T0001-name-strap.mov", "delivery.csv", "delivery.json"]
    assert not read_delivery(tmp_path / "new").complete, "the others are still to be made"


def test_what_a_stopped_run_did_not_come_to_stays_on_the_list(tmp_path):
    rendering(TWO, tmp_path).run(lambda *_: True)
    changed = set_answers(TWO, "a", {"name": "X"})
    with pytest.raises(StoppedError):
        rendering(changed, tmp_path).run(lambda *_: False)
    assert state_of(changed, "b", tmp_path).shows and not state_of(changed, "a", tmp_path).shows
    assert [path.name for path in rendering(changed, tmp_path).run(lambda *_: True).new] == ["T0001-name-strap.mov", "short.otio"]


def test_the_film_of_a_title_whose_template_is_not_to_be_had_is_not_given_up(tmp_path):
    rendering(TWO, tmp_path).run(lambda *_: True)
    lost = CutRender(
        TWO, {"a": "It is not in the library.", "b": open_titles(TWO, [DEMO])["b"]}, tmp_path, "short", codec="qtrle", film=False
    )
    done = lost.run(lambda *_: True)
    assert done.superseded == () and any("left out" in words for words in done.said)
    assert lost.prune() == () and (tmp_path / "T0001-name-strap.mov").exists()
    assert rendering(TWO, tmp_path).run(lambda *_: True).kept == 2, "it is known when the template is there again"


def test_the_usual_film_and_its_name_are_one_film(tmp_path):
    """As the window names the film and the command line may not: neither makes the other's again."""
    rendering(TWO, tmp_path, codec=None).run(lambda *_: True)
    named = rendering(TWO, tmp_path, codec="prores")
    assert [new for _, new in named.planned()] == [False, False, True]
    assert named.run(lambda *_: True).kept == 2


def test_a_dry_run_tells_what_a_run_will_make(tmp_path):
    def told(cut):
        job = rendering(cut, tmp_path, film=True)
        planned = {path.name: new for path, new in job.planned()}
        done = job.run(lambda *_: True)
        assert planned == {path.name: path in done.new for path in done.written}
        return planned

    assert told(TWO) == {"T0001-name-strap.mov": True, "T0002-name-strap.mov": True, "short.mp4": True, "short.otio": True}
    assert told(TWO) == {"T0001-name-strap.mov": False, "T0002-name-strap.mov": False, "short.mp4": False, "short.otio": True}
    (tmp_path / "T0001-name-strap.mov").unlink()
    assert told(TWO)["T0001-name-strap.mov"], "what is on the list and gone is made again"
    assert told(set_answers(TWO, "b", {"name": "X"})) == {
        "T0001-name-strap.mov": False, "T0002-name-strap.mov": True, "short.mp4": True, "short.otio": True,
    }  # fmt: skip


@pytest.mark.parametrize(("shows", "days", "words"), [
    (True, 0, "Film made 10:31"), (True, 1, "Film made 2026-03-04 10:31"),
    (False, 0, "Its film, made 10:31, is older than the title: render it again"),
    (False, 1, "Its film, made 2026-03-04 10:31, is older than the title: render it again"),
])  # fmt: skip
def test_the_state_in_words(shows, days, words):
    made = datetime(2026, 3, 4, 10, 31)
    assert FilmState(Path("x"), made, shows).words(made + timedelta(days=days, hours=1)) == words


# On the desk


@pytest.fixture
def desk(window):
    window.show_desk()
    window.cut_session.edit("Short", lambda _: TWO)
    window.cut_session.select("a")
    settle()
    return window.desk


def render_all(window, qtbot, folder):
    window.files.render(all_titles=True)
    dialog = window.files.dialog
    dialog.film.setChecked(False)
    dialog.folder.line.setText(str(folder))
    dialog.kind.setCurrentText("Run-length film with alpha (.mov)")
    qtbot.mouseClick(dialog.start_button, LEFT)
    qtbot.waitUntil(lambda: dialog.thread_ is None, timeout=60_000)
    return dialog


def test_the_card_says_when_the_film_was_made_and_that_it_is_older(window, desk, qtbot, tmp_path):
    session = window.cut_session
    assert desk.film.isHidden()
    dialog = render_all(window, qtbot, tmp_path)
    assert dialog.words.text().startswith("Wrote T0001-name-strap.mov, T0002-name-strap.mov, short.otio into ")
    dialog.reject()
    assert desk.film.isVisible() and desk.film.text() == f"Film made {desk.film.state.made:%H:%M}"
    qtbot.wait(400)  # what showing it began is over
    type_into(qtbot, next(iter(desk.card.inputs.values())), "Bo Lu")
    qtbot.waitUntil(lambda: "older than the title" in desk.film.text(), timeout=5_000)
    session.select("b")
    assert desk.film.text().startswith("Film made"), "the other one's is as it was"
    session.select("a")
    old = (tmp_path / "T0002-name-strap.mov").stat().st_mtime_ns
    dialog = render_all(window, qtbot, tmp_path)
    assert (
        dialog.words.text().startswith("Wrote T0001-name-strap.mov, short.otio into ")
        and "1 file was there already." in dialog.words.text()
    )
    dialog.reject()
    assert desk.film.text().startswith("Film made") and (tmp_path / "T0002-name-strap.mov").stat().st_mtime_ns == old
    session.select(None)
    assert desk.film.isHidden()


def test_one_title_is_rendered_from_the_card_and_its_film_is_told(window, desk, qtbot, tmp_path):
    window.files.render(all_titles=False)
    dialog = window.files.dialog
    assert dialog.names == ["T0001-name-strap"] and not dialog.film.isVisible()
    dialog.folder.line.setText(str(tmp_path / "films"))
    dialog.kind.setCurrentText("Run-length film with alpha (.mov)")
    qtbot.mouseClick(dialog.start_button, LEFT)
    qtbot.waitUntil(lambda: dialog.thread_ is None, timeout=60_000)
    assert dialog.words.text().startswith("Wrote T0001-name-strap.mov into ")
    dialog.reject()
    assert desk.film.text().startswith("Film made")
    window.cut_session.select("b")
    assert desk.film.isHidden()
    assert render_all(window, qtbot, tmp_path / "films").words.text().startswith("Wrote T0002-name-strap.mov, short.otio")
    window.files.dialog.reject()


def test_films_that_no_title_wants_are_taken_away_by_a_press(window, desk, qtbot, tmp_path):
    session = window.cut_session
    dialog = render_all(window, qtbot, tmp_path)
    assert not dialog.sweep.isVisible()
    dialog.reject()
    (tmp_path / "T0009-other.mov").write_bytes(b"not ours")
    session.edit("Remove", lambda c: remove_title(c, "b"))
    dialog = render_all(window, qtbot, tmp_path)
    seen = []
    dialog.began.connect(lambda _: seen.append(dialog.sweep.isVisible()))
    qtbot.mouseClick(dialog.start_button, LEFT)
    qtbot.waitUntil(lambda: dialog.thread_ is None, timeout=60_000)
    assert seen == [False], "nothing is swept while it is rendered again"
    assert dialog.sweep.isVisible() and dialog.sweep.text() == "Take away 1 film that no title wants"
    assert "No title wants T0002-name-strap.mov any more." in dialog.words.text() and (tmp_path / "T0002-name-strap.mov").exists()
    qtbot.mouseClick(dialog.sweep, LEFT)
    QApplication.processEvents()
    assert not (tmp_path / "T0002-name-strap.mov").exists() and dialog.sweep.isHidden()
    assert "Took away T0002-name-strap.mov." in dialog.words.text()
    assert sorted(p.name for p in tmp_path.glob("*.mov")) == ["T0001-name-strap.mov", "T0009-other.mov"]
    dialog.reject()
