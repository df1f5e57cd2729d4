"""Work that had not been saved when Avlet ended: offered at the next start, taken up again, or kept as a file."""

from pathlib import Path

import platformdirs
from PyQt6.QtWidgets import QFileDialog, QMessageBox

from avlet.desktop.widgets.asking import lasting
from avlet.desktop.window.shell import BENCHES, BUILD, CUT_SUFFIX, ROSTER, Shell
from avlet.document.cut import Cut
from avlet.errors import AvletError
from avlet.media.timeline import cut_from
from avlet.roster.sheet import kept_sheet
from avlet.storage.atomic import write_whole
from avlet.storage.package import open_template
from avlet.storage.recovery import Lost, lost_work


class LostWork:
    """What a window asks about work that was found again."""

    def __init__(self, window: Shell) -> None:
        self.window = window

    def offer(self) -> None:
        """After a crash, offer what had not been saved."""
        taken: set[str] = set()
        for lost in lost_work(self.window.recovery.folder, {"cut": _kept_cut, "table": lambda data, _: kept_sheet(data)}):
            buttons = QMessageBox.StandardButton
            if lost.document is None:
                self._offer_as_file(lost)
                continue
            if lost.kind in taken:
                continue  # one of each kind can be open; the others are offered the next time
            what = {"cut": "the cut ", "table": "the table "}.get(lost.kind, "")
            words = f"Avlet ended before {what}“{lost.document.name}” was saved. Open what was kept?"
            answer = QMessageBox.question(lasting(self.window), "Unsaved work", words, buttons.Open | buttons.Discard | buttons.Ignore)
            if answer == buttons.Open:
                taken.add(lost.kind)
                {"cut": self._take_cut, "table": self._take_table}.get(lost.kind, self._take_template)(lost)
                self.window.keep_unsaved()
            if answer in (buttons.Open, buttons.Discard):
                lost.file.unlink(missing_ok=True)

    def _take_template(self, lost: Lost) -> None:
        """Go on with a template that was found again."""
        book = self.window.session.book
        if lost.path and lost.path.exists():
            try:
                book = open_template(lost.path).book
            except AvletError as error:
                self.window.say(str(error))
        self.window.session.open(lost.document, book, lost.path, saved=False, content=lost.content)
        self.window.session.recovered = True
        self.window.show_bench(BENCHES.index(BUILD))

    def _take_cut(self, lost: Lost) -> None:
        """Go on with a cut that was found again."""
        library = lost.library if lost.library is not None and lost.library.is_dir() else None
        self.window.cut_session.open(lost.document, lost.path, library, saved=False, content=lost.content)
        self.window.cut_session.recovered = True
        self.window.show_desk()

    def _take_table(self, lost: Lost) -> None:
        """Go on with a roster's table that was found again."""
        self.window.show_bench(BENCHES.index(ROSTER))
        self.window.roster_session.go_on_with(lost.document, lost.path, lost.content)

    def _offer_as_file(self, lost: Lost) -> None:
        """Work that cannot be opened is not passed over: it can be kept as a file."""
        buttons = QMessageBox.StandardButton
        name = lost.path.name if lost.path is not None else f"a {lost.kind} that had no file yet"
        own = f"cut{CUT_SUFFIX}" if lost.kind == "cut" else "template.json"
        words = f"Avlet ended before {name} was saved, and what was kept of it cannot be opened.\n{lost.fault}\n\nKeep it as a file?"
        answer = QMessageBox.question(lasting(self.window), "Unsaved work", words, buttons.Save | buttons.Discard | buttons.Ignore)
        if answer == buttons.Save:
            start = str(platformdirs.user_documents_path() / own)
            chosen, _ = QFileDialog.getSaveFileName(lasting(self.window), "Keep unsaved work", start, f"JSON (*.json *{CUT_SUFFIX})")
            if not chosen:
                return
            try:
                write_whole(Path(chosen), lost.data)
            except AvletError as error:
                self.window.say(str(error))
                return
            meant = "It is a timeline." if lost.kind == "cut" else "It is the template.json of a package."
            self.window.say(f"What was kept is in {chosen}. {meant}")
        if answer in (buttons.Save, buttons.Discard):
            lost.file.unlink(missing_ok=True)


def _kept_cut(data: bytes, path: Path | None) -> Cut:
    """A cut that was kept."""
    return cut_from(lambda: data, path or Path(f"what was kept{CUT_SUFFIX}"))
