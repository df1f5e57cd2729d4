"""Where Avlet keeps things on a person's machine (XDG folders through platformdirs), and where its own data lies."""

import shutil
from pathlib import Path

import platformdirs

NAME = "avlet"
_PACKAGE = Path(__file__).resolve().parent


def state_folder() -> Path:
    """Recovery copies, recent files, window state."""
    return platformdirs.user_state_path(NAME)


def cache_folder() -> Path:
    """What can be worked out again, such as waveforms."""
    return platformdirs.user_cache_path(NAME)


def library_folder() -> Path:
    """The person's own library of handed-over templates."""
    return platformdirs.user_data_path(NAME) / "library"


def starts_folder() -> Path:
    """The person's own starts: templates to begin from."""
    return platformdirs.user_data_path(NAME) / "starts"


def shipped_tiles() -> Path:
    """The pictures of the starts in the usual frame, named by what they are made of."""
    return _PACKAGE / "tiles"


def shipped_demo() -> Path:
    """The demo as it ships: beside the package in a checkout, inside it once installed."""
    inside = _PACKAGE / "demo"
    return inside if inside.is_dir() else _PACKAGE.parent / "demo"


def guide_folder() -> Path:
    """The pages of the guide, in Markdown, their pictures in ``screenshots`` beside that folder."""
    inside = _PACKAGE / "guide"
    return inside if inside.is_dir() else _PACKAGE.parent / "docs" / "guide"


def guide_site() -> Path | None:
    """The guide as a site for a browser, its first page; None in a checkout, where it is not built."""
    page = _PACKAGE / "site" / "guide" / "index.html"
    return page if page.is_file() else None


def demo_library() -> Path:
    """The person's own copy of the demo, made on the first call, so that trying things out changes nothing that ships."""
    target = platformdirs.user_data_path(NAME) / "demo"
    for item in sorted(shipped_demo().iterdir()):
        if not (target / item.name).exists():
            target.mkdir(parents=True, exist_ok=True)
            if item.is_dir():
                shutil.copytree(item, target / item.name)
            else:
                shutil.copy2(item, target / item.name)
    return target
