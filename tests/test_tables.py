"""Tables read as what they hold: far cells, odd cells and numbers, against openpyxl and odfpy; what is too much is said with its cell."""

import datetime
import io
import random
import resource
import string
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table as OdsTable
from odf.table import TableCell, TableRow
from odf.text import P
from openpyxl import Workbook
from openpyxl.utils import get_column_letter

from avlet.document.tables import read_table, rows_of
from avlet.document.tables.table import cell_name
from avlet.document.tables.written_cells import duration_words, number_words, shown_as
from avlet.errors import AnswerError, AvletError, StorageError
from avlet.storage.bounded import bounded
from avlet.storage.table_files import table_in

SHEET = "xl/worksheets/sheet1.xml"
MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
PACKAGE = "http://schemas.openxmlformats.org/package/2006/relationships"


def saved(book):
    made = io.BytesIO()
    book.save(made)
    return made.getvalue()


def xlsx(rows, **others):
    """A spreadsheet as small as it may be, with rows of a sheet as its XML has them, and other files."""
    parts = {
        "_rels/.rels": f'<Relationships xmlns="{PACKAGE}"><Relationship Id="r1" Type="{OFFICE}/officeDocument" Target="xl/workbook.xml"/></Relationships>',
        "xl/workbook.xml": f'<workbook xmlns="{MAIN}" xmlns:r="{OFFICE}"><sheets><sheet name="S" sheetId="1" r:id="r1"/></sheets></workbook>',
        "xl/_rels/workbook.xml.rels": f'<Relationships xmlns="{PACKAGE}"><Relationship Id="r1" Type="{OFFICE}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
        SHEET: f'<worksheet xmlns="{MAIN}"><sheetData>{rows}</sheetData></worksheet>',
        **others,
    }
    return zipped(parts)


def ods(tables, manifest=""):
    head = (
        '<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" '
        'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" '
        'xmlns:calcext="urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0"><office:body><office:spreadsheet>'
    )
    parts = {"content.xml": f"{head}{tables}</office:spreadsheet></office:body></office:document-content>"}
    return zipped({**parts, **({"META-INF/manifest.xml": manifest} if manifest else {})})


def zipped(parts):
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, words in parts.items():
            archive.writestr(name, words)
    return made.getvalue()


def changed(data, name, old, new):
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        parts = {entry: archive.read(entry) for entry in archive.namelist()}
    assert old in parts[name]
    return zipped({**parts, name: parts[name].replace(old, new)})


# Against what wrote them

WORDS = st.text(st.characters(exclude_categories=("Cs", "Cc")), max_size=12)
VALUES = st.one_of(WORDS.filter(lambda w: not w.startswith("=")), st.integers(-(10**12), 10**12), st.booleans(), st.none())
GRIDS = st.lists(st.lists(VALUES, min_size=1, max_size=5), min_size=1, max_size=6)


def written(value):
    return "" if value is None else {True: "yes", False: "no"}[value] if isinstance(value, bool) else str(value)


def without_edges(grid):
    """What is left of a grid of words without empty rows and columns round it, and without empty cells at the ends of rows."""
    full = [[cell if cell.strip() else "" for cell in row] for row in grid]
    used = [n for n, row in enumerate(full) if any(row)]
    if not used:
        return ()
    left = min(n for row in full for n, cell in enumerate(row) if cell)
    rows = full[used[0] : used[-1] + 1]
    return tuple(tuple(row[left : max((n + 1 for n, cell in enumerate(row) if cell), default=left)]) for row in rows)


@given(GRIDS)
def test_what_openpyxl_writes_is_read_cell_by_cell(grid):
    book = Workbook()
    for row in grid:
        book.active.append(row)
    assert read_table(saved(book), "a.xlsx").rows == without_edges([[written(v) for v in row] for row in grid])


@given(st.lists(st.lists(st.text(string.ascii_letters + "ü渡ي&<", max_size=5), min_size=1, max_size=4), min_size=1, max_size=5))
def test_what_odfpy_writes_is_read_cell_by_cell(grid):
    document, sheet = OpenDocumentSpreadsheet(), OdsTable(name="S")
    for row in grid:
        line = TableRow()
        for words in row:
            cell = TableCell(valuetype="string")
            cell.addElement(P(text=words))
            line.addElement(cell)
        sheet.addElement(line)
    document.spreadsheet.addElement(sheet)
    assert read_table(saved_by(document), "a.ods").rows == without_edges(grid)


