"""What is on air: renderers, which are pages that show it, and the titles that were loaded on their layers.

The server knows what should be on air; a page that comes, or comes back after a break, is told all of it, and shows it where it would
be by now. A title is loaded when its reel is painted and every page of its renderer has all of its pictures, so that nothing is late.
"""

import asyncio
import contextlib
import secrets
import time
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

import msgspec
from starlette.websockets import WebSocket, WebSocketDisconnect

from avlet.errors import AvletError
from avlet.media.reel import Reel
from avlet.serve.studio import BusyError, GoneError, Studio
from avlet.serve.titles import Asked

LAYERS = 4
MOST_LOADED = 40
"""Titles that are loaded on one renderer."""
_MOST_RENDERERS, _MOST_PAGES = 16, 8
_PATIENCE = 20.0
"""Seconds in which a page has fetched a title's pictures."""


@dataclass
class Loaded:
    """A title on a layer. ``state`` is what it does since ``since`` (monotonic seconds): away, in or out; ``skip`` without its movement."""

    id: str
    graphic: str
    name: str
    layer: int
    asked: Asked
    data: Mapping[str, Any]
    reel_name: str
    reel: Reel
    state: str = "away"
    since: float = 0.0
    skip: bool = False

    def told(self) -> dict[str, Any]:
        """All that a page needs to show it as it is now."""
        reel = {"reel": f"/api/reels/{self.reel_name}", **msgspec.to_builtins(self.reel)}
        since = round((time.monotonic() - self.since) * 1000)
        return {"do": "load", "instance": self.id, "layer": self.layer, "reel": reel, "state": self.state, "for": since, "skip": self.skip}


@dataclass
class Page:
    """A page that shows a renderer, and what it still has to answer."""

    socket: WebSocket
    asked: dict[int, asyncio.Future[Any]] = field(default_factory=dict)
    number: int = 0

    async def tell(self, message: dict[str, Any]) -> dict[str, Any]:
        """Tell it something, and wait for its answer; a page that has gone answers nothing."""
        self.number += 1
        number = self.number
        self.asked[number] = asyncio.get_running_loop().create_future()
        try:
            await self.socket.send_text(msgspec.json.encode({**message, "number": number}).decode())
            answer: dict[str, Any] = await asyncio.wait_for(self.asked[number], _PATIENCE)
            return answer
        except (TimeoutError, RuntimeError, WebSocketDisconnect, asyncio.CancelledError):
            return {}
        finally:
            self.asked.pop(number, None)


@dataclass
class Renderer:
    """What shows titles, by its name; with no page there is nobody to see it."""

    name: str
    pages: list[Page] = field(default_factory=list)
    loaded: "OrderedDict[str, Loaded]" = field(default_factory=OrderedDict)

    def on(self, layer: int) -> list[Loaded]:
        """The titles of a layer."""
        return [one for one in self.loaded.values() if one.layer == layer]

    async def tell(self, message: dict[str, Any]) -> list[dict[str, Any]]:
        """Tell all pages; what they answer."""
        return list(await asyncio.gather(*(page.tell(message) for page in self.pages)))


