"""The library on the desk: categories, favourites, search, moving previews. It follows its folders by itself."""

from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QAction, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidgetItem,
    QMenu,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.desk.packages_list import PackagesList, package_item
from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.widgets.flow import flowing
from avlet.errors import AvletError
from avlet.storage.handing_over import bring_back, versions_of
from avlet.storage.library import Entry, import_package, scan_all, signature
from avlet.storage.package import SUFFIX
from avlet.storage.settings import replace, starred

_ALL, _STARRED = "All", "★"


class LibraryView(QWidget):
    """Lists the packages of the cut's library; ``chosen`` tells a package's file name on a double click."""

    chosen = pyqtSignal(str)
    open_wanted = pyqtSignal(object)

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setProperty("role", "panel")
        self.setAcceptDrops(True)
        self.entries: list[Entry] = []
        self.said: list[str] = []
        self._category = _ALL
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 12, 8, 8)
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
        layout.addLayout(row)
        self._chips = flowing()
        layout.addWidget(self._chips)
        self._group = QButtonGroup(self)
        self.list = PackagesList()
        self.list.itemActivated.connect(self._activated)
        self.list.menu_wanted.connect(self._open_menu)
        layout.addWidget(self.list, 1)
        self.hint = QLabel()
        self.hint.setWordWrap(True)
        self.hint.setProperty("role", "small")
        layout.addWidget(self.hint)
        self._watcher = QFileSystemWatcher(self)
        self._watcher.directoryChanged.connect(lambda _: self._timer.start(250))
        self._watcher.fileChanged.connect(lambda _: self._timer.start(250))
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.rescan)
        self._poll = QTimer(self)
        self._poll.timeout.connect(self._look)
        self._poll.start(2000)
        self._signature: object = None
        session.library_changed.connect(self.reload)
        self.reload()

    def _look(self) -> None:
        """Some file systems tell of no changes, so look now and then."""
        if self.isVisible() and signature(self.session.folders) != self._signature:
            self.rescan()

    def rescan(self) -> None:
        """A folder has changed: read it again, and have open titles read their templates again."""
        self.session.forget_templates()

    def reload(self) -> None:
        """Read the folders and show them."""
        folders = self.session.folders
        self._signature = signature(folders)
        self.entries, self.said = scan_all(folders)
        watched = self._watcher.directories() + self._watcher.files()
        if watched:
            self._watcher.removePaths(watched)
        there = [str(folder) for folder in folders if folder.is_dir()] + [str(entry.path) for entry in self.entries]
        if there:
            self._watcher.addPaths(there)
        self._show_chips()
        self._show()

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
        self.list.clear()
        settings = self.session.settings
        for entry in sorted(self.entries, key=lambda e: (bool(e.fault), -settings.uses.get(e.path.name, 0), e.name.casefold())):
            favourite = entry.path.name in settings.starred
            wanted = (
                self._category == _ALL
                or bool(entry.fault)
                or (favourite if self._category == _STARRED else self._category == entry.category)
            )
            if wanted and entry.matches(self.search.text()):
                self.list.addItem(package_item(entry, favourite))
        if self.said:
            self.hint.setText("⚠ " + " ".join(self.said))
        elif not self.entries:
            self.hint.setText(f"No templates yet. Build one and press “Hand over…”; it is written to {self.session.library}.")
        elif not self.list.count():
            self.hint.setText(
                "No template has these words." if self.search.text() else "None here yet. Right-click a template to make it a favourite."
            )
        else:
            self.hint.setText("Drag onto a words track, or double-click to put it at the playhead. Drop packages here to import them.")

    def _activated(self, item: QListWidgetItem) -> None:
        if item.flags() & Qt.ItemFlag.ItemIsDragEnabled:
            self.chosen.emit(item.data(Qt.ItemDataRole.UserRole))

    # Favourites, versions, folders

    def entry(self, file_name: str) -> Entry | None:
        """The package with this file name."""
        return next((e for e in self.entries if e.path.name == file_name), None)

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
            menu.popup(at)

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

    def _choose_folder(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, "Shared library", str(self.session.library))
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
        names, _ = QFileDialog.getOpenFileNames(self, "Import packages", "", f"Avlet templates (*{SUFFIX})")
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