def saved_by(document):
    made = io.BytesIO()
    document.write(made)
    return made.getvalue()


@given(st.integers(0, 20_000), st.integers(0, 16_383))
def test_cells_are_named_as_openpyxl_names_them(row, column):
    assert cell_name(row, column) == f"{get_column_letter(column + 1)}{row + 1}"


MOMENTS = st.datetimes(datetime.datetime(1900, 3, 1), datetime.datetime(2200, 1, 1)).map(lambda m: m.replace(microsecond=0))


@given(MOMENTS, st.timedeltas(datetime.timedelta(0), datetime.timedelta(days=40)), st.booleans())
def test_days_times_and_durations_are_those_that_openpyxl_wrote(moment, duration, since_1904):
    from openpyxl.utils.datetime import CALENDAR_MAC_1904

    if since_1904 and moment.year < 1905:
        return
    duration = datetime.timedelta(seconds=round(duration.total_seconds()))
    book = Workbook()
    if since_1904:
        book.epoch = CALENDAR_MAC_1904
    book.active.append(("x", moment, moment.date(), moment.time(), duration))
    words = read_table(saved(book), "a.xlsx").rows[0]
    hours, rest = divmod(int(duration.total_seconds()), 3600)
    assert words == (
        "x",
        moment.isoformat(),
        moment.date().isoformat(),
        moment.time().isoformat(),
        f"{hours:02}:{rest // 60:02}:{rest % 60:02}",
    )


def test_the_first_days_of_1900_are_counted_as_the_standard_says():
    # ECMA-376 part 1, 18.17.4.1: serial 1 is 1 January 1900, 59 is 28 February, 61 is 1 March.
    styles = f'<styleSheet xmlns="{MAIN}"><cellXfs><xf numFmtId="0"/><xf numFmtId="14"/></cellXfs></styleSheet>'
    rows = "".join(f'<row><c s="1"><v>{n}</v></c></row>' for n in (1, 59, 61, 43831, -5, 3_000_000))
    relations = (
        f'<Relationships xmlns="{PACKAGE}"><Relationship Id="r1" Type="{OFFICE}/worksheet" Target="worksheets/sheet1.xml"/>'
        f'<Relationship Id="r2" Type="{OFFICE}/styles" Target="/xl/styles.xml"/></Relationships>'
    )
    table = read_table(xlsx(rows, **{"xl/styles.xml": styles, "xl/_rels/workbook.xml.rels": relations}), "a.xlsx")
    assert [row[0] for row in table.rows] == ["1900-01-01", "1900-02-28", "1900-03-01", "2020-01-01", "-5", "3000000"]


@pytest.mark.parametrize(
    ("code", "shown"),
    [
        ("General", ""), ("0.00", ""), ("yyyy-mm-dd", "day"), ("d. mmm", "day"), ("hh:mm", "time"), ("mm:ss", "time"), ("[h]:mm:ss", "duration"), ("[mm]:ss", "duration"),
        ('"day" 0', ""), ("0\\d", ""), ("[Red]0;[Blue]yyyy", ""), ("[$-409]d/m/yy h:mm", "moment"), ("#,##0_d", ""), ("mmm yy", "day"), ("@", ""),
    ],
)  # fmt: skip
def test_number_formats_tell_what_a_number_is(code, shown):
    assert shown_as(code) == shown


@pytest.mark.parametrize(
    ("number", "words"),
    [(1e20, "100000000000000000000"), (0.1 + 0.2, "0.3"), (12.0, "12"), (-0.5, "-0.5"), (1.5e-7, "0.00000015"), (1e15, "1000000000000000"), (float("nan"), ""), (float("inf"), "")],
)  # fmt: skip
def test_numbers_are_written_without_exponents(number, words):
    assert number_words(number) == words


def test_durations_count_hours_beyond_a_day():
    assert duration_words(93_784.5) == "26:03:04.500" and duration_words(-60) == "-00:01:00" and duration_words(-0.0001) == "00:00:00"


# Odd cells


