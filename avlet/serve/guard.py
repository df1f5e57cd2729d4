"""Who may ask: hosts, tokens, origins, how much may be sent and how slowly; and what a page may load."""

import asyncio
import hmac
import logging
import secrets
import time
from collections import OrderedDict
from dataclasses import dataclass, field
from http.cookies import CookieError, SimpleCookie
from urllib.parse import parse_qs, urlsplit

from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from avlet.limits import MOST_SERVED_BODY
from avlet.media.live import live_key
from avlet.serve.problems import problem

_log = logging.getLogger("avlet.serve")
COOKIE = "avlet"
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' blob:; connect-src 'self'; "
    "base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
_HEADERS = (
    (b"content-security-policy", POLICY.encode()), (b"x-content-type-options", b"nosniff"), (b"referrer-policy", b"no-referrer"),
    (b"cross-origin-opener-policy", b"same-origin"), (b"cross-origin-resource-policy", b"same-origin"),
)  # fmt: skip
_SAFE = ("GET", "HEAD")
_LIVE = "/api/live/"
"""Where graphics ask that were handed over with this server's address: pages of any origin, with a key for that one title."""
_FROM_ANYWHERE = (
    (b"access-control-allow-origin", b"*"), (b"access-control-allow-headers", b"authorization, content-type"),
    (b"access-control-allow-methods", b"GET, POST"), (b"access-control-max-age", b"600"),
    (b"cross-origin-resource-policy", b"cross-origin"),
)  # fmt: skip
_PATIENCE = 20.0
"""Seconds in which a request must have been sent whole."""
_MOST_SESSIONS = 200
_LOOPBACK = ("127.0.0.1", "localhost", "[::1]")


@dataclass
class Keys:
    """The token of a server that asks for one, and who has come in by it. An empty token asks for none."""

    token: str = ""
    host: str = "127.0.0.1"
    port: int = 8470
    _sessions: "OrderedDict[str, float]" = field(default_factory=OrderedDict)

    def fits(self, given: str) -> bool:
        """Whether a token is the server's; how long that takes tells nothing of it."""
        return bool(self.token) and hmac.compare_digest(given.encode(), self.token.encode())

    def opens(self, title: str, given: str) -> bool:
        """Whether a key is that of a graphic that was handed over of a title."""
        return bool(self.token) and hmac.compare_digest(given.encode(), live_key(self.token, title).encode())

    def come_in(self) -> str:
        """A session for a browser that brought the token."""
        name = secrets.token_urlsafe(24)
        self._sessions[name] = time.monotonic()
        while len(self._sessions) > _MOST_SESSIONS:
            self._sessions.popitem(last=False)
        return name

    def knows(self, session: str) -> bool:
        """Whether a browser came in by the token."""
        return any(hmac.compare_digest(session.encode(), one.encode()) for one in self._sessions)

    def is_here(self, host: str) -> bool:
        """Whether a request is meant for this server: a page elsewhere may have its own name lead here."""
        name = host.rpartition(":")[0] if host.rpartition(":")[2].isdigit() else host
        return bool(self.token) or name.casefold() in (*_LOOPBACK, self.host.casefold())


