"""What can be done with titles and clips on the desk besides dragging: menus, splitting, answers to pick again, tables."""

import csv
import io
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QInputDialog, QMenu, QWidget

from avlet.desktop.desk.cut_view import CutView
from avlet.desktop.dialogs.markers_dialog import MarkersDialog
from avlet.desktop.dialogs.paste_answers_dialog import PasteAnswersDialog
from avlet.desktop.dialogs.table_titles_dialog import TableTitlesDialog
from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.widgets.asking import lasting
from avlet.document.cut import (
    Cut,
    PictureClip,
    Title,
    add_picture,
    duplicate_titles,
    join_titles,
    move_picture,
    piece_after,
    remove_picture,
    remove_title,
    split_picture,
    split_title,
    trim_title,
)
from avlet.document.fields import NumberField, TextField
from avlet.document.template import Template
from avlet.limits import MOST_PASTED
from avlet.media.footage import FILMS, STILLS, footage_at
from avlet.media.plates import PLATES
from avlet.media.theirs import theirs_of
from avlet.roster.titles_in_rows import RowTitle, with_titles
from avlet.storage.handing_over import versions_of
from avlet.storage.library import Entry
from avlet.storage.settings import with_answers, without_answers

_MOST_OTHERS = 30
"""Templates that a menu offers; those used most."""


