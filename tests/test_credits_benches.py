"""Credits on the benches, by mouse and keys: the list, the strip, the recipe, the ruler, files, the card, the desk."""

import time

import pytest
from hands import box, chip, choose, drag
from lists import BOOK
from openpyxl import Workbook
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication, QDialog, QLineEdit, QMenu, QPlainTextEdit, QPushButton

from avlet.desktop.card.field_editors import FieldEditor
from avlet.desktop.credits.list_dialog import ListDialog
from avlet.desktop.credits.list_files import ListFiles
from avlet.desktop.credits.list_model import FIRST, KIND, SAID, SECOND
from avlet.desktop.credits.list_table import KEYS, ListTable
from avlet.desktop.credits.table_dialog import TableDialog
from avlet.desktop.recipe.credits_sentences import CalmLine
from avlet.desktop.time.ruler_picture import HEAD, offer_areas, page_edges
from avlet.desktop.widgets.theme import PAPER, PAPER_ROSE, PAPER_TEXT
from avlet.document.cut import Cut, Title, set_answers
from avlet.document.editing.edits import replace
from avlet.document.fields.credits import CreditsField, answer_of, blocks_of
from avlet.document.lists.blocks import Gap, Heading, Names, PageBreak, Pictures, Role, RuleLine, Words
from avlet.document.lists.lines import Line
from avlet.document.lists.listing import csv_of
from avlet.document.parts import CreditsPart
from avlet.document.parts.credits import Movement
from avlet.document.starts import blank
from avlet.document.tables import read_table
from avlet.document.template import Template
from avlet.motion.list_places import frame_of, line_at, shows, window_at
from avlet.motion.ruler_rows import rows_of
from avlet.paint.scene import Scene
from avlet.storage.package import save_template

KEY, LEFT, NONE = Qt.Key, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
ALT, CTRL, SHIFT = Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
LIST = (
    Heading(text="Camera"), Role(role="Focus", names=("Wren Farrow", "Ulf Tidd")), Role(role="Grip", names=("Bo Li",)),
    Gap(height=40.0), Heading(text="Thanks"), Names(names=("Maren Fenn", "Tove Quay")), Words(text="For all birds."),
)  # fmt: skip
MANY = tuple(Role(role=f"Role {n}", names=(f"Name {n}",)) for n in range(60))


def settle():
    for _ in range(4):
        QApplication.processEvents()


def put(window, blocks, **movement):
    """Credits with a list on the Build bench, selected; without a card."""
    template = blank()
    part = CreditsPart(id="c", name="Credits", blocks=tuple(blocks), movement=Movement(**movement))
    window.session.open(Template(name="T", parts=(part,), frame=template.frame, length=500, way_in=0, way_out=0), BOOK, None, saved=True)
    window.show_bench(0)
    window.session.select("c")
    settle()
    return window.build.list


@pytest.fixture
def panel(window, qtbot):
    found = put(window, LIST)
    qtbot.waitUntil(window.isActiveWindow)
    found.table.setFocus()
    return found


def blocks(window):
    return window.session.template.part("c").blocks


def press(qtbot, key, modifier=NONE):
    """A key to whatever has the focus."""
    qtbot.keyClick(QApplication.focusWidget(), key, modifier)
    settle()


def write(qtbot, words):
    qtbot.keyClicks(QApplication.focusWidget(), words)
    settle()


def at(table, row, column):
    return table.visualRect(table.model().index(row, column)).center()


def pick(menu, words):
    """Choose an entry of a menu, by its path."""
    first, _, rest = words.partition("/")
    action = next(a for a in menu.actions() if a.text().partition("\t")[0] == first)
    if rest:
        pick(action.menu(), rest)
    else:
        action.trigger()
    menu.close()
    settle()


# Adding


def test_the_list_is_paper(window):
    panel = put(window, (Heading(text="Sea"),))
    picture = panel.grab().toImage()
    assert picture.pixelColor(3, picture.height() - 3).name().upper() == PAPER
    button = next(one for one in panel.findChildren(QPushButton) if one.isVisible() and one.isEnabled())
    assert button.palette().buttonText().color().name().upper() in (PAPER_TEXT, PAPER_ROSE)


def test_credits_are_added_by_their_key_on_the_card_in_the_middle(window, qtbot):
    window.session.open(blank(), window.session.book, None, saved=True)
    window.show_bench(0)
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window.windowHandle(), KEY.Key_L)
    settle()
    part = window.session.part
    assert isinstance(part, CreditsPart) and part.movement.how == "rolls up"
    assert any(isinstance(f, CreditsField) for f in window.session.template.card.fields)
    rest = window.session.scene().rest.parts[part.id]
    assert rest.box.x + rest.box.w / 2 == pytest.approx(window.session.template.frame.width / 2)
    assert window.build.list.isVisible() and not window.build.below.isVisible()
    window.session.select(None)
    settle()
    assert not window.build.list.isVisible() and window.build.below.isVisible() and window.build.left_stack.currentIndex() == 1


