"""The speed of spaces: against a bare loop of moderngl over the same meshes, and meshes by themselves."""

import resource
import time
from collections.abc import Callable
from typing import Any

import numpy as np

from avlet.document.looks.paints import Solid
from avlet.document.parts import BallPart, Camera, Place, ShapePart, SpacePart, TextPart
from avlet.document.solids import Solidity
from avlet.document.template import Frame, Template
from avlet.paint.contours import contours_of
from avlet.paint.outlines import unit_paths
from avlet.paint.scene import Scene
from avlet.paint.space_bodies import stage_of
from avlet.paint.spaces import hurried
from avlet.solid import drawing
from avlet.solid.bodies import Stage
from avlet.solid.meshes import mesh_of
from avlet.solid.sights import columns, of_box, to_clip
from avlet.text.fonts import bundled_fonts
from benchmarks.measure import best

_MIDDLE = {"across": Place("frame", "middle", "middle"), "down": Place("frame", "middle", "middle")}


def scene(words: str = "SALTWIND", balls: bool = True, **solid: object) -> Scene:
    """Eight letters and two balls before a sheet that fills the frame."""
    parts = (
        ShapePart(id="sheet", name="Sheet", width=1920, height=1080, fill=Solid("#D9D5C8"), group="space", **_MIDDLE),
        TextPart(id="word", name="Word", text=words, size=330, fill=Solid("#C0485A"), group="space",
                 solid=Solidity(depth=70.0, **solid), **_MIDDLE),
        SpacePart(id="space", name="Space"),
    )  # fmt: skip
    if balls:
        shown = (Place(gap=180.0), 150.0, "#F4B23E"), (Place("frame", "end", "end", -140.0), 220.0, "#20435C")
        parts = (*parts[:2], *(
            BallPart(id=f"ball-{n}", name="Ball", diameter=wide, fill=Solid(colour), group="space",
                     across=place, down=Place(gap=120.0 + 500 * n))
            for n, (place, wide, colour) in enumerate(shown)
        ), parts[2])  # fmt: skip
    return Scene(Template(name="Space", frame=Frame(), parts=parts), bundled_fonts())


def bare(stage: Stage, width: int, height: int) -> Callable[[], None]:
    """The same meshes and shadows by nothing but moderngl calls in the order of the list, with four samples to the px as a driver has them;
    every number is worked out before.
    """
    made = drawing._drawer()
    assert not isinstance(made, str)
    gl, library = made.card.gl, made.card.moderngl
    clip = to_clip(stage, of_box((0.0, 0.0, 1920.0, 1080.0), 1920, 1080), 1920, 1080)
    targets: list[tuple[Any, Any]] = []

    def run() -> None:
        made._told.clear()
        made.maps.draw(stage.bodies, stage.light)
        if not targets:
            colours, depths = gl.renderbuffer((width, height), 4, samples=4), gl.depth_renderbuffer((width, height), samples=4)
            targets.append((gl.framebuffer([colours], depths), gl.simple_framebuffer((width, height), 4)))
        drawn, plain = targets[0]
        drawn.use()
        gl.viewport = (0, 0, width, height)
        drawn.clear(0.0, 0.0, 0.0, 0.0, depth=1.0)
        gl.enable_only(library.DEPTH_TEST | library.BLEND)
        for body in stage.bodies:
            program, mesh = made._ready(drawn, stage, body, True)
            program["view"].write(columns(clip))
            made._draw_body(drawn, mesh, body)
        gl.copy_framebuffer(plain, drawn)
        plain.read(components=4, alignment=1)

    return run


def drawing_a_space() -> float:
    """Posing and painting eight letters and a sheet at 1080 lines against the same meshes drawn bare."""
    made = scene()
    space = made.rest.parts["space"].part
    assert isinstance(space, SpacePart)
    stage = stage_of(made.pose(40), space)
    pixels = np.zeros((1080, 1920, 4), np.uint8)
    turn = [0]

    def ours() -> None:
        from avlet.paint import spaces

        spaces._pictures.clear()
        turn[0] += 1
        made.paint(40, pixels)

    run = bare(stage, 1920, 1080)

    def theirs() -> None:
        drawing._thread().submit(run).result()

    mine, other = best(ours, theirs, rounds=4)
    print(f"eight letters, two balls and a sheet at 1920×1080: {mine * 1000:.0f} ms, {other * 1000:.0f} ms by a bare loop over the meshes")
    return mine / other


def meshing() -> float:
    """Meshes of a word of twelve letters with rounded edges, in shares of 60 ms."""
    setting = scene("SALTMARSHTID").rest.parts["word"].body.setting
    assert setting is not None
    paths = unit_paths(setting, "character")

    def run() -> None:
        for path in paths:
            mesh_of(contours_of(path), "rounded", 3.0)

    (taken,) = best(run, rounds=5)
    print(f"meshes of 12 letters with rounded edges: {taken * 1000:.0f} ms")
    return taken / 0.060


def on_the_stage() -> float:
    """A space at the size of the stage while its camera is carried round, in shares of 80 ms."""
    import msgspec

    made = scene()
    pixels = np.zeros((367, 652, 4), np.uint8)
    taken = float("inf")
    for turn in range(10):
        space = msgspec.structs.replace(made.template.parts[-1], camera=Camera(round=turn + 0.5))
        begin = time.perf_counter()
        with hurried():
            Scene(msgspec.structs.replace(made.template, parts=(*made.template.parts[:-1], space)), made.book).paint(40, pixels)
        taken = min(taken, time.perf_counter() - begin)
    print(f"a space on the stage: {taken * 1000:.0f} ms from a changed camera to seeing it")
    return taken / 0.080


def retyping() -> float:
    """A changed letter to seeing it on the stage, in shares of 120 ms."""
    pixels = np.zeros((367, 652, 4), np.uint8)
    scene().paint(40, pixels)
    taken = float("inf")
    for turn in range(8):
        begin = time.perf_counter()
        scene(f"SALTWIN{'ABCDEFGH'[turn]}", edging="rounded").paint(40, pixels)
        taken = min(taken, time.perf_counter() - begin)
    print(f"a changed letter: {taken * 1000:.0f} ms until it is seen")
    return taken / 0.120


def memory() -> float:
    """How much memory 500 frames of a turning space add, in MB."""
    import msgspec

    made = scene()
    pixels = np.zeros((270, 480, 4), np.uint8)

    def turn(frames: range) -> float:
        for number in frames:
            space = msgspec.structs.replace(made.template.parts[-1], camera=Camera(round=number / 10))
            Scene(msgspec.structs.replace(made.template, parts=(*made.template.parts[:-1], space)), made.book).paint(40, pixels)
        return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024

    before = turn(range(60))
    after = turn(range(60, 560))
    print(f"memory: {after - before:.0f} MB more after 500 frames of a turning space, {after:.0f} in all")
    return after - before
