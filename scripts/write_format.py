"""Write the JSON Schemas of templates, proofs and delivery lists into ``docs/format/``, and the limits into ``docs/format.md``.

Run from the project's root.
"""

import ast
from pathlib import Path

from avlet import limits
from avlet.review.proof_json import proof_schema
from avlet.roster.delivery import schema as delivery_schema
from avlet.storage.schemas import template_schema, written

BEGIN = "## Limits\n"
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


def main() -> None:
    folder = Path("docs/format")
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "template.schema.json").write_bytes(written(template_schema()))
    (folder / "proof.schema.json").write_bytes(written(proof_schema()))
    (folder / "delivery.schema.json").write_bytes(written(delivery_schema()))
    described = Path("docs/format.md")
    described.write_text(with_limits(described.read_text(encoding="utf-8")), encoding="utf-8")


if __name__ == "__main__":
    main()
