"""Folders that are written whole or not at all, and what is swept of those who ended in the middle."""

import errno
import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from conftest import DEMO
from test_interrupted import aged, nobody

from avlet.desktop.window.application import sweep_what_was_left
from avlet.document.editing.edits import replace
from avlet.errors import StorageError
from avlet.storage import archive
from avlet.storage.bounded import bounded
from avlet.storage.handing_over import hand_over, sweep_library
from avlet.storage.package import TEMPLATE, open_template, package_files, save_template, write_package


def contents(folder):
    return {str(path.relative_to(folder)): path.read_bytes() for path in sorted(Path(folder).rglob("*")) if path.is_file()}


@pytest.fixture
def folder(tmp_path):
    """A package that is a folder, with files beside it that are none of Avlet's."""
    target = tmp_path / "a.avlet"
    target.mkdir()
    opened = open_template(DEMO / "side-rule.avlet")
    write_package(target, package_files(opened.template, opened.book))
    (target / ".git").mkdir()
    (target / ".git" / "HEAD").write_text("ref")
    (target / "README.md").write_text("mine")
    return target


def changed(folder):
    """Another state of the same package: another name, one more picture, other words."""
    opened = open_template(folder)
    files = package_files(replace(opened.template, name="Changed"), opened.book)
    return {**files, "pictures/new.png": b"new", "fonts/more.txt": b"more"}


def test_a_folder_is_exchanged_and_what_is_not_avlets_stays(folder):
    files = changed(folder)
    write_package(folder, files)
    assert contents(folder) == {**files, ".git/HEAD": b"ref", "README.md": b"mine"}
    del files["pictures/new.png"]
    write_package(folder, files)
    assert not (folder / "pictures" / "new.png").exists()


