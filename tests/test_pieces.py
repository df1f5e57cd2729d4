"""Pieces that travel: by law px for px, with their wires, fields, house and samples, through the clipboard and the command line."""

import msgspec
import numpy as np
import pytest
from conftest import DEMO, TEMPLATES, plated
from hands import settle
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import QMimeData, Qt
from PyQt6.QtWidgets import QApplication, QMessageBox

from avlet.desktop.build.part_commands import PARTS_MIME
from avlet.document.cards.wires import Formula, Straight, Wire
from avlet.document.editing.pieces import Copied, clashes, copied_bytes, inserted, joined, piece_of, read_copied
from avlet.document.fields.base import Condition
from avlet.document.parts import EchoPart, Matte, Place, SpacePart, TextPart
from avlet.document.template import Frame, Template
from avlet.document.time.keys import Key, Keyed
from avlet.errors import DocumentError
from avlet.layout.holding import hold
from avlet.paint.scene import Scene
from avlet.storage.package import open_template, save_template

replace = msgspec.structs.replace
ALL = [name for name in TEMPLATES if name not in ("broken-strap.avlet", "end-roll.avlet", "news-crawl.avlet")]
STRAP = open_template(DEMO / "name-strap.avlet")
CTRL = Qt.KeyboardModifier.ControlModifier


def opened(name):
    return open_template(DEMO / name)


def boxes_of(template, book):
    return {i: tuple(rest.box) for i, rest in Scene(template, book).rest.parts.items()}


def piece(template, ids, book=STRAP.book):
    return piece_of(template, ids, boxes_of(template, book))


def pictures(scene, frames):
    return [scene.picture(frame, 320, 180) for frame in frames]


