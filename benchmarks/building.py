"""What building a template costs: dragging, effects on words, arranging many parts, typing into a long text."""

import time
from collections.abc import Callable
from pathlib import Path

from avlet.document.editing import edits
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Shadow
from avlet.document.parts import Fit, Place, ShapePart, TextPart
from avlet.document.template import Template
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.storage.package import open_template
from avlet.text.fonts import bundled_fonts
from benchmarks.measure import DEMO, best, shape_bare


def heaviest(fitted: bool = False) -> Path:
    """The demo template whose frames take longest to paint in its hold. With ``fitted``, of those in which a part fits around others."""

    def cost(path: Path) -> float:
        opened = open_template(path)
        scene, pixels = Scene(opened.template, opened.book), new_pixels(960, 540)
        scene.paint(60, pixels)
        start = time.perf_counter()
        for _ in range(5):
            scene.paint(60, pixels)
        return time.perf_counter() - start

    def fits(path: Path) -> bool:
        return not fitted or any(getattr(part, "fit", None) is not None for part in open_template(path).template.parts)

    return max(filter(fits, sorted(DEMO.glob("*.avlet"))), key=cost)


def dragging(width: int, height: int) -> tuple[float, float, str]:
    """One step of dragging a padding, from the edit to the picture, against only painting that picture again."""
    path = heaviest(fitted=True)
    opened = open_template(path)
    template = opened.template
    fitted = next(p for p in template.parts if getattr(p, "fit", None) is not None)
    pixels, count = new_pixels(width, height), 12
    still = Scene(template, opened.book)

    def ours() -> None:
        for n in range(count):
            changed = edits.set_property(template, f"{fitted.id}/fit.left", 50.0 + n)
            Scene(changed, opened.book).paint(60, pixels)

    def bare() -> None:
        for _ in range(count):
            still.paint(60, pixels)

    mine, plain = best(ours, bare)
    return mine / count, plain / count, path.stem


def effects() -> float:
    """Blurred words with a shadow against the same words plain."""
    words = TextPart(id="t", name="T", text="Odalys Brandt", size=140.0, across=Place(gap=200), down=Place(gap=400))
    soft = edits.replace(words, blur=6.0, shadows=(Shadow(),))
    pixels, count = new_pixels(1920, 1080), 10
    sides: list[Callable[[], None]] = []
    for part in (soft, words):
        scene = Scene(check(Template(parts=(part,))), bundled_fonts())

        def paint(scene: Scene = scene) -> None:
            for _ in range(count):
                scene.paint(60, pixels)

        sides.append(paint)
    mine, plain = best(*sides, rounds=8)
    print(f"effects: {mine / count * 1000:.1f} ms a frame, plain {plain / count * 1000:.1f} ms")
    return mine / plain


def many_parts() -> Template:
    """A hundred lines, each with a plate that fits around it, each line placed under the plate before."""
    parts: list[TextPart | ShapePart] = []
    for n in range(100):
        down = Place(f"p{n - 1}", "start", "end", 4) if n else Place(gap=10)
        parts.append(TextPart(id=f"t{n}", name=f"T{n}", text=f"Line {n}", size=20.0, across=Place(gap=30), down=down))
        parts.append(ShapePart(id=f"p{n}", name=f"P{n}", fit=Fit((f"t{n}",)), across=None, down=None))
    return check(Template(parts=tuple(parts)))


def arranging() -> float:
    """Arranging 200 parts with set words, in shares of 10 ms; beside it bare HarfBuzz shaping the hundred lines."""
    bound, book = bind(many_parts()), bundled_fonts()
    arrange(bound, book)
    lines = [f"Line {n}" for n in range(100)]
    face = book.find("Fira Sans", "Bold")[0]
    mine, bare = best(lambda: arrange(bound, book), lambda: [shape_bare(face, line) for line in lines], rounds=15)
    print(f"arrange: 200 parts in {mine * 1000:.1f} ms, {mine / bare:.1f} times bare HarfBuzz shaping their words ({bare * 1000:.2f} ms)")
    return mine / 0.010


def long_text() -> float:
    """A key typed into a text of 500 characters, from the edit to the stage's picture, in shares of 20 ms."""
    text = ("Odalys Brandt, marsh ecologist, counts reed plugs along the tide line. " * 8)[:500]
    part = TextPart(id="t", name="T", text=text, size=30.0, across=Place(gap=60), down=Place(gap=60))
    template, book, pixels, count = check(Template(parts=(part,))), bundled_fonts(), new_pixels(680, 382), 10
    turn = [0]

    def ours() -> None:
        for _ in range(count):
            turn[0] += 1
            Scene(edits.set_property(template, "t/text", f"{text}{turn[0]}"), book).paint(60, pixels)

    face = book.find("Fira Sans", "Bold")[0]

    def bare() -> None:
        for n in range(count):
            shape_bare(face, f"{text}{n}")

    mine, plain = best(ours, bare)
    print(f"type 500: {mine / count * 1000:.1f} ms a key, {mine / plain:.0f} times bare HarfBuzz ({plain / count * 1000:.2f} ms)")
    return mine / count / 0.020


def dragging_on_the_stage() -> float:
    """Against 16 ms at the stage's size."""
    mine, plain, name = dragging(680, 382)
    print(f"drag: {mine * 1000:.1f} ms a step of {name} at 680x382, {mine / plain:.1f} times painting alone")
    return mine / 0.016


def dragging_in_full() -> float:
    """Against 40 ms at 1920x1080."""
    mine, plain, name = dragging(1920, 1080)
    print(f"drag: {mine * 1000:.1f} ms a step of {name} at 1920x1080, {mine / plain:.1f} times painting alone")
    return mine / 0.040
