"""The proof of a template: its rows, workers, what is meant so, and its reports."""

import dataclasses
import io
import json
from pathlib import Path

import jsonschema
import msgspec
import pypdf
import pytest
from conftest import DEMO, plated

from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Wire
from avlet.document.editing import edits
from avlet.document.fields import ChoiceField, LengthField, NumberField, SwitchField, TextField
from avlet.document.fields.choice import Option
from avlet.document.proofing import Meant, Proofing
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.review.awkward import LONGEST, Row, rows_of, words_to_try
from avlet.review.checks import CHECKS
from avlet.review.proof import checks_named, look, prove, together
from avlet.review.proof_html import proof_html
from avlet.review.proof_json import as_json, proof_bytes, proof_schema
from avlet.review.proof_pdf import proof_pdf
from avlet.review.proof_rows import rows_from_table
from avlet.storage.package import open_template
from avlet.text.fonts import FontBook, bundled_fonts

ROOT = Path(__file__).parent.parent
BOOK = bundled_fonts()


def carded(*fields, **more):
    wires = (Wire("name", "name/text"),) if any(f.id == "name" for f in fields) else ()
    return edits.replace(plated(), card=Card("", (Section("", fields),)), wires=wires, **more)


NAME = TextField(id="name", label="Name", default="Odalys Brandt", longest=20)


@pytest.fixture(scope="module")
def strap():
    return open_template(DEMO / "name-strap.avlet")


@pytest.fixture(scope="module")
def proof(strap):
    return prove(strap.template, strap.book)


@pytest.fixture
def few(monkeypatch):
    """Proofs of few rows: what is done with what they find is the same."""
    kept = ("As designed", "Longest", "Widest letters", "Thai")
    monkeypatch.setattr("avlet.review.proof.rows_of", lambda template: [row for row in rows_of(template) if row.name in kept])


# Awkward answers


def test_awkward_answers_come_from_the_card_and_keep_its_limits():
    numbers = NumberField(id="size", label="Size", default=5.0, low=1.0, high=9.0)
    sides = ChoiceField(id="side", label="Side", default="a", options=(Option("a", "Left"), Option("b", "Right")))
    made = carded(NAME, numbers, sides, SwitchField(id="on", label="On", default=True))
    rows = rows_of(made)
    names = [row.name for row in rows]
    assert rows[0] == Row("As designed", kind="as designed")
    assert {
        "Nothing",
        "One letter",
        "Widest letters",
        "Right to left",
        "Devanagari",
        "Japanese",
        "Size 1",
        "Size 9",
        "Side Right",
        "On off",
    } <= set(names)
    assert "Two lines" not in names and "Side Left" not in names and "On on" not in names
    for row in rows:
        for field_id, answer in row.answers.items():
            assert not made.card.field(field_id).fault(answer), row
    assert all(len(row.answers.get("name", "")) <= 20 for row in rows)
    assert max(len(row.answers.get("name", "")) for row in rows) >= 19, "the longest that is allowed is tried"


def test_lengths_that_are_awkward_are_those_that_an_editor_may_give():
    plain = [row for row in rows_of(carded(NAME)) if row.length is not None]
    assert [row.length for row in plain] == [51, 300]
    field = LengthField(id="long", label="Length", default=100, low=60, high=500)
    given = [row.answers["long"] for row in rows_of(carded(NAME, field)) if "long" in row.answers]
    assert given == [60, 500]


def test_words_to_try_are_no_longer_than_allowed():
    for longest in (1, 5, LONGEST, 10_000):
        assert all(len(words) <= min(longest, LONGEST) for _, words in words_to_try(longest, False))
    assert ("Two lines", "Odalys\nBrandt") in words_to_try(100, True)


def test_rows_of_the_designers_own_are_proved_too():
    own = carded(NAME, proofing=Proofing((Sample("worst", "Worst", {"name": "W" * 20}),)))
    assert Row("Worst", {"name": "W" * 20}, None, "own") in rows_of(own)


# Proving


def test_workers_find_what_this_process_finds(strap):
    rows = [row for row in rows_of(strap.template) if row.name in ("As designed", "Longest", "Widest letters", "Thai", "Short (51 frames)")]
    alone = prove(strap.template, strap.book, CHECKS, rows, workers=0)
    assert prove(strap.template, strap.book, CHECKS, rows, workers=2) == alone
    assert alone.findings and not alone.holds


