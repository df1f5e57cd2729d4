"""A fault of Avlet's own while its window is open: said, written down, and never the end of the window."""

import subprocess
import sys

import pytest
from conftest import DEMO

WALK = """
import os, sys
from pathlib import Path
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QApplication
from avlet.desktop.window.application import make_application
from avlet.desktop.window.surprise import Surprise
from avlet.desktop.window.window import Window
from avlet.desktop.stage.frame_view import FrameView
from avlet.desktop.time.ruler import Ruler

app = make_application([])
state = Path(sys.argv[1])
window = Window(Path(sys.argv[2]), state)
sys.excepthook = Surprise(window)
said = []
window.say = said.append
window.show()
window.files.open_path(Path(sys.argv[2]) / "name-strap.avlet")
window.session.write({"name/size": 71.0})
app.processEvents()

def faulty(view, event):
    painter = QPainter(view)
    painter.save()
    1 / 0

def faulty_too(view, event):
    painter = QPainter(view)
    1 // 0

whole = FrameView.paintEvent, Ruler.paintEvent
FrameView.paintEvent, Ruler.paintEvent = faulty, faulty_too
for number in range(40):
    window.show_bench(number % 2)
    window.session.go_to(number)
    window.resize(1100 + number, 700)
    app.processEvents()
FrameView.paintEvent, Ruler.paintEvent = whole
print(len(said), said[0], sep="|")
print((state / "faults.log").read_text().count("ZeroDivisionError:"))
print(len(list((state / "recovery").iterdir())))
window.session.write({"name/size": 72.0})
window.show_bench(0)
app.processEvents()
print(window.session.template.part("name").size, window.grab().isNull(), flush=True)
os._exit(0)
"""


def test_a_fault_while_painting_is_said_and_the_window_goes_on(tmp_path):
    """Two views fail in every frame while benches come and go: no painter stays behind on what Qt puts away."""
    done = subprocess.run([sys.executable, "-c", WALK, str(tmp_path), str(DEMO)], capture_output=True, text=True, timeout=120, check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    told, written, kept, after = done.stdout.splitlines()
    count, _, words = told.partition("|")
    assert words.startswith("Something went wrong inside Avlet (ZeroDivisionError: division by zero). Your work is kept")
    assert "active painter" not in done.stderr and "being painted" not in done.stderr
    assert 2 <= int(count) == int(written) < 20, "each of two, and not once a frame"
    assert int(kept) >= 1 and after == "72.0 False"


@pytest.mark.parametrize("full", [False, True])
def test_another_fault_is_told_too_also_where_no_log_can_be_written(window, tmp_path, full, capsys):
    from avlet.desktop.window.surprise import Surprise

    said = []
    window.say = said.append
    window.state = tmp_path / "another"
    if full:
        window.state.write_text("a file where the folder should be")
    surprise = Surprise(window)
    for words in ("one", "two"):
        try:
            if words == "one":
                raise ValueError(words)
            raise ValueError(words)
        except ValueError as error:
            surprise(ValueError, error, error.__traceback__)
    assert ["one" in said[0], "two" in said[1], len(said)] == [True, True, 2]
    assert ("ValueError: two" in capsys.readouterr().err) is full
    assert full or (window.state / "faults.log").read_text().count("Traceback") == 2
