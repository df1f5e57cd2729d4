"""Draws a stage with OpenGL 3.3: what is whole from front to back, then what one sees through from back to front."""

import functools
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np

from avlet.arrays import Floats, Marks
from avlet.solid.bodies import Body, Stage
from avlet.solid.edges import CELL, FINE, Lattice, Tile, edges_of, means, outlines_of, tiles_of
from avlet.solid.graphics_card import GraphicsCard, tell
from avlet.solid.meshes import edge_share
from avlet.solid.order import in_order
from avlet.solid.shaders import BODY_FRAGMENT, BODY_VERTEX, SHEET_FRAGMENT, SHEET_VERTEX
from avlet.solid.shadow_maps import ShadowMaps
from avlet.solid.sights import Area, Region, area_of, columns, focus, merged, of_box, parted, region_of, shadows_on, to_clip

_MOST_PX = 8_000_000
"""Larger pictures are drawn piece by piece."""
_PICTURE, _MASK = 0, 1
_SHEET = 4
"""Squares of samples that are drawn at once, in a row and in a column."""
Scissor = tuple[int, int, int, int]
"""Left, top, width and height, in px of the picture."""
Passes = list[tuple[bool, list[Scissor | None]]]
"""How a body is drawn: with shadows or without, each within px of what is drawn into, or all of it."""


@dataclass(frozen=True)
class Listed:
    """A body in the order in which bodies are drawn: its number as listed, where it is seen, and where shadows may fall on it; None where
    that may be anywhere.
    """

    number: int
    body: Body
    stage: Stage

    @functools.cached_property
    def area(self) -> Area | None:
        """Where it is seen."""
        return area_of(self.stage, self.body)

    @functools.cached_property
    def falls(self) -> list[Area] | None:
        """Where shadows may fall on it."""
        return None if self.body.through and not self.body.only_shadows else shadows_on(self.stage, self.body)


class Part(NamedTuple):
    """A part of what is drawn into: from px of the frame to its own (2, 3), where it lies, and how bodies are drawn there, by number.

    Masks are cut to ``piece``, in px of the picture; ``to_mask`` (2, 3) leads there from px of what is drawn into.
    """

    to_px: Floats
    where: Scissor
    passes: dict[int, Passes]
    piece: Scissor
    to_mask: Floats


