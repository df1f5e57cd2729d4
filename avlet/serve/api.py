"""The server's answers: titles, cards, frames, reels and what is taken away. Described in ``openapi.py``."""

import asyncio
from collections.abc import Coroutine
from typing import Any, TypeVar

import msgspec
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import FileResponse, Response
from starlette.routing import Route

from avlet.document.cards.answers import shown_fields
from avlet.errors import AnswerError
from avlet.limits import MOST_SERVED_SIDE
from avlet.media.plates import PLATES
from avlet.serve.cards import told_answers, told_of_card, told_of_entry
from avlet.serve.painting import Kind
from avlet.serve.problems import Refused
from avlet.serve.sent import SentFiles
from avlet.serve.studio import Film, Studio
from avlet.serve.titles import Asked, Titles
from avlet.storage.package import Opened

Given = TypeVar("Given")
_KEPT = {"cache-control": "private, max-age=3600, immutable"}
_NOT_KEPT = {"cache-control": "no-store"}


class Wanted(msgspec.Struct, forbid_unknown_fields=True):
    """What somebody wants to see of a title. ``answers`` are plain data, in which a file that was sent for a table may stand as what it
    is kept by, ``typed`` words as one types them; ``length`` frames or words; ``size`` the px of its frame, where that is another one;
    ``pictures`` the bytes, in base64, of pictures that typed lists name.
    """

    answers: dict[str, Any] = {}
    typed: dict[str, str] = {}
    length: int | str | None = None
    frame: int | None = None
    width: int = 960
    size: tuple[int, int] | None = None
    pictures: dict[str, bytes] = {}


class WantedLook(Wanted, forbid_unknown_fields=True):
    """A frame that somebody wants to see; ``close`` shows what of it is drawn, large, instead of the whole."""

    close: bool = False


class WantedFilm(Wanted, forbid_unknown_fields=True):
    """What somebody wants to take away."""

    kind: Kind = "prores"


def routes() -> list[Route]:
    """The addresses below ``/api``."""
    return [
        Route("/titles", titles), Route("/titles/{name}", title), Route("/titles/{name}/thumbnail", thumbnail),
        Route("/titles/{name}/preview", preview), Route("/titles/{name}/look", look, methods=["POST"]),
        Route("/titles/{name}/reels", reels, methods=["POST"]), Route("/titles/{name}/films", wanted_film, methods=["POST"]),
        Route("/pictures/{picture}", picture), Route("/plates/{plate}", plate), Route("/reels/{reel}/{file}", reel_file),
        Route("/films", films), Route("/films/{film}", film), Route("/films/{film}", stop_film, methods=["DELETE"]),
        Route("/films/{film}/file", film_file), Route("/openapi.json", description),
    ]  # fmt: skip


def told(value: Any, status: int = 200, **headers: str) -> Response:
    """A value as JSON."""
    return Response(msgspec.json.encode(value), status, {**_NOT_KEPT, **headers}, media_type="application/json")


async def read(request: Request, kind: type[Given]) -> Given:
    """What was sent, as JSON; raises ``Refused``."""
    if request.headers.get("content-type", "").partition(";")[0].strip().casefold() != "application/json":
        raise Refused(415, "Send JSON, with “content-type: application/json”.")
    try:
        return msgspec.json.decode(await request.body(), type=kind)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise Refused(400, f"That is not what is taken here: {error}.") from None


async def while_there(request: Request, work: Coroutine[Any, Any, Given]) -> Given:
    """What is made for a browser, which is given up when that has gone: who types asks for many pictures and wants the last."""
    making = asyncio.create_task(work)
    gone = asyncio.create_task(_gone(request))
    try:
        await asyncio.wait((making, gone), return_when=asyncio.FIRST_COMPLETED)
        if not making.done():
            making.cancel()
            raise Refused(499, "Nobody waits for this any more.")
        return making.result()
    finally:
        gone.cancel()


async def _gone(request: Request) -> None:
    while (await request.receive())["type"] != "http.disconnect":
        pass


async def asked(request: Request, wanted: Wanted) -> tuple[Opened, Asked]:
    """The title of an address with what is wanted of it."""
    name = request.path_params["name"]
    answers = sent_of(request).in_full(wanted.answers)
    return await run_in_threadpool(titles_of(request).asked, name, answers, wanted.typed, wanted.length, wanted.size, wanted.pictures)


def sent_of(request: Request) -> SentFiles:
    """What was sent for tables."""
    return studio_of(request).sent


def titles_of(request: Request) -> Titles:
    """The titles that are served."""
    made: Titles = request.app.state.titles
    return made


def studio_of(request: Request) -> Studio:
    """What makes pictures and films."""
    made: Studio = request.app.state.studio
    return made


def _width(wanted: int) -> int:
    if not 16 <= wanted <= MOST_SERVED_SIDE:
        raise AnswerError(f"A picture for a browser is 16 to {MOST_SERVED_SIDE:,} px wide, not {wanted:,}.")
    return wanted


