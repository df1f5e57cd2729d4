"""The server's answers to graphics that were handed over with its address: their words change, wherever they play."""

from typing import Any

import msgspec
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import Response
from starlette.routing import Route

from avlet.media.live import answers_of_data
from avlet.serve.api import read, reel_file, studio_of, titles_of, told, while_there
from avlet.serve.titles import Asked


class WantedLive(msgspec.Struct, forbid_unknown_fields=True):
    """Data of a graphic, as its manifest's schema has it."""

    data: Any = None


def routes() -> list[Route]:
    """The addresses below ``/api``."""
    return [Route("/live/{name}/reels", reels, methods=["POST"]), Route("/live/{name}/reels/{reel}/{file}", reel_file)]


async def reels(request: Request) -> Response:
    """The reel of a title with some data, in the title's own size."""
    wanted, name = await read(request, WantedLive), request.path_params["name"]

    def work() -> tuple[int, Asked]:
        _, _, opened = titles_of(request).opened(name)
        answers = answers_of_data(opened.template, wanted.data)
        return opened.template.frame.width, titles_of(request).asked(name, answers, {}, None)[1]

    width, asked = await run_in_threadpool(work)
    made, reel = await while_there(request, studio_of(request).reel(asked, width))
    return told({"reel": made, **msgspec.to_builtins(reel)}, 201)