class Drawer:
    """Draws stages on a card. Used by the drawing thread alone."""

    def __init__(self, card: GraphicsCard, side: int) -> None:
        self.card = card
        self.maps = ShadowMaps(card)
        self.lattice = Lattice(side)
        """The samples of px about solid bodies."""
        self._told: set[Any] = set()
        """The programs that know the stage of the present picture."""

    def draw(self, stage: Stage, box: Area, width: int, height: int) -> np.ndarray:
        """The picture of a stage within a box of the frame, premultiplied RGBA (height, width, 4)."""
        bodies = [body for body in stage.bodies if not body.mesh.empty and body.opacity > 0]
        self.card.begin_picture()
        self._told.clear()
        self.maps.draw(bodies, stage.light, width / (box[2] - box[0]))
        listed = [Listed(number, body, stage) for number, body in in_order(stage, bodies)]
        regions, to_picture = focus(stage, box, width, height) if not stage.masks else None, of_box(box, width, height)
        picture = np.empty((height, width, 4), np.uint8)
        drawn = []
        for region in regions or [Region(0, 0, width, height)]:
            for piece in _pieces(region, min(self.card.largest, 8192)):
                drawn.append((piece, self._drawn(stage, listed, to_picture, piece)))
        if regions is not None:
            picture[...] = drawn[0][1][0, 0]
        for (x, y, wide, high), pixels in drawn:
            picture[y : y + high, x : x + wide] = pixels
        if stage.fine:
            self._smooth_edges(stage, listed, to_picture, picture, regions)
        return picture

    def _smooth_edges(
        self, stage: Stage, listed: list[Listed], to_picture: Floats, picture: np.ndarray, regions: list[Region] | None
    ) -> None:
        """Find px with edges and draw them once more: finer about what lies flat and square, so that it looks as without a space.

        A shadow's edge on what is plain needs no more samples: it is soft as it is.
        """
        height, width, _ = picture.shape
        thin, square, followed = outlines_of(stage, [one.body for one in listed], to_picture, (height, width))
        solid = np.zeros(thin.shape, bool)
        for one, all_found in zip(listed, followed, strict=True):
            if not all_found:
                left, top, right, bottom = region_of(one.area, to_picture, width, height) if one.area is not None else (0, 0, width, height)
                solid[top:bottom, left:right] = True
        marks = edges_of(picture, regions or [Region(0, 0, width, height)]) | thin
        self._smooth(stage, listed, to_picture, picture, marks & square & ~solid, FINE)
        self._smooth(stage, listed, to_picture, picture, marks & solid, self.lattice)

    def _drawn(self, stage: Stage, listed: list[Listed], to_picture: Floats, piece: Scissor) -> np.ndarray:
        """One piece of the picture, one sample to the px."""
        left, top, width, height = piece
        drawn = self.card.target(width, height)
        self._begin(drawn, width, height)
        to_px = to_picture - [[0, 0, left], [0, 0, top]]
        passes = {one.number: self._passes(one, to_px, width, height) for one in listed}
        to_mask = np.array([[1 / width, 0.0, 0.0], [0.0, 1 / height, 0.0]])
        self._bodies(drawn, stage, listed, [Part(to_px, (0, 0, width, height), passes, piece, to_mask)])
        self._end(drawn)
        return self._read(drawn, width, height)

    def _smooth(self, stage: Stage, listed: list[Listed], to_picture: Floats, picture: np.ndarray, marks: Marks, lattice: Lattice) -> None:
        """Draw marked px once more, from as many samples as an edge needs to be smooth."""
        tiles, side = tiles_of(marks, lattice.tile), _SHEET * CELL
        drawn = self.card.target(side, side)
        for first in range(0, len(tiles), _SHEET * _SHEET):
            several = [(one, n % _SHEET * CELL, n // _SHEET * CELL) for n, one in enumerate(tiles[first : first + _SHEET * _SHEET])]
            wanted = np.concatenate([lattice.places(tile, x, y, side) for tile, x, y in several])
            self._begin(drawn, side, side)
            self._only(drawn, wanted, side)
            self._bodies(drawn, stage, listed, [self._tile(stage, listed, to_picture, *one, lattice) for one in several])
            self._end(drawn)
            samples = self._read(drawn, side, side).reshape(-1).view(np.uint32)[wanted]
            rows = np.concatenate([tile.top + tile.rows for tile, _, _ in several])
            picture[rows, np.concatenate([tile.left + tile.columns for tile, _, _ in several])] = means(samples)

    def _only(self, drawn: Any, wanted: np.ndarray, side: int) -> None:
        """Draw from now on nothing but what is wanted: all else lies behind a sheet before the eye."""
        gl, library = self.card.gl, self.card.moderngl
        sheet = np.full(side * side, 255, np.uint8)
        sheet[wanted] = 0
        program = self.card.program(SHEET_VERTEX, SHEET_FRAGMENT)
        self.card.mask(sheet.reshape(side, side)).use(_MASK)
        tell(program, {"mask": _MASK})
        gl.blend_func = library.ZERO, library.ONE  # depths alone
        drawn.depth_mask = True
        self.card.sheet(program).render(library.TRIANGLES, 3)
        gl.blend_func = library.ONE, library.ONE_MINUS_SRC_ALPHA

    def _tile(self, stage: Stage, listed: list[Listed], to_picture: Floats, tile: Tile, x: int, y: int, lattice: Lattice) -> Part:
        """Where the samples of a tile are drawn."""
        side, turned = lattice.tile, lattice.to_cell(tile)
        to_px = turned[:, :2] @ to_picture
        to_px[:, 2] += turned[:, 2]
        (across, _, left), (_, down, top) = to_picture.tolist()
        box = (tile.left - left) / across, (tile.top - top) / down, (tile.left + side - left) / across, (tile.top + side - top) / down
        passes: dict[int, Passes] = {
            one.number: [(self._shadows(stage) and (one.falls is None or any(_meet(fall, box) for fall in one.falls)), [None])]
            for one in listed if one.area is None or _meet(one.area, box)
        }  # fmt: skip
        to_mask = np.column_stack([lattice.back, -lattice.back @ (turned @ (tile.left, tile.top, 1) + (x, y))]) / side
        return Part(to_px, (x, y, CELL, CELL), passes, (tile.left, tile.top, side, side), to_mask)

    def _begin(self, drawn: Any, width: int, height: int) -> None:
        """An empty picture."""
        gl, library = self.card.gl, self.card.moderngl
        drawn.use()
        gl.viewport = (0, 0, width, height)
        drawn.scissor = (0, 0, width, height)
        drawn.clear(0.0, 0.0, 0.0, 0.0, depth=1.0)
        drawn.scissor = None
        gl.enable_only(library.DEPTH_TEST | library.BLEND)
        gl.blend_func = library.ONE, library.ONE_MINUS_SRC_ALPHA
        gl.depth_func = "<="

    def _bodies(self, drawn: Any, stage: Stage, listed: list[Listed], parts: list[Part]) -> None:
        """Draw bodies in their order, each in all parts of what is drawn into, in its passes."""
        gl = self.card.gl
        clips = [columns(to_clip(stage, part.to_px, *part.where[2:])) for part in parts]
        for one in listed:
            gl.polygon_offset = 0.0, -2.0 * one.number  # of what lies in one plane the later lies over the earlier, as without a space
            ready: dict[bool, tuple[Any, Any]] = {}
            for part, clip in zip(parts, clips, strict=True):
                x, y, _, _ = part.where
                for shaded, areas in part.passes.get(one.number, ()):
                    if shaded not in ready:
                        ready[shaded] = self._ready(drawn, stage, one.body, shaded)
                    program, mesh = ready[shaded]
                    program["view"].write(clip)
                    if one.body.mask:
                        self.card.mask(_cut(stage.masks[one.body.mask], *part.piece)).use(_MASK)
                        mask_across, mask_down = part.to_mask.tolist()
                        tell(program, {"mask_across": mask_across, "mask_down": mask_down})
                    for area in areas:
                        gl.viewport = part.where
                        drawn.scissor = part.where if area is None else (area[0] + x, area[1] + y, area[2], area[3])
                        self._draw_body(drawn, mesh, one.body)

    def _end(self, drawn: Any) -> None:
        drawn.scissor = None
        drawn.depth_mask = True
        self.card.gl.polygon_offset = 0.0, 0.0

    def _read(self, drawn: Any, width: int, height: int) -> np.ndarray:
        """What was drawn, (height, width, 4)."""
        pixels = np.frombuffer(drawn.read((0, 0, width, height), components=4, alignment=1), np.uint8)
        return pixels.reshape(height, width, 4)  # rows from the top: the view is the other way round already

    def let_go(self) -> None:
        """Release all that it holds of the driver's; it draws nothing more."""
        self.maps.let_go()
        self.card.let_go()

    def _program(self, body: Body, shaded: bool) -> Any:
        """The program that draws a body: with no more in it than that needs."""
        wanted = [name for name, there in (
            ("COVERED", body.texture is not None), ("SHINING", body.shine > 0), ("ONLY_SHADOWS", body.only_shadows),
            ("MASKED", bool(body.mask)),
        ) if there]  # fmt: skip
        maps = [name for name in self.maps.wanted() if shaded or name not in ("SHADED", "LAMPS_SHADED", "FADING")]
        return self.card.program(BODY_VERTEX, BODY_FRAGMENT, *maps, *wanted)

    def _shadows(self, stage: Stage) -> bool:
        """Whether anything throws shadows."""
        return self.maps.sun_view is not None or bool(stage.light.lamps)

    def _passes(self, one: Listed, to_px: Floats, width: int, height: int) -> Passes:
        """How a body is drawn. Shadows cost most of a picture: on a sheet they are looked for only where they may fall."""
        if not self._shadows(one.stage):
            return [(False, [None])]
        if one.falls is None:
            return [(True, [None])]
        shaded = parted(merged([there for area in one.falls if (there := region_of(area, to_px, width, height)).size], 0))
        plain = [Region(0, 0, width, height)]
        for region in shaded:
            plain = [piece for one in plain for piece in one.without(region)]
        inside, beside = (
            [(one.left, one.top, one.right - one.left, one.bottom - one.top) for one in regions] for regions in (shaded, plain)
        )
        return [(True, [*inside])] if one.body.only_shadows else [(True, [*inside]), (False, [*beside])]

    def _ready(self, drawn: Any, stage: Stage, body: Body, shaded: bool) -> tuple[Any, Any]:
        """The program that draws a body, told all but from where that is seen, and the body's mesh as it takes it."""
        program = self._program(body, shaded)
        if program not in self._told:
            light = stage.light
            tell(program, {
                "eye": tuple(stage.view.eye.tolist()), "sky": light.sky, "sun": light.sun, "to_sun": light.to_sun, "white": light.white,
                "picture": _PICTURE, "mask": _MASK,
            })  # fmt: skip
            self.maps.tell(program, light)
            self._told.add(program)
        values: dict[str, Any] = {
            "body": columns(body.matrix), "normals": body.normals, "depth": body.depth,
            "edge_share": edge_share(body.mesh.edge, body.depth), "front": body.front, "side": body.side, "edge": body.edge,
            "opacity": body.opacity, "shine": body.shine, "sharp": body.sharp,
        }  # fmt: skip
        if body.texture is not None:
            left, top, right, bottom = body.texture.box
            values["cover"] = left, top, right - left, bottom - top
            self.card.texture(body.texture).use(_PICTURE)
        tell(program, values)
        drawn.depth_mask = not body.through
        return program, self.card.mesh(body.mesh, program)

    def _draw_body(self, drawn: Any, mesh: Any, body: Body) -> None:
        if body.through and not body.mesh.flat:  # one sees what is behind it, but not its own inside
            gl, library = self.card.gl, self.card.moderngl
            drawn.depth_mask, gl.blend_func = True, (library.ZERO, library.ONE)  # depths alone
            mesh.render()
            gl.blend_func = library.ONE, library.ONE_MINUS_SRC_ALPHA
            drawn.depth_mask = False
        mesh.render()


def _meet(one: Area, other: Area) -> bool:
    return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]


def _cut(mask: np.ndarray, left: int, top: int, wide: int, high: int) -> np.ndarray:
    """A piece of a mask, nothing let through beside that."""
    found = np.zeros((high, wide), np.uint8)
    there = mask[top : top + high, left : left + wide]
    found[: there.shape[0], : there.shape[1]] = there
    return found


def _pieces(region: Region, most: int) -> list[Scissor]:
    """A region cut into pieces that a card takes."""
    left, top, right, bottom = region
    wide = max(1, min(most, right - left))
    high = max(1, min(most, _MOST_PX // wide))
    return [
        (x, y, min(wide, right - x), min(high, bottom - y)) for y in range(top, bottom, high) for x in range(left, right, wide)
    ]  # fmt: skip