def test_errors_and_formulas_without_a_result_are_empty_and_said_once_with_their_first_cell():
    rows = '<row r="1"><c r="A1" t="inlineStr"><is><t>Name</t></is></c></row><row r="2"><c r="A2" t="e"><v>#N/A</v></c><c r="B2"><f>1+1</f></c><c r="C2"><v>3</v></c></row>'
    rows += '<row r="3"><c r="B3"><f>A1</f></c><c r="C3" t="str"><f>""</f><v></v></c></row>'
    table = read_table(xlsx(rows), "a.xlsx")
    assert table.rows == (("Name",), ("", "", "3"))
    assert [r.split(" there is")[0].split(" the spread")[0] for r in table.remarks] == ["In A2", "In B2 and 1 more"]
    assert "error" in table.remarks[0] and "formula without a kept result" in table.remarks[1]


def test_ods_cells_of_every_kind():
    cells = [
        ('office:value-type="float" office:value="1e20"', "<text:p>1E+20</text:p>", "100000000000000000000"),
        ('office:value-type="percentage" office:value="0.125"', "<text:p>12.5 %</text:p>", "0.125"),
        ('office:value-type="date" office:date-value="2026-11-30"', "<text:p>30.11.</text:p>", "2026-11-30"),
        ('office:value-type="time" office:time-value="PT26H03M04S"', "<text:p>2:03</text:p>", "26:03:04"),
        ('office:value-type="boolean" office:boolean-value="true"', "<text:p>WAHR</text:p>", "yes"),
        ('office:value-type="string"', "<text:p>a<text:s text:c='3'/>b<text:tab/>c</text:p><text:p>d<text:line-break/>e</text:p>", "a   b\tc\nd\ne"),
        ('office:value-type="string"', "<office:annotation><text:p>a note</text:p></office:annotation><text:p><text:span>Bo</text:span> Li</text:p>", "Bo Li"),
        ('office:value-type="string" office:string-value="kept"', "", "kept"),
        ('office:value-type="string" calcext:value-type="error"', "<text:p>#N/A</text:p>", ""),
        ('table:formula="of:=1+1"', "", ""),
        ('office:value-type="float" office:value="nonsense"', "<text:p>shown</text:p>", "shown"),
        ('office:value-type="string"', "<text:p>end</text:p>", "end"),
    ]  # fmt: skip
    row = "".join(f"<table:table-cell {given}>{inside}</table:table-cell>" for given, inside, _ in cells)
    table = read_table(ods(f'<table:table table:name="S"><table:table-row>{row}</table:table-row></table:table>'), "a.ods")
    assert table.rows == (tuple(words for _, _, words in cells),)
    assert [remark.split(" the")[0].split(" there")[0] for remark in table.remarks] == ["In I1", "In J1"]


def test_cells_and_rows_that_an_ods_repeats_stand_as_often_and_empty_ones_take_no_room():
    cell = '<table:table-cell office:value-type="string" table:number-columns-repeated="{}"><text:p>{}</text:p></table:table-cell>'
    far = '<table:table-cell table:number-columns-repeated="16381"/>'
    rows = f'<table:table-row table:number-rows-repeated="3">{cell.format(2, "a")}{far}</table:table-row>'
    rows += f'<table:table-row table:number-rows-repeated="1048570">{far}</table:table-row><table:table-row>{far}</table:table-row>'
    assert read_table(ods(f"<table:table>{rows}</table:table>"), "a.ods").rows == (("a", "a"),) * 3


def test_the_first_sheet_that_holds_something_is_read_and_hidden_ones_last():
    book = Workbook()
    book.active.append(("hidden",))
    book.active.sheet_state = "hidden"
    book.create_sheet("Empty")
    book.create_sheet("Guests").append(("Bo Li",))
    table = read_table(saved(book), "a.xlsx")
    assert (
        table.rows == (("Bo Li",),)
        and table.kept_as == "sheet Guests"
        and "Of 3 sheets" in table.remarks[0]
        and "“Guests”" in table.remarks[0]
    )


