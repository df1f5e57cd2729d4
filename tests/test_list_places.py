"""Lines of a list as a table has them, and where they are in a moving list."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lists import credits, scene
from test_listing import BLOCKS

from avlet.document.lists.blocks import Gap, Heading, Names, PageBreak, Pictures, Role, RuleLine, Words, words_in
from avlet.document.lists.lines import (
    LEFT,
    RIGHT,
    Line,
    block_added,
    cell,
    joined,
    line_added,
    lines_in,
    lines_pasted,
    lines_removed,
    lines_shifted,
    lines_taken,
    lines_turned,
    may_type,
    put_cell,
)
from avlet.motion.list_places import frame_at, frame_of, line_at, shows, start_at, window_at

LIST = (Heading(text="A"), Role(role="x", names=("a", "b", "c")), Names(names=("d", "e")), Gap(height=9.0), Role(role="y", names=("f",)))
MANY = tuple(Role(role=f"Role {n}", names=(f"Name {n}", f"Other {n}")) for n in range(20))
PICKED = st.sets(st.integers(0, 12))


def lines(blocks, picked):
    listed = lines_in(blocks)
    return [listed[n] for n in sorted(picked) if n < len(listed)]


def words(blocks):
    return [w for b in blocks for w in words_in(b)]


@given(BLOCKS)
def test_every_word_stands_in_one_cell(blocks):
    found = [cell(blocks[line.block], line.number, side) for line in lines_in(blocks) for side in (LEFT, RIGHT)]
    assert all(found.count(w) >= 1 for w in words(blocks))


@given(BLOCKS, st.integers(0, 12), st.sampled_from([LEFT, RIGHT]), st.text(max_size=5))
def test_what_is_typed_stands_there_and_nothing_else_changes(blocks, number, side, typed):
    listed = lines_in(blocks)
    if number >= len(listed):
        return
    line = listed[number]
    changed = put_cell(blocks, line, side, typed)
    now = lines_in(changed)
    assert len(now) == len(listed), "a line stays a line"
    place = now[number]
    text = isinstance(blocks[line.block], Heading | Words | Role | Names)
    if may_type(blocks[line.block], side) and text:
        assert cell(changed[place.block], place.number, side) == typed
    for other, (before, after) in enumerate(zip(listed, now, strict=True)):
        if other != number and text:
            assert cell(blocks[before.block], before.number, RIGHT) == cell(changed[after.block], after.number, RIGHT)


@given(BLOCKS, PICKED)
def test_what_is_taken_and_what_is_left_are_all_names(blocks, picked):
    chosen = lines(blocks, picked)
    names = lambda some: sorted(n for b in some if isinstance(b, Role | Names) for n in b.names)  # noqa: E731
    assert sorted(names(lines_taken(blocks, chosen)) + names(lines_removed(blocks, chosen))) == names(blocks)


@given(BLOCKS, PICKED, st.sampled_from([-1, 1]))
def test_moving_keeps_all_and_says_where_it_is(blocks, picked, by):
    chosen = lines(blocks, picked)
    moved, now = lines_shifted(blocks, chosen, by)
    assert sorted(words(moved)) == sorted(words(blocks)) and len(moved) == len(blocks)
    assert all(line in lines_in(moved) for line in now)


def test_lines_of_a_list():
    assert lines_in(LIST)[:4] == [Line(0), Line(1, 0), Line(1, 1), Line(1, 2)]
    assert put_cell(LIST, Line(1, 1), LEFT, "z")[1:3] == (Role(role="x", names=("a",)), Role(role="z", names=("b", "c")))
    assert put_cell(LIST, Line(1, 1), LEFT, "") == LIST
    assert lines_removed(LIST, [Line(1, 0)])[1] == Role(role="x", names=("b", "c")), "the role stays while a name does"
    assert lines_removed(LIST, [Line(1, n) for n in range(3)])[1] == LIST[2]
    assert lines_taken(LIST, [Line(1, 1)]) == (Role(role="", names=("b",)),)
    assert lines_shifted(LIST, [Line(1, 1)], 1)[0][1].names == ("a", "c", "b")
    assert lines_shifted(LIST, [Line(4)], 1)[0] == LIST
    assert lines_turned(LIST, [Line(2, 1)], "words")[2] == Words(text="d\ne")


def test_lines_are_added_and_pasted():
    assert line_added(LIST, Line(1, 0)) == ((LIST[0], Role(role="x", names=("a", "", "b", "c")), *LIST[2:]), Line(1, 1))
    assert line_added(LIST, Line(0))[0][1] == Role() and line_added((), None) == ((Role(),), Line(0))
    assert block_added(LIST, Line(1, 2), Gap())[1] == Line(2)
    pasted, at = lines_pasted(LIST, Line(2, 0), (Names(names=("p", "q")),))
    assert pasted[2].names == ("d", "p", "q", "e") and at == [Line(2, 1), Line(2, 2)]
    pasted, at = lines_pasted(LIST, Line(0), (Heading(text="H"), Role(role="r", names=("s", "t"))))
    assert pasted[1] == Heading(text="H") and at == [Line(1), Line(2, 0), Line(2, 1)]
    assert lines_pasted((), None, LIST)[0] == LIST


def test_a_block_joins_the_role_above():
    blocks = (
        Role(role="x", names=("a",)),
        Role(role="", names=("b",)),
        Role(role="", names=("",)),
        Heading(text="H"),
        Role(role="", names=("c",)),
    )
    assert joined(blocks, 1)[0] == Role(role="x", names=("a", "b"))
    assert joined(blocks, 2) is blocks and joined(blocks, 4) is blocks and joined(blocks, 0) is blocks


@pytest.mark.parametrize("how", ["rolls up", "rolls down"])
@pytest.mark.parametrize("lies", ["side by side", "one above the other"])
def test_a_line_stands_in_the_middle_of_its_frame(how, lies):
    moving = scene(credits(MANY, {"how": how}, lies=lies), 600).choreography.movers["c"]
    for line in (Line(0), Line(7, 1), Line(19, 1)):
        frame = frame_of(moving, line)
        assert shows(moving, frame, line) and line_at(moving, frame) == line
        low, high = window_at(moving, frame)
        assert high - low == pytest.approx(360)


@settings(max_examples=40)
@given(st.integers(0, 599), st.integers(0, 200), st.booleans())
def test_the_frame_of_a_place_is_the_nearest_there_is(frame, held, soft):
    moving = scene(credits(MANY, {"held_first": held, "begins": "in the middle", "soft": 40 * soft}), 600).choreography.movers["c"]
    place = 180 - start_at(moving, frame)
    found = frame_at(moving, place)
    assert abs(180 - start_at(moving, found) - place) <= abs(180 - start_at(moving, frame) - place) + 1e-6


def test_pages_and_what_stands():
    pages = scene(credits([*MANY[:3], PageBreak(), *MANY[3:6]], {"how": "pages"}), 200).choreography.movers["c"]
    assert shows(pages, frame_of(pages, Line(4)), Line(4)) and not shows(pages, 0, Line(4))
    assert line_at(pages, 0) is not None and frame_at(pages, float(pages.strip.begins[-1])) == pages.windows[1].first
    still = scene(credits(MANY[:2], {"how": "stands"}), 200).choreography.movers["c"]
    assert frame_of(still, Line(1)) is None and frame_of(still, Line(1)) is None
    empty = scene(credits(()), 200).choreography.movers["c"]
    assert line_at(empty, 5) is None
    odd = scene(credits([Gap(), PageBreak(), RuleLine(), Pictures()]), 200).choreography.movers["c"]
    assert frame_of(odd, Line(0)) is None and not shows(odd, 5, Line(0))
