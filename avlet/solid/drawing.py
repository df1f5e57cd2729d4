"""Drawing a space with OpenGL 3.3 on EGL, without a window: multisampled, with depth and a shadow map.

All of it happens on one thread of its own in each process, as a context belongs to a thread. Where there is no OpenGL, ``fault``
says why, and nothing is drawn.
"""

import contextlib
import functools
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
from avlet.solid.shaders import BODY_FRAGMENT, BODY_VERTEX, SHADOW_FRAGMENT, SHADOW_VERTEX

SAMPLES = 4
SHADOW_SIDE = 2048
"""Texels of a shadow map's side."""
_MOST_TARGETS, _MOST_TEXTURES = 4, 32
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
        self.body: Any = self.gl.program(vertex_shader=BODY_VERTEX, fragment_shader=BODY_FRAGMENT)
        self.shade: Any = self.gl.program(vertex_shader=SHADOW_VERTEX, fragment_shader=SHADOW_FRAGMENT)
        self.meshes: weakref.WeakKeyDictionary[Mesh, tuple[Any, Any]] = weakref.WeakKeyDictionary()
        self.textures: OrderedDict[int, tuple[weakref.ref[Texture], Any]] = OrderedDict()
        self.targets: OrderedDict[tuple[int, int], tuple[Any, Any]] = OrderedDict()
        self.map = self.gl.depth_texture((SHADOW_SIDE, SHADOW_SIDE))
        self.map.compare_func = "<="
        self.map.filter = (moderngl.LINEAR, moderngl.LINEAR)
        self.map.repeat_x = self.map.repeat_y = False
        self.shadows = self.gl.framebuffer(depth_attachment=self.map)
        self.blank = self.gl.texture((1, 1), 4, bytes(4))
        self.moderngl = moderngl

    def of_mesh(self, mesh: Mesh) -> tuple[Any, Any]:
        """A mesh in the card's memory, for both programs; kept while the mesh lives."""
        if mesh not in self.meshes:
            buffer = self.gl.buffer(np.ascontiguousarray(mesh.vertices, np.float32).tobytes())
            drawn = self.gl.vertex_array(self.body, [(buffer, "4f 3f 1f", "place", "normal", "part")])
            shaded = self.gl.vertex_array(self.shade, [(buffer, "4f 16x", "place")])
            self.meshes[mesh] = drawn, shaded
            weakref.finalize(mesh, _let_go, (drawn, shaded, buffer))
        return self.meshes[mesh]

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
        """What is drawn into, and what that is resolved into."""
        key = width, height
        if key not in self.targets:
            plain = self.gl.simple_framebuffer(key, 4)
            drawn = plain
            if self.samples > 1:
                colours = self.gl.renderbuffer(key, 4, samples=self.samples)
                drawn = self.gl.framebuffer([colours], self.gl.depth_renderbuffer(key, samples=self.samples))
            self.targets[key] = drawn, plain
            while len(self.targets) > _MOST_TARGETS:
                for old in {*self.targets.popitem(last=False)[1]}:
                    old.release()
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
        self._tell_light(stage, view_box, sun_view)
        behind = [body for body in bodies if not _through(body)]
        clear = sorted((body for body in bodies if _through(body)), key=lambda body: -_far(stage, body))
        self.gl.depth_func = "<="
        for number, body in enumerate((*behind, *clear)):
            drawn.depth_mask = not _through(body)
            self.gl.polygon_offset = 0.0, -2.0 * number  # of what lies in one plane the later lies over the earlier, as without a space
            self._draw_body(body)
        drawn.depth_mask = True
        self.gl.polygon_offset = 0.0, 0.0
        if drawn is not plain:
            self.gl.copy_framebuffer(plain, drawn)
        pixels = np.frombuffer(plain.read(components=4, alignment=1), np.uint8).reshape(height, width, 4)
        return pixels.copy()  # rows from the top: the view is the other way round already

    def _tell_light(self, stage: Stage, view_box: tuple[float, float, float, float], sun_view: Floats | None) -> None:
        program, light = self.body, stage.light
        program["view"].write(_to_clip(stage, view_box))
        program["eye"].value = tuple(stage.view.eye.tolist())
        program["sky"].value, program["sun"].value = light.sky, light.sun
        program["to_sun"].value, program["on_sheet"].value = light.to_sun, light.on_the_sheet
        program["shadow"].value, program["picture"].value = 0, 1
        self.map.use(0)
        program["texel"].value = 0.0 if sun_view is None else 1.0 / SHADOW_SIDE
        if sun_view is not None:
            px_a_texel = 2.0 / float(np.linalg.norm(sun_view[0, :3])) / SHADOW_SIDE
            program["sun_view"].write(_columns(sun_view))
            program["soft_texels"].value = light.soft / 2 / px_a_texel
            program["px_a_texel"].value = px_a_texel
            program["nearness_a_px"].value = float(np.linalg.norm(sun_view[2, :3])) / 2
            for name, row in (("sun_side", sun_view[0, :3]), ("sun_down", sun_view[1, :3])):
                program[name].value = tuple((row / np.linalg.norm(row)).tolist())

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
            self.of_mesh(body.mesh)[1].render()
        return sun_view

    def _draw_body(self, body: Body) -> None:
        program = self.body
        program["body"].write(_columns(body.matrix))
        program["normals"].write(np.linalg.pinv(body.matrix[:3, :3]).astype("f4").tobytes())
        program["depth"].value, program["edge_share"].value = body.depth, edge_share(body.mesh.edge, body.depth)
        program["front"].value, program["side"].value, program["edge"].value = body.front, body.side, body.edge
        program["opacity"].value, program["shine"].value, program["sharp"].value = body.opacity, body.shine, body.sharp
        program["shows_shadows"].value = float(body.only_shadows)
        program["covered"].value = float(body.texture is not None)
        if body.texture is not None:
            left, top, right, bottom = body.texture.box
            program["cover"].value = left, top, right - left, bottom - top
        (self.blank if body.texture is None else self.of_texture(body.texture)).use(1)
        self.of_mesh(body.mesh)[0].render()


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


def _let_go(held: tuple[Any, ...]) -> None:
    """Release what lies in the card's memory, on the thread that it belongs to."""
    with contextlib.suppress(RuntimeError):  # the process is ending
        _thread().submit(lambda: [one.release() for one in held])


_starting = threading.Lock()


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
