"""What usually comes next in one act: a second line, a rule that draws first, what fills with a count, words cut out of a bar."""

import pytest

from avlet.document.editing.completing import LATER, SECOND, cut_out_bar, edge_rule, filled_with, plate_of, second_line, words_of_plate
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Solid
from avlet.document.parts import CounterPart, Fit, Matte, Place, Room, ShapePart, TextPart
from avlet.document.template import Frame, Sample, Template
from avlet.document.time.moves import READY_MOVES, Tie
from avlet.layout.areas import frame_area
from avlet.paint.scene import Scene
from avlet.review.samples import findings
from avlet.storage.template_json import decode, encode
from avlet.text.fonts import bundled_fonts

FRAME = Frame(1920, 1080, "25/1")


def line(**values):
    given = {
        "text": "Odalys Brandt", "size": 80.0, "across": Place("title-safe", gap=60), "down": Place("title-safe", "end", "end", -200),
        "fill": Solid("#F2F0E8"), "family": "Alegreya", "way_in": (READY_MOVES["rises"],), "mattes": (Matte("plate"),),
    }  # fmt: skip
    return TextPart(id="name", name="Name", **{**given, **values})


def plate(**values):
    fit = Fit(("name",), left=50, right=62, top=25, bottom=30)
    given = {"fit": fit, "across": None, "down": None, "fill": Solid("#20435C"), "corner": 24, "way_in": (READY_MOVES["unfolds"],)}
    return ShapePart(id="plate", name="Plate", **{**given, **values})


def titled(*parts, **values):
    return check(Template(parts=parts, frame=FRAME, **values))


def at_rest(template, answers=None):
    return Scene(template, bundled_fonts(), answers).rest.parts


def test_a_second_line_has_the_house_of_the_first():
    samples = (Sample("shortest", "Shortest"), Sample("mine", "My own"))
    made, new = second_line(titled(plate(), line(), samples=samples), "name")
    text, behind = made.part("role"), made.part("role-plate")
    assert new == "role" and (text.family, text.fill, text.size) == ("Alegreya", Solid("#F2F0E8"), round(80 * SECOND))
    assert (behind.fill, behind.fit.around, behind.fit.left, behind.fit.right) == (Solid("#20435C"), ("role",), 50, 62)
    assert text.mattes == (Matte("role-plate"),) and made.parts.index(behind) < made.parts.index(text)
    rest = at_rest(made)
    assert rest["role"].box.x == pytest.approx(rest["name"].box.x), "their left edges meet"
    assert rest["role-plate"].box.y - rest["plate"].box.bottom == pytest.approx(10, abs=0.1)
    assert made.card.field("role").label == "Role" and {s.id: s.answers["role"] for s in made.samples}["shortest"] == "Ringer"
    assert text.way_in[0].tie == Tie("name", "after its start", LATER) and behind.way_in[0].tie == Tie("plate", "after its start", LATER)
    assert decode(encode(made), "here") == made


def test_it_stands_over_the_first_where_there_is_no_room_below():
    rest = at_rest(second_line(titled(plate(), line()), "name", below=False)[0])
    assert rest["plate"].box.y - rest["role-plate"].box.bottom == pytest.approx(10, abs=0.1)


def test_without_a_plate_it_has_none_and_a_third_has_another_name():
    made, _ = second_line(titled(line(mattes=())), "name")
    assert [p.id for p in made.parts] == ["name", "role"] and made.part("role").mattes == ()
    third, new = second_line(made, "role")
    assert new not in ("name", "role") and at_rest(third)[new].box.y > at_rest(third)["role"].box.bottom
    assert third.part(new).size == round(round(80 * SECOND) * SECOND)


def test_rooms_accents_and_keys_are_not_taken_for_those_of_the_new_words():
    made, _ = second_line(titled(plate(), line(room=Room(900.0, 200.0))), "name")
    assert (made.part("role").room.width, made.part("role").room.height) == (900, 200 * SECOND)


def test_the_words_of_a_plate_are_found():
    template = titled(plate(), line(), ShapePart(id="free", name="Free", across=Place(), down=Place()))
    assert words_of_plate(template, "plate").id == words_of_plate(template, "name").id == "name"
    assert words_of_plate(template, "free") is None and plate_of(template, "name").id == "plate" and plate_of(template, "free") is None


