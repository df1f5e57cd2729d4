"""What the fonts that ship say of themselves is written down as it is; starting reads none of them."""

import subprocess
import sys

import msgspec

from avlet.text.font_facts import FaceFacts
from avlet.text.font_files import read_facts
from avlet.text.fonts import BUNDLED, INDEX, bundled_fonts, font_files


def test_what_fonts_say_of_themselves_is_written_down_as_it_is():
    facts = {path.relative_to(BUNDLED).as_posix(): read_facts(path, path.name) for path in font_files(BUNDLED)}
    assert msgspec.json.decode(INDEX.read_bytes(), type=dict[str, FaceFacts]) == facts, "run scripts/write_fonts.py"
    assert {face.path for face in bundled_fonts().faces} == set(font_files(BUNDLED))
    assert all(face.licence for face in bundled_fonts().faces)


def test_starting_imports_nothing_that_only_some_work_needs():
    late = ("fontTools.ttLib", "av", "python_calamine", "rapidfuzz", "scipy", "opentimelineio", "PyQt6", "PIL")
    words = f"import sys, avlet.__main__; print([name for name in {late} if name in sys.modules])"
    done = subprocess.run([sys.executable, "-c", words], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"
    words = "import sys; from avlet.desktop.window import application; print([n for n in ('av', 'fontTools.ttLib') if n in sys.modules])"
    assert subprocess.run([sys.executable, "-c", words], capture_output=True, text=True, check=True).stdout.strip() == "[]"
