"""Writing and rendering that is interrupted, or that meets what is there: links, permissions, what is read-only, what was left behind."""

import contextlib
import functools
import multiprocessing
import os
import select
import signal
import stat
import struct
import subprocess
import sys
import time
from pathlib import Path

import pytest
from conftest import DEMO
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QMessageBox

from avlet.desktop.window.ending import ENDED, take_down
from avlet.desktop.window.shell import BENCHES
from avlet.desktop.window.window import Window
from avlet.document.cut import Cut, PictureClip, Title, change_titles
from avlet.document.template import Frame
from avlet.errors import RenderError, StorageError
from avlet.media.drawing import Drawing, Pool, draw_with, result_of
from avlet.media.render import render
from avlet.media.timeline import write_cut
from avlet.paint.scene import Scene
from avlet.storage.atomic import replacing, sweep, write_whole
from avlet.storage.package import open_template
from avlet.storage.recovery import lost_work

OLD = 10_000.0
ROOT = Path(__file__).parent.parent


def nobody() -> int:
    """The number of a process that is not there any more."""
    done = subprocess.Popen([sys.executable, "-c", ""])
    done.wait()
    return done.pid


def aged(path: Path) -> Path:
    os.utime(path, (time.time() - OLD,) * 2)
    return path


def test_a_link_stays_and_what_it_leads_to_is_written(tmp_path):
    (tmp_path / "real").mkdir()
    (tmp_path / "link").symlink_to(tmp_path / "real" / "a")
    for words in (b"one", b"two"):
        write_whole(tmp_path / "link", words)
        assert (tmp_path / "link").is_symlink() and (tmp_path / "real" / "a").read_bytes() == words


def test_permissions_stay_and_new_files_have_the_usual_ones(tmp_path):
    path = tmp_path / "a"
    mask = os.umask(0o027)
    try:
        write_whole(path, b"one")
    finally:
        os.umask(mask)
    assert stat.S_IMODE(path.stat().st_mode) == 0o640
    path.chmod(0o600)
    write_whole(path, b"two")
    assert stat.S_IMODE(path.stat().st_mode) == 0o600 and path.read_bytes() == b"two"


def test_what_is_read_only_is_not_written(tmp_path):
    path = tmp_path / "a"
    path.write_bytes(b"one")
    path.chmod(0o444)
    with pytest.raises(StorageError, match="read-only"):
        write_whole(path, b"two")
    assert path.read_bytes() == b"one" and sorted(p.name for p in tmp_path.iterdir()) == ["a"]


def test_what_processes_left_is_swept_and_nothing_else(tmp_path):
    gone, mine = nobody(), os.getpid()
    left = tmp_path / f".a.mov.{gone}-x.part"
    left.touch()
    aged(left)
    other = tmp_path / f".b.mov.{gone}-x.part"
    other.touch()
    aged(other)
    kept = [f".a.mov.{mine}-x.part", ".a.mov.part", f".a.mov.{gone}-x.part.png", f"a.mov.{gone}-x.part", f".a.mov.{gone}-young.part"]
    for name in kept:
        (tmp_path / name).touch()
        if "young" not in name:
            aged(tmp_path / name)
    write_whole(tmp_path / "a.mov", b"x")
    assert not left.exists() and not other.exists() and {p.name for p in tmp_path.iterdir()} == {*kept, "a.mov"}
    folder = tmp_path / f"avlet-{gone}-memory"
    folder.mkdir()
    aged(folder)
    sweep(tmp_path)
    assert not folder.exists()


def test_an_error_while_writing_leaves_what_was_there(tmp_path):
    (tmp_path / "a").write_bytes(b"one")
    with pytest.raises(ZeroDivisionError), replacing(tmp_path / "a") as temporary:
        temporary.write_bytes(b"tw")
        raise ZeroDivisionError
    assert [p.name for p in tmp_path.iterdir()] == ["a"] and (tmp_path / "a").read_bytes() == b"one"
    with pytest.raises(StorageError):
        write_whole(tmp_path / ("x" * 300), b"")
    with pytest.raises(StorageError):
        write_whole(tmp_path / "a\0b", b"")