# Typing


def test_typing_is_seen_with_every_key_and_undone_at_once(window, panel, qtbot):
    panel.table.choose([1], FIRST)
    press(qtbot, KEY.Key_F2)
    press(qtbot, KEY.Key_End)
    write(qtbot, "!")
    assert blocks(window)[1].role == "Focus!"
    write(qtbot, "?")
    assert blocks(window)[1].role == "Focus!?" and window.session.scene().rest.parts["c"].part.blocks[1].role == "Focus!?"
    press(qtbot, KEY.Key_Return)
    press(qtbot, KEY.Key_Escape)
    window.session.undo()
    window.session.undo()
    assert blocks(window) == LIST


def test_a_key_begins_to_type_and_escape_takes_it_back(window, panel, qtbot):
    panel.table.choose([2], SECOND)
    write(qtbot, "X")
    assert blocks(window)[1].names == ("Wren Farrow", "X")
    press(qtbot, KEY.Key_Escape)
    assert blocks(window) == LIST and QApplication.focusWidget() is panel.table


def test_return_adds_a_line_tab_goes_to_the_name_and_on(window, panel, qtbot):
    panel.table.choose([3], SECOND)
    press(qtbot, KEY.Key_Return)
    assert isinstance(QApplication.focusWidget(), QLineEdit)
    press(qtbot, KEY.Key_Return)
    write(qtbot, "Lamps")
    press(qtbot, KEY.Key_Return)
    write(qtbot, "Dag Ebbe")
    press(qtbot, KEY.Key_Return)
    write(qtbot, "Livia Fenn")
    press(qtbot, KEY.Key_Escape)
    press(qtbot, KEY.Key_Backtab)
    assert blocks(window)[3] == Role(role="Lamps", names=("Dag Ebbe", ""))
    assert blocks(window)[2] == LIST[2], "the role above is as it was"


def test_return_in_a_name_adds_a_name_and_a_role_is_one_key_further(window, panel, qtbot):
    panel.table.choose([1], SECOND)
    press(qtbot, KEY.Key_F2)
    press(qtbot, KEY.Key_Return)
    write(qtbot, "Ida Vik")
    press(qtbot, KEY.Key_Return)
    write(qtbot, "Ada Berg")
    press(qtbot, KEY.Key_Return)
    press(qtbot, KEY.Key_Return)
    write(qtbot, "Grip")
    press(qtbot, KEY.Key_Tab)
    write(qtbot, "Cai")
    press(qtbot, KEY.Key_Return)
    press(qtbot, KEY.Key_Escape)
    found = [(b.role, b.names) for b in blocks(window) if isinstance(b, Role)]
    assert found[0] == ("Focus", ("Wren Farrow", "Ida Vik", "Ada Berg")) and found[1][0] == "Grip" and found[1][1][0] == "Cai"


def test_a_role_that_is_emptied_lets_its_names_go_on_with_the_one_above(window, panel, qtbot):
    panel.table.choose([3], FIRST)
    press(qtbot, KEY.Key_F2)
    press(qtbot, KEY.Key_Backspace)
    press(qtbot, KEY.Key_Tab)
    press(qtbot, KEY.Key_Escape)
    assert blocks(window)[1] == Role(role="Focus", names=("Wren Farrow", "Ulf Tidd", "Bo Li"))


def test_words_of_several_lines(window, panel, qtbot):
    row = len(panel.model.lines) - 1
    panel.table.choose([row], FIRST)
    press(qtbot, KEY.Key_F2)
    box_ = QApplication.focusWidget()
    assert isinstance(box_, QPlainTextEdit)
    box_.moveCursor(box_.textCursor().MoveOperation.End)
    press(qtbot, KEY.Key_Return, SHIFT)
    write(qtbot, "And reeds.")
    assert blocks(window)[-1].text == "For all birds.\nAnd reeds."
    press(qtbot, KEY.Key_Return)
    assert isinstance(blocks(window)[-1], Role)


@pytest.mark.parametrize(
    ("words", "height"), [("120", 120.0), ("60,5 px", 60.5), ("high", 40.0), ("-5", 0.0), ("1e9", 20_000.0), ("nan", 40.0)]
)
def test_measures_are_typed(window, panel, qtbot, words, height):
    panel.table.choose([4], FIRST)
    press(qtbot, KEY.Key_F2)
    QApplication.focusWidget().selectAll()
    write(qtbot, words)
    press(qtbot, KEY.Key_Tab)
    assert blocks(window)[3].height == pytest.approx(height)


