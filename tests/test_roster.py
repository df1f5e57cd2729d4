"""Rosters: tables, threads from columns to fields, what lines answer, what files are called, what is said of rows."""

import csv
import io
import json
from pathlib import Path

import msgspec
import pytest
from conftest import DEMO
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from avlet.document.cards.card import Card, Section
from avlet.document.fields import LengthField, NumberField
from avlet.errors import AnswerError
from avlet.layout.other_frame import in_frame
from avlet.roster.answering import EITHER, POINT, Answering, writing_of
from avlet.roster.kinds import KINDS, kind_named, kinds_in
from avlet.roster.looking import look_at
from avlet.roster.names import Names, unlike
from avlet.roster.remembered import Remembered
from avlet.roster.roster import Roster, Wanted, plan_of, read_size, usual_frames, with_wanted
from avlet.roster.sheet import Head, open_sheet, pasted_sheet
from avlet.roster.threads import LENGTH, OUTPUT, Thread, read_threads, threads_for, with_thread
from avlet.storage.package import open_template

GUESTS, STRAP = DEMO / "guests.csv", DEMO / "name-strap.avlet"
replace = msgspec.structs.replace


def sheet_of(words: str, folder: Path = Path()):
    return pasted_sheet(words, folder)


def asked(name_strap, *fields):
    """The name strap with further fields."""
    section = Section("More", tuple(fields))
    return replace(name_strap, card=Card(sections=(*name_strap.card.sections, section)))


# Tables


def test_the_same_table_from_every_kind_of_file(tmp_path):
    """RFC 4180 through the csv module, XLSX by openpyxl, ODS by odfpy: the same lines."""
    from odf.opendocument import OpenDocumentSpreadsheet
    from odf.table import Table, TableCell, TableRow
    from odf.text import P

    rows = [("Name", "Role (cy)", "Film"), ("Odalys, “O”", "Ecolegydd\ny morfa", "12"), ("", "", ""), ("渡辺 汐", "x;y", "13")]
    out = io.StringIO(newline="")
    csv.writer(out).writerows(rows)
    (tmp_path / "a.csv").write_bytes(out.getvalue().encode("utf-8-sig"))
    (tmp_path / "b.csv").write_bytes(out.getvalue().encode("utf-16"))
    out = io.StringIO(newline="")
    csv.writer(out, delimiter="\t").writerows(rows)
    (tmp_path / "c.tsv").write_text(out.getvalue(), "utf-8", newline="")
    book = Workbook()
    for name, film in zip(rows, ("Film", 12, None, 13.0), strict=True):
        book.active.append([*(cell or None for cell in name[:2]), film])
    book.save(tmp_path / "d.xlsx")
    document = OpenDocumentSpreadsheet()
    table = Table(name="Guests")
    for row in rows:
        line = TableRow()
        for cell in row:
            held = TableCell(valuetype="string")
            for part in cell.split("\n"):
                held.addElement(P(text=part))
            line.addElement(held)
        table.addElement(line)
    document.spreadsheet.addElement(table)
    document.save(str(tmp_path / "e.ods"))
    found = [open_sheet(path) for path in sorted(tmp_path.iterdir())]
    for sheet in found:
        assert [head.words for head in sheet.heads] == list(rows[0]), sheet.name
        assert [(line.number, line.cells) for line in sheet.lines] == [(1, rows[1]), (3, rows[3])], sheet.name
    assert [sheet.kept_as for sheet in found[:3]] == [
        "UTF-8, commas between cells",
        "UTF-16, commas between cells",
        "UTF-8, tabs between cells",
    ]


def test_the_demo_as_csv_and_as_xlsx_is_the_same():
    one, other = open_sheet(GUESTS), open_sheet(DEMO / "guests.xlsx")
    assert one.heads == other.heads and one.lines == other.lines and len(one.lines) == 24


@pytest.mark.parametrize(
    ("words", "said"),
    [("", "no rows below"), ("Name\n", "no rows below"), ("\n\n , \n", "no rows below"), ("Name,Role\n,\n", "no rows below")],
)
def test_tables_without_rows(words, said):
    with pytest.raises(AnswerError, match=said):
        sheet_of(words)


