"""The EBU's OGraf server interface, v1: graphics are the titles of the library, renderers are pages of this server.

Held to the definitions of npm ``ograf`` 1.2.0. Errors are problem details with the engine's sentences.
"""

import datetime
from typing import Any

import msgspec
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import Response
from starlette.routing import Route

from avlet import __version__
from avlet.media.live import answers_of_data, live_manifest
from avlet.serve.air import LAYERS, Air, Loaded, Renderer
from avlet.serve.api import read, titles_of, told, while_there
from avlet.serve.problems import Refused
from avlet.serve.titles import Asked, NoTitleError
from avlet.storage.package import Opened

_PREFIX = "avlet."
_ACTIONS = ("cut-in", "cut-out")
_TARGETS = {"type": "integer", "title": "Layer", "minimum": 1, "maximum": LAYERS, "default": 1}


class Params(msgspec.Struct):
    """What an action is given."""

    data: Any = None
    payload: Any = None
    delta: int | None = None
    goto: int | None = None
    skipAnimation: bool = False  # noqa: N815 - the specification's name


class Action(msgspec.Struct):
    """An action on a title that is loaded."""

    renderTarget: Any  # noqa: N815
    graphicInstanceId: str  # noqa: N815
    params: Params = msgspec.field(default_factory=Params)


class Load(msgspec.Struct):
    """A title that is to be loaded."""

    renderTarget: Any  # noqa: N815
    graphicId: str  # noqa: N815
    params: Params = msgspec.field(default_factory=Params)


class Filter(msgspec.Struct):
    """Which titles are to be cleared."""

    renderTarget: Any = None  # noqa: N815
    graphicId: str | None = None  # noqa: N815
    graphicInstanceId: str | None = None  # noqa: N815


class Clear(msgspec.Struct):
    """What is to be cleared: all, or what a filter fits."""

    filters: list[Filter] = []


def routes() -> list[Route]:
    """The addresses below ``/ograf/v1``."""
    target = "/renderers/{renderer}/target/graphicInstance"
    renderer = "/renderers/{renderer}"
    return [
        Route("/", server), Route("/graphics", graphics), Route("/graphics/{graphic}", graphic),
        Route("/graphics/{graphic}", no_delete, methods=["DELETE"]), Route("/renderers", renderers), Route(renderer, renderer_told),
        Route(f"{renderer}/target", target_told), Route(f"{renderer}/customActions/{{action}}", no_action, methods=["POST"]),
        Route(f"{target}/clear", clear, methods=["PUT"]), Route(f"{target}/load", load, methods=["POST"]),
        Route(f"{target}/updateAction", update, methods=["POST"]), Route(f"{target}/playAction", play, methods=["POST"]),
        Route(f"{target}/stopAction", stop, methods=["POST"]), Route(f"{target}/customActions/{{action}}", custom, methods=["POST"]),
    ]  # fmt: skip


def _air(request: Request) -> Air:
    made: Air = request.app.state.air
    return made


def _layer(target: Any) -> int:
    if not isinstance(target, int) or isinstance(target, bool) or not 1 <= target <= LAYERS:
        raise Refused(404, f"A render target is a layer, 1 to {LAYERS}.")
    return target


def _stem(graphic: str) -> str:
    if not graphic.startswith(_PREFIX):
        raise NoTitleError(f"There is no graphic “{graphic[:80]}”.")
    return graphic.removeprefix(_PREFIX)


async def server(request: Request) -> Response:
    """Who this is."""
    return told({"name": "Avlet", "description": "Titles with the engine's own pictures", "version": __version__})


async def graphics(request: Request) -> Response:
    """All titles that can be loaded."""
    entries = await run_in_threadpool(titles_of(request).entries)
    listed = [{"id": f"{_PREFIX}{name}", "name": one.name, "description": one.note} for name, one in entries.items() if not one.fault]
    return told({"graphics": listed})


async def graphic(request: Request) -> Response:
    """A title's manifest."""
    name = request.path_params["graphic"]
    entry, stamp, opened = await run_in_threadpool(titles_of(request).opened, _stem(name))
    manifest = {**live_manifest(opened.template, {}, opened.template.length, entry.version), "id": name}
    changed = datetime.datetime.fromtimestamp(stamp[0] / 1e9, datetime.UTC).isoformat()
    return told({"graphic": manifest, "metadata": {"createdAt": changed}})


async def no_delete(request: Request) -> Response:
    """Titles come and go with the library."""
    raise Refused(403, "Titles are taken out of the library in Avlet, not from here.")


async def renderers(request: Request) -> Response:
    """All renderers."""
    return told({"renderers": [{"id": one.name, "name": one.name} for one in _air(request).renderers.values()]})


