"""Starts of one's own: templates that somebody kept to begin from, each with its versions, in a folder beside the library."""

from dataclasses import replace
from pathlib import Path

from avlet.document.editing.reframing import retimed_to
from avlet.document.template import Frame, Template
from avlet.errors import StorageError
from avlet.layout.other_frame import brought_to
from avlet.storage.handing_over import HandedOver, hand_over
from avlet.storage.library import Entry, scan
from avlet.storage.package import Opened, open_template
from avlet.text.fonts import FontBook


def keep_as_start(template: Template, book: FontBook, folder: Path) -> HandedOver:
    """Keep a template as a start, as the next version of the one of its name. Raises ``StorageError`` where that cannot be written."""
    return hand_over(template, book, folder)


def own_starts(folder: Path) -> list[Entry]:
    """The starts in a folder, by name; those that cannot be read among them, with their fault. None where there is no folder."""
    try:
        return scan(folder) if folder.is_dir() else []
    except OSError as error:
        raise StorageError(f"“{folder}”, where your own starts are kept, cannot be read: {error.strerror}.") from None


def begin_from(path: Path, frame: Frame) -> Opened:
    """A start of one's own, brought to a frame and its rate: sizes go half-way to the shorter side, times keep their seconds.

    Raises ``StorageError`` for one that cannot be read, ``DocumentError`` where it cannot stand in that frame.
    """
    opened = open_template(path)
    template = opened.template
    if template.frame.fps != frame.fps:
        template = retimed_to(template, frame.rate)
    if (template.frame.width, template.frame.height) != (frame.width, frame.height):
        template = brought_to(template, frame, "between both", opened.book)
    return replace(opened, template=template)
