"""The menu of the Proof bench: which rows are proved, rows of one's own, and which moments are shown."""

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMenu, QWidget

from avlet.desktop.proof.proof_model import ProofModel
from avlet.desktop.widgets.asking import lasting
from avlet.document.tables import TABLES
from avlet.errors import AvletError
from avlet.review.awkward import KINDS, Row
from avlet.review.proof_rows import rows_from_table
from avlet.review.proof_sheet import MOMENTS, Moment

_WORDS = {"as designed": "As designed", "sample": "Samples", "own": "My own rows", "made": "Made-up answers"}


def fill_menu(menu: QMenu, model: ProofModel, parent: QWidget) -> None:
    """What may be chosen now."""
    menu.clear()
    menu.addSection("Rows")
    for kind in KINDS:
        action = menu.addAction(_WORDS[kind], lambda k=kind: model.prove_kinds(model.kinds ^ {k}))
        assert action is not None
        action.setCheckable(True)
        action.setChecked(kind in model.kinds)
    menu.addAction("Keep the answers on the stage as a row…", lambda: keep_answers(model, parent))
    menu.addAction("Rows from a table…", lambda: rows_from_file(model, parent))
    own = model.rows and model.rows[model.row].kind == "own"
    if own:
        menu.addAction(f"Remove “{model.rows[model.row].name}”", model.remove_row)
    menu.addSection("Moments")
    frames = tuple(m for m in model.moments if isinstance(m, int))
    for moment in (*MOMENTS, *frames):
        words = moment if isinstance(moment, str) else f"frame {moment}"
        action = menu.addAction(words.capitalize(), lambda m=moment: toggle(model, m))
        assert action is not None
        action.setCheckable(True)
        action.setChecked(moment in model.moments)
    here = model.session.frame
    if here not in frames:
        menu.addAction(f"Frame {here}, which is on the stage", lambda: toggle(model, here))


def toggle(model: ProofModel, moment: Moment) -> None:
    """Show a moment, or do not."""
    present = model.moments
    model.show_moments([m for m in present if m != moment] if moment in present else [*present, moment])


def keep_answers(model: ProofModel, parent: QWidget) -> None:
    """Keep the answers that are on the stage as a row, under a name."""
    name, sure = QInputDialog.getText(lasting(parent), "A row to prove", "What the row is called:")
    if sure and name.strip():
        start = model.session.template.starting_answers()
        given = {key: value for key, value in model.session.scene().bound.answers.items() if value != start[key]}
        model.keep_rows([Row(name.strip(), given, None, "own")])


def rows_from_file(model: ProofModel, parent: QWidget) -> None:
    """Keep the rows of a table."""
    patterns = " ".join(f"*{suffix}" for suffix in TABLES)
    name, _ = QFileDialog.getOpenFileName(lasting(parent), "Rows to prove", "", f"Tables ({patterns})")
    if not name:
        return
    path = Path(name)
    try:
        rows = rows_from_table(model.session.template, path)
    except AvletError as error:
        model.session.refused.emit(str(error))
        return
    model.keep_rows(rows)