@pytest.fixture(scope="module")
def drawing():
    opened = open_template(Path(__file__).parent.parent / "demo" / "name-strap.avlet")
    return lambda length: Drawing.of(Scene(opened.template, opened.book, {}, length), (192, 108))


def test_a_shorter_sequence_takes_the_place_of_a_longer_one_whole(tmp_path, drawing):
    render(drawing(40), tmp_path / "frames")
    render(drawing(20), tmp_path / "frames")
    assert sorted(p.name for p in (tmp_path / "frames").iterdir()) == [f"{n:05}.png" for n in range(20)]
    assert [p.name for p in tmp_path.iterdir()] == ["frames"]


def test_a_sequence_is_not_written_among_other_files(tmp_path, drawing, demo):
    before = {p: p.read_bytes() for p in (demo / "name-strap.avlet").rglob("*") if p.is_file()}
    with pytest.raises(StorageError, match="holds other files"):
        render(drawing(5), demo / "name-strap.avlet")
    assert {p: p.read_bytes() for p in (demo / "name-strap.avlet").rglob("*") if p.is_file()} == before


def _children(process: int) -> list[int]:
    return [int(p) for p in Path(f"/proc/{process}/task/{process}/children").read_text().split()]


@pytest.mark.parametrize("ended_by", [signal.SIGTERM, signal.SIGKILL])
def test_a_render_that_is_ended_leaves_no_process_behind(tmp_path, ended_by):
    demo = Path(__file__).parent.parent / "demo" / "end-roll.avlet"
    process = subprocess.Popen(
        [sys.executable, "-m", "avlet", "render", str(demo), "-o", str(tmp_path / "a.mov")], stderr=subprocess.PIPE, text=True,
        env={**os.environ, "PYTHONPATH": str(Path(__file__).parent.parent)},
    )  # fmt: skip
    until = time.monotonic() + 60
    while not (any(tmp_path.iterdir()) and len(_children(process.pid)) >= 2) and time.monotonic() < until:
        time.sleep(0.05)
    time.sleep(1.0)
    workers = _children(process.pid)
    assert workers
    process.send_signal(ended_by)
    _, err = process.communicate(timeout=60)
    until = time.monotonic() + 20
    while (
        any(Path(f"/proc/{w}/cmdline").exists() and "spawn" in Path(f"/proc/{w}/cmdline").read_text() for w in workers)
        and time.monotonic() < until
    ):
        time.sleep(0.1)
    alive = [w for w in workers if Path(f"/proc/{w}/cmdline").exists() and "spawn" in Path(f"/proc/{w}/cmdline").read_text()]
    assert not alive
    if ended_by == signal.SIGTERM:
        assert process.returncode == 143 and "stopped" in err and "Traceback" not in err
        assert not list(tmp_path.iterdir())


def _started(tmp_path, *words):
    """An ``avlet`` command line of its own, with everything it starts in a group of its own."""
    return subprocess.Popen(
        [sys.executable, "-m", "avlet", *map(str, words)], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, start_new_session=True,
        env={**os.environ, "PYTHONPATH": str(ROOT)}, cwd=tmp_path,
    )  # fmt: skip


def _until(what, seconds=60.0):
    until = time.monotonic() + seconds
    while not (found := what()) and time.monotonic() < until:
        time.sleep(0.02)
    return found


def _workers(process):
    return [w for w in _children(process.pid) if "spawn_main" in Path(f"/proc/{w}/cmdline").read_text(errors="replace")]


@pytest.mark.parametrize("after", [0.0, 0.4, 1.5])
def test_two_quick_interruptions_stop_it_once_and_no_worker_prints_a_trace(tmp_path, after):
    process = _started(tmp_path, "render", ROOT / "demo" / "name-strap.avlet", "--length", "2000", "-o", "a.webm")
    assert _until(lambda: _workers(process))
    time.sleep(after)  # at once the workers are importing still
    os.killpg(process.pid, signal.SIGINT)
    time.sleep(0.15)
    os.killpg(process.pid, signal.SIGINT)
    _, err = process.communicate(timeout=30)
    assert process.returncode == 130 and err.endswith("avlet: stopped; nothing half-done was left.\n"), err
    assert "Traceback" not in err and not list(tmp_path.iterdir())


