"""Forms whose controls are called what stands beside them."""

from PyQt6.QtWidgets import QFormLayout, QLabel


def name_controls(form: QFormLayout) -> None:
    """Give every control of a form the words of its label, for those who hear it; a name that it has already stays."""
    for row in range(form.rowCount()):
        label, control = (form.itemAt(row, role) for role in (QFormLayout.ItemRole.LabelRole, QFormLayout.ItemRole.FieldRole))
        words, widget = label.widget() if label else None, control.widget() if control else None
        if isinstance(words, QLabel) and widget is not None and not widget.accessibleName():
            widget.setAccessibleName(words.text().replace("\n", " "))