def test_what_takes_no_words_takes_none(window, panel, qtbot):
    panel.table.choose([0], SECOND)
    write(qtbot, "X")
    panel.table.choose([6], FIRST)
    write(qtbot, "X")
    assert blocks(window) == LIST


# Lines


def test_lines_are_moved_removed_cut_and_pasted(window, panel, qtbot):
    panel.table.choose([3], FIRST)
    press(qtbot, KEY.Key_Up, ALT)
    assert [b.kind for b in blocks(window)][:3] == ["heading", "role", "role"] and blocks(window)[1].role == "Grip"
    press(qtbot, KEY.Key_Down, ALT)
    assert blocks(window) == LIST
    panel.table.choose([2], SECOND)
    press(qtbot, KEY.Key_Up, ALT)
    assert blocks(window)[1].names == ("Ulf Tidd", "Wren Farrow"), "a name within its role"
    press(qtbot, KEY.Key_Up, ALT)
    assert blocks(window)[1].names == ("Ulf Tidd", "Wren Farrow")
    window.session.undo()
    panel.table.choose([1, 2, 3], FIRST)
    press(qtbot, KEY.Key_X, CTRL)
    assert len(blocks(window)) == 5 and window.session.template.part("c") is not None
    panel.table.choose([0], FIRST)
    press(qtbot, KEY.Key_V, CTRL)
    assert blocks(window) == LIST
    panel.table.choose([2], FIRST)
    press(qtbot, KEY.Key_Delete)
    assert blocks(window)[1] == Role(role="Focus", names=("Wren Farrow",))


def test_several_lines_go_to_a_spreadsheet_and_come_from_one(window, panel, qtbot):
    clipboard = QGuiApplication.clipboard()
    panel.table.choose([1, 2], FIRST)
    press(qtbot, KEY.Key_C, CTRL)
    assert clipboard.mimeData().text() == "Focus\tWren Farrow\n\tUlf Tidd\n"
    clipboard.setText("Lamps\tDag Ebbe\n\tLivia Fenn\nBoom\tRuta Wrack\n")
    panel.table.choose([3], FIRST)
    press(qtbot, KEY.Key_V, CTRL)
    assert blocks(window)[3:5] == (Role(role="Lamps", names=("Dag Ebbe", "Livia Fenn")), Role(role="Boom", names=("Ruta Wrack",)))
    assert panel.table.chosen_rows() == [4, 5, 6]
    before = blocks(window)
    for hostile in ("", "\n\n", '"' + "x" * 1_100_000):
        clipboard.setText(hostile)
        press(qtbot, KEY.Key_V, CTRL)
        assert blocks(window) == before
    data = QMimeData()
    data.setData("application/x-avlet-blocks+json", b'[{"block": "dance"}]')
    clipboard.setMimeData(data)
    press(qtbot, KEY.Key_V, CTRL)
    assert blocks(window) == before


def test_two_hundred_lines_of_a_spreadsheet_are_pasted_at_once(window, qtbot):
    table = put(window, ()).table
    QGuiApplication.clipboard().setText("Section\tRole\tName\n" + "".join(f"S {n // 20}\tRole {n}\tName {n}\n" for n in range(200)))
    table.setFocus()
    press(qtbot, KEY.Key_V, CTRL)
    assert len(blocks(window)) == 210 and blocks(window)[0] == Heading(text="S 0")


def test_kinds_are_changed_for_all_that_is_chosen(window, panel, qtbot):
    panel.table.choose([1, 3], KIND)
    press(qtbot, KEY.Key_Return)
    pick(panel.table.findChildren(QMenu)[-1], "Names")
    assert [b.kind for b in blocks(window)][:3] == ["heading", "names", "names"]
    assert blocks(window)[1].names == ("Focus", "Wren Farrow", "Ulf Tidd")


def test_the_menu_of_names_has_columns_and_orders(window, panel, qtbot):
    panel.table.choose([6], SECOND)
    menu = panel.table.line_menu(panel.model.lines[6])
    pick(menu, "Columns/3")
    pick(panel.table.line_menu(panel.model.lines[6]), "Filled/Across")
    pick(panel.table.line_menu(panel.model.lines[6]), "Sorted/English")
    block = blocks(window)[5]
    assert (block.columns, block.filled, block.sorted_in) == (3, "across", "en")
    assert "3 columns" in panel.model.words(6, FIRST)


def test_blocks_are_added_by_the_menu(window, panel, qtbot):
    panel.table.choose([0], FIRST)
    panel.add("gap")
    press(qtbot, KEY.Key_Escape)
    panel.add("page break")
    panel.add("rule")
    press(qtbot, KEY.Key_Escape)
    assert [b.kind for b in blocks(window)][:4] == ["heading", "gap", "page break", "rule"]


