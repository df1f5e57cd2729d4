"""Write what follows from the code into ``docs/``: schemas, the limits of ``format.md``, the verbs of ``command_line.md``, the man page.

Run from the project's root.
"""

import ast
from pathlib import Path

from avlet import limits
from avlet.command_line.helping import man_page, table
from avlet.command_line.told import told_schema
from avlet.media.reel import reel_schema
from avlet.review.proof_json import proof_schema
from avlet.roster.delivery import schema as delivery_schema
from avlet.storage.schemas import template_schema, written

BEGIN = "## Limits\n"
VERBS = "## Every verb\n"
SAID = "What is beyond is refused in words, with the number. As `avlet/limits.py` has them:"


def limits_table() -> str:
    """What there may be at most, each as ``avlet/limits.py`` has it and says it, as a table."""
    body = ast.parse(Path(limits.__file__).read_text(encoding="utf-8")).body
    rows = []
    for one, after in zip(body, [*body[1:], None], strict=True):
        name = one.targets[0].id if isinstance(one, ast.Assign) and isinstance(one.targets[0], ast.Name) else ""
        if name.startswith(("MOST_", "SECONDS_", "BYTES_")):  # others are weights of what is counted
            assert isinstance(after, ast.Expr) and isinstance(after.value, ast.Constant), f"{name} does not say of what it is the limit"
            rows.append(f"| {_amount(getattr(limits, name))} | {' '.join(str(after.value.value).split())} |")
    return "\n".join(["| at most | of what |", "|---|---|", *rows]) + "\n"


def _amount(value: float) -> str:
    if value >= 1024**2 and value % 1024**2 == 0:
        return f"{value / 1024**2:,.0f} MB"
    return f"{value:,g}" if value < 1_000 else f"{value:,.0f}"


def with_limits(words: str) -> str:
    """The description of the format with its last section made anew."""
    return f"{words.partition(BEGIN)[0]}{BEGIN}\n{SAID}\n\n{limits_table()}"


def with_verbs(words: str) -> str:
    """The description of the command line with its table of verbs made anew."""
    return f"{words.partition(VERBS)[0]}{VERBS}\n{table()}"


def main() -> None:
    folder = Path("docs/format")
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "template.schema.json").write_bytes(written(template_schema()))
    (folder / "proof.schema.json").write_bytes(written(proof_schema()))
    (folder / "delivery.schema.json").write_bytes(written(delivery_schema()))
    (folder / "reel.schema.json").write_bytes(written(reel_schema()))
    (folder / "told.schema.json").write_bytes(written(told_schema()))
    Path("docs/avlet.1").write_text(man_page(), encoding="utf-8")
    verbs = Path("docs/command_line.md")
    verbs.write_text(with_verbs(verbs.read_text(encoding="utf-8")), encoding="utf-8")
    described = Path("docs/format.md")
    described.write_text(with_limits(described.read_text(encoding="utf-8")), encoding="utf-8")


if __name__ == "__main__":
    main()