class Air:
    """All renderers of a server. ``main`` is always there; others are when a page of their name was opened."""

    def __init__(self, studio: Studio) -> None:
        self.studio = studio
        self.renderers: dict[str, Renderer] = {"main": Renderer("main")}

    def reels(self) -> set[str]:
        """The reels of all that is loaded, by the names that they are kept by."""
        return {one.reel_name for renderer in self.renderers.values() for one in renderer.loaded.values()}

    def renderer(self, name: str) -> Renderer:
        """A renderer by its name; raises ``GoneError``."""
        if name not in self.renderers:
            raise GoneError(f"There is no renderer “{name[:60]}”. Open its page first: /air/{name[:60]}")
        return self.renderers[name]

    def instance(self, renderer: Renderer, layer: int, name: str) -> Loaded:
        """A title that was loaded on a layer; raises ``GoneError``."""
        found = renderer.loaded.get(name)
        if found is None or found.layer != layer:
            raise GoneError(f"Nothing of that id is loaded on layer {layer} of {renderer.name}.")
        return found

    async def load(
        self, renderer: Renderer, layer: int, graphic: str, name: str, asked: Asked, width: int, data: Mapping[str, Any]
    ) -> Loaded:
        """Have a title painted, and have every page fetch it. Raises ``AvletError`` in words."""
        if len(renderer.loaded) >= MOST_LOADED:
            raise BusyError(f"{MOST_LOADED} titles are loaded on {renderer.name}. Clear some first.")
        reel_name, reel = await self.studio.reel(asked, width)
        made = Loaded(secrets.token_hex(6), graphic, name, layer, asked, data, reel_name, reel)
        renderer.loaded[made.id] = made
        try:
            answers = await renderer.tell(made.told())
        except asyncio.CancelledError:  # who asked for it has gone
            renderer.loaded.pop(made.id, None)
            await renderer.tell({"do": "clear", "instance": made.id})
            raise
        if any(not answer.get("ok") for answer in answers):
            renderer.loaded.pop(made.id, None)
            await renderer.tell({"do": "clear", "instance": made.id})
            why = next((str(answer.get("said")) for answer in answers if answer.get("said")), "it did not answer in time")
            raise AvletError(f"A page of {renderer.name} could not take the pictures of {name}: {why}. Load that page again.")
        return made

    async def update(self, renderer: Renderer, one: Loaded, asked: Asked, width: int, data: Mapping[str, Any], skip: bool) -> None:
        """Other answers: exchanged in place, or out and in again as the title says, when the new pictures are everywhere."""
        before, (one.reel_name, one.reel) = one.reel, await self.studio.reel(asked, width)
        one.asked, one.data = asked, data
        if one.state == "in" and one.reel.updates == "out and in" and not skip:
            one.since, one.skip = time.monotonic() + before.way_out / float(Fraction(before.rate)), False
        await renderer.tell({**one.told(), "do": "update", "cut": skip})

    async def play(self, renderer: Renderer, one: Loaded, skip: bool) -> None:
        """Bring it on air; what is on air on its layer goes out at the same time."""
        for other in renderer.on(one.layer):
            if other is not one and other.state == "in":
                await self.stop(renderer, other, skip)
        if one.state != "in" or skip:
            one.state, one.since, one.skip = "in", time.monotonic(), skip
        await renderer.tell({"do": "play", "instance": one.id, "skip": skip})

    async def stop(self, renderer: Renderer, one: Loaded, skip: bool) -> None:
        """Take it out."""
        if one.state == "in":
            one.state, one.since, one.skip = ("away" if skip else "out"), time.monotonic(), skip
        await renderer.tell({"do": "stop", "instance": one.id, "skip": skip})

    async def clear(self, renderer: Renderer, wanted: list[Loaded]) -> None:
        """Take titles off at once, and let them go."""
        for one in wanted:
            renderer.loaded.pop(one.id, None)
            await renderer.tell({"do": "clear", "instance": one.id})

    async def show(self, socket: WebSocket, name: str) -> None:
        """A page shows a renderer for as long as it is connected."""
        if name not in self.renderers:
            if len(self.renderers) >= _MOST_RENDERERS:
                await socket.close(4429, "Too many renderers.")
                return
            self.renderers[name] = Renderer(name)
        renderer = self.renderers[name]
        if len(renderer.pages) >= _MOST_PAGES:
            await socket.close(4429, "Too many pages show this renderer.")
            return
        await socket.accept()
        page = Page(socket)
        renderer.pages.append(page)
        telling = asyncio.create_task(_told_all(page, list(renderer.loaded.values())))
        try:
            while True:
                words = await socket.receive_text()
                with contextlib.suppress(msgspec.DecodeError, KeyError, TypeError, ValueError):
                    answer = msgspec.json.decode(words[:10_000], type=dict[str, Any])
                    waiting = page.asked.get(int(answer["number"]))
                    if waiting is not None and not waiting.done():
                        waiting.set_result(answer)
        except (WebSocketDisconnect, RuntimeError, KeyError):
            pass
        finally:
            telling.cancel()
            renderer.pages.remove(page)
            for waiting in page.asked.values():
                if not waiting.done():
                    waiting.set_result({})


async def _told_all(page: Page, loaded: list[Loaded]) -> None:
    for one in loaded:
        await page.tell(one.told())
