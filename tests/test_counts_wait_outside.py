"""A count that comes just out of something is outside of it whatever it shows while it waits: figures differ in height and number."""

import pytest

from avlet.document.looks.paints import Solid
from avlet.document.parts import CounterPart, Fit, Matte, Place, ShapePart
from avlet.document.template import Frame, Template
from avlet.document.time.moves import Move
from avlet.layout.holding import hold
from avlet.paint.scene import Scene


@pytest.mark.parametrize("side", ["below", "above", "left", "right"])
@pytest.mark.parametrize("by", ["whole", "word", "character"])
@pytest.mark.parametrize(("start", "end"), [("0", "7"), ("9999", "7"), ("1", "86"), ("-40", "12")])
def test_nothing_of_a_count_shows_before_it_begins(book, start, end, by, side):
    move = Move(travel="out of the matte", side=side, by=by, frames=20, start=10, overlap=50.0)
    number = CounterPart(id="number", name="Number", family="Fira Sans", style="Bold", size=120.0, start=start, end=end, fill=Solid("#FFFFFF"),
                         across=Place("frame", "middle", "middle"), down=Place("frame", "middle", "middle"), mattes=(Matte("plate"),),
                         way_in=(move,))  # fmt: skip
    plate = ShapePart(id="plate", name="Plate", corner=0.0, fill=Solid("#20435C"), fit=Fit(("number",), left=20, right=20, top=3, bottom=3),
                      across=None, down=None)  # fmt: skip
    scene = Scene(hold(Template(frame=Frame(800, 400), parts=(plate, number), length=120, way_in=40, way_out=40)), book)
    for frame in (0, 5, 9):
        assert (scene.picture(frame)[..., :3].max(2) < 100).all(), "the plate alone"
    assert (scene.picture(60)[..., :3].max(2) > 200).any()