@pytest.mark.parametrize("name", ["a.webm", "a.mov", "frames"])
def test_a_worker_that_dies_is_said(tmp_path, name):
    process = _started(tmp_path, "render", ROOT / "demo" / "end-roll.avlet", "-o", name)
    workers = _until(lambda: _workers(process))
    assert _until(lambda: any(tmp_path.iterdir()))
    time.sleep(1.0)
    os.kill(workers[0], signal.SIGKILL)
    _, err = process.communicate(timeout=60)
    assert process.returncode == 2 and "A drawing process ended unexpectedly" in err and "Traceback" not in err
    assert not list(tmp_path.iterdir())


def half_an_answer(ends, painter, number):
    """In a worker: begin to answer, and never go on; with ``ends`` the worker is gone in the middle of it."""
    at = sys._getframe()
    while "result_queue" not in at.f_locals:
        at = at.f_back
    os.write(at.f_locals["result_queue"]._writer.fileno(), struct.pack("!i", 1_000) + b"half")
    if ends:
        os.kill(os.getpid(), signal.SIGKILL)
    time.sleep(600)


@pytest.mark.parametrize("ends", [True, False])
def test_half_an_answer_is_not_waited_for(drawing, ends):
    begun = time.monotonic()
    with pytest.raises(RenderError if ends else KeyError), Pool(2, drawing(5), []) as pool:
        future = pool.submit(draw_with, functools.partial(half_an_answer, ends), 0)
        if ends:
            pool.answer(future)
        with contextlib.suppress(TimeoutError):
            result_of(future, 4.0)
        raise KeyError
    assert time.monotonic() - begun < 30


def test_what_was_finished_before_a_cut_was_stopped_is_said(tmp_path):
    titles = tuple(Title(f"t{n}", "name-strap.avlet", n * 60, 50) for n in range(40))
    write_cut(Cut("Many", Frame(480, 270), (PictureClip("dusk", 2400),), titles), tmp_path / "many.otio")
    process = _started(tmp_path, "cut", "render", tmp_path / "many.otio", "-o", tmp_path / "films", "--library", ROOT / "demo")
    assert _until(lambda: len(list((tmp_path / "films").glob("*.mov"))) >= 2)
    os.killpg(process.pid, signal.SIGINT)
    out, err = process.communicate(timeout=60)
    films = sorted(str(path) for path in (tmp_path / "films").iterdir() if path.stem != "delivery")
    assert process.returncode == 130 and "nothing half-done was left" in err and "Traceback" not in err
    assert len(films) >= 2 and sorted(out.splitlines()) == films


def _render_begun(window, qtbot, tmp_path, monkeypatch):
    """A window in which all titles of the cut are being rendered."""
    monkeypatch.setattr("platformdirs.user_videos_path", lambda: tmp_path / "videos")
    window.files.render(True)
    dialog = window.files.dialog
    qtbot.mouseClick(dialog.start_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "frame" in dialog.words.text(), timeout=60_000)
    return dialog


@pytest.fixture
def window(qtbot, demo, tmp_path):
    made = Window(demo, tmp_path / "state")
    qtbot.addWidget(made, before_close_func=lambda w: w.files.stop_rendering())
    made.files._open_cut(demo / "the-long-tide.otio")
    made.show()
    return made


def test_closing_the_window_while_it_renders_asks_and_leaves_nothing_half_done(window, qtbot, tmp_path, monkeypatch):
    asked, answers = [], [QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Yes]
    monkeypatch.setattr(QMessageBox, "question", lambda *a: asked.append(a[2]) or answers[len(asked) - 1])
    dialog = _render_begun(window, qtbot, tmp_path, monkeypatch)
    window.close()
    assert window.isVisible() and dialog.is_running and "are being rendered" in asked[0]
    window.close()
    assert not window.isVisible() and not dialog.is_running and len(asked) == 2
    assert not list((tmp_path / "videos").rglob("*.part"))