def frames_of(scene):
    return sorted({4, scene.spans.way_in // 2, scene.length // 2, scene.length - 6})


# The law


@pytest.mark.parametrize("name", ALL)
def test_a_template_inserted_into_an_empty_one_gives_the_same_pictures(name):
    one = opened(name)
    made = inserted(Template(name="Empty", frame=one.template.frame), one.template)
    before, after = Scene(one.template, one.book), Scene(hold(made.template), one.book)
    assert before.length == after.length and len(made.parts) == 1 and made.template.part(made.parts[0]).name == one.template.name
    for a, b in zip(pictures(before, frames_of(before)), pictures(after, frames_of(before)), strict=True):
        assert np.array_equal(a, b)
    assert [f.label for f in made.template.card.fields] == [f.label for f in one.template.card.fields]


@pytest.mark.parametrize("answers", [{"name": "Ioana Crețu-Whitlock", "role": "Head"}, {"bar-colour": "#803020"}, {"role-line": False}])
def test_inserted_twice_both_follow_their_own_words(answers):
    empty = Template(name="Empty", frame=STRAP.template.frame)
    twice = inserted(inserted(empty, STRAP.template).template, STRAP.template)
    template = hold(twice.template)
    ids = {f.id for f in template.card.fields}
    mine = {i: a for i, a in answers.items() if i in ids}
    assert mine, "the field is there under its own name"
    second = {next(i for i in ids if i == f"{name}-2"): value for name, value in mine.items()}
    alone = Scene(STRAP.template, STRAP.book, mine)
    parts = len(STRAP.template.parts)
    for answered, at in ((mine, 0), (second, parts + 1)):
        scene = Scene(template, STRAP.book, answered)
        rest = [scene.rest.parts[p.id].box for p in template.parts[at : at + parts]]
        assert rest == [alone.rest.parts[p.id].box for p in STRAP.template.parts]
    assert len({f.label for f in template.card.fields}) == len(ids), "each has a label of its own"
    assert [s.name for s in template.card.sections] == ["Name strap · Words", "Name strap · Look"]


def test_it_begins_at_a_frame_and_its_ends_are_made_to_fit():
    base = opened("long-fade-title.avlet").template
    later = inserted(base, STRAP.template, at=30)
    a, b = Scene(STRAP.template, STRAP.book), Scene(hold(later.template), STRAP.book)
    name = next(p.id for p in later.template.parts if p.id.startswith("name"))
    begins = [bar.start for bar in _bars(later.template, b, name)]
    assert begins == [bar.start + 30 for bar in _bars(STRAP.template, a, "name")]
    assert inserted(opened("place-tag.avlet").template, STRAP.template, at=30).said[0].startswith("The way in is 55 frames now")
    fitted = inserted(base, STRAP.template, fitted=True).template
    bars = _bars(fitted, Scene(fitted, STRAP.book), name)
    share = base.way_in / STRAP.template.way_in
    assert bars[0].end - bars[0].start == pytest.approx(
        (_bars(STRAP.template, a, "name")[0].end - _bars(STRAP.template, a, "name")[0].start) * share, abs=1
    )


def _bars(template, scene, part):
    from avlet.motion.ruler_rows import rows_of

    return [bar for row in rows_of(template, scene.choreography) if row.part.id == part for bar in row.bars if not bar.mirrored]


def test_another_rate_keeps_its_seconds_and_it_is_said():
    made = inserted(Template(frame=Frame(rate="50/1")), STRAP.template)
    assert made.template.length == 2 * STRAP.template.length and "its seconds stay" in made.said[0]


# What belongs to a piece


def test_all_that_is_selected_goes_with_its_relations_wires_fields_and_house():
    template = STRAP.template
    ids = [p.id for p in template.parts]
    found = piece(template, ids)
    assert found.said == () and found.template.parts == template.parts and set(found.template.wires) == set(template.wires)
    assert [f.id for f in found.template.card.fields] == [f.id for f in template.card.fields]
    assert {e.id for e in found.template.palette} <= {e.id for e in template.palette}
    assert {s.id: s.answers for s in found.template.samples} == {s.id: s.answers for s in template.samples}


def test_what_hangs_on_something_left_behind_stands_where_it_stood_and_is_said():
    template = STRAP.template
    boxes = boxes_of(template, STRAP.book)
    shape = next(p for p in template.parts if p.fitted is not None and "name" in p.fitted.around)
    found = piece(template, [shape.id])
    part = found.template.part(shape.id)
    x, y, w, h = boxes[shape.id]
    assert part.fitted is None and (part.across.gap, part.down.gap, part.width, part.height) == (x, y, w, h)
    assert any(f"{shape.name} followed" in words and "stays behind" in words for words in found.said)
    made = hold(joined(Template(frame=template.frame), found.template).template)
    assert Scene(made, STRAP.book).rest.parts[shape.id].box == pytest.approx(boxes[shape.id])


def test_groups_and_spaces_bring_their_members_and_echoes_what_they_copy():
    word = opened("rising-word.avlet")
    space = next(p for p in word.template.parts if isinstance(p, SpacePart))
    found = piece(word.template, [space.id], word.book)
    assert {p.id for p in word.template.parts if p.group == space.id} <= {p.id for p in found.template.parts}
    original = TextPart(id="word", name="Word", text="Tide", family="Inter", style="Bold", size=80.0)
    echoed = Template(parts=(original, EchoPart(id="echo", name="Echo", of="word", across=Place(gap=9.0), down=Place(gap=9.0))))
    assert [p.id for p in piece(hold(echoed), ["echo"]).template.parts] == ["word", "echo"]


def test_in_the_template_that_it_came_from_what_hangs_on_others_still_does():
    template = STRAP.template
    matted = next(p for p in template.parts if p.mattes or (p.fitted is None and p.across and p.across.on not in ("frame", "title-safe")))
    copied = Copied(template, (matted.id,), boxes_of(template, STRAP.book), "here")
    same, other = copied.piece(template, "here"), copied.piece(template, "there")
    assert same.said == () and other.said
    made = hold(joined(template, same.template).template)
    new = made.parts[-1]
    assert new.id != matted.id and (new.mattes, new.across, new.down) == (matted.mattes, matted.across, matted.down)


def test_formulas_follow_to_new_names_and_quoted_words_stay():
    parts = (
        TextPart(id="name", name="Name", text="Tide", family="Inter", style="Bold", size=80.0),
        TextPart(
            id="name-b", name="Second", text="Low", family="Inter", style="Bold", size=40.0, across=Place(gap=0.0), down=Place(gap=300.0)
        ),
    )
    formula = "min(name.width, 400) / 10 + (1 if 'name' == 'name' else 2)"
    template = hold(Template(parts=parts, wires=(Wire("name/rest.width", "name-b/size", Formula(formula)),)))
    made = hold(joined(template, piece(template, ["name", "name-b"]).template).template)
    wire = made.wires[-1]
    assert wire.source == "name-2/rest.width" and wire.target == "name-b-2/size"
    assert wire.map.formula == "min(name_2.width, 400) / 10 + (1 if 'name' == 'name' else 2)"


@settings(max_examples=40, deadline=None)
@given(st.data())
def test_any_choice_of_parts_of_any_template_goes_anywhere(data):
    """Whatever is chosen, what comes out holds, and so does what it comes into; once more beside itself too."""
    one = opened(data.draw(st.sampled_from(ALL)))
    ids = data.draw(st.lists(st.sampled_from([p.id for p in one.template.parts]), min_size=1, unique=True))
    into = opened(data.draw(st.sampled_from(ALL))).template
    found = piece_of(one.template, ids, boxes_of(one.template, one.book))
    hold(found.template)
    made = joined(into, found.template, data.draw(st.booleans()), "Another")
    template = hold(joined(hold(made.template), found.template, False, "Another").template)
    assert len(template.parts) == len(into.parts) + 2 * len(found.template.parts)
    assert len({p.id for p in template.parts}) == len(template.parts)
    assert template.parts[: len(into.parts)] == into.parts and template.wires[: len(into.wires)] == into.wires
    Scene(template, one.book).pose(20)


def test_a_field_that_is_shown_if_another_says_so_follows_its_own_copy():
    shown = replace(STRAP.template.card.field("role"), shown_if=Condition("role-line", (True,)))
    sections = tuple(replace(s, fields=tuple(shown if f.id == "role" else f for f in s.fields)) for s in STRAP.template.card.sections)
    one = hold(replace(STRAP.template, card=replace(STRAP.template.card, sections=sections)))
    role = one.part("role").id
    assert {"role", "role-line"} <= {f.id for f in piece(one, [role]).template.card.fields}, "what decides comes along"
    empty = Template(frame=one.frame)
    twice = hold(inserted(inserted(empty, one).template, one).template)
    assert [twice.card.field(i).shown_if.field for i in ("role", "role-2")] == ["role-line", "role-line-2"]


# Houses


GUEST = opened("guest-strap.avlet").template


def test_a_house_is_matched_by_name_and_value():
    template = GUEST
    assert template.palette, "the strap has a house"
    first = template.palette[0]
    same = Template(frame=template.frame, palette=(replace(first, id="other-id"),))
    everything = [p.id for p in template.parts]
    follows = joined(same, piece(template, everything).template).template
    assert [e.id for e in follows.palette if e.name == first.name] == ["other-id"] and clashes(same, template) == []
    other = Template(frame=template.frame, palette=(replace(first, colour="#FF0000"),))
    assert clashes(other, piece(template, everything).template) == [first.name]
    here = hold(joined(other, piece(template, everything).template).template)
    assert [e.colour for e in here.palette if e.name == first.name] == ["#FF0000"]
    own = hold(joined(other, piece(template, everything).template, keep_theirs=True).template)
    assert [(e.name, e.colour) for e in own.palette if e.name.startswith(first.name)] == [
        (first.name, "#FF0000"), (f"{first.name} 2", first.colour)
    ]  # fmt: skip
    red = {w.target for w in here.wires if w.source == f"palette/{first.id}"}
    assert red and {w.target for w in own.wires if w.source.startswith(f"palette/{first.id}")} == red


def test_three_designs_follow_one_house_after_a_strap_is_copied_into_them():
    strap = piece(GUEST, [p.id for p in GUEST.parts]).template
    brand = strap.palette[0]
    for name in ("place-tag.avlet", "side-rule.avlet", "episode-title.avlet"):
        into = opened(name).template
        into = replace(into, palette=(*(e for e in into.palette if e.name != brand.name and e.id != brand.id), brand))
        made = joined(into, strap).template
        assert [e.name for e in made.palette].count(brand.name) == 1
        changed = replace(made, palette=tuple(replace(e, colour="#123456") if e.id == brand.id else e for e in made.palette))
        scene = Scene(hold(changed), STRAP.book)
        driven = [w.target for w in changed.wires if w.source == f"palette/{brand.id}" and isinstance(w.map, Straight)]
        bound = {part.id: str(msgspec.to_builtins(part)) for part in scene.bound.parts}
        assert driven and all("#123456" in bound[target.partition("/")[0]] for target in driven)
        assert "brand" not in {f.id for f in made.card.fields}, "no field that leads nowhere"


# Hostile


@pytest.mark.parametrize("data", [
    b"", b"{}", b"[1]", b'{"template": {}, "parts": [], "boxes": {}}', b'{"template": {}, "parts": ["x"], "boxes": {}}', b"[" * 100_000,
    b'{"template": {"parts": [{"kind": "text"}]}, "parts": ["a"], "boxes": {}}',
])  # fmt: skip
def test_what_is_no_piece_is_refused_in_words(data):
    with pytest.raises(DocumentError, match="no parts of a template"):
        read_copied(data)


def test_what_was_copied_comes_through_the_clipboard_whole():
    template = opened("framed-title.avlet").template
    copied = Copied(template, (template.parts[0].id,), boxes_of(template, STRAP.book), "x")
    assert read_copied(copied_bytes(copied)) == copied


# Hands


def test_a_strap_is_copied_into_another_window_by_keys_and_undone_in_one_step(window, qtbot, demo, key):
    session = window.session
    window.build.stage.setFocus()
    key(Qt.Key.Key_A, CTRL)
    assert len(session.selection) == len([p for p in session.template.parts if p.group is None and not p.locked])
    key(Qt.Key.Key_C, CTRL)
    strap = session.template
    window.files.open_path(demo / "episode-title.avlet")
    before = session.template
    key(Qt.Key.Key_V, CTRL)
    made = session.template
    assert len(made.parts) == len(before.parts) + len(strap.parts) and len(session.selection) >= 3
    assert [s.name for s in made.card.sections][-1] == f"{strap.name} · Look" and len(made.card.fields) == len(before.card.fields) + len(
        strap.card.fields
    )
    window.undo()
    assert session.template == before


def test_where_houses_clash_one_is_asked_and_nothing_is_taken_before(window, qtbot, demo, key, monkeypatch):
    session = window.session
    window.files.open_path(demo / "guest-strap.avlet")
    key(Qt.Key.Key_A, CTRL)
    key(Qt.Key.Key_C, CTRL)
    name = session.template.palette[0].name
    window.files.open_path(demo / "episode-title.avlet")
    session.edit("House", lambda t: replace(t, palette=(*t.palette, replace(GUEST.palette[0], id="red", colour="#FF0000"))))
    asked, answers = [], iter(["Cancel", "Keep its own", "Follow the house here"])
    monkeypatch.setattr(QMessageBox, "exec", lambda box: asked.append(box.text()) or press(box, next(answers)))
    before = session.template
    key(Qt.Key.Key_V, CTRL)
    assert session.template == before and f"Both have {name}" in asked[0]
    key(Qt.Key.Key_V, CTRL)
    assert any(e.name == f"{name} 2" for e in session.template.palette)
    window.undo()
    key(Qt.Key.Key_V, CTRL)
    assert not any(e.name == f"{name} 2" for e in session.template.palette) and len(session.template.parts) > len(before.parts)


def press(box, words):
    button = next(b for b in box.buttons() if b.text().replace("&", "") == words)
    button.click()


def test_a_damaged_clipboard_is_said_and_changes_nothing(window, key):
    data = QMimeData()
    data.setData(PARTS_MIME, b'{"template": 3}')
    QApplication.clipboard().setMimeData(data)
    before = window.session.template
    key(Qt.Key.Key_V, CTRL)
    settle()
    assert window.session.template == before and "no parts of a template" in window.message.text()


# The command line


def test_a_strap_is_inserted_by_the_command_line(avlet, tmp_path):
    into, out = tmp_path / "opening.avlet", tmp_path / "both.avlet"
    save_template(Template(name="Opening", frame=STRAP.template.frame), into, STRAP.book)
    status, _, _ = avlet("insert", DEMO / "name-strap.avlet", "--into", into, "-o", out)
    assert status == 0
    made = open_template(out)
    before, after = Scene(STRAP.template, STRAP.book), Scene(made.template, made.book)
    assert np.array_equal(before.picture(40, 320, 180), after.picture(40, 320, 180)) and open_template(into).template.parts == ()
    status, _, err = avlet("insert", DEMO / "name-strap.avlet", "--into", out, "--at", "1s", "--dry-run")
    assert status == 0 and "The way in is" in err and open_template(out).template == made.template
    assert avlet("insert", DEMO / "name-strap.avlet", "--into", out, "-o", out, "--no-overwrite")[0] == 2
    assert avlet("insert", tmp_path / "gone.avlet", "--into", out)[0] == 2
    assert avlet("insert", DEMO / "name-strap.avlet", "--into", out, "--at", "soon")[0] == 2


def test_a_matte_of_a_piece_leads_to_the_copy_of_its_source():
    parts = (
        TextPart(id="word", name="Word", text="Tide", family="Inter", style="Bold", size=80.0, mattes=(Matte("plate"),)),
        TextPart(id="plate", name="Plate", text="LOW", family="Inter", style="Bold", size=200.0),
    )
    template = hold(Template(parts=parts))
    made = joined(template, piece(template, ["word", "plate"]).template).template
    assert made.part("word-2").mattes == (Matte("plate-2"),) and made.part("word").mattes == (Matte("plate"),)


def test_wires_and_keys_of_a_second_matte_go_with_it_where_the_first_stays_behind():
    word = TextPart(id="word", name="Word", text="Tide", family="Inter", style="Bold", size=80.0, mattes=(Matte("away"), Matte("plate")))
    word = msgspec.structs.replace(word, keys=(Keyed("mattes.1.grow", (Key(0, 0.0), Key(9, 4.0))),))
    others = [TextPart(id=name, name=name, text="LOW", family="Inter", style="Bold", size=200.0) for name in ("plate", "away")]
    wires = (Wire("plate/size", "word/mattes.1.soft"), Wire("plate/size", "word/mattes.0.grow"))
    template = hold(Template(parts=(word, *others), wires=wires))
    found = piece(template, ["word", "plate"]).template
    assert found.part("word").mattes == (Matte("plate"),) and found.part("word").keys[0].path == "mattes.0.grow"
    assert found.wires == (Wire("plate/size", "word/mattes.0.soft"),), "what led into the matte that is gone is gone"
    there = joined(template, found).template
    assert there.wires[-1] == Wire("plate-2/size", "word-2/mattes.0.soft") and there.part("word") == word


def test_another_template_is_taken_in_at_the_playhead_from_the_menu(window, qtbot, demo, monkeypatch):
    from PyQt6.QtWidgets import QFileDialog

    session, before = window.session, window.session.template
    session.go_to(10)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(demo / "long-fade-title.avlet"), ""))
    asked, answers = [], iter(["Cancel", "Make it come in 25", "Keep its timing"])
    monkeypatch.setattr(QMessageBox, "exec", lambda box: asked.append(box.text()) or press(box, next(answers)))
    other = open_template(demo / "long-fade-title.avlet").template
    for number in range(3):
        window.build.template_wanted.emit()
        settle()
        if number == 0:
            assert session.template == before and "comes in 100 frames; here the way in is 25" in asked[0]
            continue
        group = session.part
        assert group.name == other.name and len(session.template.parts) == len(before.parts) + len(other.parts) + 1
        assert session.template.way_in == (35 if number == 1 else 110)
        window.undo()
        assert session.template == before


def test_an_empty_template_takes_on_what_happens_on_air_as_well_as_times():
    other = msgspec.structs.replace(open_template(DEMO / "place-tag.avlet").template, updates="out and in", plays_out=False)
    taken = inserted(Template(), other).template
    assert (taken.updates, taken.plays_out, taken.length) == ("out and in", False, other.length)
    assert inserted(plated(), other).template.updates == "in place", "one that has parts keeps its own"
