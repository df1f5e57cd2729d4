"""The recipe: how the selected part is made, as sentences and rows."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from avlet.desktop.build.parts_model import PIECES
from avlet.desktop.recipe import credits_sentences
from avlet.desktop.recipe.counter_sentences import count_sentences, figure_sentences, run_sentences, writing_sentences
from avlet.desktop.recipe.headings import plain_heading
from avlet.desktop.recipe.keys_sentences import keys_sentences
from avlet.desktop.recipe.look_rows import show_in
from avlet.desktop.recipe.look_section import LookSection
from avlet.desktop.recipe.move_sentences import sway_sentences, way_in_sentences, way_out_sentences
from avlet.desktop.recipe.place_sentences import matte_sentences, place_sentences
from avlet.desktop.recipe.several_parts import SeveralParts
from avlet.desktop.recipe.size_sentences import size_sentence
from avlet.desktop.recipe.space_sentences import piece_sentences, space_sentences
from avlet.desktop.recipe.template_facts import TemplateFacts
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.gradients import GradientStrip
from avlet.desktop.widgets.kept_panel import KeptPanel
from avlet.document.editing.grouping import stands_in
from avlet.document.editing.refont import families_in
from avlet.document.metadata import Property, properties
from avlet.document.parts import AnyPart, CounterPart, CreditsPart, Fit, SpacePart, TypesetPart, members_of
from avlet.document.time.eases import name_of_ease
from avlet.document.time.moves import OwnWayOut, name_of_move
from avlet.document.usual import is_usual
from avlet.motion.credits import lists_of
from avlet.numbers.exact import in_figures


def _is_word(prop: Property) -> bool:
    """Whether a property's value is a word of the recipe, or decides which rows there are."""
    return prop.type.kind == "choice" or prop.path.rpartition(".")[2] in ("family", "style")


def _words_of(fit: Fit) -> tuple[bool, ...]:
    """What of a fit decides which words its sentence has."""
    padded = bool(fit.left or fit.right or fit.top or fit.bottom)
    limits = bool(fit.least_width or fit.most_width), bool(fit.least_height or fit.most_height)
    return fit.left == fit.right, fit.top == fit.bottom, padded, fit.share_width != 100, fit.share_height != 100, *limits


_WITH_ALPHA = len("#RRGGBBAA")


