"""Write down what the fonts that ship say of themselves, so that starting need not read them. Run from the project's root."""

import msgspec

from avlet.text.font_files import read_facts
from avlet.text.fonts import BUNDLED, INDEX, font_files


def main() -> None:
    facts = {path.relative_to(BUNDLED).as_posix(): read_facts(path, path.name) for path in font_files(BUNDLED)}
    INDEX.write_bytes(msgspec.json.format(msgspec.json.encode(facts), indent=1) + b"\n")


if __name__ == "__main__":
    main()
