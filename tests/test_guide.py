"""The guide: built strictly, true in what it tells of keys, buttons, verbs and pictures, and read in the window."""

import re
import subprocess
import sys
from pathlib import Path

import pytest
from hands import in_a_dialog, settle
from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QMenu, QPushButton

from avlet.command_line.helping import commands
from avlet.desktop.dialogs import guide_window
from avlet.desktop.dialogs.guide_window import PAGES
from avlet.desktop.dialogs.keys_dialog import KeysDialog
from avlet.places import guide_folder, guide_site

ROOT = Path(__file__).resolve().parent.parent
GUIDE = ROOT / "docs" / "guide"
TEXTS = {path.stem: path.read_text(encoding="utf-8") for path in GUIDE.glob("*.md")}
KEY = re.compile(r"^(?:(?:Ctrl|Shift|Alt)\+)*(?:[A-Z0-9]|Esc|Space|Return|Left|Right|Home|End|PgUp|PgDown|F1)$")
SAID = ("You want", "Try:", "samples", "For who builds templates", "For who types the names", "At any time")


def test_the_site_is_built_without_a_dead_link_or_a_missing_picture_and_loads_nothing_from_elsewhere(tmp_path):
    done = subprocess.run(
        [sys.executable, "-m", "mkdocs", "build", "--strict", "--quiet", "-d", str(tmp_path)],
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0 and "WARNING" not in done.stderr, done.stderr
    pages = list((tmp_path / "guide").glob("*.html"))
    assert {page.stem for page in pages} == set(PAGES) == set(TEXTS)
    for page in pages:
        loaded = re.findall(r'(?:<script[^>]*src|<link[^>]*href|<img[^>]*src)="([^"]+)"', page.read_text(encoding="utf-8"))
        assert loaded and not [one for one in loaded if one.startswith(("http:", "https:", "//", "/"))]


@pytest.mark.parametrize("name", [name for name in PAGES if name not in ("index", "keys", "when-something-goes-wrong")])
def test_a_page_begins_with_what_one_wants_and_ends_with_something_to_try(name):
    title, *rest = [line for line in TEXTS[name].splitlines() if line]
    assert title.startswith("# ") and rest[0].startswith("**You want** ")
    assert TEXTS[name].rstrip().splitlines()[-1].startswith("**Try:** ") or "**Try:** " in "".join(TEXTS[name].rstrip().splitlines()[-2:])
    assert len(TEXTS[name].split()) < 420, "short"


@pytest.mark.parametrize("name", PAGES)
def test_pictures_are_there_and_light(name):
    pictures = re.findall(r"!\[([^\]]+)\]\(([^)]+)\)", TEXTS[name])
    assert pictures or name in ("keys", "when-something-goes-wrong")
    for words, place in pictures:
        path = GUIDE / place
        assert words and path.is_file() and path.stat().st_size < 300_000, place


def test_every_key_that_is_told_is_a_key_of_the_window(window):
    known = {command.keys for command in window.shortcuts.commands} | {"Esc", "Return", "1920/2"}
    told = {word for text in TEXTS.values() for word in re.findall(r"`([^`\n]+)`", text) if KEY.match(word)}
    assert len(told) > 30 and told <= known, told - known


def test_every_word_in_bold_is_one_of_the_program():
    """What one is told to press or look for stands somewhere in the interface, letter by letter."""
    sources = "\n".join(
        path.read_text(encoding="utf-8") for part in ("desktop", "document", "motion") for path in (ROOT / "avlet" / part).rglob("*.py")
    )
    for name, text in TEXTS.items():
        if name == "when-something-goes-wrong":
            continue  # there the bold words are what is asked
        for words in re.findall(r"\*\*([^*]+)\*\*", text):
            assert words in SAID or words in sources, (name, words)


def test_every_verb_that_is_told_is_one():
    for text in TEXTS.values():
        for line in re.findall(
            r"(?m:^)avlet ((?:[a-z]+ ?){1,2})", "\n".join(re.findall(r"`([^`]+)`", text) + re.findall(r"```\n(.*?)```", text, re.S))
        ):
            words = line.split()
            assert words[0] == "help" or words[0] in commands() or " ".join(words[:2]) in commands(), line


def test_the_guide_is_read_in_a_window_of_its_own(window, qtbot):
    window.show_bench(1)
    menu = QMenu()
    window.files.fill_menu(menu)
    next(a for a in menu.actions() if a.text() == "Guide").trigger()
    settle()
    guide = window.guide
    assert guide.isVisible() and not guide.isModal() and guide.pages.currentItem().text() == "The folded ruler", "what tells of Time"
    assert "only the hold stretches" in guide.text.toPlainText()
    guide.text.setSource(QUrl.fromLocalFile(str(guide_folder() / "mattes.md")))
    settle()
    assert guide.pages.currentItem().text() == "Mattes", "a link was followed"
    guide.search.setFocus()
    qtbot.keyClicks(guide.search, "flicker")
    seen = [guide.pages.item(n).text() for n in range(guide.pages.count()) if not guide.pages.item(n).isHidden()]
    assert seen == ["Credits from a table"]
    guide.search.clear()
    for n in range(guide.pages.count()):
        guide.pages.setCurrentRow(n)
        assert guide.text.toPlainText().startswith(guide.pages.item(n).text().split(":")[0]), "every page is shown"
    for bench, page in enumerate(
        ("Words that fit", "The folded ruler", "The card and its wires", "Proving", "The desk", "Two hundred by tonight")
    ):
        window.show_bench(bench)
        window.show_guide()
        assert guide.pages.currentItem().text() == page
    window.show_welcome()
    window.show_guide()
    assert guide.pages.currentItem().text() == "Avlet: the guide"
    guide.close()


def test_f1_leads_to_the_guide_too(window, qtbot):
    def press(dialog):
        qtbot.mouseClick(next(b for b in dialog.findChildren(QPushButton) if b.text() == "Open the guide"), Qt.MouseButton.LeftButton)

    in_a_dialog(KeysDialog, press, lambda: qtbot.keyClick(window.windowHandle(), Qt.Key.Key_F1))
    settle()
    assert window.guide is not None and window.guide.isVisible()
    window.guide.close()


def test_where_the_site_is_there_it_opens_in_the_browser_at_the_page(window, qtbot, monkeypatch, tmp_path):
    """A wheel has it beside the package (scripts/build_guide.py); a checkout does not."""
    assert guide_site() is None
    site = tmp_path / "site" / "guide" / "index.html"
    site.parent.mkdir(parents=True)
    site.write_text("")
    monkeypatch.setattr(guide_window, "guide_site", lambda: site)
    opened = []
    monkeypatch.setattr(QDesktopServices, "openUrl", lambda url: opened.append(url.toLocalFile()))
    window.show_guide("counters")
    assert window.guide.outside.isVisible()
    qtbot.mouseClick(window.guide.outside, Qt.MouseButton.LeftButton)
    assert opened == [str(site.with_name("counters.html"))]
