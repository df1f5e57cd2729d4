"""Everything that the window does with files: new, open, recent, save, hand over, cuts, rendering, recovery."""

from pathlib import Path
from typing import TYPE_CHECKING

import platformdirs
from PyQt6.QtWidgets import QDialog, QFileDialog, QInputDialog, QMenu, QMessageBox

from avlet.desktop.build.new_parts import add_picture
from avlet.desktop.build.taking_in import take_in
from avlet.desktop.dialogs.handover_dialog import HandoverDialog
from avlet.desktop.dialogs.start_dialog import StartDialog
from avlet.desktop.window.beginning import first_steps
from avlet.desktop.window.lost import LostWork
from avlet.desktop.window.shell import BENCHES, CUT_SUFFIX, ROSTER, Shell
from avlet.desktop.window.theirs import Theirs
from avlet.document.cut import Title, fresh_cut
from avlet.document.editing.edits import replace
from avlet.document.editing.naming import keywords_in, slug
from avlet.document.tables import TABLES
from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.media.foreign import theirs_words
from avlet.media.plates import PLATES
from avlet.media.timeline import read_cut, write_cut
from avlet.media.titles import film_name
from avlet.places import demo_library, starts_folder
from avlet.storage.contents import content_of
from avlet.storage.handing_over import hand_over
from avlet.storage.own_starts import keep_as_start
from avlet.storage.package import SUFFIX, Opened, handed_over_as, open_template, save_template
from avlet.storage.recent import recent_files, remember
from avlet.storage.settings import replace as replace_settings
from avlet.text.fonts import bundled_fonts
from avlet.text.system_fonts import machine_fonts

if TYPE_CHECKING:
    from avlet.desktop.dialogs.render_dialog import RenderDialog

DEMO_TEMPLATE, DEMO_CUT = "name-strap.avlet", "show-reel.otio"
PICTURE_SUFFIXES = (".png", ".jpg", ".jpeg", ".webp", ".svg")