def test_a_rule_at_the_edge_draws_before_all_else():
    two, _ = second_line(titled(plate(), line()), "name")
    made, rule = edge_rule(two, [p.id for p in two.parts])
    scene = Scene(made, bundled_fonts())
    rest, timings = scene.rest.parts, scene.choreography.timings
    assert rest[rule].box.right == pytest.approx(rest["plate"].box.x - 10) and rest[rule].box.w == 8
    assert rest[rule].box.y == pytest.approx(rest["plate"].box.y) and rest[rule].box.bottom == pytest.approx(rest["role-plate"].box.bottom)
    assert timings["plate"].arrives[0] == pytest.approx(timings[rule].arrives[1])
    assert made.part("role").way_in[0].tie.on == "name", "what follows another follows that as before"
    assert made.fits_in and made.fits_out and scene.spans.way_in == scene.choreography._needed()[0]
    assert not scene.picture(0, 480, 270).any() and not scene.picture(124, 480, 270).any()
    assert not findings(scene)


def test_it_stands_at_the_side_that_the_words_are_placed_by():
    right = titled(plate(), line(across=Place("title-safe", "end", "end", -60)))
    rest = at_rest(edge_rule(right, ["plate", "name"])[0])
    assert rest["rule"].box.x == pytest.approx(rest["plate"].box.right + 10)
    loose = at_rest(edge_rule(titled(line(mattes=())), ["name"])[0])
    assert loose["rule"].box.right == pytest.approx(loose["name"].box.x - 10)


def counted(**values):
    given = {"size": 120.0, "end": "1284", "across": Place("title-safe", gap=60), "down": Place("title-safe", "end", "end", -200)}
    return CounterPart(id="count", name="Count", **{**given, **values})


@pytest.mark.parametrize("plated", [True, False])
def test_a_bar_fills_with_its_count(plated):
    fit = Fit(("count",), left=50, right=50, top=25, bottom=25)
    parts = (ShapePart(id="plate", name="Plate", fit=fit, across=None, down=None), counted()) if plated else (counted(),)
    made, bar = filled_with(titled(*parts), "count")
    scene = Scene(made, bundled_fonts())
    on = scene.rest.parts["plate" if plated else "count"].box
    assert scene.rest.parts[bar].box.w == pytest.approx(on.w) and scene.rest.parts[bar].box.y == pytest.approx(on.bottom + 10)
    count = scene.choreography.movers["count"]
    for frame in (30, 45, 60, 99):
        assert scene.pose(frame).outline_box(bar).w / on.w == pytest.approx(count.share(float(frame)), abs=0.02)


def test_a_ring_closes_with_its_count():
    made, ring = filled_with(titled(counted(across=Place("title-safe", gap=400))), "count", ring=True)
    scene = Scene(made, bundled_fonts())
    rest = scene.rest.parts
    assert rest[ring].box.right == pytest.approx(rest["count"].box.x - 24) and rest[ring].box.w == rest[ring].box.h
    assert scene.pose(99).parts[ring].rest.part.share == 100 and scene.pose(30).parts[ring].rest.part.share < 100


def test_words_are_cut_out_of_a_bar_of_their_own_within_title_safe():
    made, bar = cut_out_bar(titled(line(mattes=(), size=200.0)), ["name"])
    safe = frame_area("title-safe", FRAME)
    for words in ("Bo", "Odalys Brandt", "Ioana Crețu-Whitlock of the northern reaches of the Farrow Estuary"):
        rest = at_rest(made if words == "Odalys Brandt" else check(decode(encode(made).replace(b"Odalys Brandt", words.encode()), "x")))
        assert rest[bar].box.x >= safe.x - 0.5 and rest[bar].box.right <= safe.right + 0.5
        assert rest[bar].box.right >= rest["name"].ink.right + 20
    assert made.part("name").opacity == 0 and made.part(bar).mattes == (Matte("name", hides=True),)
    kept, _ = cut_out_bar(titled(line(mattes=(), room=Room(500.0))), ["name"])
    assert kept.part("name").room == Room(500.0), "a room that somebody gave stays"
