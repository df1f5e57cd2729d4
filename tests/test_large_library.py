"""A library of thousands: what is known is kept, read beside what goes on, looked into again only where it changed."""

import io
import json
import os
import shutil
import sqlite3
import threading
import zipfile

import pytest
from conftest import DEMO, plated
from PIL import Image
from test_widgets import shown

from avlet.desktop.desk.library_view import LibraryView
from avlet.desktop.desk.packages_list import preview_frames
from avlet.desktop.sessions.cut_session import CutSession
from avlet.document.cut import Title
from avlet.storage import library
from avlet.storage.handing_over import hand_over
from avlet.storage.library import OTHERS, Entry, scan_all, signature, stamp_of
from avlet.storage.library_index import LibraryIndex, small_png
from avlet.text.fonts import bundled_fonts


def write(folder, file_name, name, **more):
    """A package with nothing but a heading."""
    folder.mkdir(exist_ok=True)
    with zipfile.ZipFile(folder / file_name, "w") as archive:
        archive.writestr("template.json", json.dumps({"format": 1, "name": name, **more}))
    return folder / file_name


def picture(width, height, **how):
    out = io.BytesIO()
    Image.new("RGB", (width, height), "#20435C").save(out, "PNG", **how)
    return out.getvalue()


@pytest.fixture
def looked(monkeypatch):
    """The file names of the packages that were looked into, in order."""
    found, real = [], library._entry
    monkeypatch.setattr(library, "_entry", lambda path: found.append(path.name) or real(path))
    return found


def test_only_what_changed_is_looked_into_again(tmp_path, looked):
    folder, file = tmp_path / "library", tmp_path / "state" / "library.sqlite"
    for n in range(5):
        write(folder, f"p{n}.avlet", f"Number {n}", category="Titles" if n % 2 else "", keywords=["a", "ü渡"])
    index = LibraryIndex(file)
    first = scan_all([folder], index)
    assert sorted(looked) == [f"p{n}.avlet" for n in range(5)]
    assert [e.name for e in first.entries] == [f"Number {n}" for n in range(5)] and first.said == []
    assert first.entries[0].category == OTHERS and first.entries[1].keywords == ("a", "ü渡")
    index.close()
    looked.clear()
    index = LibraryIndex(file)
    assert scan_all([folder], index) == first == scan_all([folder]) and sorted(looked) == [f"p{n}.avlet" for n in range(5)], "once, without"
    looked.clear()
    write(folder, "p3.avlet", "Another name")
    (folder / "p1.avlet").unlink()
    write(folder, "p9.avlet", "Nine")
    os.utime(folder / "p4.avlet", (1, 1))
    again = scan_all([folder], index)
    assert sorted(looked) == ["p3.avlet", "p4.avlet", "p9.avlet"]
    assert [e.name for e in again.entries] == ["Another name", "Nine", "Number 0", "Number 2", "Number 4"]
    index.forget_all_but([folder], again.stamps)
    index.close()
    rows = sqlite3.connect(file).execute("SELECT path FROM packages ORDER BY path").fetchall()
    assert [row[0].rpartition("/")[2] for row in rows] == ["p0.avlet", "p2.avlet", "p3.avlet", "p4.avlet", "p9.avlet"]


def test_a_folder_package_is_looked_into_again_when_its_template_changed(tmp_path, looked):
    shutil.copytree(DEMO / "name-strap.avlet", tmp_path / "library" / "name-strap.avlet")
    index, folders = LibraryIndex(), [tmp_path / "library"]
    assert scan_all(folders, index).entries[0].name == scan_all(folders, index).entries[0].name == "Name strap"
    assert looked == ["name-strap.avlet"]
    inside = tmp_path / "library" / "name-strap.avlet" / "template.json"
    inside.write_text(inside.read_text().replace('"Name strap"', '"Strap of names"'))
    assert scan_all(folders, index).entries[0].name == "Strap of names"


def test_the_first_folder_counts_and_folders_are_kept_apart(tmp_path, looked):
    index = LibraryIndex()
    write(tmp_path / "a", "x.avlet", "Of a")
    write(tmp_path / "b", "x.avlet", "Of b")
    write(tmp_path / "a1", "y.avlet", "Of a1")
    assert [e.name for e in scan_all([tmp_path / "a", tmp_path / "b"], index).entries] == ["Of a"]
    assert [e.name for e in scan_all([tmp_path / "b", tmp_path / "a"], index).entries] == ["Of b"]
    scan_all([tmp_path / "a1"], index)
    index.flush()
    assert set(index._read(str(tmp_path / "a"))) == {str(tmp_path / "a" / "x.avlet")}, "nothing of other folders is read"
    index.forget_all_but([tmp_path / "a"], {})
    looked.clear()
    scan_all([tmp_path / "a1", tmp_path / "b"], index)
    assert looked == [], "what lies in a folder whose name only begins alike is not forgotten"


