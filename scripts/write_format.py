"""Write the JSON Schemas of ``template.json``, of proofs and of delivery lists into ``docs/format/``. Run from the project's root."""

from pathlib import Path

from avlet.review.proof_json import proof_schema
from avlet.roster.delivery import schema as delivery_schema
from avlet.storage.schemas import template_schema, written


def main() -> None:
    folder = Path("docs/format")
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "template.schema.json").write_bytes(written(template_schema()))
    (folder / "proof.schema.json").write_bytes(written(proof_schema()))
    (folder / "delivery.schema.json").write_bytes(written(delivery_schema()))


if __name__ == "__main__":
    main()