def test_pictures_are_chosen_and_one_that_is_gone_is_said(window, panel, qtbot, tmp_path):
    mark = tmp_path / "mark.svg"
    mark.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="20" height="10"><rect width="20" height="10"/></svg>')
    window.session.edit(
        "x", lambda t: Template(name="T", parts=(CreditsPart(id="c", name="Credits", blocks=(Pictures(),)),), frame=t.frame, length=500)
    )
    settle()
    panel.take_pictures(Line(0), [mark, mark])
    assert [p.name for p in blocks(window)[0].pictures] == ["mark.svg", "mark.svg"]
    said = []
    panel.refused.connect(said.append)
    panel.take_pictures(Line(0), [tmp_path / "gone.png"])
    assert said and len(blocks(window)[0].pictures) == 2


# Proofreading, finding


def test_remarks_stand_beside_their_lines_and_are_mended_or_meant(window, qtbot):
    panel = put(window, [Role(role="Focus", names=("Wren  Farrow",)), Role(role="Grip", names=("",))])
    panel.model.proofread()
    settle()
    assert "two blanks" in panel.model.words(0, SAID) and panel.look.text() == "2 to look at"
    qtbot.mouseClick(panel.look, LEFT)
    assert panel.table.currentIndex().row() in (0, 1)
    panel.table.choose([0], SAID)
    panel.table.setFocus()
    press(qtbot, KEY.Key_Return)
    pick(panel.table.findChildren(QMenu)[-1], "Make it “Wren Farrow”")
    assert blocks(window)[0].names == ("Wren Farrow",)
    qtbot.mouseClick(panel.table.port, LEFT, pos=at(panel.table, 1, SAID))
    settle()
    pick(panel.table.findChildren(QMenu)[-1], "It is meant so")
    assert blocks(window)[1].meant == ("no name",) and panel.look.text() == "nothing to look at"


def test_several_names_in_one_cell_are_offered_to_be_split(window, qtbot):
    panel = put(window, [Role(role="Camera", names=("Wren Farrow, Ulf Tidd; Bo Li", "Ida Vik"))])
    panel.model.proofread()
    settle()
    assert "looks like 2 names in one" in panel.model.words(0, SAID)
    panel.table.choose([0], SAID)
    panel.table.setFocus()
    press(qtbot, KEY.Key_Return)
    pick(panel.table.findChildren(QMenu)[-1], "Make 2 names of it")
    assert blocks(window)[0].names == ("Wren Farrow, Ulf Tidd", "Bo Li", "Ida Vik")
    panel.model.proofread()
    settle()
    panel.table.choose([0], SAID)
    press(qtbot, KEY.Key_Return)
    pick(panel.table.findChildren(QMenu)[-1], "Make 2 names of it")
    assert blocks(window)[0].names == ("Wren Farrow", "Ulf Tidd", "Bo Li", "Ida Vik")
    window.session.undo()
    assert blocks(window)[0].names == ("Wren Farrow, Ulf Tidd", "Bo Li", "Ida Vik")


def test_words_are_found_and_replaced(window, panel, qtbot):
    press(qtbot, KEY.Key_F, CTRL)
    search = panel.search
    assert search.isVisible() and QApplication.focusWidget() is search.wanted
    write(qtbot, "li")
    assert search.count.text() == "1 found"
    press(qtbot, KEY.Key_Return)
    assert panel.table.currentIndex().row() == 3
    search.new.setFocus()
    write(qtbot, "Lindqvist")
    press(qtbot, KEY.Key_Return)
    assert blocks(window)[2].names == ("Bo Lindqvist",)
    search.wanted.setText("a")
    many = int(search.count.text().split()[0])
    search.new.setText("å")
    qtbot.mouseClick(next(b for b in search.findChildren(QPushButton) if b.text() == "Replace all"), LEFT)
    assert many >= 4 and not any("a" in w for b in blocks(window) for w in (getattr(b, "text", ""), getattr(b, "role", "")))
    window.session.undo()
    assert blocks(window)[2].names == ("Bo Lindqvist",)
    search.wanted.setFocus()
    press(qtbot, KEY.Key_Escape)
    assert not search.isVisible()


# The stage and the strip


def test_the_line_in_the_middle_is_marked_and_the_list_stays_while_it_plays(window, qtbot):
    panel = put(window, MANY)
    window.session.go_to(250)
    settle()
    moving = window.session.scene().choreography.movers["c"]
    assert panel.model.marked == line_at(moving, 250) is not None
    bar = panel.table.verticalScrollBar()
    bar.setValue(100)
    for frame in range(251, 300, 7):
        window.session.go_to(frame)
        settle()
    assert bar.value() == 100


