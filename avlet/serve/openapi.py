"""What the server answers, described for programs: OpenAPI 3.1, its schemas read off the types that requests are held to."""

from typing import Any

import msgspec

from avlet import __version__
from avlet.media.reel import Reel
from avlet.serve.api import Wanted, WantedFilm, WantedLook
from avlet.serve.sent import SentFile
from avlet.serve.tables import SentTable, WantedRows

_PROBLEM = {"type": "string", "title": "string", "status": "integer", "detail": "string"}
_TITLE = {"name": "name", "in": "path", "required": True, "schema": {"type": "string"}, "description": "A title, as the list has it."}


def openapi() -> dict[str, Any]:
    """The description of all addresses below ``/api``."""
    _, schemas = msgspec.json.schema_components(
        (Wanted, WantedLook, WantedFilm, Reel, SentFile, SentTable, WantedRows),
        ref_template="#/components/schemas/{name}",
    )
    schemas["Problem"] = {
        "type": "object", "description": "Problem details, RFC 9457: detail says what happened and what to do.",
        "properties": {name: {"type": kind} for name, kind in _PROBLEM.items()}, "required": list(_PROBLEM),
    }  # fmt: skip
    paths = {
        "/api/titles": {"get": _told("All titles of the library")},
        "/api/titles/{name}": {"get": _told("One title: its card and its time"), "parameters": [_TITLE]},
        "/api/titles/{name}/thumbnail": {"get": _file("The title at rest", "image/png"), "parameters": [_TITLE]},
        "/api/titles/{name}/preview": {"get": _file("The title as it moves", "image/webp"), "parameters": [_TITLE]},
        "/api/titles/{name}/look": {"post": _asked("A frame, and what is said of it", "WantedLook", "200"), "parameters": [_TITLE]},
        "/api/titles/{name}/reels": {"post": _asked("Pictures, and when each shows", "Wanted", "201", "Reel"), "parameters": [_TITLE]},
        "/api/titles/{name}/films": {"post": _asked("Have it made", "WantedFilm", "202"), "parameters": [_TITLE]},
        "/api/files": {"post": _asked("Keep a file that cells of a table name", "SentFile", "201")},
        "/api/tables": {"post": _asked("The rows of a table that was pasted or sent", "SentTable", "200")},
        "/api/titles/{name}/rows": {"post": _asked("What rows of a table come to", "WantedRows", "200"), "parameters": [_TITLE]},
        "/api/titles/{name}/tables": {"post": _asked("Have all rows made, as a zip", "WantedRows", "202"), "parameters": [_TITLE]},
        "/api/pictures/{picture}": {"get": _file("A frame that was painted lately", "image/webp"), "parameters": [_at("picture")]},
        "/api/plates/{plate}": {"get": _file("A picture to look at titles against", "image/webp"), "parameters": [_at("plate")]},
        "/api/reels/{reel}/{file}": {"get": _file("Of a reel", "image/webp"), "parameters": [_at("reel"), _at("file")]},
        "/api/films": {"get": _told("All that is made or was made in the last hour")},
        "/api/films/{film}": {
            "get": _told("How far it is"), "parameters": [_at("film")],
            "delete": {"summary": "Stop it, or let go of it", "responses": {"204": {"description": "Gone"}, **_PROBLEMS}},
        },
        "/api/films/{film}/file": {"get": _file("What was made", "application/octet-stream"), "parameters": [_at("film")]},
        "/api/openapi.json": {"get": _told("This")},
    }  # fmt: skip
    return {
        "openapi": "3.1.0", "info": {"title": "Avlet", "version": __version__, "description": "Titles with the engine's own pictures."},
        "paths": paths, "components": {"schemas": schemas, "securitySchemes": {"token": {"type": "http", "scheme": "bearer"}}},
    }  # fmt: skip


_PROBLEMS = {
    "default": {
        "description": "What happened, and what to do",
        "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
    }
}


def _at(name: str) -> dict[str, Any]:
    return {"name": name, "in": "path", "required": True, "schema": {"type": "string"}}


def _told(summary: str) -> dict[str, Any]:
    content = {"application/json": {"schema": {"type": "object"}}}
    return {"summary": summary, "responses": {"200": {"description": summary, "content": content}, **_PROBLEMS}}


def _file(summary: str, media_type: str) -> dict[str, Any]:
    return {"summary": summary, "responses": {"200": {"description": summary, "content": {media_type: {}}}, **_PROBLEMS}}


def _asked(summary: str, body: str, status: str, gives: str = "") -> dict[str, Any]:
    schema: dict[str, Any] = {"$ref": f"#/components/schemas/{gives}"} if gives else {"type": "object"}
    wanted = {"required": True, "content": {"application/json": {"schema": {"$ref": f"#/components/schemas/{body}"}}}}
    answer = {"description": summary, "content": {"application/json": {"schema": schema}}}
    return {"summary": summary, "requestBody": wanted, "responses": {status: answer, **_PROBLEMS}}
