"""Speed as ratios, each pair measured side by side in one run: ``.venv/bin/python -m benchmarks [NAME]...``.

Every ratio is ours against a plain way of doing the same. Each side is run several times in turns; the best of each counts.
"""

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import av
import numpy as np
import skia

from avlet.media.drawing import Drawing
from avlet.media.render import render
from avlet.paint.outlines import unit_paths
from avlet.paint.painter import canvas_over, new_pixels
from avlet.paint.scene import Scene
from avlet.storage.package import open_template
from benchmarks import building, counting, credits, moving, rostering, serving, spaces, starting
from benchmarks.measure import DEMO, best, shape_bare

SIZE = (1920, 1080)


def strap() -> Scene:
    opened = open_template(DEMO / "name-strap.avlet")
    return Scene(opened.template, opened.book)


def bare_loop(scene: Scene, frames: list[int]) -> Callable[[], None]:
    """The same pictures by nothing but Skia calls: every number and path is worked out before."""
    lists = []
    for frame in frames:
        calls = []
        pose = scene.pose(frame)
        for posed in pose.parts.values():
            paint = skia.Paint(AntiAlias=True, Color=int(posed.rest.part.fill.colour[1:7], 16) | 0xFF000000)
            if posed.rest.body.setting is None:
                left, top, right, bottom = posed.boxes(np.array([[*posed.rest.box[:2], posed.rest.box.right, posed.rest.box.bottom]]))[0]
                radius = min(getattr(posed.rest.part, "corner", 0.0), (right - left) / 2, (bottom - top) / 2)
                shape = skia.RRect.MakeRectXY(skia.Rect.MakeLTRB(left, top, right, bottom), radius, radius)
                calls.append((None, [(shape, None)], paint))
                continue
            matte = pose.parts[posed.rest.part.mattes[0].inside]
            box = matte.outline_box
            if box.empty:
                continue
            radius = min(getattr(matte.rest.part, "corner", 0.0), box.w / 2, box.h / 2)
            clip = skia.Path()
            clip.addRRect(skia.RRect.MakeRectXY(skia.Rect.MakeXYWH(*box), radius, radius))
            units = [
                (path, (posed.rest.box.x + dx, posed.rest.box.y + dy))
                for path, (dx, dy) in zip(unit_paths(posed.rest.body.setting, posed.unit), posed.shift, strict=True)
            ]
            calls.append((clip, units, paint))
        lists.append(calls)
    pixels = new_pixels(*SIZE)

    def run() -> None:
        for calls in lists:
            pixels[...] = 0
            surface = canvas_over(pixels)
            canvas = surface.getCanvas()
            for clip, shapes, paint in calls:
                canvas.save()
                if clip is not None:
                    canvas.clipPath(clip, skia.ClipOp.kIntersect, True)
                for shape, at in shapes:
                    if at is None:
                        canvas.drawRRect(shape, paint)
                    else:
                        canvas.save()
                        canvas.translate(*map(float, at))
                        canvas.drawPath(shape, paint)
                        canvas.restore()
                canvas.restore()
            surface.flushAndSubmit()

    return run


def painting() -> float:
    """Posing and painting the name strap at 1080 lines against the same picture drawn by a bare Skia loop."""
    scene, frames = strap(), list(range(0, 125, 2))
    pixels = new_pixels(*SIZE)

    def ours() -> None:
        for frame in frames:
            scene.paint(frame, pixels)

    mine, bare = best(ours, bare_loop(scene, frames), rounds=15)
    print(f"paint: {mine / len(frames) * 1000:.2f} ms a frame, bare Skia {bare / len(frames) * 1000:.2f} ms")
    return mine / bare


def straightforward(path: Path) -> None:
    """One process: paint each frame with Skia, hand RGBA to PyAV, let FFmpeg convert, encode with the same encoder."""
    scene = strap()
    with av.open(str(path), "w") as container:
        stream = container.add_stream("prores_aw", rate=25)
        stream.width, stream.height = SIZE
        stream.pix_fmt = "yuva444p10le"
        for number in range(125):
            frame = av.VideoFrame.from_ndarray(scene.picture(number), "rgba").reformat(format="yuva444p10le", dst_colorspace="ITU709")
            frame.pts = number
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))


def rendering() -> float:
    """125 frames at 1080 lines to ProRes 4444 against a straightforward single-process Skia and PyAV script."""
    opened = open_template(DEMO / "name-strap.avlet")
    drawing = Drawing.of(Scene(opened.template, opened.book))
    with tempfile.TemporaryDirectory() as folder:
        mine, plain = best(lambda: render(drawing, Path(folder) / "a.mov"), lambda: straightforward(Path(folder) / "b.mov"), rounds=2)
    print(f"render: {mine:.2f} s, straightforward {plain:.2f} s for 125 frames; what is left is encoding 27 different frames")
    return mine / plain