class Files:
    """File commands of one window."""

    def __init__(self, window: Shell) -> None:
        self.window = window
        self.dialog: RenderDialog | None = None
        self.theirs = Theirs(window)
        self.lost = LostWork(window)

    def fill_menu(self, menu: QMenu) -> None:
        """The main menu, with what was opened last."""
        menu.clear()
        menu.addAction("Welcome page", self.window.show_welcome)
        menu.addAction("New template\tCtrl+N", self.new)
        menu.addAction("Open…\tCtrl+O", self.open)
        recent = menu.addMenu("Open recent")
        assert recent is not None
        for path in recent_files(self.window.state):
            recent.addAction(path.name, lambda _=False, p=path: self.open_path(p)).setToolTip(str(path))  # type: ignore[union-attr]
        recent.setEnabled(not recent.isEmpty())
        menu.addSeparator()
        menu.addAction("Save\tCtrl+S", self.save)
        menu.addAction("Save as…\tCtrl+Shift+S", self.save_as)
        menu.addAction("Hand over…\tCtrl+H", self.hand_over)
        menu.addAction("Hand over for live…", self.hand_over_for_live)
        menu.addAction("Keep as a variant…", self.keep_as_variant)
        menu.addAction("Keep as a start", self.keep_as_start)
        menu.addSeparator()
        menu.addAction("New cut", self.new_cut)
        menu.addAction("Open cut…", self.open_cut)
        menu.addAction("Save cut", self.save_cut)
        menu.addAction("Save cut as…", lambda: self.save_cut(ask=True))
        menu.addSeparator()
        menu.addAction("Settings…\tCtrl+,", self.window.show_settings)
        menu.addAction("First steps", lambda: first_steps(self.window))
        menu.addAction("Guide", self.window.show_guide)
        menu.addAction("Keys and habits\tF1", self.window.show_keys)
        menu.addSeparator()
        menu.addAction("Quit\tCtrl+Q", self.window.close)

    # Templates

    def open_demo(self, folder: Path | None = None) -> None:
        """The demo's cut on the desk, its name strap on the stage with its typical answers."""
        folder = folder or demo_library()
        self.open_path(folder / DEMO_CUT)
        self.window.cut_session.go_to(450)
        self.window.cut_session.select("odalys")
        self.open_path(folder / DEMO_TEMPLATE)
        self.window.session.show_answers("typical")
        self.window.session.select("plate")

    def new(self) -> None:
        """Choose a frame and a starting point."""
        dialog = StartDialog(self.window)
        if dialog.exec() == QDialog.DialogCode.Accepted and dialog.chosen is not None:
            self.begin(dialog.chosen)

    def start(self, template: Template) -> bool:
        """Put a new template on the stage."""
        return self.begin(Opened(template, machine_fonts()))

    def begin(self, opened: Opened) -> bool:
        """Put what a start gave on the stage, with the fonts that came along, not saved yet."""
        if not self.window.may_leave():
            return False
        book = machine_fonts() if opened.book is bundled_fonts() else opened.book
        self.window.session.open(opened.template, book, None, saved=False)
        self.window.show_bench(0)
        if opened.notes:
            self.window.say(" ".join(opened.notes))
        return True

    def keep_as_start(self) -> None:
        """Keep the template among the starts of one's own, to begin from."""
        session = self.window.session
        try:
            done = keep_as_start(session.template, session.book, starts_folder())
        except AvletError as error:
            self.window.say(str(error))
            return
        name = session.template.name
        if done.changed:
            self.window.say(f"{name} is a start of yours now, version {done.version}: in the gallery under Mine.")
        else:
            self.window.say(f"{name} is a start of yours already, as version {done.version}; nothing was written.")

    def open(self) -> None:
        start = str(self.window.session.path.parent if self.window.session.path else self.window.cut_session.library)
        name, _ = QFileDialog.getOpenFileName(
            self.window, "Open", start, f"Templates and cuts (*{SUFFIX} *{CUT_SUFFIX});;template.json (template.json)"
        )
        if name:
            path = Path(name)
            self.open_path(path.parent if path.name == "template.json" else path)

    def add_picture(self) -> None:
        """Choose a picture and put it on the stage."""
        name, _ = QFileDialog.getOpenFileName(self.window, "Picture", "", f"Pictures ({' '.join('*' + s for s in PICTURE_SUFFIXES)})")
        if name:
            add_picture(self.window.session, Path(name))

    def take_in(self) -> None:
        """Choose another template and take all of it in as a group, from the playhead's frame on."""
        start = str(self.window.cut_session.library)
        name, _ = QFileDialog.getOpenFileName(self.window, "Take in another template", start, f"Templates (*{SUFFIX} template.json)")
        if name:
            path = Path(name)
            take_in(self.window.session, path.parent if path.name == "template.json" else path, self.window)

    def open_path(self, path: Path) -> bool:
        """Open a template or a cut, or add a picture; says why when that cannot be done."""
        if path.suffix.lower() in PICTURE_SUFFIXES:
            self.window.show_bench(0)
            add_picture(self.window.session, path)
            return True
        if path.suffix.lower() == CUT_SUFFIX:
            return self._open_cut(path)
        if path.suffix.lower() in TABLES:
            self.window.show_bench(BENCHES.index(ROSTER))
            return self.window.roster_session.open_table(path)
        content = content_of(path)
        try:
            opened = open_template(path)
        except AvletError as error:
            self.window.say(str(error))
            return False
        if not self.window.may_leave():
            return False
        self.window.session.open(opened.template, opened.book, path, content=content)
        self.window.show_bench(0)
        self._remember(path)
        for note in opened.notes:
            self.window.say(note)
        return True

    def save(self) -> bool:
        """Save what the bench in front works on."""
        if self.window.in_front(ROSTER) and self.window.roster_session.has_work:
            return self.window.roster.write()
        return self.save_cut() if self.window.on_desk else self.save_template()

    def save_template(self) -> bool:
        """Save the template where it came from, or ask: also where that is a package that was handed over, which stays as it is."""
        path = self.window.session.path
        version = handed_over_as(path) if path is not None else 0
        if path is not None and version:
            self.window.say(f"“{path.name}” was handed over as version {version} and stays as it is. Where does the working file go?")
        return self._save_to(path) if path is not None and not version else self.save_as()

    def save_as(self) -> bool:
        session = self.window.session
        own = session.path is not None and not handed_over_as(session.path)
        folder = session.path.parent if session.path is not None and own else platformdirs.user_documents_path()
        suggestion = str(folder / f"{slug(session.template.name)}{SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self.window, "Save as", suggestion, f"Avlet templates (*{SUFFIX})")
        if not name:
            return False
        path = self._with_suffix(Path(name), SUFFIX)
        return path is not None and self._save_to(path)

    def _with_suffix(self, path: Path, suffix: str) -> Path | None:
        """A chosen file under its whole name. The dialog has asked about the one that was typed; another one is asked about here."""
        whole = path if path.suffix == suffix else path.with_name(path.name + suffix)
        if whole == path or not whole.exists():
            return whole
        buttons = QMessageBox.StandardButton
        words = f"“{whole.name}” is there already. Replace it?"
        answer = QMessageBox.question(self.window, "Save as", words, buttons.Yes | buttons.No, buttons.No)
        return whole if answer == buttons.Yes else None

    def _save_to(self, path: Path) -> bool:
        session = self.window.session
        settled = self.theirs.may_write_template(path, self.save_as)
        if settled is not None:
            return settled
        try:
            save_template(session.template, path, session.book)
        except AvletError as error:
            self.window.say(str(error))
            return False
        session.mark_saved(path)
        self.window.recovery.forget()
        self._remember(path)
        return True

    def _remember(self, path: Path) -> None:
        try:
            remember(self.window.state, path)
        except AvletError as error:
            self.window.say(str(error))

    def hand_over(self) -> None:
        """Show what goes with the template, then write its package into the library."""
        dialog = HandoverDialog(self.window.session, self.window.cut_session.library, self.window)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            name = dialog.name.text().strip() or self.window.session.template.name
            category = dialog.category.currentText().strip()
            keywords, template = keywords_in(dialog.keywords.text()), self.window.session.template
            if (name, category, keywords) != (template.name, template.category, template.keywords):
                self.window.session.edit("Name and category", lambda t: replace(t, name=name, category=category, keywords=keywords))
            self.hand_over_to(dialog.library, dialog.note.text().strip())

    def hand_over_to(self, library: Path, note: str = "") -> Path | None:
        """Write the package; says where and as which version, or why not."""
        session = self.window.session
        if self.window.cut_session.has_vanished(library):
            settled = self.theirs.may_make(library, self._hand_over_elsewhere)
            if settled is not None:
                return None
        try:
            done = hand_over(session.template, session.book, library, note)
        except AvletError as error:
            self.window.say(str(error))
            return None
        session.handed_over.emit()
        self.window.cut_session.has_seen(library)
        if library == self.window.cut_session.library:
            self.window.cut_session.forget_templates()
        name = session.template.name
        if done.changed:
            self.window.say(
                f"Handed over: {name} is in the library as {done.path.name}, version {done.version}. Titles on a cut will notice."
            )
        else:
            self.window.say(f"{name} is in the library as it is already, as version {done.version}; nothing was written.")
        return done.path

    def hand_over_for_live(self) -> None:
        """Choose a folder, and write the title as it is on the stage, with its answers, as a live graphic."""
        from avlet.desktop.window.live import for_live

        for_live(self.window)

    def _hand_over_elsewhere(self) -> bool:
        """Ask for another library, and hand over into that."""
        folder = QFileDialog.getExistingDirectory(self.window, "Hand over into", str(Path.home()))
        return bool(folder) and self.hand_over_to(Path(folder)) is not None

    def keep_as_variant(self) -> None:
        """A template derived from this one, under a name of its own."""
        name = self.window.session.template.name
        words, sure = QInputDialog.getText(self.window, "Keep as a variant", "The variant's name:", text=f"{name} variant")
        if sure and words.strip():
            self.start_variant(words.strip())

    def start_variant(self, name: str) -> bool:
        """Put a variant on the stage, not saved yet; it remembers where it came from."""
        session = self.window.session
        if not self.window.may_leave():
            return False
        origin = session.template.name
        session.open(replace(session.template, name=name, derived_from=origin), session.book, None, saved=False)
        self.window.say(f"{name} is a variant of {origin}. Change it, save it, hand it over under its own name.")
        return True

    # Cuts

    def new_cut(self) -> None:
        if self.window.may_leave_cut():
            self.window.cut_session.open(fresh_cut(PLATES), None)
            self.window.show_desk()

    def open_cut(self) -> None:
        start = str(self.window.cut_session.path or self.window.cut_session.library)
        name, _ = QFileDialog.getOpenFileName(self.window, "Open cut", start, f"Timelines (*{CUT_SUFFIX})")
        if name:
            self._open_cut(Path(name))

    def _open_cut(self, path: Path) -> bool:
        content = content_of(path)
        try:
            cut = read_cut(path)
        except AvletError as error:
            self.window.say(str(error))
            return False
        if not self.window.may_leave_cut():
            return False
        beside = {t.template for t in cut.titles}
        library = path.parent if beside and all((path.parent / name).exists() for name in beside) else None
        self.window.cut_session.open(cut, path, library, content=content)
        self.window.show_desk()
        self._remember(path)
        if cut.foreign:
            theirs = theirs_words(cut.foreign)
            has = f" It has {theirs}." if theirs else ""
            self.window.say(f"“{path.name}” comes from elsewhere: Avlet writes only its titles into it, all else stays as it is.{has}")
        return True

    def save_cut(self, ask: bool = False) -> bool:
        """Save the cut as ``.otio``."""
        session = self.window.cut_session
        path = session.path
        if ask or path is None:
            suggestion = str(session.library / f"{slug(session.cut.name)}{CUT_SUFFIX}")
            name, _ = QFileDialog.getSaveFileName(self.window, "Save cut", suggestion, f"Timelines (*{CUT_SUFFIX})")
            if not name:
                return False
            path = self._with_suffix(Path(name), CUT_SUFFIX)
            if path is None:
                return False
        settled = self.theirs.may_write_cut(path, lambda: self.save_cut(ask=True))
        if settled is not None:
            return settled
        try:
            write_cut(session.cut, path)
        except AvletError as error:
            self.window.say(str(error))
            return False
        session.mark_saved(path)
        self.window.cut_recovery.forget()
        return True

    # Rendering

    def render(self, all_titles: bool) -> None:
        """Ask how to render the selected title, or all of them."""
        from avlet.desktop.dialogs.render_dialog import RenderDialog
        from avlet.roster.cut_render import CutRender

        session = self.window.cut_session
        titles = session.cut.titles if all_titles else tuple(t for t in (session.title,) if t)
        names = [film_name(title) for title in titles if self._can_be_rendered(title)]
        if names:
            self.window.desk.leave()
            opened = {title.id: session.template_of(title) for title in session.cut.titles}
            only = frozenset() if all_titles else frozenset(title.id for title in titles)
            whole = CutRender(session.cut, opened, Path(), slug(session.cut.name), only=only)
            into = Path(session.settings.renders) if session.settings.renders else platformdirs.user_videos_path() / "avlet"
            self.dialog = RenderDialog(whole, names, into, self.window)
            self.dialog.began.connect(lambda folder: session.keep_settings(replace_settings(session.settings, renders=folder)))
            self.dialog.ended.connect(self.window.desk.film.refresh)
            self.dialog.open()

    @property
    def is_rendering(self) -> bool:
        """Whether something is being rendered."""
        return self.dialog is not None and self.dialog.is_running

    def stop_rendering(self) -> None:
        """Stop what is being rendered; nothing half-done is left."""
        if self.dialog is not None:
            self.dialog.stop()

    def _can_be_rendered(self, title: Title) -> bool:
        """Whether there can be a film of a title; says why not."""
        opened, scene = self.window.cut_session.template_of(title), self.window.cut_session.scene_of(title)
        why = next((one for one in (opened, scene) if isinstance(one, str)), "")
        if why:
            self.window.say(f"{title.template} is left out: {why}")
        return not why