def test_signs_that_xml_cannot_hold_and_spoken_forms():
    strings = f'<sst xmlns="{MAIN}"><si><t>a_x0009_b_x005F_c</t></si><si><r><t>渡</t></r><r><t>辺</t></r><rPh sb="0" eb="1"><t>わたなべ</t></rPh></si></sst>'
    relations = (
        f'<Relationships xmlns="{PACKAGE}"><Relationship Id="r1" Type="{OFFICE}/worksheet" Target="worksheets/sheet1.xml"/>'
        f'<Relationship Id="r2" Type="{OFFICE}/sharedStrings" Target="sharedStrings.xml"/></Relationships>'
    )
    rows = '<row><c t="s"><v>0</v></c><c t="s"><v>1</v></c><c t="s"><v>9</v></c><c t="inlineStr"><is><t>x</t><rPh><t>y</t></rPh></is></c></row>'
    table = read_table(xlsx(rows, **{"xl/sharedStrings.xml": strings, "xl/_rels/workbook.xml.rels": relations}), "a.xlsx")
    assert table.rows == (("a\tb_c", "渡辺", "", "x"),)


# Too much of anything, said with the cell that did it


def test_a_stray_far_cell_is_named_and_takes_no_memory():
    book = Workbook()
    book.active["A1"] = "Name"
    book.active["XFD1048576"] = "x"
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    for read in (read_table, table_in):
        with pytest.raises(AnswerError, match="something in XFD1048576, below 50,000 rows"):
            read(saved(book), "a.xlsx")
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 60_000, "KB"


def test_a_table_of_two_far_cells_within_the_limits_is_read():
    book = Workbook()
    book.active["A1"], book.active["ALL49000"] = "Name", "x"
    table = table_in(saved(book), "a.xlsx")
    assert len(table.rows) == 49_000 and table.rows[0] == ("Name",) and len(table.rows[-1]) == 1000 and sum(map(len, table.rows)) == 1001


def test_an_empty_cell_far_away_is_none():
    rows = '<row r="1"><c r="A1"><v>1</v></c></row><row r="1048576"><c r="XFD1048576" s="0"/><c r="A1048576" t="inlineStr"><is><t xml:space="preserve">  </t></is></c></row>'
    assert read_table(xlsx(rows), "a.xlsx").rows == (("1",),)


def test_a_table_far_down_is_counted_from_where_it_begins():
    rows = "".join(f'<row r="{n}"><c r="D{n}"><v>{n}</v></c></row>' for n in (900_000, 900_001))
    assert read_table(xlsx(rows), "a.xlsx").rows == (("900000",), ("900001",))


@pytest.mark.parametrize(
    ("limit", "value", "rows", "says"),
    [
        ("MOST_COLUMNS", 3, '<row r="1"><c r="A1"><v>1</v></c><c r="D1"><v>2</v></c></row>', "something in D1, beyond 3 columns"),
        ("MOST_ROWS", 2, '<row r="4"><c r="A4"><v>1</v></c></row><row r="7"><c r="B7"><v>1</v></c></row>', "something in B7, below 2 rows"),
        ("MOST_CELL", 3, '<row r="1"><c r="B1" t="str"><v>abcd</v></c></row>', "4 letters in B1; a cell has at most 3"),
        ("MOST_CELLS", 2, '<row r="1"><c r="A1"><v>1</v></c><c r="B1"><v>1</v></c><c r="C1"><v>1</v></c></row>', "more than 2 cells .* up to C1"),
        ("MOST_TABLE_LETTERS", 5, '<row r="1"><c r="A1"><v>123</v></c><c r="B1"><v>123</v></c></row>', "more than 5 letters in all, counted up to B1"),
    ],
)  # fmt: skip
def test_each_limit_is_said_with_the_cell_and_its_edge_is_taken(monkeypatch, limit, value, rows, says):
    monkeypatch.setattr(f"avlet.document.tables.table.{limit}", value)
    with pytest.raises(AnswerError, match=says):
        read_table(xlsx(rows), "a.xlsx")
    monkeypatch.setattr(f"avlet.document.tables.table.{limit}", value + 1)
    assert read_table(xlsx(rows), "a.xlsx").rows


def test_what_unpacks_to_too_much_in_all_is_left(monkeypatch):
    monkeypatch.setattr("avlet.document.tables.xml_parts.MOST_PACKAGE", 3 << 20)
    book = Workbook()
    for n in range(3):
        book.create_sheet(str(n)).append([None])
    data = saved(book)
    blank = f'<worksheet xmlns="{MAIN}"><sheetData>{" " * (1 << 20)}</sheetData></worksheet>'.encode()
    for n in (1, 2, 3, 4):
        data = replaced(data, f"xl/worksheets/sheet{n}.xml", blank)
    with pytest.raises(AnswerError, match="unpacks to more than 3 MB"):
        read_table(data, "a.xlsx")