@pytest.mark.parametrize("damage", [b"", b"not a database", b"SQLite format 3\0" + b"\xff" * 4000])
def test_an_index_that_is_damaged_is_put_aside(tmp_path, damage):
    write(tmp_path / "library", "x.avlet", "X")
    (tmp_path / "i.sqlite").write_bytes(damage)
    index = LibraryIndex(tmp_path / "i.sqlite")
    assert [e.name for e in scan_all([tmp_path / "library"], index).entries] == ["X"]
    index.close()


def test_an_index_in_a_place_that_cannot_be_written_does_no_harm(tmp_path):
    write(tmp_path / "library", "x.avlet", "X")
    (tmp_path / "file").write_text("no folder")
    index = LibraryIndex(tmp_path / "file" / "i.sqlite")
    assert [e.name for e in scan_all([tmp_path / "library"], index).entries] == ["X"]


def test_file_names_in_any_script_and_none_are_known_again(tmp_path, looked):
    folder = tmp_path / "library"
    names = ["渡辺 汐.avlet", "ياسمين.avlet", os.fsdecode(b"\xff\xfe.avlet"), "%00 'x'.avlet"]
    for name in names:
        write(folder, "plain", name.encode(errors="replace").decode())
        (folder / "plain").rename(folder / name)
    index = LibraryIndex(tmp_path / "i.sqlite")
    before = scan_all([folder], index)
    index.close()
    looked.clear()
    assert scan_all([folder], LibraryIndex(tmp_path / "i.sqlite")) == before and looked == []
    assert {e.path.name for e in before.entries} == set(names)


def test_pictures_are_made_small_and_kept_and_none_unpacks_to_much(tmp_path):
    made = small_png(picture(480, 270))
    assert Image.open(io.BytesIO(made)).size == (224, 126)
    out = io.BytesIO()
    Image.new("1", (16_000, 16_000)).save(out, "PNG")
    bomb = out.getvalue()
    assert len(bomb) < 4 * 1024**2
    assert small_png(bomb) == small_png(b"PNG") == small_png(None) == small_png(b"") == b""
    hand_over(plated(), bundled_fonts(), tmp_path)
    index, place = LibraryIndex(), str(tmp_path / "plated.avlet")
    entry = scan_all([tmp_path], index).entries[0]
    assert index.small(place) is None, "not made yet"
    assert index.make_small(entry) == index.small(place) != b""
    index.keep(entry, (1, 1))
    assert index.small(place) is None, "a package that changed has another picture"


