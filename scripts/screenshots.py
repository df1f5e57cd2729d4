"""Take the pictures in ``docs/screenshots/`` from the demo. Run from the project's root."""

import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from avlet.desktop.dialogs.handover_dialog import HandoverDialog
from avlet.desktop.window.application import make_application
from avlet.desktop.window.shell import BENCHES, PROOF, ROSTER
from avlet.desktop.window.window import Window
from avlet.document.editing.edits import set_property, set_relations
from avlet.document.lists.lines import put_cell
from avlet.document.starts import blank
from avlet.document.time.keys import Key, Keyed
from avlet.roster.rendering import State
from avlet.storage.handing_over import hand_over
from avlet.storage.package import open_template

FOLDER = Path("docs/screenshots")


def wait(application: Any, seconds: float) -> None:
    """Let the window work."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        application.processEvents()


def shoot(application: Any, widget: Any, name: str) -> None:
    """Let the widget settle, then keep its picture."""
    wait(application, 0.4)
    widget.grab().save(str(FOLDER / f"{name}.png"))


def shoot_time_and_group(application: Any, window: Window, demo: Path) -> None:
    """The Time bench with moves and with keys, and a group on the Build bench; the name strap is open again afterwards."""
    window.show_bench(1)
    window.session.go_to(9)
    shoot(application, window, "time")
    turn = Keyed("turn", (Key(0, 0.0), Key(14, 6.0), Key(50, -3.0, "hold"), Key(8, 0.0, "end")))
    fill = Keyed("fill.colour", (Key(0, "#20435C"), Key(40, "#2F6A78", "hold")))
    window.session.edit("Keys", lambda t: set_relations(t, "plate", keys=(turn, fill)))
    window.session.select("plate")
    window.time.ruler.choose((), (("plate", "turn", 1),))
    shoot(application, window, "time-keys")
    window.session.undo()
    tag = open_template(demo / "place-tag.avlet")
    window.session.open(tag.template, tag.book, demo / "place-tag.avlet")
    window.show_bench(0)
    window.session.select("backing")
    window.build.stage.zoom_to_box(window.session.scene().rest.parts["backing"].box.grown(160, 90, 200, 240))
    shoot(application, window, "build-group")
    window.build.stage.zoom_to(None)
    strap = open_template(demo / "name-strap.avlet")
    window.session.open(strap.template, strap.book, demo / "name-strap.avlet")


def shoot_card(application: Any, window: Window, demo: Path) -> None:
    """The Card bench with a choice wired by tables; the name strap is open again afterwards."""
    guest = open_template(demo / "guest-strap.avlet")
    window.session.open(guest.template, guest.book, demo / "guest-strap.avlet")
    window.show_bench(2)
    window.card.choose("side")
    wait(application, 3.0)
    shoot(application, window, "card")
    strap = open_template(demo / "name-strap.avlet")
    window.session.open(strap.template, strap.book, demo / "name-strap.avlet")


def shoot_proof(application: Any, window: Window, demo: Path) -> None:
    """The Proof bench with a template that has faults."""
    window.session.mark_saved(demo / "name-strap.avlet")
    window.files.open_path(demo / "broken-strap.avlet")
    window.show_bench(BENCHES.index(PROOF))
    while window.proof.model.proof is None or window.proof.model.traces is None:
        wait(application, 0.1)
    wait(application, 1.5)
    shoot(application, window, "proof")


def shoot_roster(application: Any, window: Window, demo: Path) -> None:
    """The Roster bench with the demo's guests, some of their films made, one that cannot be."""
    window.session.mark_saved(demo / "broken-strap.avlet")
    window.files.open_path(demo / "name-strap.avlet")
    window.show_bench(BENCHES.index(ROSTER))
    bench, session = window.roster, window.roster_session
    bench.open_path(demo / "guests.csv")
    bench.wanted.folder.line.setText("~/renders/guests")
    while len(session.said) < 24:
        wait(application, 0.1)
    session.choose(6)
    wait(application, 0.5)
    assert session.plan is not None
    session.take_states([State(number, 1.0, done=True) for number in range(4)] + [State(4, 0.44)])
    shoot(application, window, "roster")


def shoot_space(application: Any, window: Window, demo: Path) -> None:
    """A word that comes through a sheet, its space from above and from the side."""
    window.session.mark_saved(demo / "name-strap.avlet")
    window.files.open_path(demo / "rising-word.avlet")
    window.show_bench(0)
    window.session.write({"scene/camera.round": 20.0, "scene/camera.up": 12.0})
    window.session.go_to(24)
    window.session.select("scene")
    wait(application, 3.0)
    shoot(application, window, "space")
    window.session.undo()
    window.session.mark_saved(demo / "rising-word.avlet")