def typing() -> float:
    """From a changed text to its picture on the stage, in frames of 25 fps; beside it the shaping alone by bare HarfBuzz."""
    from avlet.desktop.window.application import make_application
    from avlet.desktop.window.window import Window

    application = make_application(["avlet"])
    with tempfile.TemporaryDirectory() as folder:
        window = Window(DEMO, Path(folder))
        window.files.open_demo(DEMO)
        window.show()
        application.processEvents()
        count = 40
        face = window.session.book.find("Fira Sans", "Bold")[0]

        def ours(turn: list[int] = [0]) -> None:  # noqa: B006
            for _ in range(count):
                turn[0] += 1
                window.session.write({"name/text": f"Odalys Brandt {turn[0]}"})
                window.build.stage.repaint()

        def shaping() -> None:
            for number in range(count):
                shape_bare(face, f"Odalys Brandt {number}")

        mine, bare = best(ours, shaping, rounds=4)
        window.session.mark_saved(DEMO / "name-strap.avlet")
        window.close()
    print(f"type: {mine / count * 1000:.1f} ms from key to stage; bare HarfBuzz shapes the line in {bare / count * 1000:.3f} ms")
    return mine / count / 0.040


LIMITS = (
    (painting, 1.3, "of a bare Skia loop"),
    (rendering, 1.0, "of a straightforward script"),
    (typing, 1.0, "of a frame at 25 fps"),
    (building.dragging_on_the_stage, 1.0, "of 16 ms"),
    (building.dragging_in_full, 1.0, "of 40 ms"),
    (building.effects, 3.0, "of plain words"),
    (building.arranging, 1.0, "of 10 ms"),
    (building.long_text, 1.0, "of 20 ms"),
    (counting.rolling, 2.0, "of plain words"),
    (counting.laying_out, 1.5, "of a count over 100"),
    (counting.filming, 0.55, "of a straightforward script, what is left being the coding of 250 different frames"),
    (credits.filming_whole_px, 0.33, "of a straightforward script"),
    (credits.filming_between_px, 0.9, "of a straightforward script, what is left being the coding of 1,215 different frames"),
    (credits.long_and_short, 1.2, "of a frame of 200 lines"),
    (credits.retyped, 1.0, "of a frame at 25 fps"),
    (credits.memory, 1000.0, "MB, whatever ran before"),
    (rostering.against_a_loop, 1 / 3, "of single renders in a loop"),
    (rostering.against_processes, 1 / 1.5, "of single renders over multiprocessing"),
    (rostering.cluster_against_local, 1.2, "of two processes here"),
    (rostering.ten_thousand, 2.0, "s until 10,000 rows are shown"),
    (rostering.proving, 2.0, "of painting its frames once"),
    (spaces.drawing_a_space, 1.9, "of a bare moderngl loop over the same meshes, with four samples to the px where ours has ten at edges"),
    (spaces.meshing, 1.0, "of 60 ms"),
    (spaces.on_the_stage, 1.0, "of 80 ms"),
    (spaces.retyping, 1.0, "of 120 ms"),
    (spaces.memory, 60.0, "MB"),
    (moving.posing, 1.0, "of 1 ms"),
    (moving.blurring, 6.0, "of sharp frames"),
    (moving.playing, 0.0, "of frames dropped"),
    (starting.batch_against_a_loop, 0.1, "of single calls"),
    (starting.telling_the_version, 1.0, "of 150 ms"),
    (starting.info, 1.0, "of 500 ms"),
    (serving.reel, 1.0, "of 0.7 s"),
    (serving.key_to_canvas, 1.0, "of 200 ms"),
    (serving.fifty_editors, 1.0, "of a median of 0.5 s, 3 s at worst, and 1.5 GB, whichever is nearest"),
    (serving.on_air, 0.02, "of frames were never shown; none is wanted"),
)


_LOOP, _QUICK, _SLOW = 3_000_000, 0.85, 1.2
"""Rounds of the fixed loop, and from which share of its usual time a minute counts as quick or slow."""


def minute() -> float:
    """Seconds that a fixed loop takes now: machines that are shared are quicker in one minute than in another."""
    begun = time.perf_counter()
    total = 0
    for number in range(_LOOP):
        total += number & 7
    return time.perf_counter() - begun


def main(names: list[str]) -> int:
    """Measure all, or what names ask for; print each, and a table that can be kept beside an earlier one."""
    known = {measured.__name__: (measured, limit, words) for measured, limit, words in LIMITS}
    if strange := [name for name in names if name not in known]:
        print(f"There is no “{strange[0]}”. There are: {', '.join(known)}.")
        return 2
    usual = min(minute() for _ in range(5))
    rows, wrong = [], 0
    for name in names or known:
        measured, limit, words = known[name]
        before = minute()
        ratio = measured()
        speed = max(before, minute()) / usual
        said = "slow" if speed > _SLOW else "quick" if speed < _QUICK else "usual"
        wrong += ratio > limit
        print(f"  {'ok  ' if ratio <= limit else 'OVER'} {name}: {ratio:.2f} {words} (limit {limit:g}; a {said} minute)")
        rows.append(f"| {name} | {ratio:.3f} | {limit:g} | {said} ({speed:.2f}) |")
    print("\n| what | ratio | limit | minute |\n|---|---|---|---|\n" + "\n".join(rows))
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
