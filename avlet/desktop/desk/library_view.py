"""The library on the desk: categories, favourites, search, moving previews. It follows its folders by itself."""

from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QModelIndex, QPoint, QTimer, pyqtSignal
from PyQt6.QtGui import QAction, QDragEnterEvent, QDropEvent, QGuiApplication
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.desk.library_reader import Found, LibraryReader
from avlet.desktop.desk.packages_list import PackagesList
from avlet.desktop.desk.serving import Serving
from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.flow import flowing
from avlet.desktop.widgets.menus import pop_up
from avlet.errors import AvletError
from avlet.storage.handing_over import bring_back, versions_of
from avlet.storage.library import Entry, Stamp, import_package
from avlet.storage.library_index import LibraryIndex
from avlet.storage.package import SUFFIX
from avlet.storage.settings import replace, starred

_ALL, _STARRED = "All", "★"
_SETTLING = 15
"""ms after a change until it is looked into, as files come in several steps."""
_MOST_WATCHED = 500
"""Packages that are watched one by one; of a larger library its folders are, and it is looked through now and then."""


class LibraryView(QWidget):
    """Lists the packages of the cut's library; ``chosen`` tells a package's file name on a double click, ``given`` one that the
    selected titles are to be of."""

    chosen = pyqtSignal(str)
    given = pyqtSignal(str)
    open_wanted = pyqtSignal(object)
    patience = 0.08
    """Seconds that are waited for a library that is read at once, so that it does not flicker."""

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setProperty("role", "panel")
        self.setAcceptDrops(True)
        self.entries: list[Entry] = []
        self._by_name: dict[str, Entry] = {}
        self.said: list[str] = []
        self._stamps: dict[str, Stamp] = {}
        self._reading = False
        self.reader = LibraryReader(LibraryIndex(session.state / "library.sqlite" if session.state is not None else None), self)
        self.reader.found.connect(self._found)
        self.reader.changes.connect(self.rescan)
        self.destroyed.connect(self.reader.close)
        self.serving = Serving(self)
        self.serving.told.connect(session.refused)
        self._category = _ALL
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 12, 8, 8)
        layout.addLayout(self._make_head())
        self._chips = flowing()
        layout.addWidget(self._chips)
        self._group = QButtonGroup(self)
        self.list = PackagesList(self.reader)
        self.list.activated.connect(self._activated)
        self.list.menu_wanted.connect(self._open_menu)
        layout.addWidget(self.list, 1)
        self.hint = QLabel()
        self.hint.setWordWrap(True)
        self.hint.setProperty("role", "small")
        layout.addWidget(self.hint)
        self._watcher = QFileSystemWatcher(self)
        self._watcher.directoryChanged.connect(self._touched)
        self._watcher.fileChanged.connect(self._touched)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.rescan)
        self._poll = QTimer(self)
        self._poll.timeout.connect(self._look)
        self._poll.start(2000)
        session.library_changed.connect(self.reload)
        self.reload()

    def _make_head(self) -> QHBoxLayout:
        """What is above the list: what to find, and the folders."""
        row = QHBoxLayout()
        self.search = QLineEdit()
        self.search.setAccessibleName("Find a template")
        self.search.setPlaceholderText("Find a template…")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._show)
        row.addWidget(self.search, 1)
        self.folders_button = QToolButton()
        self.folders_button.setText("…")
        self.folders_button.setProperty("role", "flat")
        self.folders_button.setToolTip("Folders of the library, import")
        self.folders_button.setAccessibleName("Folders of the library, import")
        self.folders_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.folders_menu = QMenu(self.folders_button)
        self.folders_menu.aboutToShow.connect(self._fill_folders)
        self.folders_button.setMenu(self.folders_menu)
        row.addWidget(self.folders_button)
        return row

    def _look(self) -> None:
        """Some file systems tell of no changes, so look now and then."""
        if self.isVisible():
            self.reader.look(self.session.folders)

    def rescan(self) -> None:
        """A folder has changed: read it again, and have open titles read their templates again."""
        self.session.forget_templates()

    def reload(self) -> None:
        """Read the folders, beside what goes on, and show them; a small library is there at once."""
        self._reading = True
        found = self.reader.read(self.session.folders, self.patience)
        if found is None:
            self._show()
        else:
            self._found(found)

    def _found(self, found: Found) -> None:
        """Show what was read, or what of it was read so far."""
        if not self.reader.is_current(found) or (found.said is None and not self._reading):
            return  # what was found so far, told from another thread, may come behind the whole
        self.entries, self._by_name = found.entries, {entry.file_name: entry for entry in found.entries}
        if found.said is not None:
            self._reading, self.said = False, found.said
            before, self._stamps = self._stamps, found.stamps
            for path in [path for path, stamp in self._stamps.items() if before.get(path, stamp) != stamp]:
                self.list.packages.forget_picture(path)
            self._watch()
        self._show_chips()
        self._show()

    def _touched(self, _: str) -> None:
        self._timer.start(_SETTLING)

    def _watch(self) -> None:
        folders = [folder for folder in self.session.folders if folder.is_dir()]
        wanted = {str(path) for path in (*folders, *(self._stamps if len(self._stamps) <= _MOST_WATCHED else ()))}
        watched = set(self._watcher.directories() + self._watcher.files())
        if watched - wanted:
            self._watcher.removePaths(sorted(watched - wanted))
        if wanted - watched:
            self._watcher.addPaths(sorted(wanted - watched))

    def _show_chips(self) -> None:
        names = [_ALL, *sorted({e.category for e in self.entries if not e.fault}), _STARRED]
        layout = self._chips.layout()
        assert layout is not None
        if [b.text() for b in self._group.buttons()] == names:
            return
        for button in self._group.buttons():
            self._group.removeButton(button)
            button.deleteLater()
        if self._category not in names:
            self._category = _ALL
        for name in names:
            button = QPushButton(name)
            button.setProperty("role", "pill")
            button.setCheckable(True)
            button.setChecked(name == self._category)
            button.setToolTip("Favourites" if name == _STARRED else "")
            button.clicked.connect(lambda _=False, n=name: self.show_category(n))
            self._group.addButton(button)
            layout.addWidget(button)

    def show_category(self, name: str) -> None:
        self._category = name
        self._show()

    def _show(self) -> None:
        """The packages that are wanted, those used most first."""
        settings, words = self.session.settings, self.search.text()
        shown = []
        for entry in self._by_use():
            favourite = entry.file_name in settings.starred
            wanted = (
                self._category == _ALL
                or bool(entry.fault)
                or (favourite if self._category == _STARRED else self._category == entry.category)
            )
            if wanted and entry.matches(words):
                shown.append(entry)
        self.list.packages.show_entries(shown, settings.starred)
        if self._reading and not self.entries:
            self.hint.setText("Looking through the library…")
        elif self.said:
            self.hint.setText("⚠ " + " ".join(self.said))
        elif not self.entries:
            self.hint.setText(f"No templates yet. Build one and press “Hand over…”; it is written to {self.session.library}.")
        elif not self.list.count():
            self.hint.setText(
                "No template has these words." if self.search.text() else "None here yet. Right-click a template to make it a favourite."
            )
        else:
            self.hint.setText("Drag onto a words track, or double-click to put it at the playhead. Drop packages here to import them.")

    def _by_use(self) -> list[Entry]:
        uses = self.session.settings.uses
        return sorted(self.entries, key=lambda e: (bool(e.fault), -uses.get(e.file_name, 0)))  # they are by name already

    def usual(self, most: int) -> list[Entry]:
        """The usable packages that are used most."""
        return [entry for entry in self._by_use() if not entry.fault][:most]

    def _activated(self, index: QModelIndex) -> None:
        entry = self.list.packages.entries[index.row()]
        if not entry.fault:
            self.chosen.emit(entry.file_name)

    # Favourites, versions, folders

    def entry(self, file_name: str) -> Entry | None:
        """The package with this file name."""
        return self._by_name.get(file_name)

    def star(self, file_name: str, on: bool) -> None:
        """Make a package a favourite, or not any more."""
        self.session.keep_settings(starred(self.session.settings, file_name, on))
        self._show()

    def menu_for(self, file_name: str) -> QMenu:
        """What can be done with a package."""
        menu = QMenu(self)
        entry = self.entry(file_name)
        if entry is None or entry.fault:
            return menu
        _act(menu, "Put on the cut", lambda: self.chosen.emit(file_name))
        many = len(self.session.selection)
        if many:
            words = "Give it to the selected title" if many == 1 else f"Give it to the {many} selected titles"
            _act(menu, words, lambda: self.given.emit(file_name)).setToolTip("Answers to fields of the same name come along")
        favourite = file_name in self.session.settings.starred
        _act(menu, "No favourite any more" if favourite else "Favourite", lambda: self.star(file_name, not favourite))
        _act(menu, "Open to change it", lambda: self.open_wanted.emit(entry.path))
        versions = QMenu("Versions", menu)
        for version in versions_of(entry.path):
            words = f"Version {version.number}" + (f" – {version.note}" if version.note else "") + (" (present)" if version.present else "")
            action = _act(versions, words, lambda n=version.number: self.bring_back(entry.path, n))
            action.setEnabled(not version.present)
            action.setToolTip("Make it the present one again, as a new version")
        menu.addMenu(versions)
        return menu

    def _open_menu(self, file_name: str, at: QPoint) -> None:
        menu = self.menu_for(file_name)
        if menu.actions():
            pop_up(menu, at)

    def bring_back(self, path: Path, version: int) -> None:
        """Make an earlier version the present one."""
        try:
            done = bring_back(path, version)
        except AvletError as error:
            self.session.refused.emit(str(error))
            return
        self.session.refused.emit(f"{path.stem}: version {done.version} is what version {version} was.")
        self.rescan()

    def _fill_folders(self) -> None:
        menu = self.folders_menu
        menu.clear()
        own = menu.addAction(f"Your own: {self.session.library}")
        assert own is not None
        own.setEnabled(False)
        for name in self.session.settings.shared:
            under = QMenu(f"Shared: {name}", menu)
            _act(under, "Do not look there any more", lambda n=name: self.forget_folder(n))
            menu.addMenu(under)
        menu.addSeparator()
        _act(menu, "Look in a shared folder…", self._choose_folder)
        _act(menu, "Import packages…", self._choose_packages)
        menu.addSeparator()
        if self.serving.is_on:
            copy = _act(menu, "Copy the address for browsers", lambda: QGuiApplication.clipboard().setText(self.serving.address))  # type: ignore[union-attr]
            copy.setEnabled(bool(self.serving.address))
            _act(menu, "Serve it no more", self.serving.stop)
        else:
            _act(menu, "Serve this library to browsers", lambda: self.serving.start(self.session.library))

    def _choose_folder(self) -> None:
        folder = QFileDialog.getExistingDirectory(lasting(self), "Shared library", str(self.session.library))
        if folder:
            self.add_folder(Path(folder))

    def add_folder(self, folder: Path) -> None:
        """Look in one more folder, which is only read."""
        shared = tuple(dict.fromkeys((*self.session.settings.shared, str(folder))))
        self.session.keep_settings(replace(self.session.settings, shared=shared))
        self.rescan()

    def forget_folder(self, name: str) -> None:
        """Look there no more."""
        shared = tuple(n for n in self.session.settings.shared if n != name)
        self.session.keep_settings(replace(self.session.settings, shared=shared))
        self.rescan()

    def _choose_packages(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(lasting(self), "Import packages", "", f"Avlet templates (*{SUFFIX})")
        self.import_packages([Path(name) for name in names])

    def import_packages(self, paths: list[Path]) -> None:
        """Copy packages into one's own library."""
        said = []
        for path in paths:
            try:
                import_package(path, self.session.library)
            except AvletError as error:
                said.append(str(error))
        self.rescan()
        if said:
            self.session.refused.emit(" ".join(said))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        if data is not None and any(url.toLocalFile().endswith(SUFFIX) for url in data.urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        event.acceptProposedAction()
        self.import_packages([Path(u.toLocalFile()) for u in data.urls() if u.toLocalFile().endswith(SUFFIX)] if data is not None else [])


def _act(menu: QMenu, words: str, chosen: object) -> QAction:
    action = menu.addAction(words)
    assert action is not None
    action.triggered.connect(lambda _=False: chosen())  # type: ignore[operator]
    return action