class Recipe(KeptPanel):
    """Shows the recipe of the session's selected part, or what there is to say of the template when none is selected."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent=parent)
        self.session = session
        self.notes: QLabel | None = None
        self._listed: list[Property] = []
        session.selection_changed.connect(self.follow_at_once)
        session.answers_changed.connect(self.follow_at_once)
        session.changed.connect(self.later)
        session.frame_changed.connect(self._follow_frame)

    def _follow_frame(self) -> None:
        """Show what the keys give at another frame."""
        if self.session.part is not None and self.session.part.keys:
            self.later()

    def subject(self) -> object:
        return self.session.selection, self.session.piece

    def shape(self) -> object:
        part = self.session.bound_part
        if part is None:
            template = self.session.template
            facts = template.name, template.frame, template.category, template.keywords, template.length, template.card.note
            return facts, len(template.parts), families_in(template)
        self._listed = list(properties(part))
        found = [(p.path, p.value if _is_word(p) else None) for p in self._listed if ".stops." not in p.path]
        own = part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()
        moves: list[object] = [
            (
                name_of_move(m),
                name_of_ease(m.ease),
                m.hinge_x,
                m.hinge_y,
                m.opacity < 100,
                m.pace,
                m.start == 0,
                m.counts_from,
                m.tie and (m.tie.on, m.tie.how, m.tie.to, m.tie.frames == 0),
                m.through,
            )
            for m in (*part.way_in, *own)
        ]
        unseen = [
            p.path for p in self._listed if p.type.kind == "colour" and p.value.upper().endswith("00") and len(p.value) == _WITH_ALPHA
        ]
        moves.append((len(part.sways), part.keys, self.session.piece, unseen, part.idle))
        words: object = part.copied
        if isinstance(part, TypesetPart):
            words = part.features, part.room and part.room.remedies
        if isinstance(part, CounterPart):
            runs = [(p.id, r) for p in self.session.template.parts for r in p.runs if r.counter == part.id]
            words = words, part.step, part.count.tie, name_of_ease(part.count.ease), part.writing, part.blurred, part.soft_edges, runs
        if isinstance(part, CreditsPart):
            listed = lists_of(self.session.scene().choreography.movers).get(part.id)
            words = part.movement.stays, self.session.length(), listed and (listed.ends, listed.roll, listed.windows)
        fit = part.fitted
        limits = (fit.around, fit.vanishes, *_words_of(fit)) if fit else ()
        stands_in_one = (
            stands_in(self.session.template, part.id) is not None,
            part.own_stand and part.own_stand.on,
        )
        unfolded = [name for name in self.session.unfolded if name.startswith(f"{part.id}/")]
        usual = is_usual(self.session.template, part.id, "turn", "scale_x", "scale_y"), unfolded
        stance = (
            stands_in_one,
            usual,
            part.anchor_x,
            part.anchor_y,
            part.group,
            members_of(self.session.template.parts, part.id),
            part.locked,
        )
        places = [p and (p.on, p.closes, p.rides) for p in (part.across, part.down)]
        at_rest = [m.grow == 0 and m.soft == 0 for m in part.mattes]
        mattes = [(m.inside, m.hides, m.by, usual) for m, usual in zip(part.mattes, at_rest, strict=True)]
        template = self.session.template
        moving = [p.id for p in template.parts if p.way_in]
        links = moving, [(w.source, w.target) for w in template.wires], [p.name for p in template.parts]
        return part.id, part.name, self.session.also, type(part.way_out), found, moves, words, limits, stance, places, mattes, links

    def show_values(self) -> None:
        part = self.session.bound_part
        if part is None:
            return
        self._show_notes(part)
        for prop in self._listed:
            for editor in self.editors(f"{part.id}/{prop.path}"):
                if isinstance(editor, GradientStrip):
                    editor.show_stops(prop.value)
                else:
                    show_in(editor, prop.value)

    def build(self, layout: QVBoxLayout) -> None:
        self.notes = None
        part = self.session.bound_part
        if part is None:
            layout.addWidget(TemplateFacts(self.session))
        elif self.session.also:
            layout.addWidget(SeveralParts(self.session))
        else:
            self._build(layout, part)

    def _build(self, layout: QVBoxLayout, part: AnyPart) -> None:
        heading = QHBoxLayout()
        piece = PIECES.get(self.session.piece)
        name = QLabel(piece or part.name)
        name.setProperty("role", "title")
        kind = QLabel(f"of {part.name}" if piece else part.kind)
        kind.setProperty("role", "muted")
        heading.addWidget(name, 1)
        heading.addWidget(kind)
        layout.addLayout(heading)
        grid = QGridLayout()
        grid.setColumnMinimumWidth(0, 48)
        grid.setColumnStretch(1, 1)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(11)
        session = self.session
        counted: list[tuple[str, str, list[QWidget]]] = []
        if isinstance(part, CounterPart):
            counted = [
                ("time", "Count", count_sentences(session, part)),
                ("size", "Written", writing_sentences(session, part)),
                ("size", "Figures", figure_sentences(session, part)),
                ("time", "Runs", run_sentences(session, part)),
            ]
        if isinstance(part, CreditsPart):
            counted = [
                ("time", "Moves", credits_sentences.move_sentences(session, part)),
                ("time", "Pace", credits_sentences.pace_sentences(session, part)),
                ("size", "Calm", credits_sentences.calm_sentences(session, part)),
                ("size", "Columns", credits_sentences.column_sentences(session, part)),
            ]
        rows = (
            piece_sentences(session, part, session.piece)
            if isinstance(part, SpacePart) and session.piece
            else (
                *counted,
                *space_sentences(session, part),
                ("size", "Size", [size_sentence(session, part)]),
                ("place", "Place", place_sentences(session, part)),
                ("matte", "Matte", matte_sentences(session, part)),
                ("time", "Way in", way_in_sentences(session, part)),
                ("time", "Hold", sway_sentences(session, part)),
                ("time", "Way out", way_out_sentences(session, part)),
                ("time", "Keys", keys_sentences(session, part)),
            )
        )
        for role, words, sentences in rows:
            for number, sentence in enumerate(sentences):
                row = grid.rowCount()
                if number == 0:
                    label = plain_heading(QLabel(words), words)
                    label.setProperty("role", role)
                    label.setContentsMargins(0, 4, 0, 0)
                    grid.addWidget(label, row, 0, Qt.AlignmentFlag.AlignTop)
                grid.addWidget(sentence, row, 1)
        layout.addLayout(grid)
        if session.piece:
            return
        self.notes = QLabel()
        self.notes.setWordWrap(True)
        self.notes.setProperty("role", "warning")
        layout.addWidget(self.notes)
        self._show_notes(part)
        line = QFrame()
        line.setFixedHeight(1)
        line.setProperty("role", "line")
        layout.addWidget(line)
        layout.addWidget(LookSection(session, part))
        key = QLabel("The dot: hollow = fixed, marigold = keyed, rose = on the card or wired. Click it to change that.")
        key.setWordWrap(True)
        key.setProperty("role", "small")
        layout.addWidget(key)

    def _show_notes(self, part: AnyPart) -> None:
        """Say what about the part does not hold: missing fonts and glyphs, moves longer than their span."""
        if self.session.also or self.notes is None:
            return
        spans = self.session.scene().spans
        notes = list(self.session.scene().rest.parts[part.id].notes)
        last = self.session.scene().choreography.timings[part.id].ready
        if last > spans.way_in + 1e-6 and self.session.template.plays_in:
            notes.append(
                f"Its way in lasts {in_figures(last)} frames, longer than the template's {spans.way_in}. Drag the way in on the time bar."
            )
        self.notes.setText("\n".join(f"⚠ {words}" for words in notes))
        self.notes.setVisible(bool(notes))
