"""The server's answers about tables: what is in one, what its rows come to, and all of them made."""

from typing import Any

from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import Response
from starlette.routing import Route

from avlet.serve.api import read, sent_of, studio_of, titles_of, told, told_film
from avlet.serve.sent import SentFile
from avlet.serve.studio import TABLE
from avlet.serve.tables import AskedRows, SentTable, WantedRows, files_for, plan_for, read_sent, told_of_plan


def routes() -> list[Route]:
    """The addresses below ``/api``."""
    return [
        Route("/files", file, methods=["POST"]), Route("/tables", table, methods=["POST"]),
        Route("/titles/{name}/rows", rows, methods=["POST"]),
        Route("/titles/{name}/tables", wanted_table, methods=["POST"]),
    ]  # fmt: skip


async def file(request: Request) -> Response:
    """Keep a file that cells of a table name; what it is kept by."""
    sent = await read(request, SentFile)
    return told({"name": sent.name, "sent": await run_in_threadpool(lambda: sent_of(request).keep(sent.read()))}, 201)


async def table(request: Request) -> Response:
    """The rows of a table that was pasted or sent."""
    return told(await run_in_threadpool(read_sent, await read(request, SentTable)))


async def rows(request: Request) -> Response:
    """What a title's rows come to: threads, answers, names of files, and what hinders them."""
    wanted = await read(request, WantedRows)
    _, _, opened = await run_in_threadpool(titles_of(request).opened, request.path_params["name"])

    def work() -> dict[str, Any]:
        return told_of_plan(plan_for(opened.template, wanted, files_for(wanted, sent_of(request))), wanted.files.values())

    return told(await run_in_threadpool(work))


async def wanted_table(request: Request) -> Response:
    """Have all rows made, to be taken away as a zip with its delivery list."""
    wanted = await read(request, WantedRows)
    entry, stamp, opened = await run_in_threadpool(titles_of(request).opened, request.path_params["name"])
    sent = files_for(wanted, sent_of(request))
    await run_in_threadpool(plan_for, opened.template, wanted, sent)
    made = studio_of(request).want(f"{opened.template.name} table", TABLE, AskedRows(entry.place, stamp, wanted, sent))
    return told(told_film(made), 202, location=f"/api/films/{made.id}")
