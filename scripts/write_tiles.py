"""Paint the pictures of all starts in the usual frame, which ship so that the gallery is there at once. Run from the project's root."""

from avlet.document.starts import STARTS
from avlet.document.template import Frame
from avlet.places import shipped_tiles
from avlet.storage.thumbnail import thumbnail_png, tile_name
from avlet.text.fonts import bundled_fonts


def main() -> None:
    folder = shipped_tiles()
    folder.mkdir(exist_ok=True)
    made = {tile_name(template): template for template in (start(Frame()) for start in STARTS.values())}
    for path in folder.glob("*.png"):
        if path.name not in made:
            path.unlink()
    for name, template in made.items():
        path = folder / name
        picture = thumbnail_png(template, bundled_fonts())
        if not path.exists() or path.read_bytes() != picture:
            path.write_bytes(picture)


if __name__ == "__main__":
    main()