def test_odd_heads_and_ragged_rows_are_said():
    sheet = sheet_of("Name,name,,Role\nBo,x,y\nIda,a,b,c,beyond\n\nTom,,,,,\n")
    assert [head.words for head in sheet.heads] == ["Name", "name 2", "Column 3", "Role"]
    assert [line.cells for line in sheet.lines] == [("Bo", "x", "y", ""), ("Ida", "a", "b", "c"), ("Tom", "", "", "")]
    assert [line.number for line in sheet.lines] == [1, 2, 4]
    assert any("Row 2 has cells without a head" in words for words in sheet.remarks)
    assert any("“name”" in words and "“name 2”" in words for words in sheet.remarks)


def test_heads_that_take_each_others_names():
    assert [h.words for h in sheet_of("A,A 2,A,A\n1,2,3,4").heads] == ["A", "A 2", "A 3", "A 4"]


def test_formulas_that_were_not_worked_out_are_said():
    assert any("Row 1, Sum" in words for words in sheet_of("Name,Sum\nBo,=A2+B2\n").remarks)
    assert not any("formula" in words for words in sheet_of("Name,Sum\n=) hello,= 4\n").remarks)


def test_a_hundred_thousand_rows_are_refused_with_the_number(tmp_path):
    (tmp_path / "long.csv").write_text("Name\n" + "Bo\n" * 100_000)
    with pytest.raises(AnswerError, match="more than 50,000 rows"):
        open_sheet(tmp_path / "long.csv")


def test_other_encodings_are_said(tmp_path):
    (tmp_path / "old.csv").write_bytes("Name;Role\nÍris;Öster\n".encode("cp1252"))
    sheet = open_sheet(tmp_path / "old.csv")
    assert sheet.lines[0].cells == ("Íris", "Öster") and "semicolons" in sheet.kept_as and "Windows-1252" in sheet.remarks[0]


def test_a_changed_cell_and_the_table_written_again(tmp_path):
    sheet = sheet_of('Name,Role\nBo,"a, ""b"""\n\nIda,c\n').with_cell(1, 1, "d\ne")
    (tmp_path / "again.csv").write_bytes(sheet.as_csv())
    again = open_sheet(tmp_path / "again.csv")
    assert again.lines == sheet.lines and again.heads == sheet.heads and again.lines[1].number == 3
    with (tmp_path / "again.csv").open(newline="") as file:
        assert list(csv.reader(file))[3] == ["Ida", "d\ne"]


@pytest.mark.parametrize(
    ("words", "name", "language"),
    [("Role (cy)", "Role", "cy"), ("Job [EN]", "Job", "en"), ("Role (pt-BR)", "Role", "pt_BR"), ("Role (old)", "Role (old)", ""),
     ("(cy)", "(cy)", ""), ("Role(de)", "Role", "de"), ("Role (12)", "Role (12)", "")],
)  # fmt: skip
def test_languages_of_heads(words, name, language):
    head = Head.read(words)
    assert (head.name, head.language.lower()) == (name, language.lower())


# Threads


def test_threads_by_id_label_and_likeness(name_strap):
    sheet = sheet_of("bar-colour,NAME,Rôle,Cornres,Length,Written as,Notes,Role (cy)\n1,2,3,4,5,6,7,8\n")
    found = {sheet.heads[t.column].words: t.target for t in threads_for(sheet.heads, name_strap)}
    assert found == {
        "bar-colour": "bar-colour",
        "NAME": "name",
        "Cornres": "corners",
        "Length": LENGTH,
        "Written as": OUTPUT,
        "Role (cy)": "role",
    }
    assert threads_for([Head.read("Name"), Head.read("name")], name_strap) == (Thread(0, "name"),)


def test_the_likest_name_wins(name_strap):
    heads = [Head.read("Namen"), Head.read("Name")]
    assert threads_for(heads, name_strap) == (Thread(1, "name"),)


