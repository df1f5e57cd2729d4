"""Taking all of another template in, as a group at the playhead."""

from pathlib import Path

from PyQt6.QtWidgets import QMessageBox, QWidget

from avlet.desktop.build.part_commands import asked_of_house
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.asking import lasting
from avlet.document.editing.pieces import Joined, inserted
from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.storage.package import open_template
from avlet.text.fonts import bundled_fonts


def take_in(session: Session, path: Path, owner: QWidget) -> None:
    """Take a template in at the playhead's frame. Where its ends differ from those here, or house names clash, one is asked first."""
    try:
        opened = open_template(path)
    except AvletError as error:
        session.refused.emit(str(error))
        return
    other, here = opened.template, session.template
    fitted = bool(here.parts) and other.way_in != here.way_in and _asks_to_fit(other, here, owner)
    if fitted is None:
        return
    keep_theirs = asked_of_house(session, other, owner)
    if keep_theirs is None:
        return
    at = session.frame if here.parts and session.frame <= here.way_in else 0
    made: list[Joined] = []

    def change(template: Template) -> Template:
        made.append(inserted(template, other, at, fitted, keep_theirs))
        return made[-1].template

    ships = set(bundled_fonts().faces)
    before = session.book
    session.book = session.book.with_faces(face for face in opened.book.faces if face not in ships)
    if session.edit(f"Take in {other.name}", change):
        session.select_all(made[-1].parts)
        if made[-1].said:
            session.refused.emit(" ".join(made[-1].said))
    else:
        session.book = before


def _asks_to_fit(other: Template, here: Template, owner: QWidget) -> bool | None:
    """Whether its ends are to be as long as those here; None where it is not to be taken in at all."""
    box = QMessageBox(lasting(owner))
    box.setWindowTitle(f"Take in {other.name}")
    box.setText(f"{other.name} comes in {other.way_in} frames; here the way in is {here.way_in}.")
    keep = box.addButton("Keep its timing", QMessageBox.ButtonRole.AcceptRole)
    fit = box.addButton(f"Make it come in {here.way_in}", QMessageBox.ButtonRole.AcceptRole)
    box.addButton(QMessageBox.StandardButton.Cancel)
    box.setDefaultButton(keep)
    box.exec()
    pressed = box.clickedButton()
    return None if pressed not in (keep, fit) else pressed is fit