def replaced(data, name, new):
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return zipped({**{entry: archive.read(entry) for entry in archive.namelist()}, name: new})


@pytest.mark.parametrize("kind", ["xlsx", "ods"])
def test_a_file_whose_xml_declares_entities_is_left(kind):
    bomb = '<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>'
    data = xlsx("", **{SHEET: f"{bomb}<worksheet>&b;</worksheet>"}) if kind == "xlsx" else zipped({"content.xml": f"{bomb}<a>&b;</a>"})
    with pytest.raises(AnswerError, match="XML entities"):
        read_table(data, f"a.{kind}")


def test_a_file_with_a_password_is_said_to_have_one():
    for data, name in (
        (b"\xd0\xcf\x11\xe0" + b"\0" * 600 + "EncryptedPackage".encode("utf-16-le"), "a.xlsx"),
        (ods("", "<manifest:manifest><manifest:encryption-data/></manifest:manifest>"), "a.ods"),
    ):
        with pytest.raises(AnswerError, match="locked with a password"):
            read_table(data, name)


def test_a_reader_that_ends_its_process_ends_in_a_sentence(monkeypatch):
    import os

    book = Workbook()
    book.active["A1"] = "x"
    data = saved(book)
    monkeypatch.setattr("avlet.document.tables.read_spreadsheet", lambda *_: os.abort())
    with pytest.raises(StorageError, match=r"“a.xlsx” needs more than .* MB to be worked out, and was left"):
        table_in(data, "a.xlsx")


def test_large_tables_as_text_are_read_beside_and_small_ones_at_once(monkeypatch):
    asked = []
    monkeypatch.setattr("avlet.storage.table_files.bounded", lambda work, name, seconds: asked.append(name) or work())
    table_in(b"a,b\n1,2\n", "small.csv")
    table_in(b"x" * 900_000 + b"\n" + b"y" * 900_000, "large.csv")
    assert asked == ["large.csv"]


# Text


def test_a_quotation_mark_that_is_never_closed_swallows_nothing():
    table = read_table('Name,Role\nBo "the ringer" Li,x\n"Ann,y\nÍris,z\n'.encode(), "a.csv")
    assert table.rows == (("Name", "Role"), ('Bo "the ringer" Li', "x"), ('"Ann', "y"), ("Íris", "z"))
    assert [r for r in table.remarks if "Row 3 opens a quotation mark that is never closed" in r]
    whole = read_table('Name,Role\n"Ann\nBerg",y\nÍris,"z"'.encode(), "a.csv")
    assert whole.rows == (("Name", "Role"), ("Ann\nBerg", "y"), ("Íris", "z")) and not whole.remarks


def test_an_open_mark_with_much_behind_it_is_found_as_well_and_many_are_refused(monkeypatch):
    monkeypatch.setattr("avlet.document.tables.texts.MOST_CELL", 200)
    table = read_table(('Name\n"Ann\n' + "Bo Li\n" * 100).encode(), "a.csv")
    assert len(table.rows) == 102 and table.rows[1] == ('"Ann',) and len(table.remarks) == 1
    with pytest.raises(AnswerError, match="20 quotation marks and more"):
        read_table(('"Ann\n' + "x\n" * 200).encode() * 30, "a.csv")


@pytest.mark.parametrize("line", ["sep=;", "SEP=;", '"sep=;"'])
def test_a_first_line_that_names_the_sign_is_no_heading(line):
    table = read_table(f"{line}\r\nName;Role\r\nBo, Li;x\r\n".encode(), "a.csv")
    assert table.rows == (("Name", "Role"), ("Bo, Li", "x")) and "semicolons" in table.kept_as
    assert rows_of("sep=\nBo") == (("sep=",), ("Bo",))


def test_fifty_thousand_rows_below_their_heads_are_read():
    assert len(read_table(b"Name\n" + b"Bo\n" * 50_000, "a.csv").rows) == 50_001
    with pytest.raises(AnswerError, match="more than 50,000 rows below its heads"):
        read_table(b"Name\n" + b"Bo\n" * 50_001, "a.csv")