@pytest.mark.parametrize("at", range(1, 6))
def test_a_full_disk_while_a_folder_is_written_changes_nothing(folder, monkeypatch, at):
    before, files, written = contents(folder), changed(folder), []
    write = archive._write_through

    def full(path, data):
        written.append(path)
        if len(written) == at:
            path.write_bytes(data[: len(data) // 2])
            raise OSError(errno.ENOSPC, "No space left on device")
        write(path, data)

    monkeypatch.setattr(archive, "_write_through", full)
    if at > len([n for n in files if before.get(n) != files[n]]):
        pytest.skip("there are not so many")
    with pytest.raises(StorageError, match=r"No space left on device. What was there before is unchanged"):
        write_package(folder, files)
    assert contents(folder) == before


@pytest.mark.parametrize("at", range(1, 6))
def test_files_that_have_taken_their_places_are_put_back_when_one_cannot(folder, monkeypatch, at):
    before, files, moved = contents(folder), changed(folder), []
    move = Path.replace

    def fails(self, target):
        if self.name.isdigit():
            moved.append(target)
            if len(moved) == at:
                raise OSError(errno.EIO, "Input/output error")
        return move(self, target)

    count = len([n for n in files if before.get(n) != files[n]])
    monkeypatch.setattr(Path, "replace", fails)
    if at <= count:
        with pytest.raises(StorageError, match="Input/output error"):
            write_package(folder, files)
        assert contents(folder) == before
    else:
        write_package(folder, files)


def test_the_document_takes_its_place_last(folder, monkeypatch):
    """Until it does, the package is what it was: pictures and fonts are there before what names them."""
    moved, move = [], Path.replace
    monkeypatch.setattr(Path, "replace", lambda self, target: moved.append(Path(target).name) or move(self, target))
    write_package(folder, {**changed(folder), "thumbnail.png": b"other", "pictures/zz.png": b"x"})
    assert moved[-1] == TEMPLATE and {"thumbnail.png", "zz.png", "more.txt"} <= set(moved)


def test_a_real_full_disk_changes_nothing(folder):
    """Files of this process may not grow beyond 20 KB (setrlimit(2), RLIMIT_FSIZE): writing ends as on a full disk."""
    before = contents(folder)
    opened = open_template(folder)
    words = f"""
import resource, signal, sys
from pathlib import Path
from avlet.storage.package import open_template, save_template
from avlet.document.editing.edits import replace
from avlet.errors import StorageError
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
opened = open_template(Path({str(folder)!r}))
resource.setrlimit(resource.RLIMIT_FSIZE, (1000, 1000))
try:
    save_template(replace(opened.template, name="Changed"), Path({str(folder)!r}), opened.book)
except StorageError as error:
    print(error)
"""
    told = subprocess.run(
        [sys.executable, "-c", words], capture_output=True, text=True, env={**os.environ, "PYTHONPATH": str(DEMO.parent)}, check=False
    )
    assert "File too large. What was there before is unchanged" in told.stdout, told
    assert contents(folder) == before
    save_template(replace(opened.template, name="Changed"), folder, opened.book)
    assert open_template(folder).template.name == "Changed"


SAVING = """
import sys
from pathlib import Path
from avlet.document.editing.edits import replace
from avlet.storage.package import open_template, package_files, write_package
target = Path(sys.argv[1])
opened = open_template(target)
print("begun", flush=True)
for number in range(100_000):
    files = package_files(replace(opened.template, name=f"Number {number}"), opened.book)
    write_package(target, {**files, f"pictures/p{number % 3}.png": str(number).encode() * 9000})
"""


@pytest.mark.parametrize("seed", [0, 1, *(pytest.param(seed, marks=pytest.mark.soak) for seed in range(2, 40))])
def test_a_folder_that_is_written_when_its_process_is_killed_can_be_opened(folder, seed):
    process = subprocess.Popen(
        [sys.executable, "-c", SAVING, str(folder)], stdout=subprocess.PIPE, env={**os.environ, "PYTHONPATH": str(DEMO.parent)}
    )
    assert process.stdout.readline() == b"begun\n"
    time.sleep(random.Random(seed).uniform(0.02, 0.8))
    process.send_signal(signal.SIGKILL)
    process.wait()
    opened = open_template(folder)
    assert not opened.notes and (folder / ".git" / "HEAD").read_text() == "ref"
    for left in folder.glob(".avlet.*"):
        aged(left)
    save_template(replace(opened.template, name="After"), folder, opened.book)
    assert not list(folder.glob(".avlet.*")), "what was left is swept"


# What is swept


def test_handing_over_sweeps_the_library_and_its_versions_whoever_left_it(tmp_path):
    gone, opened = nobody(), open_template(DEMO / "side-rule.avlet")
    hand_over(opened.template, opened.book, tmp_path)
    hand_over(replace(opened.template, length=opened.template.length + 1), opened.book, tmp_path)
    versions = tmp_path / "versions" / "side-rule"
    left = [
        versions / f".0001.avlet.{gone}-x_1.part",
        tmp_path / f".other.avlet.{gone}-y.part",
        tmp_path / "versions" / "other" / f".0002.avlet.{gone}-z.part",
    ]
    left[2].parent.mkdir()
    for path in left:
        path.touch()
        aged(path)
    young = tmp_path / f".other.avlet.{gone}-new.part"
    young.touch()
    hand_over(replace(opened.template, length=opened.template.length + 2), opened.book, tmp_path)
    assert [path.exists() for path in (*left, young)] == [False, False, False, True]
    aged(young)
    sweep_library(tmp_path)
    assert not young.exists()


def test_the_next_start_sweeps_wherever_one_has_worked(window, tmp_path):
    gone = nobody()
    work = tmp_path / "work" / "a.avlet"
    work.parent.mkdir()
    opened = open_template(DEMO / "side-rule.avlet")
    save_template(opened.template, work, opened.book)
    window.files.open_path(work)
    library = window.cut_session.library
    (library / "versions" / "a").mkdir(parents=True)
    places = [work.parent, library, library / "versions" / "a", window.state, window.state / "recovery"]
    left = [place / f".x.json.{gone}-ab_1.part" for place in places]
    for path in left:
        path.parent.mkdir(exist_ok=True)
        path.touch()
        aged(path)
    sweep_what_was_left(window).join(10)
    assert not [path for path in left if path.exists()] and work.exists()


def test_work_in_a_process_of_its_own_ends_with_the_one_that_began_it(tmp_path):
    words = f"""
import os, time
from pathlib import Path
from avlet.storage.bounded import bounded
def work():
    Path({str(tmp_path / "pid")!r}).write_text(str(os.getpid()))
    time.sleep(60)
bounded(work, "x")
"""
    process = subprocess.Popen([sys.executable, "-c", words], env={**os.environ, "PYTHONPATH": str(DEMO.parent)})
    until = time.monotonic() + 30
    while not (tmp_path / "pid").exists() or not (tmp_path / "pid").read_text():
        assert time.monotonic() < until
        time.sleep(0.02)
    process.kill()
    process.wait()
    until = time.monotonic() + 2
    inner = Path(f"/proc/{(tmp_path / 'pid').read_text()}")
    while inner.exists() and "Z" not in (inner / "stat").read_text().split()[2] and time.monotonic() < until:
        time.sleep(0.02)
    assert not inner.exists() or "Z" in (inner / "stat").read_text().split()[2]
    assert bounded(lambda: 1, "x") == 1
