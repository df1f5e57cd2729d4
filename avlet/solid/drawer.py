"""Draws a stage with OpenGL 3.3: what is whole from front to back, then what one sees through from back to front."""

from typing import Any

import numpy as np

from avlet.arrays import Floats
from avlet.solid.bodies import Body, Stage
from avlet.solid.graphics_card import GraphicsCard, tell
from avlet.solid.meshes import edge_share
from avlet.solid.order import in_order
from avlet.solid.shaders import BODY_FRAGMENT, BODY_VERTEX
from avlet.solid.shadow_maps import ShadowMaps
from avlet.solid.sights import Area, Region, columns, focus, merged, parted, region_of, shadows_on, to_clip

_MOST_PX = 8_000_000
"""Larger pictures are drawn piece by piece."""
_PICTURE, _MASK = 0, 1
Scissor = tuple[int, int, int, int]
"""Left, top, width and height, in px of the picture."""


class Drawer:
    """Draws stages on a card. Used by the drawing thread alone."""

    def __init__(self, card: GraphicsCard) -> None:
        self.card = card
        self.maps = ShadowMaps(card)

    def draw(self, stage: Stage, box: Area, width: int, height: int) -> np.ndarray:
        """The picture of a stage within a box of the frame, premultiplied RGBA (height, width, 4)."""
        bodies = [body for body in stage.bodies if not body.mesh.empty and body.opacity > 0]
        self.card.begin_picture()
        self.maps.draw(bodies, stage.light, width / (box[2] - box[0]))
        regions = focus(stage, box, width, height) if not stage.masks else None
        picture = np.empty((height, width, 4), np.uint8)
        across, down = (box[2] - box[0]) / width, (box[3] - box[1]) / height
        drawn = []
        for region in regions or [Region(0, 0, width, height)]:
            for x, y, wide, high in _pieces(region, min(self.card.largest, 8192)):
                inner = box[0] + x * across, box[1] + y * down, box[0] + (x + wide) * across, box[1] + (y + high) * down
                drawn.append(((x, y, wide, high), self._piece(stage, bodies, inner, (x, y, wide, high))))
        if regions is not None:
            picture[...] = drawn[0][1][0, 0]
        for (x, y, wide, high), piece in drawn:
            picture[y : y + high, x : x + wide] = piece
        return picture

    def _piece(self, stage: Stage, bodies: list[Body], box: Area, piece: Scissor) -> np.ndarray:
        """One piece of the picture; twice as large and made smaller where the card takes but one sample to the px."""
        wide, high = piece[2:]
        drawn, plain = self.card.target(wide, high)
        if drawn is not plain:
            return self._drawn(stage, bodies, box, piece, 1)
        if max(wide, high) * 2 > self.card.largest:
            return self._drawn(stage, bodies, box, piece, 1)
        large = self._drawn(stage, bodies, box, piece, 2).astype(np.uint16)
        sums = large[::2, ::2] + large[1::2, ::2] + large[::2, 1::2] + large[1::2, 1::2]
        return ((sums + 2) // 4).astype(np.uint8)

    def _drawn(self, stage: Stage, bodies: list[Body], box: Area, piece: Scissor, scale: int) -> np.ndarray:
        gl, library = self.card.gl, self.card.moderngl
        width, height = piece[2] * scale, piece[3] * scale
        drawn, plain = self.card.target(width, height)
        drawn.use()
        gl.viewport = (0, 0, width, height)
        drawn.scissor = (0, 0, width, height)
        drawn.clear(0.0, 0.0, 0.0, 0.0, depth=1.0)
        drawn.scissor = None
        gl.enable_only(library.DEPTH_TEST | library.BLEND)
        gl.blend_func = library.ONE, library.ONE_MINUS_SRC_ALPHA
        gl.depth_func = "<="
        clip = to_clip(stage, box)
        told: set[Any] = set()
        for number, body in in_order(stage, bodies):
            gl.polygon_offset = 0.0, -2.0 * number  # of what lies in one plane the later lies over the earlier, as without a space
            if body.mask:
                left, top, wide, high = piece
                mask = stage.masks[body.mask][top : top + high, left : left + wide]
                self.card.mask(mask if scale == 1 else mask.repeat(scale, 0).repeat(scale, 1)).use(_MASK)
            for shaded, areas in self._passes(stage, body, box, width, height):
                program = self._program(body, shaded)
                if program not in told:
                    self._tell(program, stage, clip, width, height)
                    told.add(program)
                for area in areas:
                    drawn.scissor = area
                    self._draw_body(drawn, program, body)
        drawn.scissor = None
        drawn.depth_mask = True
        gl.polygon_offset = 0.0, 0.0
        if drawn is not plain:
            gl.copy_framebuffer(plain, drawn)
        pixels = np.frombuffer(plain.read((0, 0, width, height), components=4, alignment=1), np.uint8)
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

    def _passes(self, stage: Stage, body: Body, box: Area, width: int, height: int) -> list[tuple[bool, list[Scissor | None]]]:
        """How a body is drawn: with shadows or without, each within px of the picture, or all of it.

        Shadows cost most of a picture. On a sheet they are looked for only where they may fall.
        """
        if self.maps.sun_view is None and not stage.light.lamps:
            return [(False, [None])]
        falls = shadows_on(stage, body)
        if falls is None or (body.through and not body.only_shadows):
            return [(True, [None])]
        shaded = parted(merged([one for area in falls if (one := region_of(area, box, width, height)).size], 0))
        plain = [Region(0, 0, width, height)]
        for region in shaded:
            plain = [piece for one in plain for piece in one.without(region)]
        inside, beside = (
            [(one.left, one.top, one.right - one.left, one.bottom - one.top) for one in regions] for regions in (shaded, plain)
        )
        return [(True, [*inside])] if body.only_shadows else [(True, [*inside]), (False, [*beside])]

    def _tell(self, program: Any, stage: Stage, clip: Floats, width: int, height: int) -> None:
        light = stage.light
        tell(program, {
            "view": columns(clip), "eye": tuple(stage.view.eye.tolist()), "sky": light.sky, "sun": light.sun, "to_sun": light.to_sun,
            "white": light.white, "picture": _PICTURE, "mask": _MASK, "whole": (width, height),
        })  # fmt: skip
        self.maps.tell(program, light)

    def _draw_body(self, drawn: Any, program: Any, body: Body) -> None:
        values: dict[str, Any] = {
            "body": columns(body.matrix), "normals": np.linalg.pinv(body.matrix[:3, :3]).astype("f4").tobytes(), "depth": body.depth,
            "edge_share": edge_share(body.mesh.edge, body.depth), "front": body.front, "side": body.side, "edge": body.edge,
            "opacity": body.opacity, "shine": body.shine, "sharp": body.sharp,
        }  # fmt: skip
        if body.texture is not None:
            left, top, right, bottom = body.texture.box
            values["cover"] = left, top, right - left, bottom - top
            self.card.texture(body.texture).use(_PICTURE)
        tell(program, values)
        there = self.card.mesh(body.mesh, program)
        if body.through and not body.mesh.flat:  # one sees what is behind it, but not its own inside
            gl, library = self.card.gl, self.card.moderngl
            drawn.depth_mask, gl.blend_func = True, (library.ZERO, library.ONE)  # depths alone
            there.render()
            gl.blend_func = library.ONE, library.ONE_MINUS_SRC_ALPHA
        drawn.depth_mask = not body.through
        there.render()


def _pieces(region: Region, most: int) -> list[Scissor]:
    """A region cut into pieces that a card takes."""
    left, top, right, bottom = region
    wide = max(1, min(most, right - left))
    high = max(1, min(most, _MOST_PX // wide))
    return [
        (x, y, min(wide, right - x), min(high, bottom - y)) for y in range(top, bottom, high) for x in range(left, right, wide)
    ]  # fmt: skip
