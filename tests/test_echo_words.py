"""Echoes of a text with words of their own: the same look and moves, other words."""

import msgspec
import numpy as np
import pytest

from avlet.document.editing.edits import set_property
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Solid
from avlet.document.parts import EchoPart, Fit, Place, ShapePart, TextPart
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Move
from avlet.errors import DocumentError
from avlet.paint.scene import Scene
from avlet.review.samples import findings
from avlet.text.fonts import bundled_fonts

BOOK = bundled_fonts()
FRAME = Frame(800, 200, "25/1")
STEPPED = Move(opacity=0.0, by="character", pace="by step", step=4.0, frames=10, ease=READY_EASES["even"])


def echoed(words: str, *more, text: str = "Bo", **values) -> Template:
    original = TextPart(id="name", name="Name", text=text, size=60.0, across=Place(gap=20), down=Place(gap=20), **values)
    echo = EchoPart(id="echo", name="Echo", of="name", words=words, across=Place(gap=20), down=Place("name", "start", "end", 10))
    return check(Template(parts=(original, echo, *more), frame=FRAME, length=200, way_in=20, way_out=20))


def scene(template: Template) -> Scene:
    return Scene(template, BOOK)


def test_it_is_as_large_as_its_own_words_and_what_fits_around_it_follows():
    plate = ShapePart(id="plate", name="Plate", across=None, down=None, fit=Fit(("echo",), left=7, right=7, top=0, bottom=0))
    rest = scene(echoed("Teodor Våge", plate)).rest.parts
    other = scene(echoed("", text="Teodor Våge")).rest.parts
    assert rest["echo"].box.w == pytest.approx(other["name"].box.w) and rest["echo"].box.w > rest["name"].box.w
    assert rest["plate"].box.w == pytest.approx(rest["echo"].box.w + 14)
    assert rest["echo"].ink.w == pytest.approx(other["name"].ink.w)


def test_it_paints_its_own_words_in_the_originals_look():
    red = {"fill": Solid("#FF0000")}
    own = scene(echoed("Teodor Våge", **red)).picture(100)
    same = scene(echoed("", text="Teodor Våge", **red)).picture(100)
    top = int(scene(echoed("x")).rest.parts["echo"].box.y)
    assert (own[top:] != 0).any() and np.array_equal(own[top:], same[top:])


def test_empty_words_say_what_the_original_says():
    template = echoed("")
    assert scene(template).rest.parts["echo"].box.w == scene(template).rest.parts["name"].box.w


def test_its_letters_come_one_by_one_as_many_as_they_are():
    made = scene(echoed("Teodor", way_in=(STEPPED,)))
    assert made.choreography.timings["name"].arrives == (0.0, 14.0)
    opacity = made.pose(20).echoes["echo"].parts["name"].opacity
    assert len(opacity) == 6
    assert opacity.tolist() == pytest.approx([1, 1, 1, 0.8, 0.4, 0.0])


def test_an_end_that_fits_is_as_long_as_its_words_need():
    template = echoed("Teodor", way_in=(STEPPED,))
    fitting = check(msgspec.structs.replace(template, fits_in=True))
    assert scene(fitting).spans.way_in == 30
    assert scene(check(set_property(fitting, "echo/words", ""))).spans.way_in == 14


def test_keys_and_a_later_start_count_for_it_as_for_any_echo():
    template = check(set_property(echoed("Teodor", way_in=(Move(x=-100.0, frames=20, ease=READY_EASES["even"]),)), "echo/later", 6))
    made = scene(template)
    shift = [made.pose(f).echoes["echo"].parts["name"].outline_box.x for f in (6, 16, 40)]
    assert shift[2] - shift[0] == pytest.approx(100) and shift[2] - shift[1] == pytest.approx(50)
    assert made.pose(199).visible_box("echo") is None


def test_a_tracking_move_of_the_echo_itself_takes_it_as_a_whole():
    template = echoed("Teodor")
    moved = check(set_property(template, "echo/opacity", 50.0))
    part = moved.part("echo")
    moved = check(msgspec.structs.replace(moved, parts=(moved.parts[0], msgspec.structs.replace(part, way_in=(Move(tracking=100.0),)))))
    assert scene(moved).picture(5).any()


def test_what_no_font_has_is_said_of_it_by_its_own_name():
    made = scene(echoed("Bo \U000e1234"))
    assert any(f.part_id == "echo" and "in Echo" in f.words for f in findings(made))
    assert [n for n in made.notes() if "in Echo" in n]


def test_measures_count_its_words():
    rest = scene(echoed("Teodor Våge")).rest
    assert (rest.measure("echo", "words"), rest.measure("echo", "letters"), rest.measure("name", "words")) == (2, 10, 1)


def test_its_baseline_is_that_of_its_words():
    rule = ShapePart(id="dot", name="Dot", width=4, height=4, across=Place("echo"), down=Place("echo", "end", "baseline"))
    rest = scene(echoed("Teodor", rule)).rest.parts
    assert rest["dot"].box.bottom == pytest.approx(rest["echo"].box.y + rest["echo"].words.lines[0].baseline)


def test_words_of_its_own_are_for_echoes_of_texts():
    bar = ShapePart(id="bar", name="Bar")
    echo = EchoPart(id="e", name="Echo", of="bar", words="Words")
    with pytest.raises(DocumentError, match="Only a text's echo has words of its own"):
        check(Template(parts=(bar, echo), frame=FRAME, length=50, way_in=5, way_out=5))
