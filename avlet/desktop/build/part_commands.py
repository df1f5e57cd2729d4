"""What can be done with the parts that are selected: copy, duplicate, group, lock, remove."""

from functools import partial

from PyQt6.QtCore import QMimeData
from PyQt6.QtWidgets import QApplication, QDialog, QMessageBox, QWidget

from avlet.desktop.dialogs.tick_dialog import TickDialog, Ticked
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.asking import lasting
from avlet.document.editing import edits
from avlet.document.editing.grouping import grouped, spaced, taken_apart
from avlet.document.editing.lending import LENT, differs, lendable, lent
from avlet.document.editing.pieces import Copied, Joined, clashes, copied_bytes, joined, read_copied
from avlet.document.parts import AnyPart, GroupPart, members_of
from avlet.document.template import Template
from avlet.errors import AvletError

PARTS_MIME = "application/x-avlet-parts"


def duplicate_selected(session: Session) -> None:
    """Copy what is selected, just in front of it, and select the copies."""
    chosen = session.selection
    made: list[str] = []

    def change(t: Template) -> Template:
        new, copies = edits.duplicate_parts(t, chosen)
        made[:] = copies
        return new

    if chosen and session.edit(f"Duplicate {_names(session, chosen)}", change):
        session.select_all(made)


def group_selected(session: Session) -> None:
    """Put what is selected into a group, and select that."""
    chosen, made = session.selection, [""]

    def change(t: Template) -> Template:
        new, made[0] = grouped(t, chosen)
        return new

    if chosen and session.edit(f"Group {_names(session, chosen)}", change):
        session.select(made[0])


def space_selected(session: Session) -> None:
    """Put what is selected into a space, and select that."""
    chosen, made = session.selection, [""]
    if not chosen:
        session.refused.emit("Select the words and shapes that are to stand in a space.")
        return

    def change(t: Template) -> Template:
        new, made[0] = spaced(t, chosen)
        return new

    if session.edit(f"Put {_names(session, chosen)} in a space", change):
        session.select(made[0])


def take_apart(session: Session) -> None:
    """Take the selected groups apart, and select what was in them."""
    groups = [i for i in session.selection if isinstance(session.template.part(i), GroupPart)]
    boxes = {i: r.box for i, r in session.scene().rest.parts.items()}
    for group in groups:
        members = members_of(session.template.parts, group)
        if session.edit(f"Take {session.template.name_of(group)} apart", partial(taken_apart, group_id=group, frozen=boxes)):
            session.select_all(members)


def toggle_lock(session: Session, part: AnyPart) -> None:
    """Lock a part, so that nothing on the stage takes hold of it, or let it go."""
    locked = not part.locked
    session.edit(f"{'Lock' if locked else 'Unlock'} {part.name}", lambda t: edits.set_relations(t, part.id, locked=locked))


def _names(session: Session, part_ids: tuple[str, ...]) -> str:
    return session.template.name_of(part_ids[0]) if len(part_ids) == 1 else f"{len(part_ids)} parts"


def copy_selected(session: Session) -> None:
    """Put the selected parts on the clipboard, with all that belongs to them; and the last of them alone, for what it may lend."""
    clipboard = QApplication.clipboard()
    if not session.selected or clipboard is None:
        return
    boxes = {i: (rest.box.x, rest.box.y, rest.box.w, rest.box.h) for i, rest in session.scene().rest.parts.items()}
    others = [i for i in session.selection if i != session.selected]
    copied = Copied(session.template, (*others, session.selected), boxes, session.origin)
    data = QMimeData()
    data.setData(PARTS_MIME, copied_bytes(copied))
    clipboard.setMimeData(data)


def clipped() -> Copied | None:
    """The parts on the clipboard; None where there are none. Raises ``DocumentError`` for what is damaged."""
    clipboard = QApplication.clipboard()
    data = clipboard.mimeData() if clipboard is not None else None
    return read_copied(data.data(PARTS_MIME).data()) if data is not None and data.hasFormat(PARTS_MIME) else None


