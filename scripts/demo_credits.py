"""The demo's credits: an end roll of 200 lines, the same people in pages, news that crawl by, and a second list as CSV and ODS."""

import io
import zipfile
from itertools import cycle, islice
from xml.sax.saxutils import escape

from avlet.document.cards.card import Card, Section
from avlet.document.cards.wires import Wire
from avlet.document.faults.checking import check
from avlet.document.fields import ColourField, TextField
from avlet.document.fields.credits import CreditsField
from avlet.document.lists.blocks import Block, Blocks, Gap, Heading, Names, PageBreak, Pictures, Role, RuleLine, Words
from avlet.document.lists.listing import csv_of, rows_from
from avlet.document.looks.paints import Solid
from avlet.document.parts import CreditsPart, Fit, Matte, PictureFile, Place, ShapePart, TextPart
from avlet.document.parts.credits import BlockStyle, Movement
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Move, StaysToTheEnd

FRAME = Frame(1920, 1080, "25/1")
DEEP, SAND, GLASS, NIGHT = "#20435C", "#EAE2D0", "#6CC7B0", "#121C24"
MIDDLE = Place(mine="middle", theirs="middle")
MARK = PictureFile(
    "farrow-estuary.svg",
    b"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 150" width="300" height="150">
<path d="M20 60 C60 20 90 100 130 60 S210 20 280 60" fill="none" stroke="#6CC7B0" stroke-width="12" stroke-linecap="round"/>
<path d="M20 95 C60 55 90 135 130 95 S210 55 280 95" fill="none" stroke="#EAE2D0" stroke-width="12" stroke-linecap="round"/>
<circle cx="205" cy="28" r="14" fill="#F4B23E"/></svg>""",
)
REED = PictureFile(
    "reed-works.svg",
    b"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 150 150" width="150" height="150">
<path d="M40 135 C45 90 35 60 48 18 M75 135 V25 M110 135 C104 90 116 60 102 30" fill="none" stroke="#EAE2D0" stroke-width="9" stroke-linecap="round"/>
<ellipse cx="75" cy="40" rx="11" ry="26" fill="#B98A4A"/></svg>""",
)
GIVEN = ("Odalys", "Teodor", "Nkechi", "Bo", "Ioana", "Íris", "Wren", "Hallam", "Sefa", "Ulf", "Maren", "Tove", "Anselm", "Pilar", "Jovan",
         "Ruta", "Emeka", "Saoirse", "Dag", "Livia")  # fmt: skip
FAMILY = ("Ostrowe", "Tidd", "Merewood", "Lindqvist", "Arundel", "Saltby", "Fenn", "Haldorsen", "Quay", "Brackwater", "Ebbe", "Marram",
          "Sandholt", "Wrack", "Curlew", "Dunlin", "Reedham", "Sluys", "Wadden")  # fmt: skip


def people(count: int, first: int) -> tuple[str, ...]:
    """Made-up people, other ones for other numbers."""
    return tuple(f"{GIVEN[(first + n * 7) % len(GIVEN)]} {FAMILY[(first * 3 + n * 5) % len(FAMILY)]}" for n in range(count))


def section(title: str, roles: tuple[str, ...], first: int) -> list[Block]:
    """A heading and its roles, each with one to three names."""
    many = islice(cycle((1, 1, 2, 1, 3, 1)), first % 6, first % 6 + len(roles))
    return [
        Heading(text=title),
        *(Role(role=role, names=people(count, first + 11 * n)) for n, (role, count) in enumerate(zip(roles, many, strict=True))),
    ]


def end_list() -> Blocks:
    """The end roll's list: 200 lines in Latin, Arabic, Japanese and Devanagari."""
    return (
        Heading(text="Saltmarsh Stories"),
        Words(text="Episode one: The Long Tide"),
        Gap(height=70.0),
        Heading(text="On the water"),
        Role(role="Marsh ecologist", names=("Odalys Brandt",)), Role(role="Sluice keeper", names=("Teodor Våge",)),
        Role(role="Boat builders", names=("Nkechi Arundel", "Bo Li")), Role(role="Volunteers", names=("Ioana Crețu-Whitlock", "Íris Þórdal")),
        Role(role="حارسة المد", names=("ياسمين الحداد",)), Role(role="Tide tables", names=("渡辺 汐",)),
        Role(role="Head of volunteer programmes, northern reaches", names=("Ioana Crețu-Whitlock",)),
        *section("Picture", ("Directed by", "Written by", "Photographed by", "Focus", "Loader", "Grip", "Lamps", "Second unit", "From the air"), 1),
        *section("Sound", ("Recorded by", "Boom", "Mixed by", "Water and reeds", "Voices", "Music", "Played by"), 4),
        *section("The cut", ("Cut by", "Cut with", "Titles", "Colour", "Finished by", "Kept by"), 9),
        *section("The reed beds", ("Reed cutters", "Planters", "Mud walkers", "Birds counted by", "Nets", "Dogs"), 13),
        *section("Sluices and gates", ("Gate wardens", "Levels read by", "Locksmith", "Diver", "Chains"), 17),
        *section("Ashore", ("Cook", "Bread", "Drivers", "Boats lent by", "First aid", "Knots"), 22),
        Heading(text="Volunteers of the northern reaches"), Names(names=people(36, 5), columns=3, sorted_in="sv"),
        Heading(text="अनुवाद"), Role(role="हिंदी", names=("मीरा सागर", "रोहन नदी")), Role(role="العربية", names=("سلمى النهر",)),
        Role(role="日本語", names=("潮田 葦", "汐見 渚")),
        *section("The tide office", ("Gauges", "Almanac", "Storm bell", "Lamp trimmer", "Maps", "Soundings"), 27),
        *section("Schools along the wall", ("Class 4, Quay Lane", "Class 6, Reedham", "Choir of the dyke"), 31),
        Heading(text="With thanks to"), Names(names=people(58, 12), columns=2),
        RuleLine(width=520.0, thickness=3.0),
        Pictures(pictures=(MARK, REED), height=130.0),
        Words(text="Made for the Farrow Estuary Trust.\nNo bird was disturbed, no reed was cut before its time."),
    )  # fmt: skip


