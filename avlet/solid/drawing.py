"""Drawing a space with OpenGL 3.3 on EGL, without a window: multisampled, with depth and a shadow map.

All of it happens on one thread of its own in each process, as a context belongs to a thread. Where there is no OpenGL, ``fault``
says why, and nothing is drawn.
"""

import contextlib
import functools
import math
import os
import threading
import weakref
from collections import OrderedDict
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import numpy as np

from avlet.arrays import Floats
from avlet.errors import RenderError
from avlet.solid.bodies import Body, Light, Stage, Texture
from avlet.solid.meshes import Mesh, edge_share
from avlet.solid.shaders import BODY_FRAGMENT, BODY_VERTEX, SHADOW_FRAGMENT, SHADOW_VERTEX, built

SAMPLES = 4
SHADOW_SIDE = 2048
"""Texels of a shadow map's side."""
_MOST_TARGETS, _MOST_TEXTURES, _ROUGHLY = 4, 32, 128
_NEAR = 0.02
INSTALL = "Install what draws it: apt-get install libegl1 libgl1-mesa-dri"


class NoDrawingError(RenderError):
    """There is no OpenGL here; why, and what to install."""


class _Drawer:
    """The context and what lies in it. Used by its own thread alone."""

    def __init__(self) -> None:
        import moderngl

        library: Any = moderngl
        self.gl = library.create_context(standalone=True, backend="egl", require=330)
        self.words = str(self.gl.info.get("GL_RENDERER", "unknown"))
        self.samples = min(SAMPLES, self.gl.max_samples)
        self.bodies: dict[tuple[str, ...], Any] = {}
        self.shade: Any = self.gl.program(vertex_shader=built(SHADOW_VERTEX), fragment_shader=built(SHADOW_FRAGMENT))
        self.meshes: weakref.WeakKeyDictionary[Mesh, dict[Any, Any]] = weakref.WeakKeyDictionary()
        self.textures: OrderedDict[int, tuple[weakref.ref[Texture], Any]] = OrderedDict()
        self.targets: OrderedDict[tuple[int, int], tuple[Any, Any]] = OrderedDict()
        self.map = self.gl.depth_texture((SHADOW_SIDE, SHADOW_SIDE))
        self.map.compare_func = "<="
        self.map.filter = (moderngl.LINEAR, moderngl.LINEAR)
        self.map.repeat_x = self.map.repeat_y = False
        self.shadows = self.gl.framebuffer(depth_attachment=self.map)
        self.moderngl = moderngl

    def of_mesh(self, mesh: Mesh, program: Any) -> Any:
        """A mesh in the card's memory, for a program; kept while the mesh lives."""
        if mesh not in self.meshes:
            buffer = self.gl.buffer(np.ascontiguousarray(mesh.vertices, np.float32).tobytes())
            self.meshes[mesh] = {None: buffer}
            weakref.finalize(mesh, _let_go, self.meshes[mesh])
        kept = self.meshes[mesh]
        if program not in kept:
            inputs = [name for name in ("place", "normal", "part") if name in program]
            sizes = {"place": "4f", "normal": "3f", "part": "1f"}
            gaps = {"place": "16x", "normal": "12x", "part": "4x"}
            layout = " ".join(sizes[name] if name in inputs else gaps[name] for name in sizes)
            kept[program] = self.gl.vertex_array(program, [(kept[None], layout, *inputs)])
        return kept[program]

    def program_for(self, body: Body, shaded: bool) -> Any:
        """The program that draws a body: with no more in it than that needs."""
        wanted = [name for name, there in (
            ("SHADED", shaded), ("COVERED", body.texture is not None), ("SHINING", body.shine > 0), ("ONLY_SHADOWS", body.only_shadows),
        ) if there]  # fmt: skip
        key = tuple(wanted)
        if key not in self.bodies:
            self.bodies[key] = self.gl.program(vertex_shader=built(BODY_VERTEX, *key), fragment_shader=built(BODY_FRAGMENT, *key))
        return self.bodies[key]

    def of_texture(self, texture: Texture) -> Any:
        """A picture in the card's memory."""
        known = self.textures.get(id(texture))
        if known is None or known[0]() is not texture:
            height, width, _ = texture.pixels.shape
            made = self.gl.texture((width, height), 4, np.ascontiguousarray(texture.pixels).tobytes())
            made.build_mipmaps()
            made.filter = (self.moderngl.LINEAR_MIPMAP_LINEAR, self.moderngl.LINEAR)
            made.repeat_x = made.repeat_y = False
            self.textures[id(texture)] = known = weakref.ref(texture), made
            while len(self.textures) > _MOST_TEXTURES:
                self.textures.popitem(last=False)[1][1].release()
        return known[1]

    def target(self, width: int, height: int) -> tuple[Any, Any]:
        """What is drawn into, and what that is resolved into: as large at least, so that boxes that change share one."""
        key = -(-width // _ROUGHLY) * _ROUGHLY, -(-height // _ROUGHLY) * _ROUGHLY
        if key not in self.targets:
            plain = self.gl.simple_framebuffer(key, 4)
            drawn = plain
            if self.samples > 1:
                colours = self.gl.renderbuffer(key, 4, samples=self.samples)
                drawn = self.gl.framebuffer([colours], self.gl.depth_renderbuffer(key, samples=self.samples))
            self.targets[key] = drawn, plain
            while len(self.targets) > _MOST_TARGETS:
                for old in {*self.targets.popitem(last=False)[1]}:
                    held = (*old.color_attachments, old.depth_attachment)
                    old.release()
                    for one in held:  # what a target draws into is not let go with it
                        one.release()
        self.targets.move_to_end(key)
        return self.targets[key]

    # Drawing

    def draw(self, stage: Stage, view_box: tuple[float, float, float, float], width: int, height: int) -> np.ndarray:
        """The picture of a stage within a box of the frame, premultiplied RGBA."""
        bodies = [body for body in stage.bodies if not body.mesh.empty and body.opacity > 0]
        sun_view = self._shadow_map(bodies, stage.light) if stage.light.throws else None
        drawn, plain = self.target(width, height)
        drawn.use()
        self.gl.viewport = (0, 0, width, height)
        drawn.clear(0.0, 0.0, 0.0, 0.0, depth=1.0)
        self.gl.enable_only(self.moderngl.DEPTH_TEST | self.moderngl.BLEND)
        self.gl.blend_func = self.moderngl.ONE, self.moderngl.ONE_MINUS_SRC_ALPHA
        told: set[Any] = set()
        behind = [body for body in bodies if not _through(body)]
        clear = sorted((body for body in bodies if _through(body)), key=lambda body: -_far(stage, body))
        self.gl.depth_func = "<="
        for number, body in enumerate((*behind, *clear)):
            drawn.depth_mask = not _through(body)
            self.gl.polygon_offset = 0.0, -2.0 * number  # of what lies in one plane the later lies over the earlier, as without a space
            for shaded, area in self._passes(stage, body, sun_view is not None, view_box, width, height):
                program = self.program_for(body, shaded)
                if program not in told:
                    self._tell_light(program, stage, view_box, sun_view)
                    told.add(program)
                drawn.scissor = area
                self._draw_body(program, body)
        drawn.scissor = None
        drawn.depth_mask = True
        self.gl.polygon_offset = 0.0, 0.0
        if drawn is not plain:
            self.gl.copy_framebuffer(plain, drawn)
        pixels = np.frombuffer(plain.read((0, 0, width, height), components=4, alignment=1), np.uint8).reshape(height, width, 4)
        return pixels.copy()  # rows from the top: the view is the other way round already

    @staticmethod
    def _passes(
        stage: Stage, body: Body, sunny: bool, view_box: tuple[float, float, float, float], width: int, height: int
    ) -> list[tuple[bool, tuple[int, int, int, int] | None]]:
        """How a body is drawn: with shadows or without, within px of the picture or all of it.

        Shadows cost most of a picture. On a sheet they are looked for only where they may fall.
        """
        if not sunny:
            return [(False, None)]
        fall = shadows_on(stage, body)
        if fall is None or (_through(body) and not body.only_shadows):
            return [(True, None)]
        left, top, right, bottom = view_box
        across, down = width / (right - left), height / (bottom - top)
        x, y = max(0, math.floor((fall[0] - left) * across)), max(0, math.floor((fall[1] - top) * down))
        wide, high = min(width, math.ceil((fall[2] - left) * across)) - x, min(height, math.ceil((fall[3] - top) * down)) - y
        there: list[tuple[bool, tuple[int, int, int, int] | None]] = [(True, (x, y, wide, high))] if wide > 0 and high > 0 else []
        return there if body.only_shadows else [(False, None), *there]

    def _tell_light(self, program: Any, stage: Stage, view_box: tuple[float, float, float, float], sun_view: Floats | None) -> None:
        light = stage.light
        program["view"].write(_to_clip(stage, view_box))
        values: dict[str, Any] = {
            "eye": tuple(stage.view.eye.tolist()), "sky": light.sky, "sun": light.sun, "to_sun": light.to_sun,
            "on_sheet": light.on_the_sheet, "shadow": 0, "picture": 1, "texel": 1.0 / SHADOW_SIDE,
        }  # fmt: skip
        self.map.use(0)
        if sun_view is not None:
            px_a_texel = 2.0 / float(np.linalg.norm(sun_view[0, :3])) / SHADOW_SIDE
            values |= {
                "px_a_texel": px_a_texel, "soft_texels": light.soft / 2 / px_a_texel,
                "nearness_a_px": float(np.linalg.norm(sun_view[2, :3])) / 2,
                "sun_side": tuple((sun_view[0, :3] / np.linalg.norm(sun_view[0, :3])).tolist()),
                "sun_down": tuple((sun_view[1, :3] / np.linalg.norm(sun_view[1, :3])).tolist()),
            }  # fmt: skip
            _write(program, "sun_view", _columns(sun_view))
        _tell(program, values)

    def _shadow_map(self, bodies: Sequence[Body], light: Light) -> Floats | None:
        casting = [body for body in bodies if body.casts and not body.only_shadows and body.opacity > 0.5]
        if not casting:
            return None
        sun_view = _seen_by_sun([*casting], light)
        self.shadows.use()
        self.shadows.clear(depth=1.0)
        self.gl.enable_only(self.moderngl.DEPTH_TEST)
        self.shade["sun_view"].write(_columns(sun_view))
        for body in casting:
            self.shade["body"].write(_columns(body.matrix))
            self.shade["depth"].value, self.shade["edge_share"].value = body.depth, edge_share(body.mesh.edge, body.depth)
            self.of_mesh(body.mesh, self.shade).render()
        return sun_view

    def _draw_body(self, program: Any, body: Body) -> None:
        program["body"].write(_columns(body.matrix))
        _write(program, "normals", np.linalg.pinv(body.matrix[:3, :3]).astype("f4").tobytes())
        values: dict[str, Any] = {
            "depth": body.depth, "edge_share": edge_share(body.mesh.edge, body.depth), "front": body.front, "side": body.side,
            "edge": body.edge, "opacity": body.opacity, "shine": body.shine, "sharp": body.sharp,
        }  # fmt: skip
        if body.texture is not None:
            left, top, right, bottom = body.texture.box
            values["cover"] = left, top, right - left, bottom - top
            self.of_texture(body.texture).use(1)
        _tell(program, values)
        self.of_mesh(body.mesh, program).render()


def _tell(program: Any, values: dict[str, Any]) -> None:
    """Give a program what it asks for of these values."""
    for name, value in values.items():
        if name in program:
            program[name].value = value


def _write(program: Any, name: str, data: bytes) -> None:
    if name in program:
        program[name].write(data)


def shadows_on(stage: Stage, body: Body) -> tuple[float, float, float, float] | None:
    """Where shadows may fall on a flat body: left, top, right, bottom in px of the frame; None where that may be anywhere."""
    if not body.mesh.flat or np.abs(body.matrix[3] - [0, 0, 0, 1]).max() > 1e-9:
        return None
    normal = np.cross(body.matrix[:3, 0], body.matrix[:3, 1])
    to_sun = np.array(stage.light.to_sun)
    lean = float(normal @ to_sun)
    if abs(lean) < 0.05 * float(np.linalg.norm(normal)):
        return None
    on_it = body.matrix[:3, 3] + body.matrix[:3, 2] * body.depth
    casting = [other for other in stage.bodies if other is not body and other.casts and not other.mesh.empty and other.opacity > 0]
    corners = np.concatenate([_corners(other) for other in casting]) if casting else np.zeros((0, 3))
    ways = (corners - on_it) @ normal / lean
    if not (ways > 0).any():
        return 0.0, 0.0, 0.0, 0.0
    fallen = np.column_stack([corners - to_sun * np.maximum(ways, 0.0)[:, None], np.ones(len(corners))]) @ stage.view.matrix.T
    if (fallen[:, 3] <= _NEAR).any():
        return None
    flat = fallen[:, :2] / fallen[:, 3:]
    room = 4.0 + 2.0 * stage.light.soft / float(fallen[:, 3].min())
    (left, top), (right, bottom) = flat.min(axis=0) - room, flat.max(axis=0) + room
    return float(left), float(top), float(right), float(bottom)


def _through(body: Body) -> bool:
    """Whether one sees through a body."""
    return body.opacity < 1 or body.only_shadows or (body.texture is not None and bool((body.texture.pixels[..., 3] < 255).any()))


def _middle(body: Body) -> Floats:
    points = body.mesh.vertices[:, :2]
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    found: Floats = (body.matrix @ np.array([*middle, body.depth / 2, 1.0]))[:3]
    return found


def _far(stage: Stage, body: Body) -> float:
    """How far a body is from the eye."""
    return float(np.linalg.norm(_middle(body) - stage.view.eye))


def _columns(matrix: Floats) -> bytes:
    """A matrix as OpenGL reads it: column after column."""
    return matrix.T.astype("f4").tobytes()


def _to_clip(stage: Stage, box: tuple[float, float, float, float]) -> bytes:
    """From space to the card's clip space, y down so that the first row that is read is the top one."""
    left, top, right, bottom = box
    m = stage.view.matrix
    far = max(2.0, _farthest(stage) * 1.05)
    clip = np.zeros((4, 4))
    clip[0] = 2 / (right - left) * m[0] - (right + left) / (right - left) * m[3]
    clip[1] = 2 / (bottom - top) * m[1] - (bottom + top) / (bottom - top) * m[3]
    clip[2] = (far + _NEAR) / (far - _NEAR) * m[3] - np.array([0, 0, 0, 2 * far * _NEAR / (far - _NEAR)])
    clip[3] = m[3]
    return _columns(clip)


def _corners(body: Body) -> Floats:
    """Eight corners of a body in space, (8, 3)."""
    v = body.mesh.vertices
    low, high = v[:, :2].min(axis=0), v[:, :2].max(axis=0)
    z = v[:, 2] * body.depth + v[:, 3] * edge_share(body.mesh.edge, body.depth)
    box = np.array([(x, y, d, 1.0) for x in (low[0], high[0]) for y in (low[1], high[1]) for d in (float(z.min()), float(z.max()))])
    whole = box @ body.matrix.T
    found: Floats = whole[:, :3] / whole[:, 3:]
    return found


def _farthest(stage: Stage) -> float:
    """The largest w of all that is drawn."""
    points = [_corners(body) for body in stage.bodies if not body.mesh.empty]
    if not points:
        return 1.0
    all_of_them = np.concatenate(points)
    return float((all_of_them @ stage.view.matrix[3, :3] + stage.view.matrix[3, 3]).max())


def _seen_by_sun(casting: Sequence[Body], light: Light) -> Floats:
    """From space to what the sun sees, all that throws shadows within −1 to 1."""
    to_sun = np.array(light.to_sun)
    side = np.cross(np.array([0.0, 1.0, 0.0]) if abs(to_sun[1]) < 0.95 else np.array([1.0, 0.0, 0.0]), to_sun)
    side /= np.linalg.norm(side)
    axes = np.stack([side, np.cross(to_sun, side), -to_sun])
    seen = np.concatenate([_corners(body) for body in casting]) @ axes.T
    low, high = seen.min(axis=0) - 4 - light.soft, seen.max(axis=0) + 4 + light.soft
    high[2] += 40_000.0  # what shadows fall on may lie far behind
    half = (high - low) / 2
    half[:2] = half[:2].max()  # texels are square
    half[2] = (high[2] - low[2]) / 2
    made = np.eye(4)
    made[:3, :3] = axes / half[:, None]
    made[:3, 3] = -((low + high) / 2) / half
    return made


def _let_go(held: dict[Any, Any]) -> None:
    """Release what lies in the card's memory, on the thread that it belongs to."""
    with contextlib.suppress(RuntimeError):  # the process is ending
        _thread().submit(lambda: [one.release() for one in held.values()])


_starting = threading.Lock()
_left_behind: list[str] = []


@functools.cache
def _thread() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(1, "solid")


@functools.cache
def _made() -> "_Drawer | str":
    """In its own thread: the drawer, or why there is none."""
    try:
        return _Drawer()
    except Exception as error:  # whatever a driver says
        return f"Nothing here draws solid letters ({type(error).__name__}: {str(error)[:200]}). {INSTALL}."


def _drawer() -> "_Drawer | str":
    if _left_behind:
        return _left_behind[0]
    with _starting:
        return _thread().submit(_made).result()


def fault() -> str:
    """Why nothing solid can be drawn here, and what to install; empty where it can."""
    made = _drawer()
    return made if isinstance(made, str) else ""


def drawn_with() -> str:
    """What draws, in words; empty where nothing does."""
    made = _drawer()
    return "" if isinstance(made, str) else made.words


def draw(stage: Stage, view_box: tuple[float, float, float, float], width: int, height: int) -> np.ndarray:
    """The picture (height, width, 4) of a stage within a box (left, top, right, bottom) of the frame, premultiplied RGBA.

    Raises ``NoDrawingError`` where there is no OpenGL.
    """
    made = _drawer()
    if isinstance(made, str):
        raise NoDrawingError(made)
    return _thread().submit(made.draw, stage, view_box, width, height).result()


def _begin_anew() -> None:
    """In a copy of this process: its thread stayed behind, and drivers do not stand that what they had begun goes on in a copy."""
    if _made.cache_info().currsize:
        _left_behind.append("Nothing draws solid letters in a copy of a process that does.")
    _thread.cache_clear()
    _made.cache_clear()


os.register_at_fork(after_in_child=_begin_anew)
