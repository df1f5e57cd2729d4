"""What counting costs: a frame of rolling wheels, laying out a long count, a count as a film."""

import tempfile
from collections.abc import Callable
from pathlib import Path

import av
import skia

from avlet.document.faults.checking import check
from avlet.document.parts import CounterPart, Counting, Place, TextPart
from avlet.document.template import Frame, Template
from avlet.media.drawing import Drawing
from avlet.media.render import render
from avlet.paint.painter import canvas_over, new_pixels
from avlet.paint.scene import Scene
from avlet.text.figures import Figures
from avlet.text.fonts import bundled_fonts
from benchmarks.measure import best

FRAME = Frame(1920, 1080, "25/1")


def counter(**values: object) -> CounterPart:
    given = {
        "id": "c",
        "name": "C",
        "end": "9999999",
        "size": 150.0,
        "style": "Bold",
        "across": Place(gap=200),
        "down": Place(gap=300),
        **values,
    }
    return CounterPart(**given)  # type: ignore[arg-type]


def titled(part: CounterPart | TextPart, length: int = 250) -> Scene:
    return Scene(check(Template(parts=(part,), frame=FRAME, length=length, way_in=0, way_out=0)), bundled_fonts())


def rolling() -> float:
    """A frame of seven rolling figures, whose words, wheels and cuts are new each time, against as many letters as plain words."""
    wheels = titled(counter(change="rolling up", count=Counting(lands="after", frames=240)))
    words = titled(TextPart(id="t", name="T", text="9,999,999", size=150.0, style="Bold", across=Place(gap=200), down=Place(gap=300)))
    pixels, frames = new_pixels(1920, 1080), range(5, 235, 2)

    def painted(scene: Scene) -> Callable[[], None]:
        def run() -> None:
            scene.choreography.movers = {i: type(c)(c.rest, c.times, c.spans) for i, c in scene.choreography.movers.items()}
            for counted in scene.choreography.movers.values():
                counted.figures._placed.clear()
                counted.figures._turned.clear()
            for frame in frames:
                scene.paint(frame, pixels)

        return run

    mine, plain = best(painted(wheels), painted(words), rounds=5)
    print(f"roll: {mine / len(frames) * 1000:.2f} ms a frame of seven rolling figures, {plain / len(frames) * 1000:.2f} ms as plain words")
    return mine / plain


def laying_out() -> float:
    """The room for a count over 10^12 values against that for one over 100."""
    book = bundled_fonts()

    def laid_out(end: str) -> Callable[[], None]:
        part = counter(end=end)

        def run() -> None:
            for _ in range(5):
                Figures(part, FRAME.fps, book)

        return run

    many, few = best(laid_out("1000000000000"), laid_out("100"), rounds=10)
    print(f"lay out: {many / 5 * 1000:.2f} ms over 10^12 numbers, {few / 5 * 1000:.2f} ms over 100")
    return many / few


def straightforward(path: Path) -> None:
    """One process: Skia draws each number with its own text, PyAV converts and encodes it."""
    face = bundled_fonts().find("Fira Sans", "Bold")[0]
    font = skia.Font(skia.Typeface.MakeFromData(skia.Data.MakeWithCopy(face.data)), 150)
    pixels = new_pixels(1920, 1080)
    paint = skia.Paint(AntiAlias=True, Color=0xFFFFFFFF)
    with av.open(str(path), "w") as container:
        stream = container.add_stream("prores_aw", rate=25)
        stream.width, stream.height, stream.pix_fmt = 1920, 1080, "yuva444p10le"
        for number in range(250):
            pixels[...] = 0
            surface = canvas_over(pixels)
            surface.getCanvas().drawString(f"{round(number / 249 * 9_999_999):,}", 200, 450, font, paint)
            surface.flushAndSubmit()
            frame = av.VideoFrame.from_ndarray(pixels, "rgba").reformat(format="yuva444p10le", dst_colorspace="ITU709")
            frame.pts = number
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))


def filming() -> float:
    """A count of 10 s as ProRes 4444 against a straightforward script; how many times its time ours takes."""
    drawing = Drawing.of(titled(counter(count=Counting(lands="after", frames=249))))
    with tempfile.TemporaryDirectory() as folder:
        mine, plain = best(lambda: render(drawing, Path(folder) / "a.mov"), lambda: straightforward(Path(folder) / "b.mov"), rounds=2)
    print(f"film of a count: {mine:.2f} s, straightforward {plain:.2f} s for 250 different frames")
    return mine / plain