class DeskCommands:
    """Commands of one desk. ``usual`` gives the library's usable packages, those used most first."""

    def __init__(self, session: CutSession, view: CutView, owner: QWidget, usual: Callable[[int], list[Entry]]) -> None:
        self.session, self.view, self.owner, self.usual = session, view, owner, usual
        self.copied: dict[str, Any] = {}

    # What is selected

    def split(self) -> None:
        """Cut what lies under the playhead in two: the selected titles, else all titles there, else the picture."""
        frame, cut = self.session.frame, self.session.cut
        titles = [t.id for t in cut.titles_at(frame) if not self.session.selection or t.id in self.session.selection]
        if titles and self.view.clip is None:
            for title_id in titles:
                self.session.edit("Split a title", partial(split_title, title_id=title_id, frame=frame))
        else:
            self.session.edit("Split a picture", lambda c: split_picture(c, frame))

    def begin_here(self) -> None:
        """Let the selected titles begin at the playhead; their ends stay."""
        self._trim(lambda title, frame: (frame, max(frame + 1, title.end)), "Begin of a title")

    def end_here(self) -> None:
        """Let the selected titles end with the frame under the playhead; their beginnings stay."""
        self._trim(lambda title, frame: (min(title.start, frame), frame + 1), "End of a title")

    def _trim(self, times: Callable[[Title, int], tuple[int, int]], label: str) -> None:
        cut, frame = self.session.cut, self.session.frame
        chosen = [title for i in self.session.selection if (title := cut.title(i)) is not None]
        for title in chosen:
            self.session.edit(label, partial(_trimmed, title=title, times=times(title, frame)), ("here", label, *self.session.selection))
        self.session.history.close_gesture()
        now = self.session.title
        if now is not None and (now.start, now.end) != times(now, frame):
            self.session.refused.emit(f"It lasts from {now.start} to {now.end - 1}: another title stands in the way.")
        if not chosen:
            self.session.refused.emit("Select a title first: it begins or ends at the playhead then.")

    def join(self) -> None:
        """Make the pieces of the selected titles one again, each with the piece that goes on after it."""
        chosen = [i for i in self.session.selection if piece_after(self.session.cut, i) is not None]
        if not chosen:
            self.session.refused.emit("Nothing goes on after that: a piece is joined with the one that it was split from.")
        for title_id in chosen:
            self.session.edit("Join a title", partial(join_titles, title_id=title_id))

    def duplicate(self) -> None:
        """Copies of the selected titles behind them."""
        made: list[str] = []

        def change(cut: Any) -> Any:
            changed, found = duplicate_titles(cut, self.session.selection)
            made[:] = found
            return changed

        if self.session.selection:
            self.session.edit("Duplicate", change)
            self.session.select_all(made)

    def remove(self) -> None:
        """Take the selected titles, or the chosen clip, off the cut."""
        if self.session.selection:
            for title_id in self.session.selection:
                self.session.edit("Remove a title", partial(remove_title, title_id=title_id))
        elif self.view.clip is not None:
            clip = self.view.clip
            self.view.clip = None
            self.session.edit("Remove a picture", lambda c: remove_picture(c, clip))

    def copy_answers(self) -> None:
        """Remember what was answered on the selected title; what is as the template starts it counts for nothing."""
        if self.session.title is not None:
            self.copied = self.session.answers_of(self.session.title, touched=True)
            if not self.copied:
                self.session.refused.emit("Nothing is answered on this title yet: there is nothing to copy.")

    def paste_answers(self) -> None:
        """Ask which of the copied answers the selected titles are given, field by field, and give them."""
        title = self.session.title
        if not self.copied or title is None:
            return
        chosen = list(self.session.selection)
        dialog = PasteAnswersDialog(self.copied, self.session.answers_of(title), len(chosen), self.owner)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.session.give_answers(chosen, {label: self.copied[label] for label in dialog.taken})

    # Answers to pick again

    def fill_people(self, menu: QMenu) -> None:
        """The answers that were kept, to be picked for the selected titles."""
        menu.clear()
        for kept in self.session.settings.answers:
            facts = " · ".join(str(v).replace("\n", " / ") for v in kept.answers.values() if isinstance(v, str))
            _act(menu, f"{kept.name}\t{facts[:60]}", lambda a=kept.answers: self.session.give_answers(list(self.session.selection), a))
        if not self.session.settings.answers:
            none = menu.addAction("None kept yet")
            assert none is not None
            none.setEnabled(False)
        menu.addSeparator()
        _act(menu, "Keep the words of this title…", self.keep_answers)
        if self.session.settings.answers:
            gone = QMenu("Forget", menu)
            for kept in self.session.settings.answers:
                _act(gone, kept.name, lambda n=kept.name: self.session.keep_settings(without_answers(self.session.settings, n)))
            menu.addMenu(gone)

    def keep_answers(self) -> None:
        """Ask for a name and keep the words of the selected title under it."""
        title = self.session.title
        if title is None:
            return
        name, sure = QInputDialog.getText(lasting(self.owner), "Keep these words", "Their name:", text=self.view.label_of(title))
        if sure and name.strip():
            self.keep_as(name.strip())

    def keep_as(self, name: str) -> None:
        """Keep the words of the selected title under a name."""
        title = self.session.title
        opened = self.session.template_of(title) if title is not None else ""
        if title is None or isinstance(opened, str):
            return
        words = {f.label: title.answers.get(f.id, f.start) for f in opened.template.card.fields if isinstance(f, TextField)}
        self.session.keep_settings(with_answers(self.session.settings, name, words))

    def paste_table(self) -> None:
        """A title for each row of the table on the clipboard, like the selected one: which column goes where, and which rows, is asked."""
        clipboard = QApplication.clipboard()
        rows = table_rows(clipboard.text()) if clipboard is not None else []
        like = self.session.title
        opened = self.session.template_of(like) if like is not None else ""
        if like is None or isinstance(opened, str):
            self.session.refused.emit("Select a title first: the rows become titles like it.")
            return
        if not rows or not any(isinstance(f, TextField | NumberField) for f in opened.template.card.fields):
            self.session.refused.emit("There is no table on the clipboard. Copy two columns, such as names and roles, and paste again.")
            return
        if len(rows) > MOST_PASTED:
            self.session.refused.emit(f"The table has {len(rows)} rows; at most {MOST_PASTED} become titles at once. Copy fewer.")
            return
        dialog = TableTitlesDialog(rows, opened.template, like, self.session.cut, lasting(self.owner))
        if dialog.exec() == QDialog.DialogCode.Accepted and dialog.taken:
            self.make_titles(opened.template, like, dialog.taken)

    def make_titles(self, template: Template, like: Title, rows: Sequence[RowTitle]) -> None:
        """One title for each row, like one that is on the cut, from its place on."""
        cut, made = with_titles(self.session.cut, template, like, rows)
        self.session.edit(f"{len(rows)} titles from a table", lambda _: cut)
        self.session.select(made[0])

    def at_markers(self) -> None:
        """Ask what becomes of the markers of the timeline, and make it."""
        if not theirs_of(self.session.cut).marks:
            self.session.refused.emit("This cut has no markers. Open a timeline that has some, as .otio.")
            return
        clipboard = QApplication.clipboard()
        rows = table_rows(clipboard.text())[:MOST_PASTED] if clipboard is not None else []
        dialog = MarkersDialog(
            self.session, self.usual(_MOST_OTHERS), rows if any(len(row) > 1 for row in rows) else [], lasting(self.owner)
        )
        if dialog.exec() != QDialog.DialogCode.Accepted or dialog.made is None:
            return
        made = dialog.made
        self.session.edit("Titles at markers", lambda _: made.cut)
        self.session.select_all([one.title for one in made.marks if one.done != "as it is"])

    # Pictures

    def add_plate(self, plate: str) -> None:
        """Ten seconds of a made-up picture at the end."""
        length = round(10 * self.session.cut.frame.fps)
        self.session.edit("Add a picture", lambda c: add_picture(c, PictureClip(plate, length)))

    def choose_footage(self) -> None:
        kinds = " ".join(f"*{suffix}" for suffix in (*FILMS, *STILLS))
        name, _ = QFileDialog.getOpenFileName(lasting(self.owner), "Film or still", "", f"Films and stills ({kinds})")
        if name:
            self.add_footage(Path(name))

    def add_footage(self, path: Path) -> None:
        """A film at its length, or a still for five seconds, at the end; says why when it cannot be shown."""
        footage = footage_at(path)
        if isinstance(footage, str):
            self.session.refused.emit(footage)
            return
        seconds = 5.0 if footage.is_still else footage.seconds
        length = max(1, int(seconds * self.session.cut.frame.fps))
        self.session.edit("Add a picture", lambda c: add_picture(c, PictureClip(path.stem, length, str(path))))

    # Menus

    def menu(self) -> QMenu:
        """What can be done with what is selected."""
        menu = QMenu(self.owner)
        if self.session.selection:
            self._title_menu(menu)
        else:
            self._picture_menu(menu)
        return menu

    def _title_menu(self, menu: QMenu) -> None:
        chosen = list(self.session.selection)
        title = self.session.title
        assert title is not None
        _act(menu, "Split at the playhead\tS", self.split)
        pieces = any(piece_after(self.session.cut, i) is not None for i in self.session.selection)
        _act(menu, "Join with the piece after it\tCtrl+J", self.join, pieces)
        _act(menu, "Duplicate\tCtrl+D", self.duplicate)
        _act(menu, "Copy its answers\tCtrl+C", self.copy_answers)
        _act(menu, "Give it copied answers…\tCtrl+V", self.paste_answers, bool(self.copied))
        _act(menu, "One title a row of the copied table…", self.paste_table)
        versions = QMenu("Version", menu)
        _act(versions, "The newest", lambda: self.take_version(chosen, None))
        for version in versions_of(self.session.package(title.template)):
            words = f"Version {version.number}" + (f" – {version.note}" if version.note else "")
            _act(versions, words, lambda n=version.number: self.take_version(chosen, n), version.number != title.version)
        menu.addMenu(versions)
        others = QMenu("Another template", menu)
        for entry in self.usual(_MOST_OTHERS):
            if entry.file_name != title.template:
                _act(others, entry.name, lambda n=entry.file_name: self.give_template(n))
        _act(others, "Others: right-click one in the library", lambda: None, False)
        menu.addMenu(others)
        _act(menu, "Remove\tDelete", self.remove)

    def give_template(self, file_name: str) -> None:
        """Let the selected titles be of another template; what it has fields for comes along."""
        self._say(self.session.replace_template(list(self.session.selection), file_name))

    def take_version(self, title_ids: list[str], version: int | None) -> None:
        """Bring titles to a version, and say what was set aside."""
        self._say(self.session.take_version(title_ids, version))

    def _say(self, words: list[str]) -> None:
        if words:
            self.session.refused.emit(" ".join(dict.fromkeys(words)))

    def _picture_menu(self, menu: QMenu) -> None:
        clip = self.view.clip
        _act(menu, "Split the picture at the playhead\tS", self.split, bool(self.session.cut.pictures))
        if clip is not None:
            _act(menu, "Earlier", lambda: self._move_clip(clip, clip - 1), clip > 0)
            _act(menu, "Later", lambda: self._move_clip(clip, clip + 1), clip + 1 < len(self.session.cut.pictures))
            _act(menu, "Remove\tDelete", self.remove)
        menu.addSeparator()
        _act(menu, "Titles at markers…", self.at_markers, bool(theirs_of(self.session.cut).marks))
        for plate in () if self.session.cut.foreign else PLATES:
            _act(menu, f"Add {plate} (made picture)", lambda p=plate: self.add_plate(p))
        if not self.session.cut.foreign:
            _act(menu, "Add a film or still…", self.choose_footage)

    def _move_clip(self, clip: int, to: int) -> None:
        self.session.edit("Move a picture", lambda c: move_picture(c, clip, to))
        self.view.clip = to


def _trimmed(cut: Cut, title: Title, times: tuple[int, int]) -> Cut:
    return trim_title(cut, title.id, *times)


def table_rows(words: str) -> list[list[str]]:
    """The rows of a pasted table: columns between tabs, else semicolons, else commas; empty rows left out."""
    delimiter = next((sign for sign in "\t;," if sign in words), "\t")
    rows = csv.reader(io.StringIO(words), delimiter=delimiter)
    return [[cell.strip() for cell in row] for row in rows if any(cell.strip() for cell in row)]


def _act(menu: QMenu, words: str, chosen: Callable[..., object], enabled: bool = True) -> None:
    action = menu.addAction(words)
    assert action is not None
    action.setEnabled(enabled)
    action.triggered.connect(lambda _=False: chosen())