def test_scripts_that_nobody_asked_for_break_nothing(proof):
    assert {f.level for f in proof.of_row("Thai")} == {"told"}
    strap = open_template(DEMO / "name-strap.avlet")
    found = look(strap.template, strap.book, Row("Thai", {"name": "ผู้"}, None, "sample"), CHECKS)
    assert any(f.level == "breaks" and f.check == "fonts" for f in found), "whoever asks for it gets it said"


def test_what_the_name_strap_says(proof):
    assert not any(
        f.level == "breaks" for f in proof.findings if f.sample in ("As designed", "Shortest", "Typical", "Longest", "Two lines")
    )
    (widest,) = [f for f in proof.findings if f.level == "breaks"]
    assert widest.sample == "Widest letters" and widest.part_id == "name" and widest.amount > 100
    assert proof.count("breaks") == 1 and not proof.holds and proof.done


def test_a_proof_that_is_stopped_says_so(strap):
    stopped = prove(strap.template, strap.book, told=lambda done, of, name: done < 2, workers=0)
    assert not stopped.done and {f.sample for f in stopped.findings} <= {row.name for row in stopped.rows[:2]}


def test_answers_that_cannot_be_shown_are_a_finding():
    (one,) = look(carded(NAME), BOOK, Row("Bad", {"name": "x" * 21}), CHECKS)
    assert one.level == "breaks" and "at most 20" in one.words


def test_what_is_meant_so_holds_until_it_changes_by_more_than_a_tenth(strap, proof):
    (worst,) = [f for f in proof.findings if f.level == "breaks"]
    rows = [row for row in proof.rows if row.name == worst.sample]
    for factor, meant in ((1.0, True), (0.92, True), (1.08, True), (0.88, False), (1.2, False)):
        note = Meant(worst.check, worst.part_id, worst.sample, worst.amount / factor, "A test card.")
        again = prove(edits.replace(strap.template, proofing=Proofing((), (note,))), strap.book, CHECKS, rows, workers=0)
        assert again.holds == meant and (list(again.meant.values()) == ["A test card."]) == meant
    other = Meant(worst.check, "role", worst.sample, worst.amount)
    assert not prove(edits.replace(strap.template, proofing=Proofing((), (other,))), strap.book, CHECKS, rows, workers=0).holds


def test_what_is_kept_for_the_proof_comes_back_from_its_file():
    made = edits.replace(plated(), proofing=Proofing((Sample("a", "A", {}),), (Meant("inside", "name", "A", 3.0, "So."),)))
    assert msgspec.json.decode(msgspec.json.encode(made), type=Template) == made


def test_the_same_in_several_rows_is_told_once_at_its_worst(proof):
    groups = together(proof.open)
    reading = next(one for one in groups if one[0].check == "reading")
    assert len(reading[1]) > 1 and reading[0].amount - reading[0].limit == max(
        f.amount - f.limit for f in proof.open if f.check == "reading" and f.part_id == reading[0].part_id
    )
    assert [f.level for f, _ in groups] == sorted((f.level for f, _ in groups), key=["breaks", "to look at", "told"].index)


def test_checks_go_by_id_or_name():
    assert [c.id for c in checks_named(["Early, late", "inside"])] == ["early-late", "inside"] and checks_named([]) == CHECKS
    with pytest.raises(AnswerError, match="There is no check “spelling”"):
        checks_named(["spelling"])


# Reports


def test_json_follows_its_published_schema(proof):
    schema = json.loads((ROOT / "docs/format/proof.schema.json").read_text())
    assert schema == proof_schema(), "run scripts/write_format.py"
    jsonschema.Draft202012Validator.check_schema(schema)
    plain = json.loads(proof_bytes(proof))
    jsonschema.validate(plain, schema)
    assert plain["holds"] is False and len(plain["checks"]) == 13 and len(plain["rows"]) == len(proof.rows)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate({**plain, "holds": "no"}, schema)
    assert as_json(proof).findings[0].level == "breaks"


@pytest.fixture(scope="module")
def short(proof):
    """The same of few rows: a report draws each of them six times."""
    rows = tuple(row for n, row in enumerate(proof.rows) if n < 5 or row.name == "Widest letters")
    names = {row.name for row in rows}
    return dataclasses.replace(proof, rows=rows, findings=tuple(f for f in proof.findings if f.sample in names))