def test_going_to_a_line_shows_it_on_the_stage(window, qtbot):
    panel = put(window, MANY)
    window.session.go_to(60)
    panel.table.setFocus()
    panel.table.choose([40], SECOND)
    settle()
    moving = window.session.scene().choreography.movers["c"]
    assert shows(moving, window.session.frame, Line(40)) and window.session.frame == frame_of(moving, Line(40))
    frame = window.session.frame
    press(qtbot, KEY.Key_Down)
    assert window.session.frame == frame, "what shows already does not move"


def test_a_click_on_a_line_of_the_stage_goes_to_its_row(window, qtbot):
    panel = put(window, MANY)
    moving = window.session.scene().choreography.movers["c"]
    window.session.go_to(frame_of(moving, Line(25)))
    settle()
    stage = window.build.stage
    stage.drafting_on = False
    stage.refresh()
    frame = window.session.template.frame
    low, _ = window_at(moving, window.session.frame)
    y = float(moving.strip.begins[28] + moving.strip.ends[28]) / 2 - low
    qtbot.mouseClick(stage, LEFT, pos=_view(stage, frame.width / 2 + 60, y))
    settle()
    assert panel.table.currentIndex().row() == 28


def _view(stage, x, y) -> QPoint:
    area, scale = stage.picture_area(), stage.scale
    return QPointF(area.x() + x * scale, area.y() + y * scale).toPoint()


def test_the_strip_is_dragged_through_time_and_clicked(window, qtbot):
    panel = put(window, MANY)
    bars = window.build.strip.bars
    moving = window.session.scene().choreography.movers["c"]
    window.session.go_to(150)
    settle()
    middle = bars.window(moving).center().toPoint()
    drag(qtbot, bars, middle, QPoint(0, 90))
    assert window.session.frame > 200 and abs(bars.window(moving).center().y() - middle.y() - 90) < 3
    qtbot.mouseClick(bars, LEFT, pos=QPoint(middle.x(), 20))
    settle()
    assert panel.table.currentIndex().row() < 8 and window.session.frame < 150
    bars.setFocus()
    before = window.session.frame
    qtbot.keyClick(bars, KEY.Key_PageDown)
    assert window.session.frame > before + 30
    assert bars.accessibleName() and "60 lines" in window.build.strip.facts.text()


@pytest.mark.parametrize("how", ["rolls up", "rolls down", "pages", "crawls", "stands"])
def test_the_strip_draws_every_way_of_moving(window, how):
    put(window, (*MANY[:20], PageBreak(), RuleLine(), *MANY[20:30]), how=how)
    picture = window.build.strip.bars.grab().toImage()
    assert len({picture.pixel(x, y) for x in range(0, picture.width(), 3) for y in range(0, picture.height(), 3)}) > 3
    put(window, (), how=how)
    window.build.strip.bars.grab()


# The recipe and the ruler


def test_sentences_change_the_movement(window, panel, qtbot):
    choose(qtbot, chip(window, "movement.how"), "rolls down")
    assert window.session.part.movement.how == "rolls down"
    choose(qtbot, chip(window, "movement.ends"), "its last block in the middle")
    box(window, "c/movement.held_last").value_changed.emit(50)
    settle()
    assert window.session.part.movement.held_last == 50 and window.session.part.movement.ends == "in the middle"
    choose(qtbot, chip(window, "lies"), "one above the other")
    settle()
    assert window.session.part.lies == "one above the other" and box(window, "c/axis") is None


def test_a_whole_px_length_is_taken_with_a_click(window, qtbot):
    put(window, MANY)
    offers = [b for b in window.build.recipe.findChildren(QPushButton) if (b.objectName() or "").startswith("whole px")]
    assert len(offers) >= 3
    qtbot.mouseClick(offers[-1], LEFT)
    settle()
    roll = window.session.scene().choreography.movers["c"].roll
    assert roll.whole and window.session.template.length == roll.length
    line = window.build.recipe.findChild(CalmLine)
    qtbot.waitUntil(lambda: "(0.00)" in line.text())
    assert ("hurries" in line.text()) == (abs(roll.speed) > 7.7), "whole px do not shimmer"


def test_how_calm_it_is_is_worked_out_bit_by_bit_and_anew_after_a_change(window, qtbot, monkeypatch):
    from avlet.desktop.recipe import credits_sentences

    begun, steps = [], []

    def slow(scene, part_id):
        begun.append(scene)
        for n in range(5000 if len(begun) == 1 else 4):
            steps.append((len(begun), n))
            yield

    put(window, MANY)
    line = window.build.recipe.findChild(CalmLine)
    qtbot.waitUntil(lambda: line.text() != "…")
    monkeypatch.setattr(credits_sentences, "calm_in_bit_by_bit", slow)
    window.session.write({"c/fill.colour": "#FFEEDD"})
    qtbot.waitUntil(lambda: (1, 1) in steps)
    window.session.write({"c/fill.colour": "#FFCCDD"})
    qtbot.waitUntil(lambda: line.text() == "nothing moves")
    assert len(begun) == 2 and (2, 3) in steps and (1, 4999) not in steps, "what was begun before the change is given up"
    assert begun[-1].template.part("c").fill.colour == "#FFCCDD"


