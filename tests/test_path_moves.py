"""What leads into one of several moves, shadows or runs goes on leading into the same one; a run's two ends are properties."""

import msgspec
import pytest
from conftest import plated
from hypothesis import given
from hypothesis import strategies as st

from avlet.document.cards import carding
from avlet.document.cards.wires import Formula, Straight, Wire
from avlet.document.editing import counting, edits
from avlet.document.editing.path_moves import moved_path
from avlet.document.editing.reframing import scaled_to
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Shadow
from avlet.document.metadata import get_at, properties
from avlet.document.parts import CounterPart, Place, ShapePart
from avlet.document.template import Frame, Template
from avlet.document.time.keys import Key, Keyed, RunsWith
from avlet.document.time.moves import Move
from avlet.errors import DocumentError
from avlet.layout.bind import bind
from avlet.paint.scene import Scene

replace = msgspec.structs.replace


@given(st.integers(1, 6), st.data())
def test_one_of_several_is_known_again_wherever_it_stands(many, data):
    shadows = tuple(Shadow() for _ in range(many))  # all alike: only which one it is tells them apart
    left = tuple(data.draw(st.permutations(shadows))[: data.draw(st.integers(1, many))])
    before, after = (ShapePart(id="a", name="A", shadows=kept) for kept in (shadows, left))
    for number, shadow in enumerate(shadows):
        path = moved_path(before, after, f"shadows.{number}.blur")
        if any(shadow is kept for kept in left):
            assert get_at(after, path.rpartition(".")[0]) is shadow
        else:
            assert path is None


@pytest.mark.parametrize(
    ("before", "after", "number"),
    [
        (("a", "b"), ("a", "B"), 1),  # changed in its place
        (("a", "b"), ("x", "y"), 1),  # all others: it keeps its number
        (("a", "b"), ("x",), None), (("a", "b"), ("x", "y", "z"), 1), (("a", "b"), ("n", "a", "b"), 2), (("a", "b"), (), None),
    ],
)  # fmt: skip
def test_what_was_changed_keeps_its_number(before, after, number):
    made = {name: Shadow(blur=float(n)) for n, name in enumerate("abABxyzn")}
    one, other = (ShapePart(id="a", name="A", shadows=tuple(made[n] for n in names)) for names in (before, after))
    assert moved_path(one, other, "shadows.1.blur") == (None if number is None else f"shadows.{number}.blur")
    assert moved_path(one, other, "fill.colour") == "fill.colour"


def dressed() -> Template:
    first, second = Shadow(x=1, blur=10), Shadow(x=2, blur=20)
    template = edits.set_relations(
        plated(), "plate", shadows=(first, second), way_in=(Move(frames=10), Move(frames=12)),
        keys=(Keyed("shadows.0.blur", (Key(0, 1.0), Key(9, 2.0))), Keyed("shadows.1.blur", (Key(0, 3.0), Key(9, 4.0)))),
    )  # fmt: skip
    wires = (
        Wire("plate/way_in.1.frames", "name/way_in.0.frames"),
        Wire("plate/shadows.0.x", "plate/shadows.1.x"),
        Wire("plate/rest.width", "name/size", Formula("80")),
    )
    return check(replace(template, wires=wires))


def test_wires_and_keys_follow_what_they_lead_into():
    template = dressed()
    template = edits.set_relations(template, "plate", way_in=template.part("plate").way_in[1:])
    assert template.wires[0] == Wire("plate/way_in.0.frames", "name/way_in.0.frames")
    turned = edits.put_struct(template, "plate", "shadows", template.part("plate").shadows[::-1])
    assert turned.wires[1] == Wire("plate/shadows.1.x", "plate/shadows.0.x")
    assert [keyed.path for keyed in turned.part("plate").keys] == ["shadows.1.blur", "shadows.0.blur"]
    less = edits.put_struct(template, "plate", "shadows", template.part("plate").shadows[1:])
    assert [wire.target for wire in less.wires] == ["name/way_in.0.frames", "name/size"], "what led into the other is gone"
    assert less.part("plate").keys == (Keyed("shadows.0.blur", (Key(0, 3.0), Key(9, 4.0))),)