def test_html_stands_by_itself_and_nothing_in_it_is_markup(strap, short):
    parts = tuple(edits.replace(p, name="<u>Name</u>") if p.id == "name" else p for p in strap.template.parts)
    hostile = edits.replace(strap.template, name="<script>alert(1)</script>", parts=parts)
    rows = [Row("\"><img src=x onerror='1'>", {"name": "<b>Bo</b> & Li" * 9})]
    words = proof_html(hostile, strap.book, prove(hostile, strap.book, CHECKS, rows, workers=0))
    assert "<script" not in words and "<img src=x" not in words and "&lt;script&gt;" in words
    assert "<u>" not in words and "&lt;u&gt;Name&lt;/u&gt; reaches beyond" in words
    whole = proof_html(strap.template, strap.book, short)
    assert whole.count("data:image/png;base64,") == 6 * len(short.rows) and "http" not in whole
    assert "Name reaches beyond the frame" in whole and "▲ breaks" in whole and "✓ No part jumps" in whole


def test_pdf_has_vectors_and_words(strap, short):
    more = dataclasses.replace(short, rows=(*short.rows, *(dataclasses.replace(short.rows[0], name=f"Again {n}") for n in range(2))))
    data = proof_pdf(strap.template, strap.book, more)
    reader = pypdf.PdfReader(io.BytesIO(data))
    assert len(reader.pages) == 1 + 2, "seven rows a page, and one for what was found"
    words = "".join(page.extract_text() for page in reader.pages)
    assert "Proof of Name strap" in words and "Widest letters" in words and "As designed" in words
    assert not any(page.images for page in reader.pages), "nothing of it is a raster"


# The command line


def test_the_command_line_guards_a_library(avlet, tmp_path):
    status, out, _ = avlet("proof", DEMO / "name-strap.avlet", "--workers", 0, "--only", "contrast", "--only", "Empty ends")
    assert status == 0 and "0 break" in out
    status, out, _ = avlet("proof", DEMO / "name-strap.avlet", "--workers", 0, "--only", "inside", "--json")
    assert status == 1 and json.loads(out)["holds"] is False
    (tmp_path / "rows.csv").write_text("Guest,Name,Role\nfirst,Bo Li,Ringer\n,WWWWWWWWWWWWWWWWWWWWWWWWWWWWWWWWWWWWWWWW,\n")
    words = ("--rows", tmp_path / "rows.csv", "--html", tmp_path / "p.html", "--pdf", tmp_path / "p.pdf")
    status, out, _ = avlet("proof", DEMO / "name-strap.avlet", "--workers", 0, "--only", "inside", *words)
    assert status == 1 and "7 rows" in out and "3: WWW" in out and "first" not in out.splitlines()[1]
    assert (tmp_path / "p.pdf").read_bytes().startswith(b"%PDF") and "<!doctype html>" in (tmp_path / "p.html").read_text()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        ("", "no rows"), ("Name\n", "no rows"), ("Guest\nBo\n", "no column that is a field"), ("Name,name\na,b\n", "two columns for the field"),
        ("Name\n" + "a\n" * 2_001, "at most 2,000"), ("Name\n" + "x" * 30_000 + "\n", "row 2, Name"),
    ],
)  # fmt: skip
def test_tables_that_cannot_be_proved_are_said(strap, tmp_path, data, words):
    (tmp_path / "a.csv").write_text(data)
    with pytest.raises(AnswerError, match=words):
        rows_from_table(strap.template, tmp_path / "a.csv")


def test_bad_ways_of_asking_end_in_words(avlet, tmp_path):
    strap = DEMO / "name-strap.avlet"
    for words in (
        ("--only", "x"),
        ("--rows", tmp_path / "none.csv"),
        ("--rows", "/dev/zero"),
        ("--html", tmp_path / "no" / "\0.html"),
        ("--workers", 99),
    ):
        status, _, err = avlet("proof", strap, "--workers", 0, *words) if words[0] != "--workers" else avlet("proof", strap, *words)
        assert status == 2 and err.strip() and "Traceback" not in err, words


# Handing over