def test_heads_that_mean_the_same_lead_there(name_strap):
    """*Guest, Job, Bar* find *Name, Role, Bar colour*; a better head takes a target before one that only means it."""
    heads = [Head.read(words) for words in ("Guest", "Job", "Bar", "Town")]
    assert [t.target for t in threads_for(heads, name_strap)] == ["name", "role", "bar-colour"]
    heads = [Head.read(words) for words in ("Speaker", "Name", "Job title", "Role")]
    assert threads_for(heads, name_strap) == (Thread(1, "name"), Thread(3, "role"))
    assert threads_for([Head.read("Colour"), Head.read("Bar Colour")], name_strap) == (Thread(1, "bar-colour"),), (
        "the label itself is better"
    )
    assert threads_for([Head.read(""), Head.read("Notes"), Head.read("Barge")], name_strap) == ()


def test_threads_drawn_by_hand_are_remembered(name_strap, tmp_path):
    """For the same heads in the same order, whatever their case; the latest counts; a card without such fields has none of it."""
    heads, other = [Head.read(w) for w in ("A", "B", "C (cy)")], [Head.read(w) for w in ("B", "A", "C (cy)")]
    known = Remembered(tmp_path)
    assert known.threads(heads, name_strap) is None
    known.keep(heads, (Thread(0, "name"),))
    known.keep(heads, (Thread(0, "name"), Thread(2, "role")))
    again = Remembered(tmp_path)
    assert again.threads([Head.read(w) for w in ("a", "b ", "c (cy)")], name_strap) == (Thread(0, "name"), Thread(2, "role"))
    assert again.threads(other, name_strap) is None and again.threads(heads[:2], name_strap) is None
    again.keep(heads, (Thread(1, "nobody"),))
    assert again.threads(heads, name_strap) == (Thread(0, "name"), Thread(2, "role")), "another card's threads are not in the way"
    again.keep(heads, ())
    assert Remembered(tmp_path).threads(heads, name_strap) == (Thread(0, "name"), Thread(2, "role"))
    for n in range(150):
        again.keep([Head.read(f"H{n}")], (Thread(0, "name"),))
    assert len(json.loads((tmp_path / "threads.json").read_text())) == 100
    assert again.threads([Head.read("H149")], name_strap) and not again.threads([Head.read("H3")], name_strap)
    for damaged in (b"{", b"[1]", b'[{"heads":["a"],"targets":[]}]', b"\x00" * 50):
        (tmp_path / "threads.json").write_bytes(damaged)
        assert Remembered(tmp_path).threads([Head.read("a")], name_strap) is None
    (tmp_path / "threads.json").unlink(missing_ok=True)
    (tmp_path / "threads.json").mkdir()
    Remembered(tmp_path).keep(heads, (Thread(0, "name"),))  # no file can be written there: it is remembered until Avlet ends


def test_a_field_called_length_comes_before_the_titles_own(name_strap):
    template = asked(name_strap, LengthField(id="stay", label="Length"))
    assert threads_for([Head.read("Length")], template) == (Thread(0, "stay"),)


def test_threads_are_redrawn(name_strap):
    heads = [Head.read(words) for words in ("Person", "Name", "Role (en)", "Role (cy)")]
    threads = threads_for(heads, name_strap)
    changed = with_thread(threads, heads, 0, "name")
    assert changed == (Thread(0, "name"), Thread(2, "role"), Thread(3, "role")), "one column a field and language"
    assert with_thread(changed, heads, 3, None) == (Thread(0, "name"), Thread(2, "role"))
    assert with_thread(changed, heads, 2, "name") == (Thread(0, "name"), Thread(2, "name"), Thread(3, "role")), "another language stays"


def test_threads_on_the_command_line(name_strap):
    sheet = sheet_of("Human,Task,Name\na,b,c\n")
    found = read_threads(sheet, name_strap, ["Human=name", "task=Role"])
    assert found == (Thread(0, "name"), Thread(1, "role"))
    assert read_threads(sheet, name_strap, ["Name="]) == ()
    for words, said in (["Human"], "not COLUMN=FIELD"), (["Nobody=name"], "no column “Nobody”"), (["Task=job"], "no field"), (
        ["Human=name", "Task=name"], "cannot lead to one field"):  # fmt: skip
        with pytest.raises(AnswerError, match=said):
            read_threads(sheet, name_strap, words)
    assert read_threads(sheet_of("Secs\n5\n"), name_strap, ["Secs=length"]) == (Thread(0, LENGTH),)


