"""Memory levels off: templates opened one after another, films, walks. Small numbers here, all of it as a soak test."""

import ctypes
import gc
import os
import subprocess
import sys
from pathlib import Path

import pytest
from conftest import DEMO

TESTS = Path(__file__).parent
MOST = 500
"""MB that an Avlet may hold, whatever has been opened in it."""

BEGIN = """
import gc, os, sys, tempfile
for name in ("CACHE", "DATA", "STATE"):
    os.environ[f"XDG_{name}_HOME"] = tempfile.mkdtemp(dir=sys.argv[3])
from pathlib import Path
what, count = sys.argv[1], int(sys.argv[2])
DEMO = Path(sys.argv[4])
TEMPLATES = sorted(DEMO.glob("*.avlet"))

def held():
    return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 2**20

told = []
def tell(number):
    if "PyQt6.QtCore" in sys.modules:  # what was put off until the event loop goes round again, which it does not here
        sys.modules["PyQt6.QtCore"].QCoreApplication.sendPostedEvents(None, 52)  # QEvent.Type.DeferredDelete
    if number % max(1, count // 40) == 0:
        gc.collect()
        told.append(held())
"""
FILMS = """
SHORT = [path for path in TEMPLATES if path.stem not in ("end-roll", "harbour-depths")]  # a roll's speed leads its length
from avlet.media.drawing import Drawing
from avlet.media.render import render
from avlet.paint.scene import Scene
from avlet.storage.package import open_template
for number in range(count):
    opened = open_template(SHORT[number % len(SHORT)])
    scene = Scene(opened.template, opened.book, {}, 12)
    render(Drawing.of(scene, (480, 270)), Path(sys.argv[3]) / "film.mov", None, workers=0)
    tell(number)
"""
WINDOW = """
sys.path.insert(0, str(Path(sys.argv[5])))
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QMessageBox
from avlet.desktop.window.application import make_application
from avlet.desktop.window.window import Window
app = make_application([])
QMessageBox.question = lambda *a, **k: QMessageBox.StandardButton.Discard
for name in ("getOpenFileName", "getSaveFileName"):
    setattr(QFileDialog, name, lambda *a, **k: ("", ""))
QFileDialog.getOpenFileNames = lambda *a, **k: ([], "")
QInputDialog.getText = lambda *a, **k: ("", False)
window = Window(DEMO, Path(sys.argv[3]) / "state")
window.show()
"""
OPENING = (
    WINDOW
    + """
for number in range(count):
    window.files.open_path(TEMPLATES[number % len(TEMPLATES)])
    window.show_bench(number % 3)
    for _ in range(6):
        app.processEvents()
    window.grab()
    tell(number)
"""
)
WALKING = (
    WINDOW
    + """
from test_any_order import Walker
from PyQt6.QtWidgets import QDialog
QDialog.exec = lambda self: 0
window.files.open_demo(DEMO)
faults = []
import traceback
def fault(kind, error, trace):
    faults.append("".join(traceback.format_exception(kind, error, trace)))
    traceback.clear_frames(trace)
sys.excepthook = fault
walker = Walker(window, int(what.split()[-1]))
for number in range(count):
    walker.step()
    if number % 25 == 24:
        window.files.open_path(TEMPLATES[number % len(TEMPLATES)])
    tell(number)
if faults:
    print(faults[0], file=sys.stderr)
    os._exit(1)
"""
)
KINDS = {"templates opened": (OPENING, 8, 200), "films": (FILMS, 8, 300), **{f"walk {seed}": (WALKING, 20, 5_000) for seed in (1, 2, 3)}}


def figures(what, count, folder):
    """MB that are held, over the run."""
    code = BEGIN + KINDS[what][0] + "\nprint('held', *(round(one, 1) for one in told), flush=True)\nos._exit(0)\n"
    words = [sys.executable, "-c", code, what, str(count), str(folder), str(DEMO), str(TESTS)]
    environment = {**os.environ, "PYTHONPATH": str(TESTS.parent), "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(words, capture_output=True, text=True, env=environment, check=False)
    line = next((one for one in done.stdout.splitlines() if one.startswith("held")), None)
    assert line is not None, (done.returncode, done.stderr[-2000:])
    return [float(one) for one in line.split()[1:]]


@pytest.mark.parametrize("what", list(KINDS)[1:3])
def test_memory_stays_within_its_bounds(tmp_path, what):
    told = figures(what, KINDS[what][1], tmp_path)
    assert max(told) < MOST, told


@pytest.mark.soak
@pytest.mark.parametrize("what", KINDS)
def test_memory_levels_off(tmp_path, what):
    """No growth over the last half: its last quarter holds no more than its first but for a few MB."""
    told = figures(what, KINDS[what][2], tmp_path)
    print(what, told)
    half = told[len(told) // 2 :]
    early, late = half[: len(half) // 2], half[len(half) // 2 :]
    assert max(told) < MOST, told
    assert sum(late) / len(late) < sum(early) / len(early) + 12, told


class _Malloc(ctypes.Structure):
    """``struct mallinfo2``, as malloc's manual has it."""

    _fields_ = [
        (name, ctypes.c_size_t)
        for name in ["arena", "ordblks", "smblks", "hblks", "hblkhd", "usmblks", "fsmblks", "uordblks", "fordblks", "keepcost"]
    ]


def in_use():
    """Bytes that the C library has given out, but for large pieces."""
    library = ctypes.CDLL(None)
    if not hasattr(library, "mallinfo2"):
        pytest.skip("only glibc tells")
    library.mallinfo2.restype = _Malloc
    return library.mallinfo2().uordblks


def test_what_flows_goes_with_its_panel(qapp):
    """Items that Qt makes for widgets are deleted once: with their widget, or with the layout; of 20,000 none is kept."""
    from PyQt6 import sip
    from PyQt6.QtWidgets import QWidget

    from avlet.desktop.widgets.flow import FlowLayout

    def once():
        host = QWidget()
        layout = FlowLayout(host)
        inner = [QWidget() for _ in range(1_000)]
        for widget in inner:
            layout.addWidget(widget)
        for widget in inner[::4]:
            sip.delete(widget)
        assert layout.count() == 750 and layout.takeAt(750) is None
        taken = layout.takeAt(0)
        assert taken is not None and taken.widget() is inner[1]
        layout.removeWidget(inner[2])
        assert layout.count() == 748 and layout.itemAt(0).widget() is inner[3]
        sip.delete(host)

    for _ in range(5):
        once()
    gc.collect()
    before = in_use()
    for _ in range(20):
        once()
    gc.collect()
    assert in_use() - before < 20_000 * 20, "each is some 70 bytes and more"