def test_the_speed_leads_the_length_of_the_template(window, qtbot):
    put(window, MANY)
    choose(qtbot, chip(window, "movement.leads"), "the speed leads")
    before = window.session.template.length
    box(window, "c/movement.speed").value_changed.emit(12.0)
    settle()
    assert window.session.template.length < before and window.session.scene().choreography.movers["c"].roll.speed == 12
    longer = window.session.template.length
    window.session.write({"c/blocks": MANY[:10]})
    assert window.session.template.length < longer
    said = []
    window.session.refused.connect(said.append)
    window.session.edit("Length", lambda t: replace(t, length=77))
    assert window.session.template.length != 77 and any("from the list" in s for s in said)


def test_the_reading_of_pages_leads_the_length_of_the_template(window, qtbot):
    put(window, tuple(b for n in range(3) for b in (PageBreak(), *MANY[n * 4 : n * 4 + 4])), how="pages")
    assert chip(window, "movement.leads").text().startswith("the title’s length is shared")
    choose(qtbot, chip(window, "movement.leads"), "reading leads the length")
    settle()
    assert chip(window, "movement.leads").text().startswith("reading leads the length")
    windows = window.session.scene().choreography.movers["c"].windows
    assert window.session.part.movement.leads == "speed" and window.session.template.length == sum(w.frames for w in windows) != 500
    choose(qtbot, chip(window, "movement.leads"), "the title’s length is shared")
    assert window.session.part.movement.leads == "length"


def test_the_ruler_has_page_stays_to_drag_and_whole_lengths_to_click(window, qtbot):
    put(window, tuple(b for n in range(3) for b in (PageBreak(), *MANY[n * 4 : n * 4 + 4])), how="pages")
    window.show_bench(1)
    settle()
    ruler = window.time.ruler
    (row,) = ruler.rows
    edge = page_edges(ruler.time, row)[0]
    y = round(HEAD + row.list_top + 8)
    before = row.pages[0].frames
    drag(qtbot, ruler, QPoint(round(edge), y), QPoint(40, 0))
    settle()
    stays = window.session.part.movement.stays
    assert len(stays) == 1 and stays[0].page == 0 and stays[0].frames > before
    assert ruler.rows[0].pages[0].frames == stays[0].frames and sum(p.frames for p in ruler.rows[0].pages) == 500
    window.show_bench(0)
    settle()
    button = next(b for b in window.build.recipe.findChildren(QPushButton) if b.objectName() == "stays by hand")
    button.click()
    settle()
    assert window.session.part.movement.stays == ()
    put(window, MANY)
    window.show_bench(1)
    settle()
    area, offer = offer_areas(ruler.time, ruler.rows[0])[0]
    qtbot.mouseClick(ruler, LEFT, pos=area.center().toPoint())
    assert window.session.template.length == offer.length
    assert rows_of(window.session.template, window.session.scene().choreography)[0].speed == offer.speed


def test_the_axis_is_drafted_and_its_gaps_are_dragged(window, qtbot):
    put(window, LIST, how="stands")
    stage = window.build.stage
    stage.refresh()
    stage.grab()
    area, dimension = next((a, d) for a, d in stage.drafting.labels if d.target == "c/name_gap")
    assert dimension.value == 25 and dimension.start[0] == pytest.approx(window.session.template.frame.width / 2, abs=320)
    drag(qtbot, stage, area.center().toPoint(), QPoint(30, 0))
    assert window.session.part.name_gap == pytest.approx(25 + 30 / stage.scale, abs=2 / stage.scale)
    window.session.write({"c/lies": "one above the other"})
    stage.grab()
    assert not any(d.target == "c/name_gap" for _, d in stage.drafting.labels)


# Files


@pytest.fixture
def opening(monkeypatch):
    """What is done in the dialog of a table; nothing cancels it."""

    def use(what):
        def run(self):
            if what is None:
                return QDialog.DialogCode.Rejected
            what(self)
            return QDialog.DialogCode.Accepted if self.take.isEnabled() else QDialog.DialogCode.Rejected

        monkeypatch.setattr(TableDialog, "exec", run)

    return use