# Answers


def answered(template, words, line=0, language="", empty=False, folder=Path()):
    sheet = sheet_of(words, folder)
    return Answering(template, sheet, threads_for(sheet.heads, template), empty).of(sheet.lines[line], language)


def test_cells_are_answers(name_strap):
    found = answered(name_strap, "Name,Role line,Corners,Bar colour\nBo Li,Nein,12.5,#2f6a78\n")
    assert found.answers == {"name": "Bo Li", "role-line": False, "corners": 12.5, "bar-colour": "#2f6a78"} and not found.faults


def test_an_empty_cell_is_the_designed_answer_or_an_empty_text(name_strap):
    table = "Name,Role,Corners\nBo,,\n"
    assert answered(name_strap, table).answers == {"name": "Bo"}
    assert answered(name_strap, table, empty=True).answers == {"name": "Bo", "role": ""}


def test_languages_have_columns_of_their_own(name_strap):
    table = "Name,Role (en),Role (cy)\nBo,Ringer,Modrwywr\nIda,Keeper,\n"
    assert answered(name_strap, table, 0, "cy").answers == {"name": "Bo", "role": "Modrwywr"}
    assert answered(name_strap, table, 0, "en").answers == {"name": "Bo", "role": "Ringer"}
    assert answered(name_strap, table, 1, "cy").answers == {"name": "Ida"}, "what is not written is as designed, not in another language"
    mixed = "Name,Name (cy),Role (en)\nBo,Bo Cymro,Ringer\n"
    assert answered(name_strap, mixed, 0, "en").answers == {"name": "Bo", "role": "Ringer"}
    assert answered(name_strap, mixed, 0, "cy").answers == {"name": "Bo Cymro", "role": "Ringer"}


@pytest.mark.parametrize(
    ("cells", "value"),
    [(["1.284,5", "1.284"], [1284.5, 1284.0]), (["1,284.5", "1,284"], [1284.5, 1284.0]), (["1.284"], [1.284]), (["1,284"], [1284.0])],
)
def test_numbers_in_the_tables_own_writing(name_strap, cells, value):
    template = asked(name_strap, NumberField(id="area", label="Area"))
    sheet = sheet_of("Area\tName\n" + "".join(f"{cell}\tx\n" for cell in cells))
    reading = Answering(template, sheet, threads_for(sheet.heads, template))
    assert [reading.of(line).answers["area"] for line in sheet.lines] == value


def test_numbers_written_both_ways_are_not_guessed(name_strap):
    template = asked(name_strap, NumberField(id="area", label="Area"))
    sheet = sheet_of("Area\tName\n1.284,5\tx\n1,284.5\ty\n1.284\tz\n7\tw\n")
    assert writing_of(sheet, [0]) == EITHER and writing_of(sheet, [1]) == POINT
    reading = Answering(template, sheet, threads_for(sheet.heads, template))
    assert "may be" in reading.of(sheet.lines[2]).faults[0].words and reading.of(sheet.lines[3]).answers["area"] == 7.0


@pytest.mark.parametrize(
    ("cell", "frames"),
    [
        ("125", 125),
        ("5 s", 125),
        ("5s", 125),
        ("2.5 sec", 62),
        ("00:00:05:10", 135),
        ("150 frames", 150),
        ("1", 1),
        ("00:01:00:00", 1500),
        ("00:00:05", 125),
    ],
)
def test_lengths(name_strap, cell, frames):
    assert answered(name_strap, f"Name\tLength\nBo\t{cell}\n").length == frames


@pytest.mark.parametrize("cell", ["0", "-5", "soon", "1.5", "00:00:00:25", "99999999", "5 m", "nan", "1e3", "0 s"])
def test_what_is_no_length(name_strap, cell):
    found = answered(name_strap, f"Name\tLength\nBo\t{cell}\n")
    assert found.length is None and len(found.faults) == 1 and found.faults[0].column == 1


