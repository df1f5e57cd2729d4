"""Tables and lists: read as spreadsheets and people keep them, merged, compared, written back."""

import csv
import io
import zipfile

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table as OdsTable
from odf.table import TableCell, TableRow
from odf.text import P
from openpyxl import Workbook

from avlet.document import tables
from avlet.document.fields import CreditsField
from avlet.document.fields.credits import answer_of, blocks_in_file, blocks_of
from avlet.document.lists.blocks import (
    BLOCK_TYPES,
    Block,
    Gap,
    Heading,
    Names,
    PageBreak,
    Pictures,
    Role,
    RuleLine,
    Words,
    found_words,
    lines_of,
    replaced_words,
    shifted,
    turned_into,
    with_words,
    words_in,
)
from avlet.document.lists.listing import blocks_from, changes_between, clipboard_of, csv_of, recognised, with_changes
from avlet.document.parts import PictureFile
from avlet.document.parts.credits import empty_of
from avlet.document.tables import Table, read_table, rows_of
from avlet.errors import AnswerError
from avlet.storage.answer_files import NAMED_FILES

SHEET = (
    ("Section", "Role", "Name"),
    ("Camera", "Focus", "Wren Farrow"),
    ("", "Grip", "Bo Li"),
    ("Sound", "Mixer", "Íris Þórdal"),
    ("camera", "focus", "Ulf Tidd"),
)
MERGED = (
    Heading(text="Camera"), Role(role="Focus", names=("Wren Farrow", "Ulf Tidd")), Role(role="Grip", names=("Bo Li",)),
    Heading(text="Sound"), Role(role="Mixer", names=("Íris Þórdal",)),
)  # fmt: skip


def listed(*rows):
    table = Table(tuple(rows))
    return blocks_from(table, recognised(table))


# As files have them


@pytest.mark.parametrize(
    ("words", "rows"),
    [
        ('a,b\r\n"c,d","e ""f"""\r\n', (("a", "b"), ("c,d", 'e "f"'))),  # section 2, rules 5 to 7
        ('a,"b\r\nc"\r\n', (("a", "b\r\nc"),)),  # rule 6: a line break within quotes
        ("a,b", (("a", "b"),)),  # rule 2: the last record may have no line break
        ("a, b ,\r\n", (("a", " b ", ""),)),  # rule 4: blanks are part of a field
        ("a;b\nc;d\n", (("a", "b"), ("c", "d"))),  # with the sign that spreadsheets use where the comma is a decimal one
        ("a\tb, c\nd\te, f\n", (("a", "b, c"), ("d", "e, f"))),
        ("", ()),
    ],
)
def test_text_tables_are_read_by_rfc_4180(words, rows):
    """RFC 4180, section 2."""
    assert rows_of(words) == rows


def test_a_table_that_is_written_is_read_back_by_another_reader():
    rows = (("a", 'b "c"'), ("d\ne", "f,g"), ("", " h "))
    assert tuple(tuple(r) for r in csv.reader(io.StringIO(tables.as_csv(rows), newline=""))) == rows


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_encodings_are_found(encoding):
    table = read_table("Role,Name\r\nMixer,Zoë Åberg\r\n".encode(encoding), "list.csv")
    assert table.rows[1] == ("Mixer", "Zoë Åberg")
    assert bool(table.remarks) == (encoding == "cp1252"), "only the one that is a guess is told"


def test_spreadsheets_by_openpyxl_are_read_with_what_their_formulas_give(tmp_path):
    book = Workbook()
    sheet = book.active
    for row in SHEET:
        sheet.append(row)
    sheet.append(("Sound", "Takes", 12.0))
    sheet.merge_cells("A2:A3")
    path = tmp_path / "list.xlsx"
    book.save(path)
    assert blocks_in_file(str(path), NAMED_FILES)[:4] == MERGED[:4]
    assert read_table(path.read_bytes(), "list.xlsx").rows[-1] == ("Sound", "Takes", "12"), "whole numbers without decimals"
    # openpyxl writes no values of formulas; spreadsheets do, beside them (ECMA-376, part 1, 18.3.1.40 f and 18.3.1.96 v).
    entries = {n: zipfile.ZipFile(path).read(n) for n in zipfile.ZipFile(path).namelist()}
    name = "xl/worksheets/sheet1.xml"
    entries[name] = entries[name].replace(b'<c r="C6" t="n"><v>12</v></c>', b'<c r="C6" t="str"><f>"Bo "&amp;"Li"</f><v>Bo Li</v></c>')
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w") as archive:
        for entry, data in entries.items():
            archive.writestr(entry, data)
    assert read_table(made.getvalue(), "list.xlsx").rows[-1] == ("Sound", "Takes", "Bo Li")


