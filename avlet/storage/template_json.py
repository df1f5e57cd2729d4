"""``template.json``: reading with the place of each fault, writing."""

import re

import msgspec

from avlet.document.checking import check
from avlet.document.template import FORMAT, Template
from avlet.errors import AnswerError, DocumentError, StorageError
from avlet.layout.bind import bind
from avlet.layout.graph import order

_WORDS = {
    "`float`": "a number", "`int`": "a whole number", "`str`": "words", "`bool`": "true or false",
    "`array`": "a list", "`object`": "an object", "`null`": "nothing",
}  # fmt: skip


class _FormatOnly(msgspec.Struct):
    format: int


def decode(data: bytes, where: str) -> Template:
    """A template from its JSON. Raises ``StorageError`` that names the place: ``parts[3].corner: …``."""
    try:
        number = msgspec.json.decode(data, type=_FormatOnly).format
        if number > FORMAT:
            raise StorageError(
                f"“{where}” was made with a newer Avlet (format {number}; this one reads up to {FORMAT}). Update Avlet to open it."
            )
        template = check(msgspec.json.decode(data, type=Template))
        _check_answers(template)
        return template
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise StorageError(f"“{where}” cannot be read: {in_words(str(error))}") from None
    except DocumentError as error:
        raise StorageError(f"“{where}” does not hold together: {error}") from None


def _check_answers(template: Template) -> None:
    """Starting answers and samples must be accepted by their fields, and by the properties that these are wired to."""
    for place, answers in (("card", {}), *((f"samples[{n}].answers", s.answers) for n, s in enumerate(template.samples))):
        try:
            bound = bind(template, answers)
            order({part.id: part for part in bound.parts}, bound.hangs_on)
        except AnswerError as error:
            raise DocumentError(f"{place}: {error}") from None


def in_words(message: str) -> str:
    """A decoder's message with its place in front: ``parts[3].corner: expected a number, got words.``."""
    text, _, place = message.partition(" - at `$")
    place = place.rstrip("`").lstrip(".").replace("[...]", "[…]")
    for code, words in _WORDS.items():
        text = text.replace(code, words)
    text = re.sub(r"`([^`]*)`", r"“\1”", text)
    text = text[:1].lower() + text[1:]
    return f"{place}: {text}." if place else f"{text}."


def encode(template: Template) -> bytes:
    """The bytes of ``template.json``, laid out for reading and for version control."""
    return msgspec.json.format(msgspec.json.encode(template), indent=2) + b"\n"