def shoot_desk(application: Any, window: Window) -> None:
    """The desk with a title on each words track, and a newer version of one in the library."""
    session = window.cut_session
    opened = session.template_of(session.cut.title("odalys"))
    assert not isinstance(opened, str)
    wider = set_property(opened.template, "plate/fit.left", 64)
    hand_over(wider, opened.book, session.library, "A little more room before the name")
    session.forget_templates()
    window.desk.add_title("saltmarsh-place.avlet", 420, 1)
    window.show_desk()
    session.go_to(460)
    session.select("odalys")
    shoot(application, window, "desk")
    for _ in range(2):
        session.undo()


def shoot_counter(application: Any, window: Window, demo: Path) -> None:
    """A counter and its curve."""
    opened = open_template(demo / "hectares.avlet")
    window.session.open(opened.template, opened.book, demo / "hectares.avlet")
    window.show_bench(0)
    window.session.select("tally")
    window.session.go_to(48)
    shoot(application, window, "counter")
    strap = open_template(demo / "name-strap.avlet")
    window.session.open(strap.template, strap.book, demo / "name-strap.avlet")


def shoot_credits(application: Any, window: Window, demo: Path) -> None:
    """An end roll with its list, and pages on the Time bench."""
    window.files.open_path(demo / "end-roll.avlet")
    window.show_bench(0)
    window.session.select("credits")
    table = window.build.list.table
    table.setFocus()
    table.choose([9], 2)
    window.session.write({"credits/blocks": put_cell(table.lines.blocks, table.lines.lines[9], 1, "Íris  Þordal")})
    table.lines.proofread()
    table.choose([9], 2)
    wait(application, 0.5)
    shoot(application, window, "credits")
    window.session.undo()
    window.files.open_path(demo / "credit-pages.avlet")
    window.show_bench(1)
    window.session.select("credits")
    window.session.go_to(120)
    shoot(application, window, "credits-pages")
    strap = open_template(demo / "name-strap.avlet")
    window.session.open(strap.template, strap.book, demo / "name-strap.avlet")


def shoot_welcome(application: Any, window: Window) -> None:
    """The first page, with all of its tiles."""
    window.show_welcome()
    while not window.welcome.gallery.drawn:
        wait(application, 0.1)
    shoot(application, window, "welcome")


def shoot_page(demo: Path) -> None:
    """A title's page in a browser, where there is one."""
    browser = shutil.which("chromium")
    if browser is None:
        return
    command = [sys.executable, "-m", "avlet", "serve", str(demo), "--port", "0", "--json", "lines"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as server:
        assert server.stdout is not None
        address = next(told["address"] for told in map(json.loads, server.stdout) if "address" in told)
        page = f"{address}titles/name-strap#name=%C3%8Dris+%C3%9E%C3%B3rdal&role=Head+of+volunteer+programmes"
        shot = ["--headless", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", "--window-size=1280,860", "--virtual-time-budget=20000"]
        subprocess.run([browser, *shot, f"--screenshot={FOLDER / 'page.png'}", page], check=True, capture_output=True)
        server.terminate()


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    application = make_application(["avlet"])
    with tempfile.TemporaryDirectory() as folder:
        demo = Path(shutil.copytree("demo", Path(folder) / "demo"))
        window = Window(demo, Path(folder) / "state")
        window.files.open_demo(demo)
        window.resize(1280, 800)
        window.show()
        shoot(application, window, "build")
        window.session.select("name")
        window.session.go_to(15)
        window.build.set_background("reed beds")
        shoot(application, window, "build-way-in")
        window.session.select("name")
        window.build.stage.type_on("name")
        shoot(application, window, "build-typing")
        window.build.stage.finish_typing()
        shoot_time_and_group(application, window, demo)
        shoot_card(application, window, demo)
        shoot_counter(application, window, demo)
        shoot_credits(application, window, demo)
        shoot_desk(application, window)
        window.session.mark_saved(demo / "name-strap.avlet")
        window.files.open_path(demo / "name-strap.avlet")
        dialog = HandoverDialog(window.session, demo, window)
        dialog.folder.line.setText("~/Saltmarsh Stories/library")
        dialog.show()
        while " …" in dialog.proof.text():
            wait(application, 0.1)
        shoot(application, dialog, "hand-over")
        dialog.close()
        shoot_proof(application, window, demo)
        shoot_roster(application, window, demo)
        shoot_space(application, window, demo)
        shoot_welcome(application, window)
        window.session.open(blank(), window.session.book, None, saved=False)
        window.show_bench(0)
        shoot(application, window, "empty")
        window.files.open_path(demo / "cut-out-title.avlet")
        window.session.select("bar")
        window.build.set_background("dusk")
        shoot(application, window, "build-cut-out")
        window.session.mark_saved(demo / "name-strap.avlet")
        window.close()
        shoot_page(demo)
    application.quit()


if __name__ == "__main__":
    main()