def test_spreadsheets_by_odfpy_are_read(tmp_path):
    document = OpenDocumentSpreadsheet()
    sheet = OdsTable(name="List")
    for row in SHEET:
        line = TableRow()
        for cell in row:
            made = TableCell(valuetype="string")
            made.addElement(P(text=cell))
            line.addElement(made)
        sheet.addElement(line)
    document.spreadsheet.addElement(sheet)
    path = tmp_path / "list.ods"
    document.save(str(path))
    assert blocks_in_file(str(path), NAMED_FILES) == MERGED


@pytest.mark.parametrize(
    ("data", "name", "says"),
    [
        (b"PK\x03\x04 not really", "list.xlsx", "cannot be read as a spreadsheet"),
        (b"\0\1\2\3" * 50, "list.bin", "is no table"),
        (b"a\0b\xff" * 20, "list.csv", "cannot be read as text"),
        (("Ann Berg\n" * 200_000).encode(), "list.csv", "more than 50,000 rows"),
        (b"x" * 1_100_000, "list.csv", "cannot be read as a table"),
        (b'"' + b"x" * 1_100_000, "list.csv", "cannot be read as a table"),
    ],
)
def test_what_is_no_list_is_said(data, name, says):
    with pytest.raises(AnswerError, match=says):
        read_table(data, name)


def test_a_spreadsheet_with_too_many_rows_is_said(tmp_path):
    book = Workbook(write_only=True)
    sheet = book.create_sheet()
    for _ in range(50_002):
        sheet.append(("Ann",))
    book.save(tmp_path / "long.xlsx")
    with pytest.raises(AnswerError, match="something in A50002, below 50,000 rows and their heads"):
        read_table((tmp_path / "long.xlsx").read_bytes(), "long.xlsx")


# What columns mean


def test_sections_and_roles_that_come_again_are_merged():
    assert listed(*SHEET) == MERGED


@pytest.mark.parametrize(
    ("rows", "blocks"),
    [
        ([("Ann Berg",), ("Bo Li",)], (Names(names=("Ann Berg", "Bo Li")),)),
        ([("Mixer", "Ann Berg"), ("", "Bo Li")], (Role(role="Mixer", names=("Ann Berg", "Bo Li")),)),
        ([("Sound", ""), ("Mixer", "Ann Berg")], (Heading(text="Sound"), Role(role="Mixer", names=("Ann Berg",)))),
        ([("Sound", "Mixer", "Ann Berg")], (Heading(text="Sound"), Role(role="Mixer", names=("Ann Berg",)))),
        ([("Person:", "JOB"), ("Ann Berg", "Mixer")], (Role(role="Mixer", names=("Ann Berg",)),)),
        ([("Character", "Person"), ("The Keeper", "Bo Li")], (Role(role="The Keeper", names=("Bo Li",)),)),
        ([("Role", "Name"), ("Mixer", "")], (Role(role="Mixer", names=("",)),)),
        ([("Role", "Name"), ("Mixer", "Ann\nBo")], (Role(role="Mixer", names=("Ann", "Bo")),)),
        ([], ()),
    ],
)
def test_columns_are_known_by_their_heads_or_their_number(rows, blocks):
    assert listed(*rows) == blocks


def test_blanks_stay_for_proofreading_to_tell():
    assert listed(("Role", "Name"), ("Mixer", "Ann  Berg ")) == (Role(role="Mixer", names=("Ann  Berg ",)),)


