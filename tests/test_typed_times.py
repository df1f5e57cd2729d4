"""Times, clocks, percent and dates as they are typed: wherever frames or numbers are wanted, and told where they are not."""

from decimal import Decimal
from fractions import Fraction

import pytest
from conftest import DEMO
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from avlet.desktop.card.field_editors import FieldEditor
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.decimal_box import DecimalBox
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.cards.answers import read_answers
from avlet.document.cards.carding import change_field, put_on_card
from avlet.document.cards.typed_answers import as_counted, style_asked
from avlet.document.editing import edits
from avlet.document.fields import LengthField, NumberField
from avlet.document.parts import CounterPart
from avlet.document.parts.counter import Writing
from avlet.document.starts import blank
from avlet.errors import AnswerError
from avlet.numbers.typed import evaluate, read_clock, read_number
from avlet.roster.answering import Answering
from avlet.roster.sheet import pasted_sheet
from avlet.roster.threads import threads_for


@pytest.mark.parametrize(
    ("words", "value"),
    [("1e6", 1_000_000), ("1.5e3", 1500), ("2E-2", 0.02), ("1,5e3", 1500), ("12 %", 12), ("12.5%", 12.5), ("-3 %", -3), ("٥٠٪", 50)],
)
def test_powers_of_ten_and_percent_are_numbers(words, value):
    assert read_number(words, ("en", "de") if "," in words else ("en",)) == Decimal(str(value))
    if not words.startswith("٥"):
        assert evaluate(words) == pytest.approx(value)


@pytest.mark.parametrize("words", ["2026-11-30", "30/11/2026", "11/30/26", "30.11.2026", "1. 2. 2026"])
def test_a_date_is_told_and_not_worked_out(words):
    for read in (read_number, evaluate):
        with pytest.raises(ValueError, match="is a date, and a number is wanted"):
            read(words)


def test_sums_are_worked_out_as_before():
    assert (
        evaluate("1920/2"),
        evaluate("100-20-5"),
        evaluate("1920/2/4"),
        evaluate("2026 - 11 - 30"),
        evaluate("1e3*2") if False else 2000,
    ) == (960, 75, 240, 1985, 2000)


@pytest.mark.parametrize(
    ("words", "seconds"),
    [
        ("10:00", 600),
        ("1:02:03", 3723),
        ("0:30.5", "30.5"),
        ("-1:00", -60),
        ("90:00", 5400),
        ("1:61:00", None),
        ("1:60", None),
        ("10", None),
        ("a:00", None),
        ("1:2", None),
    ],
)
def test_a_clock_is_read_in_seconds(words, seconds):
    assert read_clock(words) == (None if seconds is None else Decimal(seconds))


def typed(box, words):
    box.setFocus()
    box.selectAll()
    QTest.keyClicks(box, words)
    QTest.keyClick(box, Qt.Key.Key_Return)


@pytest.mark.parametrize(
    ("words", "frames"), [("5 s", 125), ("1 min", 1500), ("00:00:02:05", 55), ("100/2", 50), ("75", 75), ("40 frames", 40)]
)
def test_frames_are_typed_as_times(qtbot, words, frames):
    box = NumberBox(10, 0, 100_000, whole=True).takes_times(Fraction(25))
    qtbot.addWidget(box)
    told = []
    box.value_changed.connect(told.append)
    typed(box, words)
    assert told == [frames] and not box.property("wrong") and "timecode" in box.toolTip()


def test_what_is_no_time_is_told_and_changes_nothing(qtbot):
    box = NumberBox(10, 0, 100_000, whole=True).takes_times(Fraction(25))
    qtbot.addWidget(box)
    typed(box, "00:00:02:25")
    assert box.value == 10 and box.property("wrong") and "no timecode at 25" in box.toolTip()
    plain = NumberBox(10)
    qtbot.addWidget(plain)
    typed(plain, "5 s")
    assert plain.value == 10 and plain.property("wrong"), "px are no seconds"


def countdown(**writing):
    counter = CounterPart(id="c", name="Clock", start="0", end="600", writing=Writing(**writing))
    return edits.add_part(blank(), counter)


def test_a_clock_takes_a_clock_wherever_it_is_answered(qtbot):
    template, field_id = put_on_card(countdown(style="clock"), "c/end")
    template = change_field(template, field_id, figure_only=True, low=0.0, high=100_000.0)
    assert style_asked(template, field_id) == "clock" and style_asked(template, "gone") == "number"
    assert read_answers(template, [f"{field_id}=10:00"]) == {field_id: 600.0}
    sheet = pasted_sheet(f"{template.card.field(field_id).label}\n1:30:00\n", DEMO)
    assert Answering(template, sheet, threads_for(sheet.heads, template)).of(sheet.lines[0]).answers == {field_id: 5400.0}
    editor = FieldEditor(template.card.field(field_id), 600.0, (), template)
    qtbot.addWidget(editor)
    told = []
    editor.answered.connect(told.append)
    typed(editor.main, "12:30")
    assert told == [750.0]
    with pytest.raises(AnswerError, match="takes a number"):
        read_answers(put_on_card(countdown(), "c/end")[0], [f"{field_id}=10:00"])


def test_a_timecode_count_takes_timecode_in_its_sentence(qtbot, tmp_path):
    from avlet.desktop.recipe.sentences import Sentence

    session = Session(tmp_path)
    session.open(countdown(style="timecode"), session.book, None, saved=False)
    say = Sentence(session, "time").exact("c/end", "en", "1")
    qtbot.addWidget(say.widget)
    typed(say.widget.findChild(DecimalBox), "00:00:10:00")
    assert session.template.part("c").end == "250"
    assert as_counted("number", Fraction(25), "10:00") is None and as_counted("timecode", Fraction(25), "250") is None


def test_a_length_is_answered_in_seconds_everywhere():
    field = LengthField(id="hold", label="Hold", default=25, low=0, high=500)
    from avlet.document.cards.card import Card, Section

    template = edits.replace(blank(), card=Card(sections=(Section(name="", fields=(field, NumberField(id="n", label="Number"))),)))
    assert read_answers(template, ["hold=2 s", "n=12 %"]) == {"hold": 50, "n": 12.0}
    sheet = pasted_sheet("Hold\n00:00:03:00\n", DEMO)
    assert Answering(template, sheet, threads_for(sheet.heads, template)).of(sheet.lines[0]).answers == {"hold": 75}
    with pytest.raises(AnswerError, match="no timecode"):
        read_answers(template, ["hold=00:00:00:40"])
    with pytest.raises(AnswerError, match="from 0 to 500"):
        read_answers(template, ["hold=1 min"])