def test_a_spreadsheet_is_opened_with_its_columns_chosen(window, panel, opening, tmp_path):
    book = Workbook()
    for row in (("x", "Focus", "Wren Farrow"), ("x", "Grip", "Bo Li")):
        book.active.append(row)
    book.save(tmp_path / "list.xlsx")

    def what(dialog):
        assert [c.currentData() for c in dialog.columns] == ["section", "role", "name"] and not dialog.heads.isChecked()
        dialog.columns[0].setCurrentIndex(0)
        assert "2 lines" in dialog.said.text()

    opening(what)
    assert panel.files.take(tmp_path / "list.xlsx")
    assert blocks(window) == (Role(role="Focus", names=("Wren Farrow",)), Role(role="Grip", names=("Bo Li",)))
    window.session.undo()
    opening(lambda dialog: dialog.below.setChecked(True))
    panel.files.take(tmp_path / "list.xlsx")
    assert blocks(window)[: len(LIST)] == LIST and len(blocks(window)) == len(LIST) + 3


def test_what_is_no_list_is_said_and_nothing_is_lost(window, panel, opening, tmp_path):
    said = []
    panel.refused.connect(said.append)
    opening(None)
    for name, data in (("a.xlsx", b"PK\x03\x04"), ("b.csv", b""), ("c.csv", b"kind,name\ndance,x\n"), ("d.csv", b"\0\xff\0\xff")):
        (tmp_path / name).write_bytes(data)
        assert not panel.files.take(tmp_path / name)
    assert not panel.files.take(tmp_path / "gone.csv")
    assert blocks(window) == LIST and len(said) == 4

    dialog = TableDialog("c.csv", read_table(b"kind,name\ndance,x\n", "c.csv"), False)
    assert not dialog.take.isEnabled() and "dance" in dialog.said.text()


@pytest.mark.parametrize("name", ["out.csv", "out.tsv"])
def test_a_list_is_written_and_opened_again(window, panel, opening, tmp_path, name):
    assert panel.files.write_to(tmp_path / name)
    window.session.write({"c/blocks": ()})
    opening(lambda dialog: None)
    assert panel.files.take(tmp_path / name) and blocks(window) == LIST
    said = []
    panel.refused.connect(said.append)
    assert not panel.files.write_to(tmp_path / name / "where.csv") and said


def test_a_file_that_is_followed_is_taken_row_by_row(window, panel, qtbot, monkeypatch, tmp_path):
    path = tmp_path / "list.csv"
    path.write_text(csv_of(LIST))
    panel.files.follow_file(path)
    settle()
    assert window.session.template.part("c").linked == str(path) and panel.news.text() == "follows list.csv"
    path.write_text(csv_of((LIST[0], Role(role="Focus", names=("Wren Farrow", "Ulf Tidd-Ebbe")), *LIST[2:], Heading(text="New"))))
    qtbot.waitUntil(lambda: panel.news.text() == "2 new in list.csv", timeout=20_000)

    def run(dialog):
        first, second = dialog.boxes.values()
        assert "Tidd-Ebbe" in first.text() and "New" in second.text()
        second.setChecked(False)
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr("avlet.desktop.credits.list_files.TickDialog.exec", run)
    qtbot.mouseClick(panel.news, LEFT)
    assert blocks(window) == (LIST[0], Role(role="Focus", names=("Wren Farrow", "Ulf Tidd-Ebbe")), *LIST[2:])
    panel.files.follow_none()
    assert not panel.news.isVisible() and window.session.template.part("c").linked == ""
    path.unlink()
    panel.files.follow_file(path)
    assert "not there" in panel.news.text()
    panel.files.look()


def test_the_list_is_emptied_for_the_next_film(window, panel):
    panel.empty_it()
    assert blocks(window)[1] == Role(role="Focus") and blocks(window)[0] == Heading(text="Camera")


# The card and the desk


def test_a_field_opens_the_same_list(qtbot):
    editor = FieldEditor(CreditsField(id="l", label="List", default=LIST), answer_of(LIST))
    qtbot.addWidget(editor)
    assert editor.main.text().startswith("8 lines")
    told = []
    editor.answered.connect(told.append)
    dialog = ListDialog("List", editor.list_port(), BOOK, lambda: None, editor)
    qtbot.addWidget(dialog)
    dialog.show()
    dialog.panel.table.setFocus()
    dialog.panel.table.choose([0], FIRST)
    dialog.panel.table.remove_chosen()
    assert blocks_of(told[-1]) == LIST[1:] and editor.main.text().startswith("7 lines")
    dialog.panel.refused.emit("No.")
    assert dialog.said.isVisible()
    dialog.reject()


def _in_dialog(what):
    """Do something in the dialog that a click opens."""

    def act():
        dialog = QApplication.activeModalWidget()
        what(dialog.panel)
        settle()
        dialog.reject()

    QTimer.singleShot(100, act)