def second_list() -> Blocks:
    """A short list for the next film."""
    return (
        Heading(text="Low Water"),
        Role(role="Marsh ecologist", names=("Odalys Brandt",)),
        Role(role="Ringer", names=("Bo Li",)),
        Role(role="Tide tables", names=("渡辺 汐", "ياسمين الحداد")),
        Heading(text="With thanks to"),
        Names(names=("Wren Saltby", "Íris Þórdal", "Ulf Curlew", "Maren Fenn"), columns=2),
    )


STYLES = {
    "heading_style": BlockStyle(style="Bold", size=38.0, case="capitals", tracking=60.0, fill=Solid(SAND)),
    "role_style": BlockStyle(style="Light", fill=Solid("#A9B9BF")),
    "name_style": BlockStyle(style="Medium"),
    "words_style": BlockStyle(style="Regular", size=30.0, fill=Solid("#C9D4D6")),
}


def ground(colour: str) -> ShapePart:
    """What the credits stand on."""
    return ShapePart(
        id="ground", name="Ground", fill=Solid(colour), across=None, down=None, fit=Fit(("frame",), left=0, right=0, top=0, bottom=0),
        way_out=StaysToTheEnd(),
    )  # fmt: skip


def end_roll() -> Template:
    """A roll of 200 lines that goes whole px a frame, off the frame at both ends."""
    part = CreditsPart(
        id="credits", name="Credits", blocks=end_list(), across=MIDDLE, down=MIDDLE, fill=Solid("#F3F5F4"), section_gap=80.0,
        movement=Movement(leads="speed", speed=6.0, soft=12), mattes=(Matte("ground", soft=60.0),), way_out=StaysToTheEnd(), **STYLES,
    )  # fmt: skip
    card = Card("The list is all that changes; the length follows it.", (
        Section("Credits", (
            CreditsField(id="list", label="List", default=part.blocks, hint="Type it, paste it, or open a list file"),
            ColourField(id="ground", label="Ground", default=NIGHT, hint="What the credits roll over"),
        )),
    ))  # fmt: skip
    wires = (Wire("list", "credits/blocks"), Wire("ground", "ground/fill.colour"))
    return Template(
        name="End roll", category="Credits", keywords=("roll", "end", "credits"), frame=FRAME, length=1500, way_in=0, way_out=0,
        plays_in=True, parts=(ground(NIGHT), part), card=card, wires=wires,
    )  # fmt: skip


def page_list() -> Blocks:
    """The main people, dealt into pages."""
    return (
        Heading(text="Saltmarsh Stories"),
        Words(text="Episode one: The Long Tide"),
        PageBreak(),
        Heading(text="On the water"),
        Role(role="Marsh ecologist", names=("Odalys Brandt",)),
        Role(role="Sluice keeper", names=("Teodor Våge",)),
        Role(role="Boat builders", names=("Nkechi Arundel", "Bo Li")),
        Role(role="Volunteers", names=("Ioana Crețu-Whitlock", "Íris Þórdal")),
        *section("Picture", ("Directed by", "Written by", "Photographed by", "Focus", "Grip", "Lamps"), 1),
        *section("Sound", ("Recorded by", "Mixed by", "Water and reeds", "Music", "Played by"), 4),
        PageBreak(),
        Pictures(pictures=(MARK,), height=150.0),
        Words(text="Made for the Farrow Estuary Trust"),
    )


def credit_pages() -> Template:
    """Pages that rise and fade, each as long as it takes to read."""
    soft = READY_EASES["quick, then soft"]
    part = CreditsPart(
        id="credits", name="Credits", blocks=page_list(), across=MIDDLE, down=MIDDLE, fill=Solid("#FFFFFF"), lies="one above the other",
        width=1200.0, row_gap=14.0, movement=Movement(how="pages", least=60, leads="speed"),
        way_in=(Move(opacity=0, y=24.0, by="line", overlap=70, frames=16, ease=soft),), **STYLES,
    )  # fmt: skip
    card = Card("", (Section("Credits", (CreditsField(id="list", label="List", default=part.blocks, hint="A page break begins a page"),)),))
    return Template(
        name="Credit pages", category="Credits", keywords=("pages", "credits"), frame=FRAME, length=762, way_in=16, way_out=16,
        parts=(ground(NIGHT), part), card=card, wires=(Wire("list", "credits/blocks"),),
    )  # fmt: skip