def test_what_spreadsheets_put_on_the_clipboard_is_a_list_and_goes_back():
    """Cells parted by tabs, rows by line feeds, quotes round cells with line breaks: common practice, no source."""
    rows = rows_of('Camera\t\nFocus\tWren Farrow\nGrip\t"Bo Li\nUlf Tidd"\n')
    blocks = blocks_from(Table(rows), recognised(Table(rows)))
    assert blocks == (
        Heading(text="Camera"), Role(role="Focus", names=("Wren Farrow",)), Role(role="Grip", names=("Bo Li", "Ulf Tidd")),
    )  # fmt: skip
    again = rows_of(clipboard_of(blocks))
    assert blocks_from(Table(again), recognised(Table(again))) == blocks


# Lists that are written

LINE = st.text(st.characters(blacklist_categories=("Cs", "Cc")), max_size=20)
BLOCKS: st.SearchStrategy[tuple[Block, ...]] = st.lists(
    st.one_of(
        st.builds(Heading, text=LINE), st.builds(Words, text=LINE), st.builds(Role, role=LINE, names=st.lists(LINE, min_size=1, max_size=4).map(tuple)),
        st.builds(Names, names=st.lists(LINE, min_size=1, max_size=4).map(tuple), columns=st.integers(1, 4), filled=st.sampled_from(["down", "across"])),
        st.builds(Gap, height=st.integers(0, 500).map(float)), st.just(PageBreak()), st.just(RuleLine(width=300.0, thickness=2.5)),
        st.just(Pictures(pictures=(PictureFile("mark.svg"),), height=80.0)),
    ),
    max_size=8,
).map(tuple)  # fmt: skip


@given(BLOCKS)
def test_a_list_that_is_written_comes_back(blocks):
    table = Table(rows_of(csv_of(blocks), delimiter=","))
    assert blocks_from(table, recognised(table)) == blocks


@given(BLOCKS, BLOCKS)
def test_all_changes_to_another_list_make_that_list(mine, theirs):
    changes = changes_between(mine, theirs)
    assert with_changes(mine, changes) == theirs and with_changes(mine, []) == mine
    assert not changes_between(theirs, theirs)


def test_one_changed_name_is_one_change_and_what_was_meant_so_is_none():
    mine = (Heading(text="A"), Role(role="x", names=("Ann",), meant=("no role",)), Role(role="y", names=("Bo",)))
    theirs = (Heading(text="A"), Role(role="x", names=("Ann",)), Role(role="y", names=("Bob",)))
    (change,) = changes_between(mine, theirs)
    assert (change.at, change.new) == (2, (theirs[2],))
    assert with_changes(mine, [change])[1].meant == ("no role",)


@pytest.mark.parametrize(
    ("rows", "says"),
    [
        ([("kind", "name"), ("dance", "x")], "Row 2 is of the kind “dance”"),
        ([("kind", "height"), ("gap", "high")], "Row 2 has “high”"),
        ([("kind", "height"), ("gap", "1e9")], "Row 2 has “1e9”"),
        ([("kind", "height"), ("gap", "nan")], "Row 2 has “nan”"),
    ],
)
def test_rows_that_cannot_be_are_said(rows, says):
    with pytest.raises(AnswerError, match=says):
        listed(*rows)


def test_pictures_of_a_list_are_looked_for_beside_it(tmp_path):
    (tmp_path / "mark.png").write_bytes(b"png")
    (tmp_path / "list.csv").write_text("Role,Name,Picture\nMixer,Ann,\n,,mark.png\n,,gone.png\n")

    pictures = [b for b in blocks_in_file(str(tmp_path / "list.csv"), NAMED_FILES) if isinstance(b, Pictures)]
    assert [p.pictures[0] for p in pictures] == [PictureFile("mark.png", b"png"), PictureFile("gone.png", b"")]


# Edits


