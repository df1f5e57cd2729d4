"""The demo's roster: 24 people of Saltmarsh Stories as CSV and XLSX, roles in English and Welsh, one colour that is none."""

import datetime
import io
import zipfile

from openpyxl import Workbook

from avlet.document.tables import as_csv

HEADS = ("Name", "Role (en)", "Role (cy)", "Bar colour", "Length", "Film no.", "Notes")
PEOPLE = (
    ("Bo Li", "Ringer", "Modrwywr adar", "", "", "101", "two takes"),
    ("Odalys Brandt", "Marsh ecologist", "Ecolegydd y morfa", "#20435C", "", "102", ""),
    ("Teodor Våge", "Sluice keeper", "Ceidwad y llifddor", "", "", "103", ""),
    ("Ioana Crețu-Whitlock", "Head of volunteer programmes, northern reaches", "Pennaeth rhaglenni gwirfoddoli, cyrion y gogledd", "",
     "7 s", "104", "long role"),
    ("Íris Þórdal", "Reed cutter", "Torrwr cyrs", "#2F6A78", "", "105", ""),
    ("ياسمين الحداد", "Hydrologist", "Hydrolegydd", "", "", "106", ""),
    ("Nkechi Arundel", "Boat builder", "Adeiladydd cychod", "#teal", "", "107", "colour to be asked for"),
    ("渡辺 汐", "Tide tables", "Tablau llanw", "", "", "108", ""),
    ("Maren Holt", "Cockle gatherer", "Casglwr cocos", "#2F6A78", "", "109", ""),
    ("Pia Lundqvist", "Surveyor", "Syrfëwr", "", "", "110", ""),
    ("Olumide Adeyemi-Strand", "Lock engineer", "Peiriannydd lociau", "", "", "111", ""),
    ("Gwen Tregaron", "Teacher, Farrow school", "Athrawes, ysgol Farrow", "#7A4B2A", "", "112", ""),
    ("Ana Sofía Prado", "Eel trapper", "Daliwr llyswennod", "", "4 s", "113", ""),
    ("Tomasz Wrzesień", "Dyke warden", "Warden y clawdd", "", "", "114", ""),
    ("Zsófia Őszi", "Botanist", "Botanegydd", "#2F6A78", "", "115", ""),
    ("Henrik Aas", "Ferryman", "Cychwr", "", "", "116", ""),
    ("Leilani Kahale", "Sound recordist", "Recordydd sain", "", "", "117", ""),
    ("Deirdre Ní Fhaoláin", "Archivist", "Archifydd", "", "", "118", ""),
    ("Wilhelmina van der Zwaluwenberg", "Chair of the trust and of its programmes for schools and volunteers in the far north",
     "Cadeirydd yr ymddiriedolaeth", "", "7 s", "119", "long name"),
    ("Samir Khoury", "Salt maker", "Gwneuthurwr halen", "#7A4B2A", "", "120", ""),
    ("Ngozi Achterberg", "Bird warden", "Warden adar", "", "", "121", ""),
    ("Petra Šimková", "Cartographer", "Cartograffydd", "", "", "122", ""),
    ("Jory Penhallow", "Oyster farmer", "Ffermwr wystrys", "", "", "123", ""),
    ("नर्मदा क्षत्रिय", "Water chemist", "Cemegydd dŵr", "", "", "124", ""),
)  # fmt: skip


def as_xlsx() -> bytes:
    """The table as a spreadsheet, the numbers of films as numbers. Written twice it is the same file."""
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "Guests"
    sheet.append(HEADS)
    for person in PEOPLE:
        sheet.append([*person[:5], int(person[5]), person[6]])
    day = datetime.datetime(2026, 1, 1)
    book.properties.created = book.properties.modified = day
    out = io.BytesIO()
    book.save(out)
    return _dated(out.getvalue(), day)


def _dated(data: bytes, day: datetime.datetime) -> bytes:
    """The same archive with all its files of one day."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as before, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as after:
        for entry in before.infolist():
            made = zipfile.ZipInfo(entry.filename, day.timetuple()[:6])
            made.compress_type = zipfile.ZIP_DEFLATED
            content = before.read(entry)
            if entry.filename == "docProps/core.xml":
                start, end = content.index(b"<dcterms:modified"), content.index(b"</dcterms:modified>")
                content = content[:start] + b'<dcterms:modified xsi:type="dcterms:W3CDTF">2026-01-01T00:00:00Z' + content[end:]
            after.writestr(made, content)
    return out.getvalue()


ROSTERS = {"guests.csv": as_csv((HEADS, *PEOPLE)).encode(), "guests.xlsx": as_xlsx()}