class Guard:
    """What every request passes before it is answered, and every answer on its way out."""

    def __init__(self, app: ASGIApp, keys: Keys) -> None:
        self.app, self.keys = app, keys

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self.app(scope, receive, send)
            return
        headers = {name.decode("latin-1"): value.decode("latin-1") for name, value in scope["headers"]}
        live = scope["path"].startswith(_LIVE)
        fault = self._fault(scope, headers, live)
        if scope["type"] == "websocket":
            if fault is not None:
                await send({"type": "websocket.close", "code": 4403, "reason": fault[1][:100]})
            else:
                await self.app(scope, receive, send)
            return
        began = time.monotonic()
        status = 0

        async def sent(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                added = {**dict(_HEADERS), **(dict(_FROM_ANYWHERE) if live else {})}
                given = {name for name, _ in message["headers"]}
                message["headers"] = [*message["headers"], *(one for one in added.items() if one[0] not in given)]
            await send(message)

        if fault is None and live and scope["method"] == "OPTIONS":
            await Response(status_code=204)(scope, receive, sent)
        elif fault is None and scope["path"] == "/enter":
            await self._enter(scope, sent)
        elif fault is not None:
            await problem(*fault)(scope, receive, sent)
        else:
            body = b""
            if scope["method"] not in _SAFE:
                read = await _whole(headers, receive)
                if isinstance(read, tuple):
                    await problem(*read)(scope, receive, sent)
                    _told(scope, read[0], began)
                    return
                body = read
            await self.app(scope, _again(body, receive), sent)
        _told(scope, status, began)

    def _fault(self, scope: Scope, headers: dict[str, str], live: bool) -> tuple[int, str] | None:
        """Why a request is not taken; None where it is."""
        host = headers.get("host", "")
        if not self.keys.is_here(host):
            return 421, f"This server does not answer for “{host[:80]}”. Open it by the address that it told when it began."
        if live and scope["type"] == "http":
            return self._fault_of_live(scope, headers)
        if scope["type"] == "websocket" or scope["method"] not in _SAFE:
            origin = headers.get("origin")
            if origin is not None and urlsplit(origin).netloc != host:
                return 403, "That page is not this server's, so nothing is changed for it."
        if self.keys.token and scope["path"] != "/enter" and not self._has_token(headers):
            return 401, "This server asks for its token. Open the link that it told when it began, or send the token as bearer."
        return None

    def _fault_of_live(self, scope: Scope, headers: dict[str, str]) -> tuple[int, str] | None:
        """Why a graphic's request is not taken. It comes from a page of any origin, so no cookie counts, only the graphic's own key."""
        if not self.keys.token:
            return 403, "Graphics change their words only by a server that has a token: begin it with --token-file."
        if scope["method"] == "OPTIONS":
            return None
        kind, _, given = headers.get("authorization", "").partition(" ")
        title = scope["path"].removeprefix(_LIVE).partition("/")[0]
        if kind.casefold() != "bearer" or not self.keys.opens(title, given.strip()):
            return 401, "That graphic was not handed over for this server. Hand it over again with this server's token."
        return None

    def _has_token(self, headers: dict[str, str]) -> bool:
        kind, _, given = headers.get("authorization", "").partition(" ")
        if kind.casefold() == "bearer" and self.keys.fits(given.strip()):
            return True
        try:
            cookie = SimpleCookie(headers.get("cookie", "")).get(COOKIE)
        except CookieError:
            return False
        return cookie is not None and self.keys.knows(cookie.value)

    async def _enter(self, scope: Scope, send: Send) -> None:
        """A link with the token lets a browser in, and is gone from its address at once."""
        given = parse_qs(scope["query_string"].decode("latin-1")).get("token", [""])[0]
        if self.keys.token and not self.keys.fits(given):
            await asyncio.sleep(0.5)
            response = problem(401, "That token is not this server's.")
            await response(scope, _nothing, send)
            return
        cookie = f"{COOKIE}={self.keys.come_in()}; HttpOnly; SameSite=Strict; Path=/"
        headers = [(b"location", b"/"), (b"set-cookie", cookie.encode()), (b"content-length", b"0")]
        await send({"type": "http.response.start", "status": 303, "headers": headers})
        await send({"type": "http.response.body", "body": b""})


async def _whole(headers: dict[str, str], receive: Receive) -> bytes | tuple[int, str]:
    """All that was sent, or why it is not taken."""
    too_much = 413, f"That is more than {MOST_SERVED_BODY // 1024**2} MB, the most that is taken at once."
    announced = headers.get("content-length", "")
    if announced.isdigit() and int(announced) > MOST_SERVED_BODY:
        return too_much
    body = bytearray()
    until = time.monotonic() + _PATIENCE
    while True:
        try:
            message = await asyncio.wait_for(receive(), max(0.01, until - time.monotonic()))
        except TimeoutError:
            return 408, f"The request did not come whole within {_PATIENCE:.0f} s."
        if message["type"] != "http.request":
            return 400, "The request did not come whole."
        body += message.get("body", b"")
        if len(body) > MOST_SERVED_BODY:
            return too_much
        if not message.get("more_body"):
            return bytes(body)


def _again(body: bytes, receive: Receive) -> Receive:
    """What was read already, to be read by what answers."""
    given = False

    async def once() -> Message:
        nonlocal given
        if not given:
            given = True
            return {"type": "http.request", "body": body, "more_body": False}
        return await receive()

    return once


async def _nothing() -> Message:
    return {"type": "http.request", "body": b"", "more_body": False}


def _told(scope: Scope, status: int, began: float) -> None:
    """A line of the log: who asked for what, and how it went; never what somebody typed."""
    client = scope.get("client") or ("?", 0)
    _log.info("%s %s %s %d %.0f ms", client[0], scope["method"], scope["path"][:200], status, (time.monotonic() - began) * 1000)
