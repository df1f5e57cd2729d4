import faulthandler
import io
import os
import shutil
import sys
import tempfile
import traceback
from functools import cache, partial
from pathlib import Path

import pytest
from hypothesis import settings
from msgspec.structs import replace

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # as in avlet/__main__.py
os.environ["LC_ALL"] = "C.UTF-8"  # numbers are typed and shown as in English
# Nothing of the person's own is read or written.
os.environ["XDG_CACHE_HOME"] = tempfile.mkdtemp(prefix="avlet-tests-")
os.environ["XDG_DATA_HOME"] = tempfile.mkdtemp(prefix="avlet-tests-")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp(prefix="avlet-tests-")

from avlet.document.editing.edits import set_property
from avlet.document.faults.checking import check
from avlet.document.parts import Fit, Matte, Place, ShapePart, TextPart
from avlet.document.targets import value_of
from avlet.document.template import Frame, Template
from avlet.document.time.moves import Move
from avlet.layout.other_frame import in_frame
from avlet.media.timeline import read_cut
from avlet.storage.contents import content_of
from avlet.storage.package import open_template, save_template
from avlet.text.fonts import FontBook, bundled_fonts

# PyQt ends the process over an exception in a slot while Python's own hook is in place, as it is between two tests.
sys.excepthook = traceback.print_exception

# How long an example takes says nothing on a busy machine. The same examples everywhere; AVLET_SEARCH=1 looks for new ones.
settings.register_profile("avlet", deadline=None, derandomize=not os.environ.get("AVLET_SEARCH"))
settings.load_profile("avlet")

try:
    from avlet.desktop.desk.library_view import LibraryView
except ImportError:  # the core is tested without an interface too
    pass
else:
    LibraryView.patience = 60.0  # a busy machine takes its time

DEMO = Path(__file__).resolve().parent.parent / "demo"
TEMPLATES = sorted(path.name for path in DEMO.glob("*.avlet") if not path.name.startswith("saltmarsh-"))
"""The demo's templates, but for those of the show reel's family, which are starts and have tests of their own."""

SMALL = (480, 270)
"""The frame of titles where its size is not the matter: a sixteenth of the px to paint."""


@cache
def small(name, length=None):
    """A template of the demo in a frame of 480 × 270, of another length where that is not the matter either, as a package that is a folder."""
    opened = open_template(DEMO / f"{name}.avlet")
    package = Path(tempfile.mkdtemp(prefix="avlet-tests-")) / f"{name}.avlet"
    package.mkdir()
    template = in_frame(opened.template, SMALL)
    save_template(replace(template, length=length or template.length), package, opened.book)
    return package


def a_share_of(cases, every=3):
    """Every so many of many alike cases; the others are behind ``soak``."""
    return [case if n % every == 0 else pytest.param(case, marks=pytest.mark.soak) for n, case in enumerate(cases)]


