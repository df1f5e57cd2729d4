"""Take the pictures in ``docs/screenshots/`` from the demo. Run from the project's root."""

import os
import shutil
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget

from avlet.desktop.application import make_application, open_demo
from avlet.desktop.handover_dialog import HandoverDialog
from avlet.desktop.new_parts import blank
from avlet.desktop.window import Window

FOLDER = Path("docs/screenshots")


def shoot(widget: QWidget, name: str) -> None:
    QTest.qWait(400)
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
        shoot(window, "build")
        window.session.select("name")
        window.session.go_to(15)
        window.build.set_background("reed beds")
        shoot(window, "build-way-in")
        window.session.select("name")
        window.build.stage.type_on("name")
        shoot(window, "build-typing")
        window.build.stage.finish_typing()
        window.show_bench(1)
        window.cut_session.go_to(335)
        shoot(window, "desk")
        dialog = HandoverDialog(window.session, demo, window)
        dialog.folder.setText("~/Saltmarsh Stories/library")
        dialog.show()
        shoot(dialog, "hand-over")
        dialog.close()
        window.session.open(blank(), window.session.book, None, saved=False)
        window.show_bench(0)
        shoot(window, "empty")
        window.session.mark_saved(demo / "name-strap.avlet")
        window.close()
    application.quit()


if __name__ == "__main__":
    main()
