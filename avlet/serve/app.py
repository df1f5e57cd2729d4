"""The server: its addresses, its pages, and how it begins and ends."""

import contextlib
from collections.abc import AsyncIterator, Awaitable, Callable
from pathlib import Path

from starlette.applications import Starlette
from starlette.middleware import Middleware
from starlette.requests import Request
from starlette.responses import FileResponse, Response
from starlette.routing import Mount, Route, Router

from avlet.serve import api
from avlet.serve.guard import Guard, Keys
from avlet.serve.problems import HANDLERS, Refused
from avlet.serve.studio import Studio
from avlet.serve.titles import Titles
from avlet.text.fonts import BUNDLED

PAGES = Path(__file__).parent / "pages"
_KINDS = {".mjs": "text/javascript", ".css": "text/css", ".html": "text/html", ".svg": "image/svg+xml", ".ttf": "font/ttf"}


def make_app(library: Path, keys: Keys, workers: int = 2) -> Starlette:
    """A server of a library's titles."""

    @contextlib.asynccontextmanager
    async def running(app: Starlette) -> AsyncIterator[None]:
        app.state.studio = Studio(workers)
        await app.state.studio.begin()
        try:
            yield
        finally:
            await app.state.studio.end()

    answers = Router(api.routes(), redirect_slashes=False)
    app = Starlette(
        routes=[
            Route("/", page("titles.html")), Route("/titles/{name}", page("title.html")), Mount("/api", answers),
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


async def own_file(request: Request) -> Response:
    """A module or a style sheet of the pages: those that are there, by name."""
    name = request.path_params["file"]
    known = {path.name: path for path in PAGES.iterdir() if path.suffix in (".mjs", ".css", ".svg")}
    if name not in known:
        raise Refused(404, "There is no such file.")
    return FileResponse(known[name], media_type=_KINDS[known[name].suffix], headers={"cache-control": "no-cache"})


async def font(request: Request) -> Response:
    """The font of the pages, which ships."""
    name = request.path_params["file"]
    found = {path.name: path for path in BUNDLED.rglob("*.ttf")}.get(name)
    if found is None:
        raise Refused(404, "There is no such font.")
    return FileResponse(found, media_type="font/ttf", headers={"cache-control": "private, max-age=86400"})