def _renamed(name):
    def what(panel):
        panel.table.setFocus()
        panel.model.type(next(r for r, line in enumerate(panel.model.lines) if panel.model.words(r, SECOND)), SECOND, name, name)
        panel.table.choose([0], FIRST)
        panel.table.remove_chosen()

    return what


def _list_buttons(widget):
    return [b for b in widget.findChildren(QPushButton) if "· edit…" in b.text()]


def test_lists_are_edited_in_their_dialog_on_the_desk_and_on_the_card(window, qtbot):
    """The card may follow what is typed; what is open stays open, and no other button shows an older list."""
    window.show_desk()
    window.cut_session.select("end-roll")
    settle()
    for name, lines in (("Ann Berg", "195 lines"), ("Bo Berg", "194 lines")):
        (button,) = _list_buttons(window.desk.card)
        _in_dialog(_renamed(name))
        qtbot.mouseClick(button, LEFT)
        settle()
        blocks_ = blocks_of(window.cut_session.title.answers["list"])
        assert any(name in getattr(b, "names", ()) for b in blocks_) and _list_buttons(window.desk.card)[0].text().startswith(lines)
    window.files.open_path(window.cut_session.library / "end-roll.avlet")
    window.show_bench(2)
    window.card.choose("list")
    settle()
    qtbot.waitUntil(lambda: len(_list_buttons(window.card)) == 2)
    for number, (name, lines) in enumerate((("Ann Berg", "195 lines"), ("Bo Berg", "194 lines"))):
        _in_dialog(_renamed(name))
        qtbot.mouseClick(_list_buttons(window.card)[number], LEFT)
        settle()
        if number == 0:  # on the card it is only tried, until it is kept
            qtbot.waitUntil(lambda: [b.text() for b in _list_buttons(window.card)] == ["195 lines · edit…", "196 lines · edit…"])
            qtbot.mouseClick(window.card.keep_tried, LEFT)
        qtbot.waitUntil(lambda want=lines: {b.text() for b in _list_buttons(window.card)} == {f"{want} · edit…"})
        assert any(name in getattr(b, "names", ()) for b in window.session.template.card.field("list").default)


def test_the_demo_roll_is_answered_on_the_desk_and_lasts_as_its_list_does(window, qtbot):
    session = window.cut_session
    window.show_desk()
    session.select("end-roll")
    settle()
    title = session.title
    assert title.length == session.led_length(title)
    session.edit("Answers", lambda c: set_answers(c, "end-roll", {"list": answer_of(LIST)}))
    short = session.title
    assert short.length < title.length and short.length == session.led_length(short)
    said = []
    session.refused.connect(said.append)
    window.desk.times.frames.value_changed.emit(50.0)
    assert session.title.length == short.length
    window.desk.view._drag_title("end", short, 200, 0, None)
    assert session.title.length == short.length and any("from the list" in s for s in said)


def test_trimming_catches_on_whole_px_lengths(window, qtbot, tmp_path):
    put(window, MANY)
    template = window.session.template
    save_template(template, window.cut_session.library / "roll.avlet", BOOK)
    session = window.cut_session
    session.forget_templates()
    session.edit("x", lambda c: Cut(c.name, c.frame, c.pictures, (Title("r", "roll.avlet", 0, 500),)))
    view = window.desk.view
    offers = view.whole_lengths(session.cut.title("r"), 500)
    assert len(offers) >= 3
    near = max(offers)
    caught = view._snapped(near + 1, session.cut.title("r"), view.whole_lengths(session.cut.title("r"), near + 1), 1)
    assert caught == near
    scene = Scene(template, BOOK, {}, near)
    assert scene.choreography.movers["c"].roll.whole


# What belongs to controls


def test_keys_of_the_list_are_told_and_everything_has_a_name(window, panel):
    assert {"Return", "Tab", "Alt+Up", "Ctrl+F"} <= {keys for keys, _ in KEYS}
    assert panel.table.accessibleName()
    index = panel.model.index(1, SECOND)
    assert panel.model.data(index, Qt.ItemDataRole.AccessibleTextRole) == "name: Wren Farrow"
    assert all(b.accessibleName() or b.text() for b in panel.findChildren(QPushButton))
    assert isinstance(panel.table, ListTable) and isinstance(panel.files, ListFiles)


def test_a_list_of_twenty_thousand_lines_is_edited(window, qtbot):
    panel = put(window, tuple(Role(role=f"Role {n % 90}", names=(f"Given {n} Family{n // 3}",)) for n in range(20_000)))
    begun = time.perf_counter()
    panel.model.type(9_000, SECOND, "Somebody Else", "x")
    assert blocks(window)[9_000].names == ("Somebody Else",) and time.perf_counter() - begun < 20