def test_a_machine_that_ends_it_stops_a_render_unasked(window, qtbot, tmp_path, monkeypatch):
    monkeypatch.setattr(QMessageBox, "question", lambda *a: pytest.fail("nobody is there to be asked"))
    dialog = _render_begun(window, qtbot, tmp_path, monkeypatch)
    take_down(window)
    assert not window.isVisible() and not dialog.is_running and not list((tmp_path / "videos").rglob("*.part"))


DRIVEN = """
import sys
from pathlib import Path
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication
from avlet.desktop.window import application
from avlet.desktop.window.shell import BENCHES
from avlet.desktop.window.window import Window
from avlet.document.editing.edits import replace

what, demo, folder = sys.argv[1], Path(sys.argv[2]), Path(sys.argv[3])

def begin():
    window = next(one for one in QApplication.topLevelWidgets() if isinstance(one, Window))
    window.session.edit("Name", lambda template: replace(template, name="Unsaved"))
    for one in what.split("+"):
        if one in BENCHES:
            window.show_bench(BENCHES.index(one))
        elif one == "rendering":
            window.files.render(True)
            window.files.dialog.folder.line.setText(str(folder))
            window.files.dialog.start_button.click()
        elif one == "films":
            window.roster_session.open_table(demo / "guests.csv")
            window.roster.render_or_stop()
        elif one == "playing":
            window.build.transport.player.play(0)
        elif one == "asking":
            QTimer.singleShot(500, lambda: print("ready", flush=True))
            window.files.save_as()
        elif one == "reading":
            QTimer.singleShot(500, lambda: print("ready", flush=True))
            from avlet.storage.bounded import bounded
            import time
            bounded(lambda: time.sleep(60), "a.xlsx")
    QTimer.singleShot(700, lambda: print("ready", flush=True))

made = application.make_application

def make(arguments):
    app = made(arguments)
    QTimer.singleShot(300, begin)
    return app

application.make_application = make
application.run(None, True)
"""
STATES = (*BENCHES, "Proof+Desk+Roster+Build", "Desk+rendering", "Roster+films", "playing", "asking", "reading")
USUAL = ("Proof+Desk+Roster+Build", "Desk+rendering", "asking", "reading")


@pytest.mark.parametrize("what", [one if one in USUAL else pytest.param(one, marks=pytest.mark.soak) for one in STATES])
def test_a_machine_that_ends_it_is_obeyed_in_order(tmp_path, what):
    """From every bench, and while it proves, renders, plays, asks and reads: within 5 s, with status 143, work kept, no process left."""
    own = {f"XDG_{kind}_HOME": str(tmp_path / kind) for kind in ("CACHE", "DATA", "STATE")}
    process = subprocess.Popen(
        [sys.executable, "-c", DRIVEN, what, str(DEMO), str(tmp_path / "films")],
        stdout=subprocess.PIPE, stderr=subprocess.PIPE, start_new_session=True, env={**os.environ, **own, "PYTHONPATH": str(ROOT)},
    )  # fmt: skip
    try:
        assert select.select([process.stdout], [], [], 60)[0] and process.stdout.readline() == b"ready\n", what
        begun = time.monotonic()
        process.send_signal(signal.SIGTERM)
        _, told = process.communicate(timeout=30)
        took = time.monotonic() - begun
        assert process.returncode == ENDED and took < 15, (process.returncode, took, told.decode())
        assert "Traceback" not in told.decode() and "has been deleted" not in told.decode()
        (lost,) = lost_work(tmp_path / "STATE" / "avlet" / "recovery")
        assert lost.document.name == "Unsaved"
        until = time.monotonic() + 2
        while _members(process.pid) and time.monotonic() < until:
            time.sleep(0.05)
        assert not _members(process.pid), "processes are left"
    finally:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(process.pid, signal.SIGKILL)


