"""Shadow maps: how far light comes, seen by the sun, and by lamps through six faces each. What fades is kept apart from what is whole."""

from collections import OrderedDict
from collections.abc import Sequence
from typing import Any

import numpy as np

from avlet.arrays import Floats
from avlet.solid.bodies import Body, Light
from avlet.solid.graphics_card import GraphicsCard, tell
from avlet.solid.meshes import Mesh, edge_share
from avlet.solid.shaders import FADING_MOST, SHADOW_FRAGMENT, SHADOW_VERTEX
from avlet.solid.sights import FACES, RIGHT_ANGLE, by_lamp, by_sun, columns, lamp_span, within

SUN_SIDE, TILE = 2048, 768
"""Texels of a side of the sun's map, and of one of a lamp's six tiles, for pictures at their full size; smaller ones need fewer."""
_MOST_KEPT = 4
_SHADOW, _LAMP, _FAINT, _AMOUNT, _LAMP_FAINT, _LAMP_AMOUNT, _NEAR = 2, 3, 4, 5, 6, 7, 8
"""Where programs look for each map."""


class ShadowMaps:
    """The maps of one picture. Used by the drawing thread alone."""

    def __init__(self, card: GraphicsCard) -> None:
        self.card = card
        self._kept: OrderedDict[tuple[str, int, int], tuple[Any, Any, Any]] = OrderedDict()
        self._used: dict[str, tuple[Any, Any, Any]] = {}
        self._side, self._tile = SUN_SIDE, TILE
        self._drawn: object = None
        self._alive: list[Mesh] = []
        self.sun_view: Floats | None = None
        self.fading = False
        near = card.moderngl.NEAREST
        self._near = card.gl.sampler(filter=(near, near), compare_func="<=", repeat_x=False, repeat_y=False)
        self._span = (1.0, 2.0, RIGHT_ANGLE)
        self._lamps = 0

    def let_go(self) -> None:
        """Release all maps."""
        for kept in self._kept.values():
            for one in kept:
                if one is not None:
                    one.release()
        self._near.release()

    def draw(self, bodies: Sequence[Body], light: Light, scale: float = 1.0) -> None:
        """Draw what throws shadows as each light sees it, as finely as a picture needs that has ``scale`` px for each of the frame."""
        fewer = 1 if scale > 0.6 else 2 if scale > 0.25 else 4
        what = fewer, light, tuple((id(b.mesh), b.matrix.tobytes(), b.depth, b.opacity, b.casts, b.only_shadows) for b in bodies)
        if what == self._drawn:
            return  # only the eye has moved
        self._drawn, self._alive = what, [body.mesh for body in bodies]
        self._side, self._tile, self._used = SUN_SIDE // fewer, TILE // fewer, {}
        casting = [body for body in bodies if body.casts and not body.only_shadows]
        whole, faint = [b for b in casting if b.opacity >= FADING_MOST], [b for b in casting if b.opacity < FADING_MOST]
        self.fading, self._lamps = bool(faint), len(light.lamps)
        self.sun_view = by_sun(casting, light) if casting and light.sunny else None
        self.card.gl.enable_only(self.card.moderngl.DEPTH_TEST)
        self.card.gl.depth_func = "<="
        if self.sun_view is not None:
            all_of_it = [((0, 0, self._side, self._side), self.sun_view)]
            self._into("sun", self._side, self._side, all_of_it, whole, False)
            if faint:
                self._into("faint", self._side, self._side, all_of_it, faint, True)
        if light.lamps:
            self._span = lamp_span(bodies, light.lamps)
            tile = self._tile
            tiles = [
                ((face * tile, number * tile, tile, tile), by_lamp(lamp, face, self._span[1]))
                for number, lamp in enumerate(light.lamps)
                for face in range(FACES)
            ]
            self._into("lamps", FACES * tile, tile * len(light.lamps), tiles, whole, False)
            if faint:
                self._into("faint lamps", FACES * tile, tile * len(light.lamps), tiles, faint, True)

    def _into(
        self,
        name: str,
        width: int,
        height: int,
        tiles: list[tuple[tuple[int, int, int, int], Floats]],
        bodies: Sequence[Body],
        amounts: bool,
    ) -> None:
        """Draw bodies into a map, tile by tile."""
        program = self.card.program(SHADOW_VERTEX, SHADOW_FRAGMENT)
        target = self._map(name, width, height, amounts)[0]
        target.use()
        target.clear(depth=1.0)
        for area, matrix in tiles:
            seen = within(matrix, bodies) if len(tiles) > 1 else bodies
            if seen:
                target.viewport = area
                program["seen"].write(columns(matrix))
                for body in seen:
                    tell(program, {
                        "body": columns(body.matrix), "depth": body.depth, "edge_share": edge_share(body.mesh.edge, body.depth),
                        "opacity": body.opacity,
                    })  # fmt: skip
                    self.card.mesh(body.mesh, program).render()

    def _map(self, name: str, width: int, height: int, amounts: bool) -> tuple[Any, Any, Any]:
        """What is drawn into, the depths and, of what fades, how much it is there."""
        key = name, width, height
        if key not in self._kept:
            while len(self._kept) >= _MOST_KEPT:
                for old in self._kept.popitem(last=False)[1]:
                    if old is not None:
                        old.release()
            linear = self.card.moderngl.LINEAR, self.card.moderngl.LINEAR
            depths = self.card.gl.depth_texture((width, height))
            depths.compare_func, depths.filter = "<=", linear
            depths.repeat_x = depths.repeat_y = False
            amount = self.card.gl.texture((width, height), 1) if amounts else None
            if amount is not None:
                amount.filter = linear
                amount.repeat_x = amount.repeat_y = False
            held = [amount] if amount is not None else []
            self._kept[key] = self.card.gl.framebuffer(held, depth_attachment=depths), depths, amount
        self._kept.move_to_end(key)
        self._used[name] = self._kept[key]
        return self._kept[key]

    def wanted(self) -> list[str]:
        """What a program is built for to look into these maps."""
        return [
            *(["SHADED"] if self.sun_view is not None else []), *([f"LAMPS {self._lamps}", "LAMPS_SHADED"] if self._lamps else []),
            *(["FADING"] if self.fading else []),
        ]  # fmt: skip

    def tell(self, program: Any, light: Light) -> None:
        """Tell a program of the maps."""
        for name, (_, depths, amount) in self._used.items():
            place = {"sun": _SHADOW, "lamps": _LAMP, "faint": _FAINT, "faint lamps": _LAMP_FAINT}[name]
            depths.use(place)
            if name == "sun":
                depths.use(_NEAR)
                self._near.use(_NEAR)
            if amount is not None:
                amount.use(place + 1 if name == "faint" else _LAMP_AMOUNT)
        values: dict[str, Any] = {
            "shadow": _SHADOW, "shadow_near": _NEAR, "lamp_shadow": _LAMP, "faint_shadow": _FAINT, "faint_amount": _AMOUNT,
            "lamp_faint": _LAMP_FAINT, "lamp_amount": _LAMP_AMOUNT, "texel": 1.0 / self._side,
            "lamp_texel": 2.0 / (RIGHT_ANGLE * self._tile), "lamp_span": self._span,
        }  # fmt: skip
        if self.sun_view is not None:
            side, down, away = (self.sun_view[n, :3] for n in range(3))
            px_a_texel = 2.0 / float(np.linalg.norm(side)) / self._side
            values |= {
                "sun_view": columns(self.sun_view), "px_a_texel": px_a_texel, "soft_texels": light.soft / 2 / px_a_texel,
                "nearness_a_px": float(np.linalg.norm(away)) / 2, "sun_side": tuple((side / np.linalg.norm(side)).tolist()),
                "sun_down": tuple((down / np.linalg.norm(down)).tolist()),
            }  # fmt: skip
        if light.lamps:
            # A list of one is told as that one.
            several = len(light.lamps) > 1
            at, shine, reach = ([lamp.at for lamp in light.lamps], [lamp.light for lamp in light.lamps],
                                [(lamp.reach, lamp.soft / 2) for lamp in light.lamps])  # fmt: skip
            values |= {"lamp_at": at if several else at[0], "lamp_light": shine if several else shine[0],
                       "lamp_reach": reach if several else reach[0]}  # fmt: skip
        tell(program, values)
