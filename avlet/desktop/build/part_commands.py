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
from avlet.document.parts import AnyPart, GroupPart, members_of
from avlet.document.template import Template

PART_MIME = "application/x-avlet-part"


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
    """Put the selected part on the clipboard."""
    clipboard = QApplication.clipboard()
    if session.selected and clipboard is not None:
        data = QMimeData()
        data.setData(PART_MIME, edits.copied(session.template, session.selected))
        clipboard.setMimeData(data)


def paste_part(session: Session) -> None:
    """Take a part from the clipboard, from this template or another."""
    clipboard = QApplication.clipboard()
    data = clipboard.mimeData() if clipboard is not None else None
    if data is None or not data.hasFormat(PART_MIME):
        return
    made: list[str] = []

    def change(t: Template) -> Template:
        new, part_id = edits.pasted(t, data.data(PART_MIME).data())
        made.append(part_id)
        return new

    if session.edit("Paste", change):
        session.select(made[-1])


def lend_copied(session: Session, owner: QWidget) -> None:
    """Ask what of the copied part the selected ones take on, and give it to them."""
    clipboard = QApplication.clipboard()
    data = clipboard.mimeData() if clipboard is not None else None
    takers = [part for part in session.template.parts if part.id in session.selection]
    if data is None or not data.hasFormat(PART_MIME) or not takers:
        session.refused.emit("Copy a part (Ctrl+C), then select those that are to take on something of it.")
        return
    lender = edits.copied_part(data.data(PART_MIME).data())
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
