"""The server: its addresses, its pages, and how it begins and ends."""

import contextlib
import re
from collections.abc import AsyncIterator, Awaitable, Callable
from pathlib import Path

from starlette.applications import Starlette
from starlette.middleware import Middleware
from starlette.requests import Request
from starlette.responses import FileResponse, Response
from starlette.routing import Mount, Route, Router, WebSocketRoute
from starlette.websockets import WebSocket

from avlet.media.live import GRAPHIC
from avlet.serve import api, live_api, ograf, table_api
from avlet.serve.air import Air
from avlet.serve.guard import Guard, Keys
from avlet.serve.problems import HANDLERS, Refused
from avlet.serve.studio import Studio
from avlet.serve.titles import Titles
from avlet.text.fonts import BUNDLED, font_files

_NAME = re.compile(r"[a-z0-9][a-z0-9-]{0,39}")
PAGES = Path(__file__).parent / "pages"
_KINDS = {".mjs": "text/javascript", ".css": "text/css", ".html": "text/html", ".svg": "image/svg+xml", ".ttf": "font/ttf"}


def make_app(library: Path, keys: Keys, workers: int = 2) -> Starlette:
    """A server of a library's titles."""

    @contextlib.asynccontextmanager
    async def running(app: Starlette) -> AsyncIterator[None]:
        app.state.studio = Studio(workers)
        app.state.air = Air(app.state.studio)
        app.state.studio.needed = app.state.air.reels
        await app.state.studio.begin()
        try:
            yield
        finally:
            await app.state.studio.end()

    answers = Router([*api.routes(), *table_api.routes(), *live_api.routes()], redirect_slashes=False)
    app = Starlette(
        routes=[
            Route("/", page("titles.html")), Route("/titles/{name}", page("title.html")), Route("/titles/{name}/table", page("table.html")),
            Mount("/api", answers),
            Mount("/ograf/v1", Router(ograf.routes(), redirect_slashes=False)), Route("/air", page("control.html")),
            Route("/air/{name}", page("air.html")), WebSocketRoute("/air/{name}/socket", show_renderer),
            Route("/pages/{file}", own_file), Route("/pages/fonts/{file}", font),
        ],
        middleware=[Middleware(Guard, keys)], exception_handlers=HANDLERS, lifespan=running,
    )  # fmt: skip
    app.router.redirect_slashes = False
    app.state.titles = Titles(library)
    app.state.library = library
    return app


def page(name: str) -> Callable[[Request], Awaitable[Response]]:
    """What answers with a page."""

    async def show(request: Request) -> Response:
        return FileResponse(PAGES / name, media_type="text/html", headers={"cache-control": "no-cache"})

    return show


async def show_renderer(socket: WebSocket) -> None:
    """A page that shows a renderer."""
    name = socket.path_params["name"]
    if not _NAME.fullmatch(name):
        await socket.close(4404, "A renderer is called by small letters, figures and hyphens.")
        return
    await socket.app.state.air.show(socket, name)


async def own_file(request: Request) -> Response:
    """A module or a style sheet of the pages: those that are there, by name."""
    name = request.path_params["file"]
    known = {path.name: path for path in (*PAGES.iterdir(), GRAPHIC) if path.suffix in (".mjs", ".css", ".svg")}
    if name not in known:
        raise Refused(404, "There is no such file.")
    return FileResponse(known[name], media_type=_KINDS[known[name].suffix], headers={"cache-control": "no-cache"})


async def font(request: Request) -> Response:
    """A font of the pages; all that ship are there."""
    found = {path.name: path for path in font_files(BUNDLED)}.get(request.path_params["file"])
    if found is None:
        raise Refused(404, "There is no such font.")
    return FileResponse(found, media_type=f"font/{found.suffix[1:]}", headers={"cache-control": "private, max-age=86400"})
