"""Starts that show one list: news that crawl by, and sources on pages."""

import msgspec

from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Wire
from avlet.document.editing.converting import scaled_part
from avlet.document.faults.checking import check
from avlet.document.fields.credits import CreditsField, answer_of
from avlet.document.lists.blocks import Blocks, Heading, Words, multiplied
from avlet.document.parts import BlockStyle, CreditsPart, Fit, Matte, Place, ShapePart
from avlet.document.parts.credits import Movement
from avlet.document.starts.answers import SAMPLES
from avlet.document.starts.builder import SOFT, Start, begun, frames_of
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Move, StaysToTheEnd

replace = msgspec.structs.replace
_MIDDLE = Place("frame", "middle", "middle")

_NEWS: Blocks = (
    Heading(text="Tide"),
    Words(text="High water at Farrow Quay at 06:42, 4.1 m"),
    Words(text="Reed cutting ends on Friday"),
    Heading(text="Birds"),
    Words(text="Curlews are back on the northern reaches"),
    Words(text="The sluice path is closed for nesting until June"),
)
_SOURCES: Blocks = (
    Heading(text="Sources"),
    Words(text="Farrow Estuary Trust: Levels at the north sluice, 2019 to 2025"),
    Words(text="O. Brandt: A hundred years of reed, Marsh Papers 14"),
    Words(text="Tide tables of the harbour office, Farrow Quay"),
    Words(text="Counts of birds by volunteers of the northern reaches"),
)


def _listed(
    s: Start, part: CreditsPart, label: str, hint: str, lists: dict[str, Blocks], note: str, seconds: float, ends: float
) -> Template:
    """A template whose card asks for one list."""
    field = CreditsField(id="list", label=label, default=multiplied(lists["typical"], s.unit), hint=hint)
    samples = tuple(Sample(i, n, {"list": answer_of(lists[i])}) for i, n in SAMPLES)
    scaled = replace(scaled_part(part, s.unit), width=part.width)
    frame, length = s.base.frame, frames_of(s.base.frame, seconds)
    return check(
        replace(
            s.base,
            category=s.category,
            keywords=s.keywords,
            palette=s.palette,
            card=Card(note, (Section(label, (field,)),)),
            samples=samples,
            parts=tuple(scaled if p is part else p for p in s.parts),
            wires=(Wire("list", f"{part.id}/blocks"), *s.wires),
            length=length,
            way_in=frames_of(frame, ends),
            way_out=frames_of(frame, ends),
        )
    )


def crawl(frame: Frame) -> Template:
    """News in one line, on a band along the foot of the frame; the length follows the news."""
    s = begun("News crawl", "Tags", frame, "news", "crawl", "line", deep_water="#20435C", marigold="#F4B23E", white="#FFFFFF")
    s.follow("deep_water", "band/fill.colour")
    open_ = Move(scale_y=0, hinge_y=100, frames=s.frames(12), ease=SOFT)
    s.parts.append(
        ShapePart(
            id="band",
            name="Band",
            width=frame.width,
            height=s.px(96),
            corner=0,
            fill=s.fill("deep_water"),
            across=Place("frame"),
            down=Place("frame", "end", "end", -round(frame.height * 0.055)),
            way_in=(open_,),
        )
    )
    line = CreditsPart(
        id="news",
        name="News",
        blocks=_NEWS,
        across=Place("frame"),
        down=Place("band", "middle", "middle"),
        fill=s.fill("white"),
        movement=Movement(how="crawls", leads="speed", speed=s.px(6), separator="◆", apart=44.0),
        mattes=(Matte("band"),),
        words_style=BlockStyle(size=40.0),
        name_style=BlockStyle(size=40.0),
        heading_style=BlockStyle(style="Bold", size=40.0, fill=s.fill("marigold")),
        way_out=StaysToTheEnd(),
    )
    s.follow("marigold", "news/heading_style.fill.colour")
    s.follow("white", "news/fill.colour")
    s.parts.append(line)
    lists: dict[str, Blocks] = {
        "shortest": (Words(text="Low water at noon"),),
        "typical": _NEWS,
        "longest": (*_NEWS, *_NEWS[3:]),
        "two-lines": (Heading(text="Weather"), Words(text="Wind from the north-east, five to six")),
    }
    return _listed(s, line, "News", "A line of words is one piece of news", lists, "One line, as long as the news.", 30.0, 0.6)


def sources(frame: Frame) -> Template:
    """A list of sources on pages that stay as long as they are read, over a veil."""
    s = begun("List of sources", "Credits", frame, "sources", "pages", "list", "reading", slate="#20262B", paper="#F4EFE6", brass="#E7C58E")
    fades = (Move(opacity=0, frames=s.frames(16), ease=READY_EASES["soft both"]),)
    s.follow("slate", "veil/fill.colour")
    s.parts.append(
        ShapePart(
            id="veil",
            name="Veil",
            corner=0,
            fill=s.fill("slate"),
            opacity=76.0,
            across=None,
            down=None,
            fit=Fit(("frame",), "line box", 0, 0, 0, 0),
            way_in=fades,
        )
    )
    part = CreditsPart(
        id="sources",
        name="Sources",
        blocks=_SOURCES,
        across=_MIDDLE,
        down=_MIDDLE,
        fill=s.fill("paper"),
        lies="one above the other",
        width=round(frame.width * 0.72),
        row_gap=26.0,
        movement=Movement(how="pages", least=60, leads="speed"),
        heading_style=BlockStyle(family="Alegreya", style="Medium", size=64.0, fill=s.fill("brass")),
        words_style=BlockStyle(family="Alegreya", style="Regular", size=46.0),
        name_style=BlockStyle(family="Alegreya", style="Regular", size=46.0),
        way_in=(Move(opacity=0, y=20.0, by="line", overlap=70, frames=s.frames(18), ease=SOFT),),
    )
    s.follow("brass", "sources/heading_style.fill.colour")
    s.follow("paper", "sources/fill.colour")
    s.parts.append(part)
    lists: dict[str, Blocks] = {
        "shortest": (Words(text="Farrow Estuary Trust"),),
        "typical": _SOURCES,
        "longest": (*_SOURCES, *_SOURCES[1:], *_SOURCES[1:3]),
        "two-lines": (Heading(text="Sources\nand thanks"), *_SOURCES[1:3]),
    }
    return _listed(s, part, "Sources", "A line of words is one source", lists, "Pages that stay as long as they are read.", 10.0, 0.8)
