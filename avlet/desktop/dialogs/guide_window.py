"""The guide, read in a window of its own: pages that ship, and need neither a network nor a browser."""

from collections.abc import Iterator
from pathlib import Path

from PyQt6.QtCore import QSize, Qt, QUrl
from PyQt6.QtGui import QDesktopServices, QImage, QTextBlock, QTextCursor, QTextDocument
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QListWidget, QListWidgetItem, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from avlet.places import guide_folder, guide_site

PAGES = (
    "index", "five-minutes", "words-that-fit", "mattes", "folded-ruler", "counters", "credits", "solid-letters", "card", "proving",
    "two-hundred", "desk", "elsewhere", "in-a-browser", "keys", "when-something-goes-wrong",
)  # fmt: skip
"""The pages by file name, in the order in which they are read."""
_FOR = {"Build": "words-that-fit", "Time": "folded-ruler", "Card": "card", "Proof": "proving", "Desk": "desk", "Roster": "two-hundred"}
_MARGIN = 48
_PROPORTIONAL = 1
"""Qt's number for heights of lines in percent."""


class GuideWindow(QDialog):
    """Pages at the left, found by words in them; the page at the right. It does not hinder the window that it belongs to."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Guide")
        self.setModal(False)
        self.resize(1000, 720)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        left = QVBoxLayout()
        left.setContentsMargins(12, 12, 8, 12)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find in the guide")
        self.search.setAccessibleName("Find in the guide")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self.narrow)
        left.addWidget(self.search)
        self.pages = QListWidget()
        self.pages.setAccessibleName("Pages of the guide")
        self.pages.setFixedWidth(230)
        left.addWidget(self.pages, 1)
        self.outside = QPushButton("In the browser")
        self.outside.setToolTip("The same pages as a site, from this machine")
        self.outside.clicked.connect(self._show_outside)
        self.outside.setVisible(guide_site() is not None)
        left.addWidget(self.outside)
        row.addLayout(left)
        self.text = _Page()
        self.text.setAccessibleName("The page")
        row.addWidget(self.text, 1)
        self._words: dict[str, str] = {}
        for name in PAGES:
            words = (guide_folder() / f"{name}.md").read_text(encoding="utf-8")
            self._words[name] = words.lower()
            item = QListWidgetItem(words.splitlines()[0].lstrip("# "))
            item.setData(Qt.ItemDataRole.UserRole, name)
            self.pages.addItem(item)
        self.pages.currentItemChanged.connect(self._chosen)
        self.text.sourceChanged.connect(self._followed)
        self.show_page("index")

    def show_page(self, name: str) -> None:
        """Show a page by its name."""
        self.pages.setCurrentRow(PAGES.index(name))

    def show_for(self, bench: str) -> None:
        """Show the page that tells of a bench."""
        self.show_page(_FOR.get(bench, "index"))

    def narrow(self, words: str) -> None:
        """List only the pages that have all of some words."""
        wanted = words.lower().split()
        for number, name in enumerate(PAGES):
            item = self.pages.item(number)
            assert item is not None
            item.setHidden(not all(word in self._words[name] for word in wanted))

    def _show_outside(self) -> None:
        """Show the page in the browser of this machine."""
        site, item = guide_site(), self.pages.currentItem()
        if site is not None and item is not None:
            QDesktopServices.openUrl(QUrl.fromLocalFile(str(site.with_name(f"{item.data(Qt.ItemDataRole.UserRole)}.html"))))

    def _chosen(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self.text.read(guide_folder() / f"{item.data(Qt.ItemDataRole.UserRole)}.md")

    def _followed(self, url: QUrl) -> None:
        """A link was followed: its page is the one that is chosen."""
        name = Path(url.toLocalFile()).stem
        if name in PAGES:
            self.pages.blockSignals(True)
            self.pages.setCurrentRow(PAGES.index(name))
            self.pages.blockSignals(False)


class _Page(QTextBrowser):
    """A page in Markdown; pictures are as wide as there is room, and links lead to other pages only."""

    def __init__(self) -> None:
        super().__init__()
        self.setOpenExternalLinks(False)
        document = self.document()
        assert document is not None
        document.setDocumentMargin(_MARGIN / 2)
        self.setStyleSheet("font-size: 14px;")

    def read(self, path: Path) -> None:
        """Show the page of a file."""
        self.setSource(QUrl.fromLocalFile(str(path)), QTextDocument.ResourceType.MarkdownResource)

    def doSetSource(self, url: QUrl, kind: QTextDocument.ResourceType = QTextDocument.ResourceType.UnknownResource) -> None:
        """Show a page with air between its lines and paragraphs."""
        super().doSetSource(url, kind)
        document = self.document()
        if document is None:
            return
        block = document.begin()
        while block.isValid():
            cursor, form = QTextCursor(block), block.blockFormat()
            form.setLineHeight(135.0, _PROPORTIONAL)
            in_list = cursor.currentList() is not None
            form.setTopMargin(14.0 if form.headingLevel() else 0.0)
            form.setBottomMargin(4.0 if in_list else 12.0)
            if any(fragment_is_picture(block)):
                form.setLineHeight(100.0, _PROPORTIONAL)
            cursor.setBlockFormat(form)
            block = block.next()

    def loadResource(self, kind: int, url: QUrl) -> object:
        """Pictures in the width that there is."""
        if kind != QTextDocument.ResourceType.ImageResource.value:
            return super().loadResource(kind, url)
        image = QImage(self.source().resolved(url).toLocalFile())
        room = max(200, self.viewport().width() - _MARGIN - 16)  # type: ignore[union-attr]
        if image.width() > room:
            image = image.scaled(QSize(room, 10_000), Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
        return image


def fragment_is_picture(block: QTextBlock) -> Iterator[bool]:
    """For each run of a paragraph, whether it is a picture."""
    at = block.begin()
    while not at.atEnd():
        yield at.fragment().charFormat().isImageFormat()
        at += 1