ALIKE = {
    "test_every_word_of_its_sentences_can_be_changed": 3, "test_answers_that_are_no_number_within_the_limits_are_refused": 3,
    "test_what_cannot_run_is_refused_in_words": 2, "test_what_is_not_one_number_is_not_made_to_count": 2, "test_measures_are_typed": 3,
    "test_the_strip_draws_every_way_of_moving": 2, "test_without_a_display_a_window_is_a_sentence": 2,
    "test_whatever_a_timeline_holds_is_kept": 2, "test_a_move_keeps_what_was_typed_or_dragged_before": 3,
    "test_what_is_within_is_laid_out_and_painted": 3, "test_wheels_turn_as_those_of_a_register": 2, "test_each_proves_without_a_break": 2,
    "test_a_colour_of_the_house_that_changes_changes_all_that_is_painted_in_it": 4, "test_a_process_that_is_killed_while_it_saves_loses_nothing": 3,
    "test_a_worker_that_dies_is_said": 2, "test_two_quick_interruptions_stop_it_once_and_no_worker_prints_a_trace": 2,
    "test_damaged_cuts_are_said": 2, "test_fast_words_and_jumps_of_the_hold_are_found_at_any_length": 2,
    "test_the_film_to_approve_claps_in_step_to_a_frame": 3, "test_a_damaged_timeline_of_another_program_is_said_or_shown": 2,
    "test_frames_of_the_reel_on_the_canvas_are_the_engines": 2, "test_its_frame_is_shown_whole_in_whatever_room_there_is_for_it": 2,
    "test_nothing_is_cut_or_overlaps": 2, "test_with_a_font_of_the_machine_film_and_stage_are_the_same_to_the_pixel": 3,
    "test_a_frame_shows_the_mean_of_many_moments": 3, "test_those_of_a_kind_prove_without_a_break": 2, "test_the_demo_does_not_break": 3,
    "test_scaled_to_k_every_resting_box_is_k_times_itself": 4, "test_a_template_inserted_into_an_empty_one_gives_the_same_pictures": 3,
    "test_a_pulse_every_two_seconds_is_no_flashing_and_five_in_a_second_are": 2,
    "test_every_demo_template_is_brought_there_in_every_way": 3, "test_advance_is_the_tables_sum_with_kerning": 2,
    "test_what_babel_writes_is_read_back": 3, "test_a_template_scaled_to_twice_the_lines_is_the_same_picture": 4,
    "test_in_a_wide_window_panels_stand_beside_each_other": 2, "test_a_plate_unfolds_from_the_edge_that_its_words_are_placed_by": 2,
    "test_a_frame_is_the_engines_picture": 2, "test_nothing_of_a_count_shows_before_it_begins": 3,
    "test_letters_with_edges_are_watertight_and_smaller": 3, "test_what_is_mistyped_is_named_with_the_nearest_word": 3,
    "test_put_together_it_is_what_was_painted_at_any_size": 2, "test_axe_finds_nothing_serious": 2,
    "test_a_machine_that_ends_it_is_obeyed_in_order": 2, "test_a_render_that_is_ended_leaves_no_process_behind": 2,
    "test_half_an_answer_is_not_waited_for": 2, "test_a_render_that_is_killed_leaves_no_film_that_is_not_whole": 3,
    "test_where_two_are_seen_through_both_are_there": 3, "test_a_lamp_is_carried_past_in_the_hold": 2, "test_ready_parts_are_made_by_their_keys": 2,
    "test_a_disk_that_fills_up_leaves_none_of_the_six": 2, "test_a_folder_that_vanished_is_asked_about": 2,
    "test_damaged_templates_are_refused_in_words_or_shown": 2, "test_a_bench_has_no_control_without_a_name": 2,
}  # fmt: skip
"""Tests of many alike cases that take long: one in so many runs as usual, the others are behind ``soak``."""


