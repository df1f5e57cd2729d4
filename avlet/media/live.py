"""Handing over for live: a folder by the EBU's OGraf specification, v1, that plays in any renderer that follows it.

It holds the manifest (``NAME.ograf.json``), the web component (``graphic.mjs``), and the reel of the answers that it was made with.
What of the specification is not in its type definitions (npm ``ograf`` 1.2.0), such as the names of GDD types, is from memory.
"""

import dataclasses
import hashlib
import hmac
import math
from collections.abc import Mapping
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import msgspec

from avlet.document.editing.naming import slug
from avlet.document.fields import ChoiceField, ColourField, Field, FontField, LengthField, NumberField, SwitchField, TextField
from avlet.document.metadata import brief
from avlet.document.template import Template
from avlet.errors import AnswerError, StorageError
from avlet.media.drawing import Drawing
from avlet.media.reel import REEL, reel_of
from avlet.media.render import Progress
from avlet.paint.scene import Scene
from avlet.storage.archive import write_folder
from avlet.storage.thumbnail import HEIGHT, WIDTH, thumbnail_png

SCHEMA = "https://ograf.ebu.io/v1/specification/json-schemas/graphics/schema.json"
ENDING = ".ograf.json"
GRAPHIC = Path(__file__).with_name("graphic.mjs")


def live_manifest(template: Template, answers: Mapping[str, Any], length: int, version: int = 0) -> dict[str, Any]:
    """The manifest of a title with its answers; ``version`` is that of the template in its library."""
    frame = template.frame
    rate = float(frame.fps)
    size = {"width": {"ideal": frame.width}, "height": {"ideal": frame.height}}
    properties = {
        field.id: {
            "title": field.label, **({"description": field.hint} if field.hint else {}), "order": number,
            **data_schema(template, field), "default": data_of(template, field, answers.get(field.id, field.start)),
        }
        for number, field in enumerate(template.card.fields)
    }  # fmt: skip
    return {
        "$schema": SCHEMA, "id": f"avlet.{slug(template.name)}", "version": f"{version:04}", "name": template.name,
        "description": template.card.note, "main": "graphic.mjs", "stepCount": 1, "supportsRealTime": True, "supportsNonRealTime": True,
        "schema": {"type": "object", "properties": properties},
        "customActions": [
            {"id": "cut-in", "name": "Cut in", "description": "Stands at once, without its way in.", "schema": None},
            {"id": "cut-out", "name": "Cut out", "description": "Is gone at once, without its way out.", "schema": None},
        ],
        "renderRequirements": [{"resolution": size, "frameRate": {"ideal": round(rate, 3)}}],
        "thumbnails": [{"file": "thumbnail.png", "resolution": {"width": WIDTH, "height": HEIGHT}}],
        "v_avlet": {"reel": f"reel/{REEL}", "frames": length, "rate": frame.rate},
    }  # fmt: skip


def data_schema(template: Template, field: Field) -> dict[str, Any]:
    """What a field is in the manifest's schema: a type of JSON, and how it is edited (GDD)."""
    match field:
        case TextField():
            return {"type": "string", "maxLength": field.longest, "gddType": "multi-line" if field.several_lines else "single-line"}
        case LengthField():
            low, high = (_ms(template, frames) for frames in (field.low, field.high))
            return {"type": "integer", "minimum": low, "maximum": high, "gddType": "duration-ms"}
        case NumberField():
            limits = {"minimum": field.low, "maximum": field.high}
            kept = {name: value for name, value in limits.items() if value is not None}
            return {"type": "number", **kept, **({"gddType": "percentage"} if field.unit == "%" else {})}
        case SwitchField():
            return {"type": "boolean"}
        case ColourField() if field.may_be == "any":
            return {"type": "string", "pattern": "^#[0-9a-fA-F]{6}([0-9a-fA-F]{2})?$", "gddType": "color-rrggbb"}
        case ColourField():
            return _select([(one.id, one.name) for one in field.offered(template.palette)])
        case ChoiceField() | FontField():
            return _select(field.options_with(template.palette))
    made = field.schema(template.palette)
    return made if made.get("type") in ("object", "array") else {"type": "array", **made}