def test_handing_over_says_what_stands_open_and_refuses_when_it_is_to_be_strict(avlet, tmp_path, few):
    status, out, err = avlet("handover", DEMO / "name-strap.avlet", "--library", tmp_path / "a")
    assert status == 0 and "version 1" in out and "breaks: Name reaches beyond the frame" in err and "to look at" in err
    status, out, err = avlet("handover", DEMO / "name-strap.avlet", "--library", tmp_path / "b", "--strict")
    assert status == 2 and "was not handed over" in err and not (tmp_path / "b").exists()
    status, _, err = avlet("handover", DEMO / "name-strap.avlet", "--library", tmp_path / "c", "--no-proof")
    assert status == 0 and "breaks" not in err


def test_the_dialog_proves_beside_the_window_and_forbids_nothing(qtbot, tmp_path, strap, few):
    from avlet.desktop.dialogs.handover_dialog import HandoverDialog
    from avlet.desktop.proof.proof_runner import ProofRunner, in_short
    from avlet.desktop.sessions.template_session import Session

    session = Session()
    session.open(strap.template, strap.book, None)
    dialog = HandoverDialog(session, tmp_path)
    qtbot.addWidget(dialog)
    dialog.show()
    qtbot.waitUntil(lambda: " of " in dialog.proof.text(), timeout=60_000)
    qtbot.waitUntil(lambda: dialog.proof.text().startswith("Proof: 1 breaks"), timeout=120_000)
    assert "⚠ Name reaches beyond the frame" in dialog.proof.text()
    other = HandoverDialog(session, tmp_path)
    qtbot.addWidget(other)
    other.show()
    other.reject()
    qtbot.waitUntil(lambda: not ProofRunner._running, timeout=60_000)
    assert "everything holds in 1 rows" in in_short(prove(carded(NAME), BOOK, CHECKS, [Row("a")], workers=0))


def test_what_is_known_of_rows_counts_as_long_as_they_show_the_same(name_strap, book, monkeypatch):
    from avlet.review import proof as proving
    from avlet.review.proved_rows import ProvedRows, key_of

    looked = []
    real = proving._worked
    monkeypatch.setattr(proving, "_worked", lambda t, b, rows, *more: looked.append([r.name for r in rows]) or real(t, b, rows, *more))
    rows = [Row("As designed", kind="as designed"), Row("Bo", {"name": "Bo Li"}, kind="own")]
    kept = ProvedRows()
    first = proving.prove(name_strap, book, rows=rows, workers=0, proved=kept)
    renamed = msgspec.structs.replace(name_strap, name="Other", keywords=("x",), category="y", samples=())
    assert proving.prove(renamed, book, rows=rows, workers=0, proved=kept).findings == first.findings
    start = msgspec.structs.replace(name_strap, card=with_start(name_strap, "name", "Íris"))
    proving.prove(start, book, rows=rows, workers=0, proved=kept)
    proving.prove(name_strap, book, rows=[rows[1], Row("Bo", {"name": "Bo Li"}, 90, "own")], workers=0, proved=kept)
    longer = msgspec.structs.replace(name_strap, length=126)
    proving.prove(longer, book, rows=rows, workers=0, proved=kept)
    proving.prove(name_strap, FontBook(book.faces), rows=rows[:1], workers=0, proved=kept)
    assert looked == [["As designed", "Bo"], [], ["As designed"], ["Bo"], ["As designed", "Bo"], ["As designed"]]
    checks = proving.checks_named(["inside"])
    assert key_of(name_strap, rows[0], checks) != key_of(name_strap, rows[0], CHECKS)
    assert key_of(name_strap, Row("x", {"none": 1}), CHECKS) is None
    measured = msgspec.structs.replace(name_strap, wires=(Wire("name/rest.width", "rule/opacity"),))
    for template, alike in (measured, False), (msgspec.structs.replace(name_strap, wires=()), True):
        one, other = (key_of(template, Row("x", {"corners": number}), CHECKS) for number in (1.0, 2.0))
        assert (one == other) == alike, "what hangs on measures may hang on any answer"


def with_start(template, field_id, words):
    sections = tuple(
        msgspec.structs.replace(s, fields=tuple(msgspec.structs.replace(f, default=words) if f.id == field_id else f for f in s.fields))
        for s in template.card.sections
    )
    return msgspec.structs.replace(template.card, sections=sections)