@pytest.hookimpl(tryfirst=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    seen: dict[str, int] = {}
    for item in items:
        name = getattr(item, "originalname", item.name)
        if name in ALIKE and item.get_closest_marker("soak") is None:
            if seen.get(name, 0) % ALIKE[name]:
                item.add_marker(pytest.mark.soak)
            seen[name] = seen.get(name, 0) + 1


@pytest.hookimpl(trylast=True)  # after pytest's own, which writes to the standard error
def pytest_configure(config: pytest.Config) -> None:
    """A test process that crashes leaves its stacks in a file, which the summary prints: among other output nobody finds them."""
    if hasattr(config, "workerinput"):
        folder, name = Path(config.workerinput["crashes"]), config.workerinput["workerid"]
        config.crashes_file = (folder / name).open("w")  # type: ignore[attr-defined]
        faulthandler.enable(config.crashes_file)  # type: ignore[attr-defined]
    else:
        config.crashes = tempfile.mkdtemp(prefix="avlet-crashes-")  # type: ignore[attr-defined]


@pytest.hookimpl(optionalhook=True)
def pytest_configure_node(node) -> None:
    node.workerinput["crashes"] = node.config.crashes


def pytest_terminal_summary(terminalreporter, config: pytest.Config) -> None:
    for left in sorted(Path(config.crashes).iterdir()) if hasattr(config, "crashes") else ():
        if words := left.read_text().strip():
            terminalreporter.section(f"{left.name} crashed")
            terminalreporter.write_line("\n".join(words.splitlines()[:60]))


@pytest.fixture(scope="session")
def book() -> FontBook:
    return bundled_fonts()


@pytest.fixture(scope="session")
def name_strap() -> Template:
    return open_template(DEMO / "name-strap.avlet").template


@pytest.fixture(scope="session")
def episode_title() -> Template:
    return open_template(DEMO / "episode-title.avlet").template


@pytest.fixture(scope="session")
def demo_once(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A copy of the demo beside the tests' own folders. Its fonts are read-only: all tests have the same."""
    made = Path(shutil.copytree(DEMO, tmp_path_factory.mktemp("once") / "demo"))
    for font in made.glob("*/fonts/*"):
        font.chmod(0o444)
    return made


@pytest.fixture
def demo(tmp_path: Path, demo_once: Path) -> Path:
    """A copy of the demo that a test may change, but for its fonts, which are links."""

    def copy(source: str, target: str) -> str:
        if Path(source).parent.name == "fonts":
            os.link(source, target)
        else:
            shutil.copy2(source, target)
        return target

    return Path(shutil.copytree(demo_once, tmp_path / "demo", copy_function=copy))


def plated(text: str = "Odalys Brandt", **changes: object) -> Template:
    """A plate round a text that rises out of it: the smallest template with every relation."""
    fit = Fit(("name",))
    parts = (
        ShapePart(id="plate", name="Plate", fit=fit, across=None, down=None, corner=30, way_in=(Move(scale_x=0, hinge_x=0),)),
        TextPart(
            id="name", name="Name", text=text, size=80, across=Place("frame", gap=200), down=Place("frame", gap=300),
            mattes=(Matte("plate"),), way_in=(Move(travel="out of the matte", by="line", start=5),),
        ),
    )  # fmt: skip
    values = {"name": "Plated", "frame": Frame(1920, 1080, "25/1"), "length": 100, "way_in": 25, "way_out": 25, "parts": parts}
    return check(Template(**{**values, **changes}))


def put(template: Template, values: dict[str, object]) -> Template:
    """A template with values put on its own properties."""
    for target, value in values.items():
        template = set_property(template, target, value)
    return template


def shown_in(template: Template):
    """Tells what a property of a template is, as the stage does."""
    return partial(value_of, template)


@pytest.fixture(scope="session")
def dressed(qapp):
    from avlet.desktop.widgets import theme

    theme.apply(qapp)
    return qapp


def open_first_cut(window, demo: Path) -> None:
    """The demo's first cut, of many templates, on the desk, and its name strap on the stage."""
    path = demo / "the-long-tide.otio"
    window.cut_session.open(read_cut(path), path, demo, content=content_of(path))  # the desk itself is made by those who look at it
    window.cut_session.go_to(330)
    window.cut_session.select("odalys")
    window.files.open_path(demo / "name-strap.avlet")
    window.session.show_answers("typical")
    window.session.select("plate")


@pytest.fixture
def qtbot(qtbot, monkeypatch):
    """pytest-qt's, which knows its widgets weakly; held until they are closed, a window that a test made is not collected while it paints."""
    held, add = [], qtbot.addWidget

    def hold(widget, **more):
        held.append(widget)
        add(widget, **more)

    monkeypatch.setattr(qtbot, "addWidget", hold)
    return qtbot


@pytest.fixture
def window(dressed, qtbot, demo, tmp_path, monkeypatch):
    """The application with the demo open."""
    from PyQt6.QtWidgets import QMessageBox

    from avlet.desktop.window.window import Window

    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: QMessageBox.StandardButton.Discard)
    made = Window(demo, tmp_path / "state")
    qtbot.addWidget(made)
    open_first_cut(made, demo)
    made.show()
    qtbot.waitExposed(made)
    made.activateWindow()
    return made


@pytest.fixture
def key(window, qtbot):
    """Presses a key, while the stage has the focus."""
    from hands import settle
    from PyQt6.QtCore import Qt

    def press(key, modifier=Qt.KeyboardModifier.NoModifier):
        qtbot.waitUntil(window.isActiveWindow)
        window.build.stage.setFocus()
        qtbot.keyClick(window.windowHandle(), key, modifier)
        settle()

    return press


@pytest.fixture(scope="module")
def browser():
    """A real browser, for all tests of a file."""
    from browsing import browsing

    with browsing() as made:
        yield made


@pytest.fixture
def avlet(monkeypatch, capsys):
    """Runs a verb; gives exit status, standard output and standard error."""

    from avlet.command_line.main import main

    def run(*words, stdin=None):
        monkeypatch.setattr(sys, "argv", ["avlet", *map(str, words)])
        if stdin is not None:
            monkeypatch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(stdin.encode())))
        try:
            main()
            status = 0
        except SystemExit as end:
            status = end.code or 0
        captured = capsys.readouterr()
        return status, captured.out, captured.err

    return run
