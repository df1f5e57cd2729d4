"""Take the pictures in ``docs/screenshots/`` from the demo. Run from the project's root."""

import os
import shutil
import tempfile
import time
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from avlet.desktop.application import make_application
from avlet.desktop.handover_dialog import HandoverDialog
from avlet.desktop.start_dialog import StartDialog
from avlet.desktop.window import Window
from avlet.document.edits import set_relations
from avlet.document.keys import Key, Keyed
from avlet.document.starts import blank
from avlet.storage.package import open_template

FOLDER = Path("docs/screenshots")


def shoot(application: Any, widget: Any, name: str) -> None:
    """Let the widget settle, then keep its picture."""
    until = time.monotonic() + 0.4
    while time.monotonic() < until:
        application.processEvents()
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
        window.show_desk()
        window.cut_session.go_to(335)
        shoot(application, window, "desk")
        dialog = HandoverDialog(window.session, demo, window)
        dialog.folder.line.setText("~/Saltmarsh Stories/library")
        dialog.show()
        shoot(application, dialog, "hand-over")
        dialog.close()
        window.session.open(blank(), window.session.book, None, saved=False)
        window.show_bench(0)
        shoot(application, window, "empty")
        starts = StartDialog(window)
        starts.show()
        shoot(application, starts, "starting-points")
        starts.close()
        window.files.open_path(demo / "cut-out-title.avlet")
        window.session.select("bar")
        window.build.set_background("dusk")
        shoot(application, window, "build-cut-out")
        window.session.mark_saved(demo / "name-strap.avlet")
        window.close()
    application.quit()


if __name__ == "__main__":
    main()