@given(BLOCKS, st.sets(st.integers(0, 7)), st.sampled_from([-1, 1]))
def test_rows_that_are_moved_keep_their_order_and_all_stay(blocks, places, by):
    places = {p for p in places if p < len(blocks)}
    moved, now = shifted(blocks, places, by)
    assert sorted(map(repr, moved)) == sorted(map(repr, blocks))
    assert [moved[n] for n in now] == [blocks[n] for n in sorted(places)]
    if places and now != sorted(places):
        assert now == [p + by for p in sorted(places)]


@pytest.mark.parametrize("kind", [str(k.__struct_config__.tag) for k in BLOCK_TYPES])
def test_a_block_made_into_another_kind_keeps_its_words(kind):
    made = turned_into(Role(role="Mixer", names=("Ann", "Bo")), kind)
    assert made.kind == kind
    if words_in(made):
        assert all(word in " ".join(words_in(made)) for word in ("Mixer", "Ann", "Bo"))


@given(BLOCKS)
def test_words_go_back_where_they_were(blocks):
    for block in blocks:
        assert with_words(block, words_in(block)) == block


def test_words_are_found_and_replaced():
    blocks = (Heading(text="Wren"), Role(role="x", names=("WREN Farrow", "Bo")))
    assert found_words(blocks, "wren") == [(0, 0), (1, 1)] and found_words(blocks, "") == []
    assert found_words(blocks, "WREN", True) == [(1, 1)]
    assert replaced_words(blocks, "wren", "Íris")[1].names == ("Íris Farrow", "Bo")
    assert replaced_words(blocks, "wren", "Íris", (1, 1))[0].text == "Wren"
    assert replaced_words(blocks, "", "x") == blocks


def test_lines_are_counted_and_a_list_is_emptied_for_the_next_film():
    assert lines_of(MERGED) == 6
    assert empty_of(MERGED)[1] == Role(role="Focus") and empty_of(MERGED)[0] == Heading(text="Camera")


# As an answer


def test_a_list_answers_a_field_from_a_file_and_nothing_else_does(tmp_path):
    field = CreditsField(id="list", label="List")
    (tmp_path / "list.csv").write_bytes(b"Role,Name\nMixer,Ann\n")
    answer = field.read(f"@{tmp_path / 'list.csv'}", (), NAMED_FILES)
    assert not field.fault(answer) and field.value(answer, ()) == (Role(role="Mixer", names=("Ann",)),)
    assert blocks_of(answer_of(MERGED)) == MERGED
    for wrong in ("Ann", 3, [{"block": "dance"}], [{"block": "gap", "height": -1}], [3], {"block": "gap"}):
        assert field.fault(wrong), wrong
    with pytest.raises(AnswerError, match="takes a list file"):
        field.read("@", (), NAMED_FILES)


def test_the_schema_of_a_list_takes_what_the_field_takes():
    import jsonschema

    field = CreditsField(id="list", label="List")
    schema = field.schema(())
    jsonschema.validate(answer_of(MERGED), schema)
    for wrong in ("Ann", [{"block": "gap", "height": -1}]):
        with pytest.raises(jsonschema.ValidationError):
            jsonschema.validate(wrong, schema)


def test_measures_follow_another_frame():
    field = CreditsField(id="list", label="List", default=(Gap(height=90.0), RuleLine(width=400.0, thickness=3.0)))
    assert field.multiplied(0.5).default == (Gap(height=45.0), RuleLine(width=200.0, thickness=1.5))
    assert msgspec.json.decode(msgspec.json.encode(field), type=CreditsField) == field


def test_equal_lists_share_one_answer():
    """A cut of many titles, and all that is kept of it to be undone, holds a list once."""
    from avlet.document.fields.credits import answer_of
    from avlet.document.lists.blocks import Heading, Role

    blocks = (Heading(text="Cast"), Role(role="Ringer", names=("Bo Li",)))
    first = answer_of(blocks)
    again = answer_of((Heading(text="Cast"), Role(role="Ringer", names=("Bo Li",))))
    assert again is first and answer_of(blocks) is first
    other = answer_of((Heading(text="Crew"),))
    assert other is not first and other[0]["text"] == "Crew"
    for number in range(40):
        answer_of((Heading(text=f"Part {number}"),))
    assert answer_of(blocks) == first, "forgotten by then, and the same again"