def test_taking_down_ends_processes_that_do_not_stop_by_themselves(window):
    busy = multiprocessing.get_context("fork").Process(target=time.sleep, args=(60,))
    busy.start()
    take_down(window, 0.1)
    busy.join(3)
    assert not busy.is_alive()


def _members(session):
    """The processes of a session that are left."""
    found = []
    for folder in Path("/proc").iterdir():
        with contextlib.suppress(OSError, ValueError):
            stat = (folder / "stat").read_text().rpartition(")")[2].split()
            if folder.name.isdigit() and int(stat[3]) == session and stat[0] != "Z":
                found.append(int(folder.name))
    return found


def test_a_render_that_is_stopped_says_what_is_finished(window, qtbot, tmp_path, monkeypatch):
    dialog = _render_begun(window, qtbot, tmp_path, monkeypatch)
    qtbot.waitUntil(lambda: bool(dialog.whole.finished), timeout=60_000)
    qtbot.mouseClick(dialog.close_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not dialog.is_running, timeout=60_000)
    qtbot.waitUntil(lambda: "finished before" in dialog.words.text() and "Nothing half-done" in dialog.words.text(), timeout=5_000)
    names = {path.name for path in (tmp_path / "videos").rglob("*") if path.is_file() and path.stem != "delivery"}
    assert names == {path.name for path in dialog.whole.finished}


# Cuts that were not saved


def test_an_unsaved_cut_is_found_again(window, qtbot, demo, tmp_path, monkeypatch):
    session = window.cut_session
    window.keep_unsaved()
    assert not window.cut_recovery.file.exists(), "nothing was changed"
    session.edit("x", lambda cut: change_titles(cut, ["odalys"], answers={"name": "Bo Li"}))
    window.keep_unsaved()
    assert window.cut_recovery.file.exists() and lost_work(tmp_path / "state" / "recovery") == [], "it is still running"
    kept = window.cut_recovery.file.read_text().replace(f'"process":{os.getpid()}', f'"process":{nobody()}')
    window.undo()
    window.keep_unsaved()
    assert not window.cut_recovery.file.exists(), "it is as it was"
    (tmp_path / "state" / "recovery" / "lost.json").write_text(kept)
    asked, answers = [], [QMessageBox.StandardButton.Open, QMessageBox.StandardButton.Discard]
    monkeypatch.setattr(QMessageBox, "question", lambda *a: asked.append(a[2]) or answers[len(asked) - 1])
    other = Window(tmp_path / "elsewhere", tmp_path / "state")
    qtbot.addWidget(other)
    other.show()
    other.files.lost.offer()
    again = other.cut_session
    assert "the cut “The Long Tide, first cut”" in asked[0] and again.cut.title("odalys").answers["name"] == "Bo Li"
    assert again.path == (demo / "the-long-tide.otio").absolute() and again.library == demo and other.on_desk
    assert again.has_work and other.cut_recovery.file.exists(), "it is unsaved until it is saved"
    assert not (tmp_path / "state" / "recovery" / "lost.json").exists()
    other.close()
    assert len(asked) == 2 and "not saved" in asked[1]
    assert not other.cut_recovery.file.exists()


def test_a_kept_cut_that_is_damaged_can_be_kept_as_a_file(window, qtbot, tmp_path, monkeypatch):
    folder = tmp_path / "state" / "recovery"
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "x.json").write_text('{"process":1,"begun":0,"saved_at":1,"path":null,"template":{"a":1},"kind":"cut"}')
    (folder / "y.json").write_text('{"process":1,"begun":0,"saved_at":1,"path":null,"template":{"a":1},"kind":"opera"}')
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *a: asked.append(a[2]) or QMessageBox.StandardButton.Save)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / f"kept{len(asked)}"), ""))
    window.files.lost.offer()
    assert any("a cut that had no file yet" in words for words in asked) and any(
        "“opera”, which this Avlet does not know" in w for w in asked
    )
    assert (tmp_path / "kept1").read_text() == '{"a":1}' and not list(folder.glob("[xy].json"))
