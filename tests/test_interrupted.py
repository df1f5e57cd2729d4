"""Writing and rendering that is interrupted, or that meets what is there: links, permissions, what is read-only, what was left behind."""

import os
import signal
import stat
import subprocess
import sys
import time
from pathlib import Path

import pytest

from avlet.errors import StorageError
from avlet.media.drawing import Drawing
from avlet.media.render import render
from avlet.paint.scene import Scene
from avlet.storage.atomic import replacing, sweep, write_whole
from avlet.storage.package import open_template

OLD = 10_000.0


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
    kept = [f".a.mov.{mine}-x.part", f".b.mov.{gone}-x.part", ".a.mov.part", f"a.mov.{gone}-x.part", f".a.mov.{gone}-young.part"]
    for name in kept:
        (tmp_path / name).touch()
        if "young" not in name:
            aged(tmp_path / name)
    write_whole(tmp_path / "a.mov", b"x")
    assert not left.exists() and {p.name for p in tmp_path.iterdir()} == {*kept, "a.mov"}
    folder = tmp_path / f"avlet-{gone}-memory"
    folder.mkdir()
    aged(folder)
    sweep(tmp_path, "avlet-")
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
        assert process.returncode == 2 and "stopped" in err and "Traceback" not in err
        assert not list(tmp_path.iterdir())
