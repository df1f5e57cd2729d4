"""What there is of the films of a cut's titles, in the folder that they were rendered into."""

import contextlib
from datetime import datetime
from pathlib import Path
from typing import NamedTuple

from avlet.document.cut import Cut, Title
from avlet.document.editing.naming import slug
from avlet.errors import AvletError
from avlet.media.titles import film_name
from avlet.roster.cut_render import title_mark
from avlet.roster.delivery import LIST, Delivered, Delivery, read_delivery, source_of
from avlet.roster.making import Source
from avlet.storage.package import Opened


class FilmState(NamedTuple):
    """A film of a title: its file, when that was made, and whether it shows the title as the cut has it now."""

    path: Path
    made: datetime
    shows: bool

    def words(self, now: datetime) -> str:
        """The state in words: *film made 10:31*; with the day if that was not today."""
        when = f"{self.made:%H:%M}" if self.made.date() == now.date() else f"{self.made:%Y-%m-%d %H:%M}"
        return f"Film made {when}" if self.shows else f"Its film, made {when}, is older than the title: render it again"


class FilmWatch:
    """Looks up the films of titles. A folder's list is read again once it has changed, a template's mark worked out once."""

    def __init__(self) -> None:
        self._list: tuple[object, Delivery] = (None, Delivery())
        self._marks: dict[tuple[str, int], tuple[Opened, str]] = {}

    def state(self, cut: Cut, title: Title, opened: Opened, folder: Path) -> FilmState | None:
        """The film of a title in a folder; None where there is none of this cut. A film that shows the title goes before an older one."""
        delivery, source = self._delivery(folder), source_of("cut", slug(cut.name), folder)
        owners, found = delivery.owners, []
        for one in (*delivery.others, *delivery.superseded, *delivery.files):
            if Path(one.file).stem == film_name(title) and owners[one.file] == source:
                made = _made(folder, one)
                if made is not None:
                    found.append(FilmState(folder / one.file, made, one.made_of == self._mark(cut, title, opened, one)))
        return max(found, key=lambda state: (state.shows, state.made), default=None)

    def _delivery(self, folder: Path) -> Delivery:
        stamp: object = None
        with contextlib.suppress(OSError, ValueError):
            known = (folder / LIST).stat()
            stamp = folder, known.st_mtime_ns, known.st_size
        if stamp is None:
            return Delivery()
        if self._list[0] != stamp:
            self._list = stamp, read_delivery(folder)
        return self._list[1]

    def _mark(self, cut: Cut, title: Title, opened: Opened, one: Delivered) -> str:
        kept = self._marks.get((title.template, title.version))
        if kept is None or kept[0] is not opened:
            try:
                kept = opened, Source.of(opened.template, opened.book).mark
            except AvletError:
                kept = opened, ""
            self._marks[title.template, title.version] = kept
        return title_mark(cut, title, opened, kept[1], Path(one.file).suffix, one.codec)


def _made(folder: Path, one: Delivered) -> datetime | None:
    """When a file was made that is as large as it was then; None where it is gone or is another one."""
    with contextlib.suppress(OSError, ValueError):
        known = (folder / one.file).stat()
        if known.st_size == one.size:
            return datetime.fromtimestamp(known.st_mtime)
    return None
