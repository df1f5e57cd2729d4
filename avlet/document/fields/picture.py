"""A picture."""

import base64
import binascii
from pathlib import PurePath
from typing import Any, ClassVar, Self

import msgspec

from avlet.document.fields.base import Answer, BaseField, Files, House
from avlet.document.looks.picture_file import ChangePicture
from avlet.document.metadata import PropertyType
from avlet.document.parts import PictureFile

_BASE64 = r"^(?:[A-Za-z0-9+/]{4})*(?:[A-Za-z0-9+/]{2}==|[A-Za-z0-9+/]{3}=)?$"


class PictureField(BaseField, frozen=True, kw_only=True, tag="picture"):
    """A picture. The answer is an object with its ``name`` and its file's bytes as base64 in ``data``."""

    default: PictureFile = PictureFile("")

    reads_files: ClassVar[bool] = True

    def fault(self, answer: Any, house: House = ()) -> str:
        if not isinstance(answer, dict) or set(answer) != {"name", "data"} or not all(isinstance(v, str) for v in answer.values()):
            return f"“{self.label}” takes a picture: an object with “name” and “data”."
        if len(answer["name"]) > 200:
            return f"The name of the picture for “{self.label}” is too long."
        try:
            base64.b64decode(answer["data"], validate=True)
        except (binascii.Error, ValueError):
            return f"The picture for “{self.label}” is damaged: its data is no base64."
        return ""

    def read(self, words: str, house: House, files: Files) -> Answer:
        path = words.strip()
        return {"name": PurePath(path).name, "data": base64.b64encode(files.read(path)).decode()}

    def with_pictures(self, change: ChangePicture) -> Self:
        return msgspec.structs.replace(self, default=change(self.default))

    def with_pictures_in(self, answer: Any, change: ChangePicture) -> Any:
        return msgspec.to_builtins(change(msgspec.convert(answer, PictureFile)))

    def schema(self, house: House) -> dict[str, Any]:
        name, data = {"type": "string", "maxLength": 200}, {"type": "string", "contentEncoding": "base64", "pattern": _BASE64}
        properties = {"name": name, "data": data}
        return {"type": "object", "properties": properties, "additionalProperties": False, "required": ["name", "data"]}

    def start_value(self, house: House) -> Any:
        return self.default

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        return cls(id=field_id, label=label, default=value) if kind.kind == "picture" else None