async def renderer_told(request: Request) -> Response:
    """A renderer: whether a page shows it, and what is on its layers."""
    one = _air(request).renderer(request.path_params["renderer"])
    fine = {"status": "OK", "message": f"{len(one.pages)} page{'s' if len(one.pages) != 1 else ''} connected"}
    nobody = {"status": "WARNING", "message": f"No page shows it. Open /air/{one.name}"}
    layers = [_told_target(one, layer) for layer in range(1, LAYERS + 1)]
    status = fine if one.pages else nobody
    return told({"renderer": {"id": one.name, "name": one.name, "status": status, "renderTargetSchema": _TARGETS, "renderTargets": layers}})


async def target_told(request: Request) -> Response:
    """What is on one layer."""
    one = _air(request).renderer(request.path_params["renderer"])
    words = request.query_params.get("renderTarget", "")
    return told(_told_target(one, _layer(int(words) if words.isascii() and words.isdigit() else None)))


async def no_action(request: Request) -> Response:
    """Renderers have no actions of their own."""
    raise Refused(404, "This renderer has no actions of its own.")


async def load(request: Request) -> Response:
    """Load a title: when this answers, it is painted and every page has its pictures."""
    renderer, wanted = _air(request).renderer(request.path_params["renderer"]), await read(request, Load)
    layer, stem = _layer(wanted.renderTarget), _stem(wanted.graphicId)
    opened, asked = await _asked(request, stem, wanted.params.data)
    data = wanted.params.data or {}
    made = await while_there(
        request, _air(request).load(renderer, layer, wanted.graphicId, opened.template.name, asked, opened.template.frame.width, data)
    )
    return _done(made)


async def update(request: Request) -> Response:
    """Other answers for a title that is loaded."""
    renderer, one, wanted = await _action(request)
    opened, asked = await _asked(request, _stem(one.graphic), wanted.params.data)
    changing = _air(request).update(
        renderer, one, asked, opened.template.frame.width, wanted.params.data or {}, wanted.params.skipAnimation
    )
    await while_there(request, changing)
    return _done(one)


async def play(request: Request) -> Response:
    """On air."""
    renderer, one, wanted = await _action(request)
    if wanted.params.goto not in (None, 0):
        raise Refused(400, "This title has one step, which is 0.")
    await _air(request).play(renderer, one, wanted.params.skipAnimation)
    return _done(one, currentStep=0)


async def stop(request: Request) -> Response:
    """Out."""
    renderer, one, wanted = await _action(request)
    await _air(request).stop(renderer, one, wanted.params.skipAnimation)
    return _done(one)


async def custom(request: Request) -> Response:
    """Cut in, or cut out."""
    action = request.path_params["action"]
    if action not in _ACTIONS:
        raise Refused(404, f"This title has no action “{action[:40]}”. It has {' and '.join(_ACTIONS)}.")
    renderer, one, _ = await _action(request)
    await (_air(request).play if action == "cut-in" else _air(request).stop)(renderer, one, True)
    return _done(one)


async def clear(request: Request) -> Response:
    """Take titles off at once: all, or those that a filter fits."""
    renderer, wanted = _air(request).renderer(request.path_params["renderer"]), await read(request, Clear)
    gone = [one for one in renderer.loaded.values() if not wanted.filters or any(_fits(one, each) for each in wanted.filters)]
    await _air(request).clear(renderer, gone)
    return told({"graphicInstances": [{"renderTarget": one.layer, "graphicInstanceId": one.id} for one in gone]})


def _fits(one: Loaded, wanted: Filter) -> bool:
    pairs = ((wanted.renderTarget, one.layer), (wanted.graphicId, one.graphic), (wanted.graphicInstanceId, one.id))
    return all(asked is None or asked == given for asked, given in pairs)


async def _action(request: Request) -> tuple[Renderer, Loaded, Action]:
    air = _air(request)
    renderer, wanted = air.renderer(request.path_params["renderer"]), await read(request, Action)
    return renderer, air.instance(renderer, _layer(wanted.renderTarget), wanted.graphicInstanceId), wanted


async def _asked(request: Request, stem: str, data: Any) -> tuple[Opened, Asked]:
    def work() -> tuple[Opened, Asked]:
        _, _, opened = titles_of(request).opened(stem)
        return titles_of(request).asked(stem, answers_of_data(opened.template, data), {}, None)

    return await run_in_threadpool(work)


def _told_target(renderer: Renderer, layer: int) -> dict[str, Any]:
    return {"renderTarget": layer, "name": f"Layer {layer}", "graphicInstances": [_told_loaded(one) for one in renderer.on(layer)]}


def _told_loaded(one: Loaded) -> dict[str, Any]:
    own = {"state": one.state, "data": dict(one.data)}
    return {"graphicInstanceId": one.id, "graphic": {"id": one.graphic, "name": one.name}, "v_avlet": own}


def _done(one: Loaded, **more: Any) -> Response:
    return told({"graphicInstanceId": one.id, "statusCode": 200, **more})
