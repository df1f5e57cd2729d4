"""Starts of a kind of their own: solid words, a countdown, a board of counts, a crawl, and a list of sources on pages."""

from typing import Any

import msgspec

from avlet.document.parts import (
    BallPart,
    CounterPart,
    Matte,
    Place,
    Room,
    ShapePart,
    SpacePart,
    Sun,
    TextPart,
)
from avlet.document.parts.counter import Counting, Writing
from avlet.document.solids import Solidity, Stand
from avlet.document.starts.builder import SOFT, Making, Start, begun
from avlet.document.starts.gauged import gauge
from avlet.document.starts.listed import crawl, sources
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import Move, Tie

replace = msgspec.structs.replace
_MIDDLE = Place("frame", "middle", "middle")
_WORDS = {"shortest": "Ebb", "typical": "Tide", "longest": "Saltmarsh storms", "two-lines": "Low water"}


def _solid_words(
    s: Start, part_id: str, name: str, words: dict[str, str], longest: int, colour: str, size: float, share: float, **look: Any
) -> None:
    s.follow(colour, f"{part_id}/fill.colour")
    room = Room(width=round(s.base.frame.width * share), remedies=("shrink",), smallest_size=18)
    usual = {"group": "space", "style": "Bold", "case": "capitals", "align": "middle", "across": _MIDDLE, "room": room}
    s.words(part_id, name, words, longest, several=False, fill=s.fill(colour), size=s.px(size), **{**usual, **look})


def solid_word(frame: Frame) -> Template:
    """A word that comes through a sheet letter by letter, goes past it, and settles."""
    s = begun("Solid word", "Titles", frame, "solid", "depth", "word", "shadow", cloth="#D9D5C8", rose="#C0485A")
    s.follow("cloth", "sheet/fill.colour")
    fades = (Move(opacity=0, frames=s.frames(10), ease=READY_EASES["soft both"]),)
    s.parts.append(
        ShapePart(
            id="sheet",
            name="Sheet",
            group="space",
            width=frame.width,
            height=frame.height,
            fill=s.fill("cloth"),
            across=_MIDDLE,
            down=_MIDDLE,
            way_in=fades,
        )
    )
    through = Move(
        travel="through the sheet", by="character", overlap=60, frames=s.frames(30), start=s.frames(12), ease=READY_EASES["a little past"]
    )
    settles = Keyed("solid.depth", (Key(0, s.px(90)), Key(s.frames(44), s.px(90)), Key(s.frames(60), s.px(14))))
    _solid_words(
        s,
        "word",
        "Word",
        _WORDS,
        16,
        "rose",
        360,
        0.8,
        down=_MIDDLE,
        keys=(settles,),
        way_in=(through, Move(opacity=0, frames=1, start=s.frames(12))),
        solid=Solidity(depth=s.px(90), edging="chamfered", edge=s.px(3), surface="satin"),
    )
    s.parts.append(SpacePart(id="space", name="Space"))
    return s.template("One word, or two short ones. It comes through the sheet and settles.", way_in=2.4, way_out=1.6)


def solid_title(frame: Frame) -> Template:
    """A solid title that swings in before a night sky, two balls beside it, under a low sun."""
    s = begun(
        "Solid title",
        "Titles",
        frame,
        "solid",
        "depth",
        "balls",
        "shadow",
        night="#1D3A4F",
        sand="#EAE2D0",
        marigold="#F4B23E",
        rose="#C0485A",
    )
    s.follow("night", "wall/fill.colour")
    fades = (Move(opacity=0, frames=s.frames(12), ease=READY_EASES["soft both"]),)
    drop = Move(z=s.px(900), opacity=0, frames=s.frames(22), ease=READY_EASES["a little past"])
    s.parts.append(
        ShapePart(
            id="wall",
            name="Wall",
            group="space",
            width=frame.width * 4,
            height=frame.height * 4,
            fill=s.fill("night"),
            across=_MIDDLE,
            down=_MIDDLE,
            stand=Stand(before=s.px(-150)),
            way_in=fades,
        )
    )
    for n, (x, y, wide, colour) in enumerate(((-620, -240, 200, "marigold"), (700, 290, 160, "rose")), 1):
        s.follow(colour, f"ball-{n}/fill.colour")
        s.parts.append(
            BallPart(
                id=f"ball-{n}",
                name=f"Ball {n}",
                group="space",
                diameter=s.px(wide),
                fill=s.fill(colour),
                surface="satin",
                across=replace(_MIDDLE, gap=round(frame.width * x / 1920)),
                down=replace(_MIDDLE, gap=round(frame.height * y / 1080)),
                stand=Stand(on="wall", before=s.px(60)),
                way_in=(replace(drop, start=s.frames(8 + 6 * n)),),
            )
        )
    swings = Move(
        turn_y=75.0,
        z=s.px(-90),
        opacity=0,
        by="character",
        overlap=76,
        frames=s.frames(32),
        start=s.frames(14),
        ease=READY_EASES["a little past"],
    )
    titles = {"shortest": "Ebb", "typical": "The Long Tide", "longest": "Where the River Lets Go", "two-lines": "Harbour lights"}
    _solid_words(
        s,
        "title",
        "Title",
        titles,
        26,
        "sand",
        190,
        0.82,
        down=_MIDDLE,
        way_in=(swings,),
        solid=Solidity(depth=s.px(56), edging="chamfered", edge=s.px(4)),
    )
    s.parts.append(SpacePart(id="space", name="Space", sun=Sun(strength=80.0, round=-38.0, up=34.0, soft=12.0)))
    return s.template("A title in depth, in the light of a low sun.", seconds=6.0, way_in=2.4, way_out=2.0)