def paste_piece(session: Session, owner: QWidget) -> None:
    """Take parts from the clipboard, from this template or another, in one step. Where house names clash one is asked."""
    try:
        copied = clipped()
        if copied is None:
            return
        piece, said = copied.piece(session.template, session.origin)
    except AvletError as error:
        session.refused.emit(str(error))
        return
    keep_theirs = asked_of_house(session, piece, owner)
    if keep_theirs is None:
        return
    made: list[Joined] = []

    def change(t: Template) -> Template:
        made.append(joined(t, piece, keep_theirs, "" if copied.origin == session.origin else piece.name))
        return made[-1].template

    if session.edit("Paste", change):
        session.select_all(made[-1].parts)
        if words := " ".join((*said, *made[-1].said)):
            session.refused.emit(words)


def asked_of_house(session: Session, piece: Template, owner: QWidget) -> bool | None:
    """Whether a piece keeps its own house where names clash; None where it is not to be taken at all."""
    names = clashes(session.template, piece)
    if not names:
        return False
    box = QMessageBox(lasting(owner))
    box.setWindowTitle("Two houses")
    what = ", ".join(names[:6]) + (f" and {len(names) - 6} more" if len(names) > 6 else "")
    box.setText(f"Both have {what}, with other values.")
    box.setInformativeText("Follow the house here, so that what comes in takes on its look? Or keep what it has, under names of their own?")
    follow = box.addButton("Follow the house here", QMessageBox.ButtonRole.AcceptRole)
    keep = box.addButton("Keep its own", QMessageBox.ButtonRole.AcceptRole)
    box.addButton(QMessageBox.StandardButton.Cancel)
    box.setDefaultButton(follow)
    box.exec()
    pressed = box.clickedButton()
    return None if pressed not in (follow, keep) else pressed is keep


def lend_copied(session: Session, owner: QWidget) -> None:
    """Ask what of the copied part the selected ones take on, and give it to them."""
    try:
        copied = clipped()
    except AvletError as error:
        session.refused.emit(str(error))
        return
    takers = [part for part in session.template.parts if part.id in session.selection]
    if copied is None or not takers:
        session.refused.emit("Copy a part (Ctrl+C), then select those that are to take on something of it.")
        return
    lender = copied.lender
    rows = [
        Ticked(name, name, "", any(differs(lender, t, name) for t in takers if name in lendable(lender, t)), True)
        for name in LENT
        if any(name in lendable(lender, taker) for taker in takers)
    ]
    heading = f"What {_names(session, session.selection)} will take on of {lender.name}:"
    dialog = TickDialog("Take on", heading, rows, "Take on", owner)
    if dialog.exec() == QDialog.DialogCode.Accepted:
        session.edit(f"Take on of {lender.name}", lambda t: lent(t, lender, session.selection, dialog.taken))


def remove_selected(session: Session, parent: QWidget) -> None:
    """Remove what is selected; when other parts follow it, they are listed first and then stay where they are."""
    chosen = session.selection
    if not chosen:
        return
    going = {*chosen, *(m for i in chosen for m in members_of(session.template.parts, i, deep=True))}
    behind = {p.id: p for i in going for p in edits.followers(session.template, i) if p.id not in going}
    words = _names(session, chosen)
    if behind:
        names = ", ".join(p.name for p in behind.values())
        question = f"{names} follow{'s' if len(behind) == 1 else ''} {words}.\nRemove and leave the rest where it is?"
        echoes = [p.name for p in behind.values() if p.copied in going]
        if echoes:
            question += f"\n{' and '.join(echoes)} can only go with it."
        buttons = QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.Cancel
        if QMessageBox.question(lasting(parent), f"Remove {words}", question, buttons) != QMessageBox.StandardButton.Yes:
            return
    boxes = {i: r.box for i, r in session.scene().rest.parts.items()}
    session.edit(f"Remove {words}", lambda t: edits.remove_parts(t, chosen, boxes))