def test_a_thumbnail_that_is_too_large_is_not_unpacked(tmp_path):
    path = write(tmp_path, "x.avlet", "X")
    with zipfile.ZipFile(path, "a", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("thumbnail.png", b"\0" * (5 * 1024**2))
        archive.writestr("preview.webp", b"\0" * (5 * 1024**2))
    entry = scan_all([tmp_path]).entries[0]
    assert entry.thumbnail() is None and entry.preview() is None


def test_a_preview_that_is_too_large_does_not_play():
    out = io.BytesIO()
    Image.new("RGB", (1200, 4)).save(out, "WEBP")
    assert preview_frames(out.getvalue()) == []


def test_a_library_that_takes_its_time_is_shown_when_it_is_read(qtbot, tmp_path, monkeypatch):
    for n in range(40):
        write(tmp_path, f"p{n:02}.avlet", f"Number {n:02}")
    real, stops = library._entry, {"p00": threading.Event(), "p30": threading.Event()}

    def slowly(path):
        if path.stem in stops:
            stops[path.stem].wait(30)  # until what was found so far has been looked at
        return real(path)

    monkeypatch.setattr(library, "_entry", slowly)
    monkeypatch.setattr(library, "_BETWEEN", 0.0)
    monkeypatch.setattr(LibraryView, "patience", 0.0)
    view = shown(qtbot, LibraryView(CutSession(tmp_path)))
    assert view.list.count() == 0 and "Looking through the library" in view.hint.text()
    stops["p00"].set()
    qtbot.waitUntil(lambda: 0 < view.list.count() < 40, timeout=20_000)
    stops["p30"].set()
    qtbot.waitUntil(lambda: view.list.count() == 40, timeout=20_000)
    assert "Drag onto a words track" in view.hint.text()
    view.reload()
    view.search.setText("number 07")
    qtbot.waitUntil(lambda: not view._reading, timeout=20_000)
    assert view.list.words() == ["Number 07"]


def test_what_was_found_so_far_does_not_hide_the_whole_that_was_there_before_it(qtbot, tmp_path, monkeypatch):
    for n in range(10):
        write(tmp_path, f"p{n}.avlet", f"Number {n}")
    real, told, looked_into = library._entry, [], []

    def then_no_more(path):
        looked_into.append(path)
        monkeypatch.setattr(library, "_BETWEEN", 0.0 if len(looked_into) == 11 else 1000.0)
        return real(path)

    monkeypatch.setattr(library, "_entry", then_no_more)
    view = shown(qtbot, LibraryView(CutSession(tmp_path)))
    view.reader.found.connect(lambda found: told.append((len(found.entries), view.list.count())))
    for n in range(5):
        write(tmp_path, f"q{n}.avlet", f"Later {n}")
    view.reload()
    assert view.list.count() == 15
    qtbot.waitUntil(lambda: bool(told))
    assert told[0][0] < 15 == told[0][1]


def test_what_was_asked_for_last_is_what_is_shown(qtbot, tmp_path, monkeypatch):
    for n in range(10):
        write(tmp_path / "a", f"a{n}.avlet", f"A {n}")
    write(tmp_path / "b", "b.avlet", "B")
    view = shown(qtbot, LibraryView(CutSession(tmp_path / "b")))
    monkeypatch.setattr(LibraryView, "patience", 0.0)
    for folder in "abab":
        view.session.take_library(tmp_path / folder)
    qtbot.waitUntil(lambda: not view._reading, timeout=20_000)
    qtbot.wait(50)
    assert view.list.words() == ["B"]


def test_pictures_come_when_they_are_looked_at(qtbot, tmp_path):
    hand_over(plated(), bundled_fonts(), tmp_path)
    view = shown(qtbot, LibraryView(CutSession(tmp_path)))
    model = view.list.packages
    qtbot.waitUntil(lambda: view.reader.small(model.entries[0]), timeout=20_000)
    qtbot.waitUntil(lambda: len(model._icons) == 1, timeout=20_000)
    assert not model._icons[model.entries[0].place].isNull()


def test_changes_that_no_watcher_tells_are_found(qtbot, tmp_path):
    path = write(tmp_path, "x.avlet", "X")
    view = shown(qtbot, LibraryView(CutSession(tmp_path)))
    view._watcher.removePaths(view._watcher.directories() + view._watcher.files())
    write(tmp_path, "x.avlet", "Now Y")
    os.utime(path, (5, 5))
    view._look()
    qtbot.waitUntil(lambda: view.list.words() == ["Now Y"], timeout=20_000)


def test_only_templates_that_changed_are_opened_again(tmp_path):
    for name in ("One", "Two"):
        hand_over(plated(name=name), bundled_fonts(), tmp_path)
    session = CutSession(tmp_path)
    titles = [Title("a", "one.avlet", 0, 50, {}, 1, {}), Title("b", "two.avlet", 0, 50, {}, 1, {})]
    before = [session.template_of(title) for title in titles]
    assert all(not isinstance(opened, str) for opened in before)
    session.forget_templates()
    assert [session.template_of(t) is b for t, b in zip(titles, before, strict=True)] == [True, True]
    os.utime(tmp_path / "two.avlet", (5, 5))
    session.forget_templates()
    assert [session.template_of(t) is b for t, b in zip(titles, before, strict=True)] == [True, False]


def test_stamps_of_what_is_not_there_are_none(tmp_path):
    assert stamp_of(tmp_path / "none") == (0, 0) == stamp_of(tmp_path / ("x" * 5000))
    assert signature([tmp_path / "none"]) == {}
    (tmp_path / "file").write_text("")
    assert signature([tmp_path / "file"]) == {str(tmp_path / "file"): (-1, 0)}
    assert Entry("/a/b.avlet", "B").file_name == "b.avlet"


def test_a_template_is_given_to_selected_titles_from_the_library(qtbot, tmp_path):
    for name in ("One", "Two"):
        hand_over(plated(name=name), bundled_fonts(), tmp_path)
    session = CutSession(tmp_path)
    view, given = shown(qtbot, LibraryView(session)), []
    view.given.connect(given.append)
    assert not any("Give it" in action.text() for action in view.menu_for("two.avlet").actions())
    session.edit("x", lambda c: __import__("avlet.document.cut").document.cut.put_title(c, Title("a", "one.avlet", 0, 50, {}, 1, {})))
    session.select("a")
    next(action for action in view.menu_for("two.avlet").actions() if "Give it to the selected title" in action.text()).trigger()
    assert given == ["two.avlet"]
    assert [entry.name for entry in view.usual(1)] == ["One"]