def test_pictures_and_lists_beside_the_table(tmp_path, avlet):
    roll = open_template(DEMO / "end-roll.avlet").template
    field = next(f for f in roll.card.fields if f.kind == "list")
    (tmp_path / "crew.csv").write_text("Role,Name\nRinger,Bo Li\n")
    found = answered(roll, f"{field.label}\ncrew.csv\nnone.csv\n", folder=tmp_path)
    assert not found.faults and "Bo Li" in json.dumps(found.answers[field.id])
    missing = answered(roll, f"{field.label}\ncrew.csv\nnone.csv\n", 1, folder=tmp_path)
    assert "none.csv" in missing.faults[0].words


def test_kinds_in_a_cell(name_strap):
    assert [kind.id for kind in kinds_in("Still; ProRes + mp4 and still")] == ["still", "prores", "over"]
    assert {kind_named(kind.words) for kind in KINDS} == set(KINDS)
    for words in ("gif", ",;", " "):
        with pytest.raises(AnswerError, match="kind of file"):
            kinds_in(words)
    assert [k.id for k in answered(name_strap, "Name,Written as\nBo,webm\n").kinds] == ["webm"]


# Names


def names(words, pattern):
    sheet = sheet_of(words)
    made = Names(sheet, pattern)
    return [made.of(line) for line in sheet.lines]


def test_file_names_are_safe_in_any_script():
    people = "Name\nBo Li\nÍris Þórdal\nياسمين الحداد\n渡辺 汐\n../../etc/passwd\nCON\n🌊\n" + "x" * 400 + "\n"
    made = names(people, "{Name}")
    assert made[:2] == ["bo-li", "iris-thordal"] and made[4] == "etc-passwd" and made[6] == "row-07"
    assert all(name.isascii() and not set(name) - set("abcdefghijklmnopqrstuvwxyz0123456789-") and 0 < len(name) < 200 for name in made)
    assert made[5] != "con"
    assert names("Name\nBo\n", "{row}-{Name}") == ["01-bo"]
    assert names("Name\n" + "Bo\n" * 100, "{ROW}")[-1] == "100"


@pytest.mark.parametrize(
    ("pattern", "said"), [("{Who}", "no column “Who”"), ("{row", "bracket"), ("a}b", "bracket"), ("{row}-{}", "no column")]
)
def test_patterns_that_are_none(pattern, said):
    with pytest.raises(AnswerError, match=said):
        names("Name\nBo\n", pattern)


@given(st.lists(st.sampled_from(["a", "a-2", "b", "a-3"]), max_size=12))
def test_names_are_unlike_each_other(given_names):
    made, changed = unlike(given_names)
    assert len(set(made)) == len(made) == len(given_names)
    assert [made[n] for n in range(len(made)) if n not in dict(changed)] == [
        given_names[n] for n in range(len(made)) if n not in dict(changed)
    ]
    assert all(given_names[place] != made[place] for place, _ in changed)


# Plans


def test_a_plan_has_a_file_for_each_kind_frame_and_language(name_strap):
    sheet = open_sheet(GUESTS)
    roster = Roster.of(sheet, name_strap, Wanted(kinds=(KINDS[0], KINDS[1]), frames=((1920, 1080), (1080, 1920)), languages=("en", "cy")))
    plan = plan_of(roster, name_strap)
    assert len(plan.items) == 23 * 8 and list(plan.faulty) == [6] and "#teal" in plan.faulty[6]
    first = [item.name for item in plan.items if item.line == 0]
    assert first[:2] == ["01-bo-li-1920x1080-en.mov", "01-bo-li-1920x1080-en-png.mov"] and "01-bo-li-1080x1920-cy.mov" in first
    assert len({item.name for item in plan.items}) == len(plan.items)
    assert plan.answered(0, "cy").answers["role"] == "Modrwywr adar"


def test_a_row_may_want_another_kind(name_strap):
    plan = plan_of(Roster.of(sheet_of("Name,Output\nBo,still\nIda,\n"), name_strap), name_strap)
    assert [item.name for item in plan.items] == ["01-bo.png", "02-ida.mov"]


