"""``template.json``: reading with the place of each fault, writing."""

import msgspec

from avlet.document.faults.checking import in_words
from avlet.document.template import FORMAT, Template
from avlet.errors import DocumentError, StorageError
from avlet.layout.holding import hold
from avlet.limits import MOST_DOCUMENT
from avlet.storage.reading import refuse_crowded


class _FormatOnly(msgspec.Struct):
    format: int


def decode(data: bytes, where: str) -> Template:
    """A template from its JSON. Raises ``StorageError`` that names the place: ``parts[3].corner: …``."""
    if len(data) > MOST_DOCUMENT:
        raise StorageError(f"“{where}” has a template of {len(data) // 1024**2:,} MB; at most {MOST_DOCUMENT // 1024**2} MB are possible.")
    refuse_crowded(data, where)
    try:
        number = msgspec.json.decode(data, type=_FormatOnly).format
        if number > FORMAT:
            raise StorageError(
                f"“{where}” was made with a newer Avlet (format {number}; this one reads up to {FORMAT}). Update Avlet to open it."
            )
        return hold(msgspec.json.decode(data, type=Template))
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise StorageError(f"“{where}” cannot be read: {in_words(str(error))}") from None
    except DocumentError as error:
        raise StorageError(f"“{where}” does not hold together: {error}") from None


def encode(template: Template) -> bytes:
    """The bytes of ``template.json``, laid out for reading and for version control.

    What :func:`decode` would refuse is not written: raises ``StorageError`` in words.
    """
    try:
        hold(template)
    except DocumentError as error:
        raise StorageError(f"{template.name} is not written, as it could not be opened again: {error} Undo the last change.") from None
    return encode_as_it_is(template)


def encode_as_it_is(template: Template) -> bytes:
    """The bytes of a template that nobody has looked at, for keeping what is on the stage whatever it is."""
    return msgspec.json.format(msgspec.json.encode(template), indent=2) + b"\n"