def _select(options: list[tuple[str, str]]) -> dict[str, Any]:
    return {
        "type": "string", "enum": [key for key, _ in options], "gddType": "select", "gddOptions": {"labels": dict(options)},
    }  # fmt: skip


def data_of(template: Template, field: Field, answer: Any) -> Any:
    """An answer as data that the manifest's schema takes: words without their formatting, lengths in ms, numbers as numbers."""
    match field:
        case TextField():
            return str(answer["text"]) if isinstance(answer, dict) else answer
        case LengthField():
            return _ms(template, answer)
        case NumberField():
            return float(answer)
    return answer


def answers_of_data(template: Template, data: Any) -> dict[str, Any]:
    """Answers from data as the manifest's schema has it: lengths come in ms. Raises ``AnswerError`` for what is no such data."""
    if data is None:
        return {}
    if not isinstance(data, dict):
        raise AnswerError("The data of a graphic is an object, with an answer for each field.")
    found = dict(data)
    for field in template.card.fields:
        value = found.get(field.id)
        if isinstance(field, LengthField) and isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value):
            found[field.id] = round(value * template.frame.fps / 1000)
    return found


def _ms(template: Template, frames: float) -> int:
    return round(frames * 1000 / template.frame.fps)


@dataclasses.dataclass(frozen=True)
class LiveServer:
    """An Avlet server that paints other words for a graphic: its address, what the title is called there, and its token."""

    address: str
    title: str
    token: str = dataclasses.field(repr=False)

    @classmethod
    def at(cls, address: str, title: str, token: str) -> "LiveServer":
        """A server by what somebody typed; raises ``AnswerError`` for what is no address."""
        parts = urlsplit(address.strip())
        if parts.scheme not in ("http", "https") or not parts.hostname or parts.path.strip("/") or parts.query or parts.fragment:
            raise AnswerError(f"“{brief(address)}” is no address of a server. Write it as http://titles.example:8470")
        return cls(f"{parts.scheme}://{parts.netloc}", title, token)


def live_key(token: str, title: str) -> str:
    """The key of a graphic: it opens this one title on the server with this token, and nothing else (HMAC, RFC 2104, with SHA-256)."""
    return hmac.new(token.encode(), f"live {title}".encode(), hashlib.sha256).hexdigest()


def write_live(
    scene: Scene, folder: Path, version: int = 0, told: Progress = lambda done, of: True, server: LiveServer | None = None
) -> Path:
    """Write a title for live into a folder, whole or not at all; gives the manifest's path. With a ``server`` its words may change.

    Raises ``RenderError`` for a reel that would be too large, ``StorageError`` where it cannot be written, or the folder holds something
    else.
    """
    template, answers = scene.template, scene.bound.answers
    name = f"{slug(template.name)}{ENDING}"
    if folder.is_dir() and any(folder.iterdir()) and not any(folder.glob(f"*{ENDING}")):
        raise StorageError(f"“{folder}” holds something else. A title for live is a folder of its own: name one that is empty or new.")
    reel, pictures = reel_of(Drawing.of(scene), told)
    manifest = live_manifest(template, answers, scene.length, version)
    starts = {key: one["default"] for key, one in manifest["schema"]["properties"].items()}
    asks = {"address": server.address, "title": server.title, "key": live_key(server.token, server.title)} if server else None
    title = {"starts": starts, "server": asks}
    files = {
        name: msgspec.json.format(msgspec.json.encode(manifest), indent=2), "title.json": msgspec.json.encode(title),
        "graphic.mjs": GRAPHIC.read_bytes(), "thumbnail.png": thumbnail_png(template, scene.book),
        **{f"reel/{file}": data for file, data in pictures.items()}, f"reel/{REEL}": msgspec.json.encode(reel),
    }  # fmt: skip
    folder.mkdir(parents=True, exist_ok=True)
    write_folder(folder, files, name)
    for old in (*folder.glob(f"*{ENDING}"), *(folder / "reel").glob("*.webp")):
        if str(old.relative_to(folder)) not in files:
            old.unlink()
    return folder / name
