"""Take the pictures in ``docs/screenshots/`` from the demo. Run from the project's root."""

import os
import shutil
import tempfile
import time
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from avlet.desktop.application import make_application, open_demo
from avlet.desktop.handover_dialog import HandoverDialog
from avlet.desktop.start_dialog import StartDialog
from avlet.desktop.window import Window
from avlet.document.starts import blank

FOLDER = Path("docs/screenshots")


def shoot(application: Any, widget: Any, name: str) -> None:
    """Let the widget settle, then keep its picture."""
    until = time.monotonic() + 0.4
    while time.monotonic() < until:
        application.processEvents()
    widget.grab().save(str(FOLDER / f"{name}.png"))


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    application = make_application(["avlet"])
    with tempfile.TemporaryDirectory() as folder:
        demo = Path(shutil.copytree("demo", Path(folder) / "demo"))
        window = Window(demo, Path(folder) / "state")
        open_demo(window, demo)
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
        window.show_bench(2)
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
