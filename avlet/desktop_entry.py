"""Icon, menu entry and file type, installed for one person by the freedesktop.org rules (desktop-entry and shared-mime-info)."""

import shutil
import subprocess
import sys
from collections.abc import Mapping
from pathlib import Path

from avlet.storage.atomic import write_whole

_DATA = Path(__file__).resolve().parent / "icons"
MIME_TYPE = "application/vnd.avlet.template+zip"

DESKTOP_ENTRY = """\
[Desktop Entry]
Type=Application
Name=Avlet
GenericName=Title designer
Comment=Animated titles whose shapes size themselves to the words
Exec={command} %f
Icon=avlet
Terminal=false
Categories=AudioVideo;Video;Graphics;
MimeType={mime};
StartupWMClass=avlet
"""

MIME_PACKAGE = """\
<?xml version="1.0" encoding="UTF-8"?>
<mime-info xmlns="http://www.freedesktop.org/standards/shared-mime-info">
  <mime-type type="{mime}">
    <comment>Avlet title template</comment>
    <sub-class-of type="application/zip"/>
    <glob pattern="*.avlet"/>
    <icon name="avlet"/>
  </mime-type>
</mime-info>
"""


def _share() -> Path:
    import platformdirs

    return platformdirs.user_data_path().resolve()


def files(man_page: str) -> dict[Path, bytes]:
    """All that is installed, by path."""
    share = _share()
    command = f'"{sys.executable}" -m avlet'
    return {
        share / "applications" / "avlet.desktop": DESKTOP_ENTRY.format(command=command, mime=MIME_TYPE).encode(),
        share / "mime" / "packages" / "avlet.xml": MIME_PACKAGE.format(mime=MIME_TYPE).encode(),
        share / "man" / "man1" / "avlet.1": man_page.encode(),
        share / "icons" / "hicolor" / "scalable" / "apps" / "avlet.svg": (_DATA / "avlet.svg").read_bytes(),
    }


def install(files: Mapping[Path, bytes]) -> list[Path]:
    """Write the files and let the desktop know; returns their paths."""
    for path, data in files.items():
        write_whole(path, data)
    _tell_the_desktop()
    return list(files)


def remove_installed(files: Mapping[Path, bytes]) -> list[Path]:
    """Take the files away again; returns those that were there."""
    found = [path for path in files if path.exists()]
    for path in found:
        path.unlink()
    _tell_the_desktop()
    return found


def _tell_the_desktop() -> None:
    """Refresh the desktop's own lists where its tools are installed; without them it does so at the next login."""
    share = _share()
    for tool, folder in (("update-desktop-database", share / "applications"), ("update-mime-database", share / "mime")):
        command = shutil.which(tool)
        if command and folder.is_dir():
            subprocess.run([command, str(folder)], check=False, capture_output=True)