def test_what_runs_below_a_shadow_stays_with_it():
    template = edits.set_relations(counted(), "plate", shadows=(Shadow(x=1), Shadow(x=2)))
    template = edits.set_relations(template, "plate", runs=(RunsWith("shadows.0.blur", "number"), RunsWith("shadows.1.blur", "number")))
    less = edits.put_struct(template, "plate", "shadows", template.part("plate").shadows[1:])
    assert less.part("plate").runs == (RunsWith("shadows.0.blur", "number"),)


def test_another_part_of_the_same_numbers_is_left_alone():
    template = edits.set_relations(dressed(), "name", shadows=(Shadow(), Shadow()))
    wired = check(replace(template, wires=(Wire("plate/shadows.1.x", "name/shadows.1.x"),)))
    plate = wired.part("plate")
    assert edits.set_relations(wired, "plate", shadows=plate.shadows[1:]).wires == (Wire("plate/shadows.0.x", "name/shadows.1.x"),)


def counted(*runs: RunsWith) -> Template:
    number = CounterPart(id="number", name="Number", start="0", end="100", size=90, across=Place("frame"), down=Place("frame"))
    other = replace(number, id="other", name="Other")
    template = plated()
    template = check(replace(template, parts=(*template.parts, number, other)))
    return edits.set_relations(template, "plate", runs=runs) if runs else template


WIDE = RunsWith("corner", "number", 0.0, 40.0)
LIT = RunsWith("fill.colour", "other", "#000000", "#FFFFFF")


def test_both_ends_of_a_run_are_asked_for_on_the_card_and_wired():
    template = counted(WIDE, LIT)
    found = {p.path: p for p in properties(template.part("plate")) if p.path.startswith("runs.")}
    assert {path: (p.type.kind, p.type.label, p.type.unit, p.length, p.type.keyed) for path, p in found.items()} == {
        "runs.0.first": ("number", "Corners where the count begins", "", True, False),
        "runs.0.last": ("number", "Corners where it lands", "", True, False),
        "runs.1.first": ("colour", "Colour where the count begins", "", False, False),
        "runs.1.last": ("colour", "Colour where it lands", "", False, False),
    }
    template, _ = carding.put_all_on_card(template, ["plate/runs.0.last"])
    template, _ = carding.put_all_on_card(template, ["plate/runs.1.first"])
    round_one, dark = template.card.fields
    bound = bind(template, {round_one.id: 25.0, dark.id: "#102030"})
    runs = {part.id: part for part in bound.parts}["plate"].runs
    assert (runs[0].last, runs[1].first) == (25.0, "#102030")


def test_what_is_answered_for_a_runs_end_is_what_it_lands_on(book):
    template, _ = carding.put_all_on_card(counted(RunsWith("opacity", "number", 0.0, 40.0)), ["plate/runs.0.last"])
    (field,) = template.card.fields
    made = Scene(template, book, {field.id: 70.0})
    land = made.choreography.movers["number"].times.land
    assert made.pose(round(land) + 1).parts["plate"].rest.part.opacity == 70.0
    with pytest.raises(DocumentError, match="at most 100"):
        edits.set_property(template, "plate/runs.0.last", 300)


def test_a_wire_goes_on_leading_to_its_run():
    template = counted(WIDE, LIT)
    wired = check(replace(template, wires=(Wire("name/fill.colour", "plate/runs.1.last", Straight()),)))
    assert counting.run_no_more(wired, "plate", "corner").wires == (Wire("name/fill.colour", "plate/runs.0.last", Straight()),)
    assert counting.run_no_more(wired, "plate", "fill.colour").wires == ()
    boxes = {part.id: (0.0, 0.0, 10.0, 10.0) for part in wired.parts}
    for without in (edits.remove_part(wired, "number", boxes), counting.text_from(wired, "number", "100")):
        assert without.part("plate").runs == (LIT,) and without.wires == (Wire("name/fill.colour", "plate/runs.0.last", Straight()),)


def test_lengths_of_runs_are_carried_over():
    assert scaled_to(counted(WIDE, LIT), Frame(3840, 2160, "25/1")).part("plate").runs == (replace(WIDE, last=80.0), LIT)


@pytest.mark.parametrize("path", ["runs.0.first", "runs.0", "runs", "nothing.there", "name", ""])
def test_a_run_that_leads_to_itself_or_nowhere_is_a_fault_in_words(path):
    with pytest.raises(DocumentError, match=r"no property|cannot change over time"):
        counted(RunsWith(path, "number", 0.0, 1.0))
