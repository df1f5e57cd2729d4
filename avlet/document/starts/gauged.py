"""A start with a gauge: a share that counts up inside a ring of ticks, which fills with it."""

from avlet.document.cards.wires import Wire
from avlet.document.looks.forms import Ellipse
from avlet.document.parts import Accent, CounterPart, GaugePart, Place, ShapePart
from avlet.document.parts.counter import Counting, Writing
from avlet.document.starts.builder import begun, replace
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES, CubicBezier
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import Move

_AS_SMOOTH_KEYS = CubicBezier(1 / 3, 0.0, 2 / 3, 1.0)
"""The curve that two smooth keys give, so that the ring and the number stay together."""


def gauge(frame: Frame) -> Template:
    """A percentage with a line under it, and round both a ring of ticks that fills as far as it says."""
    s = begun("Share on a gauge", "Counters", frame, "gauge", "share", "percent", ink="#12222E", sea_glass="#6CC7B0", white="#FFFFFF")
    begin, lasts = s.frames(12), s.frames(50)
    s.follow("ink", "ground/fill.colour")
    s.follow("sea_glass", "gauge/fill.colour")
    s.follow("white", "tally/fill.colour", "line/fill.colour")
    grows = Move(scale_x=0, scale_y=0, hinge_x=50, hinge_y=50, frames=s.frames(22), ease=READY_EASES["a little past"])
    fades = Move(opacity=0, frames=s.frames(14), start=s.frames(8), ease=READY_EASES["soft end"])
    around = replace(s.fit("tally", "line", sides=66, ends=66), box="capitals", least_width=s.px(330))
    fills = Keyed("share", (Key(begin, 0.0), Key(begin + lasts, 100.0)), "times")
    s.parts += [
        ShapePart(id="ground", name="Ground", form=Ellipse(), fill=s.fill("ink"), opacity=90.0,
                  fit=s.fit("gauge", sides=26, ends=26),
                  across=None, down=None, way_in=(grows,)),
        GaugePart(id="gauge", name="Gauge", ticks=50, gap=46.0, thick=s.px(30), share=68.0, fill=s.fill("sea_glass"), rest="#FFFFFF2E",
                  fit=around, across=None, down=None, keys=(fills,), way_in=(fades,)),
    ]  # fmt: skip
    percent = Accent("Fira Sans", "Medium", 46.0)
    s.number(
        CounterPart(
            id="tally", name="Tally", end="68", family="Fira Sans", style="Bold", size=s.px(190), leading=100, fill=s.fill("white"),
            writing=Writing("percent"), accents=(percent, percent), keeps="middle", across=Place("title-safe", "end", "end", s.px(-150)),
            down=Place("frame", "middle", "middle", s.px(-30)), way_in=(fades,),
            count=Counting(begin, None, "after", lasts, ease=_AS_SMOOTH_KEYS),
        ),
        "Share", {"shortest": 7.0, "typical": 68.0, "longest": 100.0, "two-lines": 42.0}, 100.0,
    )  # fmt: skip
    s.wires.append(Wire("tally", "gauge/share"))
    lines = {"shortest": "dry", "typical": "of the reed is back", "longest": "of all households on the northern bank",
             "two-lines": "of the reed is back\nafter two summers"}  # fmt: skip
    s.words("line", "Line under it", lines, 60, family="Fira Sans", style="Medium", size=s.px(44), align="middle", leading=108.0,
            fill=s.fill("white"), across=Place("tally", "middle", "middle"), down=Place("tally", "start", "end", s.px(-10)),
            way_in=(fades,), room=s.room(0.22, 60))  # fmt: skip
    return s.template("A share in percent. The ring is as large as the words need, and fills as far as the number says.")