async def titles(request: Request) -> Response:
    """All titles of the library."""
    entries = await run_in_threadpool(titles_of(request).entries)
    return told({"titles": [told_of_entry(name, entry) for name, entry in entries.items()], "plates": list(PLATES)})


async def title(request: Request) -> Response:
    """One title: its card, and its time."""
    name = request.path_params["name"]
    entry, _, opened = await run_in_threadpool(titles_of(request).opened, name)
    return told(await run_in_threadpool(told_of_card, name, entry, opened.template))


async def thumbnail(request: Request) -> Response:
    """A title at rest, as its package has it."""
    return await _own_picture(request, "thumbnail", "image/png")


async def preview(request: Request) -> Response:
    """A title as it moves, as its package has it."""
    return await _own_picture(request, "preview", "image/webp")


async def _own_picture(request: Request, which: str, media_type: str) -> Response:
    entry = await run_in_threadpool(titles_of(request).entry, request.path_params["name"])
    data = await run_in_threadpool(getattr(entry, which))
    if not data:
        raise Refused(404, f"{entry.name} has no {which}.")
    return Response(data, headers={"cache-control": "private, max-age=60"}, media_type=media_type)


async def look(request: Request) -> Response:
    """A frame of a title with answers, what is to be said of it, and which fields its card shows."""
    wanted = await read(request, WantedLook)
    opened, one = await asked(request, wanted)
    name, seen = await while_there(request, studio_of(request).see(one, wanted.frame, _width(wanted.width), wanted.close))
    return told({
        "picture": f"/api/pictures/{name}", "width": seen.width, "height": seen.height, "frame": seen.frame, "length": seen.length,
        "way_in": seen.way_in, "way_out": seen.way_out, "said": seen.said, "verdict": seen.verdict, "answers": one.answers,
        "typed": told_answers(opened.template, one.answers), "shown": sorted(shown_fields(opened.template, one.answers)),
    })  # fmt: skip


async def picture(request: Request) -> Response:
    """A frame that was painted lately."""
    return Response(studio_of(request).picture(request.path_params["picture"]), headers=_KEPT, media_type="image/webp")


async def plate(request: Request) -> Response:
    """A made-up picture to look at titles against."""
    name = request.path_params["plate"].replace("-", " ")
    if name not in PLATES:
        raise Refused(404, f"There is no plate of that name. There are: {', '.join(PLATES)}.")
    return Response(
        await studio_of(request).plate(name, 1280), headers={"cache-control": "private, max-age=86400"}, media_type="image/webp"
    )


async def reels(request: Request) -> Response:
    """A title's reel: its different pictures, and when each shows."""
    wanted = await read(request, Wanted)
    _, one = await asked(request, wanted)
    name, reel = await while_there(request, studio_of(request).reel(one, _width(wanted.width)))
    return told({"reel": f"/api/reels/{name}", **msgspec.to_builtins(reel)}, 201, location=f"/api/reels/{name}/reel.json")


async def reel_file(request: Request) -> Response:
    """A picture of a reel, or its ``reel.json``."""
    file = request.path_params["file"]
    path = studio_of(request).reel_file(request.path_params["reel"], file)
    return FileResponse(path, headers=_KEPT, media_type="application/json" if file.endswith(".json") else "image/webp")


async def wanted_film(request: Request) -> Response:
    """Have something made to be taken away."""
    wanted = await read(request, WantedFilm)
    opened, one = await asked(request, wanted)
    made = studio_of(request).want(opened.template.name, wanted.kind, one, wanted.frame)
    return told(told_film(made), 202, location=f"/api/films/{made.id}")


async def films(request: Request) -> Response:
    """All that is being made or was made in the last hour."""
    return told({"films": [told_film(one) for one in studio_of(request).films.values()]})


async def film(request: Request) -> Response:
    """How far something is."""
    return told(told_film(studio_of(request).film(request.path_params["film"])))


async def stop_film(request: Request) -> Response:
    """Stop something that is being made, or let go of what was made."""
    studio_of(request).stop(request.path_params["film"])
    return Response(status_code=204)


async def film_file(request: Request) -> Response:
    """What was made, as a file."""
    made = studio_of(request).film(request.path_params["film"])
    if made.state != "done":
        raise Refused(404, f"{made.name} is not there yet." if made.state in ("waiting", "going") else f"{made.name}: {made.said}")
    return FileResponse(made.path, filename=made.name, headers=_NOT_KEPT)


async def description(request: Request) -> Response:
    """This, described as OpenAPI has it."""
    from avlet.serve.openapi import openapi

    return told(openapi())


def told_film(film: Film) -> dict[str, Any]:
    """How far something is."""
    return {name: getattr(film, name) for name in ("id", "name", "kind", "state", "done", "total", "said")}
