"""What went wrong, as a browser or a program is told it: problem details (RFC 9457) with the engine's own sentences."""

import logging

import msgspec
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import Response

from avlet.errors import AnswerError, AvletError, RenderError, StorageError
from avlet.serve.painting import NoRoomError
from avlet.serve.sent import NotSentError
from avlet.serve.studio import BusyError, GoneError
from avlet.serve.titles import NoTitleError

_log = logging.getLogger(__name__)
STATUSES: dict[type[AvletError], int] = {
    NoTitleError: 404, GoneError: 404, NotSentError: 404, BusyError: 503, AnswerError: 422, RenderError: 422, NoRoomError: 507,
    StorageError: 500,
}  # fmt: skip
TITLES = {
    400: "Not understood", 401: "No token", 403: "Not from here", 404: "Not there", 405: "Not possible here", 408: "Too slow",
    413: "Too large", 415: "Another kind of data", 421: "Another host", 422: "Not taken", 500: "A fault", 503: "Busy", 507: "No room",
}  # fmt: skip


class Refused(Exception):  # noqa: N818 - it is no fault of the program
    """A request that is not taken, with its status and why."""

    def __init__(self, status: int, words: str) -> None:
        super().__init__(words)
        self.status, self.words = status, words


def problem(status: int, words: str) -> Response:
    """A problem as a response."""
    told = {"type": "about:blank", "title": TITLES.get(status, "A fault"), "status": status, "detail": words}
    headers = {"Retry-After": "1"} if status == 503 else {}
    return Response(msgspec.json.encode(told), status, headers, media_type="application/problem+json")


async def of_avlet(request: Request, error: Exception) -> Response:
    """What the engine refuses."""
    status = next((status for kind, status in STATUSES.items() if isinstance(error, kind)), 422)
    return problem(status, str(error))


async def of_request(request: Request, error: Exception) -> Response:
    """What the server refuses."""
    assert isinstance(error, Refused)
    return problem(error.status, error.words)


async def of_address(request: Request, error: Exception) -> Response:
    """An address or a way of asking that there is not."""
    assert isinstance(error, HTTPException)
    words = {404: f"There is nothing at {request.url.path[:200]}.", 405: f"{request.method} is not possible at {request.url.path[:200]}."}
    return problem(error.status_code, words.get(error.status_code, error.detail))


async def of_avlets_own(request: Request, error: Exception) -> Response:
    """A fault of the program: told without its inside, which the log has."""
    _log.error("A fault at %s", request.url.path, exc_info=error)
    return problem(500, f"Something went wrong in Avlet ({type(error).__name__}). The server's log tells more; nothing else was lost.")


HANDLERS = {AvletError: of_avlet, Refused: of_request, HTTPException: of_address, Exception: of_avlets_own}
