"""What lies in the graphics card's memory: programs, meshes, pictures, what is drawn into. Used by the drawing thread alone."""

import weakref
from collections import OrderedDict
from collections.abc import Callable
from typing import Any

import numpy as np

from avlet.solid.bodies import Texture
from avlet.solid.meshes import Mesh
from avlet.solid.shaders import built

_MOST_TARGETS, _MOST_TEXTURES, _ROUGHLY = 4, 32, 128
MOST_PROGRAMS = 6
"""Programs that are kept besides those that a picture needs. Where there is no graphics hardware each takes some 10 MB of machine code."""
MOST_LET_GO = 8
"""Programs that one context has let go. After that it is worn: drivers keep some of each until the context goes."""
_MOST_PIXELS = 4_600_000
"""px of all targets that are kept, the one in use besides: some 8 bytes each."""
_SIZES = {"place": "4f", "normal": "3f", "part": "1f"}
_GAPS = {"place": "16x", "normal": "12x", "part": "4x"}


class GraphicsCard:
    """An OpenGL context, and what has been brought there. ``let_go`` is called with what is to be released, from any thread."""

    def __init__(self, let_go: Callable[[dict[Any, Any]], None]) -> None:
        import moderngl

        self.moderngl: Any = moderngl
        self.gl: Any = self.moderngl.create_context(standalone=True, backend="egl", require=330)
        self.words = str(self.gl.info.get("GL_RENDERER", "unknown"))
        self.largest = int(self.gl.info.get("GL_MAX_RENDERBUFFER_SIZE", 4096))
        self._let_go = let_go
        self._programs: OrderedDict[tuple[str, ...], Any] = OrderedDict()
        self._meshes: weakref.WeakKeyDictionary[Mesh, dict[Any, Any]] = weakref.WeakKeyDictionary()
        self._textures: OrderedDict[int, tuple[weakref.ref[Texture], Any]] = OrderedDict()
        self.targets: OrderedDict[tuple[int, int], Any] = OrderedDict()
        self._mask: Any = None
        self._sheets: dict[Any, Any] = {}
        self._let_go_of = 0
        self._ends: list[weakref.finalize[..., Mesh]] = []
        self._needed: set[tuple[str, ...]] = set()

    @property
    def worn(self) -> bool:
        """Whether so many programs were let go that the driver holds much that it does not give back before its context goes."""
        return self._let_go_of > MOST_LET_GO

    def begin_picture(self) -> None:
        """Another picture: what the one before needed may be let go from now on."""
        self._needed.clear()

    def let_go(self) -> None:
        """Release everything, and the context with it. Nothing of this can be used any more."""
        for end in self._ends:  # meshes may outlive many contexts
            end.detach()
        for kept in self._meshes.values():
            for one in kept.values():
                one.release()
            kept.clear()
        for drawn in self.targets.values():
            _release(drawn)
        for _, texture in self._textures.values():
            texture.release()
        for sheet in self._sheets.values():
            sheet.release()
        for program in self._programs.values():
            program.release()
        if self._mask is not None:
            self._mask.release()
        self.gl.release()

    def program(self, vertex: str, fragment: str, *wanted: str) -> Any:
        """A program built for what is wanted of it. All that a picture needs are kept, and those used last: ask again for each picture."""
        key = vertex, fragment, *wanted
        self._needed.add(key)
        if key not in self._programs:
            made = self.gl.program(vertex_shader=built(vertex, *wanted), fragment_shader=built(fragment, *wanted))
            made.extra = frozenset(made)  # what it asks for, by name: to look that up in itself takes as long as to draw something
            self._programs[key] = made
            for old in [one for one in self._programs if one not in self._needed][: max(0, len(self._programs) - MOST_PROGRAMS)]:
                self._release_program(self._programs.pop(old))
        self._programs.move_to_end(key)
        return self._programs[key]

    def _release_program(self, program: Any) -> None:
        """Release a program, and what it takes of each mesh."""
        self._let_go_of += 1
        if program in self._sheets:
            self._sheets.pop(program).release()
        for kept in self._meshes.values():
            taken = kept.pop(program, None)
            if taken is not None:
                taken.release()
        program.release()

    def mesh(self, mesh: Mesh, program: Any) -> Any:
        """A mesh as a program takes it; kept while the mesh lives."""
        if mesh not in self._meshes:
            buffer = self.gl.buffer(np.ascontiguousarray(mesh.vertices, np.float32).tobytes())
            self._meshes[mesh] = {None: buffer}
            self._ends.append(weakref.finalize(mesh, self._let_go, self._meshes[mesh]))
            self._ends = [one for one in self._ends if one.alive] if len(self._ends) > 2 * len(self._meshes) + 64 else self._ends
        kept = self._meshes[mesh]
        if program not in kept:
            inputs = [name for name in _SIZES if name in program.extra]
            layout = " ".join(_SIZES[name] if name in inputs else _GAPS[name] for name in _SIZES)
            kept[program] = self.gl.vertex_array(program, [(kept[None], layout, *inputs)])
        return kept[program]

    def sheet(self, program: Any) -> Any:
        """Three corners round all that is seen, for a program that asks for nothing of them."""
        if program not in self._sheets:
            self._sheets[program] = self.gl.vertex_array(program, [])
        return self._sheets[program]

    def texture(self, texture: Texture) -> Any:
        """A picture on a front."""
        known = self._textures.get(id(texture))
        if known is None or known[0]() is not texture:
            height, width, _ = texture.pixels.shape
            made = self.gl.texture((width, height), 4, np.ascontiguousarray(texture.pixels).tobytes())
            made.build_mipmaps()
            made.filter = (self.moderngl.LINEAR_MIPMAP_LINEAR, self.moderngl.LINEAR)
            made.repeat_x = made.repeat_y = False
            self._textures[id(texture)] = known = weakref.ref(texture), made
            while len(self._textures) > _MOST_TEXTURES:
                self._textures.popitem(last=False)[1][1].release()
        return known[1]

    def mask(self, mask: np.ndarray) -> Any:
        """What a body is seen through, or what nothing is drawn behind, (height, width) of 0 to 255; one at a time."""
        height, width = mask.shape
        if self._mask is not None:
            self._mask.release()
        self._mask = self.gl.texture((width, height), 1, np.ascontiguousarray(mask).tobytes(), alignment=1)
        self._mask.filter = (self.moderngl.NEAREST, self.moderngl.NEAREST)
        self._mask.repeat_x = self._mask.repeat_y = False
        return self._mask

    def target(self, width: int, height: int) -> Any:
        """What is drawn into: as large at least, so that boxes that change share one."""
        key = min(self.largest, -(-width // _ROUGHLY) * _ROUGHLY), min(self.largest, -(-height // _ROUGHLY) * _ROUGHLY)
        if key not in self.targets:
            self.targets[key] = self.gl.simple_framebuffer(key, 4)
            while len(self.targets) > _MOST_TARGETS or (len(self.targets) > 1 and sum(w * h for w, h in self.targets) > _MOST_PIXELS):
                _release(self.targets.popitem(last=False)[1])
        self.targets.move_to_end(key)
        return self.targets[key]


def _release(target: Any) -> None:
    """Release a target, and what it draws into, which is not let go with it."""
    held = (*target.color_attachments, target.depth_attachment)
    target.release()
    for one in held:
        one.release()


def tell(program: Any, values: dict[str, Any]) -> None:
    """Give a program what it asks for of these values; bytes as they are."""
    for name, value in values.items():
        if name in program.extra:
            if isinstance(value, bytes):
                program[name].write(value)
            else:
                program[name].value = value