def news_crawl() -> Template:
    """News in one line, on a band at the frame's foot."""
    items = (
        Heading(text="Tide"), Words(text="High water at Farrow Quay at 06:42, 4.1 m"), Words(text="Reed cutting ends on Friday"),
        Words(text="1,284 hectares restored since 2019"), Heading(text="Birds"), Words(text="Curlews are back on the northern reaches"),
        Words(text="The sluice path is closed for nesting until June"),
    )  # fmt: skip
    band = ShapePart(
        id="band", name="Band", width=1920.0, height=96.0, fill=Solid(DEEP), across=Place("frame"), down=Place("frame", "end", "end", -60),
        way_in=(Move(scale_y=0, hinge_y=100, frames=12, ease=READY_EASES["quick, then soft"]),),
    )  # fmt: skip
    tag_text = TextPart(
        id="tag", name="Tag", text="The marsh today", family="Fira Sans", style="Bold", size=40, fill=Solid(NIGHT),
        across=Place("title-safe", gap=20.0), down=Place("band", "middle", "middle"), way_in=(Move(opacity=0, frames=10, start=8),),
    )  # fmt: skip
    tag = ShapePart(
        id="tag-plate", name="Tag plate", fill=Solid(GLASS), across=None, down=None,
        fit=Fit(("tag",), left=116, right=28, top=24, bottom=24, box="line box"),
        way_in=(Move(scale_x=0, hinge_x=0, frames=12, start=4, ease=READY_EASES["quick, then soft"]),),
    )  # fmt: skip
    line = CreditsPart(
        id="news", name="News", blocks=items, across=Place("frame"), down=Place("band", "middle", "middle"), fill=Solid("#FFFFFF"),
        movement=Movement(how="crawls", leads="speed", speed=6.0, separator="◆", apart=44.0), mattes=(Matte("band"),),
        name_style=BlockStyle(size=36.0, fill=Solid(GLASS)), words_style=BlockStyle(size=40.0),
        heading_style=BlockStyle(style="Bold", size=40.0, fill=Solid("#F4B23E")), way_out=StaysToTheEnd(),
    )  # fmt: skip
    card = Card("One line, as long as the news; the length follows it.", (
        Section("News", (
            TextField(id="tag", label="Tag", default="The marsh today"),
            CreditsField(id="news", label="News", default=items, hint="A line of words is one piece of news"),
        )),
    ))  # fmt: skip
    return Template(
        name="News crawl", category="Crawls", keywords=("news", "crawl"), frame=FRAME, length=900, way_in=16, way_out=16,
        parts=(band, line, tag, tag_text), card=card, wires=(Wire("tag", "tag/text"), Wire("news", "news/blocks")),
    )  # fmt: skip


def as_ods(rows: tuple[tuple[str, ...], ...]) -> bytes:
    """Rows as the smallest OpenDocument spreadsheet (OASIS ODF 1.3)."""

    def cell(words: str) -> str:
        body = "".join(f"<text:p>{escape(line)}</text:p>" for line in words.splitlines()) if words else ""
        return f'<table:table-cell office:value-type="string">{body}</table:table-cell>' if words else "<table:table-cell/>"

    lines = "".join(f"<table:table-row>{''.join(cell(words) for words in row)}</table:table-row>" for row in rows)
    spaces = " ".join(f'xmlns:{n}="urn:oasis:names:tc:opendocument:xmlns:{n}:1.0"' for n in ("office", "table", "text"))
    content = (
        f'<?xml version="1.0" encoding="UTF-8"?><office:document-content {spaces} office:version="1.3"><office:body><office:spreadsheet>'
        f'<table:table table:name="List">{lines}</table:table></office:spreadsheet></office:body></office:document-content>'
    )
    kind = "application/vnd.oasis.opendocument.spreadsheet"
    manifest = (
        '<?xml version="1.0" encoding="UTF-8"?><manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" '
        f'manifest:version="1.3"><manifest:file-entry manifest:full-path="/" manifest:media-type="{kind}"/>'
        '<manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>'
    )
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, words, how in (
            ("mimetype", kind, zipfile.ZIP_STORED), ("content.xml", content, zipfile.ZIP_DEFLATED),
            ("META-INF/manifest.xml", manifest, zipfile.ZIP_DEFLATED),
        ):  # fmt: skip
            info = zipfile.ZipInfo(name, (2026, 1, 1, 0, 0, 0))
            info.compress_type = how
            archive.writestr(info, words)
    return out.getvalue()


LISTS = {"second-list.csv": csv_of(second_list()).encode(), "second-list.ods": as_ods(rows_from(second_list()))}
"""Files beside the templates."""
CREDITS = {"end-roll": lambda: check(end_roll()), "credit-pages": lambda: check(credit_pages()), "news-crawl": lambda: check(news_crawl())}
