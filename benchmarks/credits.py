"""What credits cost: a roll as a film, frames of long and short lists, a name changed in a long one, memory."""

import resource
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import av
import msgspec
import skia

from avlet.document.faults.checking import check
from avlet.document.lists.blocks import Block, Heading, Role, put_block
from avlet.document.parts import CreditsPart, Place
from avlet.document.template import Frame, Template
from avlet.layout.holding import hold
from avlet.media.drawing import Drawing
from avlet.media.render import render
from avlet.motion.rolling import whole_lengths
from avlet.paint.painter import canvas_over, new_pixels
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts
from benchmarks.measure import best

FRAME = Frame(1920, 1080, "25/1")
_FAMILY = ("Brandt", "Våge", "Arundel", "Li", "Crețu-Whitlock", "Þórdal", "Ostrowe", "Farrow", "Merewood", "Tidd")
_GIVEN = ("Odalys", "Teodor", "Nkechi", "Bo", "Ioana", "Íris", "Wren", "Hallam", "Sefa", "Ulf")
_ROLES = ("Marsh ecologist", "Sluice keeper", "Boat builder", "Ringer", "Volunteer", "Tide tables", "Cook", "Ferryman")


def blocks(lines: int) -> tuple[Block, ...]:
    """Headings, roles and names: so many lines."""
    made: list[Block] = []
    for number in range(lines):
        if number % 25 == 0:
            made.append(Heading(text=f"Section {number // 25 + 1}"))
        else:
            name = f"{_GIVEN[number % 10]} {_FAMILY[number // 10 % 10]} {number}"
            made.append(Role(role=_ROLES[number % 8], names=(name,)))
    return tuple(made)


def titled(lines: int, length: int) -> Scene:
    part = CreditsPart(id="c", name="Credits", blocks=blocks(lines), across=Place(mine="middle", theirs="middle"))
    return Scene(check(Template(parts=(part,), frame=FRAME, length=length, way_in=0, way_out=0)), bundled_fonts())


def whole(lines: int, length: int) -> Scene:
    """The same at the nearest length at which it moves whole px."""
    scene = titled(lines, length)
    moving = scene.choreography.movers["c"]
    assert moving.ends is not None
    offers = whole_lengths(moving.part.movement, moving.ends, length)
    return titled(lines, min(offers, key=lambda offer: abs(offer.length - length)).length)


def straightforward(scene: Scene, path: Path) -> None:
    """One process: Skia draws the lines that are in each frame with its own text, PyAV converts and encodes it."""
    book, rest, roll = bundled_fonts(), scene.rest.parts["c"], scene.choreography.movers["c"].roll
    assert rest.body.strip is not None and roll is not None

    def font(style: str, size: float) -> skia.Font:
        return skia.Font(skia.Typeface.MakeFromData(skia.Data.MakeWithCopy(book.find("Fira Sans", style)[0].data)), size)

    fonts = {0: font("Medium", 34), 1: font("Light", 34), 2: font("Bold", 40)}
    lines = []
    for row, begin in zip(rest.body.strip.rows, rest.body.strip.begins.tolist(), strict=True):
        for piece in row.pieces:
            x = piece.x + (piece.width - fonts[piece.style].measureText(piece.text)) * piece.stands
            lines.append((begin + 33, rest.box.x + x, piece.text, fonts[piece.style]))
    pixels, paint = new_pixels(1920, 1080), skia.Paint(AntiAlias=True, Color=0xFFFFFFFF)
    with av.open(str(path), "w") as container:
        stream = container.add_stream("prores_aw", rate=25)
        stream.width, stream.height, stream.pix_fmt = 1920, 1080, "yuva444p10le"
        for number in range(scene.length):
            pixels[...] = 0
            surface = canvas_over(pixels)
            canvas, top = surface.getCanvas(), roll.at(number)
            for y, x, words, face in lines:
                if -60 < y + top < 1140:
                    canvas.drawString(words, x, y + top, face, paint)
            surface.flushAndSubmit()
            frame = av.VideoFrame.from_ndarray(pixels, "rgba").reformat(format="yuva444p10le", dst_colorspace="ITU709")
            frame.pts = number
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))


def filming(scene: Scene, words: str) -> float:
    """A roll as ProRes 4444 against a straightforward script; how many times its time ours takes."""
    with tempfile.TemporaryDirectory() as folder:
        mine, plain = best(
            lambda: render(Drawing.of(scene), Path(folder) / "a.mov"), lambda: straightforward(scene, Path(folder) / "b.mov"), rounds=1
        )
    roll = scene.choreography.movers["c"].roll
    assert roll is not None
    print(f"{words} at {roll.speed:g} px a frame: {mine:.1f} s, straightforward {plain:.1f} s for {scene.length} frames")
    return mine / plain


def filming_whole_px() -> float:
    """The speed of a three minutes' roll of 1,000 lines, over a quarter of its length, at the nearest whole px."""
    return filming(whole(250, 1125), "a roll")


def filming_between_px() -> float:
    """The same at a length at which it moves between px."""
    return filming(titled(250, 1215), "a roll")


def long_and_short() -> float:
    """A frame of 20,000 lines against one of 200, both at whole px and in the middle of their way."""
    speed = 6
    scenes = []
    for lines in (20_000, 200):
        moving = titled(lines, 100).choreography.movers["c"]
        assert moving.ends is not None
        scenes.append(titled(lines, int(moving.ends.way / speed - 3)))
    pixels = new_pixels(1920, 1080)

    def painted(scene: Scene) -> Callable[[], None]:
        middle = scene.length // 2

        def run() -> None:
            for frame in range(middle, middle + 40):
                scene.paint(frame, pixels)

        return run

    many, few = best(painted(scenes[0]), painted(scenes[1]), rounds=6)
    print(f"frame: {many / 40 * 1000:.2f} ms of 20,000 lines, {few / 40 * 1000:.2f} ms of 200")
    return many / few


def retyped() -> float:
    """A name changed in 2,000 lines, until it is painted, in frames at 25 a second."""
    scene = titled(2_000, 9_000)
    template, pixels = scene.template, new_pixels(960, 540)
    found = float("inf")
    for turn in range(8):
        part = template.parts[0]
        assert isinstance(part, CreditsPart)
        begin = time.perf_counter()
        changed = msgspec.structs.replace(part, blocks=put_block(part.blocks, 1_000, Role(role="Cook", names=(f"Wren {turn}",))))
        template = hold(msgspec.structs.replace(template, parts=(changed,)))
        made = Scene(template, bundled_fonts())
        made.paint(4_500, pixels)
        found = min(found, time.perf_counter() - begin)
    print(f"a name changed in 2,000 lines: {found * 1000:.1f} ms until it is seen, {found * 25:.2f} of a frame at 25 a second")
    return found * 25


def memory() -> float:
    """Peak memory, in MB, with a roll of 20,000 lines gone through from end to end."""
    scene = titled(20_000, 400_000)
    pixels = new_pixels(1920, 1080)
    for frame in range(0, scene.length, scene.length // 300):
        scene.paint(frame, pixels)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"memory: {peak:.0f} MB at most, with 20,000 lines gone through in 300 frames")
    return peak