def countdown(frame: Frame) -> Template:
    """Ten minutes in real time, on leaves that turn over."""
    s = begun(
        "Countdown", "Counters", frame, "clock", "countdown", "live", "ten minutes", ink="#101A20", sea_glass="#6CC7B0", white="#FFFFFF"
    )
    s.follow("ink", "plate/fill.colour")
    s.follow("white", "clock/fill.colour")
    unfold, fade = Move(scale_x=0, hinge_x=50, frames=s.frames(20), ease=SOFT), Move(opacity=0, frames=s.frames(15), start=s.frames(8))
    s.parts.append(
        ShapePart(
            id="plate",
            name="Plate",
            corner=s.px(24),
            fill=s.fill("ink"),
            opacity=90.0,
            across=None,
            down=None,
            fit=s.fit("clock", "words", sides=72, ends=30),
            way_in=(unfold,),
        )
    )
    s.number(
        CounterPart(
            id="clock",
            name="Clock",
            start="600",
            end="0",
            family="Fira Sans Condensed",
            style="Bold",
            size=s.px(260),
            leading=100,
            fill=s.fill("white"),
            writing=Writing("clock", clock="mm:ss"),
            change="turning over",
            turning=6,
            across=_MIDDLE,
            down=replace(_MIDDLE, gap=s.px(-40)),
            mattes=(Matte("plate"),),
            way_in=(fade,),
            count=Counting(start=s.frames(25), pace="in real time"),
        ),
        "Seconds",
        {"shortest": 9.0, "typical": 600.0, "longest": 599.0, "two-lines": 60.0},
        3_599.0,
    )
    field, _, values = s.numbers[-1]
    s.numbers[-1] = (replace(field, low=1.0, unit="s", hint="Ten minutes are 600"), "clock/start", values)
    s.follow("sea_glass", "words/fill.colour")
    to = {
        "shortest": "to go",
        "typical": "to high water",
        "longest": "to the next opening of the sluice",
        "two-lines": "to high water\nat the quay",
    }
    s.words(
        "words",
        "To what",
        to,
        60,
        family="Fira Sans Condensed",
        style="Medium",
        size=s.px(56),
        align="middle",
        fill=s.fill("sea_glass"),
        across=_MIDDLE,
        down=Place("clock", "start", "end", s.px(-6)),
        mattes=(Matte("plate"),),
        way_in=(fade,),
        room=s.room(0.6),
    )
    return s.template("A countdown in real time; a title of ten minutes and four seconds.", seconds=604.0)


def board(frame: Frame) -> Template:
    """Four numbers beside or under each other that land one after the other."""
    s = begun("Board of counts", "Counters", frame, "numbers", "facts", "row", ink="#16303F", sea_glass="#6CC7B0", white="#FFFFFF")
    facts = (
        ("hides", "Bird hides", 14.0),
        ("species", "Species", 212.0),
        ("hours", "Hours given", 48_600.0),
        ("guests", "Visitors", 1_250_000.0),
    )
    wide, s_wide = frame.width > frame.height, round(frame.width * 0.9)
    columns = 4 if frame.width >= 1.5 * frame.height else 2
    step, rows = s_wide / columns, 4 // columns
    high = s.px(240)
    s.follow("ink", "band/fill.colour")
    open_ = Move(scale_x=0, hinge_x=0, frames=s.frames(22), ease=SOFT)
    s.parts.append(
        ShapePart(
            id="band",
            name="Band",
            width=s_wide,
            height=high * rows,
            corner=s.px(20),
            fill=s.fill("ink"),
            opacity=92.0,
            across=_MIDDLE,
            down=Place("title-safe", "end", "end") if wide else _MIDDLE,
            way_in=(open_,),
        )
    )
    for n, (part_id, name, end) in enumerate(facts):
        before = f"{facts[n - 1][0]}-count" if n else "band"
        tie = Tie(before, "after its end", -12) if n else Tie(before, "after its start", 10)
        at = Place("band", "middle", "start", round(step * (n % columns + 0.5), 2))
        fade = (Move(opacity=0, frames=s.frames(15), start=s.frames(8 + 3 * n)),)
        s.follow("white", f"{part_id}-count/fill.colour")
        s.follow("sea_glass", f"{part_id}/fill.colour")
        s.number(
            CounterPart(
                id=f"{part_id}-count",
                name=f"{name} count",
                end=f"{end:.0f}",
                style="Bold",
                size=s.px(84),
                leading=105,
                keeps="middle",
                fill=s.fill("white"),
                across=at,
                down=Place("band", "start", "start", round(s.px(52) + high * (n // columns), 2)),
                mattes=(Matte("band"),),
                way_in=fade,
                count=Counting(0, tie, "after", s.frames(30), ease=READY_EASES["soft both"]),
            ),
            name,
            {"shortest": 1.0, "typical": end, "longest": 9_999_999.0, "two-lines": 0.0},
            9_999_999.0,
        )
        s.parts.append(
            TextPart(
                id=part_id,
                name=name,
                text=name,
                family="Fira Sans Condensed",
                style="Medium",
                size=s.px(44),
                align="middle",
                fill=s.fill("sea_glass"),
                across=at,
                down=Place(f"{part_id}-count", "start", "end", s.px(4)),
                way_in=fade,
                mattes=(Matte("band"),),
                room=Room(width=round(step * 0.9), remedies=("shrink",), smallest_size=40),
            )
        )
    return s.template("Four numbers that land one after the other.", seconds=8.0)


OF_A_KIND: dict[str, Making] = {
    "Solid word through a sheet": solid_word,
    "Solid title with balls": solid_title,
    "Ten-minute countdown": countdown,
    "Board of four counts": board,
    "Share on a gauge": gauge,
    "News crawl": crawl,
    "List of sources": sources,
}
"""Seven of a kind of their own, by their plain names."""
