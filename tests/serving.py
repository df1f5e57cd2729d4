"""A server for tests, and a client that knows nothing of it but HTTP."""

import contextlib
import http.client
import io
import json
import socket
import threading
import time
from dataclasses import dataclass, field
from typing import Any

import uvicorn
from PIL import Image

from avlet.document.cards import carding
from avlet.document.cards.card import Card, Section
from avlet.document.fields import PictureField, TextField
from avlet.document.parts import PictureFile, PicturePart, Place, TextPart
from avlet.document.template import Template
from avlet.serve.app import make_app
from avlet.serve.guard import Keys


@dataclass
class Answer:
    status: int
    headers: dict[str, str] = field(repr=False)
    body: bytes = field(repr=False)

    @property
    def json(self) -> Any:
        return json.loads(self.body)

    @property
    def words(self) -> str:
        return str(self.json["detail"])


class Client:
    """Asks a server at a port of this machine."""

    def __init__(self, port: int) -> None:
        self.port = port

    def ask(self, method: str, path: str, body: Any = None, timeout: float = 60, **headers: str) -> Answer:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=timeout)
        sent = body if body is None or isinstance(body, bytes) else json.dumps(body).encode()
        given = {name.replace("_", "-"): value for name, value in headers.items()}
        if sent is not None:
            given.setdefault("content-type", "application/json")
        with contextlib.closing(connection):
            connection.request(method, path, sent, given)
            got = connection.getresponse()
            return Answer(got.status, {name.lower(): value for name, value in got.getheaders()}, got.read())

    def get(self, path: str, **headers: str) -> Answer:
        return self.ask("GET", path, **headers)

    def post(self, path: str, body: Any, **headers: str) -> Answer:
        return self.ask("POST", path, body, **headers)

    def raw(self, sent: bytes, timeout: float = 10, ends: bool = True) -> bytes:
        """What comes back for bytes as they are, and no more after them where they end there."""
        with socket.create_connection(("127.0.0.1", self.port), timeout) as there:
            there.sendall(sent)
            if ends:
                there.shutdown(socket.SHUT_WR)
            got = b""
            with contextlib.suppress(OSError):
                while piece := there.recv(65536):
                    got += piece
            return got


@contextlib.contextmanager
def serving(library, token: str = "", workers: int = 1):
    """A server in this process, on a port that is free."""
    keys = Keys(token)
    app = make_app(library, keys, workers)
    server = uvicorn.Server(uvicorn.Config(app, port=0, log_config=None, server_header=False, timeout_graceful_shutdown=2))
    listening = socket.create_server(("127.0.0.1", 0))
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    until = time.monotonic() + 30
    while not server.started and time.monotonic() < until:
        time.sleep(0.02)
    client = Client(listening.getsockname()[1])
    client.app = app
    try:
        yield client
    finally:
        server.should_exit = True
        thread.join(20)
        listening.close()
        assert not thread.is_alive(), "the server ends"


def with_portrait():
    """A name beside a portrait of 200 × 200 px at (80, 80), both on the card; nothing is there where no picture is given."""
    picture = PicturePart(
        id="portrait", name="Portrait", picture=PictureFile(""), width=200.0, height=200.0, across=Place(gap=80), down=Place(gap=80)
    )
    name = TextPart(id="name", name="Name", text="Nobody", size=60, across=Place(gap=320), down=Place(gap=80))
    fields = (TextField(id="name", label="Name", default="Nobody"), PictureField(id="portrait", label="Portrait"))
    template = Template(name="Portrait strap", length=50, parts=(picture, name), card=Card(sections=(Section("", fields),)))
    for field_id, path in (("name", "name/text"), ("portrait", "portrait/picture")):
        template = carding.wire_up(template, field_id, path)
    return template


def flat_png(colour, side=40):
    """A picture of one colour."""
    out = io.BytesIO()
    Image.new("RGB", (side, side), colour).save(out, "PNG")
    return out.getvalue()
