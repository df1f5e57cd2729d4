"""Handing over for live: the title on the stage, with its answers, as a folder that any OGraf renderer plays."""

from pathlib import Path

import platformdirs
from PyQt6.QtWidgets import QApplication, QFileDialog, QProgressDialog

from avlet.desktop.widgets.asking import lasting
from avlet.desktop.window.shell import Shell
from avlet.document.editing.naming import slug
from avlet.errors import AvletError
from avlet.media.live import write_live


def for_live(window: Shell) -> None:
    """Ask for a folder, write into one of the title's own in it, and say where; it can be stopped while pictures are painted."""
    chosen = QFileDialog.getExistingDirectory(lasting(window), "A folder for the live graphic", str(platformdirs.user_documents_path()))
    if not chosen:
        return
    scene = window.session.scene()
    name = scene.template.name
    folder = Path(chosen) / f"{slug(name)}-live"
    progress = QProgressDialog(f"Painting {name} …", "Stop", 0, scene.length, lasting(window))
    progress.setMinimumDuration(300)

    def told(done: int, total: int) -> bool:
        progress.setMaximum(total)
        progress.setValue(done)
        QApplication.processEvents()
        return not progress.wasCanceled()

    try:
        path = write_live(scene, folder, 0, told)
    except AvletError as error:
        window.say(str(error))
        return
    finally:
        progress.close()
    window.say(f"{name} is in “{path.parent}”, as it is on the stage: any OGraf renderer plays {path.name}.")