def test_blanks_that_an_ods_asks_for_are_counted_as_they_are_made(monkeypatch):
    monkeypatch.setattr("avlet.document.tables.ods.MOST_CELL", 1000)
    blanks = "<text:s text:c='900'/>" * 50
    row = f'<table:table-row><table:table-cell office:value-type="string"/><table:table-cell><text:p>{blanks}</text:p></table:table-cell></table:table-row>'
    with pytest.raises(AnswerError, match="more than 1,000 letters in B1"):
        read_table(ods(f"<table:table>{row}</table:table>"), "a.ods")


def test_cells_far_apart_are_gathered_in_a_time_that_does_not_grow_with_their_rows():
    from avlet.document.tables.table import Cells

    def gathered():
        cells = Cells("a")
        for n in range(200_000):
            cells.put(n // 10, n % 10, "x")
        return cells.rows()

    assert len(bounded(gathered, "cells", seconds=6)) == 20_000


def test_tables_as_text_have_the_same_limits(monkeypatch):
    monkeypatch.setattr("avlet.document.tables.texts.MOST_TABLE_LETTERS", 1 << 20)
    with pytest.raises(AnswerError, match="has more than 1 MB"):
        read_table(b"a" * ((1 << 20) + 1), "a.csv")
    assert read_table(b"a" * 1000, "a.csv").rows
    monkeypatch.setattr("avlet.document.tables.texts.MOST_COLUMNS", 3)
    assert read_table(b"a,b,c,,,\n", "a.csv").rows
    with pytest.raises(AnswerError, match="more than 3 columns in row 2"):
        read_table(b"a\na,b,c,d\n", "a.csv")
    monkeypatch.setattr("avlet.document.tables.texts.MOST_TABLE_LETTERS", 5)
    with pytest.raises(AnswerError, match="more than 5 letters up to row 2"):
        rows_of("abc\nabc\n")


# Damaged


def damaged(data, chance):
    """A spreadsheet with bytes changed in one of its files, or in the zip, or cut short, or with pieces doubled or odd numbers."""
    how = chance.random()
    if how < 0.35:
        made = bytearray(data)
        for _ in range(chance.choice([1, 3, 20])):
            made[chance.randrange(len(made))] = chance.randrange(256)
        return bytes(made[: chance.randrange(len(made))] if chance.random() < 0.2 else made)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        parts = {entry: archive.read(entry) for entry in archive.namelist()}
    name = chance.choice([n for n in parts if n.endswith((".xml", ".rels"))])
    part = bytearray(parts[name])
    for _ in range(chance.choice([1, 2, 8])):
        at = chance.randrange(max(1, len(part)))
        if how < 0.6:
            part[at : at + 1] = bytes([chance.randrange(256)])
        elif how < 0.8:
            part[at : at + chance.randrange(40)] = part[chance.randrange(max(1, len(part))) :][: chance.randrange(40)]
        else:
            digits = [n for n, sign in enumerate(part) if 48 <= sign <= 57]
            if digits:
                at = chance.choice(digits)
                part[at : at + 1] = chance.choice([b"99999999", b"-1", b"1e308", b"", b"1048576", b"XFD1048576"])
    if chance.random() < 0.1:
        del parts[name]
    else:
        parts[name] = bytes(part)
    return zipped(parts)


def sources():
    book = Workbook()
    for row in (
        ("Role", "Name", 3.5, datetime.date(2026, 11, 30)),
        ("Mixer", "Ann", True, datetime.timedelta(hours=30)),
        ("", "Bo", None, "=A1"),
    ):
        book.active.append(row)
    cell = '<table:table-cell office:value-type="string" table:number-columns-repeated="2"><text:p>Bo<text:s text:c="2"/>Li</text:p></table:table-cell>'
    row = f'<table:table-row table:number-rows-repeated="4">{cell}<table:table-cell office:value-type="float" office:value="12"/></table:table-row>'
    return [(saved(book), "a.xlsx"), (ods(f'<table:table table:name="S">{row}</table:table>'), "a.ods")]


@pytest.mark.parametrize("seed", [0, 1, *(pytest.param(seed, marks=pytest.mark.soak) for seed in range(2, 42))])
def test_damaged_spreadsheets_are_tables_or_sentences(seed):
    """25 of each kind for each seed: 100 in the usual run, 2,100 in all."""
    chance = random.Random(seed)
    for data, name in sources():
        for _ in range(25):
            try:
                table = read_table(damaged(data, chance), name)
                assert all(isinstance(cell, str) for row in table.rows for cell in row)
            except AvletError as error:
                assert str(error).startswith("“a.")
