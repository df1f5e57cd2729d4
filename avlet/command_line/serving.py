"""``avlet serve``: a library in a browser."""

import contextlib
import os
import secrets
import socket
import threading
from pathlib import Path
from typing import Annotated, Any

import typer

from avlet.command_line.app import app, verb
from avlet.command_line.options import TokenFile, Workers
from avlet.command_line.scenes import workers_of
from avlet.command_line.telling import facts, say, wants_json
from avlet.errors import AvletError, StorageError

INSTALL = "pip install 'avlet[serve]'"
_LOOPBACK = ("127.0.0.1", "localhost", "::1")


@verb(
    app, "serve",
    "avlet serve",
    "avlet serve demo --port 9000 --open",
    "avlet serve /srv/titles --host 0.0.0.0 --token-file token.txt",
)  # fmt: skip
def serve(
    library: Annotated[Path | None, typer.Argument(metavar="[LIBRARY]", help="A folder of templates; your own library without it.")] = None,
    host: Annotated[str, typer.Option(help="The address to answer at; any but this machine's own asks for a token.")] = "127.0.0.1",
    port: Annotated[int, typer.Option(min=0, max=65_535, help="The port; 0 takes one that is free.")] = 8470,
    workers: Workers = None,
    open_page: Annotated[bool, typer.Option("--open", help="Open it in this machine's browser.")] = False,
    token_file: TokenFile = None,
    tied: Annotated[bool, typer.Option("--tied", hidden=True, help="End when the standard input does: whoever began it has gone.")] = False,
) -> None:
    """Serve a library's titles to browsers: the card, the engine's pictures, films to take away. Ends when it is interrupted."""
    try:
        import uvicorn

        from avlet.serve.app import make_app
        from avlet.serve.guard import Keys
    except ImportError as error:
        raise AvletError(f"Serving needs what is not installed ({error.name}). Install it: {INSTALL}.") from None
    from avlet.command_line.told import Serving
    from avlet.places import library_folder

    folder = library if library is not None else library_folder()
    if not folder.is_dir():
        raise StorageError(f"“{folder}” is no folder that can be served.")
    keys = Keys(_token(host, token_file), host)
    listening = _listening(host, port)
    keys.port = listening.getsockname()[1]
    address = f"http://{f'[{host}]' if ':' in host else host}:{keys.port}/"
    link = f"{address}enter?token={keys.token}" if keys.token else address
    config = uvicorn.Config(
        make_app(folder, keys, workers_of(workers) or os.cpu_count() or 2), log_config=None, server_header=False, date_header=False,
        timeout_graceful_shutdown=3, timeout_keep_alive=30, ws_max_size=1_000_000, limit_concurrency=400,
    )  # fmt: skip
    facts(Serving(verb="serve", library=str(folder), address=address, link=link if keys.token and token_file is None else ""))
    if not wants_json():
        say(f"{folder.name} is served at {address}")
        if keys.token and token_file is None:
            say(f"Open this once in each browser: {link}")
    if open_page:
        import webbrowser

        webbrowser.open(link)
    _run(uvicorn.Server(config), listening, tied)


def _run(server: Any, listening: socket.socket, tied: bool) -> None:
    """Serve until interrupted, or until nobody is there any more who began it."""

    def wait() -> None:
        while os.read(0, 1024):
            pass
        server.should_exit = True

    if tied:
        threading.Thread(target=wait, daemon=True).start()
    with contextlib.closing(listening):
        server.run(sockets=[listening])


def _token(host: str, token_file: Path | None) -> str:
    if token_file is not None:
        return read_token(token_file)
    return "" if host in _LOOPBACK else secrets.token_urlsafe(24)


def read_token(token_file: Path) -> str:
    """The token in a file; raises ``StorageError``."""
    try:
        token = token_file.read_text(encoding="utf-8").strip()
    except (OSError, UnicodeDecodeError) as error:
        raise StorageError(f"“{token_file}” cannot be read: {error}.") from None
    if not 16 <= len(token) <= 200 or not token.isascii() or not token.isprintable() or " " in token:
        raise StorageError(f"The token in “{token_file}” is 16 to 200 plain letters and figures, on one line.")
    return token


def _listening(host: str, port: int) -> socket.socket:
    """A socket that is bound; raises what is wrong with the address."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    made = socket.socket(family, socket.SOCK_STREAM)
    made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        made.bind((host, port))
        made.listen(256)
    except (OSError, UnicodeError, OverflowError) as error:
        made.close()
        why = getattr(error, "strerror", None) or str(error)
        raise AvletError(f"{host}, port {port}, cannot be served at: {why}. Take another with --port; 0 takes one that is free.") from None
    return made