def test_names_that_meet_are_said(name_strap):
    roster = with_wanted(Roster.of(sheet_of('Name\nBo Li\nbo-li\n"Bo, Li!"\nBo_Li\nBO LI\n'), name_strap), pattern="{Name}")
    plan = plan_of(roster, name_strap)
    assert [item.name for item in plan.items] == ["bo-li.mov", "bo-li-2.mov", "bo-li-3.mov", "bo-li-4.mov", "bo-li-5.mov"]
    assert "Rows 1 and 2 make the same file name, “bo-li”; row 2 is “bo-li-2”." in plan.remarks and any("4 rows" in w for w in plan.remarks)


def test_plans_that_cannot_be(name_strap):
    with pytest.raises(AnswerError, match="leads to a field of Name strap"):
        plan_of(Roster.of(sheet_of("Xyz\nBo\n"), name_strap), name_strap)
    with pytest.raises(AnswerError, match="in “de”"):
        plan_of(Roster.of(open_sheet(GUESTS), name_strap, Wanted(languages=("de",))), name_strap)
    with pytest.raises(AnswerError, match="frame of 4×4"):
        in_frame(name_strap, (4, 4))
    with pytest.raises(AnswerError, match="px in all"):
        in_frame(name_strap, (16_000, 16_000))
    for words in ("wide", "1080", "1x1", "99999999x2"):
        with pytest.raises(AnswerError, match="no frame size"):
            read_size(words)


def test_frames_scale_or_replace(name_strap):
    small = in_frame(name_strap, (960, 540))
    assert (small.part("name").size, in_frame(name_strap, (1080, 1920)).part("name").size) == (
        name_strap.part("name").size / 2,
        name_strap.part("name").size,
    )
    assert in_frame(name_strap, (1920, 1080)) is name_strap
    assert list(usual_frames(name_strap)) == [(1920, 1080), (1080, 1920), (1080, 1080), (1080, 1350)]


# What is said


def test_what_is_said_of_rows(name_strap, book):
    opened = open_template(STRAP)
    plan = plan_of(Roster.of(open_sheet(GUESTS), opened.template), opened.template)
    said = [look_at(plan, opened.book, line) for line in range(24)]
    assert [line + 1 for line, one in enumerate(said) if one.verdict != "holds"] == [7]
    assert said[6].verdict == "cannot be rendered" and said[6].words == ("“Bar colour” takes a colour such as #20435C, not “#teal”.",)
    narrow = plan_of(with_wanted(plan.roster, frames=((1920, 1080), (1080, 1080)), languages=("en", "cy")), opened.template)
    assert look_at(narrow, opened.book, 3).verdict == "breaks"
    words = look_at(narrow, opened.book, 3).words
    assert all(one.startswith("1080×1080") for one in words) and any(" en: " in one for one in words)


def test_roster_check_on_the_command_line(avlet, tmp_path):
    status, out, _ = avlet("roster", "check", STRAP, GUESTS)
    assert status == 1 and "Row 7, Nkechi Arundel: cannot be rendered." in out and "24 rows · 23 hold · 1 cannot be rendered" in out
    status, out, _ = avlet("roster", "check", STRAP, GUESTS, "--json", "--map", "Bar colour=", "--language", "CY")
    found = json.loads(out)
    assert status == 0 and found["unused"] == ["Bar colour", "Film no.", "Notes"] and len(found["rows"]) == 24
    (tmp_path / "few.csv").write_text("Name\nBo Li\n")
    broken = DEMO / "broken-strap.avlet"
    status, out, _ = avlet("roster", "check", broken, tmp_path / "few.csv", "--whole")
    assert status == 1 and "first frame" in out
    assert "first frame" not in avlet("roster", "check", broken, tmp_path / "few.csv")[1], "which does not show at rest"
    for words, said in (["--map", "x=name"], "no column “x”"), (["--frame", "2"], "no frame size"), (["--language", "de"], "in “de”"):
        status, _, err = avlet("roster", "check", STRAP, GUESTS, *words)
        assert status == 2 and said in err
