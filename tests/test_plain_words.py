"""Words that were not understood at first are plain, or have a line under the pointer."""

import pytest
from hands import chip, choose, settle
from PyQt6.QtWidgets import QLabel, QPushButton

from avlet.desktop.card.wire_menus import _GROUPS
from avlet.desktop.recipe.plain import LINES, UNITS
from avlet.desktop.window.shell import BENCHES, PROOF
from avlet.document.time.moves import READY_MOVES, Move, name_of_move, verb_of


@pytest.mark.parametrize("name", ["way_in pace", "way_in by", "way out"])
def test_a_word_of_a_sentence_has_a_line_under_the_pointer(window, name):
    window.session.select("name")
    settle()
    assert chip(window, name).toolTip() == LINES[name]


def test_a_unit_that_few_know_is_explained(window):
    window.session.select("name")
    settle()
    (unit,) = {label.toolTip() for label in window.build.recipe.findChildren(QLabel) if label.text() == "/1000 em"}
    assert unit == UNITS["/1000 em"] and "5 px" in unit


def test_what_comes_from_a_side_slides(window, qtbot):
    window.session.select("name")

    def called(verb):
        kind, side = chip(window, "way_in kind"), chip(window, "side")
        return kind is not None and side is not None and kind.text().startswith(verb)

    qtbot.waitUntil(lambda: called("rises"))
    choose(qtbot, chip(window, "side"), "the left")
    qtbot.waitUntil(lambda: called("slides"))
    choose(qtbot, chip(window, "side"), "above")
    qtbot.waitUntil(lambda: called("drops"))


@pytest.mark.parametrize(("move", "name"), [
    (READY_MOVES["rises"], "rises"), (Move(travel="out of the frame", side="above", named="rises"), "drops"),
    (Move(travel="out of the matte", side="right", named="drops"), "slides"), (Move(y=60.0, opacity=0.0, named="rises"), "rises"),
    (Move(travel="out of the matte", side="left", named="my own"), "my own"),
])  # fmt: skip
def test_moves_are_called_what_they_do(move, name):
    assert name_of_move(move) == name and verb_of(move) == (name if name != "my own" else "slides")


def test_the_bench_is_called_as_the_rail_calls_it(window):
    window.show_bench(BENCHES.index(PROOF))
    window.proof.model.proof = None
    window.proof.findings.show_state() if hasattr(window.proof.findings, "show_state") else None
    assert not any("reflight" in label.text() for label in window.proof.findChildren(QLabel))
    window.proof.leave()


def test_words_of_trade_only_are_gone(window):
    assert "Displaced looks" not in _GROUPS.values()
    window.session.select("role")
    settle()
    assert {b.text() for b in window.build.recipe.findChildren(QPushButton)}.isdisjoint({"elsewhere…", "give it room…"})
